"""Parts that were put down carelessly: the hidden place, turn and size of what a routine touches, and the probe as it really
is."""

import math
import random
from dataclasses import dataclass, replace

from orthotrope.calc.touch_devices import rise_of
from orthotrope.machine.parts import turned
from orthotrope.machine.world import World
from orthotrope.practising.truth import Truth
from orthotrope.proof.worlds import with_part
from orthotrope.sequence.probing import PLANS, tip_of
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.probes import Probe
from orthotrope.setup.routines import Routine

OFF, HIGH, TURNED, LARGER = 2.5, 1.5, 1.5, 0.2
"""mm; how far off in the plan, in height, degrees, and in size a part may be at the most."""


@dataclass(frozen=True, slots=True)
class TruePose:
    """How a part really lies: the ``routine`` as it would have to be, and its turn in degrees."""

    routine: Routine
    turn_deg: float

    def truth(self, expected: Routine) -> dict[str, float]:
        """What the routine would have to find, by the names of its results: machine coordinates and sizes, mm; degrees."""
        real = self.routine
        found = {axis: float(getattr(real, axis)) for axis in real.axes}
        if real.finds_turn and len(real.axes) == 1:  # an edge: where it is at the expected place
            slope = math.tan(math.radians(self.turn_deg))
            if "y" in found:
                found["y"] += slope * (expected.x - real.x)
            else:
                found["x"] -= slope * (expected.y - real.y)
        found |= {name: value for name, value in PLANS[real.kind].expected(real).items()}
        if real.finds_turn:
            found["turn"] = self.turn_deg
        return found


def put_down(routine: Routine, seed: int) -> TruePose:
    """A part that someone has put down for a routine: the same seed and routine, the same part."""
    chance = random.Random(f"{seed} {routine.name}")
    off = {axis: getattr(routine, axis) + chance.uniform(-OFF, OFF) for axis in ("x", "y")}
    off["z"] = routine.z + chance.uniform(-HIGH, HIGH)
    sizes = {name: getattr(routine, name) + chance.uniform(-LARGER, LARGER) for name in routine.sizes}
    turn = chance.uniform(-TURNED, TURNED) if routine.finds_turn else 0.0
    return TruePose(routine.model_copy(update={**off, **sizes}), turn)


def true_probe(setup: Setup, truth: Truth, probe: Probe) -> Setup:
    """The Setup with a probe as it really is: its tip off the axis, and smaller than its record."""
    document, late = setup.as_json(), rise_of(setup, probe)
    entry = next(entry for entry in document["probes"] if entry["name"] == probe.name)
    nominal = setup.tool(probe.tool).diameter
    if probe.tells_itself:
        entry.update(effective_diameter=nominal - truth.stylus_less - 2 * late, effective_x=None, effective_y=None)
        entry.update(off_x=truth.stylus_dx, off_y=truth.stylus_dy)
    return read_setup(document)


def with_careless(world: World, setup: Setup, truth: Truth, routine: Routine, careless: TruePose) -> World:
    """The true world with a part in it that was put down carelessly, and with the probe as it really is."""
    tip = tip_of(setup, routine)
    if tip is None:
        return world
    real = true_probe(setup, truth, tip.probe)
    there = next(probe for probe in real.probes if probe.name == tip.probe.name)
    found = with_part(world, real, careless.routine, replace(tip, probe=there))
    bodies = tuple(
        turned(body, careless.routine.x, careless.routine.y, careless.turn_deg) if body.part_of == "part" else body
        for body in found.bodies
    )
    tool = found.tools[tip.probe.tool]
    lobed = (
        replace(tool, stylus=replace(tool.stylus, lobing=truth.lobing, lobe_deg=truth.lobe_deg))
        if tool.stylus
        else tool
    )
    return replace(found, bodies=bodies, tools={**found.tools, tool.number: lobed})
