"""An edge of a part, touched once beside it."""
