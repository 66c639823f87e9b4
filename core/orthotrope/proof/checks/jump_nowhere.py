"""A jump or call whose target is not there."""

from collections.abc import Iterator

from orthotrope.program.blocks import AnyBlock, If, Plain, Program
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.sequence.values import Number


@check("jump-nowhere", "stop", "text")
def jump_nowhere(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """On every path of the text, whether the run comes to it or not; and where the run came to one that is worked
    out."""
    reported: set[int] = set()
    for block in case.program.blocks:
        if says := _nowhere(block, case.program):
            reported.add(block.line)
            yield report(says, block.line)
    fault = case.main.fault
    if fault and case.main.nowhere and fault.line not in reported:
        yield report(fault.what, fault.line, case.main.trace.seconds)


def _nowhere(block: AnyBlock, program: Program) -> str | None:
    if isinstance(block, Plain):
        words = dict(zip(block.letters, block.values, strict=True))
    elif isinstance(block.control, If):
        goto = block.control.goto
        if isinstance(goto, Number) and goto.value not in program.labels:
            return f"There is no block N{goto.value:g} to go on at."
        return None
    else:
        words = {word.letter: word.value.value for word in block.words if isinstance(word.value, Number)}
    if (words.get("M") == 98 or words.get("G") == 65) and "P" in words and words["P"] not in program.programs:
        return f"There is no program O{words['P']:g} to call."
    return None
