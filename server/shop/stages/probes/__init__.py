"""The stage Probes."""
