"""What is proven is addressed by its content: the digest of a case is that of all that its run and its checks take."""

import hashlib
import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, fields, is_dataclass
from itertools import islice
from typing import Any

from orthotrope.calc.derived import derive
from orthotrope.errors import OrthotropeError
from orthotrope.machine.world import WorldTool
from orthotrope.proof.case import CHECKS
from orthotrope.proof.conflicts import conflicts
from orthotrope.proof.exchanges import exchange_text
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.measuring import measurable
from orthotrope.proof.review import called_at
from orthotrope.proof.routines import provable
from orthotrope.proof.worlds import nominal_world
from orthotrope.sequence.exchanges.registry import EMPTY
from orthotrope.sequence.probing.qualifying import routine_named
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.changes import Change, changes, taken_back
from orthotrope.units import shown_in

_REMARK = re.compile(r"\((?!MSG)[^)]*\)")


@dataclass(frozen=True, slots=True)
class Digests:
    """What the cases of all exchanges are addressed by: ``shared`` by all of them, and for each tool (0: the empty
    spindle) what putting it away and what fetching it adds. So there is one for each tool, not for each pair."""

    shared: str
    put_away: dict[int, str]
    fetch: dict[int, str]
    measure: dict[int, str] = field(default_factory=dict)
    routines: dict[str, str] = field(default_factory=dict)

    def of(self, one: int, other: int, routine: str = "") -> str:
        """The digest of an exchange's case, or of measuring a tool, which begins and ends with it, or of a routine; "" where
        there is no such sequence."""
        if routine:
            return f"{self.shared}-{self.routines[routine]}" if routine in self.routines else ""
        if one == other:
            return f"{self.shared}-{self.measure[one]}" if one in self.measure else ""
        if one not in self.put_away or other not in self.fetch:
            return ""
        return f"{self.shared}-{self.put_away[one]}-{self.fetch[other]}"

    def as_json(self) -> dict[str, Any]:
        return {
            "shared": self.shared,
            "put_away": [*self.put_away.items()],
            "fetch": [*self.fetch.items()],
            "measure": [*self.measure.items()],
            "routines": [*self.routines.items()],
        }

    @classmethod
    def from_json(cls, kept: dict[str, Any]) -> "Digests":
        """As :meth:`as_json` gave them; of a proof that has none, such as belong to no case."""
        return cls(
            kept.get("shared", ""),
            dict(kept.get("put_away", ())),
            dict(kept.get("fetch", ())),
            dict(kept.get("measure", ())),
            dict(kept.get("routines", ())),
        )


def exchange_digests(setup: Setup, brought: str = "") -> Digests:
    """The digests of every pair's case: of its text (remarks aside, which no control reads), the world, the call, the
    profile, what the checks take of the Setup, and which checks and faults there are. With ``brought`` of that program
    in place of the written text. What is only for people to read is in none of it."""
    profile, derived, world = setup.profile, derive(setup), nominal_world(setup)
    with shown_in("mm"):  # so that a conflict's sentence is the same whatever is shown
        told = [(conflict.message, conflict.where) for conflict in conflicts(setup, derived)]
    looked_at = derived.looked_at() if derived else ()
    axes = [(axis.resolution, axis.measured is not None) for _, axis in setup.machine.axes.items()]
    shared = [
        profile.model_dump(exclude={"name", "description"}),
        world,
        looked_at,
        axes,
        told,
        called_at(setup),
        [*CHECKS],
        [*FAULTS],
    ]
    numbers = [EMPTY, *(tool.number for tool in setup.exchangeable())]
    if brought or (profile.arithmetic and profile.conditions and setup.changer):
        shared.append(_read(brought or _text(setup, EMPTY, EMPTY)))
        put_away, fetch = dict.fromkeys(numbers, ""), dict.fromkeys(numbers, "")
        return Digests(
            _digest(shared), put_away, fetch, *(({}, {}) if brought else (_measuring(setup), _probing(setup)))
        )
    return Digests(
        _digest(shared),
        {tool: _digest(_read(_text(setup, tool, EMPTY))) for tool in numbers},
        {tool: _digest(_read(_text(setup, EMPTY, tool))) for tool in numbers},
        _measuring(setup),
        _probing(setup),
    )


FOR_PEOPLE = {
    "name",
    "in_use",
    "greatest_wear",
    "notes",
    "fetched_a_shift",
    "cutting",
    "flutes",
    "cutting_length",
    "corner_radius",
    "angle_deg",
}
"""What no program and no check takes of a tool."""


def _measuring(setup: Setup) -> dict[int, str]:
    """What measuring each tool adds: the setters and the tool, which is all that its text is written from beside what is
    shared. Writing every text on every save would take longer than the save."""
    tools = measurable(setup)
    if not tools:
        return {}
    setters = _plain([[setter.model_dump(exclude={"name"}) for setter in setup.setters]])
    return {number: _digest([setters, setup.tool(number).model_dump(exclude=FOR_PEOPLE)]) for number in tools}


OF_A_RECORD: dict[str, Any] = {
    **dict.fromkeys(("name", "due_days", "effective_uncertainty", "length_uncertainty"), True),
    "artefact": {"diameter_uncertainty", "face_uncertainty"},
}
"""What no program and no check takes of a probe."""


def _probing(setup: Setup) -> dict[str, str]:
    """What each routine adds: its own values and those of its probe, which is all that its text is written from beside what
    is shared."""
    probes = {probe.name: probe.model_dump(exclude=OF_A_RECORD) for probe in setup.probes}
    return {
        name: _digest([probes.get(routine.probe or ""), routine.model_dump(exclude={"name", "probe"})])
        for name in provable(setup)
        for routine in (routine_named(setup, name),)
    }


def _digest(value: Any) -> str:
    return hashlib.sha256(_plain(value).encode()).hexdigest()


def _read(text: str) -> str:
    """What a control reads of a text."""
    return _REMARK.sub("", text)


def _text(setup: Setup, one: int, other: int) -> str:
    try:
        return exchange_text(setup, setup.profile, one, other)
    except OrthotropeError as failed:
        return str(failed)


def _plain(value: Any) -> str:
    """A value in one form, whatever order its mappings and sets came in."""
    if value is None or isinstance(value, str | int | float):  # nearly all of them
        return repr(value)
    if is_dataclass(value):
        left_out = ("name",) if isinstance(value, WorldTool) else ()
        return _plain(
            [type(value).__name__, *(getattr(value, f.name) for f in fields(value) if f.name not in left_out)]
        )
    if isinstance(value, Mapping):
        return _plain(sorted((_plain(key), _plain(entry)) for key, entry in value.items()))
    if isinstance(value, frozenset | set):
        return _plain(sorted(_plain(entry) for entry in value))
    if isinstance(value, Iterable):
        return f"[{','.join(_plain(entry) for entry in value)}]"
    return repr(value)


def responsible(
    before: Setup, after: Setup, wanted: Digests, brought: str = "", most: int | None = None
) -> list[Change]:
    """The changes between two documents that make a proof of the first stale (the first ``most`` of them): each is
    taken back alone, and is one of them where that changes the digest of a case from the ``wanted`` ones, those of the
    second. Where none does so alone, all of them are told; and a single one needs no trial."""
    document = after.as_json()
    made = changes(before.as_json(), document)
    if len(made) == 1:
        return made
    told = list(islice((change for change in made if _matters(document, change, wanted, brought)), most))
    return told or made


def _matters(document: dict[str, Any], change: Change, wanted: Digests, brought: str) -> bool:
    try:
        back = read_setup(taken_back(document, change))
    except (OrthotropeError, LookupError):  # it can't be taken back alone: it may well be
        return True
    return exchange_digests(back, brought) != wanted
