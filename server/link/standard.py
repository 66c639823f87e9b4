"""Documents of an MTConnect agent, read without trust: their size is bounded by whoever fetches them."""

import re
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any
from xml.etree.ElementTree import Element, ParseError

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring
from orthotrope.errors import OrthotropeError

AXES = ("X", "Y", "Z")


class NotStandard(OrthotropeError):
    """What came is no document of the standard; the text says what it is instead."""


@dataclass(frozen=True, slots=True)
class Meaning:
    """What a data item tells: a ``field`` of the state, and which axis or input, by name."""

    field: str
    name: str = ""


Meanings = dict[str, Meaning]


@dataclass(slots=True)
class MachineState:
    """What is known of a machine. Positions in mm, machine and part coordinates, as its control counts them; None: not
    reported.

    ``inputs`` and ``outputs`` by name; ``dials`` by axis; ``when`` is the agent's time of the newest position.
    """

    position: dict[str, float] = field(default_factory=dict)
    part: dict[str, float] = field(default_factory=dict)
    homed: bool | None = None
    execution: str = ""
    block: str = ""
    line: int = 0
    tool: int | None = None
    offset: int | None = None
    spindle: float | None = None
    powered: bool = True
    alarm: str = ""
    message: str = ""
    inputs: dict[str, bool] = field(default_factory=dict)
    outputs: dict[str, bool] = field(default_factory=dict)
    dials: dict[str, float] = field(default_factory=dict)
    when: datetime | None = None

    def vector(self) -> tuple[float, float, float] | None:
        """Machine X, Y, Z; None where one of them is not reported."""
        if all(axis in self.position for axis in AXES):
            return self.position["X"], self.position["Y"], self.position["Z"]
        return None


@dataclass(frozen=True, slots=True)
class Edge:
    """An input that changed: its name, when (the agent's time), and whether it is made now."""

    name: str
    when: datetime
    made: bool


DEEPEST = 40
"""Elements nested deeper than this are no document of the standard."""


def _root(content: bytes) -> Element:
    _shallow(content)
    try:
        root: Element = fromstring(content)
    except ParseError as bad:
        raise NotStandard(
            f"The answer is no XML (line {bad.position[0]}); is this the address of an MTConnect agent?"
        ) from None
    except DefusedXmlException:
        raise NotStandard("The answer holds XML entities, which the standard does not use; it is not read.") from None
    if _name(root) == "MTConnectError":
        said = " ".join(text for element in root.iter() if (text := (element.text or "").strip()))
        raise NotStandard(f"The agent answers with an error: {said[:200] or 'no reason given'}")
    if not _name(root).startswith("MTConnect"):
        raise NotStandard(
            f"The answer is XML of another kind ({_name(root)[:40]}); is this the address of an MTConnect agent?"
        )
    return root


def _shallow(content: bytes) -> None:
    """Look how deep elements are nested before a tree of them is made.

    Raises:
        NotStandard: deeper than :data:`DEEPEST`.
    """
    depth = 0
    for tag in _TAG.finditer(content):
        depth += -1 if tag[0][1:2] == b"/" else 0 if tag[0].endswith(b"/>") else 1
        if depth > DEEPEST:
            raise NotStandard(f"The answer nests more than {DEEPEST} elements; it is no document of the standard.")


_TAG = re.compile(rb"</?[A-Za-z_][^<>]*>")


def _name(element: Element) -> str:
    return element.tag.rsplit("}", 1)[-1]


def read_devices(content: bytes, device: str = "") -> Meanings:
    """What each data item of a device means: of the one named ``device``, or of the first.

    Raises:
        NotStandard: with what it is instead.
    """
    root = _root(content)
    devices = [element for element in root.iter() if _name(element) == "Device"]
    chosen = next((d for d in devices if device in (d.get("name"), d.get("id"), d.get("uuid"))), None)
    chosen = chosen if chosen is not None else (devices[0] if devices and not device else None)
    if chosen is None:
        raise NotStandard(f"The agent has no device {device}." if device else "The agent has no device.")
    found: Meanings = {}
    _walk(chosen, "", "", found)
    return found


def _walk(element: Element, kind: str, name: str, found: Meanings) -> None:
    for child in element:
        tag = _name(child)
        if tag == "DataItem":
            meaning = _meaning(child, kind, name)
            if meaning and (number := child.get("id")):
                found[number] = meaning
        elif tag in ("DataItems", "Components"):
            _walk(child, kind, name, found)
        elif tag != "Description":
            _walk(child, tag, child.get("name") or "", found)


def _meaning(item: Element, kind: str, name: str) -> Meaning | None:
    what, sub = item.get("type", ""), item.get("subType", "")
    label = item.get("name") or name
    if kind == "Linear" and name[:1] in AXES:
        if what == "POSITION" and sub in ("", "ACTUAL"):
            frame = item.get("coordinateSystem", "MACHINE")
            return Meaning("position" if frame == "MACHINE" else "part_axis", name[0])
        if what == "DISPLACEMENT":
            return Meaning("dial", name[0])
        if what == "AXIS_STATE":
            return Meaning("axis_state", name[0])
    simple = {
        "EXECUTION": "execution",
        "BLOCK": "block",
        "LINE_NUMBER": "line",
        "LINE": "line",
        "TOOL_NUMBER": "tool",
        "WORK_OFFSET": "offset",
        "EMERGENCY_STOP": "stop",
        "MESSAGE": "message",
        "SYSTEM": "alarm",
        "AVAILABILITY": "available",
    }
    if what in simple:
        return Meaning(simple[what])
    if what == "PATH_POSITION" and sub in ("", "ACTUAL"):
        frame = item.get("coordinateSystem", "WORK")
        return Meaning("part" if frame == "WORK" else "path_machine")
    if what in ("ROTARY_VELOCITY", "SPINDLE_SPEED") and sub in ("", "ACTUAL"):
        return Meaning("spindle")
    if what in ("POWER_STATE", "SWITCH_STATE") and label:
        return Meaning("input", label)
    if what == "ACTUATOR_STATE" and label:
        return Meaning("output", label)
    return None


@dataclass(frozen=True, slots=True)
class Streams:
    """A document of observations: which sequence number comes next, the inputs' edges, and how many were taken over."""

    next_sequence: int
    instance: str
    edges: list[Edge]
    taken: int


def read_streams(content: bytes, meanings: Meanings, state: MachineState) -> Streams:
    """Take the observations of ``current`` or ``sample`` over into a state, in the order of their sequence numbers.

    Raises:
        NotStandard: with what it is instead.
    """
    root = _root(content)
    header = next((child for child in root if _name(child) == "Header"), None)
    next_sequence = _whole(header.get("nextSequence")) if header is not None else None
    if header is None or next_sequence is None:
        raise NotStandard("The document has no header with the next sequence number.")
    reported = [element for element in root.iter() if element.get("dataItemId") in meanings]
    reported.sort(key=lambda element: _whole(element.get("sequence")) or 0)
    edges: list[Edge] = []
    for element in reported:
        _take(element, meanings[element.get("dataItemId") or ""], state, edges)
    return Streams(next_sequence, header.get("instanceId", ""), edges, len(reported))


def _whole(text: str | None) -> int | None:
    return int(text) if text and _WHOLE.fullmatch(text.strip()) else None


_WHOLE = re.compile(r"-?[0-9]{1,18}")
_NUMBER = re.compile(r"[+-]?(?:[0-9]+\.?[0-9]*|\.[0-9]+)(?:[eE][+-]?[0-9]{1,3})?")
LARGEST_VALUE = 1e9


def _number(text: str) -> float | None:
    if not _NUMBER.fullmatch(text):
        return None  # float() takes more: 1_000, Arabic digits, nan
    value = float(text)
    return value if abs(value) < LARGEST_VALUE else None


def _when(element: Element) -> datetime | None:
    """The time of an observation; None where it has none, or one that no clock of a machine shows."""
    try:
        when = datetime.fromisoformat((element.get("timestamp") or "").replace("Z", "+00:00"))
    except ValueError:
        return None
    when = when if when.tzinfo else when.replace(tzinfo=UTC)
    return when if 1990 <= when.year <= 2200 else None


TEXT_LENGTH = 300
"""Characters that are kept of a text that an agent tells."""


def _take(element: Element, meaning: Meaning, state: MachineState, edges: list[Edge]) -> None:
    text = (element.text or "").strip()[:TEXT_LENGTH]
    known = text != "UNAVAILABLE"
    match meaning.field:
        case "position" | "part_axis" | "dial":
            place = {"position": state.position, "part_axis": state.part, "dial": state.dials}[meaning.field]
            value = _number(text)
            if value is None:
                place.pop(meaning.name, None)
            else:
                place[meaning.name] = value
            if meaning.field == "position":
                state.when = _when(element) or state.when
        case "part" | "path_machine":
            values = [_number(part) for part in text.split()[:3]]
            place = state.part if meaning.field == "part" else state.position
            if len(values) == 3 and None not in values:
                place.update(zip(AXES, values, strict=True))  # type: ignore[arg-type]
            else:
                place.clear()
        case "axis_state":
            state.homed = text == "HOME" if known else None
        case "input" | "output":
            _take_switch(text.upper(), _when(element), meaning, state, edges)
        case "spindle":
            state.spindle = _number(text)
        case "tool" | "offset":
            setattr(state, meaning.field, _whole(text))
        case "line":
            state.line = _whole(text) or 0
        case "stop":
            state.powered = text != "TRIGGERED"
        case "alarm":
            level = _name(element).upper()
            state.alarm = text or "A fault without words." if level == "FAULT" else ""
        case "execution" | "block" | "message":
            setattr(state, meaning.field, text if known else "")


def _take_switch(text: str, when: datetime | None, meaning: Meaning, state: MachineState, edges: list[Edge]) -> None:
    """Take the state of an input or output; a change of an input is an edge."""
    states = state.inputs if meaning.field == "input" else state.outputs
    if text not in MADE and text not in IDLE:
        states.pop(meaning.name, None)
        return
    made = text in MADE
    if meaning.field == "input" and states.get(meaning.name) != made and when:
        edges.append(Edge(meaning.name, when, made))
    states[meaning.name] = made


MADE = frozenset({"ON", "ACTIVE", "CLOSED", "TRUE", "1"})
IDLE = frozenset({"OFF", "INACTIVE", "OPEN", "FALSE", "0"})


def as_json(state: MachineState) -> dict[str, Any]:
    """The state as a panel gets it."""
    return {
        "position": state.position,
        "part": state.part,
        "homed": state.homed,
        "execution": state.execution,
        "block": state.block,
        "line": state.line,
        "tool": state.tool,
        "offset": state.offset,
        "spindle": state.spindle,
        "powered": state.powered,
        "alarm": state.alarm,
        "message": state.message,
        "inputs": state.inputs,
        "outputs": state.outputs,
        "dials": state.dials,
        "when": state.when.timestamp() if state.when else None,
    }
