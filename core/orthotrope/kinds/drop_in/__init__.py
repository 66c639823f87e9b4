"""Pockets in a table or plate, into which the spindle sets its holders down from above."""
