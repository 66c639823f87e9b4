"""How wrong each quantity of a machine may be."""
