"""Proofs of exchanges."""
