"""A technician's work at a machine with hidden errors: inputs tested, five pockets taught, the plane calibrated with the
reference tool, all tools measured, the plane checked on a block. Only the written texts move the machine; what is found is
stated with its interval, and nothing here looks at the truth but the report at the end."""

import random
from dataclasses import asdict, dataclass, replace
from typing import Any

from orthotrope.calc.calibration import BlockDoubt, Calibration, block_checked, calibrated, length_measured
from orthotrope.calc.derived import derive
from orthotrope.calc.pocket_fits import RackFitInput, RackFitOutput, rack_fit
from orthotrope.calc.pockets import Pocket
from orthotrope.errors import InputError
from orthotrope.machine.control import Control
from orthotrope.machine.executor import ProgramRun
from orthotrope.machine.inputs import Inputs
from orthotrope.machine.run import Call, Run
from orthotrope.machine.world import World
from orthotrope.practising.truth import REFERENCE_SIGMA, Truth, draw, reference_of, true_setup, true_world
from orthotrope.proof.measuring import measuring_case
from orthotrope.proof.review import called_at
from orthotrope.sequence.allotment import Allotment
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.changer import rack_of
from orthotrope.setup.machine import AXES
from orthotrope.setup.tools import Tool
from orthotrope.units import MM_PER_INCH, round_to_step

TAUGHT = 5
CALIBRATIONS = 8
"""Each after homing anew, so that the scatter of home is in them."""

SIGHT = 0.004
"""mm; standard deviation of standing over a pocket by eye and dial."""

FEEL = 0.003
"""mm; standard deviation of resting a tool on a block, and of setting a zero with one."""

TRIES = 4
"""How often a measuring is begun before it is given up."""

BLOCK = 50.0
"""mm; the height of the gauge block."""

T_95 = {2: 4.303, 4: 2.776, 6: 2.447, 8: 2.306}
"""Student's t, two-sided 95 % (JCGM 100, table G.2)."""


@dataclass(frozen=True, slots=True)
class Quantity:
    """Result of a quantity, its half width at 95 %, and the truth that it is to be compared with; ``kind``: what
    is comparable."""

    quantity: str
    kind: str
    truth: float
    found: float
    half_width_95: float

    def as_json(self) -> dict[str, Any]:
        return asdict(self)


class Technician:
    """At one machine: what they know is ``setup``, which becomes what they find."""

    def __init__(self, setup: Setup, seed: int):
        self.setup = setup
        self.chance = random.Random(seed + 2)
        self._truth = draw(setup, seed)
        self._world = true_world(setup, self._truth)
        self.error = (0.0, 0.0, 0.0)
        self.test_inputs()
        self.home()

    # -- what hands do ------------------------------------------------------------------------------------------------

    def test_inputs(self) -> None:
        """An input that is seen as made while nothing touches it is taken the other way round from now on."""
        idle = Control(self.setup.profile, self._world, self._call())
        seen = {entry.number: idle.machine.signals.sees(entry) for entry in self._world.inputs}
        touching = {entry.number for entry in self.setup.inputs if entry.touches}
        inputs = Inputs(
            replace(entry, level="low" if entry.level == "high" else "high")
            if entry.number in touching and seen[entry.number]
            else entry
            for entry in self._world.inputs
        )
        self._world = replace(self._world, inputs=inputs)

    def home(self) -> None:
        """Home the axes: each counts from a little elsewhere every time."""
        signs = [-1.0 if axis.home == "least" else 1.0 for _, axis in self.setup.machine.axes.items()]
        errors = [
            self.chance.gauss(0.0, self._truth.home_sigma[name]) + sign * self._truth.backlash[name] / 2
            for name, sign in zip(AXES, signs, strict=True)
        ]
        self.error = errors[0], errors[1], errors[2]

    def stand_over(self, pocket: int) -> tuple[float, float]:
        """Jog the nose over a pocket, each axis arriving upwards, and read where it stands."""
        assert self._world.magazine is not None
        place = self._world.magazine.places[pocket]
        found = []
        for axis, true in enumerate(place):
            counted = true - self.error[axis] + self._truth.backlash[AXES[axis]] / 2 + self.chance.gauss(0.0, SIGHT)
            found.append(round_to_step(counted, self.setup.machine.axes[AXES[axis]].resolution))
        return found[0], found[1]

    def rest_on_block(self, tool: int, length: float, reference: int, reference_length: float) -> float:
        """Set the zero on the table with the reference tool, rest the tool on the block, and read the control."""
        tools = self._world.tools
        zero = tools[reference].length - reference_length + self.chance.gauss(0.0, FEEL)
        return BLOCK + tools[tool].length - length - zero + self.chance.gauss(0.0, FEEL)

    # -- what texts do ------------------------------------------------------------------------------------------------

    def _call(self) -> Call:
        return Call(called_at(self.setup), from_tool=self.setup.tools[0].number)

    def run(self, name: str, tool: int) -> Run:
        """A written text, run with the tool in the spindle; where it says that the touches differ, it is run again.

        Raises:
            InputError: where it does not come to its end.
        """
        for _ in range(TRIES):
            run = self._run(name, tool)
            said = [event.data["text"] for event in run.trace.of_kind("message")]
            if run.trace.ended == "end" and not any("differ" in text for text in said):
                return run
        raise InputError.at("", f"{name} of T{tool} did not finish: {' '.join(said) or run.trace.ended}.")

    def _run(self, name: str, tool: int) -> Run:
        _, case = measuring_case(self.setup, self.setup.profile, name, (tool,))
        control = Control(self.setup.profile, self._seen_world(), case.call)
        machine = control.machine
        machine.axes.error = self.error
        machine.touch_unit.noise = lambda: self.chance.gauss(0.0, self._truth.touch_sigma)
        return ProgramRun(case.program, control).go()

    def _seen_world(self) -> World:
        """The world with what the control has on record now."""
        recorded = {tool.number: tool.whole_length for tool in self.setup.tools}
        tools = {n: replace(tool, recorded=recorded.get(n, tool.recorded)) for n, tool in self._world.tools.items()}
        return replace(self._world, tools=tools)

    def know(self, change: dict[str, Any]) -> None:
        """Put what was found into the Setup."""
        document = self.setup.as_json()
        for pointer, value in change.items():
            node = document
            *way, last = pointer.strip("/").split("/")
            for part in way:
                node = node[int(part) if isinstance(node, list) else part]
            node[int(last) if isinstance(node, list) else last] = value
        self.setup = read_setup(document)


def practise(setup: Setup, seed: int) -> list[Quantity]:
    """The whole of it, in the hidden world of a seed.

    Raises:
        InputError: where the Setup has no setter or no tool.
    """
    if not setup.setters or not setup.tools:
        raise InputError.at("/setters", "A setter and a tool are needed; add them on the Setter and Tools stages.")
    technician = Technician(setup, seed)
    truth, real = draw(setup, seed), true_setup(setup, draw(setup, seed))
    found = list(_pockets(technician, real, truth)) if rack_of(setup.changer) else []
    reference = reference_of(setup)
    assert reference is not None
    plane = _plane(technician, reference.number)
    technician.know({"/setters/0/plane_z": plane.value})
    z_home = 1.0 if setup.machine.axes.upright.home == "greatest" else -1.0
    # Coming down, the slide is behind the drive by the backlash: that is how the control counts the plane.
    counted = real.setters[0].plane_z - (z_home + 1.0) * truth.backlash["Z"] / 2
    name = setup.setters[0].name
    found.append(Quantity(f"plane height, {name}", "plane height", counted, plane.value, plane.half_width_95))
    technician.home()
    lengths: dict[int, float] = {}
    for index, tool in _measured(setup):
        measured = length_measured(
            _trigger(technician.run("measure", tool.number), plane.value),
            plane,
            reference.whole_length,
            REFERENCE_SIGMA,
            setup.machine.axes.upright.resolution,
        )
        lengths[tool.number] = measured.value
        technician.know({f"/tools/{index}/length": measured.value, f"/tools/{index}/wear": 0.0})
        true = tool.whole_length + truth.tool_errors[tool.number]
        found.append(Quantity(f"length, T{tool.number}", "length", true, measured.value, measured.half_width_95))
    other = next((tool.number for tool in setup.tools if tool is not reference), reference.number)
    reading = technician.rest_on_block(other, lengths[other], reference.number, reference.whole_length)
    doubt = BlockDoubt(plane.scatter, plane.touches, FEEL, REFERENCE_SIGMA)
    check = block_checked(lengths[other], plane.value, BLOCK, reading, doubt)
    quantity = f"plane height, {name}, on the block"
    found.append(Quantity(quantity, "plane height on the block", counted, check.true_plane_z, check.half_width_95))
    return found


def _measured(setup: Setup) -> list[tuple[int, Tool]]:
    """The tools that are measured, with their place in the list."""
    numbers = {tool.number for tool in setup.measured()}
    return [(index, tool) for index, tool in enumerate(setup.tools) if tool.number in numbers]


def _pockets(technician: Technician, real: Setup, truth: Truth) -> list[Quantity]:
    """Five pockets along the rack, each after homing anew; the rack fitted through them."""
    rack, true_rack = rack_of(technician.setup.changer), rack_of(real.changer)
    assert rack and true_rack
    reserved = {entry.pocket for entry in technician.setup.occupants}
    free = [number for number in range(1, rack.count + 1) if number not in reserved]
    steps = (len(free) - 1) / (TAUGHT - 1)
    taught = []
    for number in sorted({free[round(step * steps)] for step in range(TAUGHT)}):
        technician.home()
        x, y = technician.stand_over(number)
        taught.append(Pocket(pocket=number, x=x, y=y))
    fit = rack_fit(RackFitInput(pockets=taught, pitch=None, tolerance=rack.placing_tolerance))
    factor = T_95[2 * len(taught) - 4]
    place = derive(real)
    assert place is not None and fit.origin_u is not None and fit.bearing_u_deg is not None and fit.pitch_u is not None
    first = place.pocket(1)
    signs = [-1.0 if technician.setup.machine.axes[axis].home == "least" else 1.0 for axis in ("X", "Y")]
    # Arriving upwards: where the control counts itself to be when the nose is there.
    behind = [(1.0 - sign) * truth.backlash[axis] / 2 for sign, axis in zip(signs, ("X", "Y"), strict=True)]
    _take_fit(technician, fit)
    return [
        Quantity("rack, pocket 1 X", "rack place", first.x + behind[0], fit.origin.x, factor * fit.origin_u.x),
        Quantity("rack, pocket 1 Y", "rack place", first.y + behind[1], fit.origin.y, factor * fit.origin_u.y),
        Quantity("rack, bearing", "rack bearing", true_rack.bearing_deg, fit.bearing_deg, factor * fit.bearing_u_deg),
        Quantity("rack, pitch", "rack pitch", true_rack.pitch, fit.pitch, factor * fit.pitch_u),
    ]


def _take_fit(technician: Technician, fit: RackFitOutput) -> None:
    datum = {"at": "pocket", "pocket": 1, "x": fit.origin.x, "y": fit.origin.y}
    technician.know(
        {"/changer/rack/datum": datum, "/changer/rack/bearing_deg": fit.bearing_deg, "/changer/rack/pitch": fit.pitch}
    )


def _trigger(run: Run, plane_z: float) -> float:
    """Where a tool was touched: by the length that the text has set, or where the control can't do the sum, by what it
    shows of the touches that count."""
    lengths = run.trace.of_kind("length-set")
    if lengths:
        return float(lengths[-1].data["length"]) + plane_z
    counted = [event.data["latched"][2] for event in run.trace.of_kind("touch")][1:]
    return float(sum(counted) / len(counted))


def _plane(technician: Technician, reference: int) -> Calibration:
    """The plane height by the reference tool, several times, each after homing anew."""
    setup = technician.setup
    length = setup.tool(reference).whole_length
    result = Allotment(setup.profile.parameters).number("result")
    inch = MM_PER_INCH if setup.profile.unit == "inch" else 1.0
    triggers = []
    for _ in range(CALIBRATIONS):
        technician.home()
        run = technician.run("calibrate", reference)
        said = [event.data["value"] for event in run.trace.of_kind("set") if event.data["parameter"] == result]
        triggers.append(said[-1] * inch + length if said else _trigger(run, 0.0))
    return calibrated(triggers, length, REFERENCE_SIGMA, setup.machine.axes.upright.resolution)
