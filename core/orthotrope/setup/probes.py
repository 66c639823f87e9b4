"""Probes: what touches a part, whichever way it tells of it. What comes in kinds registers itself."""

from abc import ABC, abstractmethod
from typing import Annotated, ClassVar, Literal, NamedTuple

from pydantic import Field

from orthotrope.registry import Registry
from orthotrope.setup.named import OneOf
from orthotrope.setup.tools import Tool, ToolNumber, ToolType
from orthotrope.setup.touch_device import TouchDevice
from orthotrope.validation import Angle, Distance, Feed, Length, PositiveLength, Record


class StandOff(NamedTuple):
    """How far what is touched stands off the part, along X, Y and Z, mm; zeros: the part itself is touched."""

    x: float = 0.0
    y: float = 0.0
    z: float = 0.0


class Stem(NamedTuple):
    """The shape of a tip: how high it is, and the radius of what is above it, mm."""

    height: float
    radius: float


class Artefact(Record):
    """What a probe is qualified on: a ring, a plug or a ball of known ``diameter``. ``x``, ``y``: machine coordinates of its middle,
    ``z``: machine Z of its upper face (of a ball its highest point), as a tip stands on it; ``depth``: how far below that a
    ring or plug is touched; ``touches`` round the clock; mm. ``face_x``, ``face_y``, ``face_z``: a reference face of known
    height, which the length comes of; None: there is none. ``diameter_uncertainty``, ``face_uncertainty``: half widths of both
    at 95 %, as their certificates have them, mm."""

    kind: Literal["ring", "plug", "ball"]
    diameter: PositiveLength
    x: Length
    y: Length
    z: Length
    depth: PositiveLength = 6.0
    touches: Annotated[int, Field(ge=4, le=36)] = 12
    face_x: Length | None = None
    face_y: Length | None = None
    face_z: Length | None = None
    diameter_uncertainty: Distance = 0.0
    face_uncertainty: Distance = 0.0


class Probe(TouchDevice, ABC):
    """A probe. ``tool``: the number of the tool that it is in the spindle; its length is that tool's. ``effective_diameter`` of the tip as it
    was qualified (None: not yet, the tool's diameter is taken), ``effective_x`` and ``effective_y``: along an axis where it differs there;
    ``qualified_feed``: the feed it was qualified at, None: not known. ``off_x``, ``off_y``: where the tip is off the spindle's axis, at the
    spindle's angle ``angle_deg`` (None: it is not set); ``overtravel_across``, ``overtravel_up``: how far the tip may be pushed sideways and
    from below; ``guarded_feed``: of moves between touches, mm/min. ``effective_uncertainty``, ``length_uncertainty``: the half widths of the
    effective diameter and of the length at 95 %, ``lobing``: by how much its radius differs round the clock; mm. ``artefact``: what it is
    qualified on, None: nothing yet. ``due_days``: after how many days it is to be qualified again, None: only after a knock."""

    usual_name: ClassVar[str] = "touch probe"
    usual_roles: ClassVar[tuple[str, ...]] = ("probe", "touch plate", "setter")
    tool_type: ClassVar[ToolType | None] = None
    """The type that its tool must have; None: any tool can be it."""

    tool: ToolNumber
    back_off: PositiveLength = 1.5
    touches: Annotated[int, Field(ge=1, le=10)] = 1
    repeatability: Distance = 0.005
    effective_diameter: PositiveLength | None = None
    effective_x: PositiveLength | None = None
    effective_y: PositiveLength | None = None
    qualified_feed: Feed | None = None
    off_x: Length = 0.0
    off_y: Length = 0.0
    angle_deg: Angle | None = None
    guarded_feed: Feed = 800.0
    overtravel_across: PositiveLength = 8.0
    overtravel_up: PositiveLength = 4.0
    effective_uncertainty: Distance = 0.0
    length_uncertainty: Distance = 0.0
    lobing: Distance = 0.0
    artefact: Artefact | None = None
    due_days: Annotated[int, Field(ge=1, le=3650)] | None = 30

    @classmethod
    @abstractmethod
    def template(cls, name: str, tool: int, number: int) -> "Probe":
        """Where one starts, in a tool and at the input of this ``number``: numbers from the middle of the usual ranges, to be
        measured and corrected."""

    @property
    def taken_off(self) -> tuple[str, ...]:
        """What has to be taken off, and confirmed, before the spindle starts."""
        return ()

    @property
    def stand_off(self) -> StandOff:
        """How far what is touched stands off the part: a plate that is laid on it."""
        return StandOff()

    @property
    def tells_itself(self) -> bool:
        """Whether whatever the tip touches makes the input; else only what is laid on the part does."""
        return True

    def stem(self, tool: Tool) -> Stem:
        """The shape of the tip that is in the spindle with this tool."""
        return Stem(tool.stick_out, tool.diameter / 2)


PROBES: Registry[type[Probe]] = Registry("kind of probe", "orthotrope.kinds.*.model")

AnyProbe = Annotated[Probe, OneOf(PROBES, "kind")]
