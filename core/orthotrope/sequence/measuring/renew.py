"""Using a length that was changed: the control goes by it only when the tool is called again."""

from collections.abc import Iterator

from orthotrope.sequence.measuring.registry import MeasuringRequest, finds, one_tool
from orthotrope.sequence.measuring.touching import Measuring
from orthotrope.sequence.steps import Label, Remark, Say, Sequence, Step, Stop, UseLength
from orthotrope.sequence.values import Number


@finds("renew", "nothing")
def renew(wanted: MeasuringRequest) -> Sequence:
    """The length on record of the tool in the spindle, in force from now on. Nothing moves."""
    number = one_tool(wanted)
    title = f"{wanted.setup.machine.name}: use the length of T{number} on record"
    return Sequence(title, tuple(_steps(Measuring.of(wanted), number)))


def _steps(m: Measuring, number: int) -> Iterator[Step]:
    yield Remark(f"needs T{number} in the spindle; nothing moves")
    yield from m.holds(number)
    yield UseLength(Number(number), "the length on record is in force")
    yield Say(f"The length of T{number} is in force")
    yield Stop("end")
    if m.use.has("another tool"):
        yield Label(m.use.label("another tool"))
        yield Say(f"T{number} must be in the spindle: another tool is, or the record is doubtful. Nothing was changed")
        yield Stop("pause")
        yield Stop("end")
