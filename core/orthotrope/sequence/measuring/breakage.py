"""Looking whether a tool has broken: its length against the one on record. Nothing is set."""

from collections.abc import Iterator

from orthotrope.sequence.measuring.registry import MeasuringRequest, finds, one_tool
from orthotrope.sequence.measuring.touching import Measuring
from orthotrope.sequence.steps import Choose, Compute, Remark, Say, Sequence, Step, Stop
from orthotrope.sequence.values import Binary, Function, length
from orthotrope.setup.tools import Tool


@finds("breakage", "deviation")
def breakage(wanted: MeasuringRequest) -> Sequence:
    """The length of a tool in the spindle, compared with its record within the tool's tolerance for breakage."""
    m = Measuring.of(wanted)
    number = one_tool(wanted)
    title = f"{wanted.setup.machine.name}: is T{number} whole?"
    return Sequence(title, tuple(_steps(m, m.tool(number))))


def _steps(m: Measuring, tool: Tool) -> Iterator[Step]:
    number = tool.number
    yield Remark(f"needs T{number} in the spindle")
    yield from m.holds(number)
    yield from m.touches(tool.whole_length, tool=tool)
    if m.works_out:
        found = m.use.number("result")
        off = Binary("-", m.mean(), length(m.at.setter.plane_z + tool.whole_length))
        yield Compute(found, off, "longer than on record; negative: shorter")
        broken = Binary("GT", Function("ABS", (m.use.value("result"),)), length(tool.breakage))
        yield Choose(broken, m.use.label("broken"))
    yield from m.back()
    if m.works_out:
        yield Say(f"T{number} is whole; state the feed again")
    else:
        expected = m.at.setter.plane_z + tool.whole_length
        yield Say(f"T{number} is whole where Z of the touch is {m.said(expected)} within {m.said(tool.breakage)}")
        yield Stop("pause")
    yield Stop("end")
    if m.works_out:
        yield from m.refusals()
