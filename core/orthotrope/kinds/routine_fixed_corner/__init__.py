"""Back to a fixed corner."""
