"""The changer's devices do not act."""

from dataclasses import replace

from orthotrope.machine.inputs import Inputs
from orthotrope.machine.run import Call
from orthotrope.machine.world import World
from orthotrope.proof.case import Case
from orthotrope.proof.faults.registry import FAULTS, Fault
from orthotrope.setup.roles import OPEN, OUTPUT_ROLES


class _Stays(Fault):
    """A device on its way to one state does not act."""

    of_exchange = True

    def __init__(self, name: str, label: str, failing: str):
        super().__init__(name)
        self.label, self.failing = label, failing

    def applies(self, world: World, call: Call) -> bool:
        return world.magazine is not None and "grip" in world.magazine.devices

    def world(self, world: World, call: Call) -> World:
        assert world.magazine is not None
        return replace(world, magazine=replace(world.magazine, failing=frozenset({self.failing})))

    def changes(self, case: Case) -> frozenset[str]:
        return frozenset({f"device {self.failing}"})


class AirLow(_Stays):
    """Springs close the grip, air does the rest; and the input that tells of it says so."""

    def world(self, world: World, call: Call) -> World:
        driven = {role.device for role in OUTPUT_ROLES.values() if role.by_air}
        inputs = Inputs(entry.as_dead(entry.role == "air") for entry in world.inputs)
        assert world.magazine is not None
        return replace(
            world, magazine=replace(world.magazine, failing=frozenset({self.failing, *driven})), inputs=inputs
        )

    def changes(self, case: Case) -> frozenset[str]:
        devices = {f"device {role.device}" for role in OUTPUT_ROLES.values() if role.by_air}
        return frozenset(
            {f"device {self.failing}", *devices, *(f"input {e.number}" for e in case.world.inputs if e.role == "air")}
        )


FAULTS.add("grip-stays-shut", _Stays("grip-stays-shut", "the grip stays shut", f"grip {OPEN}"))
FAULTS.add("grip-stays-open", _Stays("grip-stays-open", "the grip stays open", "grip closed"))
FAULTS.add("air-low", AirLow("air-low", "the air is low", f"grip {OPEN}"))
