"""What comes with Orthotrope and is the same for every machine."""
