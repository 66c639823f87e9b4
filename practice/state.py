"""The state of a practice machine: its hidden errors, and what it shows."""

import random
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, Literal

from orthotrope.errors import OrthotropeError
from orthotrope.machine.control import Control
from orthotrope.machine.motion import Vector
from orthotrope.machine.run import Call
from orthotrope.machine.virtual import VirtualMachine
from orthotrope.machine.world import World
from orthotrope.practising.parts import TruePose
from orthotrope.practising.truth import Truth, draw, true_world
from orthotrope.setup import Setup
from orthotrope.setup.machine import AXES, AxisName
from orthotrope.setup.routines import Routine
from orthotrope.units import MM_PER_INCH

from practice.results import Results

MOST_WORKING = 50
"""How many parameters from the profile's first one on are those that programs work with."""

Execution = Literal["READY", "ACTIVE", "FEED_HOLD", "PROGRAM_STOPPED", "STOPPED", "INTERRUPTED"]


@dataclass(slots=True)
class Activity:
    """Something that the machine does in blocks. ``next_block`` runs one and says whether there are more."""

    kind: Literal["jog", "home", "program"]
    next_block: Callable[[], bool]
    keep: Callable[[], Any]
    again: Callable[[Any, float], None]
    kept: Any = None
    over: bool = False
    held_by: object = None
    sign_of_life: float = 0.0
    text: list[str] = field(default_factory=list)


class Refused(OrthotropeError):
    """The machine does not do this now; the text says why and what to do first."""


class PracticeState:
    """The machine of a Setup with the errors of a seed. All positions that it shows are counted ones, as a control has
    them.

    ``changed`` is called whenever something may have changed that an agent reports. ``now``: the moment that is played, of the control's
    time, seconds; ``rate``: how fast it goes; ``heard``: the events of the trace that have had their effect.
    """

    def __init__(self, setup: Setup, seed: int, changed: Callable[[], None] = lambda: None):
        self.setup, self.changed = setup, changed
        self.truth: Truth = draw(setup, seed)
        self.world: World = true_world(setup, self.truth)
        self.chance = random.Random(seed + 1)
        self.control = Control(setup.profile, self.world, Call())
        machine = self.control.machine
        machine.touch_unit.noise = lambda: self.chance.gauss(0.0, self.truth.touch_sigma)
        machine.axes.homed = False
        x, y = setup.machine.axes.across
        true = (
            x.least + (x.greatest - x.least) * self.chance.uniform(0.35, 0.6),
            y.least + (y.greatest - y.least) * self.chance.uniform(0.3, 0.6),
            setup.machine.axes.upright.greatest - self.chance.uniform(8.0, 20.0),
        )
        machine.axes.error = true
        self.rate: float = 1.0
        self.powered, self.air, self.alarm, self.message = True, True, "", ""
        self.activity: Activity | None = None
        self.execution: Execution = "READY"
        self.block = ""
        self.now = 0.0
        self.slowing = 1.0
        self.heard = 0
        self.outputs = {entry.number: False for entry in setup.outputs}
        self.edges: list[tuple[int, datetime, bool]] = []
        self.dial_zero: dict[AxisName, float] = {}
        self.touched: list[list[float]] = []
        """Where the touches of the last program were latched (gauge line, machine coordinates, mm), at the feed that counts; none once
        the part or the spindle was turned or put elsewhere."""
        self.results = Results()
        self.at_stop: tuple[AxisName, float] | None = None
        """The axis that stands at its hard stop, and the way it came."""
        self.homings = 0
        """How often it was homed since it was made."""
        self.lies = ""
        """The routine whose part lies there; "": none."""
        self.careless: tuple[Setup, Routine, TruePose] | None = None
        self.bare = self.world
        """The world without a part."""

    @property
    def machine(self) -> VirtualMachine:
        return self.control.machine

    def be_in(self, world: World) -> None:
        """Be in another world from now on, in the same place."""
        self.world = self.control.world = world
        self.machine.be_in(world)

    def position(self) -> Vector:
        """The counted position now."""
        for segment in reversed(self.machine.trace.segments):
            if segment.t0 <= self.now:
                return segment.at(self.now) if self.now < segment.t1 else segment.end
        first = self.machine.trace.segments
        return first[0].start if first else self.machine.position

    def part_position(self) -> Vector:
        x, y, z = self.position()
        ox, oy, oz = self.control.offset
        return x - ox, y - oy, z - oz

    def spindle(self) -> float:
        return self.machine.trace.turning(self.now)

    def tool(self) -> int:
        held = self.machine.trace.held(self.now)
        return held if held is not None else self.machine.tool

    def inputs(self) -> dict[int, bool]:
        """Each input as the control sees it."""
        return {entry.number: self.machine.signals.sees(entry) for entry in self.world.inputs}

    def dial(self, axis: AxisName) -> float | None:
        """What a dial that was set to zero on this axis shows, mm; None where none stands there."""
        if axis not in self.dial_zero:
            return None
        return round(self.machine.axes.true_position[AXES.index(axis)] - self.dial_zero[axis], 3)

    @property
    def busy(self) -> bool:
        return self.activity is not None

    @property
    def homed(self) -> bool:
        return self.machine.axes.homed

    @property
    def record(self) -> tuple[int, bool]:
        """The control's record of the tool in the spindle, and whether it is doubtful."""
        number, doubtful = self.control.record
        return int(number), doubtful

    def working_parameters(self) -> dict[int, float]:
        """The parameters that programs work with, as lengths in mm."""
        first = self.setup.profile.parameters.working_first
        factor = MM_PER_INCH if self.setup.profile.unit == "inch" else 1.0
        values = self.control.parameters.values
        return {number: value * factor for number, value in values.items() if first <= number < first + MOST_WORKING}
