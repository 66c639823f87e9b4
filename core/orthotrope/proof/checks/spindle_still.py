"""The spindle stands, or turns the wrong way, where it must turn."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("spindle-still", "stop", "run", harms=True)
def spindle_still(case: Case, report: FindingFactory) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("spindle-still"):
        data = event.data
        speed = data["speed"]
        now = (
            f"turns {'forwards' if speed > 0 else 'backwards'} at {abs(speed):.0f} rev/min"
            if abs(speed) > 1
            else "stands"
        )
        word = "M3" if data["wanted"] == "forwards" else "M4"
        yield report.of_event(
            event,
            f"The spindle {now} at pocket {data['pocket']}, where it must turn {data['wanted']} for "
            f"the thread; give {word} and wait for its speed.",
        )
