"""Measuring a tool's length, or those of several tools of the magazine in turn."""

from collections.abc import Iterator

from orthotrope.errors import InputError
from orthotrope.sequence.exchanges import Exchange, plan_every, plan_one
from orthotrope.sequence.measuring.registry import MeasuringRequest, finds
from orthotrope.sequence.measuring.touching import Measuring
from orthotrope.sequence.steps import (
    Begin,
    CallProgram,
    Remark,
    Say,
    Sequence,
    Step,
    Stop,
)
from orthotrope.sequence.values import Number, parameter


@finds("measure", "length")
def measure(wanted: MeasuringRequest) -> Sequence:
    """The length of one tool that is in the spindle; of several, which are taken in turn."""
    if not wanted.tools:
        raise InputError.at("/tool", "`tool` is missing; say which tool is to be measured.")
    m = Measuring.of(wanted)
    named = ", ".join(f"T{number}" for number in wanted.tools)
    title = f"{wanted.setup.machine.name}: length of {named} at {m.at.setter.name}"
    if len(wanted.tools) == 1:
        return Sequence(title, tuple(_alone(m, wanted.tools[0])))
    return Sequence(title, tuple(_in_turn(m) if m.works_out else _in_turn_by_numbers(m)))


def _alone(m: Measuring, number: int) -> Iterator[Step]:
    yield Remark(f"needs T{number} in the spindle")
    yield from m.holds(number)
    yield from measured(m, number)
    yield from m.back()
    yield Say(f"T{number} is measured; state the feed again" if m.works_out else m.key_in(number))
    yield Stop("end")
    if m.works_out:
        yield from m.refusals()


def measured(m: Measuring, number: int) -> Iterator[Step]:
    """The touches of a tool, its length worked out of them and set, and in force."""
    tool = m.tool(number)
    if tool.edge_height is not None and m.at.setter.width is None:
        sides = f"{m.at.setter.name} can't be touched from its sides: leave out the edge height of T{number}."
        raise InputError.at("/edge_height", sides)
    yield from m.touches(tool.whole_length, tool=tool)
    if m.works_out:
        yield from m.length_set(Number(number))
    if tool.edge_height is not None:
        yield from m.sides(tool)


def _in_turn(m: Measuring) -> Iterator[Step]:
    """Each tool is fetched by the exchange, which stands behind as a program of its own."""
    profile, exchange = m.wanted.profile, plan_every(m.wanted.setup.with_profile(m.wanted.profile.name), part=True)
    record = parameter(profile.parameters.record)
    yield Remark(f"each tool is fetched by program O{profile.exchange_program}, which stands below")
    for number in m.wanted.tools:
        arguments = (("A", record), ("B", Number(number)))
        yield CallProgram(profile.exchange_program, arguments, f"fetch T{number}")
        yield from m.holds(number)
        yield from measured(m, number)
    yield from m.back()
    yield Say("All are measured; state the feed again")
    yield Stop("end")
    yield from m.refusals()
    yield Begin(profile.exchange_program)
    yield Remark(exchange.title)
    yield from exchange.steps


def _in_turn_by_numbers(m: Measuring) -> Iterator[Step]:
    """Each tool is fetched by an exchange with numbers; the first from the empty spindle."""
    before = 0
    for number in m.wanted.tools:
        exchange = plan_one(
            m.wanted.setup.with_profile(m.wanted.profile.name), Exchange(before, number, m.wanted.called_at, part=True)
        )
        yield Remark(exchange.title)
        yield from exchange.steps[:-1]  # but for its end: it goes on
        yield from measured(m, number)
        yield Say(m.key_in(number))
        yield Stop("pause")
        before = number
    yield from m.back()
    yield Stop("end")
