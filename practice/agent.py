"""The documents of an MTConnect agent (the open standard, version 1.4): devices, streams, errors.

Positions are samples in millimetres, machine coordinates on the linear axes and part coordinates on the path; inputs
are events ``POWER_STATE`` of subtype CONTROL on a sensor each, named as the input is."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Literal
from xml.etree import ElementTree as Xml

from practice.machine import PracticeMachine
from practice.observed import Buffer, Observation

VERSION = "1.4"
Kind = Literal["Devices", "Streams", "Error"]
Category = Literal["SAMPLE", "EVENT", "CONDITION"]


@dataclass(frozen=True, slots=True)
class Item:
    """A data item: ``key`` within its device, the component it stands on, and what the standard calls it."""

    key: str
    component: tuple[str, str]
    type: str
    category: Category
    sub_type: str = ""
    units: str = ""
    frame: str = ""
    name: str = ""

    @property
    def element(self) -> str:
        """The name of its element in a stream: its type, in Pascal case."""
        return "".join(part.capitalize() for part in self.type.split("_"))


_MM, _PATH, _CONTROL = "MILLIMETER", ("Path", "path"), ("Controller", "controller")


def items(machine: PracticeMachine) -> list[Item]:
    """The data items of a machine, in the order of its components."""
    found = [Item("avail", ("Device", ""), "AVAILABILITY", "EVENT")]
    for axis in "XYZ":
        found.append(Item(f"{axis}_position", ("Linear", axis), "POSITION", "SAMPLE", "ACTUAL", _MM, "MACHINE"))
        found.append(Item(f"{axis}_dial", ("Linear", axis), "DISPLACEMENT", "SAMPLE", "", _MM, "", f"dial {axis}"))
        found.append(Item(f"{axis}_state", ("Linear", axis), "AXIS_STATE", "EVENT"))
    found += [
        Item("spindle_speed", ("Rotary", "C"), "ROTARY_VELOCITY", "SAMPLE", "ACTUAL", "REVOLUTION/MINUTE"),
        Item("estop", _CONTROL, "EMERGENCY_STOP", "EVENT"),
        Item("system", _CONTROL, "SYSTEM", "CONDITION"),
        Item("message", _CONTROL, "MESSAGE", "EVENT"),
        Item("execution", _PATH, "EXECUTION", "EVENT"),
        Item("block", _PATH, "BLOCK", "EVENT"),
        Item("line", _PATH, "LINE_NUMBER", "EVENT", "ABSOLUTE"),
        Item("tool", _PATH, "TOOL_NUMBER", "EVENT"),
        Item("offset", _PATH, "WORK_OFFSET", "EVENT"),
        Item("part_position", _PATH, "PATH_POSITION", "SAMPLE", "ACTUAL", "MILLIMETER_3D", "WORK"),
    ]
    found += [
        Item(f"input_{e.number}", ("Sensor", f"input {e.number}"), "POWER_STATE", "EVENT", "CONTROL", name=e.name)
        for e in machine.world.inputs
    ]
    found += [
        Item(f"output_{e.number}", ("Sensor", f"output {e.number}"), "ACTUATOR_STATE", "EVENT", name=e.name)
        for e in machine.setup.outputs
    ]
    return found


UNAVAILABLE = "UNAVAILABLE"


def observe(buffer: Buffer, slug: str, machine: PracticeMachine) -> None:
    """Put what has changed at a machine into the buffer."""
    when = datetime.now(UTC)

    def tell(item: str, value: str, kind: str = "") -> None:
        buffer.observe(slug, item, value, kind, when)

    for number, at, made in machine.edges:
        buffer.observe(slug, f"input_{number}", "ON" if made else "OFF", when=at)
    machine.edges.clear()
    on = machine.powered
    tell("avail", "AVAILABLE")
    place, part = machine.position(), machine.part_position()
    for axis, value in zip("XYZ", place, strict=True):
        tell(f"{axis}_position", f"{value:.4f}" if on else UNAVAILABLE)
        dial = machine.dial(axis)  # type: ignore[arg-type]
        tell(f"{axis}_dial", UNAVAILABLE if dial is None else f"{dial:.3f}")
        tell(f"{axis}_state", "HOME" if machine.homed and on else "STOPPED")
    tell("part_position", " ".join(f"{value:.4f}" for value in part) if on else UNAVAILABLE)
    tell("spindle_speed", f"{machine.spindle():.1f}" if on else UNAVAILABLE)
    tell("estop", "ARMED" if on else "TRIGGERED")
    tell("execution", machine.execution)
    tell("block", machine.block)
    tell("line", str(machine.machine.journal.line))
    tell("tool", str(machine.tool()))
    tell("offset", str(machine.control.modes.work_offset))
    tell("message", machine.message)
    tell("system", machine.alarm, "Fault" if machine.alarm else "Normal")
    for number, made in machine.inputs().items():
        tell(f"input_{number}", ("ON" if made else "OFF") if on else UNAVAILABLE)
    for number, active in machine.outputs.items():
        tell(f"output_{number}", "ACTIVE" if active else "INACTIVE")


def _root(kind: Kind, instance: int, buffer: Buffer | None, next_sequence: int | None = None) -> Xml.Element:
    space = f"urn:mtconnect.org:MTConnect{kind}:{VERSION}"
    root = Xml.Element(f"MTConnect{kind}", {"xmlns": space})
    header = {
        "creationTime": _time(datetime.now(UTC)),
        "sender": "orthotrope-practice",
        "instanceId": str(instance),
        "version": f"{VERSION}.0.0",
        "bufferSize": "16384",
    }
    if kind == "Devices":
        header |= {"assetBufferSize": "0", "assetCount": "0"}
    if kind == "Streams" and buffer:
        after = next_sequence if next_sequence is not None else buffer.next_sequence
        header |= {
            "nextSequence": str(after),
            "firstSequence": str(buffer.first_sequence),
            "lastSequence": str(buffer.next_sequence - 1),
        }
    Xml.SubElement(root, "Header", header)
    return root


def _time(when: datetime) -> str:
    return when.strftime("%Y-%m-%dT%H:%M:%S.%fZ")


def _written(root: Xml.Element) -> bytes:
    return b'<?xml version="1.0" encoding="UTF-8"?>\n' + Xml.tostring(root)


def devices_document(machines: dict[str, PracticeMachine], instance: int) -> bytes:
    """``probe``: what the machines are and what they tell."""
    root = _root("Devices", instance, None)
    listed = Xml.SubElement(root, "Devices")
    for slug, machine in machines.items():
        device = Xml.SubElement(listed, "Device", {"id": slug, "uuid": f"practice-{slug}", "name": slug})
        Xml.SubElement(device, "Description").text = f"{machine.setup.machine.name}, practice machine"
        places: dict[tuple[str, str], Xml.Element] = {("Device", ""): device}
        _data_items(device, slug, [item for item in items(machine) if item.component == ("Device", "")])
        components = Xml.SubElement(device, "Components")
        groups = {"Linear": _component(components, "Axes", slug, "axes"), "Path": None, "Sensor": None}
        groups["Rotary"] = groups["Linear"]
        controller = _component(components, "Controller", slug, "controller")
        places[_CONTROL] = controller
        groups["Path"] = controller
        groups["Sensor"] = _component(components, "Systems", slug, "systems")
        kept: dict[tuple[str, str], list[Item]] = {}
        for item in items(machine):
            kept.setdefault(item.component, []).append(item)
        for component, its in kept.items():
            if component == ("Device", ""):
                continue
            if component not in places:
                parent = groups[component[0]]
                assert parent is not None
                inner = parent.find("Components")
                inner = inner if inner is not None else Xml.SubElement(parent, "Components")
                places[component] = _component(inner, component[0], slug, component[1])
            _data_items(places[component], slug, its)
        _in_order(device)
    return _written(root)


def _component(parent: Xml.Element, kind: str, slug: str, name: str) -> Xml.Element:
    return Xml.SubElement(parent, kind, {"id": _component_id(slug, name), "name": name})


def _component_id(slug: str, name: str) -> str:
    return f"{slug}_part_{name.replace(' ', '_')}"


def _data_items(place: Xml.Element, slug: str, its: list[Item]) -> None:
    listed = Xml.SubElement(place, "DataItems")
    for item in its:
        data = {
            "id": f"{slug}_{item.key}",
            "category": item.category,
            "type": item.type,
            "subType": item.sub_type,
            "units": item.units,
            "nativeUnits": item.units,
            "coordinateSystem": item.frame,
            "name": item.name,
        }
        Xml.SubElement(listed, "DataItem", {name: value for name, value in data.items() if value})


def _in_order(place: Xml.Element) -> None:
    """The standard wants the data items of a component before its components."""
    order = {"Description": 0, "DataItems": 1, "Components": 2}
    place[:] = sorted(place, key=lambda child: order.get(child.tag, 3))
    for inner in place.findall("Components"):
        for component in inner:
            _in_order(component)


def streams_document(
    machines: dict[str, PracticeMachine],
    buffer: Buffer,
    instance: int,
    observations: Iterable[Observation],
    next_sequence: int | None = None,
) -> bytes:
    """``current`` and ``sample``: observations by device and component."""
    root = _root("Streams", instance, buffer, next_sequence)
    listed = Xml.SubElement(root, "Streams")
    by_device: dict[str, list[Observation]] = {slug: [] for slug in machines}
    for entry in observations:
        by_device.setdefault(entry.device, []).append(entry)
    for slug, entries in by_device.items():
        device = Xml.SubElement(listed, "DeviceStream", {"name": slug, "uuid": f"practice-{slug}"})
        known = {item.key: item for item in items(machines[slug])}
        by_component: dict[tuple[str, str], list[Observation]] = {}
        for entry in entries:
            if entry.item in known:
                by_component.setdefault(known[entry.item].component, []).append(entry)
        for (component, name), its in by_component.items():
            reported = {
                "component": component,
                "name": name or slug,
                "componentId": slug if component == "Device" else _component_id(slug, name),
            }
            stream = Xml.SubElement(device, "ComponentStream", reported)
            for category, group in (("SAMPLE", "Samples"), ("EVENT", "Events"), ("CONDITION", "Condition")):
                of_kind = [entry for entry in its if known[entry.item].category == category]
                if of_kind:
                    place = Xml.SubElement(stream, group)
                    for entry in of_kind:
                        _observation(place, slug, known[entry.item], entry)
    return _written(root)


def _observation(place: Xml.Element, slug: str, item: Item, entry: Observation) -> None:
    data = {"dataItemId": f"{slug}_{item.key}", "timestamp": _time(entry.when), "sequence": str(entry.sequence)}
    if item.sub_type:
        data["subType"] = item.sub_type
    if item.name:
        data["name"] = item.name
    if item.category == "CONDITION":
        data["type"] = item.type
    element = Xml.SubElement(place, entry.kind if item.category == "CONDITION" else item.element, data)
    element.text = entry.value


def error_document(instance: int, code: str, what: str) -> bytes:
    """The standard's answer to what can't be answered."""
    root = _root("Error", instance, None)
    Xml.SubElement(Xml.SubElement(root, "Errors"), "Error", {"errorCode": code}).text = what
    return _written(root)
