"""A boss."""
