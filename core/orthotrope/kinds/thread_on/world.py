"""A thread-on rack in the world."""

from orthotrope.calc.derived import DerivedChanger
from orthotrope.kinds.thread_on.machine import ThreadPockets
from orthotrope.kinds.thread_on.model import ThreadOn
from orthotrope.proof.worlds import NUT_CLEARANCE, WORLDS, Placed, rack_bodies, rack_of_pockets
from orthotrope.setup import Setup


@WORLDS.register("thread-on")
def place(setup: Setup, changer: ThreadOn, derived: DerivedChanger) -> Placed:
    """Its pockets with the thread, and its block."""
    thread = changer.coupling
    radius = thread.nut_diameter / 2
    pockets = ThreadPockets(
        **rack_of_pockets(setup, changer, derived),
        lead=thread.lead,
        engaged=thread.engaged_length,
        float_allowed=thread.lift_allowed,
        flats=thread.flats_height,
        give=thread.give,
        nut_radius=radius,
        needed_radius=radius,
    )
    return Placed(pockets, rack_bodies(setup, changer, derived, radius + NUT_CLEARANCE, thread.hole_diameter / 2))
