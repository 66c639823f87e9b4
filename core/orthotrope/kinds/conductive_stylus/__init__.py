"""A stylus, or the tool itself, that closes a circuit when it touches."""
