"""The height of a step."""
