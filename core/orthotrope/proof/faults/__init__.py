"""Faults of checks.md, each registered by its name (:data:`orthotrope.proof.faults.registry.FAULTS`): what it makes of
a world and of a call, what would tell it, and its verdict."""
