"""A technician's work with a probe: its length, diameter and off-centre qualified, then every routine on a part that was put down
carelessly. Only the written texts move the machine."""

import math
import statistics
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from orthotrope.errors import InputError
from orthotrope.machine.control import Control
from orthotrope.machine.executor import ProgramRun
from orthotrope.machine.run import Call, Run
from orthotrope.practising.loop import Quantity, Technician
from orthotrope.practising.parts import TruePose, put_down, true_probe, with_careless
from orthotrope.program.reader import read_text
from orthotrope.program.writer import write
from orthotrope.proof.review import called_at
from orthotrope.sequence.probing import PLANS, plan_routine, tip_of
from orthotrope.sequence.probing.qualified import diameter_from, length_from, off_centre_from
from orthotrope.sequence.probing.qualifying import DIAMETER, LENGTH, routine_named
from orthotrope.sequence.probing.registry import around
from orthotrope.sequence.probing.summing import Place, summed
from orthotrope.setup import Setup
from orthotrope.setup.probes import Probe
from orthotrope.setup.routines import Routine

REPEATED = 12
"""Touches of one place, from which the scatter is known."""

T_11 = 2.201
"""Student's t of eleven degrees of freedom, two-sided 95 % (JCGM 100, table G.2)."""

NORMAL = 1.96


class Prober(Technician):
    """A technician with a probe."""

    def places(self, routine: Routine, careless: TruePose, half_turn: bool = False) -> list[Place]:
        """Where the touches of a routine that count were latched, in the machine's own numbers.

        Raises:
            InputError: where the text does not come to its end.
        """
        run = self._probe(routine, careless, half_turn)
        said = [event.data["text"] for event in run.trace.of_kind("message")]
        counted = [e for e in run.trace.of_kind("touch") if self._counts(e.data["feed"], routine)]
        tip = tip_of(self.setup, routine)
        wanted = len(PLANS[routine.kind].aims(routine, tip)) * (tip.probe.touches if tip else 1) if tip else 0
        if run.trace.ended != "end" or len(counted) != wanted:
            raise InputError.at("", f"{routine.name} did not finish: {' '.join(said) or run.trace.ended}.")
        latched = [self._reported(event.data["latched"]) for event in counted]
        each = tip.probe.touches if tip else 1
        return [_mean(latched[index : index + each]) for index in range(0, len(latched), each)]

    def _reported(self, latched: Place) -> Place:
        """A place as the control has it: in steps of its axes."""
        steps = (axis.resolution for _, axis in self.setup.machine.axes.items())
        x, y, z = (round(value / step) * step for value, step in zip(latched, steps, strict=True))
        return x, y, z

    def _counts(self, feed: float, routine: Routine) -> bool:
        tip = tip_of(self.setup, routine)
        return tip is not None and abs(feed - tip.probe.measure_feed) < 1e-6

    def _probe(self, routine: Routine, careless: TruePose, half_turn: bool) -> Run:
        setup, tip = self.setup, tip_of(self.setup, routine)
        assert tip
        world = with_careless(self._seen_world(), setup, self._truth, routine, careless)
        tool = world.tools[tip.probe.tool]
        if half_turn and tool.stylus:
            turned = replace(tool, stylus=tool.stylus.half_turned())
            world = replace(world, tools={**world.tools, tool.number: turned})
        text = write(plan_routine(setup, routine.name, setup.profile, called_at(setup)[:2]), setup.profile)
        control = Control(
            setup.profile, world, Call(called_at(setup), from_tool=tip.probe.tool, to_tool=tip.probe.tool)
        )
        control.machine.axes.error = self.error
        control.machine.touch_unit.noise = lambda: self.chance.gauss(0.0, self._truth.touch_sigma)
        return ProgramRun(read_text(text), control).go()

    def true(self, careless: TruePose, routine: Routine) -> dict[str, float]:
        """What the routine would have to find, as the control counts it."""
        truth = careless.truth(routine)
        return {
            name: value - self.error["xy".index(name)] if name in ("x", "y") else value for name, value in truth.items()
        }


def _mean(places: list[Place]) -> Place:
    x, y, z = (statistics.fmean(place[axis] for place in places) for axis in range(3))
    return x, y, z


def qualified(prober: Prober, probe: Probe) -> Iterator[Quantity]:
    """Scatter and length on the reference face, effective diameter on the artefact, off-centre by half a turn; each becomes
    what the technician knows."""
    index = next(i for i, entry in enumerate(prober.setup.probes) if entry.name == probe.name)
    tool = next(i for i, entry in enumerate(prober.setup.tools) if entry.number == probe.tool)
    artefact = probe.artefact
    assert artefact and artefact.face_z is not None
    face = routine_named(prober.setup, LENGTH.format(probe.name))
    really_at = face.z + prober._truth.face_off * artefact.face_uncertainty / 2
    lies = TruePose(face.model_copy(update={"z": really_at}), 0.0)
    heights = [prober.places(face, lies)[0][2] for _ in range(REPEATED)]
    length = length_from(prober.setup, probe, heights)
    scatter = length.scatter * math.sqrt(probe.touches) * T_11 / NORMAL
    # Coming down, the drive is behind the slide by half of the play: the length holds it, as all touches from above do.
    down = prober.error[2] + prober._truth.backlash["Z"] / 2
    true_length = prober._seen_world().tools[probe.tool].length - down
    yield Quantity(f"length, {probe.name}", "probe length", true_length, length.length, length.half_width_95)
    prober.know({f"/tools/{tool}/length": length.length, f"/tools/{tool}/wear": 0.0})
    prober.know(
        {f"/probes/{index}/repeatability": 2 * scatter, f"/probes/{index}/length_uncertainty": length.half_width_95}
    )
    ring = routine_named(prober.setup, DIAMETER.format(probe.name))
    wide = artefact.diameter + prober._truth.artefact_off * artefact.diameter_uncertainty / 2
    lies = TruePose(ring.model_copy(update={"diameter": wide}), 0.0)
    one, other = prober.places(ring, lies), prober.places(ring, lies, half_turn=True)
    now = prober.setup.probes[index]
    round_clock, off = diameter_from(prober.setup, now, one), off_centre_from(prober.setup, now, one, other)
    really = true_probe(prober.setup, prober._truth, now).probes[index].effective_diameter
    assert really is not None
    # The probe is late by half of its lobing on the mean of all sides, and opposite touches by the play of the axes.
    ways, play = around(artefact.touches), prober._truth.backlash
    late = prober._truth.lobing + sum(abs(x) * play["X"] + abs(y) * play["Y"] for x, y in ways) / len(ways)
    name, effective = f"effective diameter, {probe.name}", round_clock.effective_diameter
    yield Quantity(name, "effective diameter", really - late, effective, round_clock.half_width_95)
    known: dict[str, Any] = {"effective_diameter": effective, "effective_uncertainty": round_clock.half_width_95}
    known |= {"effective_x": None, "effective_y": None, "lobing": round_clock.form_error}
    known |= {"qualified_feed": probe.measure_feed, "off_x": off.x, "off_y": off.y, "angle_deg": off.angle_deg}
    for axis, found in (("X", off.x), ("Y", off.y)):
        true = getattr(prober._truth, f"stylus_d{axis.lower()}")
        yield Quantity(f"off-centre {axis}, {probe.name}", "off-centre", true, found, off.half_width_95)
    prober.know({f"/probes/{index}/{field}": value for field, value in known.items()})


def _complete(probe: Probe) -> bool:
    """Whether there is something that it can be qualified on: its diameter, and its length."""
    return probe.artefact is not None and probe.artefact.face_z is not None


def probed(setup: Setup, seed: int) -> list[Quantity]:
    """Every probe qualified and every routine run, in the hidden world of a seed."""
    prober = Prober(setup, seed)
    found = [entry for probe in setup.probes if _complete(probe) for entry in qualified(prober, probe)]
    for expected in setup.routines:
        routine = routine_named(prober.setup, expected.name)
        tip = tip_of(prober.setup, routine)
        if tip is None or not _complete(tip.probe):
            continue
        careless = put_down(routine, seed)
        result = summed(prober.setup, routine, prober.places(routine, careless))
        true = prober.true(careless, routine)
        found += [
            Quantity(
                f"{entry.name}, {routine.name}",
                f"routine {entry.name}",
                true[entry.name],
                entry.value,
                entry.half_width_95,
            )
            for entry in result.quantities
        ]
    return found
