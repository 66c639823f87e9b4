from dataclasses import dataclass

from orthotrope.program.writer import Writer, written
from orthotrope.sequence.steps import Step


@dataclass(frozen=True, slots=True)
class Beep(Step):
    """Tell the technician by a sound."""

    note: str = ""


@written.register
def _(step: Beep, writer: Writer) -> str:
    return "(MSG, beep)"
