"""A rectangular block."""
