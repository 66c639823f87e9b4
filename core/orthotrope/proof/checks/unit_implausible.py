"""A value that another unit would make plausible: beyond travel, or 25.4 times off."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.units import MM_PER_INCH, in_unit, with_unit

WITHIN = 0.02
"""Part by which a value may miss 25.4 times (or 1/25.4 of) the Setup's (checks.md)."""

SAME = 1e-3
"""mm."""


@check("unit-implausible", "warn", "run")
def unit_implausible(case: Case, report: FindingFactory) -> Iterator[Finding]:
    setup, derived, run = case.setup, case.derived, case.main
    if setup is None:
        return
    axes, reported = dict(setup.machine.axes.items()), set[str]()
    for event in run.trace.of_kind("beyond-travel"):
        axis = event.data["axis"]
        smaller = event.data["value"] / MM_PER_INCH
        least, greatest = axes[axis].soft_least, axes[axis].soft_greatest
        # What is beyond by less than the whole travel has another cause: nearly every value would fit 25.4 times smaller.
        far = abs(event.data["value"] - event.data["limit"]) > greatest - least
        if far and least <= smaller <= greatest:
            reported.add(axis)
            yield report.of_event(
                event,
                f"{event.data['axis']} {with_unit(event.data['value'])} is beyond the travel, and "
                f"{in_unit(smaller)} would be within it; is the program in the other unit?",
            )
    if derived is None or case.purpose != "exchange":
        return
    ladder = derived.ladder
    meant = {
        "X": {p.x for p in derived.pockets},
        "Y": {p.y for p in derived.pockets},
        "Z": {ladder.couple_z, ladder.hover_z, ladder.empty_z, ladder.carry_z},
    }
    for segment in run.trace.segments:
        if not segment.machine_frame:
            continue
        for axis, start, value in zip(axes, segment.start, segment.end, strict=True):
            if axis in reported or value == start or any(_near(value, one) for one in meant[axis]):
                continue
            if abs(value - case.call.at["XYZ".index(axis)]) < SAME:
                continue  # back to where it was called
            for factor in (MM_PER_INCH, 1 / MM_PER_INCH):
                other = next((one for one in meant[axis] if _near(value, one * factor)), None)
                if other is not None and axis not in reported:
                    reported.add(axis)
                    times = "25.4 times" if factor > 1 else "1/25.4 of"
                    yield report(
                        f"{axis} {with_unit(value)} is {times} the Setup's {in_unit(other)}; is the program in the "
                        "other unit?",
                        segment.line,
                        segment.t0,
                        segment.start,
                    )


def _near(value: float, other: float) -> bool:
    return abs(value - other) <= WITHIN * abs(other)
