"""The numbers of parameters that are the same on every control (NISTIR 6556, table 3)."""

OFFSETS_FIRST, OFFSETS_STEP = 5221, 20
"""X of the first work offset, Y and Z after it; so much further those of each next one."""

SHIFT_FIRST = 5211
"""X of the shift that G92 makes."""

ACTIVE_OFFSET = 5220
"""The number of the work offset that is active, 1 to 9."""
