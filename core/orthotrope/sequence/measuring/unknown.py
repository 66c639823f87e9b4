"""Measuring a tool whose length is not known: the input is made by hand first, then the search is as long as the tools
differ, since where it should touch is not known."""

from collections.abc import Iterator

from orthotrope.errors import InputError
from orthotrope.sequence.measuring.registry import MeasuringRequest, finds, one_tool
from orthotrope.sequence.measuring.touching import Measuring
from orthotrope.sequence.steps import Remark, Say, Sequence, Step, Stop
from orthotrope.sequence.values import Number
from orthotrope.units import with_unit


@finds("unknown", "length")
def unknown(wanted: MeasuringRequest) -> Sequence:
    """The length of a tool in the spindle, from where the longest tool would touch to where the shortest one would.

    Raises:
        InputError: where there is no travel for it.
    """
    m, number = Measuring.of(wanted), one_tool(wanted)
    lengths = [tool.whole_length for tool in wanted.setup.tools]
    longest, shortest = max(lengths), min(lengths)
    upright, setter = wanted.setup.machine.axes.upright, m.at.setter
    begin, end = setter.plane_z + longest + setter.margin, setter.plane_z + shortest - setter.overtravel
    if begin > upright.soft_greatest or end < upright.soft_least:
        room = f"from {with_unit(end)} to {with_unit(begin)}"
        raise InputError.at(
            "/tools", f"The search for a tool of unknown length needs Z {room}; there is no such travel."
        )
    title = f"{wanted.setup.machine.name}: length of T{number}, not known, at {setter.name}"
    return Sequence(title, tuple(_steps(m, number, longest, longest - shortest)))


def _steps(m: Measuring, number: int, longest: float, further: float) -> Iterator[Step]:
    name = m.at.setter.name
    yield Remark(f"needs T{number} in the spindle; nothing is known of its length")
    yield from m.holds(number)
    yield Say(f"Press {name} by hand and see its lamp come on and go out: a dead input would not stop the search")
    yield Stop("pause")
    yield from m.touches(longest, further=further)
    if m.works_out:
        yield from m.length_set(Number(number))
    yield from m.back()
    yield Say(f"T{number} is measured; state the feed again" if m.works_out else m.key_in(number))
    yield Stop("end")
    if m.works_out:
        yield from m.refusals()
