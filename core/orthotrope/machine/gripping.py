"""What a drawbar's grip does with the tools of pockets that the spindle goes to, and what its devices do in time.

A device is commanded and has its new state some seconds later; what the machine may do in between is judged at the
moment it is done. A tool is in the spindle while the grip is closed on it, in its pocket once the grip is open, and
neither between."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import Any, Self

from orthotrope.machine.changing import SEATED, ChangerEvent, Changing, GripWords, Magazine, Now, Spot
from orthotrope.machine.motion import Vector
from orthotrope.machine.shapes import Body, CylinderBody, StackPart
from orthotrope.machine.world import WorldTool
from orthotrope.setup.roles import ON_NOTHING, ON_TOOL, OPEN, OUTPUT_ROLES, InputRole, OutputRole

TINY = 1e-9


def at_rest() -> dict[str, str]:
    """State of each device while the machine is ready; a grip that has a tool is closed on it."""
    return dict(_at_rest(tuple(OUTPUT_ROLES.values())))


@lru_cache
def _at_rest(roles: tuple[OutputRole, ...]) -> dict[str, str]:
    return {"grip": ON_NOTHING, "turn": "in place", **{role.device: role.off for role in roles if role.device}}


@dataclass(frozen=True, slots=True)
class Device:
    """The state that a device has, or goes to until ``done`` (seconds)."""

    state: str
    done: float = -math.inf

    def at(self, t: float) -> str:
        """Its state at a time; "" while it moves."""
        return self.state if t >= self.done - TINY else ""


@dataclass(frozen=True, slots=True, kw_only=True)
class GripPockets(Magazine):
    """Pockets whose tools a drawbar grips.

    ``knob``: how far taper and knob stand above the gauge line; ``holder_radius``; ``reach``: how far off the couple
    height a grip still takes or leaves a tool; ``holds_down``: whether a pocket keeps its tool when a closed grip
    pulls; mm. ``words``: what the M words (with their P, or None) make of which device; ``seconds`` of each device.
    ``begins``: states of devices that are not at rest."""

    knob: float
    holder_radius: float
    reach: float
    holds_down: bool
    words: dict[tuple[int, float | None], tuple[str, str]]
    seconds: dict[str, float]
    begins: dict[str, str] = field(default_factory=dict)

    def changing(self, tool: int, stored: dict[int, int]) -> "Gripping":
        return Gripping(self, tool, stored)

    @property
    def above(self) -> float:
        return self.knob

    @property
    def stored_radius(self) -> float:
        """How far what is stored reaches from its pocket's middle, mm."""
        return max(self.holder_radius, self.widest)

    @property
    def devices(self) -> frozenset[str]:
        return frozenset(self.seconds)

    def slowed(self, device: str, times: float) -> "GripPockets":
        if device not in self.seconds:
            return self
        return replace(self, seconds={**self.seconds, device: self.seconds[device] * times})

    def takes(self, device: str) -> float:
        return self.seconds.get(device, 0.0)

    @property
    def commands(self) -> frozenset[tuple[str, str]]:
        return frozenset(self.words.values())

    def device_of(self, word: int, p: float | None) -> tuple[str, str] | None:
        return self.words.get((word, p)) or self.words.get((word, None))

    def as_left(self, changing: Changing) -> "GripPockets":
        left = Magazine.as_left(self, changing)
        assert isinstance(left, GripPockets)
        return replace(left, begins={name: state for name, state in changing.states.items() if name != "turn"})


@dataclass(slots=True)
class Gripping(Changing):
    """The state of spindle, grip and pockets. ``tool``: the one in the spindle, gripped or about to be let go."""

    pockets: GripPockets
    tool: int = 0
    stored: dict[int, int] = field(default_factory=dict)
    devices: dict[str, Device] = field(default_factory=dict)
    pending: tuple[str, ...] = ()
    nothing_at: int | None = None
    seat: int | None = None
    """The pocket whose tool is in the spindle's bore, not gripped."""
    obeyed: int = 0
    """How often what fails sooner or later has acted so far."""

    def __post_init__(self) -> None:
        if not self.devices:
            known = {**at_rest(), **({"grip": ON_TOOL} if self.tool else {}), **self.pockets.begins}
            self.devices = {name: Device(state) for name, state in known.items()}

    def copied(self) -> Self:
        other = Changing.copied(self)
        other.devices = dict(self.devices)
        return other

    def place_in(self, magazine: Magazine) -> None:
        assert isinstance(magazine, GripPockets)
        self.pockets = magazine

    @property
    def busy(self) -> bool:
        return bool(self.pending)

    def changes_at(self, t: float, turning: bool) -> Iterator[float]:
        yield from (self.devices[name].done for name in self.pending)

    @property
    def states(self) -> dict[str, str]:
        """What each device has or goes to: what a run that starts from here begins with."""
        return {name: device.state for name, device in self.devices.items()}

    @property
    def holds(self) -> int | None:
        """The tool that is firm in the spindle, 0 for none, None for neither held nor free."""
        if self.tool:
            return self.tool if self.devices["grip"].state == ON_TOOL and "grip" not in self.pending else None
        return 0 if "grip" not in self.pending or self.seat is None else None

    def put(self, number: int) -> None:
        """Another tool by a person's hand: it is gripped."""
        self.tool = number
        self.devices["grip"] = Device(ON_TOOL if number else ON_NOTHING)
        self.pending = tuple(name for name in self.pending if name != "grip")

    def place(self, x: float, y: float) -> int | None:
        """The pocket whose tool the nose is over closely enough to meet it."""
        for number, (px, py) in self.pockets.places.items():
            if abs(px - x) <= self.pockets.aligned and abs(py - y) <= self.pockets.aligned:
                return number
        return None

    def at_couple(self, z: float) -> bool:
        return abs(z - self.pockets.couple_z) <= self.pockets.reach

    def below_knob(self, z: float) -> bool:
        return z < self.pockets.couple_z + self.pockets.knob - 1e-6

    def is_made(self, role: InputRole, t: float) -> bool | None:
        if not role.of_changer:
            return None
        if role.tells is None:
            return self.tool != 0 or self.seat is not None
        device, state = role.tells
        return device in self.devices and self.devices[device].at(t) == state

    # -- what is switched ---------------------------------------------------------------------------------------------

    def switch(self, word: int, p: float | None, now: Now) -> Iterator[ChangerEvent]:
        """A device is switched by an M word (with its P)."""
        wanted = self.pockets.device_of(word, p)
        if wanted is None:
            return
        device, state = wanted
        harm = self.harm_of(device, state, now)
        if harm:
            yield harm
        elif not self.fails(device, state):
            for happening in self.command(device, state, now):
                self.obeyed += self.is_failing(device, state)
                yield happening

    def fails(self, device: str, state: str) -> bool:
        """Whether a device does not act now when it is commanded to go to a state."""
        return self.obeyed >= self.pockets.obeys and self.is_failing(device, state)

    def is_failing(self, device: str, state: str) -> bool:
        """Whether a device is one that fails on its way to a state, sooner or later."""
        return not self.pockets.failing.isdisjoint({device, f"{device} {state}"})

    def command(self, device: str, state: str, now: Now) -> Iterator[ChangerEvent]:
        """A device begins to go to a state."""
        if device == "grip" and state == "closed":
            state = ON_TOOL if self.taken(now.place) else ON_NOTHING
        if self.devices[device].state == state:
            return
        if device == "grip":
            self.nothing_at = (
                self.place(*now.place[:2]) if state == ON_NOTHING and self.at_couple(now.place[2]) else None
            )
        done = now.t + self.pockets.seconds.get(device, 0.0)
        yield ChangerEvent(
            "device", now.t, False, {"device": device, "state": state, "was": self.devices[device].state, "done": done}
        )
        self.devices[device] = Device(state, done)
        self.pending = (*(name for name in self.pending if name != device), device)

    def harm_of(self, device: str, state: str, now: Now) -> ChangerEvent | None:
        """What switching a device would do at once that must not be done."""
        if device != "grip":
            return None
        near = self.at_couple(now.place[2]) and self.support(now.place) is not None
        if now.turning and (near or (state == OPEN and self.tool)):
            return ChangerEvent(
                "spindle-turning", now.t, True, {"speed": now.turning, "doing": f"the grip is to be {state}"}
            )
        if state == OPEN and self.tool and not self.fails(device, state):
            to = self.support(now.place)
            if to is None or not self.at_couple(now.place[2]):
                return ChangerEvent("dropped-tool", now.t, True, {"tool": self.tool})
        return None

    def support(self, place: Vector) -> int | None:
        """The pocket that can take or give a tool where the spindle is; None: there is none."""
        return self.place(place[0], place[1])

    def taken(self, place: Vector) -> int:
        """The tool that a grip which closes now takes hold of; 0: none."""
        if self.tool:
            return self.tool
        pocket = self.support(place)
        return self.stored.get(pocket, 0) if pocket is not None and self.at_couple(place[2]) else 0

    def until(self, t: float, place: Vector) -> Iterator[ChangerEvent]:
        """What the devices have done until a time, in order."""
        while self.pending:
            name = min(self.pending, key=lambda entry: self.devices[entry].done)
            device = self.devices[name]
            if device.done > t + TINY:
                return
            self.pending = tuple(entry for entry in self.pending if entry != name)
            self.completed(name, device.state, place)
            yield ChangerEvent("done", device.done, False, {"device": name, "state": device.state})

    def completed(self, device: str, state: str, place: Vector) -> None:
        if device != "grip":
            return
        pocket = self.support(place)
        if state == OPEN:
            if self.tool and pocket is not None:
                self.stored[pocket] = self.tool
                self.seat, self.tool = pocket, 0
        elif state == ON_TOOL and not self.tool and pocket is not None:
            self.tool = self.stored.pop(pocket)
            self.seat = None

    # -- what moves ---------------------------------------------------------------------------------------------------

    def moving(self, start: Vector, end: Vector, now: Now) -> ChangerEvent | None:
        """What a move of the spindle would do at once that must not be done."""
        pocket = self.support(start)
        near = pocket is not None and self.at_couple(start[2])
        # Until the grip is done nobody knows whether it holds: the pocket may have the tool, or the spindle.
        if "grip" in self.pending and near and (self.tool or pocket in self.stored):
            return self.pulls(now, pocket, "before the grip is done")
        # Reported when the spindle leaves, not when the grip closes: a program may look, and close on nothing on purpose.
        if self.nothing_at is not None:
            gone, self.nothing_at = self.nothing_at, None
            return ChangerEvent("pocket-empty", now.t, False, {"pocket": gone})
        # A pocket that clasps is left sideways, or after the grip has opened; straight up pulls at both.
        if self.pockets.holds_down and near and self.tool and abs(end[2] - start[2]) > 1e-6:
            return self.pulls(now, pocket, "with the grip closed")
        there = self.support(end)
        if near and self.tool and there is None and (start[0] != end[0] or start[1] != end[1]):
            return ChangerEvent("goes-off", now.t, False, {"pocket": pocket})
        if there is None or not (self.tool or there in self.stored):
            return None
        deep = self.pockets.couple_z - end[2]
        if deep > max(SEATED, self.pockets.reach) + TINY:
            tool = self.tool or self.stored[there]
            return ChangerEvent("driven-in", now.t, True, {"pocket": there, "tool": tool, "deep": deep})
        if self.at_couple(end[2]) and not near:
            return self._meets(there, now) or ChangerEvent("comes-onto", now.t, False, {"pocket": there})
        return None

    def _meets(self, pocket: int | None, now: Now) -> ChangerEvent | None:
        """The spindle comes to a pocket to give its tool or to take one."""
        if now.turning:
            return ChangerEvent(
                "spindle-turning", now.t, True, {"speed": now.turning, "doing": f"pocket {pocket} is entered"}
            )
        if self.pockets.orientation and not now.oriented:
            return ChangerEvent("not-oriented", now.t, True, {"pocket": pocket})
        return None

    def pulls(self, now: Now, pocket: int | None, why: str) -> ChangerEvent:
        return ChangerEvent(
            "moved-ungripped",
            now.t,
            True,
            {"pocket": pocket, "tool": self.tool or self.stored.get(pocket or 0, 0), "why": why},
        )

    def moved(self, place: Vector) -> None:
        """The spindle is somewhere else."""
        if self.seat is not None and not self.at_couple(place[2]):
            self.seat = None
        if self.seat is None and not self.tool and self.devices["grip"].state == OPEN and self.at_couple(place[2]):
            pocket = self.support(place)
            self.seat = pocket if pocket in self.stored else None

    def ways_out(self, place: Vector, low: bool, words: GripWords) -> Iterator[str]:
        yield from self.grip_on_its_way(words)
        pocket = self.place(place[0], place[1])
        if low and pocket:
            yield "Jog Z straight up above the knob; if the tool comes with it, stop and look."
        elif low:
            yield "Jog Z straight up to park before homing."

    def grip_on_its_way(self, words: GripWords) -> Iterator[str]:
        """What is done first where the grip has not come to its end."""
        if "grip" in self.pending:
            yield (
                f"The grip is on its way: wait, then look whether it is open ({words.opens}) or closed "
                f"({words.closes})."
            )

    # -- shapes -------------------------------------------------------------------------------------------------------

    def key(self, place: Vector, upright: bool) -> tuple[object, ...]:
        """What the stack and the bodies depend on."""
        over = self.support(place) if upright and not self.tool and self.devices["grip"].state == OPEN else None
        return self.tool, over, frozenset(self.stored), self._shape()

    def _shape(self) -> object:
        return None

    def stack(self, tool: WorldTool) -> Iterator[StackPart]:
        """The holder and tool below the gauge line."""
        low = tool.stick_out - tool.length
        yield from self._holder(tool, low)
        yield StackPart(f"T{tool.number}", tool.radius, -tool.length, low)

    def _holder(self, tool: WorldTool, low: float) -> Iterator[StackPart]:
        """The holder from the gauge line to its lower end."""
        yield from tool.held(f"the holder of T{tool.number}", 0.0, low, self.pockets.holder_radius)

    def bodies(self, tools: dict[int, WorldTool], over: object) -> Iterator[Body]:
        """The stored tools, but the one that the open grip comes down on."""
        for pocket, number in self.stored.items():
            if pocket != over:
                x, y = self.pockets.places[pocket]
                yield from self._stored_bodies(tools, pocket, number, x, y)

    def spots(self) -> Iterator[Spot]:
        top = self.pockets.couple_z + self.pockets.knob
        for pocket, (x, y) in self.pockets.places.items():
            yield Spot(pocket, x, y, self.pockets.stored_radius, top)

    def _stored_bodies(
        self, tools: dict[int, WorldTool], pocket: int, number: int, x: float, y: float
    ) -> Iterator[Body]:
        """A stored tool by its holder; one that is wider than that hangs below it."""
        tool = tools.get(number)
        low = tool.stick_out - tool.length if tool else -10.0
        couple, widest = self.pockets.couple_z, self.pockets.holder_radius
        if tool:
            widest = max([widest, *(radius for radius, _ in tool.holder)])
        name = f"T{number} in pocket {pocket}"
        yield CylinderBody(name, x, y, widest, couple + low, couple + self.pockets.knob, pocket)
        if tool and tool.radius > widest:
            yield CylinderBody(name, x, y, tool.radius, couple - tool.length, couple + low, pocket)


def contact(now: Now, mover: str, body: str) -> ChangerEvent:
    """A device of the changer meets the spindle, or the reverse."""
    data: dict[str, Any] = {"mover": mover, "body": body, "at": list(now.place), "deep": 0.0}
    return ChangerEvent("body-contact", now.t, True, data)
