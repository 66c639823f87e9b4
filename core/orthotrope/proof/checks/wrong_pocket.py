"""Afterwards a tool lies in another pocket than the table says, or the table that the control keeps does not say so."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("wrong-pocket", "stop", "run", harms=True)
def wrong_pocket(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Of what was moved in this run, where it ended and the record is not doubtful: what was elsewhere before is no doing of the
    program's."""
    magazine, trace = case.world.magazine, case.main.trace
    if magazine is None or case.purpose != "exchange" or trace.ended != "end" or not trace.stored or not trace.blocks:
        return
    last, before, after = trace.blocks[-1], trace.stored[0][1], trace.stored[-1][1]
    if last.doubtful:
        return
    keeps = magazine.keeps_table
    if keeps and case.profile.record != "parameter":
        return  # the table is on the entry card
    table = dict(case.main.left.table) if keeps else magazine.recorded
    for pocket in sorted({*before, *after}):
        tool, was = after.get(pocket, 0), before.get(pocket, 0)
        says = int(table.get(pocket, 0))
        if tool in (was, says) or (not keeps and not tool):
            continue
        named, reported = f"T{tool}" if tool else "nothing", f"T{says}" if says > 0 else "nothing"
        yield report(
            f"At the end {named} is in pocket {pocket}, where the table that the control keeps says {reported}; "
            "update the table at each change."
            if keeps
            else f"At the end T{tool} is in pocket {pocket}, which is {f'the pocket of {reported}' if says > 0 else 'no pocket of it'}; "
            "put it into its own.",
            last.line,
            last.t1,
            last.position,
            "/tools",
        )
