"""A word that the control profile does not have."""

from collections.abc import Iterator

from orthotrope.program.blocks import AnyBlock, Block, Plain
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.sequence.values import Number

LETTERS = frozenset("ABCDFGHIJKLMNOPQRSTXYZ")


@check("unknown-word", "stop", "static")
def unknown_word(case: Case, report: FindingFactory) -> Iterator[Finding]:
    profile = case.profile
    g_words, m_words = frozenset(profile.g_words), frozenset(profile.m_words)
    reported: set[str] = set()
    for block in case.program.blocks:
        for word in _words(block):
            letter, value = word
            known = (
                letter in LETTERS
                and (letter != "G" or value is None or value in g_words)
                and (letter != "M" or value is None or value in m_words)
            )
            shown = letter if value is None or letter not in "GM" else f"{letter}{value:g}"
            if not known and shown not in reported:
                reported.add(shown)
                yield report(
                    f"The control profile '{profile.name}' has no {shown}; take it out or choose another profile.",
                    block.line,
                )
        if isinstance(block, Block) and "#" not in reported and not profile.arithmetic and _has_arithmetic(block):
            reported.add("#")
            yield report(
                f"The control profile '{profile.name}' has no parameters, arithmetic or conditions; write numbers.",
                block.line,
            )


def _words(block: AnyBlock) -> list[tuple[str, float | None]]:
    if isinstance(block, Plain):
        return list(zip(block.letters, block.values, strict=True))
    if any(word.letter == "G" and isinstance(word.value, Number) and word.value.value == 65 for word in block.words):
        return [("G", 65.0)]  # the other letters are arguments
    return [(word.letter, word.value.value if isinstance(word.value, Number) else None) for word in block.words]


def _has_arithmetic(block: Block) -> bool:
    return bool(block.settings or block.control or any(not isinstance(word.value, Number) for word in block.words))
