"""The corner of a part."""
