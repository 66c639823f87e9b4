"""A length before G20 or G21."""

from collections.abc import Iterator

from orthotrope.program.blocks import AnyBlock, Block, Plain
from orthotrope.program.words import LENGTH_LETTERS
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.sequence.values import Number

_LETTERS = frozenset(LENGTH_LETTERS)


@check("unit-unstated", "warn", "static")
def unit_unstated(case: Case, report: FindingFactory) -> Iterator[Finding]:
    first_fault = case.program.faults[0].line if case.program.faults else None
    for block in case.program.blocks:
        if first_fault is not None and block.line > first_fault:
            return  # the unit may stand in what could not be read
        words: list[tuple[str, float | None]] = (
            list(zip(block.letters, block.values, strict=True)) if isinstance(block, Plain) else _known(block)
        )
        length: str | None = None
        codes = []
        for letter, value in words:
            if letter == "G":
                codes.append(value)
            elif letter in _LETTERS and value != 0:  # zero is the same in every unit
                length = length or letter
        if 20 in codes or 21 in codes or None in codes:
            return
        if length and 4 not in codes and 65 not in codes and not (10 in codes and length == "R"):
            yield report(
                f"{length} is a length, and no G20 or G21 says in which unit; state G21 (mm) or G20 (inch) at "
                f"the beginning.",
                block.line,
            )
            return


def _known(block: AnyBlock) -> list[tuple[str, float | None]]:
    assert isinstance(block, Block)
    return [(word.letter, word.value.value if isinstance(word.value, Number) else None) for word in block.words]
