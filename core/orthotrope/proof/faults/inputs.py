"""Inputs that tell nothing, or the wrong thing."""

from dataclasses import replace

from orthotrope.machine.inputs import WorldInput
from orthotrope.machine.run import Call
from orthotrope.machine.world import World
from orthotrope.proof.case import Case
from orthotrope.proof.faults.registry import FAULTS, Fault
from orthotrope.proof.judging import FaultResult, judge
from orthotrope.proof.sharing import SharedRun
from orthotrope.setup.roles import INPUT_ROLES


def tells_of_exchange(entry: WorldInput) -> bool:
    """Whether an exchange may wait for it."""
    return INPUT_ROLES[entry.role].of_changer or entry.role in ("oriented", "spindle still")


class TouchInput(Fault):
    """A touch's input; exchanges touch nothing, so none of these befalls one."""

    def __init__(self, name: str, label: str):
        super().__init__(name)
        self.label = label

    def applies(self, world: World, call: Call) -> bool:
        return False


class SensorDead(Fault):
    """The inputs that tell what the changer's devices have done are dead."""

    label = "a sensor is dead"

    def applies(self, world: World, call: Call) -> bool:
        return world.magazine is not None and any(tells_of_exchange(entry) for entry in world.inputs)

    def world(self, world: World, call: Call) -> World:
        return replace(world, inputs=tuple(e.as_dead(tells_of_exchange(e)) for e in world.inputs))

    def befall(self, case: Case, sensor: int | None = None) -> Case:
        if sensor is None:
            return Fault.befall(self, case)
        inputs = tuple(e.as_dead(e.number == sensor) for e in case.world.inputs)
        return replace(case, world=replace(case.world, inputs=inputs), _runs={})

    def verdict(self, case: Case, own: FaultResult, shared: SharedRun) -> FaultResult:
        """Each sensor that the exchange asks dead by itself; the worst of them, or where all are safe how many there
        are."""
        first, read = case.profile.parameters.input_first, case.main.read
        asked = [entry for entry in case.world.inputs if tells_of_exchange(entry) and first + entry.number in read]
        for entry in asked:
            under = self.befall(case, entry.number)
            shared.go_on(under, frozenset({f"input {entry.number}"}), (self.name, entry.number))
            result = judge(under, self.name, self.telling, own.finding)
            if result.verdict != "safe":
                return replace(result, says=f"With {entry.name} dead: {result.says}", sensor=entry.number)
        if not asked:
            return FaultResult(self.name, "safe", "It asks no sensor.")
        return FaultResult(
            self.name, "safe", f"With any one of {len(asked)} sensors dead it stops by itself or ends as it should."
        )


for _name, _label in (
    ("touch-input-dead", "the touch's input is dead"),
    ("touch-input-stuck", "the touch's input is stuck"),
    ("touch-input-inverted", "the touch's input is inverted"),
):
    FAULTS.add(_name, TouchInput(_name, _label))
FAULTS.add("sensor-dead", SensorDead("sensor-dead"))
