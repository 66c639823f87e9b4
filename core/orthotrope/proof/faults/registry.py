"""What a fault is, and the registry of them."""

from collections.abc import Iterator
from dataclasses import replace

from orthotrope.errors import InputError
from orthotrope.machine.run import Call
from orthotrope.machine.world import World
from orthotrope.proof.case import Case
from orthotrope.proof.fault_runs import SharedRun
from orthotrope.proof.judging import Detection, FaultResult, Verdict, judge
from orthotrope.registry import Registry

WORSE: tuple[Verdict, ...] = ("unsafe", "undetectable", "safe")
"""The worst first."""


class Fault:
    """One thing that is wrong with a machine, or with how it is called; this one is nothing wrong at all.

    ``label``: what it is called on the screen; ``detection``: what would tell it where no style's own moves notice it.
    """

    label = "normal run"
    detection: Detection | None = None
    of_request = False
    """Whether what it does depends on the tool that is requested."""
    is_fault: frozenset[str] = frozenset()
    """The checks whose findings tell the fault itself."""
    of_exchange = False
    """Whether only an exchange can come to it."""

    of_way = False
    """Whether it comes to the same for all exchanges that take one way through one text: it is run with those that each tool is fetched and
    put away in once."""

    def __init__(self, name: str):
        self.name = name

    def applies(self, world: World, call: Call) -> bool:
        """Whether it can apply to an exchange in this world."""
        return True

    def world(self, world: World, call: Call) -> World:
        """The world with it."""
        return world

    def call(self, call: Call) -> Call:
        """The call with it."""
        return call

    def apply_to(self, case: Case, sensor: int | None = None) -> Case:
        """The same exchange with it. ``sensor``: the number of the one input that it applies to, where it applies to one.

        Raises:
            InputError: where it not applicable.
        """
        if not self.applies(case.world, case.call):
            raise InputError.at(
                "/fault", f"The fault {self.name} does not apply: the machine has nothing that it could affect."
            )
        return replace(case, world=self.world(case.world, case.call), call=self.call(case.call), _runs={})

    def variants(self, case: Case) -> Iterator[Case]:
        """The same exchange with it, in each of the ways that it may have: either way, just beyond what is allowed."""
        yield self.apply_to(case)

    def changes(self, case: Case) -> frozenset[str] | None:
        """What of the world, or of the call, it changes, by the words of :attr:`Journal.dependencies`; None: more than
        that."""
        return None

    def detected_by(self, case: Case) -> Detection | None:
        """What would tell it in this case."""
        return self.detection

    def verdict(self, case: Case, own: FaultResult, shared: SharedRun) -> FaultResult | None:
        """The verdict on the exchange under it; ``own``: that without a fault, ``shared``: its run. None: there is none
        to give."""
        changed, worst = self.changes(case), None
        for number, under in enumerate(self.variants(case)):
            shared.go_on(under, changed, None if self.of_request else (self.name, number))
            result = self.judged(under, case, own)
            if worst is None or WORSE.index(result.verdict) < WORSE.index(worst.verdict):
                worst = result
            if worst.verdict == WORSE[0]:
                break
        return worst

    def judged(self, under: Case, case: Case, own: FaultResult) -> FaultResult:
        """The verdict on one of its ways."""
        return judge(under, self.name, self.detected_by(case), own.finding, self.is_fault)


class NoFault(Fault):
    """As it should go."""

    def apply_to(self, case: Case, sensor: int | None = None) -> Case:
        return case

    def verdict(self, case: Case, own: FaultResult, shared: SharedRun) -> FaultResult:
        return own


FAULTS: Registry[Fault] = Registry("fault", "orthotrope.proof.faults.*", "orthotrope.kinds.*.faults", sort=False)
FAULTS.add("none", NoFault("none"))


def without_fault(case: Case) -> FaultResult:
    """What the exchange comes to by itself."""
    return judge(case, "none", None)
