"""What changes tools in a world: where things are at rest (:class:`Magazine`), and their state while a program runs
(:class:`Changing`). Each style brings its own of both; what none of them has is here."""

import math
from abc import ABC, abstractmethod
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any, NamedTuple, Self

from orthotrope.machine.events import EventKind
from orthotrope.machine.motion import MotionLaw, Ramp, Vector
from orthotrope.machine.shapes import Body, StackPart
from orthotrope.machine.twins import twin
from orthotrope.setup.roles import InputRole

if TYPE_CHECKING:
    from orthotrope.machine.world import WorldTool


@dataclass(frozen=True, slots=True)
class ChangerEvent:
    """Something a changer did at time ``t``; ``harm``: the machine stops here; ``depends_on``: what of the world that was, by the words of
    :attr:`Journal.dependencies`."""

    kind: EventKind
    t: float
    harm: bool
    data: dict[str, Any]
    depends_on: str = ""


class Stored(dict[int, int]):
    """Tool by pocket. A pocket that is read by itself is noted as a dependency; what goes
    through all of them (to draw, to compare) is not."""

    __slots__ = ("dependencies",)

    def __init__(self, stored: Mapping[int, int], dependencies: set[str]):
        super().__init__(stored)
        self.dependencies = dependencies

    def __contains__(self, pocket: object) -> bool:
        self.dependencies.add(f"pocket {pocket}")
        return super().__contains__(pocket)

    def __getitem__(self, pocket: int) -> int:
        self.dependencies.add(f"pocket {pocket}")
        return super().__getitem__(pocket)

    def __setitem__(self, pocket: int, tool: int) -> None:
        self.dependencies.add(f"pocket {pocket}")
        super().__setitem__(pocket, tool)

    def get(self, pocket: int, otherwise: Any = None) -> Any:
        self.dependencies.add(f"pocket {pocket}")
        return super().get(pocket, otherwise)

    def pop(self, pocket: int, *otherwise: Any) -> Any:
        self.dependencies.add(f"pocket {pocket}")
        return super().pop(pocket, *otherwise)


SEATED = 0.05
"""mm; how far below the height at which it is taken the nose may push a tool that a pocket has, where that gives no further."""


ANGLE = "angle"
"""The device that turns the spindle to the angle at which a tool is handed over."""


class Spot(NamedTuple):
    """Where what is stored in a ``pocket`` can be met, whatever it is: a circle in plan, below ``top``; pocket None:
    all that is stored. mm."""

    pocket: int | None
    x: float
    y: float
    radius: float
    top: float


class Way(NamedTuple):
    """Places that something goes to, one after the other; ``least`` and ``greatest`` of their numbers. mm."""

    places: tuple[Vector, ...]
    least: Vector
    greatest: Vector


def way_through(*places: Vector) -> Way:
    """A way with its bounds."""
    xs, ys, zs = zip(*places, strict=True)
    return Way(places, (min(xs), min(ys), min(zs)), (max(xs), max(ys), max(zs)))


class Sweep(NamedTuple):
    """Where a device takes something: a cylinder that goes from place to place, its heights from those of the places.
    mm."""

    part: StackPart
    way: Way


@dataclass(frozen=True, slots=True)
class ArmShape:
    """An arm with two hands: its pivot in plan, from there to a hand, its ``stroke`` down; what a ``hand`` takes up, and
    what the arm between the hands does, heights from where a tool is taken. At home it is a quarter turn ccw. mm."""

    pivot: tuple[float, float]
    reach: float
    stroke: float
    hand: StackPart
    bar: StackPart


@dataclass(frozen=True, slots=True)
class DiscShape:
    """A disc in plan: the circle of its pockets, the way from its middle to the pocket in front, its middle swung out
    and at home, the sense of its numbers (1 ccw), the place of the exchange; ``rim``: how far it reaches with all that
    is in it; its ``plate``, heights from where a tool is taken; its arm, if it has one. mm."""

    count: int
    radius: float
    way: tuple[float, float]
    out: tuple[float, float]
    home: tuple[float, float]
    sense: int
    exchange: tuple[float, float]
    rim: float
    plate: StackPart
    arm: ArmShape | None = None


@dataclass(frozen=True, slots=True)
class StyleShapes:
    """What a style has to be drawn beside its pockets; None where it has no such thing."""

    disc: DiscShape | None = None


class Now(NamedTuple):
    """When and where the spindle is, how fast it turns (rev/min), and whether it is at an angle that fits."""

    t: float
    place: Vector
    turning: float
    oriented: bool


class MoveInterval(NamedTuple):
    """A move (``law`` None: a dwell) from ``t0`` to ``t1`` seconds: the true place where it begins, how far it goes up
    (mm), whether it goes sideways as well, and the spindle's ramps."""

    law: MotionLaw | None
    t0: float
    t1: float
    place: Vector
    rise: float
    sideways: bool
    ramps: list[Ramp]


class GripWords(NamedTuple):
    """The control's words for the grip, to be shown to a person."""

    opens: str
    closes: str


class Changing(ABC):
    """The state of what changes tools. ``tool``: the one in the spindle, tight or not, 0 for none; ``stored``: tool by
    pocket.

    What happens is yielded in its order; the machine stops at the first harm.
    """

    tool: int
    stored: dict[int, int]

    @property
    @abstractmethod
    def holds(self) -> int | None:
        """The tool that is firm in the spindle, 0 for none, None for neither held nor free."""

    def copied(self) -> Self:
        """One that changes by itself."""
        other = twin(self)
        other.stored = dict(self.stored)
        return other

    def place_in(self, magazine: "Magazine") -> None:
        """Have the same state in another world's magazine from now on."""
        return

    @abstractmethod
    def put(self, number: int) -> None:
        """Another tool by a person's hand: it is tight."""

    def place(self, x: float, y: float) -> int | None:
        """The pocket whose tool the nose is over closely enough to meet it."""
        return None

    # -- shapes -------------------------------------------------------------------------------------------------------

    def key(self, place: Vector, upright: bool) -> tuple[object, ...]:
        """What the stack and the bodies depend on; second what :meth:`bodies` leaves out."""
        return self.tool, None

    @abstractmethod
    def stack(self, tool: "WorldTool") -> Iterator[StackPart]:
        """What is below the gauge line with this tool in the spindle."""

    def bodies(self, tools: dict[int, "WorldTool"], over: object) -> Iterator[Body]:
        """What is stored, but what the nose comes down on."""
        yield from ()

    def spots(self) -> Iterator[Spot]:
        """Where what is stored can be met as things stand: no :meth:`bodies` that depend on it are elsewhere."""
        yield from ()

    def sweeps(self, device: str, state: str, tools: dict[int, "WorldTool"]) -> Iterator[Sweep]:
        """Where a device that goes to a state now takes what it moves; of the spindle the style itself knows."""
        yield from ()

    # -- devices ------------------------------------------------------------------------------------------------------

    @property
    def busy(self) -> bool:
        """Whether a device is on its way."""
        return False

    @property
    def states(self) -> Mapping[str, str]:
        """What each device has or goes to."""
        return {}

    def is_made(self, role: InputRole, t: float) -> bool | None:
        """Whether the contact of an input of this role is actuated at a time; None: nothing of the changer actuates it."""
        return None

    def switch(self, word: int, p: float | None, now: Now) -> Iterator[ChangerEvent]:
        """A device is switched by an M word (with its P)."""
        yield from ()

    def until(self, t: float, place: Vector) -> Iterator[ChangerEvent]:
        """What the devices have done until a time, in order."""
        yield from ()

    def changes_at(self, t: float, turning: bool) -> Iterator[float]:
        """Moments at which something changes by itself while the machine is at rest; ``t`` itself where that can't be
        said."""
        yield from ()

    # -- moves --------------------------------------------------------------------------------------------------------

    def moving(self, start: Vector, end: Vector, now: Now) -> ChangerEvent | None:
        """What a move of the spindle would do at once that must not be done."""
        return None

    def during(self, course: MoveInterval) -> Iterator[ChangerEvent]:
        """What happens within a move or a dwell."""
        yield from ()

    def moved(self, place: Vector) -> None:
        """The spindle is somewhere else."""
        return

    # -- after a stop -------------------------------------------------------------------------------------------------

    @property
    def carried(self) -> tuple[int, int]:
        """The tools in an arm's hands, at the spindle and at the pot; 0 for none."""
        return 0, 0

    def ways_out(self, place: Vector, low: bool, words: GripWords) -> Iterator[str]:
        """How a person gets the spindle out of the changer; ``low``: it is below hover height near a pocket."""
        yield from ()


@dataclass(frozen=True, slots=True)
class WorldOrientation:
    """The angle at which a tool is handed over, degrees."""

    angle: float
    tolerance: float
    half_turn: bool
    seconds: float

    def fits(self, angle: float) -> bool:
        """Whether a tool can be handed over at this angle."""
        # A holder with two equal drive slots fits half a turn further as well; one with a single notch does not.
        turn = 180.0 if self.half_turn else 360.0
        off = (angle - self.angle) % turn
        return min(off, turn - off) <= self.tolerance + 1e-9


@dataclass(frozen=True, slots=True, kw_only=True)
class Magazine(ABC):
    """What tools come from: places by number (where the spindle meets each), what is really stored where beside what is
    on record, the height at which a tool is taken.

    ``aligned``: how far off the axis the nose may come down and still meet its tool; ``footprint``: middle, half length
    and half width of the block and its turn (cos, sin), None where the spindle never goes over it; ``needed_radius``:
    that of what is carried over it; ``widest``: radius of the widest tool that it holds; ``holds``: what a tool hangs in its pocket by. ``margin`` and ``park_z`` are the
    heights' own. All mm. ``failing``: what does not act: a device ("arm stroke"), one on its way to a state ("grip open"), or what a kind says of itself; ``obeys``: how often it acts all the same, at first."""

    style: str
    holds: str = "holder"
    places: dict[int, tuple[float, float]] = field(default_factory=dict)
    stored: dict[int, int] = field(default_factory=dict)
    recorded: dict[int, int] = field(default_factory=dict)
    reserved: frozenset[int] = frozenset()
    couple_z: float = 0.0
    hover_z: float = 0.0
    aligned: float = 0.0
    footprint: tuple[float, float, float, float, float, float] | None = None
    needed_radius: float = 0.0
    widest: float = 0.0
    margin: float = 0.0
    park_z: float = -math.inf
    orientation: WorldOrientation | None = None
    failing: frozenset[str] = frozenset()
    obeys: int = 0

    def begin(self, tool: int) -> Changing:
        """The state at the beginning of a run, with ``tool`` tight in the spindle (0: none); its own pocket is empty
        then."""
        return self.changing(tool, self.stored_beside(tool))

    def stored_beside(self, tool: int) -> dict[int, int]:
        """What is stored while ``tool`` is in the spindle (0: none)."""
        return {pocket: number for pocket, number in self.stored.items() if not tool or number != tool}

    @abstractmethod
    def changing(self, tool: int, stored: dict[int, int]) -> Changing:
        """The state with this tool in the spindle and these in the pockets."""

    @property
    def keeps_table(self) -> bool:
        """Whether tools change their pockets, so that the control keeps the table of them."""
        return False

    @property
    def above(self) -> float:
        """How far what is stored is above the height where it is taken, mm."""
        return 0.0

    @property
    def devices(self) -> frozenset[str]:
        """The devices that may fail to act."""
        return frozenset()

    @property
    def commands(self) -> frozenset[tuple[str, str]]:
        """What the devices can be commanded: each with the state that it is to go to."""
        return frozenset()

    def slowed(self, device: str, times: float) -> "Magazine":
        """The same with a device that takes so many times as long."""
        return self

    def takes(self, device: str) -> float:
        """Seconds that a device takes to get where it is commanded to go."""
        return 0.0

    def device_of(self, word: int, p: float | None) -> tuple[str, str] | None:
        """The device that an M word (with its P) switches, and to which state."""
        return None

    def shapes(self) -> StyleShapes:
        """What a style has to be drawn beside its pockets."""
        return StyleShapes()

    def drawn_places(self) -> Mapping[int, tuple[float, float]]:
        """Where the pockets are while the machine is ready."""
        return self.places

    def enters(self, start: Vector, end: Vector) -> bool:
        """Whether a sideways move is the way into a pocket, or out of it."""
        return False

    def as_left(self, changing: Changing) -> "Magazine":
        """The magazine as a machine that was stopped finds it."""
        home = {pocket: tool for pocket, tool in self.stored.items() if tool and tool == changing.tool}
        return replace(self, stored={**home, **changing.stored})

    def by_hand(self, place: Vector, wanted: int) -> int | None:
        """The tool that a person puts in at a pause where the spindle is, when this one is requested; None: nobody
        does."""
        return None

    def another(self, tools: Mapping[int, "WorldTool"], from_tool: int, to_tool: int) -> int:
        """A tool that has no part in an exchange and may stand where another should; 0: there is none."""
        return next((tool for tool in self.stored.values() if tool not in (from_tool, to_tool)), 0)

    def dependencies_of(self, tool: int) -> frozenset[str]:
        """What a run depends on that would find something else where a tool is stored, by the words of
        :attr:`Journal.dependencies`."""
        return frozenset({"stored", *(f"pocket {pocket}" for pocket, there in self.stored.items() if there == tool)})

    def mixed_up(self, wanted: int, other: int) -> "Magazine":
        """The same with another tool where the wanted one should be."""
        return replace(self, stored={pocket: other if tool == wanted else tool for pocket, tool in self.stored.items()})
