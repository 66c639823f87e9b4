"""The spindle starts with a probe in it, or with a plate or clip that nobody has confirmed as taken off."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("probe-spun", "stop", "run")
def probe_spun(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """In a probing program, and after a touch in a job: until a tool is changed, or a person has gone on at a pause. A
    tool that is measured may turn."""
    if case.purpose not in ("probe", "job"):
        return
    risky = case.purpose == "probe"
    for event in case.main.trace.of_kind("touch", "missed-touch", "pause", "tool-changed", "spindle"):
        tool = case.world.tools.get(int(case.main.trace.held(event.t) or 0))
        in_spindle = case.purpose == "probe" and tool is not None and tool.stylus is not None
        if event.kind in ("pause", "tool-changed"):
            risky = in_spindle  # nobody can take it out while it is gripped
        elif event.kind != "spindle":
            risky = True
            if in_spindle and case.main.trace.turning(event.t):
                yield report.of_event(
                    event, "The spindle turns with the probe in it; stop it, and wait until it stands."
                )
                return
        elif risky and event.data["speed"]:
            yield report.of_event(
                event,
                "The spindle starts with the probe in it; never turn a probe."
                if in_spindle
                else "The spindle starts after a touch without anyone being asked whether probe, plate and clip are off; stop for "
                "that (M0) or change the tool before it.",
            )
            return
