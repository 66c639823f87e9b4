"""Machines and their revisions."""
