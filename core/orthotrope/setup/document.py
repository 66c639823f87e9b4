"""The whole Setup document, and reading it from JSON."""

from collections.abc import Iterator
from typing import Annotated, Any, Literal

from pydantic import Field, SerializerFunctionWrapHandler, model_serializer, model_validator

from orthotrope.errors import Fault, InputError
from orthotrope.setup.changer import AnyChanger
from orthotrope.setup.control import ControlProfile, find_profile, shipped_profiles
from orthotrope.setup.keys import KEYS
from orthotrope.setup.machine import Machine
from orthotrope.setup.migrations import migrated
from orthotrope.setup.occupant import Occupant
from orthotrope.setup.planned import Planned
from orthotrope.setup.positions import StoredPosition, way_there
from orthotrope.setup.probes import AnyProbe
from orthotrope.setup.quantities import described
from orthotrope.setup.routines import AnyRoutine
from orthotrope.setup.setters import AnySetter
from orthotrope.setup.signals import Input, Output
from orthotrope.setup.surround import Body, WorkOffset
from orthotrope.setup.threads import Thread
from orthotrope.setup.tools import Tool
from orthotrope.units import shown_in
from orthotrope.validation import Record, parse, read_json

FORMAT: Literal["orthotrope-setup"] = "orthotrope-setup"
LARGEST_FILE = 4_000_000
"""Bytes; a Setup of 1000 tools has about 150,000."""


class Setup(Record):
    format: Literal["orthotrope-setup"]
    version: Literal[3]
    machine: Machine
    changer: AnyChanger | None = None
    tools: Annotated[list[Tool], Field(max_length=1000)] = []
    bodies: Annotated[list[Body], Field(max_length=200)] = []
    work_offsets: Annotated[list[WorkOffset], Field(max_length=9)] = []
    positions: Annotated[list[StoredPosition], Field(max_length=50)] = []
    setters: Annotated[list[AnySetter], Field(max_length=10)] = []
    probes: Annotated[list[AnyProbe], Field(max_length=20)] = []
    routines: Annotated[list[AnyRoutine], Field(max_length=200)] = []
    inputs: Annotated[list[Input], Field(max_length=64)] = []
    outputs: Annotated[list[Output], Field(max_length=64)] = []
    profiles: Annotated[list[ControlProfile], Field(max_length=20)] = []
    threads: Annotated[list[Thread], Field(max_length=50)] = []
    planned: Annotated[list[Planned], Field(max_length=20_000)] = []

    @model_serializer(mode="wrap")
    def _without_what_is_empty(self, serialized: SerializerFunctionWrapHandler):  # type: ignore[no-untyped-def]
        """Most have no planned numbers, and say nothing of them. A stated return type would take the place of the schema."""
        document = serialized(self)
        if not self.planned:
            document.pop("planned", None)
        return document

    @model_validator(mode="after")
    def _fits_together(self) -> "Setup":
        faults = []
        for field, key in KEYS.items():
            seen: set[Any] = set()
            for index, entry in enumerate(getattr(self, field, ())):
                value = getattr(entry, key)
                if value in seen:
                    faults.append(
                        Fault(f"/{field}/{index}/{key}", f"`{key}` {value} is used twice; give each its own.")
                    )
                seen.add(value)
        if self.changer:
            count = self.changer.pocket_count
            for index, tool in enumerate(self.tools):
                if tool.pocket is not None and tool.pocket > count:
                    faults.append(
                        Fault(
                            f"/tools/{index}/pocket",
                            f"`pocket` must be at most {count}, the number of pockets there are; got {tool.pocket}.",
                        )
                    )
        faults += [*self._unknown_profiles(), *self._unknown_ways(), *self._unknown_inputs(), *self._setters_fit()]
        faults += self._probes_fit()
        if faults:
            raise InputError(faults)
        return self

    def _unknown_profiles(self) -> list[Fault]:
        shipped = shipped_profiles()
        faults = [
            Fault(f"/profiles/{index}/name", f'`name` "{profile.name}" is a shipped profile\'s; give yours another.')
            for index, profile in enumerate(self.profiles)
            if profile.name in shipped
        ]
        try:
            find_profile(self.machine.profile, self.profiles)
        except InputError as unknown:
            faults += [Fault("/machine/profile", fault.what) for fault in unknown.faults]
        return faults

    def _unknown_ways(self) -> list[Fault]:
        faults = []
        for index, position in enumerate(self.positions):
            try:
                way_there(self.positions, position.name)
            except InputError as unknown:
                faults += [Fault(f"/positions/{index}{fault.where}", fault.what) for fault in unknown.faults]
        return faults

    def _unknown_inputs(self) -> list[Fault]:
        """Bodies and setters that make an input which is not there."""
        known = {entry.number for entry in self.inputs}
        made = [(f"/bodies/{index}/makes", body.name, body.makes, "Machine") for index, body in enumerate(self.bodies)]
        made += [
            (f"/setters/{index}/input", setter.name, setter.input, "Setter")
            for index, setter in enumerate(self.setters)
        ]
        made += [
            (f"/probes/{index}/input", probe.name, probe.input, "Probes") for index, probe in enumerate(self.probes)
        ]
        return [
            Fault(
                where,
                f"{name} uses input {number}, which is not there: keep input {number}, or choose another one for {name} on the "
                f"{stage} stage first.",
            )
            for where, name, number, stage in made
            if number is not None and number not in known
        ]

    def _setters_fit(self) -> Iterator[Fault]:
        """Setters in pockets that are not there, or that something else stands in."""
        if self.changer is None:
            return
        count, taken = self.changer.pocket_count, {entry.pocket: entry.what for entry in self.changer.occupants}
        for index, setter in enumerate(self.setters):
            occupant = setter.occupant
            if occupant is None:
                continue
            where = f"/setters/{index}/pocket"
            if occupant.pocket > count:
                most = f"`pocket` must be at most {count}, the number of pockets there are; got {occupant.pocket}."
                yield Fault(where, most)
            elif occupant.pocket in taken:
                yield Fault(where, f"In pocket {occupant.pocket} the {taken[occupant.pocket]} stands; take another.")
            taken.setdefault(occupant.pocket, setter.name)

    def _probes_fit(self) -> Iterator[Fault]:
        """Probes in tools that are not there, and routines with probes that are not."""
        tools, probes = {tool.number for tool in self.tools}, [probe.name for probe in self.probes]
        for index, probe in enumerate(self.probes):
            if probe.tool not in tools:
                missing = (
                    f"{probe.name} is in the spindle as T{probe.tool}, which is not there: keep T{probe.tool}, or choose another tool "
                    f"for {probe.name} on the Probes stage first."
                )
                yield Fault(f"/probes/{index}/tool", missing)
        for index, routine in enumerate(self.routines):
            if routine.probe is not None and routine.probe not in probes:
                missing = (
                    f"{routine.name} is made with {routine.probe}, which is not there: keep {routine.probe}, or choose another probe for "
                    f"{routine.name} on the Routines stage first."
                )
                yield Fault(f"/routines/{index}/probe", missing)

    @property
    def occupants(self) -> list[Occupant]:
        """What stands in pockets that no tool can have: what the changer has reserved, and setters."""
        if self.changer is None:
            return []
        setters = [occupant for setter in self.setters if (occupant := setter.occupant)]
        return [*self.changer.occupants, *setters]

    @property
    def profile(self) -> ControlProfile:
        return self.profile_named(self.machine.profile)

    def profile_named(self, name: str) -> ControlProfile:
        """A profile by its name, shipped or this Setup's own.

        Raises:
            InputError: that lists the names there are.
        """
        return find_profile(name, self.profiles)

    def with_profile(self, name: str) -> "Setup":
        """The same for a control of another profile."""
        if name == self.machine.profile:
            return self
        return self.model_copy(update={"machine": self.machine.model_copy(update={"profile": name})})

    def every_profile(self) -> list[ControlProfile]:
        """The shipped profiles and this Setup's own."""
        return [*shipped_profiles().values(), *self.profiles]

    def as_json(self) -> dict[str, Any]:
        """The document as plain JSON values; reading it again gives the same Setup, to the last digit."""
        return self.model_dump(mode="json")

    def tool(self, number: int) -> Tool:
        """The tool of this number.

        Raises:
            InputError: where there is none.
        """
        for tool in self.tools:
            if tool.number == number:
                return tool
        known = ", ".join(f"T{tool.number}" for tool in self.tools) or "none"
        raise InputError.at("/tools", f"There is no tool T{number}; there are {known}.")

    def input_of(self, role: str) -> Input | None:
        """The input of this role; None: the machine has none."""
        return next((entry for entry in self.inputs if entry.role == role), None)

    def output_of(self, role: str) -> Output | None:
        """The output of this role; None: the machine has none."""
        return next((entry for entry in self.outputs if entry.role == role), None)

    def exchangeable(self) -> list[Tool]:
        """The tools that an exchange can ask for, in the order of their numbers: those in a pocket, or where tools are
        changed by hand all of them."""
        if self.changer is None:
            return self.stored()
        return sorted(self.changer.exchangeable(self.tools), key=lambda tool: tool.number)

    def measured(self) -> list[Tool]:
        """The tools that are measured at a setter: all but the probes, whose length comes of a reference face."""
        probes = {probe.tool for probe in self.probes if probe.tells_itself}
        return [tool for tool in self.tools if tool.number not in probes or tool.type != "probe"]

    def slipping(self) -> list[Tool]:
        """The exchangeable tools whose length is good only until they are put down: those whose collet the changer frees,
        without a stop collar whose scatter was measured."""
        if self.changer is None or not self.changer.frees_collets:
            return []
        return [tool for tool in self.exchangeable() if tool.collar_scatter is None]

    def stored(self) -> list[Tool]:
        """The tools that have a pocket, in the order of their numbers."""
        return sorted((tool for tool in self.tools if tool.pocket is not None), key=lambda tool: tool.number)


def read_setup(source: str | bytes | dict[str, Any]) -> Setup:
    """A Setup from JSON text or decoded JSON.

    Raises:
        InputError: with every fault and its JSON pointer.
    """
    if isinstance(source, str | bytes):
        if len(source) > LARGEST_FILE:
            raise InputError.at(
                "",
                f"The file has {len(source) / 1e6:.1f} MB; a Setup file has at most "
                f"{LARGEST_FILE / 1e6:.0f} MB. Is it another file?",
            )
        source = read_json(source)
    if isinstance(source, dict) and source.get("format") != FORMAT:
        raise InputError.at("/format", f'`format` must be "{FORMAT}"; this is another kind of file.')
    with shown_in(unit_of_document(source)):
        return parse(Setup, migrated(source) if isinstance(source, dict) else source)


def unit_of_document(source: Any) -> Any:
    """The unit that a document states for its machine, whatever it may be; None where it states none."""
    machine = source.get("machine") if isinstance(source, dict) else None
    return machine.get("unit") if isinstance(machine, dict) else None


def setup_schema() -> dict[str, Any]:
    """The published JSON Schema of the Setup file."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **described(Setup.model_json_schema())}
