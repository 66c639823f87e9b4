"""Every fault that can apply to an exchange, and what it comes to under each."""

from collections.abc import Iterator

from orthotrope.proof.case import Case
from orthotrope.proof.fault_runs import SharedRun
from orthotrope.proof.faults.registry import FAULTS, without_fault
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
