from collections.abc import Iterator

from orthotrope.proof.case import Case, Teller, check
from orthotrope.proof.findings import Finding


@check("no-beep", "warn", "run")
def no_beep(case: Case, tell: Teller) -> Iterator[Finding]:
    """Nobody hears that a tool is held."""
    magazine, heard = case.world.magazine, {event.data["text"] for event in case.main.trace.of_kind("message")}
    if magazine and magazine.style == "magnet row" and case.call.to_tool and "beep" not in heard:
        yield tell("Nobody hears that the tool is held.")
