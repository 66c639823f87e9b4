"""The stage Setter."""
