"""A disc that swings to the spindle, while a program runs."""

from collections.abc import Iterator
from dataclasses import dataclass

from orthotrope.machine.changing import ChangerEvent, GripWords, Now, Spot, Sweep, way_through
from orthotrope.machine.discs import PLATE, DiscPockets, OnDisc
from orthotrope.machine.gripping import Gripping, contact
from orthotrope.machine.motion import Vector
from orthotrope.machine.shapes import Body, CylinderBody, StackPart
from orthotrope.machine.world import WorldTool
from orthotrope.setup.roles import ON_TOOL, OPEN


@dataclass(frozen=True, slots=True, kw_only=True)
class MovingDiscPockets(DiscPockets):
    """Pockets that clasp a holder where they are swung to."""

    def changing(self, tool: int, stored: dict[int, int]) -> "DiscGripping":
        return DiscGripping(self, tool, stored)


@dataclass(slots=True)
class DiscGripping(OnDisc):
    """A moving disc. Swung out, its pocket clasps the holder that stands at the exchange place."""

    def support(self, place: Vector) -> int | None:
        out = self.devices["disc"].state == "out" and "disc" not in self.pending
        return self.place(place[0], place[1]) if out else None

    def harm_of(self, device: str, state: str, now: Now) -> ChangerEvent | None:
        if device == "grip":
            return Gripping.harm_of(self, device, state, now)
        place, low = now.place, self.below_knob(now.place[2])
        in_way = self.near(place) and low
        if device == "turn":
            # A disc that turns on its way sweeps more than either move alone does.
            if "disc" in self.pending:
                return contact(now, "the disc, which turns while it swings", "the spindle")
            # Swung out, the front pocket clasps what the nose stands in or carries.
            if self.devices["disc"].state == "out" and self.near(place) and (low or self.tool):
                return self.pulls(now, self.front, "while the disc turns")
            return None
        if device != "disc" or self.devices["disc"].state == state:
            return None
        if "turn" in self.pending:
            return contact(now, "the disc, which swings while it turns", "the spindle")
        if state == "home":
            # The nose is over the knob: to swing away with the tool pulls at it sideways.
            seated = self.at_couple(place[2]) and self.near(place)
            if seated and ("grip" in self.pending or (not self.tool and self.front in self.stored)):
                return self.pulls(now, self.front, "while the disc swings home")
            return None
        if not self.near(place):
            return None
        if self.tool and self.front in self.stored and (self.at_couple(place[2]) or low):
            data = {"pocket": self.front, "tool": self.tool, "stored": self.stored[self.front]}
            return ChangerEvent("pocket-occupied", now.t, True, data)
        # At couple height the fork of the pocket slides over the holder: that is how a tool is put away.
        if self.tool and self.place(place[0], place[1]) is not None and self.at_couple(place[2]):
            return self._meets(self.front, now)
        if self.tool or (in_way and self.front in self.stored):
            return contact(now, "the disc", f"T{self.tool} in the spindle" if self.tool else "the spindle nose")
        return None

    def moving(self, start: Vector, end: Vector, now: Now) -> ChangerEvent | None:
        # A device that was commanded to move may be anywhere on its way: it counts as in the way until it is done.
        moves = "disc" in self.pending or ("turn" in self.pending and self.devices["disc"].state == "out")
        low = self.below_knob(end[2]) or self.below_knob(start[2])
        if moves and self.near(start) and (low or self.tool):
            return contact(now, "the spindle", "the disc, which still moves")
        return Gripping.moving(self, start, end, now)

    def _shape(self) -> object:
        return self.devices["disc"].state, self.front

    def bodies(self, tools: dict[int, WorldTool], over: object) -> Iterator[Body]:
        """At home one cylinder round all of it; swung out the plate and each stored tool."""
        disc, pockets = self.disc, self.pockets
        top = pockets.couple_z + pockets.knob
        if self.devices["disc"].state == "home":
            whole = self._whole(tools)
            yield CylinderBody("the disc", *disc.home, whole.radius, pockets.couple_z + whole.low, top)
            return
        plate = pockets.plate
        low, high = pockets.couple_z + plate.low, pockets.couple_z + plate.high
        yield CylinderBody(
            "the disc", *disc.out, plate.radius, low, high, part_of="changer"
        )  # the nose comes down on it
        for pocket, number in self.stored.items():
            if pocket != over:
                yield from self._stored_bodies(tools, pocket, number, *disc.place(pocket, self.front, disc.out))

    def _whole(self, tools: dict[int, WorldTool]) -> StackPart:
        """One cylinder round the disc with all that is stored in it."""
        held = {
            *self.pockets.stored.values(),
            *self.stored.values(),
        }  # with all that it can hold, whatever it holds now
        lowest = max((tools[number].length for number in held if number in tools), default=PLATE)
        return StackPart("the disc", self.pockets.rim, -lowest, self.pockets.knob)

    def sweeps(self, device: str, state: str, tools: dict[int, WorldTool]) -> Iterator[Sweep]:
        disc, z = self.disc, self.pockets.couple_z
        home, out = (*disc.home, z), (*disc.out, z)
        if device == "disc":
            yield Sweep(self._whole(tools), way_through(*((home, out) if state == "out" else (out, home))))
        elif device == "turn":
            stands = out if self.devices["disc"].state == "out" else home
            yield Sweep(self._whole(tools), way_through(stands, stands))

    def spots(self) -> Iterator[Spot]:
        disc, pockets = self.disc, self.pockets
        top, radius = pockets.couple_z + pockets.knob, pockets.stored_radius
        if self.devices["disc"].state == "home":
            yield Spot(None, *disc.home, pockets.rim, top)
            return
        for pocket in pockets.places:
            yield Spot(pocket, *disc.place(pocket, self.front, disc.out), radius, top)

    def ways_out(self, place: Vector, low: bool, words: GripWords) -> Iterator[str]:
        if self.devices["disc"].state != "out":
            yield from OnDisc.ways_out(self, place, low, words)
            return
        yield from self.grip_on_its_way(words)
        if self.devices["grip"].state == OPEN and low:
            yield (
                "The grip is open: hold the tool until you have seen that its pocket has it, then jog Z up above the "
                "knob."
            )
        elif self.devices["grip"].state == ON_TOOL and low:
            yield "The pocket clasps the tool in the spindle: do not move Z. Swing the disc home first."
        yield "Swing the disc home before the machine is homed."
