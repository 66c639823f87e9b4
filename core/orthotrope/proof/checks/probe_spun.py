"""The spindle starts with a probe in it, or with a plate or clip that nobody has confirmed as taken off."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, Teller, check
from orthotrope.proof.findings import Finding


@check("probe-spun", "stop", "run")
def probe_spun(case: Case, tell: Teller) -> Iterator[Finding]:
    """In a probing program, and after a touch in a job: until a tool is changed, or a person has gone on at a pause. A
    tool that is measured may turn."""
    if case.purpose not in ("probe", "job"):
        return
    risky = case.purpose == "probe"
    for event in case.main.trace.of_kind("touch", "missed-touch", "pause", "tool-changed", "spindle"):
        if event.kind in ("pause", "tool-changed"):
            risky = False
        elif event.kind != "spindle":
            risky = True
        elif risky and event.data["speed"]:
            yield tell.of_event(
                event,
                "The spindle starts after a touch with nobody asked whether probe, plate and clip are off; stop for that "
                "(M0) or change the tool before it.",
            )
            return
