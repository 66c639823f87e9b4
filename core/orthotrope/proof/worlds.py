"""A Setup as a world for the virtual machine: the nominal world takes it at its word. What is a style's own is in its
folder, registered in :data:`WORLDS`."""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Any, Literal

from orthotrope.calc.derived import DerivedChanger, Outline, derive
from orthotrope.calc.points import unit_vector
from orthotrope.calc.touch_devices import rise_of
from orthotrope.machine.changing import Magazine, WorldOrientation
from orthotrope.machine.inputs import Inputs, WorldInput
from orthotrope.machine.shapes import Body, BoxBody, CylinderBody, StackPart, Well
from orthotrope.machine.world import Waking, World, WorldAxis, WorldSpindle, WorldStylus, WorldTool
from orthotrope.registry import Registry
from orthotrope.sequence.probing.registry import Tip, tip_of
from orthotrope.setup import Setup
from orthotrope.setup.changer import PocketChanger, RackChanger
from orthotrope.setup.gripping import Grip, Orientation
from orthotrope.setup.machine import Axis
from orthotrope.setup.occupant import Occupant
from orthotrope.setup.probes import Probe
from orthotrope.setup.roles import OUTPUT_ROLES
from orthotrope.setup.routines import Routine
from orthotrope.setup.setters import Setter
from orthotrope.setup.surround import Body as SetupBody
from orthotrope.setup.surround import Box
from orthotrope.setup.tools import Tool

NUT_CLEARANCE = 1.0
"""mm; a pocket's recess is this much wider in radius than what stands in it."""

FLOOR = 5.0
"""mm; thickness of the face below the rack, as a body."""


@dataclass(frozen=True, slots=True)
class Placed:
    """A changer in the world: its magazine, and its bodies that are always there."""

    magazine: Magazine
    bodies: tuple[Body, ...] = ()


WORLDS: Registry[Callable[[Setup, Any, Any], Placed]] = Registry("style of changer", "orthotrope.kinds.*.world")
"""Style of changer → what places it in the world, from the Setup, the changer and what follows from it."""


PARTS: Registry[Callable[[Any], tuple[Body, ...]]] = Registry("kind of routine", "orthotrope.kinds.*.part")
"""Kind of routine → the part that it touches, as it is expected."""


def nominal_world(setup: Setup, laid: Setter | None = None, routine: Routine | None = None) -> World:
    """The world in which everything is as the Setup says. ``laid``: the touch plate that lies there now; the others are
    put away. ``routine``: the one whose part lies there, and whose probe can be in the spindle."""
    spindle = setup.machine.spindle
    derived = derive(setup)
    bodies: list[Body] = [*map(_body, setup.bodies), *_setter_bodies(setup, laid)]
    changer, magazine = setup.changer, None
    if changer and derived:
        placed = WORLDS[changer.style](setup, changer, derived)
        magazine, bodies = placed.magazine, [*bodies, *placed.bodies]
    nose_top = spindle.nose_length
    world = World(
        axes=tuple(_axis(name, axis) for name, axis in setup.machine.axes.items()),
        spindle=WorldSpindle(
            spindle.greatest_speed,
            spindle.seconds_to_speed,
            (
                StackPart("the spindle nose", spindle.nose_diameter / 2, 0.0, nose_top),
                StackPart("the spindle body", spindle.body_diameter / 2, nose_top, nose_top + spindle.body_length),
            ),
        ),
        tools={tool.number: world_tool(tool) for tool in setup.tools},
        work_offsets={offset.number: (offset.x, offset.y, offset.z) for offset in setup.work_offsets},
        bodies=tuple(bodies),
        magazine=magazine,
        latency=setup.machine.latency,
        inputs=_inputs(setup),
    )
    tip = tip_of(setup, routine) if routine else None
    return with_part(world, setup, routine, tip) if routine and tip else world


def with_part(world: World, setup: Setup, routine: Routine, tip: Tip) -> World:
    """The world with a routine's part in it, or the plate on that, and with its probe among the tools.

    The effective radius holds what a touch is late by at the measuring feed, since it was qualified so: the tip itself is
    larger by as much, and the tool as much longer (hardware.md, Touching)."""
    probe = tip.probe
    late, radius = rise_of(setup, probe), tip.widest
    own = world.tools[probe.tool]
    real = replace(own, radius=radius + late, length=own.length + late)
    bodies = PARTS[routine.kind](routine)
    if probe.tells_itself:
        stem = probe.stem(tip.tool)
        stylus = WorldStylus(
            input=probe.input,
            stem=min(stem.radius, real.radius),
            height=stem.height if stem.height != tip.tool.diameter else 2 * real.radius,
            off_x=probe.off_x,
            off_y=probe.off_y,
            give_across=probe.overtravel_across + late,
            give_up=probe.overtravel_up + late,
            travel_x=probe.trigger_travel + radius - tip.radius(1.0, 0.0),
            travel_y=probe.trigger_travel + radius - tip.radius(0.0, 1.0),
            travel_z=probe.trigger_travel,
            sleeps=setup.output_of("probe") is not None,
        )
        real = replace(real, stylus=stylus)
    else:
        bodies = tuple(_plated(body, probe, late) for body in bodies)
    return replace(
        world,
        tools={**world.tools, own.number: real},
        bodies=(*world.bodies, *bodies),
        waking=_waking(setup),
        routine=True,
    )


def _plated(body: Body, probe: Probe, late: float) -> Body:
    """A part's block as a plate that lies on it makes it: as much larger as the plate stands off."""
    off = probe.stand_off
    assert isinstance(body, BoxBody)
    return replace(
        body,
        name=probe.name,
        half_x=body.half_x + off.x,
        half_y=body.half_y + off.y,
        top=body.top + off.z,
        makes=probe.input,
        give=min(probe.overtravel_across, probe.overtravel_up) + late,
        travel=probe.trigger_travel,
    )


def _waking(setup: Setup) -> Waking | None:
    output = setup.output_of("probe")
    return Waking(word_key(output.word_on), word_key(output.word_off), output.seconds) if output else None


def world_tool(tool: Tool) -> WorldTool:
    """A tool that is as its record says."""
    whole, holder = tool.whole_length, tuple((part.diameter / 2, part.length) for part in tool.holder)
    return WorldTool(tool.number, tool.name, whole, whole, tool.stick_out, tool.diameter / 2, holder)


def _body(body: SetupBody) -> Body:
    """A body of the Setup, as the machine meets it."""
    if isinstance(body, Box):
        cos, sin = unit_vector(body.turn_deg)
        half_x, half_y = body.size_x / 2, body.size_y / 2
        return BoxBody(
            body.name,
            body.x,
            body.y,
            half_x,
            half_y,
            cos,
            sin,
            body.bottom_z,
            body.top_z,
            makes=body.makes,
            give=body.give,
        )
    radius = body.diameter / 2
    return CylinderBody(body.name, body.x, body.y, radius, body.bottom_z, body.top_z, makes=body.makes, give=body.give)


def _setter_bodies(setup: Setup, laid: Setter | None) -> Iterator[Body]:
    """The bodies of the setters that stand by themselves, and of the plate that is ``laid``."""
    for setter in setup.setters:
        body = setter.body
        if body and (not setter.lies_on or setter is laid):
            yield _as_calibrated(setup, setter, _body(body))


def _as_calibrated(setup: Setup, setter: Setter, body: Body) -> Body:
    """A setter's own body up to where a tip first meets it: its plane height holds the travel until it switches and the
    delay until the latch, since it was calibrated at the measuring feed."""
    rise = rise_of(setup, setter)
    return replace(body, top=body.top + rise, give=setter.overtravel + rise, travel=setter.trigger_travel)


def _inputs(setup: Setup) -> Inputs:
    own = {probe.input: probe.latency for probe in setup.probes}
    own |= {setter.input: setter.latency for setter in setup.setters}
    return Inputs(
        WorldInput(e.number, e.name, e.role, e.wiring, e.level, e.filter + own.get(e.number, 0.0)) for e in setup.inputs
    )


def _axis(name: str, axis: Axis) -> WorldAxis:
    return WorldAxis(name, axis.soft_least, axis.soft_greatest, axis.rapid, axis.acceleration, axis.home_at)


def rack_bodies(
    setup: Setup, changer: RackChanger, derived: DerivedChanger, recess: float, hole: float
) -> tuple[Body, ...]:
    """The rack's block (above the seats with their recesses, below with the holes; radii in mm), the face below it, and
    what stands in reserved pockets."""
    outline = derived.outline
    assert outline is not None
    (x, y), half_length, half_width = outline.middle, outline.half_length, outline.half_width
    cos, sin = unit_vector(outline.bearing_deg)
    reserved = {entry.pocket for entry in setup.occupants}
    free = [pocket for pocket in derived.pockets if pocket.pocket not in reserved]
    top, bottom = derived.rack_top_z, derived.rack_top_z - changer.rack.height
    tools = setup.stored()
    seat = (
        derived.ladder.couple_z
        - max((tool.whole_length - tool.stick_out for tool in tools), default=0.0)
        - NUT_CLEARANCE
    )
    seat = min(top, max(bottom, seat))
    bodies: list[Body] = []
    for low, high, radius in ((seat, top, recess), (bottom, seat, hole)):
        if high > low:
            wells = tuple(Well(pocket.x, pocket.y, radius) for pocket in free)
            bodies.append(
                BoxBody("the rack", x, y, half_length, half_width, cos, sin, low, high, wells, part_of="changer")
            )
    floor = derived.ladder.couple_z - changer.heights.pocket_depth
    bodies.append(
        BoxBody(
            "the face below the rack", x, y, half_length, half_width, cos, sin, floor - FLOOR, floor, part_of="ground"
        )
    )
    return (*bodies, *reserved_bodies(setup, derived, bottom))


def reserved_bodies(setup: Setup, derived: DerivedChanger, bottom: float) -> list[Body]:
    """What stands in reserved pockets, from ``bottom`` up; setters as they are calibrated."""

    def standing(entry: Occupant) -> Body:
        pocket = derived.pocket(entry.pocket)
        return CylinderBody(
            f"the {entry.what} in pocket {entry.pocket}",
            pocket.x,
            pocket.y,
            entry.diameter / 2,
            bottom,
            entry.top_z,
            makes=entry.makes,
            give=entry.give,
            part_of="reserved",
        )

    reserved = [standing(entry) for entry in (setup.changer.occupants if setup.changer else ())]
    setters = [(setter, setter.occupant) for setter in setup.setters]
    return [*reserved, *(_as_calibrated(setup, setter, standing(entry)) for setter, entry in setters if entry)]


def footprint_of(outline: Outline) -> tuple[float, float, float, float, float, float]:
    """An outline as a magazine has it: middle, half length and half width, and its turn (cos, sin)."""
    return (*outline.middle, outline.half_length, outline.half_width, *unit_vector(outline.bearing_deg))


def pockets_of(setup: Setup, changer: PocketChanger, derived: DerivedChanger) -> dict[str, Any]:
    """What all magazines with pockets share, by the field names of :class:`Magazine`."""
    stored = {tool.pocket: tool.number for tool in setup.stored() if tool.pocket is not None}
    reserved = frozenset(entry.pocket for entry in setup.occupants)
    return {
        "style": changer.style,
        "holds": derived.storage.what if derived.storage else "",
        "stored": stored,
        "recorded": {**stored, **dict.fromkeys(reserved, -1)},
        "reserved": reserved,
        "couple_z": derived.ladder.couple_z,
        "hover_z": derived.ladder.hover_z,
        "margin": changer.heights.margin,
        "park_z": derived.park_z,
        "widest": max((widest_of(tool) for tool in setup.exchangeable()), default=0.0),
    }


def widest_of(tool: Tool) -> float:
    """The largest radius of a tool and of its own holder, mm."""
    return max([tool.diameter, *(part.diameter for part in tool.holder)]) / 2


def rack_of_pockets(setup: Setup, changer: RackChanger, derived: DerivedChanger) -> dict[str, Any]:
    """What the magazines share whose pockets stand in a rack."""
    assert derived.outline is not None
    return {
        **pockets_of(setup, changer, derived),
        "places": {pocket.pocket: (pocket.x, pocket.y) for pocket in derived.pockets},
        "aligned": changer.rack.placing_tolerance,
        "footprint": footprint_of(derived.outline),
    }


def device_seconds(setup: Setup, role: str) -> float:
    """How long the device of an output takes, seconds."""
    output = setup.output_of(role)
    return output.seconds if output else OUTPUT_ROLES[role].seconds


@dataclass(frozen=True, slots=True)
class UsedSignal:
    """A signal that an exchange can make use of. ``name`` None: the machine has no such signal; ``seconds`` that an
    output's device takes."""

    kind: Literal["input", "output"]
    role: str
    name: str | None
    seconds: float | None


def used_signals(setup: Setup) -> list[UsedSignal]:
    """The signals that an exchange of the Setup's style can make use of, by role: the one there is, or none."""
    changer = setup.changer
    found = []
    for role in changer.switches if changer else ():
        output = setup.output_of(role)
        found.append(UsedSignal("output", role, output.name if output else None, device_seconds(setup, role)))
    for role in changer.sensors if changer else ():
        entry = setup.input_of(role)
        found.append(UsedSignal("input", role, entry.name if entry else None, None))
    return found


def gripped(setup: Setup, grip: Grip) -> dict[str, Any]:
    """What the magazines share whose tools a drawbar grips: the grip, and the devices that the Setup's outputs
    switch."""
    profile = setup.profile
    words: dict[tuple[int, float | None], tuple[str, str]] = {
        (word_number(profile.grip_open), None): ("grip", "open"),
        (word_number(profile.grip_close), None): ("grip", "closed"),
    }
    seconds = {"grip": device_seconds(setup, "grip")}
    for role in OUTPUT_ROLES.values():
        output = setup.output_of(role.name) if role.device else None
        if output:
            seconds[role.device] = output.seconds
            words[word_key(output.word_on)] = (role.device, role.on)
            words.setdefault(word_key(output.word_off), (role.device, role.off))
    return {
        "knob": grip.knob_height,
        "holder_radius": grip.holder_diameter / 2,
        "needed_radius": grip.holder_diameter / 2,
        "reach": grip.reach,
        "words": words,
        "seconds": seconds,
    }


def oriented(setup: Setup, wanted: Orientation) -> WorldOrientation:
    """The angle at which a tool is handed over."""
    return WorldOrientation(wanted.angle_deg, wanted.tolerance_deg, wanted.half_turn, device_seconds(setup, "orient"))


def word_number(word: str) -> int:
    """The number of an M word."""
    return math.floor(float(word[1:]))


def word_key(words: str) -> tuple[int, float | None]:
    """An output's words as the number of the M word and its P, None without one."""
    parts = words.replace(" ", "")
    number, _, p = parts[1:].partition("P")
    return math.floor(float(number)), float(p) if p else None
