"""Which blocks of a text no case of its proof has reached: what nothing was found in because nothing ran it."""

from collections.abc import Iterator
from typing import Any

from orthotrope.proof.findings import Finding
from orthotrope.proof.sequences.registry import SEQUENCES


def unreached(results: list[dict[str, Any]]) -> Iterator[tuple[Finding, list[dict[str, Any]]]]:
    """Of the results of a whole proof, as plain values: a note for each text with blocks that no case of it reached, with the results
    that it is of. Where all sequences of a kind have one text, a line that one of them reaches is reached."""
    looked = [result for result in results if result["unreached"] is not None]
    for name, kind in SEQUENCES.items():
        mine = [result for result in looked if result["sequence"]["kind"] == name]
        groups = [mine] if kind.one_text and mine else [[result] for result in mine]
        for group in groups:
            lines = set.intersection(*(set(result["unreached"]) for result in group))
            yield from _reported(sorted(lines), group)


def _reported(lines: list[int], results: list[dict[str, Any]]) -> Iterator[tuple[Finding, list[dict[str, Any]]]]:
    if lines:
        message = f"No case reaches {ranges(lines)} of this text: nothing was proven of it. Look at it yourself."
        yield Finding("unreached", "note", message, lines[0]), results


def ranges(lines: list[int]) -> str:
    """Line numbers in words: "line 4", "lines 4 to 6 and 9"; those between which there are only remarks and labels together."""
    groups: list[list[int]] = []
    for line in lines:
        if groups and line - groups[-1][-1] <= APART:
            groups[-1].append(line)
        else:
            groups.append([line])
    said = [f"{group[0]} to {group[-1]}" if len(group) > 1 else f"{group[0]}" for group in groups]
    word = "line" if len(lines) == 1 else "lines"
    return f"{word} {said[0]}" if len(said) == 1 else f"{word} {', '.join(said[:-1])} and {said[-1]}"


APART = 2
"""Lines; what is no further apart is reported together."""
