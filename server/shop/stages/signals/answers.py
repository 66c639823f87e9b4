"""The stored tests of a machine's inputs."""

from orthotrope.calc.wiring import as_tested
from orthotrope.setup import Setup

from shop.models import InputTest
from shop.stages.signals.tested import Edge, TestedInput


def tested(newest: dict[int, InputTest], setup: Setup) -> list[TestedInput]:
    """The newest test of each input that there still is, and whether it holds for the wiring of now."""
    known = {entry.number: entry for entry in setup.inputs}
    found = []
    for number, test in newest.items():
        if number not in known:
            continue
        entry = known[number]
        wired = InputTest.wired_as(entry)
        differs = [key for key, value in wired.items() if test.wired.get(key) != value]
        wiring, level = as_tested(entry.wiring, entry.level, test.outcome)  # type: ignore[arg-type]
        found.append(
            TestedInput(
                number=number,
                wiring=wiring,
                level=level,
                seen=test.seen,
                outcome=test.outcome,  # type: ignore[arg-type]
                edges=[Edge(**edge) for edge in test.edges],
                by_hand=test.by_hand,
                author=test.author.get_username(),
                when=test.when,
                stale=bool(differs),
                why="; ".join(f"{key} was {test.wired.get(key)}, is now {wired[key]}" for key in differs),
            )
        )
    return found
