"""A trace as plain JSON values, for the command line and for the interface that plays it."""

from typing import Any

from orthotrope.machine.changing import Magazine
from orthotrope.machine.shapes import Body, CylinderBody
from orthotrope.machine.trace import Segment, Trace
from orthotrope.machine.world import World


def trace_as_json(trace: Trace) -> dict[str, Any]:
    """Segments and events as checks.md has them (seconds, machine mm, spindle rev/min, tool number or null while it is
    neither held nor free); with each segment's law and arc, and the blocks with their record, for playing it."""
    return {
        "seconds": trace.seconds,
        "ended": trace.ended,
        "segments": [_segment(trace, segment) for segment in trace.segments],
        "events": [
            {"kind": e.kind, "at_seconds": e.t, "line": e.line, "position": list(e.position), **_plain(e.data)}
            for e in trace.events
        ],
        "stored": [
            {"at_seconds": t, "pockets": [{"pocket": pocket, "tool": tool} for pocket, tool in stored.items()]}
            for t, stored in trace.stored
        ],
        "inputs": [
            {"at_seconds": t, "made": [name for name, made in seen.items() if made]} for t, seen in trace.inputs
        ],
        "devices": [
            {
                "device": e.data["device"],
                "was": e.data["was"],
                "state": e.data["state"],
                "start_seconds": e.t,
                "end_seconds": e.data["done"],
            }
            for e in trace.of_kind("device")
        ],
        "blocks": [
            {
                "line": b.line,
                "start_seconds": b.t0,
                "end_seconds": b.t1,
                "position": list(b.position),
                "record": b.record,
                "doubtful": b.doubtful,
                "tool": b.holds,
            }
            for b in trace.blocks
        ],
        "spindle": [
            {"start_seconds": r.t0, "end_seconds": r.t1, "from": r.rate0 * 60, "to": r.rate1 * 60} for r in trace.ramps
        ],
        "holding": [{"at_seconds": t, "tool": tool} for t, tool in trace.holding],
    }


def _plain(data: dict[str, Any]) -> dict[str, Any]:
    return {name: list(value) if isinstance(value, tuple) else value for name, value in data.items()}


def _segment(trace: Trace, segment: Segment) -> dict[str, Any]:
    law, arc = segment.law, segment.arc
    return {
        "line": segment.line,
        "kind": segment.kind,
        "start_seconds": segment.t0,
        "end_seconds": segment.t1,
        "start": list(segment.start),
        "end": list(segment.end),
        "feed": segment.feed,
        "spindle": trace.turning(segment.t0),
        "inputs": trace.seen(segment.t0),
        "tool": trace.held(segment.t0),
        "law": None
        if law is None
        else {
            "way": law.way,
            "speed": law.speed,
            "acceleration": law.acceleration,
            "ramp": law.ramp,
            "seconds": law.seconds,
        },
        "arc": None
        if arc is None
        else {
            "axes": list(arc.axes),
            "centre": list(arc.centre),
            "radius": arc.radius,
            "start_angle": arc.start_angle,
            "sweep": arc.sweep,
            "rise": arc.rise,
        },
    }


def world_as_json(world: World) -> dict[str, Any]:
    """A world as shapes in millimetres, for drawing: what is drawn is what is run."""
    rack = world.magazine
    return {
        "bodies": [_body(body) for body in world.bodies],
        "spindle": [{"name": p.name, "radius": p.radius, "low": p.low, "high": p.high} for p in world.spindle.parts],
        "tools": [
            {"number": t.number, "name": t.name, "length": t.length, "stick_out": t.stick_out, "radius": t.radius}
            for t in world.tools.values()
        ],
        "magazine": _magazine(rack) if rack and rack.places else None,
    }


def _magazine(magazine: Magazine) -> dict[str, Any]:
    """Its pockets (a disc's at home, pocket 1 in front), and how far what is stored stands above the height where it is
    taken."""
    return {
        "style": magazine.style,
        "holds": magazine.holds,
        "pockets": [
            {
                "pocket": number,
                "x": x,
                "y": y,
                "tool": magazine.stored.get(number, 0),
                "reserved": number in magazine.reserved,
            }
            for number, (x, y) in magazine.drawn_places().items()
        ],
        "radius": magazine.needed_radius,
        "above": magazine.above,
        "couple_z": magazine.couple_z,
        "disc": None,
        "groove": None,
        **magazine.shapes(),
    }


def _body(body: Body) -> dict[str, Any]:
    shared = {
        "name": body.name,
        "part_of": body.part_of,
        "x": body.x,
        "y": body.y,
        "bottom": body.bottom,
        "top": body.top,
    }
    if isinstance(body, CylinderBody):
        return {
            **shared,
            "kind": "cylinder",
            "radius": body.radius,
            "half_x": 0.0,
            "half_y": 0.0,
            "cos": 1.0,
            "sin": 0.0,
            "wells": [],
        }
    return {
        **shared,
        "kind": "box",
        "radius": 0.0,
        "half_x": body.half_x,
        "half_y": body.half_y,
        "cos": body.cos,
        "sin": body.sin,
        "wells": [{"x": w.x, "y": w.y, "radius": w.radius} for w in body.wells],
    }
