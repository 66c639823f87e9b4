"""The stage Proof."""
