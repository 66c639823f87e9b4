"""What calibrating a setter and checking it on a block come to."""

from typing import Any

from orthotrope.calc.calibration import BlockCheck, BlockDoubt, Calibration, block_checked, calibrated
from orthotrope.errors import InputError
from orthotrope.proof.measuring import ToolResult, prove_tool
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


@answers(Calibration)
def calibrate(
    document: dict[str, Any], setter: str, tool: int, reference_u: float, planes: list[float], growth: float
) -> Calibration:
    """The plane height from what calibrating with a reference tool gave each time, mm."""
    setup = read_setup(document)
    found = _setter(setup, setter)
    length = setup.tool(tool).whole_length
    resolution = setup.machine.axes.upright.resolution
    return calibrated(
        [plane + length for plane in planes],
        length,
        reference_u,
        resolution,
        found.measure_feed / 60 * found.polling,
        growth,
    )


@answers(ToolResult)
def prove(document: dict[str, Any], tool: int) -> ToolResult:
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
