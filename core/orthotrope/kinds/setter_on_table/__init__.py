"""A setter that stands on the table."""
