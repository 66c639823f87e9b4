"""What can be proven, by name, and what each kind of sequence brings."""

from collections.abc import Callable, Hashable, Iterable, Iterator
from dataclasses import dataclass, field
from typing import Annotated, Any, Generic, TypeVar

from pydantic import TypeAdapter

from orthotrope.machine.passing import PASSING, Passing
from orthotrope.proof.case import Case
from orthotrope.proof.findings import FINDING, Finding, Severity
from orthotrope.proof.judging import FaultResult
from orthotrope.proof.timing import Spending
from orthotrope.registry import Registry
from orthotrope.setup import Setup
from orthotrope.setup.named import OneOf
from orthotrope.validation import Record


class SequenceRef(Record):
    """Which sequence. The reference of each kind has a field ``kind``, its name, and what distinguishes its sequences."""

    kind: str


REFS: Registry[type[SequenceRef]] = Registry("kind of sequence", "orthotrope.proof.sequences.*", sort=False)
"""The reference of each kind, by the kind's name."""

AnySequence = Annotated[SequenceRef, OneOf(REFS, "kind")]
SEQUENCE: TypeAdapter[SequenceRef] = TypeAdapter(AnySequence)

Ref = TypeVar("Ref", bound=SequenceRef)


@dataclass(frozen=True, slots=True)
class SequenceResult:
    """What the proof of one sequence found: the worst severity (None: no finding), its findings, its seconds, and its verdict under
    each fault. ``spent``: where the time of an exchange goes; ``closest``: what it passes closest; ``unreached``: lines of its text
    that none of its cases reached (None: that was not determined)."""

    sequence: AnySequence
    worst: Severity | None
    findings: tuple[Finding, ...]
    seconds: float
    faults: tuple[FaultResult, ...] = ()
    spent: dict[Spending, float] = field(default_factory=dict)
    closest: Passing | None = None
    unreached: tuple[int, ...] | None = None

    def as_json(self) -> dict[str, Any]:
        """As plain values; this is how a proof stores it."""
        return {
            "sequence": self.sequence.model_dump(mode="json"),
            "worst": self.worst,
            "seconds": self.seconds,
            "findings": [FINDING.dump_python(finding, mode="json") for finding in self.findings],
            "faults": [fault.as_json() for fault in self.faults],
            "closest": PASSING.dump_python(self.closest, mode="json") if self.closest else None,
            "unreached": None if self.unreached is None else list(self.unreached),
            "spent": self.spent,
        }


@dataclass(frozen=True, slots=True)
class Choice:
    """Which sequences are meant, of all: a measuring ``sequence`` by its name, a routine's ``name``, a ``tool``, the tools of an exchange; None:
    not said."""

    sequence: str | None = None
    name: str | None = None
    tool: int | None = None
    from_tool: int | None = None
    to_tool: int | None = None

    @property
    def of_all(self) -> bool:
        """Whether nothing is said."""
        return self == Choice()


Prepared = dict[str, Any]
"""By the name of a kind: what is the same for all its sequences, calculated once for a proof."""


def _apart(ref: Any) -> Hashable:
    return None


def _nothing(document: dict[str, Any], imported: str | None) -> None:
    return None


@dataclass(frozen=True, slots=True)
class SequenceKind(Generic[Ref]):
    """What a kind of sequence brings.

    ``option``: how all its sequences are called; ``needs``: what a machine needs to have any, a sentence. ``every``: all sequences of
    a Setup, ``once``: those that between them do all that all of them do. ``cases``: makes the case of a sequence where everything
    goes as it should; it raises an InputError, or gives None, where there is no text. ``prove``: the results of some of them, from the
    document, an imported program in place of the written one, and what :attr:`prepare` gave (None: not calculated). ``digests``: the
    parts of the addresses of its cases, by name; ``address``: the names of those parts that a sequence has; ``addressed``: the
    sequences that such names can be parts of. ``text``: the one text of all of them, where there is one ("" : each has its own).
    ``in_words``: its name for people; ``as_case``: its fields on the command line (checks.md); ``chosen``: those of all
    that are meant, none where what is said is of another kind. ``tools``: those it holds;
    ``concerns``: whether it can depend on the entry (its place in the list) of a section of the Setup. ``there``: its case in another
    Setup, where what it touches is a part of that; None: nothing is. ``together``: sequences for which this is the same are proven
    in one process (None: each alone)."""

    ref: type[Ref]
    option: str
    needs: str
    every: Callable[[Setup], list[Ref]]
    once: Callable[[Setup], list[Ref]]
    cases: Callable[[Setup], Callable[[Ref], Case | None]]
    prove: Callable[[dict[str, Any], list[Ref], str | None, Any], list[SequenceResult]]
    digests: Callable[[Setup, str], dict[str, str]]
    address: Callable[[Ref], tuple[str, ...]]
    addressed: Callable[[Iterable[str]], Iterator[Ref]]
    in_words: Callable[[Ref], str]
    as_case: Callable[[Ref], dict[str, Any]]
    chosen: Callable[[list[Ref], Choice], list[Ref]]
    tools: Callable[[Ref], frozenset[int]]
    concerns: Callable[[Setup, Ref, str, int], bool]
    text: Callable[[Setup, str], str] = lambda setup, imported: ""
    written: Callable[[Setup, Ref], str] = lambda setup, ref: ""
    """The text that is written for a sequence, which an imported one is compared with; "": there is none."""
    there: Callable[[Setup, Ref], Case | None] = lambda setup, ref: None
    together: Callable[[Ref], Hashable] = _apart
    prepare: Callable[[dict[str, Any], str | None], Any] = _nothing
    one_text: bool = False
    """Whether all its sequences can have one text."""
    imports: bool = False
    """Whether a proof can be made of an imported program in place of the written text."""


SEQUENCES: Registry[SequenceKind[Any]] = Registry("kind of sequence", "orthotrope.proof.sequences.*", sort=False)


def no_text(ref: SequenceRef, why: Exception) -> SequenceResult:
    """The result of a sequence that has no text, with the reason."""
    return SequenceResult(ref, "warn", (Finding("setup-conflict", "warn", str(why)),), 0.0)


def kind_of(ref: SequenceRef) -> SequenceKind[Any]:
    """The kind of a sequence."""
    return SEQUENCES[ref.kind]


def sequence_name(ref: SequenceRef) -> str:
    """What a sequence is called: "T2 to T9", "measuring T3", "frame corner"."""
    return kind_of(ref).in_words(ref)


def as_case(ref: SequenceRef) -> dict[str, Any]:
    """The fields of a sequence on the command line (checks.md)."""
    return kind_of(ref).as_case(ref)
