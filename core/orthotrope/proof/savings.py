"""Which change would save most time in an exchange: each is tried on a copy of the Setup."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from orthotrope.errors import InputError
from orthotrope.proof.exchanges import exchange_case
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.keys import at, placed


@dataclass(frozen=True, slots=True)
class Saving:
    """A change that would shorten an exchange: in words, the value that it is about (JSON pointer), and how much,
    seconds."""

    says: str
    where: str
    seconds: float


FASTER = 1.25
"""What a quarter more is tried with: rapids, accelerations, feeds, and devices that take a fifth less time."""

WORTH = 0.05
"""Seconds; what saves less is not reported."""


def savings(setup: Setup, from_tool: int, to_tool: int) -> list[Saving]:
    """What would save most in one exchange: each change is made to a copy of the Setup, and the exchange is run again.

    Raises:
        InputError: where there is no such exchange.
    """
    whole = _seconds(setup, from_tool, to_tool)
    found = []
    for says, where, document in _changed(setup):
        try:
            left = whole - _seconds(read_setup(document), from_tool, to_tool)
        except InputError:  # a copy that can't be: the change is none
            continue
        if left > WORTH:
            found.append(Saving(says, where, left))
    return sorted(found, key=lambda saving: -saving.seconds)


def _seconds(setup: Setup, from_tool: int, to_tool: int) -> float:
    _, case = exchange_case(setup, setup.profile, from_tool, to_tool)
    trace = case.main.trace
    return trace.seconds if trace.ended == "end" and trace.holding[-1][1] == to_tool else math.inf


def _changed(setup: Setup) -> Iterator[tuple[str, str, dict[str, Any]]]:
    """Changes to try, each with its words, its place and the changed document."""

    def scaled(where: str, factor: float) -> dict[str, Any]:
        document = setup.as_json()
        changed: dict[str, Any] = placed(document, where, at(document, where) * factor)
        return changed

    for name, _ in setup.machine.axes.items():
        for key, word in (("rapid", "rapid"), ("acceleration", "acceleration")):
            where = f"/machine/axes/{name}/{key}"
            yield f"{name} with a quarter more {word}", where, scaled(where, FASTER)
    where = "/machine/spindle/seconds_to_speed"
    yield "a spindle that needs a fifth less time to its speed", where, scaled(where, 1 / FASTER)
    for index, output in enumerate(setup.outputs):
        if output.seconds > 0:
            where = f"/outputs/{index}/seconds"
            yield f"{output.name} in a fifth less time", where, scaled(where, 1 / FASTER)
    changer = setup.changer
    for where, says in (
        ("/changer/disc/seconds_per_step", "a disc that turns a quarter faster"),
        ("/changer/coupling/dwell", "a dwell at couple height a fifth shorter"),
    ):
        if changer and where.split("/")[2] in type(changer).model_fields:
            yield says, where, scaled(where, 1 / FASTER)
    for where, says in (
        ("/changer/grip/feed", "a quarter more feed down onto the tool"),
        ("/changer/forks/feed", "a quarter more feed in and out of the forks"),
    ):
        if changer and where.split("/")[2] in type(changer).model_fields:
            yield says, where, scaled(where, FASTER)
    if setup.profile.wait == "none":
        return
    for role in changer.sensors if changer else ():
        if setup.input_of(role) is None:
            number = next(n for n in range(1, 65) if n not in {entry.number for entry in setup.inputs})
            document = setup.as_json()
            document["inputs"].append(
                {
                    "number": number,
                    "name": f"{role}, tried",
                    "role": role,
                    "terminal": "tried",
                    "wiring": "normally open",
                    "level": "low",
                }
            )
            yield f"an input that shows {role}, waited for instead of a dwell", "/inputs", document
