"""A disc that swings to the spindle and home again."""
