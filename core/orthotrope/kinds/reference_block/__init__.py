"""A block of known height, whose top is a reference face."""
