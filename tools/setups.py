"""Edits of Setups: the machine is really otherwise than its Setup says, while the texts stay as they are written."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from harmless import SAID, does_the_same, goes_another_way
from orthotrope.machine.run import Run
from orthotrope.proof.room import SPANS, TIMES, AssumedAndTrue, Rooms, quantities
from orthotrope.setup import Setup
from orthotrope.setup.keys import at
from orthotrope.validation import unit_at

SLOWER = 3.0
"""What a device's time is multiplied by."""

SWAPPED = {"normally open": "normally closed", "normally closed": "normally open", "high": "low", "low": "high"}
"""Of an input: what it is and what it is taken for."""


@dataclass(frozen=True, slots=True)
class SetupEdit:
    """A value at a place (a JSON pointer) that is really another."""

    where: str
    before: float | str
    after: float | str


def setup_edits(setup: Setup) -> Iterator[SetupEdit]:
    """Each quantity that something real can depend on, by ever more, either way; each wire the other way round; each device slower."""
    document = setup.as_json()
    for where in quantities(setup):
        value, span = at(document, where), SPANS[unit_at(Setup, where)]
        error, scale = span.first, span.scale(value)
        while error <= span.last and scale:
            yield SetupEdit(where, value, value - error * scale)
            yield SetupEdit(where, value, value + error * scale)
            error *= TIMES
    for index, output in enumerate(document["outputs"]):
        yield SetupEdit(f"/outputs/{index}/seconds", output["seconds"], SLOWER * output["seconds"])
    for index, entry in enumerate(document["inputs"]):
        for name in ("wiring", "level"):
            yield SetupEdit(f"/inputs/{index}/{name}", entry[name], SWAPPED[entry[name]])


def outcome_of_setup(rooms: Rooms, edit: SetupEdit) -> str:
    """What an edit comes to: "found", why it does no harm, or "" of a survivor."""
    found = rooms.really(edit.where, edit.after)
    if found is None:
        return "the Setup can't be that"
    if any(entry.fails for entry in found):
        return "found"
    if not found:
        return "nothing real depends on it"
    names = list(RULES)
    whys = [_why(entry) for entry in found]
    return "" if None in whys else max((why for why in whys if why), key=names.index)


def _why(entry: AssumedAndTrue) -> str | None:
    before, after = entry.believed.main, entry.really.main
    return next((why for why, rule in RULES.items() if rule(before, after)), None)


def _kinds(run: Run) -> list[str]:
    """What a run does but for its moves and what touches press."""
    return [
        event.kind for event in run.trace.events if event.kind not in SAID and event.kind not in ("pressed", "released")
    ]


def _touches(before: Run, after: Run) -> bool:
    """It touches as often, and what it sets is another value: room leaves that out, since a wrong plane or radius makes each value that is
    measured with it wrong by as much, and only another measurement tells."""
    return _kinds(before) == _kinds(after) and bool(before.trace.of_kind("touch"))


def _within_limits(before: Run, after: Run) -> bool:
    """The checks know what is allowed of these figures: how far a nut is drawn up, how far a pocket gives."""
    return _kinds(before) == _kinds(after)


RULES: dict[str, Callable[[Run, Run], bool]] = {
    "the same happens": lambda before, after: does_the_same([before], [after]),
    "the same happens on other ways or in other times": lambda before, after: goes_another_way([before], [after]),
    "what is measured follows it": _touches,
    "the same happens, with figures that are allowed": _within_limits,
}
"""What is found to do no harm, by why; the later the more is otherwise."""
