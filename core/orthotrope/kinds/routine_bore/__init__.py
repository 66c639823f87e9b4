"""A bore."""
