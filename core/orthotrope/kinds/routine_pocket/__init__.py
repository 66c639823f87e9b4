"""A rectangular pocket."""
