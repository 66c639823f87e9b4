"""A sequence called from a job that has something active (a length, another offset, compensation, a cycle, a rotation, the
spindle turning), or from elsewhere in the travel."""

import itertools
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from orthotrope.machine.motion import Vector
from orthotrope.machine.run import Active
from orthotrope.machine.virtual import VirtualMachine
from orthotrope.program.blocks import Block
from orthotrope.proof.case import CHECKS, Case, FindingFactory, findings_of
from orthotrope.proof.completing import completed, refused, works_out
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.findings import Finding
from orthotrope.units import in_unit

Value = tuple[dict[str, Any], str]
"""What is different in a call, and in words; nothing and "": the usual."""

CALLERS: dict[Active, str] = {
    "length": "a tool's length",
    "offset": "the second work offset",
    "shift": "a shift of the zero",
    "plane": "another plane",
    "inverse time": "feeds by inverse time",
    "compensation": "cutter compensation",
    "cycle": "a canned cycle",
    "rotation": "a rotation",
    "forwards": "the spindle turning",
    "backwards": "the spindle turning backwards",
}
"""What a caller may have active, in words."""

ROTATES = 68
"""The G word that turns part coordinates; a control that has it not can't have that active."""


def called_otherwise(case: Case) -> Iterator[Finding]:
    """What goes wrong only from such a caller, each finding with what was active: contacts and their like, and modes
    that are not as they were."""
    yield from with_blocks_left_out(case)
    known = {(finding.check, finding.line) for finding in (*findings_of(case, "run"), *_leaks(case))}
    for active, says in CALLERS.items():
        if active == "rotation" and ROTATES not in case.profile.g_words:
            continue
        called = replace(case, call=replace(case.call, active=active), elsewhere=True, _runs={})
        for finding in (*findings_of(called, "run"), *_leaks(called)):
            if (finding.check, finding.line) not in known:
                known.add((finding.check, finding.line))
                yield replace(finding, message=f"Called with {says} active: {finding.message}")


def places(case: Case, everywhere: bool = True) -> Iterator[Vector]:
    """The corners of the travel, as low as the tool allows; with ``everywhere`` the places over each pocket too, and the
    top. Those where it stands free."""
    setup = case.setup
    if setup is None:
        return
    xs, ys = ((axis.soft_least, axis.soft_greatest) for axis in setup.machine.axes.across)
    upright = setup.machine.axes.upright
    machine = VirtualMachine(case.world, case.call.at, case.call.from_tool)
    over = dict.fromkeys(case.world.magazine.places.values()) if case.world.magazine and everywhere else ()
    for x, y in (*itertools.product(xs, ys), *over):
        if not (xs[0] <= x <= xs[1] and ys[0] <= y <= ys[1]):
            continue  # a pocket that can't be reached is from the Setup's conflicts
        heights = (upright.soft_greatest, *_down(upright.soft_least, upright.soft_greatest))
        free = [z for z in heights if machine.stands_free((x, y, z))]
        if free:
            yield from ((x, y, z) for z in sorted({min(free), max(free) if everywhere else min(free)}))


def with_blocks_left_out(case: Case) -> Iterator[Finding]:
    """What goes wrong only where the blocks with a slash are left out: the switch at the control may stand either way."""
    if not any(isinstance(block, Block) and block.skip for block in case.program.blocks):
        return
    known = {(finding.check, finding.line) for finding in findings_of(case, "text", "run")}
    called = replace(case, call=replace(case.call, block_delete=True), elsewhere=True, _runs={})
    for finding in findings_of(called, "text", "run"):
        if (finding.check, finding.line) not in known:
            known.add((finding.check, finding.line))
            yield replace(finding, message=f"With the blocks that have a slash left out: {finding.message}")


STEP = 20.0
"""mm; how closely heights are looked at for the lowest at which a tool stands free."""


def _down(least: float, greatest: float) -> Iterator[float]:
    count = int((greatest - least) / STEP)
    yield from (greatest - STEP * n for n in range(count, 0, -1))


def called_from_elsewhere(case: Case, everywhere: bool = True) -> Iterator[Finding]:
    """What goes wrong only from elsewhere in the travel, each finding with the place; see :func:`places`."""
    known = {(finding.check, finding.line) for finding in findings_of(case, "run")}
    for place in places(case, everywhere):
        called = replace(case, call=replace(case.call, at=place), elsewhere=True, _runs={})
        for finding in findings_of(called, "run"):
            if (finding.check, finding.line) not in known:
                known.add((finding.check, finding.line))
                x, y, z = (in_unit(value) for value in place)
                yield replace(finding, message=f"Called from X {x} Y {y} Z {z}: {finding.message}")


LEFT = (0.0, 7.5, 9e4)
"""What a call before may have left in the working parameters: zero, another value, one beyond everything."""


def called_for_others(case: Case) -> Iterator[Finding]:
    """Exchanges: what goes wrong where the tool in the spindle is asked for, or what is no tool of the changer: nothing may be harmed,
    and nothing moved that is not put back."""
    known = {(finding.check, finding.line) for finding in findings_of(case, "run")}
    for called, says in for_others(case):
        leaks = CHECKS["mode-leak"]  # of the usual end it is reported once for the text; this is another
        modes = leaks.function(called, leaks.report) if called.main.returned else ()
        for finding in (*findings_of(called, "run", harms=True), *modes):
            if (finding.check, finding.line) not in known:
                known.add((finding.check, finding.line))
                yield replace(finding, message=f"Called {says}: {finding.message}")


def for_others(case: Case) -> Iterator[tuple[Case, str]]:
    """An exchange that is called for the tool in the spindle, or for what is no tool of the changer, and how in words."""
    stored = {tool.number for tool in case.setup.exchangeable()} if case.setup else set()
    held, beyond = case.call.from_tool, max([*case.world.tools, 0]) + 1
    nowhere = next((number for number in range(1, beyond) if number not in stored), None)
    requested = {
        -1.0: "for T−1",
        float(beyond): f"for T{beyond}, which does not exist",
        held + 0.5: f"for tool {held + 0.5:g}",
        **({float(nowhere): f"for T{nowhere}, which is in no pocket"} if nowhere is not None else {}),
    }
    calls = [(replace(case.call, requested=number), says) for number, says in requested.items()]
    if held:
        calls.append((replace(case.call, to_tool=held), f"for T{held}, which is in the spindle"))
    yield from ((replace(case, call=call, elsewhere=True, _runs={}), says) for call, says in calls)


def called_with_others_left(case: Case) -> Iterator[Finding]:
    """What goes wrong only with what another call has left in the working parameters; it is to be completed with that too."""
    known = {(finding.check, finding.line) for finding in findings_of(case, "run")}
    done = completed(case)
    for left in LEFT:
        says = f"with #{case.profile.parameters.working_first} and on left at {left:g}"
        called = replace(case, call=replace(case.call, left=left), elsewhere=True, _runs={})
        for finding in (*findings_of(called, "run"), *(refused(called) if done else ())):
            if (finding.check, finding.line) not in known:
                known.add((finding.check, finding.line))
                yield replace(finding, message=f"Called {says}: {finding.message}")


def called_after_others(case: Case) -> Iterator[Finding]:
    """What goes wrong only with what another call has left behind: in the working parameters, or in the record, which may be
    doubtful or another tool's than the one that the sequence is for."""
    yield from called_with_others_left(case)
    known = {(finding.check, finding.line) for finding in findings_of(case, "run")}
    others = {number: tool.length for number, tool in case.world.tools.items() if number != case.call.from_tool}
    doubtful, wrong = replace(case.call, doubtful=True), FAULTS["wrong-tool"]
    calls = [(doubtful, case.world, "with a doubtful record")]
    if (
        case.purpose in ("probe", "measure")
        and case.profile.record == "parameter"
        and wrong.applies(case.world, doubtful)
    ):
        calls.append(
            (doubtful, wrong.world(case.world, doubtful), "with a doubtful record and another tool in the spindle")
        )
    if others and case.profile.record == "parameter":
        stored = {tool.number for tool in case.setup.exchangeable()} if case.setup else set()
        nowhere = [number for number in others if number not in stored] if case.purpose == "exchange" else []
        for held in {max(others, key=others.__getitem__), *nowhere[:1]}:
            calls.append((replace(case.call, from_tool=held), case.world, f"with T{held} in the spindle"))
    if case.purpose == "exchange" and case.profile.record == "parameter":
        calls += [(replace(case.call, named=named), case.world, says) for named, says in _misnamed(case)]
    for call, world, says in calls:
        # what is not done then is no fault of it
        refuses = case.purpose == "exchange" and (call.doubtful or call.named is not None)
        called = replace(case, call=call, world=world, elsewhere=True, _runs={})
        if call.doubtful and case.purpose in ("measure", "probe") and _goes_by_the_tool(called):
            blocks = called.main.trace.blocks
            line, t1 = (blocks[-1].line, blocks[-1].t1) if blocks else (None, None)
            yield Finding("record-untrue", "warn", GOES_ON, line, t1)
            continue
        for finding in findings_of(called, "run", harms=refuses):
            if (finding.check, finding.line) not in known:
                known.add((finding.check, finding.line))
                yield replace(finding, message=f"Called {says}: {finding.message}")


def called_in_combination(case: Case) -> Iterator[Finding]:
    """What goes wrong only where several things come together; see :func:`in_combination`."""
    known = {finding.check for finding in (*findings_of(case, "run"), *_leaks(case))}
    for called, says in in_combination(case):
        refuses = called.call.doubtful or called.call.named is not None
        for finding in (*findings_of(called, "run", harms=refuses), *_leaks(called)):
            if finding.check not in known:
                known.add(finding.check)
                yield replace(finding, message=f"Called {says}: {finding.message}")


def in_combination(case: Case) -> Iterator[tuple[Case, str]]:
    """A case called with several things together, and how in words: what is active, where it is called, what is left in the parameters, the
    record, the caller's unit and distance mode. Each two of their values occur together in some call (all pairs), so there are about
    as many calls as the two longest lists have pairs, however many lists there are."""
    if case.profile.record != "parameter" or not case.profile.conditions:
        return
    for values in all_pairs(_factors(case)):
        call = case.call
        says: list[str] = []
        for changed, said in values:
            if said:
                call, says = replace(call, **changed), [*says, said]
        if len(says) > 1:  # each by itself is called for itself
            yield replace(case, call=call, elsewhere=True, _runs={}), ", ".join(says)


def _factors(case: Case) -> list[list[Value]]:
    """What a caller may have, list by list; the first of each is the usual one."""
    actives = [active for active in CALLERS if active != "rotation" or ROTATES in case.profile.g_words]
    free = list(places(case))
    first = next((s.end for s in case.main.trace.segments if s.kind == "touch"), None)
    upright = case.setup.machine.axes.upright.soft_greatest if case.setup else case.call.at[2]
    above = [(first[0], first[1], upright)] if first else []
    there = [*above, *([free[0], free[-1]] if free else [])]
    records: list[Value] = [({}, ""), ({"doubtful": True}, "with a doubtful record")]
    if case.purpose == "exchange":
        records += [({"named": named}, says) for named, says in _misnamed(case)]
    return [
        [({}, ""), *(({"active": active}, f"with {CALLERS[active]} active") for active in actives)],
        [({}, ""), *(({"at": at}, f"from X {in_unit(at[0])} Y {in_unit(at[1])} Z {in_unit(at[2])}") for at in there)],
        [({}, ""), *(({"left": left}, f"with the working parameters left at {left:g}") for left in LEFT)],
        records,
        [({}, ""), ({"unit": 20 if case.call.unit == 21 else 21}, "in the other unit")],
        [({}, ""), ({"distance": 91}, "in relative mode")],
    ]


def all_pairs(factors: list[list[Value]]) -> Iterator[tuple[Value, ...]]:
    """Rows with one value of each list, so that each two values of different lists stand together in some row: each row takes a pair that
    is still missing, and of the other lists what brings most missing pairs (greedy; the same rows each time)."""
    sizes = [range(len(values)) for values in factors]
    missing = {
        ((one, a), (other, b))
        for one, other in itertools.combinations(range(len(factors)), 2)
        for a in sizes[one]
        for b in sizes[other]
    }
    while missing:
        row = dict(min(missing))
        for factor in range(len(factors)):
            if factor not in row:
                row[factor] = max(
                    sizes[factor],
                    key=lambda value: sum(tuple(sorted(((factor, value), fixed))) in missing for fixed in row.items()),
                )
        taken = sorted(row.items())
        missing -= set(itertools.combinations(taken, 2))
        yield tuple(factors[factor][value] for factor, value in taken)


def _goes_by_the_tool(called: Case) -> bool:
    """Whether a measuring or a routine has done what it is for with the tool in the spindle."""
    used = called.main.trace.of_kind("touch", "length-set", "length-active")
    return bool(used) and works_out(called.profile) and completed(called)


GOES_ON = (
    "Called with a doubtful record: it does what it is for all the same, and the tool in the spindle may be another one; ask whether the "
    "record is doubtful first."
)


def _misnamed(case: Case) -> Iterator[tuple[int, str]]:
    """Tools that a call may name as the one in the spindle, though the record has another: none, and the longest that is stored and
    not asked for."""
    held, asked = case.call.from_tool, case.call.to_tool
    there = f"T{held} is there and on record" if held else "the spindle is empty, and so is the record"
    if held:
        yield 0, f"as if the spindle were empty, where {there}"
    stored = [tool for tool in (case.setup.exchangeable() if case.setup else ()) if tool.number not in (held, asked)]
    if stored:
        longest = max(stored, key=lambda tool: tool.whole_length).number
        yield longest, f"with T{longest} in #{case.profile.parameters.exchange_from}, where {there}"


def _leaks(case: Case) -> Iterator[Finding]:
    entry = CHECKS["mode-leak"]
    return entry.function(case, FindingFactory(entry.name, entry.severity))
