"""A loose touch plate that is laid on a part or on the table."""
