"""Readings from machines."""
