"""The stage Changer."""
