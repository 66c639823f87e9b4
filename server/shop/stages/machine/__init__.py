"""The stage Machine."""
