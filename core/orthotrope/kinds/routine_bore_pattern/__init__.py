"""Several bores of one pattern."""
