"""Lengths under G20 and under G21 in one program."""

from collections.abc import Iterator

from orthotrope.program.blocks import AnyBlock, Plain
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.sequence.values import Number


@check("unit-switched", "stop", "text")
def unit_switched(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Reported from the runs of an inch and a millimetre caller: a length before any unit word is the caller's affair."""
    for run in case.from_both_callers():
        used = run.lengths_under
        stated = [block for block in case.program.blocks if _states_unit(block)]
        if len(used) == 2 and stated:
            first, second = sorted(used.items(), key=lambda item: item[1])
            if first[1] < stated[0].line:
                continue  # unit-unstated says it
            names = {20: "inch (G20)", 21: "mm (G21)"}
            yield report(
                f"Lengths are given in {names[first[0]]} from line {first[1]} and in {names[second[0]]} from line "
                f"{second[1]}; keep to one unit.",
                second[1],
            )
            return


def _states_unit(block: AnyBlock) -> bool:
    if isinstance(block, Plain):
        return any(a == "G" and v in (20, 21) for a, v in zip(block.letters, block.values, strict=True))
    return any(
        word.letter == "G" and isinstance(word.value, Number) and word.value.value in (20, 21) for word in block.words
    )
