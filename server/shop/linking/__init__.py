"""What a machine is read from."""
