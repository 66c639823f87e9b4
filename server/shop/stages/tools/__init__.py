"""The stage Tools."""
