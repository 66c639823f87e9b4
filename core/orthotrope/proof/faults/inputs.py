"""Inputs that tell nothing, or the wrong thing."""

import math
from collections.abc import Callable, Iterator
from dataclasses import replace

from orthotrope.machine.inputs import Inputs, WorldInput
from orthotrope.machine.run import Call
from orthotrope.machine.trace import Event
from orthotrope.machine.world import World
from orthotrope.proof.case import Case
from orthotrope.proof.completing import off_by, result_of
from orthotrope.proof.fault_runs import SharedRun
from orthotrope.proof.faults.registry import FAULTS, Fault
from orthotrope.proof.findings import Finding
from orthotrope.proof.judging import Detection, FaultResult, judge
from orthotrope.setup.roles import INPUT_ROLES
from orthotrope.units import with_unit


def tells_of_exchange(entry: WorldInput) -> bool:
    """Whether an exchange may wait for it."""
    return INPUT_ROLES[entry.role].of_changer or entry.role in ("oriented", "spindle still")


def _polled(case: Case) -> list[WorldInput]:
    """The inputs that a case, as called, reads."""
    first, read = case.profile.parameters.input_first, case.main.read
    return [entry for entry in case.world.inputs if first + entry.number in read]


class TouchInput(Fault):
    """The inputs that touches make."""

    def __init__(self, name: str, label: str, wrong: Callable[[WorldInput], WorldInput]):
        super().__init__(name)
        self.label, self.wrong = label, wrong

    def applies(self, world: World, call: Call) -> bool:
        return any(INPUT_ROLES[entry.role].touch for entry in world.inputs)

    def world(self, world: World, call: Call) -> World:
        touching = {entry.number for entry in world.inputs if INPUT_ROLES[entry.role].touch}
        return replace(world, inputs=Inputs(self.wrong(e) if e.number in touching else e for e in world.inputs))

    def changes(self, case: Case) -> frozenset[str]:
        return frozenset(f"input {e.number}" for e in case.world.inputs if INPUT_ROLES[e.role].touch)

    def verdict(self, case: Case, own: FaultResult, shared: SharedRun) -> FaultResult | None:
        """None for an exchange that touches nothing."""
        touches = case.main.trace.of_kind("touch", "missed-touch")
        return Fault.verdict(self, case, own, shared) if touches else None


def _dead(entry: WorldInput) -> WorldInput:
    return replace(entry, dead=True)


def _stuck(entry: WorldInput) -> WorldInput:
    return replace(entry, stuck=True)


def _inverted(entry: WorldInput) -> WorldInput:
    return replace(entry, level="low" if entry.level == "high" else "high")


def _stays(entry: WorldInput) -> WorldInput:
    return replace(entry, stays=True)


class TouchInputDead(TouchInput):
    """Dead from the beginning, or from the second or third touch on: a search that met the surface says nothing of the touches after
    it."""

    def __init__(self, name: str):
        super().__init__(name, "the touch's input is dead", _dead)

    def detected_by(self, case: Case) -> Detection | None:
        """A person who is asked to make the input by hand, before the first touch, sees that it is dead."""
        pauses, touches = case.main.trace.of_kind("pause"), case.main.trace.of_kind("touch")
        asked = bool(pauses and touches) and pauses[0].t < touches[0].t
        return Detection((), BY_HAND) if asked else None

    def judged(self, under: Case, case: Case, own: FaultResult) -> FaultResult:
        """One that dies later was alive when it was made by hand."""
        dies = any(math.isfinite(entry.dies_after) for entry in under.world.inputs)
        return judge(under, self.name, None if dies else self.detected_by(case), own.finding)

    def variants(self, case: Case) -> Iterator[Case]:
        under = self.apply_to(case)
        yield under
        touching = {entry.number for entry in case.world.inputs if INPUT_ROLES[entry.role].touch}
        for touches in range(1, min(len(case.main.trace.of_kind("touch")), LATEST_DEAD + 1)):
            inputs = (replace(e, dies_after=touches) if e.number in touching else e for e in case.world.inputs)
            yield replace(under, world=replace(case.world, inputs=Inputs(inputs)), _runs={})


BY_HAND = "Making it by hand, as the text asks before it begins, detects it: do not go on unless it comes and goes."

LATEST_DEAD = 2
"""Touches after which an input dies: the search, and the first that counts; what comes after them is the same again."""

SCATTERS = 0.1
"""mm; by what every second touch is late: dirt in the switch."""


class TouchesDiffer(TouchInput):
    """Every second touch is late, or every first: the later one of two is now the lower, now the higher. A text that touches more than once
    can tell."""

    def __init__(self, name: str, label: str):
        super().__init__(name, label, lambda entry: entry)

    def world(self, world: World, call: Call) -> World:
        return replace(world, scatter=SCATTERS)

    def variants(self, case: Case) -> Iterator[Case]:
        under = self.apply_to(case)
        yield under
        yield replace(under, world=replace(under.world, scatter=-SCATTERS), _runs={})

    def judged(self, under: Case, case: Case, own: FaultResult) -> FaultResult:
        result = TouchInput.judged(self, under, case, own)
        return result if case.purpose == "probe" else _off_by_it(under, result)

    def verdict(self, case: Case, own: FaultResult, shared: SharedRun) -> FaultResult | None:
        """None where the Setup has one touch only."""
        setup, held = case.setup, case.call.from_tool
        if setup is None:
            return None
        if case.purpose == "probe":
            often = all(probe.touches > 1 for probe in setup.probes if probe.tool == held)
        else:
            often = all(setter.touches > 1 for setter in setup.setters)
        return TouchInput.verdict(self, case, own, shared) if often else None


def _off_by_it(under: Case, result: FaultResult) -> FaultResult:
    """What is found though the touches differ; the verdict as it is where nothing is."""
    if result.verdict != "safe":
        return result
    found, event = off_by(under), result_of(under)
    if found is not None and abs(found) > SCATTERS / 4 and under.measured and event:
        return _differs(result, event, f"The {under.measured.name} is found {with_unit(abs(found))} off")
    for event in under.main.trace.of_kind("length-set"):
        tool = under.world.tools.get(event.data["tool"])
        off = abs(event.data["length"] - tool.length) if tool else 0.0
        if off > SCATTERS / 4:
            return _differs(result, event, f"The length of T{event.data['tool']} is set {with_unit(off)} off")
    return result


def _differs(result: FaultResult, event: Event, what: str) -> FaultResult:
    says = f"{what}, from touches that differ. No signal detects it; touch more than once, and compare."
    finding = Finding("offset-off", "warn", says, event.line, event.t, event.position)
    return replace(result, verdict="undetectable", says=says, finding=finding)


class SensorDead(Fault):
    """The inputs that tell what the changer's devices have done are dead."""

    label = "a sensor is dead"
    of_exchange = True

    def applies(self, world: World, call: Call) -> bool:
        return world.magazine is not None and any(tells_of_exchange(entry) for entry in world.inputs)

    def world(self, world: World, call: Call) -> World:
        return replace(world, inputs=Inputs(e.as_dead(tells_of_exchange(e)) for e in world.inputs))

    def apply_to(self, case: Case, sensor: int | None = None) -> Case:
        if sensor is None:
            return Fault.apply_to(self, case)
        return replace(case, world=replace(case.world, inputs=case.world.inputs.with_dead(sensor)), _runs={})

    def variants(self, case: Case) -> Iterator[Case]:
        yield from (self.apply_to(case, entry.number) for entry in _polled(case) if tells_of_exchange(entry))

    def verdict(self, case: Case, own: FaultResult, shared: SharedRun) -> FaultResult:
        """Each sensor that the exchange asks dead by itself; the worst of them, or where all are safe how many there
        are."""
        asked = [entry for entry in _polled(case) if tells_of_exchange(entry)]
        for entry in asked:
            under = self.apply_to(case, entry.number)
            shared.go_on(under, frozenset({f"input {entry.number}"}), (self.name, entry.number))
            result = judge(under, self.name, self.detection, own.finding)
            if result.verdict != "safe":
                return replace(result, says=f"With {entry.name} dead: {result.says}", sensor=entry.number)
        if not asked:
            return FaultResult(self.name, "safe", "It checks no sensor.")
        return FaultResult(
            self.name, "safe", f"With any one of {len(asked)} sensors dead it stops by itself or finishes normally."
        )


class InputReversed(Fault):
    """Each input that the program asks is wired the other way round, by itself."""

    label = "an input is reversed"
    of_way = True

    def applies(self, world: World, call: Call) -> bool:
        return bool(world.inputs)

    def apply_to(self, case: Case, sensor: int | None = None) -> Case:
        which = sensor or case.world.inputs[0].number
        inputs = Inputs(_inverted(e) if e.number == which else e for e in case.world.inputs)
        return replace(case, world=replace(case.world, inputs=inputs), _runs={})

    def variants(self, case: Case) -> Iterator[Case]:
        yield from (self.apply_to(case, entry.number) for entry in _polled(case))

    def verdict(self, case: Case, own: FaultResult, shared: SharedRun) -> FaultResult | None:
        """The worst of the inputs; None: it asks none."""
        asked = _polled(case)
        for entry in asked:
            under = self.apply_to(case, entry.number)
            shared.go_on(under, frozenset({f"input {entry.number}"}))
            result = judge(under, self.name, self.detection, own.finding)
            if result.verdict != "safe":
                return replace(result, says=f"With {entry.name} reversed: {result.says}", sensor=entry.number)
        says = f"With any one of {len(asked)} inputs reversed it stops by itself or finishes normally."
        return FaultResult(self.name, "safe", says) if asked else None


FAULTS.add("touch-input-dead", TouchInputDead("touch-input-dead"))
for _name, _label, _wrong in (
    ("touch-input-stuck", "the touch's input is stuck", _stuck),
    ("touch-input-inverted", "the touch's input is inverted", _inverted),
    ("touch-input-stays", "the touch's input stays made", _stays),
):
    FAULTS.add(_name, TouchInput(_name, _label, _wrong))
FAULTS.add("touches-differ", TouchesDiffer("touches-differ", "the touches differ"))
FAULTS.add("sensor-dead", SensorDead("sensor-dead"))
FAULTS.add("input-reversed", InputReversed("input-reversed"))
