"""A slot between two walls."""
