"""Each device that an exchange commands, by itself: it stays as it was, or takes three times as long."""

from abc import ABC, abstractmethod
from collections.abc import Iterator
from dataclasses import replace
from typing import NamedTuple

from orthotrope.machine.changing import ANGLE
from orthotrope.machine.run import Call, Run
from orthotrope.machine.world import World
from orthotrope.proof.case import Case
from orthotrope.proof.fault_runs import SharedRun
from orthotrope.proof.faults.registry import FAULTS, WORSE, Fault
from orthotrope.proof.judging import Detection, FaultResult, judge
from orthotrope.setup.roles import INPUT_ROLES

SLOWER = 3.0
"""Times that a slow device takes."""

MOST_BEFORE = 3
"""Times that a device may be commanded to go to the same state in one exchange, and stick."""

NAMES = {ANGLE: "the spindle's angle", "turn": "the disc", "disc": "the swing of the disc"}
"""What devices are called, where their own name does not say it."""


def devices_of(world: World) -> list[str]:
    """The devices that can fail, in a fixed order."""
    magazine = world.magazine
    if magazine is None:
        return []
    return sorted({*magazine.devices, *([ANGLE] if magazine.orientation else [])})


class Failing(NamedTuple):
    """A device that fails, or only on its way to a ``state``, which it has gone to ``before`` so often."""

    name: str
    state: str = ""
    before: int = 0

    @property
    def command(self) -> str:
        """As :attr:`Magazine.failing` and what was asked have it."""
        return f"{self.name} {self.state}".rstrip()

    def is_commanded(self, run: Run) -> bool:
        """Whether a run tells it to go to its state once more than before; one without a state is commanded once at least."""
        goes = (event.data for event in run.trace.of_kind("device"))
        return not self.before or sum((data["device"], data["state"]) == self[:2] for data in goes) > self.before

    @property
    def said(self) -> str:
        name = NAMES.get(self.name, f"the {self.name}")
        return f"{name[0].upper()}{name[1:]}"


class OneDevice(Fault, ABC):
    """``sensor``: which device it applies to, counted from 1 in the order of :meth:`each`."""

    of_exchange = True
    of_way = True
    blind: frozenset[str] = frozenset()
    """Devices whose input tells nothing of it."""

    def applies(self, world: World, call: Call) -> bool:
        return bool(devices_of(world))

    def each(self, world: World) -> list[Failing]:
        """What it can apply to, one at a time, in a fixed order."""
        return [Failing(name) for name in devices_of(world)]

    @abstractmethod
    def on(self, world: World, device: Failing) -> World:
        """The world in which it applies to this device."""

    @abstractmethod
    def advice(self, device: str) -> str:
        """What helps where no input tells."""

    def apply_to(self, case: Case, sensor: int | None = None) -> Case:
        return replace(case, world=self.on(case.world, self.each(case.world)[(sensor or 1) - 1]), _runs={})

    def variants(self, case: Case) -> Iterator[Case]:
        for number, device in enumerate(self.each(case.world), 1):
            if device.is_commanded(case.main):
                yield self.apply_to(case, number)

    def detection_of(self, device: str) -> Detection:
        """The roles of the inputs that tell of a device, and what helps where there is none."""
        roles = {ANGLE: ("oriented",)}.get(device) or tuple(
            role.name for role in INPUT_ROLES.values() if role.tells and role.tells[0] == device
        )
        return Detection(() if device in self.blind else roles, self.advice(NAMES.get(device, f"the {device}")))

    def verdict(self, case: Case, own: FaultResult, shared: SharedRun) -> FaultResult | None:
        """The worst of the devices that the exchange commands; None: it commands none."""
        found: FaultResult | None = None
        for number, device in enumerate(self.each(case.world), 1):
            if f"device {device.command}" not in shared.first or not device.is_commanded(shared.done):
                continue
            under = self.apply_to(case, number)
            shared.go_on(under, frozenset({f"device {device.command}"}))  # with few pairs of a family: none shares it
            result = judge(under, self.name, self.detection_of(device.name), own.finding)
            says = f"{self.label_of(device)}: {result.says}"
            if found is None or WORSE.index(result.verdict) < WORSE.index(found.verdict):
                found = replace(result, says=says, sensor=number)
        return found

    @abstractmethod
    def label_of(self, device: Failing) -> str:
        """The fault with the device in it."""


class Sticks(OneDevice):
    """A device stays as it was, whatever it is commanded; or only when it is commanded to go to one of its states, so that it is met later in the
    exchange. The grip's states have faults of their own."""

    label = "a device sticks"
    blind = frozenset({"turn"})  # it says that it stands in place, which it does

    def each(self, world: World) -> list[Failing]:
        command = world.magazine.commands if world.magazine else ()
        every = (Failing(*one, before) for one in command if one[0] != "grip" for before in range(MOST_BEFORE))
        return [*OneDevice.each(self, world), *sorted(every)]

    def on(self, world: World, device: Failing) -> World:
        assert world.magazine is not None
        return replace(
            world, magazine=replace(world.magazine, failing=frozenset({device.command}), obeys=device.before)
        )

    def advice(self, device: str) -> str:
        return f"An input that shows what {device} has done, waited for before the next move, would detect it."

    def label_of(self, device: Failing) -> str:
        again = " again" if device.before else ""
        return f"{device.said} sticks" + (f" on its way to {device.state}{again}" if device.state else "")


class Slow(OneDevice):
    """A device takes three times as long as the Setup says."""

    label = "a device is slow"

    def on(self, world: World, device: Failing) -> World:
        magazine = world.magazine
        assert magazine is not None
        if device.name == ANGLE and magazine.orientation:
            slow = replace(magazine.orientation, seconds=magazine.orientation.seconds * SLOWER)
            return replace(world, magazine=replace(magazine, orientation=slow))
        return replace(world, magazine=magazine.slowed(device.name, SLOWER))

    def advice(self, device: str) -> str:
        return f"An input that shows when {device} is done, waited for, would detect it; or a dwell of {SLOWER:g} times its time."

    def label_of(self, device: Failing) -> str:
        return f"{device.said} takes {SLOWER:g} times as long"


FAULTS.add("device-sticks", Sticks("device-sticks"))
FAULTS.add("device-slow", Slow("device-slow"))
