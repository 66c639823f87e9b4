"""Measuring a tool's length, or those of several tools of the magazine in turn."""

from collections.abc import Iterator

from orthotrope.errors import InputError
from orthotrope.sequence.exchanges import Exchange, as_part, plan_every, plan_one
from orthotrope.sequence.measuring.registry import MEASURING, Wanted
from orthotrope.sequence.measuring.touching import Measuring
from orthotrope.sequence.steps import (
    Begin,
    CallProgram,
    Compute,
    Remark,
    Say,
    Sequence,
    SetLength,
    Step,
    Stop,
    UseLength,
)
from orthotrope.sequence.values import Binary, Number, Value, length, parameter


@MEASURING.register("measure")
def measure(wanted: Wanted) -> Sequence:
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
    yield Say(f"T{number} is measured; state the feed again" if m.works_out else _key_in(m, number))
    yield Stop("end")
    if m.works_out:
        yield from m.refusals()


def measured(m: Measuring, number: int) -> Iterator[Step]:
    """The touches of a tool, its length worked out of them and set, and in force."""
    tool = m.tool(number)
    yield from m.touches(tool.length)
    if not m.works_out:
        return
    found = m.use.number("result")
    yield Compute(found, _above_plane(m), "the length: Z at the touch less the plane height")
    if m.wanted.profile.length_word == "entry card":
        yield Say(f"Enter on the card: the length of T{number} is in #{found}")
        return
    yield SetLength(number, parameter(found))
    yield UseLength(number, "the new length is in force")


def _above_plane(m: Measuring) -> Value:
    return Binary("-", m.mean(), length(m.at.setter.plane_z))


def _key_in(m: Measuring, number: int) -> str:
    return (
        f"Enter on the card: the length of T{number} is Z of the touch less the plane height, then call T{number} anew"
    )


def _in_turn(m: Measuring) -> Iterator[Step]:
    """Each tool is fetched by the exchange, which stands behind as a program of its own."""
    profile, exchange = m.wanted.profile, as_part(plan_every(m.wanted.setup))
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
        exchange = plan_one(m.wanted.setup, Exchange(before, number, m.wanted.called_at))
        yield Remark(exchange.title)
        yield from exchange.steps[:-1]  # but for its end: it goes on
        yield from measured(m, number)
        yield Say(_key_in(m, number))
        yield Stop("pause")
        before = number
    yield from m.back()
    yield Stop("end")
