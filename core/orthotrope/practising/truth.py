"""The hidden errors of a practice machine: drawn from a seed, never shown by the machine itself until someone asks for them."""

import math
import random
from dataclasses import asdict, dataclass, replace
from typing import Any

from orthotrope.machine.shapes import BoxBody, Well
from orthotrope.machine.world import World, WorldAxis, WorldTool
from orthotrope.proof.worlds import nominal_world
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.changer import rack_of
from orthotrope.setup.keys import at, placed
from orthotrope.setup.machine import AXES
from orthotrope.setup.tools import Tool

REFERENCE_SIGMA = 0.001
"""mm; a reference tool's length is known to twice this."""

TOOL_SIGMA = 0.1
"""mm; what a length on record is off before it is measured."""

FAST = 20_000.0
"""mm/min; machines with a rapid from here on are machining centres, below it routers (hardware.md, ranges)."""


@dataclass(frozen=True, slots=True)
class Truth:
    """What is wrong with the machine. Lengths in mm, angles in degrees; by axis or pocket where it is a mapping.

    ``rack_dx``, ``rack_dy``, ``rack_turn_deg``, ``pitch_error``: how the rack stands off its nominal place (at pocket
    1); ``pocket_scatter`` each pocket's own; ``setter_error``: how much higher the setter is; ``stylus_dx``,
    ``stylus_dy``: the stylus off the spindle's axis; ``stylus_less``: how much smaller it is in effect;
    ``touch_sigma``: scatter of a touch; ``short_axis`` and ``short_by``: the axis that lacks travel at its far end;
    ``home_sigma``; ``backlash``; ``reversed_input``: number of the input that is wired the other way round, 0: none; ``tool_errors``: how much longer
    each tool is than its record; ``lobing``: by how much later the probe switches towards three sides, the first at ``lobe_deg``; ``artefact_off``, ``face_off``: by how many of their standard uncertainties what a probe is
    qualified on is other than it says.
    """

    seed: int
    rack_dx: float
    rack_dy: float
    rack_turn_deg: float
    pitch_error: float
    pocket_scatter: dict[int, tuple[float, float]]
    setter_error: float
    stylus_dx: float
    stylus_dy: float
    stylus_less: float
    touch_sigma: float
    short_axis: str
    short_by: float
    home_sigma: dict[str, float]
    backlash: dict[str, float]
    reversed_input: int
    tool_errors: dict[int, float]
    lobing: float
    lobe_deg: float
    artefact_off: float
    face_off: float

    def as_json(self) -> dict[str, Any]:
        return asdict(self)


def reference_of(setup: Setup) -> Tool | None:
    """The tool whose length is known: the reference tool, or where there is none of that type the first tool."""
    return next((tool for tool in setup.tools if tool.type == "reference tool"), next(iter(setup.tools), None))


def draw(setup: Setup, seed: int) -> Truth:
    """The errors of a seed, in the ranges of hardware.md: the same Setup and seed, the same errors."""
    chance = random.Random(seed)
    fast = max(axis.rapid for _, axis in setup.machine.axes.items()) >= FAST
    away, about = chance.uniform(0.5, 1.5), chance.uniform(0, 2 * math.pi)
    off, toward = chance.uniform(0.01, 0.04), chance.uniform(0, 2 * math.pi)

    def either(low: float, high: float) -> float:
        return chance.choice((-1, 1)) * chance.uniform(low, high)

    count = setup.changer.pocket_count if setup.changer else 0
    touching = [entry.number for entry in setup.inputs if entry.touches]
    return Truth(
        seed=seed,
        rack_dx=away * math.cos(about),
        rack_dy=away * math.sin(about),
        rack_turn_deg=either(0.05, 0.4),
        pitch_error=either(0.02, 0.15),
        pocket_scatter={n: (chance.gauss(0, 0.02), chance.gauss(0, 0.02)) for n in range(1, count + 1)},
        setter_error=either(0.2, 0.8),
        stylus_dx=off * math.cos(toward),
        stylus_dy=off * math.sin(toward),
        stylus_less=chance.uniform(0.01, 0.05),
        touch_sigma=chance.uniform(0.001, 0.002),
        short_axis=chance.choice(("X", "Y")),
        short_by=chance.uniform(3.0, 8.0),
        home_sigma={axis: chance.uniform(0.0005, 0.0025) if fast else chance.uniform(0.005, 0.03) for axis in AXES},
        backlash={axis: chance.uniform(0.002, 0.01) if fast else chance.uniform(0.02, 0.15) for axis in AXES},
        reversed_input=chance.choice(touching) if touching else 0,
        tool_errors={
            tool.number: chance.gauss(0, REFERENCE_SIGMA if tool is reference_of(setup) else TOOL_SIGMA)
            for tool in setup.tools
        },
        lobing=chance.uniform(0.001, 0.004),
        lobe_deg=chance.uniform(0.0, 120.0),
        artefact_off=chance.gauss(0.0, 1.0),
        face_off=chance.gauss(0.0, 1.0),
    )


def true_setup(setup: Setup, truth: Truth) -> Setup:
    """The Setup as it would have to be: rack, setter and wiring as they really are."""
    document = setup.as_json()
    errors = {
        "along X": truth.rack_dx,
        "along Y": truth.rack_dy,
        "turns": truth.rack_turn_deg,
        "stretches": truth.pitch_error,
    }
    for number in setup.changer.placed_by if setup.changer else ():
        where = f"/changer{number.field}"
        document = placed(document, where, at(document, where) + errors[number.moves])
    for entry in document["setters"]:
        entry["plane_z"] += truth.setter_error
    for entry in document["inputs"]:
        if entry["number"] == truth.reversed_input:
            entry["wiring"] = "normally closed" if entry["wiring"] == "normally open" else "normally open"
    return read_setup(document)


OVER = 2.0
"""mm; how far a hard stop is beyond the switch, or beyond the data sheet's travel where the axis isn't short."""


def true_world(setup: Setup, truth: Truth) -> World:
    """The world that the practice machine stands in. Its soft limits are the control's: those of the Setup as it is
    keyed in."""
    real = true_setup(setup, truth)
    world = nominal_world(real)
    rack = world.magazine
    bodies = world.bodies
    if rack and rack_of(real.changer):
        moved = {
            number: (x + truth.pocket_scatter[number][0], y + truth.pocket_scatter[number][1])
            for number, (x, y) in rack.places.items()
        }
        old = {place: moved[number] for number, place in rack.places.items()}
        rack = replace(rack, places=moved)
        bodies = tuple(_with_wells(body, old) if isinstance(body, BoxBody) else body for body in bodies)
    tools = {number: longer(tool, truth.tool_errors.get(number, 0.0)) for number, tool in world.tools.items()}
    axes = true_axes(setup, truth)
    # As where a routine's part is expected: with nothing there that a touch could meet, none is made.
    return replace(world, axes=axes, bodies=bodies, magazine=rack, tools=tools, routine=True)


def longer(tool: WorldTool, by: float) -> WorldTool:
    """A tool that stands out further than its record says."""
    return replace(tool, length=tool.length + by, stick_out=tool.stick_out + by)


def _with_wells(body: BoxBody, moved: dict[tuple[float, float], tuple[float, float]]) -> BoxBody:
    wells = tuple(Well(*moved.get((well.x, well.y), (well.x, well.y)), well.radius) for well in body.wells)
    return replace(body, wells=wells)


def true_axes(setup: Setup, truth: Truth) -> tuple[WorldAxis, ...]:
    """The axes with the control's soft limits and the hard stops there really are."""
    found = []
    for name, axis in setup.machine.axes.items():
        ends = [axis.least - OVER, axis.greatest + OVER]
        if name == truth.short_axis:
            far = 1 if axis.home == "least" else 0
            ends[far] = axis.greatest - truth.short_by if far else axis.least + truth.short_by
        found.append(
            WorldAxis(
                name,
                axis.soft_least,
                axis.soft_greatest,
                axis.rapid,
                axis.acceleration,
                axis.home_at,
                ends[0],
                ends[1],
                truth.backlash[name],
            )
        )
    return tuple(found)


def pocket_seen(world: World, at: tuple[float, float, float]) -> tuple[int, float, float] | None:
    """What one sees at the nose: the nearest pocket, and how far its axis is off in X and Y; None where none is
    near."""
    if not world.magazine or not world.magazine.places:
        return None
    number, (x, y) = min(world.magazine.places.items(), key=lambda item: math.dist(item[1], at[:2]))
    return (number, x - at[0], y - at[1]) if math.dist((x, y), at[:2]) <= SIGHT else None


SIGHT = 30.0
"""mm; how far one sees at the nose."""


def truth_rows(setup: Setup, truth: Truth) -> list[dict[str, Any]]:
    """The truth in rows, to stand beside what was measured: a name, where it stands in the Setup (JSON pointer, ""
    where it has no place there), the nominal value and the true one."""
    real = true_setup(setup, truth)
    rows: list[dict[str, Any]] = []

    def row(name: str, where: str, nominal: float, true: float, unit: str) -> None:
        rows.append({"name": name, "where": where, "nominal": nominal, "true": true, "unit": unit})

    for (name, axis), ends in zip(setup.machine.axes.items(), true_axes(setup, truth), strict=True):
        base = f"/machine/axes/{name}"
        row(f"{name} hard stop, from", f"{base}/measured/least", axis.least, ends.stop_least, "mm")
        row(f"{name} hard stop, to", f"{base}/measured/greatest", axis.greatest, ends.stop_greatest, "mm")
        row(
            f"{name} scatter of home (2 standard deviations)",
            f"{base}/home_scatter",
            0.0,
            2 * truth.home_sigma[name],
            "mm",
        )
        row(f"{name} backlash", f"{base}/backlash", 0.0, truth.backlash[name], "mm")
    nominal, true = setup.as_json(), real.as_json()
    for number in setup.changer.placed_by if setup.changer else ():
        where = f"/changer{number.field}"
        row(number.name, where, at(nominal, where), at(true, where), "°" if number.moves == "turns" else "mm")
    for index, one in enumerate((nominal["changer"] or {}).get("reserved", ())):
        where = f"/changer/reserved/{index}/top_z"
        row(f"Top of the {one['what']}", where, one["top_z"], at(true, where), "mm")
    for index, (setter, true_one) in enumerate(zip(setup.setters, real.setters, strict=True)):
        play = truth.backlash["Z"] if setup.machine.axes.upright.home == "greatest" else 0.0
        label = f"Plane of the {setter.name}, as Z counts it coming down"
        row(label, f"/setters/{index}/plane_z", setter.plane_z, true_one.plane_z - play, "mm")
    for index, tool in enumerate(setup.tools):
        true_length = tool.whole_length + truth.tool_errors.get(tool.number, 0.0)
        row(f"Length of T{tool.number}", f"/tools/{index}/length", tool.whole_length, true_length, "mm")
    return rows
