"""The styles of changer, each with what it shares and what is its own."""

from abc import ABC, abstractmethod
from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field, model_validator

from orthotrope.errors import Fault, InputError
from orthotrope.setup.changer import Grip, Heights, Orientation, Rack, Reserved
from orthotrope.setup.control import Word
from orthotrope.setup.machine import AxisName
from orthotrope.setup.signals import InputRole, OutputRole
from orthotrope.units import in_unit, with_unit
from orthotrope.validation import Angle, Distance, Feed, Length, PocketNumber, PositiveLength, Record, Seconds, Speed


class Tuned(Record):
    """One try of tuning the coupling: at which feed and speed the nut did what; ``lift`` positive: drawn up, mm."""

    feed: Feed
    speed: Speed
    lift: Length


class Coupling(Record):
    """The thread. ``tuning``: the tries of its feed, in their order. ``dwell`` at the bottom in seconds; ``flats_height``: how
    far above its seat the pocket's flats catch the nut; ``lift_allowed``: the pocket's float, up and down; ``give``: how far below
    its seat a nut that is put down may be pushed, by springs or a rubber floor; ``bore_depth``: how far a shank may stand into
    the spindle's bore, mm. ``put_down``: whether the nut runs off while the spindle comes down and stays, or is seated first and
    runs off while the spindle rises by the thread's lead."""

    lead: PositiveLength
    speed: Speed
    feed: Feed
    engaged_length: PositiveLength
    speed_cap: Speed
    lift_allowed: Distance
    observed_lift: Length | None = None
    nut_diameter: PositiveLength
    hole_diameter: PositiveLength
    flats_height: PositiveLength
    give: Distance
    put_down: Literal["going down", "rising"]
    dwell: Annotated[float, Field(ge=0, json_schema_extra={"unit": "s"})]
    bore_depth: PositiveLength = 50.0
    tuning: Annotated[list[Tuned], Field(max_length=50)] = []

    @model_validator(mode="after")
    def _sizes(self) -> "Coupling":
        faults = []
        if self.observed_lift is not None and self.observed_lift >= self.engaged_length:
            faults.append(Fault("/observed_lift", f"`observed_lift` must be below the engaged length, "
                                f"{with_unit(self.engaged_length)}; got {in_unit(self.observed_lift)}."))  # fmt: skip
        if self.hole_diameter > self.nut_diameter:
            faults.append(Fault("/hole_diameter", f"`hole_diameter` must be at most the nut's diameter, "
                                f"{with_unit(self.nut_diameter)}; got {in_unit(self.hole_diameter)}."))  # fmt: skip
        if faults:
            raise InputError(faults)
        return self


class Mouth(Record):
    """A fork that opens another way than the rest."""

    pocket: PocketNumber
    mouth_deg: Angle


class Forks(Record):
    """Forks that are entered from the side, mm. ``mouth_deg``: the way out of a fork, in plan; ``mouths``: those that differ.
    ``lead_in``: from the pocket's axis to where a tool stands free in front of it; ``feed`` over it. The holder's groove: its
    diameter, its middle below the gauge line, its width; the fork: how thick its tines are, how wide each, and how far they
    reach past the axis."""

    mouth_deg: Angle
    lead_in: PositiveLength
    feed: Feed
    groove_diameter: PositiveLength
    groove_below: PositiveLength
    groove_width: PositiveLength
    thickness: PositiveLength
    tine_width: PositiveLength
    tine_reach: PositiveLength
    mouths: Annotated[list[Mouth], Field(max_length=400)] = []

    def mouth_of(self, pocket: int) -> float:
        """The way out of a pocket's fork, degrees."""
        return next((entry.mouth_deg for entry in self.mouths if entry.pocket == pocket), self.mouth_deg)


class ExchangePlace(Record):
    """Where the spindle stands for an exchange, machine coordinates, mm."""

    x: Length
    y: Length


class Disc(Record):
    """A disc of ``count`` pockets on a circle of ``radius``, mm. ``bearing_deg``: from its middle to the exchange place (with an
    arm: to the ready place). It turns by the ``shorter`` way or always forwards; ``turn_word`` with the pocket's number in P
    turns it, ``seconds_per_step`` each. ``sense``: which way the pockets are numbered, seen from above."""

    count: Annotated[int, Field(ge=2, le=400)]
    radius: PositiveLength
    bearing_deg: Angle
    sense: Literal["ccw", "cw"]
    way: Literal["shorter", "forwards"]
    turn_word: Word
    seconds_per_step: Seconds


class Arm(Record):
    """An arm with two hands: ``reach`` from its pivot to a hand, ``stroke`` down, mm. ``tools``: whether a tool goes back to
    the pocket it came from, or into the one that the other came from."""

    reach: PositiveLength
    stroke: PositiveLength
    tools: Literal["change pockets", "keep their pockets"]


class _WithPockets(Record, ABC):
    """A changer whose pockets have numbers."""

    heights: Heights
    reserved: Annotated[list[Reserved], Field(max_length=400)] = []

    @property
    @abstractmethod
    def pocket_count(self) -> int:
        """How many pockets there are."""

    @model_validator(mode="after")
    def _reserved_exist(self) -> "_WithPockets":
        faults, seen = [], set()
        for index, entry in enumerate(self.reserved):
            if entry.pocket > self.pocket_count:
                faults.append(Fault(f"/reserved/{index}/pocket", f"`pocket` must be at most {self.pocket_count}, the "
                                    f"number of pockets there are; got {entry.pocket}."))  # fmt: skip
            if entry.pocket in seen:
                faults.append(Fault(f"/reserved/{index}/pocket", f"`pocket` {entry.pocket} is reserved twice; keep one "
                                    f"of the entries."))  # fmt: skip
            seen.add(entry.pocket)
        faults += self._own_faults()
        if faults:
            raise InputError(faults)
        return self

    def _own_faults(self) -> Iterator[Fault]:
        yield from ()


class RackChanger(_WithPockets):
    """Pockets that stand still; the spindle goes to them."""

    rack: Rack

    @property
    def pocket_count(self) -> int:
        return self.rack.total


class ThreadOn(RackChanger):
    """A rack of collet nuts that the turning spindle threads on and off."""

    style: Literal["thread-on"]
    coupling: Coupling


class DropIn(RackChanger):
    """Pockets in a table or plate, into which the spindle sets its holders down from above. ``hole_diameter``: what a cutter
    must pass, mm."""

    style: Literal["drop-in"]
    grip: Grip
    hole_diameter: PositiveLength


class SideEntry(RackChanger):
    """Forks that hold a holder by its groove and are entered from the side."""

    style: Literal["side-entry"]
    grip: Grip
    forks: Forks
    orientation: Orientation

    def _own_faults(self) -> Iterator[Fault]:
        for index, entry in enumerate(self.forks.mouths):
            if entry.pocket > self.pocket_count:
                yield Fault(f"/forks/mouths/{index}/pocket", f"`pocket` must be at most {self.pocket_count}, the number of "
                            f"pockets there are; got {entry.pocket}.")  # fmt: skip
        if self.forks.thickness >= self.forks.groove_width:
            yield Fault("/forks/thickness", f"`thickness` must be below the groove's width, {with_unit(self.forks.groove_width)}; got "
                        f"{in_unit(self.forks.thickness)}.")  # fmt: skip
        if self.forks.groove_diameter >= self.grip.holder_diameter:
            yield Fault("/forks/groove_diameter", f"`groove_diameter` must be below the holder's, {with_unit(self.grip.holder_diameter)}; "
                        f"got {in_unit(self.forks.groove_diameter)}.")  # fmt: skip


class DiscChanger(_WithPockets):
    """Pockets in a disc that turns; the spindle always goes to the one exchange place."""

    disc: Disc
    exchange: ExchangePlace
    grip: Grip
    orientation: Orientation

    @property
    def pocket_count(self) -> int:
        return self.disc.count


class MovingDisc(DiscChanger):
    """A disc that swings to the spindle and home again, by ``swing`` mm along its bearing."""

    style: Literal["moving disc"]
    swing: PositiveLength


class ArmDisc(DiscChanger):
    """A disc beside the machine, from whose ready place an arm with two hands brings the tool."""

    style: Literal["disc with arm"]
    arm: Arm


class ByHand(Record):
    """No magazine: the spindle goes to a place where a person changes the tool. ``order``: the axes in the order in which they
    go there; ``room``: free height below the nose there, mm."""

    style: Literal["by hand"]
    x: Length
    y: Length
    z: Length
    order: list[AxisName]
    room: Distance

    @property
    def pocket_count(self) -> int:
        """It has no pockets."""
        return 0

    @property
    def reserved(self) -> list[Reserved]:
        """And none that could be reserved."""
        return []

    @model_validator(mode="after")
    def _each_axis_once(self) -> "ByHand":
        if sorted(self.order) != ["X", "Y", "Z"]:
            raise InputError.at("/order", f"`order` must hold X, Y and Z once each; got {', '.join(self.order) or 'none'}.")
        return self


PocketChanger = ThreadOn | DropIn | SideEntry | MovingDisc | ArmDisc
GripChanger = DropIn | SideEntry | MovingDisc | ArmDisc
Changer = Annotated[ThreadOn | DropIn | SideEntry | MovingDisc | ArmDisc | ByHand, Field(discriminator="style")]

SENSORS: dict[str, tuple[InputRole, ...]] = {
    "thread-on": ("spindle still", "tool present"),
    "drop-in": ("spindle still", "grip open", "grip closed", "air"),
    "side-entry": ("oriented", "grip open", "grip closed", "air"),
    "moving disc": ("oriented", "magazine in place", "magazine out", "magazine home", "grip open", "grip closed", "air"),
    "disc with arm": ("oriented", "magazine in place", "pot down", "pot up", "arm in", "arm home", "arm down", "arm up",
                      "grip open", "grip closed", "air"),
    "by hand": ("spindle still",),
}  # fmt: skip
"""The roles of the inputs that an exchange of each style can make use of."""

SWITCHES: dict[str, tuple[OutputRole, ...]] = {
    "thread-on": (), "by hand": (), "drop-in": ("grip", "blow air"), "side-entry": ("grip", "orient", "blow air"),
    "moving disc": ("grip", "orient", "blow air", "magazine"),
    "disc with arm": ("grip", "orient", "pot", "arm swing", "arm stroke", "arm turn"),
}  # fmt: skip
"""The roles of the outputs that an exchange of each style switches."""

STYLES: tuple[str, ...] = tuple(SENSORS)
