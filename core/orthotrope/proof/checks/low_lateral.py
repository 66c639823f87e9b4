"""A sideways move over the changer below the height it needs."""

from collections.abc import Iterator

from orthotrope.machine.shapes import BoxBody
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding, SetupFix
from orthotrope.proof.stored import stored_top
from orthotrope.units import in_unit


@check("low-lateral", "stop", "run")
def low_lateral(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """The height needed: the highest stored thing + what the spindle carries + the margin. Reported once with a tool and
    once without; not where the move ended in a contact, which body-contact tells."""
    setup, rack = case.setup, case.world.magazine
    heights = setup.changer.heights_over if setup and setup.changer else None
    if heights is None or rack is None or rack.footprint is None or case.purpose != "exchange":
        return
    trace = case.main.trace
    x, y, half_length, half_width, cos, sin = rack.footprint
    plan = BoxBody("the changer", x, y, half_length, half_width, cos, sin, 0.0, 0.0)
    top = stored_top(case)
    crashed = {event.t for event in trace.of_kind("body-contact")}
    reported: set[bool] = set()
    for segment in trace.segments:
        start, end = segment.start, segment.end
        if start[:2] == end[:2] or segment.t1 in crashed or rack.enters(start, end):
            continue
        held = trace.held(segment.t0) or 0
        tool = case.world.tools.get(held)
        carried = tool.length if tool else 0.0
        needed = top + carried + heights.margin
        move = (end[0] - start[0], end[1] - start[1], end[2] - start[2])
        overlap = plan.overlap(start, move, rack.needed_radius)
        if overlap is None or bool(tool) in reported:
            continue
        low = min(start[2] + move[2] * part for part in overlap)
        if low < needed - case.profile.last_decimal:
            reported.add(bool(tool))
            carries = f"T{held} in the spindle" if tool else "the empty spindle"
            wanted = round(top, 3)
            quantity = "/changer/heights/stored_top_z"
            fix = SetupFix(f"Set the stored top to {in_unit(wanted)}", quantity, wanted)
            lower = heights.stored_top_z < top - 1e-6
            yield report(
                f"It goes sideways over the changer at Z {in_unit(low)} with {carries}; {in_unit(needed)} is needed "
                "(stored top "
                f"{in_unit(top)} + carried {in_unit(carried)} + margin {in_unit(heights.margin)}).",
                segment.line,
                segment.t0,
                start,
                quantity if lower else None,
                fix if lower else None,
            )
