"""Stopped after some block, the record of the tool differs from what is there."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("record-untrue", "stop", "run", harms=True)
def record_untrue(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """A finding for each stretch of blocks in which the record is wrong and not marked as doubtful; also within
    blocks."""
    if case.world.magazine is None or case.profile.record != "parameter":
        return
    if case.purpose in ("measure", "probe"):
        yield from _changed(case, report)
    if case.purpose != "exchange":
        return
    trace = case.main.trace
    changes, at = trace.holding, 0
    record, doubtful = float(case.call.from_tool), False
    wrong: list[tuple[int, float, float, int | None]] = []  # line, time, record, really held
    stretches: list[list[tuple[int, float, float, int | None]]] = []
    for line, t0, t1, _, said, unsure, holds in trace.blocks:
        bad = None
        while at + 1 < len(changes) and changes[at + 1][0] <= t1 + 1e-9:
            at += 1
            if not doubtful and changes[at][1] != record and t0 < changes[at][0] < t1:
                bad = bad or (record, changes[at][1])
        if not bad and not unsure and holds != said:
            bad = (said, holds)
        if bad:
            wrong.append((line, t0, *bad))
        elif wrong:
            stretches.append(wrong)
            wrong = []
        record, doubtful = said, unsure
    if wrong:
        stretches.append(wrong)
    for stretch in stretches:
        first, last = stretch[0], stretch[-1]
        lines = f"line {first[0]}" if first[0] == last[0] else f"lines {first[0]} to {last[0]}"
        held = "its tool is neither held nor free" if first[3] is None else f"the spindle holds {_name(first[3])}"
        yield report(
            f"Stopped at {lines}, the record says {_name(first[2])}, and {held}; mark the record as doubtful "
            f"(#{case.profile.parameters.record_doubtful} = 1) for that stretch.",
            first[0],
            first[1],
        )


def _changed(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """What changes no tool leaves the record as it is."""
    for line, t0, _, _, said, unsure, holds in case.main.trace.blocks:
        if not unsure and said != float(case.call.from_tool) and said != holds:
            held = "its tool is neither held nor free" if holds is None else f"the spindle holds {_name(holds)}"
            yield report(
                f"The record is set to {_name(said)}, and {held}; measuring and probing leave it as it is.", line, t0
            )
            return


def _name(tool: float) -> str:
    return f"T{tool:g}" if tool else "no tool"
