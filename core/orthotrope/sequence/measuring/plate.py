"""The zero of a part by a touch plate of known thickness that lies on it."""

from collections.abc import Iterator

from orthotrope.sequence.measuring.registry import MeasuringRequest, finds, one_tool
from orthotrope.sequence.measuring.touching import Measuring
from orthotrope.sequence.steps import Compute, Move, Remark, Say, Sequence, SetOffset, Step, Stop
from orthotrope.sequence.values import Binary, length
from orthotrope.setup.tools import Tool

LIFT = 25.0
"""mm; how far above the plate the tip stands while the readout is compared."""

USUAL_OFFSET = 1


@finds("plate", "zero")
def plate(wanted: MeasuringRequest) -> Sequence:
    """The zero in Z of the plate's work offset: the plate's top, less its thickness."""
    m = Measuring.of(wanted)
    number = one_tool(wanted)
    offset = m.at.setter.work_offset or USUAL_OFFSET
    title = f"{wanted.setup.machine.name}: Z of work offset {offset} by {m.at.setter.name}"
    return Sequence(title, tuple(_steps(m, m.tool(number), offset)))


def _steps(m: Measuring, tool: Tool, offset: int) -> Iterator[Step]:
    setter, number = m.at.setter, tool.number
    thick, sets = setter.lies_on, m.works_out and m.wanted.profile.offset_word == "G10 L2"
    yield Remark(f"needs T{number} in the spindle, and {setter.name} on the part, its cable on")
    yield from m.holds(number)
    yield from m.touches(tool.whole_length, number if m.works_out else 0)
    if sets:
        found = m.use.number("result")
        yield Compute(found, m.mean(), "machine Z of the plate's top")
        zero = Binary("-", m.use.value("result"), length(thick))
        yield SetOffset(offset, (("Z", zero),), note="the part's top: the plate's top less its thickness")
        above = Binary("+", m.use.value("result"), length(tool.whole_length + LIFT))
        yield Move((("Z", above),), note="above the plate, to compare the readout")
        yield Say(f"In work offset {offset} the readout of Z must show {m.said(thick + LIFT)}")
    else:
        yield Say(
            f"Enter on the card: Z of work offset {offset} is Z of the touch less {m.said(tool.whole_length + thick)}"
        )
    yield Stop("pause")
    yield m.top
    yield Say("Take the plate and its cable off before the spindle starts")
    yield Stop("pause")
    yield from m.back()
    yield Stop("end")
    if m.works_out:
        yield from m.refusals()
