"""A Setup as a world for the virtual machine: the nominal world takes it at its word."""

from orthotrope.calc.derived import DerivedChanger, block_corners, derive
from orthotrope.calc.geometry import unit_vector
from orthotrope.machine.inputs import WorldInput
from orthotrope.machine.shapes import Body, BoxBody, CylinderBody, StackPart, Well
from orthotrope.machine.world import ThreadPockets, World, WorldAxis, WorldSpindle, WorldTool
from orthotrope.setup import Setup
from orthotrope.setup.changer import Changer
from orthotrope.setup.machine import Axis
from orthotrope.setup.surround import Box

NUT_CLEARANCE = 1.0
"""mm; the pocket's recess is this much wider in radius than the nut."""

FLOOR = 5.0
"""mm; thickness of the face below the rack, as a body."""


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
    rack = None
    if setup.changer and derived:
        bodies += rack_bodies(setup, setup.changer, derived)
        rack = _rack(setup, setup.changer, derived)
    nose_top = spindle.nose_length
    return World(
        axes=(_axis(setup.machine.axes.X), _axis(setup.machine.axes.Y), _axis(setup.machine.axes.Z)),
        spindle=WorldSpindle(spindle.greatest_speed, spindle.seconds_to_speed, (
            StackPart("the spindle nose", spindle.nose_diameter / 2, 0.0, nose_top),
            StackPart("the spindle body", spindle.body_diameter / 2, nose_top, nose_top + spindle.body_length))),
        tools={t.number: WorldTool(t.number, t.name, t.length, t.length, t.stick_out, t.diameter / 2) for t in setup.tools},
        work_offsets={offset.number: (offset.x, offset.y, offset.z) for offset in setup.work_offsets},
        bodies=tuple(bodies), rack=rack, latency=setup.machine.latency,
        inputs=_inputs(setup))  # fmt: skip


def _inputs(setup: Setup) -> tuple[WorldInput, ...]:
    return tuple(WorldInput(e.number, e.name, e.role, e.wiring, e.level, e.filter) for e in setup.inputs)


def _axis(axis: Axis) -> WorldAxis:
    return WorldAxis(axis.soft_least, axis.soft_greatest, axis.rapid, axis.acceleration, axis.home_at)


def rack_bodies(setup: Setup, changer: Changer, derived: DerivedChanger) -> list[Body]:
    """The rack's block (above the nuts' seats with their recesses, below with the holes), the face below it, and what
    stands in reserved pockets."""
    (x, y), length, width, bearing = block_corners(setup, derived)
    cos, sin = unit_vector(bearing)
    reserved = {entry.pocket for entry in changer.reserved}
    free = [pocket for pocket in derived.pockets if pocket.pocket not in reserved]
    top, bottom = derived.rack_top_z, derived.rack_top_z - changer.rack.height
    tools = setup.stored()
    seat = derived.ladder.couple_z - max((tool.length - tool.stick_out for tool in tools), default=0.0) - NUT_CLEARANCE
    seat = min(top, max(bottom, seat))
    recess, hole = changer.coupling.nut_diameter / 2 + NUT_CLEARANCE, changer.coupling.hole_diameter / 2
    bodies: list[Body] = []
    for low, high, radius in ((seat, top, recess), (bottom, seat, hole)):
        if high > low:
            wells = tuple(Well(pocket.x, pocket.y, radius) for pocket in free)
            bodies.append(BoxBody("the rack", x, y, length / 2, width / 2, cos, sin, low, high, wells))
    floor = derived.ladder.couple_z - changer.heights.pocket_depth
    bodies.append(BoxBody("the face below the rack", x, y, length / 2, width / 2, cos, sin, floor - FLOOR, floor))
    for entry in changer.reserved:
        pocket = derived.pocket(entry.pocket)
        bodies.append(CylinderBody(f"the {entry.what} in pocket {entry.pocket}", pocket.x, pocket.y, entry.diameter / 2,
                                   bottom, entry.top_z, makes=entry.makes, give=entry.give))  # fmt: skip
    return bodies


def _rack(setup: Setup, changer: Changer, derived: DerivedChanger) -> ThreadPockets:
    (x, y), length, width, bearing = block_corners(setup, derived)
    cos, sin = unit_vector(bearing)
    thread = changer.coupling
    return ThreadPockets(
        places={pocket.pocket: (pocket.x, pocket.y) for pocket in derived.pockets},
        stored={tool.pocket: tool.number for tool in setup.stored() if tool.pocket is not None},
        reserved=frozenset(entry.pocket for entry in changer.reserved),
        lead=thread.lead, engaged=thread.engaged_length, couple_z=derived.ladder.couple_z,
        hover_z=derived.ladder.hover_z, coupling_feed=thread.feed, float_allowed=thread.lift_allowed,
        flats=thread.flats_height, nut_radius=thread.nut_diameter / 2, aligned=changer.rack.placing_tolerance,
        footprint=(x, y, length / 2, width / 2, cos, sin), margin=changer.heights.margin,
        park_z=derived.park_z)  # fmt: skip
