"""Every change to what is stored. An action has a check, work that is done before anything is locked, an atomic
execution that is short, and an audit entry."""

from abc import ABC, abstractmethod
from dataclasses import dataclass, field
from datetime import timedelta
from typing import Any, ClassVar, Generic, Literal, TypeVar

import httpx
from django.conf import settings
from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone
from django.utils.text import slugify
from link.address import NotAnAddress, checked_address
from orthotrope.calc.capture import Offer, SeriesReading, offer, series_result
from orthotrope.calc.slips import ReadBackInput, read_back_value
from orthotrope.calc.storage import ARRANGEMENTS, Arrangement, arranged
from orthotrope.calc.wiring import InputTestInput, Seen, input_test
from orthotrope.errors import InputError, OrthotropeError
from orthotrope.proof.digests import exchange_digests
from orthotrope.proof.exchanges import pairs
from orthotrope.proof.positions import entry_card, shown_by_control
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.changer import rack_of
from orthotrope.setup.changes import Conflict, changes, merge
from orthotrope.setup.keys import at, keyed
from orthotrope.units import round_to_step
from orthotrope.validation import unusable_sign

from shop.models import AuditEntry, InputTest, Machine, Proof, Reading, Revision
from shop.roles import Denial, may_arrange, may_change

JOIN_WITHIN = timedelta(minutes=3)
"""Small edits of one person within this time become one revision."""

Outcome = TypeVar("Outcome")


class NotAllowed(OrthotropeError):
    """The user's role does not allow it."""


class EditConflict(OrthotropeError):
    """Two people changed the same values; ``conflicts`` has both, ``revision`` is the stored one."""

    def __init__(self, conflicts: list[Conflict], revision: Revision):
        self.conflicts, self.revision = conflicts, revision
        super().__init__(f"{revision.author.get_username()} has changed the same value meanwhile.")


TRIES = 4
"""Times that an action is prepared before it makes others wait."""


def noted(user: Any, action: str, **details: Any) -> None:
    """An entry in the audit log for what changes no machine: coming and going."""
    if isinstance(user, User):
        AuditEntry.objects.create(user=user, action=action, details=details)


class Action(ABC, Generic[Outcome]):
    """One change, by one user."""

    name: ClassVar[str]
    user: User

    def run(self) -> Outcome:
        """Check, prepare, execute and note it.

        Raises:
            NotAllowed: with the reason.
        """
        self.permit()
        for last in (*(False,) * TRIES, True):
            if not last:
                self.prepare()
            with transaction.atomic():
                if last:  # others are faster again and again: now they wait
                    self.prepare()
                if self.outdated():
                    continue
                outcome = self.execute()
                machine, details = self.noted(outcome)
                if details is not None:
                    AuditEntry.objects.create(user=self.user, action=self.name, machine=machine, details=details)
            return outcome
        raise AssertionError("what was prepared under the lock is outdated")

    def permit(self) -> None:
        """Check only.

        Raises:
            NotAllowed: with the reason.
        """
        allowed = self.allowed()
        if not allowed:
            raise NotAllowed(allowed.reason)

    def prepare(self) -> None:
        """All that takes time and changes nothing; the database is not locked meanwhile."""

    def outdated(self) -> bool:
        """Whether what was prepared does not hold any more; it is prepared again then."""
        return False

    def allowed(self) -> "Literal[True] | Denial":
        """Whether this user may; most changes are a technician's."""
        return may_change(self.user)

    @abstractmethod
    def execute(self) -> Outcome: ...

    @abstractmethod
    def noted(self, outcome: Outcome) -> tuple[Machine, dict[str, Any] | None]:
        """The machine and the figures for the audit; None: nothing was changed."""


def _moved(machine: Machine, head: Revision | None) -> bool:
    """Whether a machine's newest revision is another one now, or was added to."""
    now = machine.revisions.order_by("-number").values_list("pk", "changed").first()
    return head is None or now != (head.pk, head.changed)


@dataclass(slots=True)
class CreateMachine(Action[Machine]):
    """A new machine from a Setup document."""

    name: ClassVar[str] = "create machine"
    user: User
    document: dict[str, Any]
    note: str = ""
    setup: Setup | None = None

    def prepare(self) -> None:
        self.setup = read_setup(self.document)

    def execute(self) -> Machine:
        setup = self.setup
        assert setup is not None
        base = slugify(setup.machine.name)[:70] or "machine"
        slug, count = base, 1
        while Machine.objects.filter(slug=slug).exists():
            count += 1
            slug = f"{base}-{count}"
        machine = Machine.objects.create(slug=slug)
        Revision.objects.create(machine=machine, number=1, document=setup.as_json(), author=self.user, note=self.note)
        return machine

    def noted(self, outcome: Machine) -> tuple[Machine, dict[str, Any] | None]:
        return outcome, {"note": self.note}


@dataclass(slots=True)
class SaveSetup(Action[Revision]):
    """Store an edited document. ``base`` is the document that the edit began from: what others changed since is merged;
    the same value changed by both is refused."""

    name: ClassVar[str] = "save setup"
    user: User
    machine: Machine
    base_revision: int
    base: dict[str, Any]
    document: dict[str, Any]
    joined: bool = False
    before: dict[str, Any] | None = None
    head: Revision | None = None
    merged: dict[str, Any] | None = None

    def prepare(self) -> None:
        self.head = head = self.machine.head
        mine = read_setup(self.document).as_json()
        theirs = read_setup(head.document).as_json()  # one stored by an earlier version lacks what has come since
        merged, conflicts = merge(read_setup(self.base).as_json(), mine, theirs)
        if conflicts:
            raise EditConflict(conflicts, head)
        self.before = head.document
        self.merged = read_setup(merged).as_json()

    def outdated(self) -> bool:
        return _moved(self.machine, self.head)

    def execute(self) -> Revision:
        head, document = self.head, self.merged
        assert head is not None and document is not None
        if document == head.document:
            return head
        if self._joins(head):
            head.document = document
            head.save()
            self.joined = True
            return head
        return Revision.objects.create(
            machine=self.machine, number=head.number + 1, document=document, author=self.user
        )

    def _joins(self, head: Revision) -> bool:
        recent = timezone.now() - head.created < JOIN_WITHIN
        plain = not head.note and head.number > 1
        return plain and recent and head.author_id == self.user.pk and not head.proofs.exists()

    def noted(self, outcome: Revision) -> tuple[Machine, dict[str, Any] | None]:
        found = [change.as_json() for change in changes(self.before, outcome.document)]
        if not found:
            return self.machine, None
        return self.machine, {
            "revision": outcome.number,
            "began_from": self.base_revision,
            "joined": self.joined,
            "changes": found[:50],
        }


@dataclass(slots=True)
class RestoreRevision(Action[Revision]):
    """Make an earlier revision the newest, as a new one."""

    name: ClassVar[str] = "restore revision"
    user: User
    machine: Machine
    number: int
    document: dict[str, Any] | None = None

    def prepare(self) -> None:
        old = Revision.objects.get(machine=self.machine, number=self.number)
        self.document = read_setup(old.document).as_json()

    def execute(self) -> Revision:
        return Revision.objects.create(
            machine=self.machine,
            number=self.machine.head.number + 1,
            document=self.document,
            author=self.user,
            note=f"restored from revision {self.number}",
        )

    def noted(self, outcome: Revision) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"revision": outcome.number, "restored": self.number}


@dataclass(slots=True)
class StartProof(Action[Proof]):
    """A proof of the newest revision's exchanges, through the written text or a ``brought`` one; running it is
    :mod:`shop.proving`'s."""

    name: ClassVar[str] = "start proof"
    user: User
    machine: Machine
    brought: str = ""
    file: str = ""
    head: Revision | None = None
    digests: dict[str, Any] = field(default_factory=dict)
    total: int = 0

    def prepare(self) -> None:
        self.head = self.machine.head
        setup = read_setup(self.head.document)
        self.digests, self.total = (
            exchange_digests(setup, self.brought).as_json(),
            len(pairs(setup)) if setup.changer else 0,
        )

    def outdated(self) -> bool:
        return _moved(self.machine, self.head)

    def execute(self) -> Proof:
        assert self.head is not None
        return Proof.objects.create(
            machine=self.machine,
            revision=self.head,
            digests=self.digests,
            total=self.total,
            author=self.user,
            brought=self.brought,
            file=self.file[:120],
        )

    def noted(self, outcome: Proof) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"proof": outcome.pk, "revision": outcome.revision.number}


@dataclass(slots=True)
class CancelProof(Action[Proof]):
    """Stop a running proof; stopping what runs is :mod:`shop.proving`'s."""

    name: ClassVar[str] = "cancel proof"
    user: User
    machine: Machine
    number: int

    def execute(self) -> Proof:
        return Proof.objects.get(machine=self.machine, pk=self.number)

    def noted(self, outcome: Proof) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"proof": outcome.pk}


@dataclass(slots=True)
class SetAgent(Action[Machine]):
    """Read the machine from another agent, or from the practice machine again (an empty address)."""

    name: ClassVar[str] = "set agent"
    user: User
    machine: Machine
    address: str
    device: str

    def prepare(self) -> None:
        if wrong := unusable_sign(self.device):
            raise InputError.at("/device", f"`device` holds {wrong}; take it out.")
        if self.address:
            try:
                checked_address(self.address)
            except NotAnAddress as bad:
                raise InputError.at("/address", str(bad)) from None

    def execute(self) -> Machine:
        self.machine.agent, self.machine.device = self.address.rstrip("/"), self.device
        self.machine.save()
        return self.machine

    def noted(self, outcome: Machine) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"address": self.address, "device": self.device}


@dataclass(slots=True)
class BuildPractice(Action[int]):
    """Build the practice machine anew from the newest Setup; its seed. What stood there before is gone."""

    name: ClassVar[str] = "build practice machine"
    user: User
    machine: Machine
    seed: int

    def prepare(self) -> None:
        body = {"document": self.machine.head.document, "seed": self.seed}
        try:
            answer = httpx.put(f"{settings.PRACTICE}/{self.machine.slug}", json=body, timeout=10, trust_env=False)
        except httpx.HTTPError as failed:
            raise PracticeGone(
                f"The practice machine does not answer ({failed}). Is it running? make demo starts it."
            ) from None
        if answer.status_code != 200:
            raise PracticeGone(f"The practice machine was not built: {answer.text[:300]}")

    def execute(self) -> int:
        return self.seed

    def noted(self, outcome: int) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"seed": self.seed}


class PracticeGone(OrthotropeError):
    """The practice machine's process does not do what is wanted."""


class MachineMoved(OrthotropeError):
    """The machine stands elsewhere than the technician has seen."""


@dataclass(frozen=True, slots=True)
class MachineSeen:
    """What is known of the machine at the moment of a reading: its position (mm), tool, work offset and dials;
    ``fresh``: whether it was heard of just now."""

    position: tuple[float, float, float] | None
    tool: int | None
    offset: int | None
    dials: dict[str, float]
    fresh: bool


SEEN_WITHIN = 0.0006
"""mm; the machine counts as standing where it was seen, if it is no further off than its readout rounds."""


@dataclass(slots=True)
class TakeReading(Action[Reading]):
    """Keep a reading. From the machine: its position becomes the quantity (``seen``: the position that the technician
    has seen; another one is refused). Typed, or read back from what the control shows: ``value`` (in the control's unit
    for a read-back). From a dial: ``came`` tells the side."""

    name: ClassVar[str] = "take reading"
    user: User
    machine: Machine
    quantity: str
    source: str
    standing: MachineSeen | None = None
    seen: tuple[float, float, float] | None = None
    value: float | None = None
    came: int = 0
    offer: Offer | None = None
    fields: dict[str, Any] | None = None

    def prepare(self) -> None:
        setup = read_setup(self.machine.head.document)
        where = keyed(setup.as_json(), self.quantity)
        taken = {"machine": self._position, "dial": self._dial, "typed": self._typed, "read-back": self._read_back}
        if self.source not in taken:
            raise InputError.at("/source", f"`source` must be one of {', '.join(taken)}.")
        fields = taken[self.source](setup)
        here = self.standing
        tool = here.tool if here else None
        length = next((entry.length for entry in setup.tools if entry.number == tool), None)
        self.fields = {
            "quantity": where,
            "tool": tool,
            "tool_length": length,
            "work_offset": here.offset if here else None,
            "position": list(here.position) if here and here.position else None,
            **fields,
        }

    def execute(self) -> Reading:
        assert self.fields is not None
        return Reading.objects.create(machine=self.machine, source=self.source, author=self.user, **self.fields)

    def _here(self) -> MachineSeen:
        if self.standing is None or not self.standing.fresh:
            raise MachineMoved("The machine is not heard of now; connect the hand panel, then take the reading.")
        return self.standing

    def _position(self, setup: Setup) -> dict[str, Any]:
        here = self._here()
        if here.position is None:
            raise MachineMoved("The machine does not tell its position; type the value.")
        if self.seen is None or any(abs(a - b) > SEEN_WITHIN for a, b in zip(here.position, self.seen, strict=True)):
            raise MachineMoved("The machine has moved since; look at the number again, then take it.")
        self.offer = offer(setup, self.quantity, here.position, here.tool)
        return {
            "value": self.offer.value,
            "raw": self.offer.raw,
            "step": self.offer.step,
            "details": {"says": self.offer.says},
        }

    def _dial(self, setup: Setup) -> dict[str, Any]:
        axis = self.quantity.split("/")[3] if self.quantity.startswith("/machine/axes/") else ""
        if self.value is not None:
            value = self.value
        elif axis in (dials := self._here().dials):
            value = dials[axis]
        else:
            raise MachineMoved(
                f"There is no dial on {axis or 'this axis'}; stand one there and set it to zero, or type what it shows."
            )
        return {"value": value, "raw": value, "details": {"came": 1 if self.came >= 0 else -1}}

    def _typed(self, setup: Setup) -> dict[str, Any]:
        if self.value is None:
            raise InputError.at("/value", "`value` is missing; type what was measured.")
        return {"value": self.value, "raw": self.value}

    def _read_back(self, setup: Setup) -> dict[str, Any]:
        if self.value is None:
            raise InputError.at("/value", "`value` is missing; type what the control shows.")
        node: Any = next((entry.value for entry in entry_card(setup) if entry.where == self.quantity), None)
        if node is None:
            node = setup.as_json()
            try:
                node = at(node, self.quantity)
            except InputError:
                node = None
        if isinstance(node, bool) or not isinstance(node, float | int):
            raise InputError.at(self.quantity, "There is no value yet that could be read back.")
        meant, decimals = shown_by_control(setup, float(node))
        result = read_back_value(ReadBackInput(meant=meant, shown=self.value, decimals=decimals))
        return {"value": float(node), "raw": self.value, "details": {"meant": meant, **result.as_json()}}

    def noted(self, outcome: Reading) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {
            "reading": outcome.pk,
            "quantity": outcome.quantity,
            "value": outcome.value,
            "source": self.source,
        }


@dataclass(slots=True)
class TakeSeries(Action[Reading]):
    """What a series of dial readings says, kept as a reading of its own."""

    name: ClassVar[str] = "take series"
    user: User
    machine: Machine
    quantity: str
    readings: list[int]
    fields: dict[str, Any] | None = None

    def prepare(self) -> None:
        kept = Reading.objects.filter(machine=self.machine, quantity=self.quantity, pk__in=self.readings, source="dial")
        series = [SeriesReading(reading.value, reading.details.get("came", 1)) for reading in kept]
        result = series_result(self.quantity, series)
        self.fields = {
            "value": result.value,
            "raw": result.value,
            "details": {"says": result.says, "of": [reading.pk for reading in kept]},
        }

    def execute(self) -> Reading:
        assert self.fields is not None
        return Reading.objects.create(
            machine=self.machine, quantity=self.quantity, source="series", author=self.user, **self.fields
        )

    def noted(self, outcome: Reading) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"reading": outcome.pk, "quantity": self.quantity, "value": outcome.value}


@dataclass(slots=True)
class KeepInputTest(Action[InputTest]):
    """Keep the outcome of an input's test: what was seen idle, made and idle again."""

    name: ClassVar[str] = "test input"
    user: User
    machine: Machine
    number: int
    seen: list[Seen]
    edges: list[dict[str, Any]]
    by_hand: bool

    def execute(self) -> InputTest:
        setup = read_setup(self.machine.head.document)
        entry = next((entry for entry in setup.inputs if entry.number == self.number), None)
        if entry is None:
            raise InputError.at("/number", f"There is no input {self.number}; add it on the Signals stage.")
        if len(self.seen) != 3:
            raise InputError.at("/seen", "A test has three steps: idle, made, idle again.")
        judged = input_test(InputTestInput(idle=self.seen[0], made=self.seen[1], idle_again=self.seen[2]))
        return InputTest.objects.create(
            machine=self.machine,
            number=self.number,
            wired=InputTest.wired_as(entry),
            seen=self.seen,
            author=self.user,
            outcome=judged.outcome,
            edges=self.edges[:60],
            by_hand=self.by_hand,
        )

    def noted(self, outcome: InputTest) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"input": self.number, "outcome": outcome.outcome, "by_hand": self.by_hand}


@dataclass(slots=True)
class TeachPocket(Action[list[Reading]]):
    """Teach a pocket where the machine stands: a reading for X and Y, and for Z where the nose stands on the spacer."""

    name: ClassVar[str] = "teach pocket"
    user: User
    machine: Machine
    pocket: int
    seen: tuple[float, float, float]
    with_height: bool
    standing: MachineSeen | None = None
    taught: list[dict[str, Any]] | None = None
    found: list[dict[str, Any]] | None = None

    def prepare(self) -> None:
        setup = read_setup(self.machine.head.document)
        rack = rack_of(setup.changer)
        if rack is None or not 1 <= self.pocket <= rack.total:
            raise InputError.at("/pocket", f"There is no pocket {self.pocket} to be taught.")
        here = self.standing
        if here is None or not here.fresh or here.position is None:
            raise MachineMoved("The machine is not heard of now; connect the hand panel, then teach the pocket.")
        if any(abs(a - b) > SEEN_WITHIN for a, b in zip(here.position, self.seen, strict=True)):
            raise MachineMoved("The machine has moved since; look at the numbers again, then teach the pocket.")
        self.found, values = [], {}
        for axis, raw in zip(("X", "Y", "Z"), here.position, strict=True):
            if axis == "Z" and not self.with_height:
                continue
            step = setup.machine.axes[axis].resolution  # type: ignore[index]
            value = round(round_to_step(raw, step), 9)
            values[axis.lower()] = value
            self.found.append(
                {
                    "quantity": f"/changer/rack/taught/{self.pocket}/{axis.lower()}",
                    "value": value,
                    "raw": raw,
                    "step": step,
                    "position": list(here.position),
                    "work_offset": here.offset,
                    "tool": here.tool,
                    "details": {"says": f"machine {axis}, pocket {self.pocket} taught"},
                }
            )
        before = next((entry for entry in rack.taught if entry.pocket == self.pocket), None)
        height = values.get("z", before.z if before else None)
        entry = {"pocket": self.pocket, "x": values["x"], "y": values["y"], "z": height}
        rest = [other.model_dump(mode="json") for other in rack.taught if other.pocket != self.pocket]
        self.taught = sorted([*rest, entry], key=lambda row: row["pocket"])

    def execute(self) -> list[Reading]:
        return [
            Reading.objects.create(machine=self.machine, source="machine", author=self.user, **fields)
            for fields in self.found or ()
        ]

    def noted(self, outcome: list[Reading]) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"pocket": self.pocket, "readings": [reading.pk for reading in outcome]}


@dataclass(slots=True)
class ArrangePockets(Action[Revision]):
    """Fill in order, empty all, or number the tools by their pockets: one revision, by a supervisor."""

    name: ClassVar[str] = "arrange pockets"
    user: User
    machine: Machine
    how: Arrangement
    head: Revision | None = None
    document: dict[str, Any] | None = None

    def allowed(self) -> "Literal[True] | Denial":
        return may_arrange(self.user)

    def prepare(self) -> None:
        self.head = self.machine.head
        setup = read_setup(self.head.document)
        self.document = read_setup({**setup.as_json(), "tools": arranged(setup, self.how)}).as_json()

    def outdated(self) -> bool:
        return _moved(self.machine, self.head)

    def execute(self) -> Revision:
        assert self.head is not None
        return Revision.objects.create(
            machine=self.machine,
            number=self.head.number + 1,
            document=self.document,
            author=self.user,
            note=ARRANGEMENTS[self.how],
        )

    def noted(self, outcome: Revision) -> tuple[Machine, dict[str, Any] | None]:
        return self.machine, {"how": self.how, "revision": outcome.number}
