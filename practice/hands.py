"""The commands that a practice machine takes, by name: what each wants, and what it answers."""

from abc import ABC, abstractmethod
from typing import Annotated, Any, Literal, get_args

from orthotrope.errors import InputError
from orthotrope.practising.truth import truth_rows
from orthotrope.proof.worlds import world_tool
from orthotrope.setup import read_setup
from orthotrope.setup.machine import AxisName
from orthotrope.setup.tools import Tool
from orthotrope.validation import Feed, Length, Record, Seconds, parse
from pydantic import BaseModel, ConfigDict, Field

from practice.machine import PracticeMachine

Answer = dict[str, Any]


class Command(Record, ABC):
    """Base of all commands; each does what it says."""

    @abstractmethod
    def done(self, machine: PracticeMachine, hand: object) -> Answer | None:
        """Do it; the answer, None: nothing to say. ``hand``: whose command it is.

        Raises:
            Refused: what the machine does not do now.
        """


class Key(Command):
    """A key that is pressed, no more."""

    do: Literal["home", "hold", "go on", "stop", "reset"]

    def done(self, machine: PracticeMachine, hand: object) -> None:
        keys = {
            "home": machine.jogging.home,
            "hold": machine.programs.hold,
            "go on": machine.programs.go_on,
            "stop": machine.playback.stop,
            "reset": machine.reset,
        }
        keys[self.do]()


class Look(Command):
    """A look at the spindle and the pockets."""

    do: Literal["look"]

    def done(self, machine: PracticeMachine, hand: object) -> Answer:
        return {"sight": machine.sight()}


class Hands(Command):
    """What a person at the machine knows of it beside what its agent tells."""

    do: Literal["hands"]

    def done(self, machine: PracticeMachine, hand: object) -> Answer:
        return {
            "hands": {
                "made": [entry.number for entry in machine.world.inputs if machine.machine.signals.is_made(entry)],
                "leads": machine.machine.signals.leads,
                "speed": next(name for name, rate in RATES.items() if rate == machine.rate),
                "record": machine.record[0],
                "doubtful": machine.record[1],
            }
        }


class Pages(Command):
    """What the control shows on its pages: the lengths of the tools, its working parameters, and the length that is in force,
    mm; ``busy``: a program or a move is still under way, more may come."""

    do: Literal["pages"]

    def done(self, machine: PracticeMachine, hand: object) -> Answer:
        modes = machine.control.modes
        active = {"tool": modes.length_number, "length": modes.length} if modes.length_mode == 43 else None
        parameters = machine.working_parameters()
        pages = {"lengths": machine.control.lengths, "parameters": parameters, "active": active}
        return {
            "pages": {
                **pages,
                "touches": machine.touched,
                "lies": machine.lies,
                "busy": machine.busy,
                **machine.results.as_json(),
            }
        }


class RevealTrueValues(Command):
    """The hidden truth beside the Setup's values."""

    do: Literal["truth"]

    def done(self, machine: PracticeMachine, hand: object) -> Answer:
        number = machine.truth.reversed_input
        reversed_name = next((entry.name for entry in machine.setup.inputs if entry.number == number), "")
        found = [*truth_rows(machine.setup, machine.truth), *machine.table.part_truth()]
        return {"truth": found, "seed": machine.truth.seed, "reversed_input": reversed_name}


class PutDown(Command):
    """A part is put down carelessly for a routine of this Setup, or taken away (null)."""

    do: Literal["put down"]
    routine: str | None
    document: dict[str, Any]

    def done(self, machine: PracticeMachine, hand: object) -> None:
        machine.table.put_down(read_setup(self.document), self.routine)


class HalfTurn(Command):
    """The spindle is turned by hand by half a turn."""

    do: Literal["half turn"]

    def done(self, machine: PracticeMachine, hand: object) -> None:
        machine.table.half_turn()


class Held(Command):
    """A jog key that is held is reported again and again, and let go of."""

    do: Literal["release", "alive"]

    def done(self, machine: PracticeMachine, hand: object) -> None:
        if self.do == "release":
            machine.playback.release_jog(hand)
        else:
            machine.playback.keep_jog(hand)


class Jog(Command):
    """``by``: the step in mm, or with ``held`` its sign only; ``creep``: slowly, past the soft limits."""

    do: Literal["jog"]
    axis: AxisName
    by: Length
    feed: Feed
    held: bool = False
    creep: bool = False

    def done(self, machine: PracticeMachine, hand: object) -> None:
        machine.jogging.jog(self.axis, self.by, self.feed, self.creep, hand if self.held else None)


class Go(Command):
    """The next step on the way to a place, machine coordinates, mm; the answer says which it is."""

    do: Literal["go"]
    to: Annotated[dict[AxisName, Length], Field(min_length=1)]
    feed: Feed

    def done(self, machine: PracticeMachine, hand: object) -> Answer:
        return {"step": machine.jogging.go(self.to, self.feed)}


Said = Annotated[str, Field(max_length=80)]


class Of(BaseModel):
    """What a program is, as whoever runs it says: it is said again with its results."""

    model_config = ConfigDict(extra="forbid")

    sequence: Said = ""
    tools: Annotated[list[int], Field(max_length=1000)] = []
    setter: Said = ""
    routine: Said = ""
    rests_on: Annotated[dict[Annotated[str, Field(max_length=200)], float | None], Field(max_length=40)] = {}


class RunText(Command):
    do: Literal["run"]
    text: Annotated[str, Field(max_length=1_000_000)]
    from_tool: int = 0
    to_tool: int = 0
    of: Of | None = None

    def done(self, machine: PracticeMachine, hand: object) -> None:
        machine.programs.run(self.text, self.from_tool, self.to_tool, self.of.model_dump() if self.of else None)


class Make(Command):
    """Make an input by hand, or let go of it: press the setter, touch the stylus to the plate, close the door."""

    do: Literal["make"]
    input: int
    made: bool

    def done(self, machine: PracticeMachine, hand: object) -> None:
        machine.switches.make(self.input, self.made)


class Tap(Command):
    """Touch with a hand what makes an input, for a moment: the touching move that is under way ends there."""

    do: Literal["tap"]
    input: int

    def done(self, machine: PracticeMachine, hand: object) -> None:
        machine.switches.tap(self.input)


class SetLead(Command):
    do: Literal["lead"]
    input: int
    state: Literal["sound", "broken", "to ground"]

    def done(self, machine: PracticeMachine, hand: object) -> None:
        machine.switches.lead(self.input, self.state)


class SetAir(Command):
    do: Literal["air"]
    enough: bool

    def done(self, machine: PracticeMachine, hand: object) -> None:
        machine.switches.set_air(self.enough)


class PutTool(Command):
    do: Literal["tool"]
    tool: Tool | None

    def done(self, machine: PracticeMachine, hand: object) -> None:
        t = self.tool
        put = world_tool(t) if t else None
        machine.put_tool(put)


class Settle(Command):
    """The record of the tool in the spindle, keyed in after looking; 0: empty. ``pockets``: the tools in the pockets
    that have others than the control's table says, by pocket."""

    do: Literal["settle"]
    number: Annotated[int, Field(ge=0, le=99_999)]
    pockets: dict[str, Annotated[int, Field(ge=0, le=99_999)]] = {}

    def done(self, machine: PracticeMachine, hand: object) -> None:
        machine.settle(self.number, self.pockets)


class SetDial(Command):
    do: Literal["dial"]
    axis: AxisName

    def done(self, machine: PracticeMachine, hand: object) -> None:
        machine.set_dial(self.axis)


class SetSpeed(Command):
    """How fast its time goes: as real, ten times, or at once."""

    do: Literal["speed"]
    speed: Literal["real time", "ten times", "at once"]

    def done(self, machine: PracticeMachine, hand: object) -> None:
        machine.rate = RATES[self.speed]


class SetPower(Command):
    do: Literal["power"]
    on: bool

    def done(self, machine: PracticeMachine, hand: object) -> None:
        machine.power(self.on)


class KeyIn(Command):
    """What is keyed into the control: soft limits by axis, mm; the level that it takes as made, and the filter, by
    input."""

    do: Literal["key in"]
    limits: dict[AxisName, Annotated[list[Length], Field(min_length=2, max_length=2)]] = {}
    levels: dict[str, Literal["high", "low"]] = {}
    filters: dict[str, Seconds] = {}

    def done(self, machine: PracticeMachine, hand: object) -> None:
        limits = {axis: (ends[0], ends[1]) for axis, ends in self.limits.items()}
        machine.key_in(limits, self.levels, self.filters)


COMMANDS: dict[str, type[Command]] = {
    name: kind for kind in Command.__subclasses__() for name in get_args(kind.model_fields["do"].annotation)
}
"""By the word that it is given with."""

RATES = {"real time": 1.0, "ten times": 10.0, "at once": float("inf")}


def obey(machine: PracticeMachine, data: Any, hand: object) -> Answer:
    """Do what a command says; ``hand`` is whose it is: a held jog stops when it is gone.

    Raises:
        InputError: what is no command.
        Refused: what the machine does not do now.
    """
    name = data.get("do") if isinstance(data, dict) else None
    if name not in COMMANDS:
        raise InputError.at("/do", f"`do` must be one of {', '.join(COMMANDS)}.")
    return parse(COMMANDS[name], data, lines=("text",)).done(machine, hand) or {}
