"""What a line of a program is once it is read."""

from dataclasses import dataclass, field
from typing import NamedTuple, Union

from orthotrope.program.expressions import Evaluator, Place
from orthotrope.program.faults import ProgramError
from orthotrope.sequence.values import Named, Parameter, Value


class Plain(NamedTuple):
    """A block of words with plain numbers only: ``letters`` "GXYF" belongs to ``values`` (1.0, 10.0, 5.0, 300.0)."""

    line: int
    letters: str
    values: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class Word:
    letter: str
    value: Value
    place: Place
    evaluate: Evaluator


@dataclass(frozen=True, slots=True)
class Setting:
    """``target = value``; the target is a named parameter or a number to be worked out."""

    target: Parameter | Named
    value: Value
    place: Place
    evaluate: Evaluator
    index: Evaluator | None


@dataclass(frozen=True, slots=True)
class If:
    """``IF [..] GOTO n`` (``goto``) or ``IF [..] THEN #i = ..`` (``then``); condition None: a bare GOTO."""

    condition: Value | None
    evaluate: Evaluator | None
    goto: Value | None
    target: Evaluator | None
    then: Setting | None
    place: Place


@dataclass(frozen=True, slots=True)
class While:
    """``WHILE [..] DOn`` or a bare ``DOn``."""

    condition: Value | None
    evaluate: Evaluator | None
    number: int
    place: Place


@dataclass(frozen=True, slots=True)
class End:
    number: int
    place: Place


@dataclass(frozen=True, slots=True)
class Block:
    """A block that is not plain. ``label`` is its N number, ``program`` its O number; ``skip`` a block-delete slash."""

    line: int
    label: int | None = None
    program: int | None = None
    skip: bool = False
    words: tuple[Word, ...] = ()
    settings: tuple[Setting, ...] = ()
    control: Union[If, While, End, None] = None  # noqa: UP007
    comments: tuple[str, ...] = ()


AnyBlock = Plain | Block


@dataclass(frozen=True, slots=True)
class Program:
    """A text that was read: blocks in order, where labels, subprograms and loops are, and what could not be read."""

    blocks: tuple[AnyBlock, ...]
    faults: tuple[ProgramError, ...]
    labels: dict[int, tuple[int, ...]] = field(default_factory=dict)
    programs: dict[int, int] = field(default_factory=dict)
    loops: dict[int, int] = field(default_factory=dict)

    @property
    def readable(self) -> bool:
        return not self.faults
