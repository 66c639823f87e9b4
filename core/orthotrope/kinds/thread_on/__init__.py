"""A rack of collet nuts that the turning spindle threads on and off."""
