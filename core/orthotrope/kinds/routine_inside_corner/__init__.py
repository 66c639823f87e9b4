"""The corner of a pocket."""
