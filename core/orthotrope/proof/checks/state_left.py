"""At an end something is left otherwise than the caller had it, or than the sequence needs it."""

from collections.abc import Iterator

from orthotrope.machine.run import SHIFTED, Run
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.setup.roles import OPEN
from orthotrope.units import in_unit

TURNS = 1.0
"""rev/min; slower is standing."""


@check("state-left", "warn", "run", harms=True)
def state_left(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """The usual end, and a failing branch's as well: each has its own line. What a job has turned on is its own."""
    run = case.main
    if run.trace.ended != "end" or not run.trace.blocks or case.purpose == "job":
        return
    last = run.trace.blocks[-1]
    for says in (*_left(case, run), *(_after_success(case, run) if run.returned or not _paused(run) else ())):
        yield report(f"At the end {says}", last.line, last.t1, last.position)


def _paused(run: Run) -> bool:
    """Whether it ends after a pause for a person, as a failing branch does."""
    return bool(run.trace.of_kind("pause"))


def _left(case: Case, run: Run) -> Iterator[str]:
    left = run.left
    if abs(left.speed) > TURNS and run.call.active not in ("forwards", "backwards"):
        yield f"the spindle turns at {abs(left.speed):.0f} rev/min; stop it (M5)."
    if left.locked:
        yield "the feed override is locked (M49); release it (M48)."
    before = _shift_before(run)
    if not _sets_shift(case, run) and any(abs(a - b) > 1e-6 for a, b in zip(left.shift, before, strict=True)):
        where = " ".join(f"{axis} {in_unit(value)}" for axis, value in zip("XYZ", left.shift, strict=True))
        yield f"the zero is shifted differently from the caller's ({where}); cancel the shift (G92.1)."
    yield from _low(case, run)
    for number in _overwritten(case, run):
        yield f"work offset {number} is another than before, and is not the sequence's to set; leave it as it is."
    if case.purpose != "exchange" and run.call.active == "length" and not left.length:
        yield "no length is in force, and the caller had one; call the tool's length (G43)."
    reported = _reported(case, run)
    if reported.get("blow air") == "on":
        yield "the air is on; turn it off."
    own = 20 if case.profile.unit == "inch" else 21  # another than the control's own is reported as a mode that leaks
    if case.profile.conditions and case.call.unit != run.modes["unit"] and (run.modes["unit"] == own or _paused(run)):
        named = {20: "inch", 21: "mm"}
        yield (
            f"the unit is {named[int(run.modes['unit'])]} and the caller's was {named[case.call.unit]}; put it back "
            f"(G#{case.profile.parameters.called_unit})."
        )


def _sets_shift(case: Case, run: Run) -> bool:
    """Whether a shift is what a run is for: a probing or measuring that sets it by a touch, and is not to find another value."""
    shifts = [event.data for event in run.trace.of_kind("zero-set") if not event.data["offset"]]
    by_touch = bool(shifts) and all(data["touches"] for data in shifts)
    finds = case.measured is not None or bool(run.trace.of_kind("length-set"))
    return case.purpose in ("probe", "measure") and by_touch and not finds


LOW = 0.5
"""mm; a tip that is no further below the clearance is at it."""

ON_SETTER = 1.0
"""mm; a tip that is no further above a setter's plane stands on it."""


def _low(case: Case, run: Run) -> Iterator[str]:
    """Where the tip ends beside the part, or on the setter: the next move sideways breaks it."""
    last = run.trace.blocks[-1]
    tool = case.world.tools.get(last.holds or 0)
    touched = run.trace.of_kind("touch", "missed-touch")
    if tool is None or not touched:
        return
    tip, part, setup = last.position[2] - tool.length, case.routine, case.setup
    if case.purpose == "probe" and part is not None and tip < part.clear_z - LOW:
        yield f"the tip is still down among the part, {in_unit(part.clear_z - tip)} below the clearance; draw it up first."
    elif case.purpose == "measure" and setup is not None:
        at = [setter.name for setter in setup.setters if tip < setter.plane_z + ON_SETTER]
        if at and touched[-1].position[:2] == last.position[:2]:
            yield f"the tool still stands on {at[0]}; draw it up first."


def _overwritten(case: Case, run: Run) -> list[int]:
    """Work offsets that were set: an exchange sets none, a measuring what comes of its touches; which one a routine sets is another
    check's."""
    if case.purpose not in ("exchange", "measure"):
        return []
    zeros = [event.data for event in run.trace.of_kind("zero-set") if event.data["offset"]]
    return sorted({data["offset"] for data in zeros if case.purpose == "exchange" or not data["touches"]})


def _reported(case: Case, run: Run) -> dict[str, str]:
    """What each device was last commanded; whether it did so is another matter."""
    magazine, reported = case.world.magazine, dict[str, str]()
    for event in run.trace.of_kind("switched") if magazine else ():
        device = magazine.device_of(int(event.data["word"][1:]), event.data["p"]) if magazine else None
        if device:
            reported[device[0]] = device[1]
    return reported


def _shift_before(run: Run) -> tuple[float, float, float]:
    return SHIFTED if run.call.active == "shift" else (0.0, 0.0, 0.0)


def _after_success(case: Case, run: Run) -> Iterator[str]:
    last = run.trace.blocks[-1]
    if case.purpose not in ("exchange", "measure"):
        return
    if last.doubtful and not run.call.doubtful and case.profile.record == "parameter":
        yield f"the record is still marked as doubtful; clear it (#{case.profile.parameters.record_doubtful} = 0)."
    if case.purpose == "exchange" and _reported(case, run).get("grip") == OPEN:
        yield "the grip is open; close it."
