"""How an exchange ends: with a length in force that is true. A tool whose length stays as it was is used with the one on
record; one that may have slipped is measured at the setter, and where there is none the job does not go on by itself."""

from collections.abc import Iterator
from functools import cached_property

from orthotrope.calc.derived import DerivedChanger
from orthotrope.calc.setters import DerivedSetter, measuring_setter
from orthotrope.sequence.allotment import Allotment
from orthotrope.sequence.measuring.registry import MeasuringRequest
from orthotrope.sequence.measuring.touching import Measuring
from orthotrope.sequence.steps import Choose, Compute, ComputeIf, Label, Remark, Say, SetModes, Step, Stop, UseLength
from orthotrope.sequence.values import Binary, Number, Value, length, parameter
from orthotrope.setup import Setup
from orthotrope.setup.tools import Tool

MEASURE_BY_HAND = "The length in force is void: measure the tool in the spindle before the job goes on"
IN_FORCE = "The length of the tool is in force; state the feed again"


class Ending:
    """The end of an exchange, from when the spindle is up with the requested tool. ``part``: the exchange is part of a
    program that measures by itself, and says nothing of the length."""

    def __init__(self, setup: Setup, derived: DerivedChanger, use: Allotment, part: bool = False):
        self.setup, self.derived, self.use, self.part = setup, derived, use, part

    @cached_property
    def slips(self) -> list[Tool]:
        """The tools that must be measured after they were fetched."""
        return [] if self.part else self.setup.slipping()

    @cached_property
    def setter(self) -> DerivedSetter | None:
        """The one that measures them; None where it can't measure all of them, or there is none."""
        found = measuring_setter(self.setup, self.derived) if self.slips else None
        fits = {entry.number for entry in found.tools if entry.fits} if found else set[int]()
        return found if all(tool.number in fits for tool in self.slips) else None

    @cached_property
    def measuring(self) -> Measuring | None:
        """What measures them; None where there is no setter for it."""
        if self.setter is None:
            return None
        return Measuring(MeasuringRequest(self.setup, self.setter, self.setup.profile, (), (0.0, 0.0)), self.use)

    @property
    def in_text(self) -> Measuring | None:
        """What measures them in a text that does the sum itself."""
        return self.measuring if self.measuring and self.measuring.works_out else None

    # -- the one program of all pairs ---------------------------------------------------------------------------------

    def measured(self, requested: Value) -> Iterator[Step]:
        """The requested tool at the setter, where it is one that slips; its length set."""
        m = self.in_text
        if m is None:
            return
        expected, keeps = self.use.number("expected"), self.use.label("keeps its length")
        known = self.setup.profile.parameters
        yield Remark("a tool without a stop collar may have slipped: it is measured")
        yield Compute(expected, Number(0), "its length on record; 0: it keeps it")
        for tool in self.slips:
            yield ComputeIf(Binary("EQ", requested, Number(tool.number)), expected, length(tool.whole_length))
        yield Choose(Binary("EQ", self.use.value("expected"), Number(0)), keeps)
        beside = [tool for tool in self.slips if tool.off_axis]
        if beside:
            yield Compute(self.use.number("beside"), Number(0), "how far off its axis it is touched")
        for tool in beside:
            off = length(tool.off_axis)
            yield ComputeIf(Binary("EQ", requested, Number(tool.number)), self.use.number("beside"), off)
        where = self.use.value("beside") if beside else None
        yield from m.touches(self.use.value("expected"), stands=True, beside=where)
        yield from m.length_set(requested, self.use.value("expected"))
        yield Label(keeps)
        yield Compute(known.record_doubtful, Number(0), "the record is certain")

    def in_force(self, requested: Value) -> Iterator[Step]:
        """The length in force, and back to the caller; or where a person has to measure, a stop."""
        if self.part:
            yield Stop("return")
            return
        if self.slips and (self.in_text is None or self.setup.profile.length_word == "entry card"):
            for tool in self.slips:
                by_hand = self.use.label("measure by hand")
                yield Choose(Binary("EQ", requested, Number(tool.number)), by_hand, "its length is void")
        yield UseLength(requested, "its length is in force; none with the empty spindle")
        yield Say(IN_FORCE)
        yield Stop("return")

    def refusals(self) -> Iterator[Step]:
        """What it says where the tool was not measured."""
        if self.use.has("measure by hand"):
            yield Label(self.use.label("measure by hand"))
            yield Say(MEASURE_BY_HAND)
            yield Stop("pause")
            known = self.setup.profile.parameters
            yield SetModes((parameter(known.called_unit), parameter(known.called_distance)), "as the caller had them")
            yield Stop("end")
        if self.in_text:
            yield from self.in_text.refusals(moved=True)

    # -- one exchange with numbers ------------------------------------------------------------------------------------

    def by_numbers(self, tool: int) -> Iterator[Step]:
        """The touches of a tool that slips, for a control that does not do the sum."""
        slipped = next((entry for entry in self.slips if entry.number == tool), None)
        if slipped and self.measuring and not self.in_text:
            yield from self.measuring.touches(slipped.whole_length, stands=True, tool=slipped)

    def active_length(self, tool: int) -> Iterator[Step]:
        """Which length is in force, or is to be keyed in."""
        slipped = any(entry.number == tool for entry in self.slips)
        if slipped and self.measuring and not self.in_text:
            yield Say(self.measuring.key_in(tool))
        elif slipped:
            yield Say(MEASURE_BY_HAND)
        elif tool and not self.part:
            yield UseLength(Number(tool), "its length is in force")
            yield Say(IN_FORCE)
