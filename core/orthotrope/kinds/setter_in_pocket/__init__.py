"""A setter that stands in a pocket of the changer."""
