"""What is proven and played: each kind of sequence in a module of its own, found by registration."""
