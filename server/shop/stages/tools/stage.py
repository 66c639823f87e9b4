"""The stage Tools: what is stored where."""

from shop.stages.registry import Evidence, Mark, stage


@stage("Tools", answer="exchange", sections=("tools",))
def mark(evidence: Evidence) -> tuple[Mark, str]:
    """Filled in when an exchange can ask for a tool."""
    return evidence.filled(bool(evidence.setup.exchangeable()), "No tool is stored in a pocket yet.")
