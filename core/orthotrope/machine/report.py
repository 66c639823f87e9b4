"""A trace and a world as they are reported: to the command line, and to the interface that plays and draws them. Seconds,
machine millimetres, spindle rev/min; a tool is null while it is neither held nor free."""

from dataclasses import dataclass
from typing import Any, Literal

from pydantic import TypeAdapter

from orthotrope.machine.changing import Changing, Magazine, StyleShapes
from orthotrope.machine.motion import Arc, MotionLaw, Vector
from orthotrope.machine.shapes import Body, StackPart
from orthotrope.machine.trace import SegmentKind, Trace
from orthotrope.machine.world import World, WorldTool


@dataclass(frozen=True, slots=True)
class SegmentReport:
    """A move or a dwell; ``feed`` as commanded, mm/min (0: rapid or dwell); a straight one has no arc, a dwell no
    law."""

    line: int
    kind: SegmentKind
    start_seconds: float
    end_seconds: float
    start: Vector
    end: Vector
    feed: float
    law: MotionLaw | None
    arc: Arc | None


@dataclass(frozen=True, slots=True)
class StoredTool:
    """The tool in a pocket, 0 none."""

    pocket: int
    tool: int


@dataclass(frozen=True, slots=True)
class StoredReport:
    """What is in the pockets from a moment on."""

    at_seconds: float
    pockets: list[StoredTool]


@dataclass(frozen=True, slots=True)
class SeenReport:
    """The inputs that the control sees as made from a moment on."""

    at_seconds: float
    made: list[str]


@dataclass(frozen=True, slots=True)
class DeviceReport:
    """A device of the changer that goes from one state to another; a disc that turns, from one pocket to another."""

    device: str
    was: str
    state: str
    start_seconds: float
    end_seconds: float


@dataclass(frozen=True, slots=True)
class BlockReport:
    """A block that was run, with the state at its end. ``set``: the parameters it set."""

    line: int
    start_seconds: float
    end_seconds: float
    position: Vector
    record: float
    doubtful: bool
    tool: int | None
    set: dict[str, float]


@dataclass(frozen=True, slots=True)
class SpindleReport:
    """A change of the spindle's speed, forwards positive."""

    start_seconds: float
    end_seconds: float
    start_speed: float
    end_speed: float


@dataclass(frozen=True, slots=True)
class HoldingReport:
    """What the spindle holds from a moment on."""

    at_seconds: float
    tool: int | None


@dataclass(frozen=True, slots=True)
class TraceReport:
    """All that is needed to play a run."""

    seconds: float
    ended: Literal["end", "stopped"]
    segments: list[SegmentReport]
    stored: list[StoredReport]
    inputs: list[SeenReport]
    devices: list[DeviceReport]
    blocks: list[BlockReport]
    spindle: list[SpindleReport]
    holding: list[HoldingReport]

    @classmethod
    def of(cls, trace: Trace) -> "TraceReport":
        """A trace as it is reported."""
        return cls(
            seconds=trace.seconds,
            ended=trace.ended,
            segments=[
                SegmentReport(s.line, s.kind, s.t0, s.t1, s.start, s.end, s.feed, s.law, s.arc) for s in trace.segments
            ],
            stored=[
                StoredReport(t, [StoredTool(pocket, tool) for pocket, tool in stored.items()])
                for t, stored in trace.stored
            ],
            inputs=[SeenReport(t, [name for name, made in seen.items() if made]) for t, seen in trace.inputs],
            devices=[
                DeviceReport(e.data["device"], e.data["was"], e.data["state"], e.t, e.data["done"])
                for e in trace.of_kind("device")
            ],
            blocks=_blocks(trace),
            spindle=[SpindleReport(r.t0, r.t1, r.rate0 * 60, r.rate1 * 60) for r in trace.ramps],
            holding=[HoldingReport(t, tool) for t, tool in trace.holding],
        )


def _blocks(trace: Trace) -> list[BlockReport]:
    blocks = [BlockReport(b.line, b.t0, b.t1, b.position, b.record, b.doubtful, b.holds, {}) for b in trace.blocks]
    index = 0
    for event in trace.of_kind("set"):  # in the order of the blocks that set them
        while index < len(blocks) - 1 and (blocks[index].line != event.line or blocks[index].end_seconds < event.t):
            index += 1
        blocks[index].set[f"#{event.data['parameter']}"] = event.data["value"]
    return blocks


_REPORT = TypeAdapter(TraceReport)


def trace_as_json(trace: Trace) -> dict[str, Any]:
    """As checks.md has it for the command line: with the events, and what holds at the beginning of each segment."""
    reported: dict[str, Any] = _REPORT.dump_python(TraceReport.of(trace), mode="json")
    for segment, fields in zip(trace.segments, reported["segments"], strict=True):
        t = segment.t0
        fields |= {"spindle": trace.turning(t), "inputs": trace.seen(t), "tool": trace.held(t)}
    reported["events"] = [
        {"kind": e.kind, "at_seconds": e.t, "line": e.line, "position": list(e.position), **_plain(e.data)}
        for e in trace.events
    ]
    return reported


def _plain(data: dict[str, Any]) -> dict[str, Any]:
    return {name: list(value) if isinstance(value, tuple) else value for name, value in data.items()}


@dataclass(frozen=True, slots=True)
class PocketScene:
    """A pocket, and the tool that is in it (0: none)."""

    pocket: int
    x: float
    y: float
    tool: int
    reserved: bool


@dataclass(frozen=True, slots=True)
class MagazineScene:
    """Its pockets (a disc's at home, pocket 1 in front). ``radius`` of a nut or holder, ``above``: how far a stored
    tool is above the height at which it is taken; ``shapes`` that its style has beside them."""

    style: str
    holds: str
    pockets: list[PocketScene]
    radius: float
    above: float
    couple_z: float
    shapes: StyleShapes

    @classmethod
    def of(cls, magazine: Magazine) -> "MagazineScene":
        """A magazine at rest."""
        pockets = [
            PocketScene(number, x, y, magazine.stored.get(number, 0), number in magazine.reserved)
            for number, (x, y) in magazine.drawn_places().items()
        ]
        return cls(
            magazine.style,
            magazine.holds,
            pockets,
            magazine.needed_radius,
            magazine.above,
            magazine.couple_z,
            magazine.shapes(),
        )


@dataclass(frozen=True, slots=True)
class ToolScene:
    """A tool with what holds it: the cylinders below the gauge line that are run, the tool's own last. mm."""

    number: int
    name: str
    length: float
    stick_out: float
    radius: float
    parts: tuple[StackPart, ...]

    @classmethod
    def of(cls, tool: WorldTool, changer: Changing | None) -> "ToolScene":
        """A tool as it hangs in the spindle, and where it is stored."""
        parts = tuple(changer.stack(tool)) if changer else (tool.alone,)
        if tool.stylus:
            parts = (*(tool.stem_of(part) if part.name == tool.own_name else part for part in parts), tool.tip)
        return cls(tool.number, tool.name, tool.length, tool.stick_out, tool.radius, parts)


@dataclass(frozen=True, slots=True)
class Scene:
    """A world as shapes: what is drawn is what is run. ``magazine`` None: nothing is stored anywhere."""

    bodies: tuple[Body, ...]
    spindle: tuple[StackPart, ...]
    tools: list[ToolScene]
    magazine: MagazineScene | None

    @classmethod
    def of(cls, world: World) -> "Scene":
        """A world at rest."""
        magazine = world.magazine
        changer = magazine.begin(0) if magazine else None
        return cls(
            world.bodies,
            world.spindle.parts,
            [ToolScene.of(tool, changer) for tool in world.tools.values()],
            MagazineScene.of(magazine) if magazine and magazine.places else None,
        )
