"""The machine or the control is not as the program wants it when it is called."""

from dataclasses import replace

from orthotrope.machine.run import Call
from orthotrope.machine.world import World
from orthotrope.proof.case import Case
from orthotrope.proof.faults.registry import FAULTS, Fault


class UnitOther(Fault):
    """Called from a job in the other unit."""

    label = "called in the other unit"

    def call(self, call: Call) -> Call:
        return replace(call, unit=20 if call.unit == 21 else 21)

    def changes(self, case: Case) -> frozenset[str] | None:
        return frozenset({"unit"}) if case.main.unit_first else None


class NotHomed(Fault):
    """Called before homing."""

    label = "not homed"

    def world(self, world: World, call: Call) -> World:
        return replace(world, homed=False)


class _Override(Fault):
    """The feed override stands elsewhere than at 100 %."""

    def __init__(self, name: str, label: str, share: float):
        super().__init__(name)
        self.label, self.share = label, share

    def call(self, call: Call) -> Call:
        return replace(call, override=self.share)

    def changes(self, case: Case) -> frozenset[str]:
        return frozenset({"override"})


FAULTS.add("unit-other", UnitOther("unit-other"))
FAULTS.add("not-homed", NotHomed("not-homed"))
FAULTS.add("override-low", _Override("override-low", "feed override at 10 %", 0.1))
FAULTS.add("override-high", _Override("override-high", "feed override at 150 %", 1.5))
