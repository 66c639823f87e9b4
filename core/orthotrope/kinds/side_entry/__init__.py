"""Forks that hold a holder by its groove and are entered from the side."""
