"""Forks in the world."""

from orthotrope.calc.derived import DerivedChanger, Outline
from orthotrope.calc.points import unit_vector
from orthotrope.kinds.side_entry.machine import ForkPockets, Groove
from orthotrope.kinds.side_entry.model import SideEntry
from orthotrope.machine.shapes import Body, BoxBody
from orthotrope.proof.worlds import WORLDS, Placed, footprint_of, gripped, oriented, rack_of_pockets, reserved_bodies
from orthotrope.setup import Setup

FORK_CLEARANCE = 0.1
"""mm; a fork's gap is this much wider on each side than a groove that is off by the placing tolerance."""


@WORLDS.register("side-entry")
def place(setup: Setup, changer: SideEntry, derived: DerivedChanger) -> Placed:
    """Its forks, and the rail that they are on; tools stand free of it only in front of the tines."""
    forks, rail = changer.forks, _rail(changer, derived)
    reach = forks.tine_reach + forks.tine_width + forks.groove_diameter
    cos, sin = unit_vector(forks.mouth_deg)
    middle = (rail.middle[0] + reach / 2 * cos, rail.middle[1] + reach / 2 * sin)
    covered = Outline(middle, rail.half_length, rail.half_width + reach / 2, rail.bearing_deg)
    shared = {**rack_of_pockets(setup, changer, derived), "footprint": footprint_of(covered)}
    groove = Groove(
        forks.groove_diameter / 2,
        -forks.groove_below - forks.groove_width / 2,
        -forks.groove_below + forks.groove_width / 2,
    )
    mouths = {pocket.pocket: unit_vector(forks.mouth_of(pocket.pocket)) for pocket in derived.pockets}
    pockets = ForkPockets(
        **shared,
        **gripped(setup, changer.grip),
        holds_down=True,
        groove=groove,
        mouths=mouths,
        orientation=oriented(setup, changer.orientation),
    )
    return Placed(pockets, fork_bodies(setup, changer, derived))


def fork_bodies(setup: Setup, changer: SideEntry, derived: DerivedChanger) -> tuple[Body, ...]:
    """Two tines and the bridge behind them for each fork, the rail that they are on, and what stands in reserved
    pockets."""
    forks, rack = changer.forks, changer.rack
    gap = forks.groove_diameter / 2 + rack.placing_tolerance + FORK_CLEARANCE
    middle = derived.ladder.couple_z - forks.groove_below
    low, high = middle - forks.thickness / 2, middle + forks.thickness / 2
    back = gap + forks.tine_width
    reserved = {entry.pocket for entry in setup.occupants}
    bodies: list[Body] = []
    for pocket in derived.pockets:
        if pocket.pocket in reserved:
            continue
        cos, sin = unit_vector(forks.mouth_of(pocket.pocket))

        def part(
            along: float,
            across: float,
            half_along: float,
            half_across: float,
            at: tuple[float, float] = (pocket.x, pocket.y),
            way: tuple[float, float] = (cos, sin),
            name: str = f"fork {pocket.pocket}",
        ) -> Body:
            x, y = at[0] + along * way[0] - across * way[1], at[1] + along * way[1] + across * way[0]
            return BoxBody(name, x, y, half_along, half_across, way[0], way[1], low, high, part_of="changer")

        tine = (forks.tine_reach + gap) / 2
        for side in (-1, 1):
            bodies.append(
                part((forks.tine_reach - gap) / 2, side * (gap + forks.tine_width / 2), tine, forks.tine_width / 2)
            )
        bodies.append(part(-(gap + back) / 2, 0.0, forks.tine_width / 2, back))
    rail = _rail(changer, derived)
    cos, sin = unit_vector(rail.bearing_deg)
    top = derived.rack_top_z
    bodies.append(
        BoxBody(
            "the rail of the forks",
            *rail.middle,
            rail.half_length,
            rail.half_width,
            cos,
            sin,
            top - rack.height,
            top,
            part_of="changer",
        )
    )
    return (*bodies, *reserved_bodies(setup, derived, top - rack.height))


def _rail(changer: SideEntry, derived: DerivedChanger) -> Outline:
    """The rail behind the forks, in plan."""
    forks, rack, block = changer.forks, changer.rack, derived.outline
    assert block is not None
    behind = forks.groove_diameter / 2 + rack.placing_tolerance + FORK_CLEARANCE + forks.tine_width + rack.width / 2
    cos, sin = unit_vector(forks.mouth_deg)
    middle = (block.middle[0] - behind * cos, block.middle[1] - behind * sin)
    return Outline(middle, block.half_length, rack.width / 2, block.bearing_deg)
