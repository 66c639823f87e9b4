"""A touch plate with edges, which is laid on a corner of the part."""
