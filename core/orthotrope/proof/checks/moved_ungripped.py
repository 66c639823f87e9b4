"""The spindle leaves with a tool not fully held, or pulls at a pocket that still holds it."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.units import in_unit, with_unit


@check("moved-ungripped", "stop", "run", harms=True)
def moved_ungripped(case: Case, report: FindingFactory) -> Iterator[Finding]:
    for event in case.main.trace.of_kind("moved-ungripped"):
        data = event.data
        if "why" in data:
            from_pocket = f" and pocket {data['pocket']}" if data["pocket"] else ""
            yield report.of_event(
                event,
                f"T{data['tool']} is pulled between the spindle{from_pocket} {data['why']}; wait until the "
                "grip is open or closed before anything moves.",
            )
            continue
        if data["fetching"]:
            what = (
                f"The spindle leaves with T{data['tool']} held by {in_unit(data['engaged'])} of "
                f"{with_unit(data['thread'])} of thread"
            )
        else:
            what = (
                f"The spindle pulls at pocket {data['pocket']}: T{data['tool']} is still held by "
                f"{with_unit(data['engaged'])} of thread"
            )
        yield report.of_event(
            event, f"{what}; dwell longer at couple height with the spindle turning.", "/changer/coupling/dwell"
        )
