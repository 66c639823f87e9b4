"""The stage Routines."""
