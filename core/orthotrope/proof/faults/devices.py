"""Each device that an exchange commands, by itself: it stays as it was, or takes three times as long."""

from abc import ABC, abstractmethod
from dataclasses import replace

from orthotrope.machine.changing import ANGLE
from orthotrope.machine.run import Call
from orthotrope.machine.world import World
from orthotrope.proof.case import Case
from orthotrope.proof.faults.registry import FAULTS, Fault
from orthotrope.proof.judging import FaultResult, Telling, judge
from orthotrope.proof.sharing import SharedRun
from orthotrope.setup.roles import INPUT_ROLES

SLOWER = 3.0
"""Times that a slow device takes."""

NAMES = {ANGLE: "the spindle's angle", "turn": "the disc", "disc": "the swing of the disc"}
"""What devices are called, where their own name does not say it."""


def devices_of(world: World) -> list[str]:
    """The devices that can fail, in a fixed order."""
    magazine = world.magazine
    if magazine is None:
        return []
    return sorted({*magazine.devices, *([ANGLE] if magazine.orientation else [])})


class OneDevice(Fault, ABC):
    """``sensor``: which device it befalls, counted from 1 in the order of :func:`devices_of`."""

    of_exchange = True
    of_way = True
    blind: frozenset[str] = frozenset()
    """Devices whose input tells nothing of it."""

    def applies(self, world: World, call: Call) -> bool:
        return bool(devices_of(world))

    @abstractmethod
    def on(self, world: World, device: str) -> World:
        """The world in which it befalls this device."""

    @abstractmethod
    def advice(self, device: str) -> str:
        """What helps where no input tells."""

    def befall(self, case: Case, sensor: int | None = None) -> Case:
        return replace(case, world=self.on(case.world, devices_of(case.world)[(sensor or 1) - 1]), _runs={})

    def telling_of(self, device: str) -> Telling:
        """The roles of the inputs that tell of a device, and what helps where there is none."""
        roles = {ANGLE: ("oriented",)}.get(device) or tuple(
            role.name for role in INPUT_ROLES.values() if role.tells and role.tells[0] == device
        )
        return Telling(() if device in self.blind else roles, self.advice(NAMES.get(device, f"the {device}")))

    def verdict(self, case: Case, own: FaultResult, shared: SharedRun) -> FaultResult | None:
        """The worst of the devices that the exchange commands; None: it commands none."""
        found: FaultResult | None = None
        for number, device in enumerate(devices_of(case.world), 1):
            if f"device {device}" not in shared.first:
                continue
            under = self.befall(case, number)
            shared.go_on(under, frozenset({f"device {device}"}), (self.name, device))
            result = judge(under, self.name, self.telling_of(device), own.finding)
            says = f"{self.label_of(device)}: {result.says}"
            if found is None or ORDER.index(result.verdict) < ORDER.index(found.verdict):
                found = replace(result, says=says, sensor=number)
        return found

    @abstractmethod
    def label_of(self, device: str) -> str:
        """The fault with the device in it."""


ORDER = ("unsafe", "undetectable", "safe")


class Sticks(OneDevice):
    """A device stays as it was, whatever it is told."""

    label = "a device sticks"
    blind = frozenset({"turn"})  # it says that it stands in place, which it does

    def on(self, world: World, device: str) -> World:
        assert world.magazine is not None
        return replace(world, magazine=replace(world.magazine, failing=frozenset({device})))

    def advice(self, device: str) -> str:
        return f"An input that tells what {device} has done, waited for before the next move, would tell."

    def label_of(self, device: str) -> str:
        name = NAMES.get(device, f"the {device}")
        return f"{name[0].upper()}{name[1:]} sticks"


class Slow(OneDevice):
    """A device takes three times as long as the Setup says."""

    label = "a device is slow"

    def on(self, world: World, device: str) -> World:
        magazine = world.magazine
        assert magazine is not None
        if device == ANGLE and magazine.orientation:
            slow = replace(magazine.orientation, seconds=magazine.orientation.seconds * SLOWER)
            return replace(world, magazine=replace(magazine, orientation=slow))
        return replace(world, magazine=magazine.slowed(device, SLOWER))

    def advice(self, device: str) -> str:
        return f"An input that tells when {device} is done, waited for, would tell; or a dwell of {SLOWER:g} times its time."

    def label_of(self, device: str) -> str:
        name = NAMES.get(device, f"the {device}")
        return f"{name[0].upper()}{name[1:]} takes {SLOWER:g} times as long"


FAULTS.add("device-sticks", Sticks("device-sticks"))
FAULTS.add("device-slow", Slow("device-slow"))
