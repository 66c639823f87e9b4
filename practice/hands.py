"""The commands that a practice machine takes, by name: what each wants, and what it answers."""

from typing import Annotated, Any, Literal

from orthotrope.errors import InputError
from orthotrope.machine.world import WorldTool
from orthotrope.setup.machine import AxisName
from orthotrope.setup.tools import Tool
from orthotrope.validation import Feed, Length, Record, Seconds, parse
from pydantic import Field

from practice.machine import PracticeMachine
from practice.truth import told

Answer = dict[str, Any]


class Plain(Record):
    do: Literal["home", "hold", "go on", "stop", "reset", "look", "truth", "release", "alive", "hands"]


class Jog(Record):
    """``by``: the step in mm, or with ``held`` its sign only; ``creep``: slowly, past the soft limits."""

    do: Literal["jog"]
    axis: AxisName
    by: Length
    feed: Feed
    held: bool = False
    creep: bool = False


class RunText(Record):
    do: Literal["run"]
    text: Annotated[str, Field(max_length=1_000_000)]
    from_tool: int = 0
    to_tool: int = 0


class Make(Record):
    """Make an input by hand, or let go of it: press the setter, touch the stylus to the plate, close the door."""

    do: Literal["make"]
    input: int
    made: bool


class SetLead(Record):
    do: Literal["lead"]
    input: int
    state: Literal["sound", "broken", "to ground"]


class SetAir(Record):
    do: Literal["air"]
    enough: bool


class PutTool(Record):
    do: Literal["tool"]
    tool: Tool | None


class Settle(Record):
    """The record of the tool in the spindle, keyed in after looking; 0: empty. ``pockets``: the tools in the pockets
    that have others than the control's table says, by pocket."""

    do: Literal["settle"]
    number: Annotated[int, Field(ge=0, le=99_999)]
    pockets: dict[str, Annotated[int, Field(ge=0, le=99_999)]] = {}


class SetDial(Record):
    do: Literal["dial"]
    axis: AxisName


class SetSpeed(Record):
    """How fast its time goes: as real, ten times, or at once."""

    do: Literal["speed"]
    speed: Literal["real time", "ten times", "at once"]


class SetPower(Record):
    do: Literal["power"]
    on: bool


class KeyIn(Record):
    """What is keyed into the control: soft limits by axis, mm; the level that it takes as made, and the filter, by
    input."""

    do: Literal["key in"]
    limits: dict[AxisName, Annotated[list[Length], Field(min_length=2, max_length=2)]] = {}
    levels: dict[str, Literal["high", "low"]] = {}
    filters: dict[str, Seconds] = {}


COMMANDS: dict[str, type[Record]] = {
    **dict.fromkeys(("home", "hold", "go on", "stop", "reset", "look", "truth", "release", "alive", "hands"), Plain),
    "jog": Jog,
    "run": RunText,
    "make": Make,
    "lead": SetLead,
    "air": SetAir,
    "tool": PutTool,
    "settle": Settle,
    "dial": SetDial,
    "speed": SetSpeed,
    "power": SetPower,
    "key in": KeyIn,
}

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
    wanted = parse(COMMANDS[name], data, lines=("text",))
    match wanted:
        case Plain(do="look"):
            return {"sight": machine.sight()}
        case Plain(do="hands"):
            made = [entry.number for entry in machine.world.inputs if machine.machine.is_made(entry)]
            speed = next(name for name, rate in RATES.items() if rate == machine.rate)
            return {
                "hands": {
                    "made": made,
                    "leads": machine.machine.leads,
                    "speed": speed,
                    "record": machine.record[0],
                    "doubtful": machine.record[1],
                }
            }
        case Plain(do="truth"):
            number = machine.truth.reversed_input
            reversed_name = next((entry.name for entry in machine.setup.inputs if entry.number == number), "")
            return {
                "truth": told(machine.setup, machine.truth),
                "seed": machine.truth.seed,
                "reversed_input": reversed_name,
            }
        case Plain(do="release"):
            machine.release_jog(hand)
        case Plain(do="alive"):
            machine.keep_jog(hand)
        case Plain(do=plain):
            {
                "home": machine.home,
                "hold": machine.hold,
                "go on": machine.go_on,
                "stop": machine.stop,
                "reset": machine.reset,
            }[plain]()
        case Jog():
            machine.jog(wanted.axis, wanted.by, wanted.feed, wanted.creep, hand if wanted.held else None)
        case RunText():
            machine.run(wanted.text, wanted.from_tool, wanted.to_tool)
        case Make():
            machine.make(wanted.input, wanted.made)
        case SetLead():
            machine.lead(wanted.input, wanted.state)
        case SetAir():
            machine.set_air(wanted.enough)
        case PutTool(tool=None):
            machine.put_tool(None)
        case PutTool(tool=Tool() as tool):
            machine.put_tool(
                WorldTool(tool.number, tool.name, tool.length, tool.length, tool.stick_out, tool.diameter / 2)
            )
        case Settle():
            machine.settle(wanted.number, wanted.pockets)
        case SetDial():
            machine.set_dial(wanted.axis)
        case SetSpeed():
            machine.rate = RATES[wanted.speed]
        case SetPower():
            machine.power(wanted.on)
        case KeyIn():
            limits = {axis: (ends[0], ends[1]) for axis, ends in wanted.limits.items()}
            machine.key_in(limits, wanted.levels, wanted.filters)
    return {}
