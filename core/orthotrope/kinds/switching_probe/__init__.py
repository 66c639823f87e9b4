"""A probe that switches when its stylus is pushed."""
