"""Calibrating a setter's plane height with a tool of known length."""

from collections.abc import Iterator

from orthotrope.sequence.measuring.registry import MeasuringRequest, finds, one_tool
from orthotrope.sequence.measuring.touching import Measuring
from orthotrope.sequence.steps import Compute, Remark, Say, Sequence, Step, Stop
from orthotrope.sequence.values import Binary, length


@finds("calibrate", "plane")
def calibrate(wanted: MeasuringRequest) -> Sequence:
    """The plane height from a reference tool in the spindle, whose length is the one on record."""
    m = Measuring.of(wanted)
    number = one_tool(wanted)
    title = f"{wanted.setup.machine.name}: plane height of {m.at.setter.name} with T{number}"
    return Sequence(title, tuple(_steps(m, number)))


def _steps(m: Measuring, number: int) -> Iterator[Step]:
    tool = m.tool(number)
    yield Remark(f"needs T{number} in the spindle, {tool.name or 'the reference tool'}")
    yield from m.holds(number)
    yield from m.touches(tool.whole_length, tool=tool)
    if m.works_out:
        found = m.use.number("result")
        yield Compute(
            found, Binary("-", m.mean(), length(tool.whole_length)), "the plane: Z at the touch less the length"
        )
    yield from m.back()
    if m.works_out:
        yield Say(f"The plane height of {m.at.setter.name} is in #{m.use.number('result')}: take it as a reading")
    else:
        yield Say(f"The plane height is Z of the touch less the length of T{number}: take it as a reading")
    yield Stop("pause")
    yield Stop("end")
    if m.works_out:
        yield from m.refusals()
