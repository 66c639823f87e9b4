"""What calibrating a setter and checking it on a block come to."""

from dataclasses import dataclass
from typing import Any

from orthotrope.calc.calibration import BlockCheck, BlockDoubt, Calibration, block_checked, calibrated, length_doubt
from orthotrope.calc.resting import RestsOn, of_reference
from orthotrope.calc.unmeasured import home_scatter
from orthotrope.errors import InputError
from orthotrope.proof.measuring import prove_tool
from orthotrope.proof.sequences.registry import SequenceResult
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.setters import Setter
from orthotrope.units import in_unit, shown_in, with_unit

from shop.job import answers

FEEL = 0.003
"""mm; resting a tool on a block, and setting a zero, as a standard deviation: by hand, with care."""


def _setter(setup: Setup, name: str) -> Setter:
    found = next((entry for entry in setup.setters if entry.name == name), None)
    if found is None:
        raise InputError.at("/setter", f'There is no setter "{name}".')
    return found


@dataclass(frozen=True, slots=True)
class PlaneFound:
    """A plane height, and what it rests on."""

    found: Calibration
    rests_on: RestsOn


@answers(PlaneFound)
def calibrate(
    document: dict[str, Any],
    setter: str,
    tool: int,
    reference_u: float,
    runs: list[tuple[float, int | None]],
    growth: float,
) -> PlaneFound:
    """The plane height from what calibrating with a reference tool gave each time, mm, with the homing that it was made after."""
    setup = read_setup(document)
    found = _setter(setup, setter)
    length, axis = setup.tool(tool).whole_length, setup.machine.axes.upright
    homings = {homing for _, homing in runs}
    again = len(homings) > 1 or None in homings
    home = home_scatter(axis)
    calibration = calibrated(
        [plane + length for plane, _ in runs],
        length,
        reference_u,
        axis.resolution,
        found.measure_feed / 60 * found.polling,
        growth,
        home=0.0 if again else home,
        apart=found.spread + (2 * home if again else 0.0),
    )
    return PlaneFound(calibration, of_reference(setup, found, tool))


@dataclass(frozen=True, slots=True)
class LengthOf:
    tool: int
    half_width_95: float
    assumed: tuple[str, ...]


@answers(list[LengthOf])
def lengths(
    document: dict[str, Any], setter: str, plane_half: float | None, measured: list[tuple[int, float]]
) -> list[LengthOf]:
    """What each length is uncertain by, mm; ``measured``: tool and length."""
    setup = read_setup(document)
    found = _setter(setup, setter)
    every = []
    for tool, value in measured:
        doubt = length_doubt(setup, found, value, plane_half)
        every.append(LengthOf(tool, doubt.half_width_95, doubt.assumed))
    return every


@answers(SequenceResult)
def prove(document: dict[str, Any], tool: int) -> SequenceResult:
    """What measuring a tool comes to: as it should go, under every fault, from every caller."""
    setup = read_setup(document)
    setup.tool(tool)
    with shown_in(setup.machine.unit):
        return prove_tool(setup, tool)


@answers(BlockCheck)
def check_on_block(
    document: dict[str, Any], setter: str, tool: int, block_height: float, reading: float, reference_u: float
) -> BlockCheck:
    """What a tool that rests on a block says of the plane height, mm."""
    setup = read_setup(document)
    found = _setter(setup, setter)
    if block_height <= 0:
        what = f"`block_height` must be above {with_unit(0)}; got {in_unit(block_height)}."
        raise InputError.at("/block_height", what)
    doubt = BlockDoubt(found.repeatability / 2, None, FEEL, reference_u)
    return block_checked(setup.tool(tool).whole_length, found.plane_z, block_height, reading, doubt)
