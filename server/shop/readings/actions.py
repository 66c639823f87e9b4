"""Taking readings from a machine."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any, ClassVar

from django.contrib.auth.models import User
from orthotrope.calc.capture import Offer, SeriesReading, offer, series_result
from orthotrope.calc.resting import RestsOn, named, replaced
from orthotrope.calc.slips import ReadBackInput, read_back_value
from orthotrope.errors import InputError, OrthotropeError
from orthotrope.proof.positions import entry_card, shown_by_control
from orthotrope.setup import Setup
from orthotrope.setup.changer import rack_of
from orthotrope.setup.keys import at, keyed
from orthotrope.units import round_to_step

from shop.action import Action
from shop.models import Machine, Reading


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
    for a read-back). From a dial: ``came`` tells the side. ``how``
    a typed one came about, in words. ``rests_on``: what it was measured with, where that is known, and when it was ``measured``: a
    value that rests on something that was replaced since is refused. ``half_width_95``: what it is uncertain by."""

    name: ClassVar[str] = "take reading"
    user: User
    machine: Machine
    quantity: str
    source: str
    standing: MachineSeen | None = None
    seen: tuple[float, float, float] | None = None
    value: float | None = None
    came: int = 0
    how: str = ""
    rests_on: RestsOn | None = None
    measured: datetime | None = None
    half_width_95: float | None = None
    offer: Offer | None = None
    fields: dict[str, Any] | None = None

    def prepare(self) -> None:
        setup = self.machine.head.setup
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
            raise MachineMoved("No connection to the machine; connect the hand panel, then take the reading.")
        return self.standing

    def _position(self, setup: Setup) -> dict[str, Any]:
        here = self._here()
        if here.position is None:
            raise MachineMoved("The machine does not report its position; type the value.")
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
        details: dict[str, Any] = {"says": self.how} if self.how else {}
        if self.rests_on:
            if gone := replaced(setup.as_json(), self.rests_on):
                what = (
                    f"It was measured with another {named(gone[0])}, which has been replaced since. Measure it again."
                )
                raise InputError.at(self.quantity, what)
            details["rests_on"] = self.rests_on
        if self.half_width_95 is not None:
            details["half_width_95"] = self.half_width_95
        if self.measured:
            details["measured_at"] = self.measured.isoformat(timespec="seconds")
        return {"value": self.value, "raw": self.value, "details": details}

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
        setup = self.machine.head.setup
        rack = rack_of(setup.changer)
        if rack is None or not 1 <= self.pocket <= rack.total:
            raise InputError.at("/pocket", f"There is no pocket {self.pocket} to be taught.")
        here = self.standing
        if here is None or not here.fresh or here.position is None:
            raise MachineMoved("No connection to the machine; connect the hand panel, then teach the pocket.")
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
