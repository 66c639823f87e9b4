"""After a stopped exchange: what is where for each block in which it may have stopped, the way out, and the record to
set."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

from orthotrope.machine.changing import GripWords
from orthotrope.machine.control import Control
from orthotrope.machine.executor import ProgramRun
from orthotrope.machine.virtual import VirtualMachine
from orthotrope.proof.exchanges import exchange_case
from orthotrope.setup import Setup

NOT_CLEAR = 100.0
"""mm beside a pocket, more than its holders are wide, in which the spindle is not clear of the changer."""


@dataclass(frozen=True, slots=True)
class PossibleState:
    """One way in which things may be: the tool in the spindle (0: none, None: neither held nor free), the pockets that
    have other tools than before the exchange (0: none), and what an arm has in its hands at the spindle and at the
    pot."""

    holds: int | None
    pockets: tuple[tuple[int, int], ...]
    hands: tuple[int, int] = (0, 0)


@dataclass(frozen=True, slots=True)
class BlockRange:
    """Blocks in which it may have stopped with the same result: their lines in the order in which they are run, what
    the record says, what may be where, and the way ``out``."""

    lines: tuple[int, ...]
    record: int
    doubtful: bool
    found: tuple[PossibleState, ...]
    says: str
    out: tuple[str, ...]


def recovery(setup: Setup, from_tool: int, to_tool: int) -> list[BlockRange]:
    """The stretches of an exchange's text in the order in which it is run; none where there is no exchange.

    Power may be lost in the middle of a block: where something changes within one, both ways are reported.

    Raises:
        InputError: where a tool is not there, or has no pocket.
    """
    _, case = exchange_case(setup, setup.profile, from_tool, to_tool)
    if not case.program.readable:
        return []
    run = ProgramRun(case.program, Control(case.profile, case.world, case.call))
    machine, trace = run.machine, run.run.trace
    begin = dict(machine.carrier.changer.stored) if machine.carrier.changer else {}

    def now() -> PossibleState:
        stored = machine.carrier.changer.stored if machine.carrier.changer else {}
        changed = {p: stored.get(p, 0) for p in {*begin, *stored} if stored.get(p, 0) != begin.get(p, 0)}
        hands = machine.carrier.changer.carried if machine.carrier.changer else (0, 0)
        return PossibleState(trace.holding[-1][1], tuple(sorted(changed.items())), hands)

    stretches: list[BlockRange] = []
    before, waits = now(), len(trace.holding)
    record: tuple[float, bool] = (float(from_tool), False)
    while run.step():
        block = trace.blocks[-1]
        after = now()
        between = [PossibleState(held, before.pockets, before.hands) for _, held in trace.holding[waits:-1]]
        found = tuple(dict.fromkeys([before, *between, after]))
        says = _says(found, int(record[0]), record[1])
        made = BlockRange((block.line,), int(record[0]), record[1], found, says, tuple(_out(setup, machine)))
        last = stretches[-1] if stretches else None
        if last and (last.record, last.doubtful, last.found, last.out) == (
            made.record,
            made.doubtful,
            made.found,
            made.out,
        ):
            lines = last.lines if block.line in last.lines else (*last.lines, block.line)
            stretches[-1] = BlockRange(lines, last.record, last.doubtful, last.found, last.says, last.out)
        else:
            stretches.append(made)
        before, waits, record = after, len(trace.holding), (block.record, block.doubtful)
    return stretches


@dataclass(frozen=True, slots=True)
class RecordWords:
    """How the record is keyed into a control: lines ``of_tool`` with {tool}, and ``of_pocket`` with {pocket} too; ""
    where it keeps none of pockets."""

    of_tool: tuple[str, ...]
    of_pocket: str = ""


def record_words(setup: Setup) -> RecordWords:
    """How the record is keyed into the control of this Setup."""
    known = setup.profile.parameters
    if setup.profile.record != "parameter":
        return RecordWords(("On the entry card: in the spindle is {tool}",))
    changes = setup.changer is not None and setup.changer.pockets_change
    return RecordWords(
        (f"#{known.record} = {{tool}}", f"#{known.record_doubtful} = 0"),
        f"#[{known.pockets_first} + {{pocket}}] = {{tool}}" if changes else "",
    )


def _named(tool: int | None, hands: tuple[int, int]) -> str:
    if any(hands):
        held = [
            f"T{number} {where}"
            for number, where in zip(hands, ("at the spindle", "at the pot"), strict=True)
            if number
        ]
        return f"the arm has {' and '.join(held)}"
    if tool is None:
        return "a tool is neither held nor free"
    return f"T{tool} is in the spindle" if tool else "the spindle is empty"


def _says(found: tuple[PossibleState, ...], record: int, doubtful: bool) -> str:
    ways = []
    for way in found:
        pockets = ", ".join(f"pocket {p} has {f'T{t}' if t else 'none'}" for p, t in way.pockets)
        ways.append(f"{_named(way.holds, way.hands)}{f'; {pockets}' if pockets else ''}")
    reported = "Either " + ", or ".join(ways) + ": look." if len(ways) > 1 else f"{ways[0][0].upper()}{ways[0][1:]}."
    if doubtful or len(ways) > 1:
        return reported
    return (
        reported if found[0].holds == record else f"{reported} The record says {f'T{record}' if record else 'no tool'}."
    )


def _out(setup: Setup, machine: VirtualMachine) -> Iterator[str]:
    """The way out of the changer, which comes before homing; nothing where the spindle is clear of it."""
    changer, magazine = machine.carrier.changer, machine.world.magazine
    if changer is None or magazine is None or not magazine.places:
        return
    place, profile = machine.axes.true_position, setup.profile
    nearest = min(math.dist(place[:2], pocket) for pocket in magazine.places.values())
    low = place[2] < magazine.hover_z - 1e-6 and nearest <= NOT_CLEAR + 2 * magazine.needed_radius
    yield from changer.ways_out(place, low, GripWords(profile.grip_open, profile.grip_close))
