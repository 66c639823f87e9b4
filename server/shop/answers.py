"""What the core says about a Setup, as the interface wants it. Nothing here is stored."""

from dataclasses import replace
from typing import Any

from orthotrope.calc.alignment import align, alignment_json
from orthotrope.calc.derived import DerivedChanger, derive
from orthotrope.calc.storage import storing
from orthotrope.errors import InputError, OrthotropeError
from orthotrope.machine.report import trace_as_json, world_as_json
from orthotrope.machine.trace import Trace
from orthotrope.program.reader import read_text
from orthotrope.program.writer import write
from orthotrope.proof.case import Case
from orthotrope.proof.conflicts import conflicts
from orthotrope.proof.cures import tried
from orthotrope.proof.exchanges import exchange_case, exchange_text, finding_json, of_changed
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.findings import Finding
from orthotrope.proof.judging import judge
from orthotrope.proof.review import pair, review
from orthotrope.proof.worlds import device_seconds, nominal_world
from orthotrope.sequence.exchanges import plan_ready
from orthotrope.setup import Setup, read_setup

from shop.stage_answers import machine_answer, signals_answer

MOST_PLAYED = 20_000
"""Moves of a program that is played; one that makes more is told as one without an end."""


def answer(document: dict[str, Any], from_tool: int | None, to_tool: int | None, profile: str | None,
           stage: str = "exchange", program: str | None = None, fault: str | None = None,
           sensor: int | None = None) -> dict[str, Any]:  # fmt: skip
    """Derived values, drawing and findings of a document that need not be stored; and what the ``stage`` shows: an exchange's
    text and trace (under a ``fault``, where one is said), or what follows for the machine or its signals."""
    try:
        setup = read_setup(document)
    except InputError as bad:
        return {"faults": [fault.as_json() for fault in bad.faults], "derived": None, "scene": None, "exchange": None,
                "conflicts": []}  # fmt: skip
    derived = derive(setup)
    told = [finding_json(Finding("setup-conflict", "stop", c.message, quantity=c.where, cure=c.cure))
            for c in conflicts(setup, derived)]  # fmt: skip
    return {
        "faults": [],
        "derived": derived_json(setup, derived) if derived else None,
        "scene": world_as_json(nominal_world(setup)),
        "exchange": exchange_json(setup, from_tool, to_tool, profile, program, fault, sensor)
        if derived and stage == "exchange"
        else None,
        "conflicts": told,
        "machine": machine_answer(setup, derived) if stage == "machine" else None,
        "signals": signals_answer(setup) if stage == "signals" else None,
    }


def derived_json(setup: Setup, derived: DerivedChanger) -> dict[str, Any]:
    ladder = derived.ladder.as_json()
    longest = {"longest": derived.longest_length, "longest_tool": derived.longest.number if derived.longest else None}
    return {
        "pockets": [pocket.model_dump() for pocket in derived.pockets],
        "centre": {"x": derived.middle[0], "y": derived.middle[1]},
        "ladder": {**ladder, "park_z": derived.park_z, **longest},
        "workings": {key: working.as_json() for key, working in derived.workings.items()},
        "alignment": alignment_answer(setup),
        "storing": [
            {"tool": s.tool, "pocket": s.pocket, "spare": s.spare, "clearance": s.clearance, "overlap": s.overlap, "says": s.says}
            for s in storing(setup)
        ],
        "signals": signals_of(setup),
        "rack_top_z": derived.rack_top_z,
        "stored_top_z": derived.stored_top_z,
    }


def signals_of(setup: Setup) -> list[dict[str, Any]]:
    """The signals that an exchange of the Setup's style can make use of, by role: the one there is, or none."""
    changer = setup.changer
    found: list[dict[str, Any]] = []
    for output_role in changer.switches if changer else ():
        output = setup.output_of(output_role)
        found.append({"kind": "output", "role": output_role, "name": output.name if output else None,
                      "seconds": device_seconds(setup, output_role)})  # fmt: skip
    for role in changer.sensors if changer else ():
        entry = setup.input_of(role)
        found.append({"kind": "input", "role": role, "name": entry.name if entry else None, "seconds": None})
    return found


def alignment_answer(setup: Setup) -> dict[str, Any] | None:
    """What the taught pockets say; null while they are too few, or determine no row (``says`` then tells why)."""
    try:
        found = align(setup)
    except InputError as bad:
        return {"says": [fault.what for fault in bad.faults], "fit": None}
    return {"says": list(found.says), "fit": alignment_json(found)} if found else None


def exchange_json(setup: Setup, from_tool: int | None, to_tool: int | None, profile: str | None,
                  brought: str | None = None, fault: str | None = None, sensor: int | None = None) -> dict[str, Any] | None:  # fmt: skip
    """One exchange in every control profile, run through the text of the chosen one, or through a program that was brought;
    None while there is none."""
    one, other = pair(setup, from_tool, to_tool)
    stored = {0, *(tool.number for tool in setup.exchangeable())}
    if one not in stored or other not in stored:
        one, other = pair(setup, None, None)
    if one == other:
        return None
    shown = profile or setup.machine.profile
    texts: list[dict[str, Any]] = []
    case: Case | None = None
    for entry in setup.every_profile():
        name = entry.name
        file = f"{setup.machine.name.lower()}-exchange{'' if entry.arithmetic else f'-{one}-{other}'}{entry.file_ending}"
        text: str | None = None
        why = ""
        try:
            if name == shown:
                text, case = exchange_case(setup, entry, one, other)
            else:
                text = exchange_text(setup, entry, one, other)
        except OrthotropeError as failed:
            why = str(failed)
        texts.append({"profile": name, "file": file.replace(" ", "-"), "text": text, "why": why})
    if brought is not None and case:
        case = replace(case, program=read_text(brought), _runs={})
        texts = [{"profile": shown, "file": "", "text": brought, "why": ""}]
    under = None
    if case:
        case = replace(case, call=replace(case.call, most_moves=MOST_PLAYED), _runs={})
        befalling = FAULTS.get(fault or "")
        if befalling and case.program.readable and befalling.applies(case.world, case.call):
            case = befalling.befall(case, sensor)
            under = judge(case, befalling.name, befalling.telling)
    findings = tried(review(case), setup, of_changed(case, brought is None)) if case else []
    findings = [f for f in findings if f.check != "setup-conflict"]
    return {"under": under.as_json() if under else None, "from_tool": one, "to_tool": other, "texts": texts, "shown": shown, "ready": _ready(setup, shown),
            "trace": _playable(case.main.trace) if case and case.program.readable else None,
            "findings": [finding_json(finding) for finding in findings]}  # fmt: skip


def _ready(setup: Setup, profile: str) -> dict[str, Any] | None:
    """The program that readies a tool while the job cuts; None where the style has none, or the control can't hold it."""
    entry = setup.profile_named(profile)
    try:
        text = write(plan_ready(setup), entry)
    except OrthotropeError:
        return None
    return {"file": f"{setup.machine.name.lower()}-ready{entry.file_ending}".replace(" ", "-"), "text": text}


def _playable(trace: Trace) -> dict[str, Any]:
    whole = trace_as_json(trace)
    blocks = [{**block, "set": {}} for block in whole["blocks"]]
    index = 0
    for event in trace.events:
        if event.kind != "set":
            continue
        while index < len(blocks) - 1 and (blocks[index]["line"] != event.line or blocks[index]["end_seconds"] < event.t):
            index += 1
        blocks[index]["set"][f"#{event.data['parameter']}"] = event.data["value"]
    spindle = [{**ramp, "start_speed": ramp["from"], "end_speed": ramp["to"]} for ramp in whole["spindle"]]
    return {**whole, "blocks": blocks, "spindle": spindle}
