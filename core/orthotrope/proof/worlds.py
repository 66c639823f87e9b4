"""A Setup as a world for the virtual machine: the nominal world takes it at its word."""

import math
from typing import Any

from orthotrope.calc.derived import DerivedChanger, block_corners, derive, disc_centre
from orthotrope.calc.geometry import unit_vector
from orthotrope.machine.inputs import WorldInput
from orthotrope.machine.shapes import Body, BoxBody, CylinderBody, StackPart, Well
from orthotrope.machine.world import (
    GripPockets,
    Groove,
    LoadingPlace,
    ThreadPockets,
    World,
    WorldAxis,
    WorldDisc,
    WorldOrientation,
    WorldSpindle,
    WorldTool,
)
from orthotrope.setup import Setup
from orthotrope.setup.machine import Axis
from orthotrope.setup.signals import OutputRole
from orthotrope.setup.styles import (
    ArmDisc,
    ByHand,
    DiscChanger,
    DropIn,
    GripChanger,
    MovingDisc,
    PocketChanger,
    RackChanger,
    SideEntry,
    ThreadOn,
)
from orthotrope.setup.surround import Box

NUT_CLEARANCE = 1.0
"""mm; a pocket's recess is this much wider in radius than what stands in it."""

FORK_CLEARANCE = 0.1
"""mm; a fork's gap is this much wider on each side than a groove that is off by the placing tolerance."""

FLOOR = 5.0
"""mm; thickness of the face below the rack, as a body."""

USUAL_SECONDS = {"grip": 0.5, "orient": 1.0}
"""Seconds of a device that no output of the Setup tells of; the control has words of its own for it."""


def nominal_world(setup: Setup) -> World:
    """The world in which everything is as the Setup says."""
    spindle = setup.machine.spindle
    derived = derive(setup)
    bodies: list[Body] = []
    for body in setup.bodies:
        if isinstance(body, Box):
            cos, sin = unit_vector(body.turn_deg)
            bodies.append(BoxBody(body.name, body.x, body.y, body.size_x / 2, body.size_y / 2, cos, sin,
                                  body.bottom_z, body.top_z, makes=body.makes, give=body.give))  # fmt: skip
        else:
            bodies.append(CylinderBody(body.name, body.x, body.y, body.diameter / 2, body.bottom_z, body.top_z,
                                       makes=body.makes, give=body.give))  # fmt: skip
    changer, magazine, loading = setup.changer, None, None
    if isinstance(changer, ByHand):
        loading = LoadingPlace(changer.x, changer.y, changer.z)
    elif changer and derived:
        magazine = _thread(setup, changer, derived) if isinstance(changer, ThreadOn) else _grip(setup, changer, derived)
        if isinstance(changer, SideEntry):
            bodies += fork_bodies(changer, derived)
        elif isinstance(changer, RackChanger):
            bodies += rack_bodies(setup, changer, derived)
    nose_top = spindle.nose_length
    return World(
        axes=(_axis(setup.machine.axes.X), _axis(setup.machine.axes.Y), _axis(setup.machine.axes.Z)),
        spindle=WorldSpindle(spindle.greatest_speed, spindle.seconds_to_speed, (
            StackPart("the spindle nose", spindle.nose_diameter / 2, 0.0, nose_top),
            StackPart("the spindle body", spindle.body_diameter / 2, nose_top, nose_top + spindle.body_length))),
        tools={t.number: WorldTool(t.number, t.name, t.length, t.length, t.stick_out, t.diameter / 2) for t in setup.tools},
        work_offsets={offset.number: (offset.x, offset.y, offset.z) for offset in setup.work_offsets},
        bodies=tuple(bodies), magazine=magazine, loading=loading, latency=setup.machine.latency,
        inputs=_inputs(setup))  # fmt: skip


def _inputs(setup: Setup) -> tuple[WorldInput, ...]:
    return tuple(WorldInput(e.number, e.name, e.role, e.wiring, e.level, e.filter) for e in setup.inputs)


def _axis(axis: Axis) -> WorldAxis:
    return WorldAxis(axis.soft_least, axis.soft_greatest, axis.rapid, axis.acceleration, axis.home_at)


def rack_bodies(setup: Setup, changer: ThreadOn | DropIn, derived: DerivedChanger) -> list[Body]:
    """The rack's block (above the seats with their recesses, below with the holes), the face below it, and what stands in
    reserved pockets."""
    (x, y), length, width, bearing = block_corners(changer.rack, derived)
    cos, sin = unit_vector(bearing)
    reserved = {entry.pocket for entry in changer.reserved}
    free = [pocket for pocket in derived.pockets if pocket.pocket not in reserved]
    top, bottom = derived.rack_top_z, derived.rack_top_z - changer.rack.height
    if isinstance(changer, ThreadOn):
        recess, hole = changer.coupling.nut_diameter / 2 + NUT_CLEARANCE, changer.coupling.hole_diameter / 2
    else:
        recess, hole = changer.grip.holder_diameter / 2 + NUT_CLEARANCE, changer.hole_diameter / 2
    tools = setup.stored()
    seat = derived.ladder.couple_z - max((tool.length - tool.stick_out for tool in tools), default=0.0) - NUT_CLEARANCE
    seat = min(top, max(bottom, seat))
    bodies: list[Body] = []
    for low, high, radius in ((seat, top, recess), (bottom, seat, hole)):
        if high > low:
            wells = tuple(Well(pocket.x, pocket.y, radius) for pocket in free)
            bodies.append(BoxBody("the rack", x, y, length / 2, width / 2, cos, sin, low, high, wells, part_of="changer"))
    floor = derived.ladder.couple_z - changer.heights.pocket_depth
    bodies.append(BoxBody("the face below the rack", x, y, length / 2, width / 2, cos, sin, floor - FLOOR, floor,
                          part_of="changer"))  # fmt: skip
    return bodies + _reserved(changer, derived, bottom)


def _reserved(changer: RackChanger, derived: DerivedChanger, bottom: float) -> list[Body]:
    found: list[Body] = []
    for entry in changer.reserved:
        pocket = derived.pocket(entry.pocket)
        found.append(CylinderBody(f"the {entry.what} in pocket {entry.pocket}", pocket.x, pocket.y, entry.diameter / 2,
                                  bottom, entry.top_z, makes=entry.makes, give=entry.give, part_of="changer"))  # fmt: skip
    return found


def fork_bodies(changer: SideEntry, derived: DerivedChanger) -> list[Body]:
    """Two tines and the bridge behind them for each fork, the rail that they are on, and what stands in reserved pockets."""
    forks, rack = changer.forks, changer.rack
    gap = forks.groove_diameter / 2 + rack.placing_tolerance + FORK_CLEARANCE
    middle = derived.ladder.couple_z - forks.groove_below
    low, high = middle - forks.thickness / 2, middle + forks.thickness / 2
    back = gap + forks.tine_width
    reserved = {entry.pocket for entry in changer.reserved}
    bodies: list[Body] = []
    for pocket in derived.pockets:
        if pocket.pocket in reserved:
            continue
        cos, sin = unit_vector(forks.mouth_of(pocket.pocket))

        def part(along: float, across: float, half_along: float, half_across: float, at: tuple[float, float] = (pocket.x, pocket.y),
                 way: tuple[float, float] = (cos, sin), name: str = f"fork {pocket.pocket}") -> Body:  # fmt: skip
            x, y = at[0] + along * way[0] - across * way[1], at[1] + along * way[1] + across * way[0]
            return BoxBody(name, x, y, half_along, half_across, way[0], way[1], low, high, part_of="changer")

        tine = (forks.tine_reach + gap) / 2
        for side in (-1, 1):
            bodies.append(part((forks.tine_reach - gap) / 2, side * (gap + forks.tine_width / 2), tine, forks.tine_width / 2))
        bodies.append(part(-(gap + back) / 2, 0.0, forks.tine_width / 2, back))
    (x, y), length, width, bearing = _rail(changer, derived)
    cos, sin = unit_vector(bearing)
    top = derived.rack_top_z
    bodies.append(BoxBody("the rail of the forks", x, y, length / 2, width / 2, cos, sin, top - rack.height, top,
                          part_of="changer"))  # fmt: skip
    return bodies + _reserved(changer, derived, top - rack.height)


def _rail(changer: SideEntry, derived: DerivedChanger) -> tuple[tuple[float, float], float, float, float]:
    """Middle, length and width of the rail behind the forks, and its bearing."""
    (x, y), length, _, bearing = block_corners(changer.rack, derived)
    forks = changer.forks
    behind = forks.groove_diameter / 2 + changer.rack.placing_tolerance + FORK_CLEARANCE + forks.tine_width + changer.rack.width / 2
    cos, sin = unit_vector(forks.mouth_deg)
    return (x - behind * cos, y - behind * sin), length, changer.rack.width, bearing


def _shared(setup: Setup, changer: PocketChanger, derived: DerivedChanger) -> dict[str, Any]:
    """What all magazines share, by the field names of :class:`Pockets`."""
    stored = {tool.pocket: tool.number for tool in setup.stored() if tool.pocket is not None}
    footprint, aligned = None, changer.grip.reach if isinstance(changer, DiscChanger) else changer.rack.placing_tolerance
    if isinstance(changer, RackChanger):
        corners = block_corners(changer.rack, derived)
        if isinstance(changer, SideEntry):
            (x, y), length, width, bearing = _rail(changer, derived)
            reach = changer.forks.tine_reach + changer.forks.tine_width + changer.forks.groove_diameter
            cos, sin = unit_vector(changer.forks.mouth_deg)
            corners = ((x + reach / 2 * cos, y + reach / 2 * sin), length, width + reach, bearing)
        (x, y), length, width, bearing = corners
        footprint = (x, y, length / 2, width / 2, *unit_vector(bearing))
    if isinstance(changer, DiscChanger):
        places = {pocket.pocket: (changer.exchange.x, changer.exchange.y) for pocket in derived.pockets}
    else:
        places = {pocket.pocket: (pocket.x, pocket.y) for pocket in derived.pockets}
    radius = changer.coupling.nut_diameter / 2 if isinstance(changer, ThreadOn) else changer.grip.holder_diameter / 2
    reserved = frozenset(entry.pocket for entry in changer.reserved)
    return {"places": places, "stored": stored, "recorded": {**stored, **dict.fromkeys(reserved, -1)}, "reserved": reserved,
            "couple_z": derived.ladder.couple_z, "hover_z": derived.ladder.hover_z, "aligned": aligned, "footprint": footprint,
            "needed_radius": radius, "margin": changer.heights.margin, "park_z": derived.park_z}  # fmt: skip


def _thread(setup: Setup, changer: ThreadOn, derived: DerivedChanger) -> ThreadPockets:
    thread = changer.coupling
    return ThreadPockets(**_shared(setup, changer, derived), lead=thread.lead, engaged=thread.engaged_length,
                         float_allowed=thread.lift_allowed, flats=thread.flats_height, give=thread.give,
                         nut_radius=thread.nut_diameter / 2)  # fmt: skip


SWITCHED: tuple[tuple[OutputRole, str, str, str], ...] = (
    ("blow air", "blow air", "on", "off"), ("magazine", "disc", "out", "home"), ("pot", "pot", "down", "up"),
    ("arm swing", "arm swing", "in", "home"), ("arm stroke", "arm stroke", "down", "up"), ("arm turn", "arm turn", "half", "still"),
)  # fmt: skip
"""Role of an output, the device that it switches, and its states switched on and off."""


def device_seconds(setup: Setup, role: OutputRole) -> float:
    """How long the device of an output takes, seconds."""
    output = setup.output_of(role)
    return output.seconds if output else USUAL_SECONDS.get(role, 0.0)


def _grip(setup: Setup, changer: GripChanger, derived: DerivedChanger) -> GripPockets:
    grip, profile = changer.grip, setup.profile
    words: dict[tuple[int, float | None], tuple[str, str]] = {
        (_code(profile.grip_open), None): ("grip", "open"), (_code(profile.grip_close), None): ("grip", "closed")}  # fmt: skip
    seconds = {"grip": device_seconds(setup, "grip")}
    for role, device, on, off in SWITCHED:
        output = setup.output_of(role)
        if output:
            seconds[device] = output.seconds
            words[word_key(output.word_on)] = (device, on)
            words.setdefault(word_key(output.word_off), (device, off))
    orientation = None
    if not isinstance(changer, DropIn):
        wanted = changer.orientation
        orientation = WorldOrientation(wanted.angle_deg, wanted.tolerance_deg, wanted.half_turn, device_seconds(setup, "orient"))
    groove, mouths = None, {}
    if isinstance(changer, SideEntry):
        forks = changer.forks
        groove = Groove(forks.groove_diameter / 2, -forks.groove_below - forks.groove_width / 2,
                        -forks.groove_below + forks.groove_width / 2)  # fmt: skip
        mouths = {pocket.pocket: unit_vector(forks.mouth_of(pocket.pocket)) for pocket in derived.pockets}
    disc, turn_word = None, -1
    if isinstance(changer, DiscChanger):
        data = changer.disc
        disc = WorldDisc(data.count, data.radius, unit_vector(data.bearing_deg), disc_centre(changer, True),
                         disc_centre(changer, False), 1 if data.sense == "ccw" else -1, data.way == "shorter",
                         data.seconds_per_step)  # fmt: skip
        turn_word = _code(data.turn_word)
    return GripPockets(
        **_shared(setup, changer, derived), style=changer.style, knob=grip.knob_height,
        holder_radius=grip.holder_diameter / 2, reach=grip.reach, holds_down=isinstance(changer, SideEntry | MovingDisc),
        words=words, seconds=seconds, turn_word=turn_word, groove=groove, mouths=mouths, orientation=orientation, disc=disc,
        arm_reach=changer.arm.reach if isinstance(changer, ArmDisc) else 0.0)  # fmt: skip


def _code(word: str) -> int:
    return math.floor(float(word[1:]))


def word_key(words: str) -> tuple[int, float | None]:
    """An output's words as the number of the M word and its P, None without one."""
    parts = words.replace(" ", "")
    number, _, p = parts[1:].partition("P")
    return math.floor(float(number)), float(p) if p else None
