"""Machines that are otherwise than the demo's and as right: the proof must say no more of them (make mutate --only variations)."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from orthotrope.proof.exchanges import ExchangeProof
from orthotrope.proof.measuring import measurable, prove_tool
from orthotrope.proof.routines import provable, prove_routine
from orthotrope.setup import Setup, read_setup

Document = dict[str, Any]
Vary = Callable[[Document], bool]
"""Changes a document in place; False: it has nothing of the kind."""

VARIATIONS: dict[str, Vary] = {}


def variation(says: str) -> Callable[[Vary], Vary]:
    """Register one, by what is otherwise."""

    def register(function: Vary) -> Vary:
        VARIATIONS[says] = function
        return function

    return register


@dataclass(frozen=True, slots=True)
class Variation:
    """What is otherwise, one of :data:`VARIATIONS`."""

    says: str


def varied(setup: Setup, variation: Variation) -> Setup | None:
    """The machine otherwise; None where it has nothing of the kind."""
    document = setup.as_json()
    return read_setup(document) if VARIATIONS[variation.says](document) else None


def alarms(setup: Setup, pairs: list[tuple[int, int]]) -> frozenset[tuple[str, str]]:
    """What the proof says of a Setup's own texts, but notes: (check, severity), and (fault, verdict) where it is not safe."""
    results: list[Any] = []
    if setup.changer is not None:
        proof = ExchangeProof(setup)
        proof.round |= set(pairs)
        results += [proof.of(one, other, True) for one, other in pairs]
    tools = sorted(measurable(setup), key=lambda number: setup.tool(number).whole_length)
    results += [prove_tool(setup, number) for number in {*tools[:1], *tools[-1:]}]
    results += [prove_routine(setup, name) for name in provable(setup)]
    said = {(f.check, f.severity) for result in results for f in result.findings if f.severity != "note"}
    return frozenset(said) | {(f.fault, f.verdict) for result in results for f in result.faults if f.verdict != "safe"}


def _each(node: Any, change: Callable[[dict[str, Any]], None]) -> None:
    if isinstance(node, dict):
        change(node)
    for part in node.values() if isinstance(node, dict) else node if isinstance(node, list) else ():
        _each(part, change)


X, Y, Z = (
    {"x", "face_x", "X"},
    {"y", "face_y", "Y"},
    {"z", "face_z", "touch_z", "stored_top_z", "park_z", "plane_z", "bottom_z", "top_z", "Z"},
)
"""Names of machine coordinates."""


def _moved(document: Document, by: tuple[float, float, float]) -> None:
    def change(node: dict[str, Any]) -> None:
        for names, way in zip((X, Y, Z), by, strict=True):
            for name in names & node.keys():
                if isinstance(node[name], float):
                    node[name] += way

    for axis, way in zip("XYZ", by, strict=True):
        for end in ("least", "greatest"):
            document["machine"]["axes"][axis][end] += way
    relative = [(r, r.pop("bores")) for r in document["routines"] if "bores" in r]
    _each({name: part for name, part in document.items() if name != "machine"}, change)
    for routine, bores in relative:
        routine["bores"] = bores


@variation("machine zero is at another corner")
def _(document: Document) -> bool:
    _moved(document, (-500.0, 120.0, 0.0))
    return True


@variation("Z counts upwards from the table")
def _(document: Document) -> bool:
    _moved(document, (0.0, 0.0, -document["machine"]["axes"]["Z"]["least"]))
    return True


@variation("the machine is turned by a quarter")
def _(document: Document) -> bool:
    document.update(probes=[], routines=[], positions=[], setters=[s for s in document["setters"] if "x" not in s])

    def change(node: dict[str, Any]) -> None:
        if isinstance(node.get("x"), float) and isinstance(node.get("y"), float):
            node["x"], node["y"] = -node["y"], node["x"]
        for name in ("bearing_deg", "mouth_deg", "turn_deg"):
            if name in node:
                node[name] += 90.0

    _each({name: part for name, part in document.items() if name != "machine"}, change)
    axes = document["machine"]["axes"]
    x, y = axes["X"], axes["Y"]
    end = {"least": "greatest", "greatest": "least"}
    axes["X"] = {**y, "least": -y["greatest"], "greatest": -y["least"], "home": end[y["home"]]}
    axes["Y"] = x
    return True


def _rack(document: Document) -> dict[str, Any] | None:
    rack: dict[str, Any] | None = (document["changer"] or {}).get("rack")
    return rack


@variation("the rack stands a little aslant")
def _(document: Document) -> bool:
    rack = _rack(document)
    if rack is None:
        return False
    rack["bearing_deg"] += -1.5 if rack["bearing_deg"] == 0 else 1.5
    return True


@variation("pockets are numbered from the other end")
def _(document: Document) -> bool:
    rack = _rack(document)
    if rack is None or rack["rows"] > 1 or rack["bearing_deg"] % 180:
        return False
    rack["datum"]["x"] += (rack["count"] - 1) * rack["pitch"]
    rack["bearing_deg"] = 180.0
    return True


@variation("the datum is another pocket")
def _(document: Document) -> bool:
    rack = _rack(document)
    if rack is None or rack["bearing_deg"] % 180:
        return False
    rack["datum"].update(pocket=3, x=rack["datum"]["x"] + 2 * rack["pitch"])
    return True


@variation("pockets stand a little wider apart")
def _(document: Document) -> bool:
    rack = _rack(document)
    if rack is None:
        return False
    rack["pitch"] += 4.0
    return True


@variation("there are fewer pockets")
def _(document: Document) -> bool:
    rack = _rack(document)
    if rack is None or rack["rows"] > 1:
        return False
    rack["count"] -= 1
    document["tools"] = [tool for tool in document["tools"] if tool["pocket"] != rack["count"] + 1]
    document.update(probes=[], routines=[])
    return True


@variation("every contact is the other kind, and read so")
def _(document: Document) -> bool:
    other = {"normally open": "normally closed", "normally closed": "normally open", "high": "low", "low": "high"}
    for entry in document["inputs"]:
        entry.update(wiring=other[entry["wiring"]], level=other[entry["level"]])
    return bool(document["inputs"])


@variation("the axes are slower")
def _(document: Document) -> bool:
    for axis in document["machine"]["axes"].values():
        axis["rapid"] *= 0.7
        axis["kept"] = None
    return True


@variation("the axes are faster")
def _(document: Document) -> bool:
    for axis in document["machine"]["axes"].values():
        axis.update(rapid=axis["rapid"] * 1.6, acceleration=axis["acceleration"] * 1.5, kept=None)
    return True


@variation("the spindle takes longer to stop")
def _(document: Document) -> bool:
    document["machine"]["spindle"]["seconds_to_speed"] *= 3
    return True


@variation("devices take their time")
def _(document: Document) -> bool:
    for output in document["outputs"]:
        output["seconds"] *= 1.5
    return bool(document["outputs"])


@variation("the control latches at once")
def _(document: Document) -> bool:
    document["machine"]["latency"] = 0.0
    return True


@variation("no clearance is asked for")
def _(document: Document) -> bool:
    document["machine"]["least_clearance"] = 0.0
    return True


@variation("the margin over stored tools is larger")
def _(document: Document) -> bool:
    heights = document["changer"].get("heights")
    if heights is None:
        return False
    heights["margin"] += 2.0
    return True


@variation("it parks lower")
def _(document: Document) -> bool:
    heights = document["changer"].get("heights")
    if heights is None:
        return False
    heights["park_z"] -= 1.5
    return True


@variation("tools are shorter")
def _(document: Document) -> bool:
    probes = {probe["tool"] for probe in document["probes"]}
    for tool in document["tools"]:
        if tool["number"] not in probes:
            tool.update(length=tool["length"] - 2.0, stick_out=max(tool["stick_out"] - 2.0, 1.0))
    return True


@variation("tools are worn")
def _(document: Document) -> bool:
    for tool in document["tools"]:
        tool["wear"] = -0.08
    return True


@variation("a holder is held at another angle")
def _(document: Document) -> bool:
    if "orientation" not in document["changer"]:
        return False
    document["changer"]["orientation"]["angle_deg"] += 37.0
    return True


@variation("the disc turns the other way")
def _(document: Document) -> bool:
    disc = document["changer"].get("disc")
    if disc is None:
        return False
    disc["sense"] = {"cw": "ccw", "ccw": "cw"}[disc["sense"]]
    return True


@variation("the disc turns one way only")
def _(document: Document) -> bool:
    disc = document["changer"].get("disc")
    if disc is None:
        return False
    disc["way"] = "forwards"
    return True


@variation("forks have a short lead-in")
def _(document: Document) -> bool:
    forks = document["changer"].get("forks")
    if forks is None:
        return False
    forks["lead_in"] = 68.0
    return True


@variation("touches are slower")
def _(document: Document) -> bool:
    for entry in (*document["setters"], *document["probes"]):
        entry.update(search_feed=entry["search_feed"] * 0.6, measure_feed=entry["measure_feed"] * 0.6)
        if entry.get("qualified_feed"):
            entry["qualified_feed"] = entry["measure_feed"]
    return bool(document["setters"] or document["probes"])


@variation("setters are touched from further up")
def _(document: Document) -> bool:
    for setter in document["setters"]:
        setter["margin"] += 3.0
    return bool(document["setters"])


def _profile(document: Document, **values: Any) -> bool:
    setup = read_setup(document)
    mine = setup.profile.model_copy(update={**values, "name": "another"})
    document["profiles"] = [*document["profiles"], mine.model_dump(mode="json")]
    document["machine"]["profile"] = "another"
    return True


@variation("the control counts in the other unit")
def _(document: Document) -> bool:
    unit = {"mm": "inch", "inch": "mm"}[document["machine"]["unit"]]
    document["machine"]["unit"] = unit
    return _profile(document, unit=unit, decimals=5 if unit == "inch" else 4)


@variation("numbered lines, trailing zeros")
def _(document: Document) -> bool:
    return _profile(document, line_numbers=5, trailing_zeros=True, percent_signs=True)


@variation("dwells in milliseconds")
def _(document: Document) -> bool:
    return _profile(document, dwell_seconds=0.001, dwell_letter="X")


@variation("the job calls with a program's number")
def _(document: Document) -> bool:
    return _profile(document, exchange_call="G65", exchange_program=9100)


@variation("a control with plain words only")
def _(document: Document) -> bool:
    """Of a machine whose devices need no wait for a signal, which plain words don't have."""
    document["machine"]["profile"] = "plain words"
    document.update(probes=[], routines=[])
    return document["machine"]["unit"] == "mm" and all(output["role"] == "other" for output in document["outputs"])
