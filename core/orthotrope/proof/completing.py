"""Whether a written sequence comes to its end where everything is as the Setup says: one that refuses there never runs."""

from collections.abc import Iterator

from orthotrope.machine.run import Run
from orthotrope.proof.findings import Finding

NOT_COMPLETED = "setup-conflict"
"""The check by which it is told."""


def refused(run: Run, completed: bool) -> Iterator[Finding]:
    """That it is not ``completed``, with what it says; nothing where something else is said to be wrong with the run."""
    if completed or run.endless or run.fault or run.trace.ended != "end":
        return
    said = next((event.data["text"] for event in reversed(run.trace.events) if event.kind == "message"), "")
    last = run.trace.blocks[-1] if run.trace.blocks else None
    yield Finding(
        NOT_COMPLETED,
        "stop",
        f"With everything as the Setup says the text does not come to its end: “{said}”. Look at the text, and at the Setup, the wiring of its "
        f"inputs first.",
        last.line if last else None,
        last.t1 if last else None,
    )
