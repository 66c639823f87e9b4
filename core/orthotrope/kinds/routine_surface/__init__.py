"""A surface, touched once."""
