"""Whether a sequence comes to its end where everything is as the Setup says: one that refuses there never runs."""

import math
from collections.abc import Iterator

from orthotrope.machine.trace import Event
from orthotrope.program.blocks import Block, If
from orthotrope.proof.case import Case
from orthotrope.proof.findings import Finding
from orthotrope.sequence.values import parameters_in
from orthotrope.setup.control import ControlProfile
from orthotrope.units import MM_PER_INCH

NOT_COMPLETED = "setup-conflict"
"""The check by which it is reported."""


def works_out(profile: ControlProfile) -> bool:
    """Whether a control does sums and asks conditions, and finds a touch in its parameters."""
    return profile.arithmetic and profile.conditions and profile.latched != "none"


def result_of(case: Case) -> Event | None:
    """Where a measuring does what it is for, if that is not to set a length, the last time; None: it does not."""
    wanted = case.measured
    if wanted is None:
        return None
    which, _ = KEPT_AS[wanted.kind]
    found = [event for event in case.main.trace.of_kind(wanted.kind) if event.data[which] == wanted.number]
    return found[-1] if found else None


KEPT_AS = {"set": ("parameter", "value"), "zero-set": ("offset", "zero"), "length-active": ("tool", "length")}
"""In an event of this kind: what says which one it is, and its value."""


def off_by(case: Case) -> float | None:
    """How far what a measuring finds beside a length is off what is really there, mm; None: it has found nothing."""
    event, wanted = result_of(case), case.measured
    if event is None or wanted is None:
        return None
    factor = MM_PER_INCH if case.profile.unit == "inch" and wanted.kind == "set" else 1.0
    return float(event.data[KEPT_AS[wanted.kind][1]]) * factor - wanted.true


def completed(case: Case) -> bool:
    """Whether a case, as called, has done what it is for: the requested tool is held and on record, a length set, a zero set, or what is
    found kept; where the control does no sums, something touched."""
    trace, profile = case.main.trace, case.profile
    if trace.ended != "end" or not trace.blocks:
        return False
    if case.purpose == "exchange":
        last = trace.blocks[-1]
        return not last.doubtful and last.holds == case.call.to_tool
    if case.purpose == "measure" and case.measured:
        return not works_out(profile) or result_of(case) is not None
    if case.purpose == "measure":
        sets = profile.length_word == "G10 L1" and works_out(profile)
        return not sets or bool(trace.of_kind("length-set"))
    part = case.routine
    if part is not None and works_out(profile):
        if part.offset is not None and profile.offset_word == "G10 L2":
            return bool(trace.of_kind("zero-set"))
        if part.kept:
            calculated = {event.data["parameter"] for event in trace.of_kind("set")}
            return calculated >= {*(entry[0] for entry in part.kept), *(entry[0] for entry in part.sizes)}
    touches = any(body.part_of == "part" or body.makes is not None for body in case.world.bodies)
    return bool(trace.of_kind("touch")) or not touches


def refused(case: Case) -> Iterator[Finding]:
    """That it is not completed, with what it says; nothing where something else is said to be wrong with the run."""
    run = case.main
    if run.endless or run.fault or run.trace.ended != "end" or completed(case):
        return
    said = next((event.data["text"] for event in reversed(run.trace.events) if event.kind == "message"), "")
    last = run.trace.blocks[-1] if run.trace.blocks else None
    test = _failing_test(case)
    where, quantity = _of_test(case, test) if test else ("Look at the text, and at the Setup.", None)
    yield Finding(
        NOT_COMPLETED,
        "stop",
        f"With everything as the Setup says the program does not finish: “{said}”. {where}",
        test.line if test else last.line if last else None,
        last.t1 if last else None,
        quantity=quantity,
    )


def _failing_test(case: Case) -> Block | None:
    """The last condition that led a run to where it ends; None: none did."""
    blocks, run = case.program.blocks, case.main.trace.blocks
    places = {block.line: index for index, block in enumerate(blocks)}
    for index in range(len(run) - 2, -1, -1):
        place = places.get(run[index].line)
        block = blocks[place] if place is not None else None
        if not isinstance(block, Block) or not isinstance(block.control, If) or block.control.condition is None:
            continue
        if block.control.goto is not None and places.get(run[index + 1].line) != (place or 0) + 1:
            return block
    return None


def _of_test(case: Case, test: Block) -> tuple[str, str | None]:
    """What a failing test goes by, in words, and the Setup's quantity where that is an input."""
    assert isinstance(test.control, If) and test.control.condition is not None
    numbers = [*parameters_in(test.control.condition)]
    inputs = case.world.inputs.by_parameter(case.profile.parameters.input_first, case.profile.parameters.called_unit)
    entries = [entry for number in numbers if (entry := inputs.get(number)) is not None]
    if entries:
        says = f"Line {test.line} reads the input {entries[0].name}: look at its wiring, and at the text before it."
        listed = case.setup.inputs if case.setup else ()
        place = next((index for index, entry in enumerate(listed) if entry.number == entries[0].number), None)
        return says, None if place is None else f"/inputs/{place}/wiring"
    begun = next((b.t0 for b in reversed(case.main.trace.blocks) if b.line == test.line), math.inf)
    for number in numbers:
        lines = [
            event.line
            for event in case.main.trace.of_kind("set")
            if event.data["parameter"] == number and event.t <= begun
        ]
        if lines:
            return f"Line {test.line} decides it by #{number}, set last in line {lines[-1]}.", None
    by = ", ".join(f"#{number}" for number in numbers)
    return f"Line {test.line} decides it{f' by {by}, which the text does not set' if by else ''}.", None
