"""A web between two faces."""
