from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("no-beep", "warn", "run")
def no_beep(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Nobody hears that a tool is held."""
    magazine, heard = case.world.magazine, {event.data["text"] for event in case.main.trace.of_kind("message")}
    if magazine and magazine.style == "magnet row" and case.call.to_tool and "beep" not in heard:
        yield report("Nobody hears that the tool is held.")
