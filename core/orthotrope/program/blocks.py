"""What a line of a program is once it is read."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import NamedTuple, Union

from orthotrope.program.expressions import Evaluator, Place
from orthotrope.program.faults import ProgramError
from orthotrope.sequence.values import Binary, Named, Number, Parameter, Value


class Plain(NamedTuple):
    """A block of words with plain numbers only: ``letters`` "GXYF" belongs to ``values`` (1.0, 10.0, 5.0, 300.0);
    ``label`` is its N number."""

    line: int
    letters: str
    values: tuple[float, ...]
    label: int | None = None


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
    """A block that is not plain. ``label`` is its N number, ``program`` its O number; ``skip`` a block-delete slash;
    ``messages``: what its comments show to a person."""

    line: int
    label: int | None = None
    program: int | None = None
    skip: bool = False
    words: tuple[Word, ...] = ()
    settings: tuple[Setting, ...] = ()
    control: Union[If, While, End, None] = None  # noqa: UP007
    comments: tuple[str, ...] = ()
    messages: tuple[str, ...] = field(init=False, compare=False)

    def __post_init__(self) -> None:
        reported = tuple(comment[4:].strip() for comment in self.comments if comment[:4].upper() == "MSG,")
        object.__setattr__(self, "messages", reported)


AnyBlock = Plain | Block


def _dwell(block: AnyBlock) -> float | None:
    """The number of a block that is a dwell of a plain number and nothing else; None: it is something else."""
    if isinstance(block, Plain):
        words = [*zip(block.letters, block.values, strict=True)]
    elif block.settings or block.control or block.messages or block.program is not None:
        return None
    else:
        words = [(word.letter, word.value.value) for word in block.words if isinstance(word.value, Number)]
        if len(words) != len(block.words):
            return None
    return words[1][1] if len(words) == 2 and words[0] == ("G", 4) and words[1][0] in "PX" else None


class Wait(NamedTuple):
    """A loop that does nothing but dwell (``seconds``, as it is written) and set one parameter. Where that only counts by
    an equal ``step``, and the loop goes on while the count is below ``most``, both are known; else ``step`` is None."""

    seconds: float
    setting: Setting
    step: float | None = None
    most: float = 0.0


def _counted(condition: Value | None, setting: Setting) -> tuple[float, float] | None:
    """The step and the end of a count: of ``[.. AND #i LT most]`` with ``#i = [#i + step]``, where the rest asks another parameter."""
    match condition, setting.target, setting.value:
        case (
            Binary(
                "AND",
                Binary(_, Parameter(Number(asked)), Number()),
                Binary("LT", Parameter(Number(read)), Number(most)),
            ),
            Parameter(Number(target)),
            Binary("+", Parameter(Number(added)), Number(step)),
        ) if read == target == added != asked:
            return step, most
    return None


@dataclass(frozen=True)
class Program:
    """A text that was read: blocks in order, where labels, subprograms and loops are, and what could not be read."""

    blocks: Sequence[AnyBlock]
    faults: tuple[ProgramError, ...]
    labels: dict[int, tuple[int, ...]] = field(default_factory=dict)
    programs: dict[int, int] = field(default_factory=dict)
    loops: dict[int, int] = field(default_factory=dict)

    @cached_property
    def waits(self) -> dict[int, Wait]:
        """The loops that only wait, by the index of their WHILE."""
        found = {}
        for index, end in self.loops.items():
            if end != index + 3:
                continue
            seconds, counts = _dwell(self.blocks[index + 1]), self.blocks[index + 2]
            if seconds is None or not isinstance(counts, Block) or len(counts.settings) != 1:
                continue
            if not (counts.words or counts.control or counts.messages or counts.program is not None):
                loop = self.blocks[index]
                condition = (
                    loop.control.condition if isinstance(loop, Block) and isinstance(loop.control, While) else None
                )
                found[index] = Wait(seconds, counts.settings[0], *(_counted(condition, counts.settings[0]) or ()))
        return found

    @property
    def readable(self) -> bool:
        return not self.faults
