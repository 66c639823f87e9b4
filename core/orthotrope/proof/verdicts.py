"""Every fault that can apply to an exchange, and what it comes to under each."""

from collections.abc import Collection, Iterator
from dataclasses import replace

from orthotrope.machine.motion import Vector
from orthotrope.proof.case import Case
from orthotrope.proof.fault_runs import SharedRun
from orthotrope.proof.faults.registry import FAULTS, without_fault
from orthotrope.proof.findings import Finding
from orthotrope.proof.judging import FaultResult


def judge_faults(case: Case, shared: SharedRun | None = None, every: bool = True) -> Iterator[FaultResult]:
    """Every fault that can apply to the case's exchange; "none" is the case itself. What goes wrong without a fault is no
    fault's doing: it is unsafe under each in which it comes again. ``shared``: the case's own run, where it was made
    already; ``every``: those too that come to the same for all exchanges that take one way through one text."""
    shared = shared or SharedRun(case)
    own = without_fault(case)
    for fault in FAULTS.values():
        fits = case.purpose == "exchange" or not fault.of_exchange
        if not every and fault.of_way:
            continue
        if fits and fault.applies(case.world, case.call):
            result = fault.verdict(case, own, shared)
            if result is not None:
                yield result


UNDER_ALL = "stopped"
"""The fault that goes through all states of a run; each of them has the caller's in it already."""


def judge_faults_called(case: Case, judged: Collection[FaultResult]) -> Iterator[Finding]:
    """What only a fault and a caller do together: each fault that is safe by itself, called with the spindle turning. A caller from which it
    is unsafe without a fault is told by itself."""
    safe = {result.fault for result in judged if result.verdict == "safe"} - {"none", UNDER_ALL}
    for at in (case.call.at, _nearby(case)):
        called = replace(case, call=replace(case.call, active="forwards", at=at), elsewhere=True, _runs={})
        own = without_fault(called)
        if own.verdict != "safe":
            continue
        for fault in FAULTS.values():
            if fault.name not in safe or not fault.applies(called.world, called.call):
                continue
            for under in fault.variants(called):
                result = fault.judged(under, called, own)
                usually = replace(under, call=replace(under.call, active=case.call.active, at=case.call.at), _runs={})
                if result.verdict == "unsafe" and result.finding and fault.judged(usually, case, own).verdict == "safe":
                    safe.remove(fault.name)
                    says = f"Called with the spindle turning, and {fault.label}: {result.finding.message}"
                    yield replace(result.finding, message=says)
                    break


def _nearby(case: Case) -> Vector:
    """Where the sequence first works on something, at the top of the travel: from there it comes to it the soonest."""
    deeds = case.main.trace.of_kind("touch", "missed-touch", "freed", "gripped", "switched")
    top = case.setup.machine.axes.upright.soft_greatest if case.setup else case.call.at[2]
    x, y, _ = next((event.position for event in deeds if event.position[2] < top - 1), case.call.at)
    return x, y, top
