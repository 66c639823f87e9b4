"""Setters, probes, tools and their inputs, added to a Setup; nothing is stored."""
