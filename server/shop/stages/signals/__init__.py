"""The stage Signals."""
