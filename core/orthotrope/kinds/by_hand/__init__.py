"""No magazine: a person changes the tool at a place that the spindle goes to."""
