"""What is worked out of one exchange, or of a program that was imported, for someone who waits."""

from dataclasses import dataclass
from typing import Any

from orthotrope.program.reader import read_text
from orthotrope.proof.recovery import BlockRange, RecordWords, record_words, recovery
from orthotrope.proof.savings import Saving, savings
from orthotrope.setup import read_setup

from shop.job import answers


@dataclass(frozen=True, slots=True)
class RecoverySheet:
    """What may be where after a stop, and ``record``: how the record is keyed into the control."""

    stretches: list[BlockRange]
    record: RecordWords


@answers(list[Saving])
def time_savings(document: dict[str, Any], from_tool: int, to_tool: int) -> list[Saving]:
    """What would save most time in an exchange, each change tried."""
    return savings(read_setup(document), from_tool, to_tool)


@answers(RecoverySheet)
def recovery_sheet(document: dict[str, Any], from_tool: int, to_tool: int) -> RecoverySheet:
    """What may be where after this exchange was stopped, block by block, and how the record is set."""
    setup = read_setup(document)
    return RecoverySheet(recovery(setup, from_tool, to_tool), record_words(setup))


def unreadable(text: str) -> str:
    """The first fault of a program's text; "" where it can be read."""
    faults = read_text(text).faults
    return str(faults[0]) if faults else ""
