"""The checks, a module each; each registers itself (:data:`orthotrope.proof.case.CHECKS`). Severities are those of
checks.md."""
