"""The stage Probes: what touches a part, and how it is qualified."""

from datetime import UTC, datetime, timedelta

from shop.stages.registry import Evidence, Mark, stage


@stage("Probes", answer="probing", sections=("probes",))
def mark(evidence: Evidence) -> tuple[Mark, str]:
    """Filled in when there is a probe and each has been qualified, stale when that is longer ago than it holds."""
    probes = evidence.setup.probes
    if not probes:
        return "open", "There is no probe yet."
    wrong = [entry.message for entry in evidence.conflicts if entry.where.startswith("/probes")]
    if wrong:
        return "failing", wrong[0]
    rough = next((probe.name for probe in probes if probe.tells_itself and probe.effective_diameter is None), None)
    for probe in probes:
        last = evidence.qualified.get(probe.name)
        if last and probe.due_days and datetime.now(UTC) - last > timedelta(days=probe.due_days):
            return (
                "stale",
                f"{probe.name} was qualified on {last:%Y-%m-%d}; after {probe.due_days} days it is due again.",
            )
    return evidence.filled(not rough, f"{rough} has not been qualified yet.")
