"""What the core says about a Setup, as the interface wants it. Nothing here is stored."""

from dataclasses import replace
from typing import Any

from orthotrope.calc.alignment import align, alignment_json
from orthotrope.calc.derived import DerivedChanger, block_corners, derive, disc_centre
from orthotrope.calc.storage import storing
from orthotrope.errors import InputError, OrthotropeError
from orthotrope.machine.report import trace_as_json, world_as_json
from orthotrope.machine.trace import Trace
from orthotrope.program.reader import read_text
from orthotrope.program.writer import write
from orthotrope.proof.case import Case
from orthotrope.proof.conflicts import conflicts, signal_conflicts
from orthotrope.proof.exchanges import exchange_case, exchange_text, finding_json, proof_digest
from orthotrope.proof.findings import SEVERITIES, Finding
from orthotrope.proof.review import pair, review
from orthotrope.proof.worlds import device_seconds, nominal_world
from orthotrope.sequence.exchanges import plan_ready
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.changes import changes
from orthotrope.setup.styles import SENSORS, SWITCHES, ArmDisc, ByHand, DiscChanger, RackChanger

from shop.models import Machine, Proof, Revision
from shop.proving import is_running
from shop.stage_answers import machine_answer, signals_answer


def answer(document: dict[str, Any], from_tool: int | None, to_tool: int | None, profile: str | None,
           stage: str = "exchange", program: str | None = None) -> dict[str, Any]:  # fmt: skip
    """Derived values, drawing and findings of a document that need not be stored; and what the ``stage`` shows: an exchange's
    text and trace, or what follows for the machine or its signals."""
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
        "exchange": exchange_json(setup, from_tool, to_tool, profile, program) if derived and stage == "exchange" else None,
        "conflicts": told,
        "machine": machine_answer(setup, derived) if stage == "machine" else None,
        "signals": signals_answer(setup) if stage == "signals" else None,
    }


def derived_json(setup: Setup, derived: DerivedChanger) -> dict[str, Any]:
    ladder = derived.ladder.as_json()
    middle = (0.0, 0.0)
    if isinstance(setup.changer, RackChanger):
        middle = block_corners(setup.changer.rack, derived)[0]
    elif isinstance(setup.changer, DiscChanger):
        middle = disc_centre(setup.changer, swung=False)
    elif isinstance(setup.changer, ByHand):
        middle = (setup.changer.x, setup.changer.y)
    longest = {"longest": derived.longest_length, "longest_tool": derived.longest.number if derived.longest else None}
    return {
        "pockets": [pocket.model_dump() for pocket in derived.pockets],
        "centre": {"x": middle[0], "y": middle[1]},
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
    style = setup.changer.style if setup.changer else ""
    found: list[dict[str, Any]] = []
    for output_role in SWITCHES.get(style, ()):
        output = setup.output_of(output_role)
        found.append({"kind": "output", "role": output_role, "name": output.name if output else None,
                      "seconds": device_seconds(setup, output_role)})  # fmt: skip
    for role in SENSORS.get(style, ()):
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
                  brought: str | None = None) -> dict[str, Any] | None:  # fmt: skip
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
    findings = [f for f in review(case) if f.check != "setup-conflict"] if case else []
    return {"from_tool": one, "to_tool": other, "texts": texts, "shown": shown, "ready": _ready(setup, shown),
            "trace": _playable(case.main.trace) if case and case.program.readable else None,
            "findings": [finding_json(finding) for finding in findings]}  # fmt: skip


def _ready(setup: Setup, profile: str) -> dict[str, Any] | None:
    """The program that readies a tool while the job cuts; None where the style has none, or the control can't hold it."""
    if not isinstance(setup.changer, ArmDisc):
        return None
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


def latest_proof(machine: Machine, brought: bool = False) -> Proof | None:
    """The newest proof of the written text, or of one that was brought."""
    found = machine.proofs.exclude(brought="") if brought else machine.proofs.filter(brought="")
    return found.order_by("-pk").select_related("revision", "author").first()


def proof_json(proof: Proof, head: Revision, with_pairs: bool = False) -> dict[str, Any]:
    """A proof, whether it is stale, and what it was that changed since."""
    stale = proof.digest != proof_digest(read_setup(head.document))
    state = proof.state
    if state == Proof.State.RUNNING and not is_running(proof):
        proof.refresh_from_db()  # it may have ended since it was read
        state = proof.state if proof.state != Proof.State.RUNNING else Proof.State.CANCELLED  # the server was stopped
    worst = [result["worst"] for result in proof.results]
    verdicts = [fault["verdict"] for result in proof.results for fault in result.get("faults", [])]
    reasons = []
    if stale:
        who = f"{head.author.get_username()}, {head.changed:%d %b %H:%M} UTC"
        reasons = [f"{_name(change.where)} was {_short(change.before)}, is now {_short(change.after)} ({who})"
                   for change in changes(proof.revision.document, head.document)]  # fmt: skip
    summary = {
        "id": proof.pk, "state": state, "done": proof.done, "total": proof.total, "stop": worst.count("stop"),
        "warn": worst.count("warn"), "cases": len(verdicts), "unsafe": verdicts.count("unsafe"),
        "unnoticed": verdicts.count("can't be noticed"), "revision": proof.revision.number, "author": proof.author.get_username(),
        "started": proof.started, "file": proof.file, "error": proof.error, "stale": stale, "changes": reasons}  # fmt: skip
    if with_pairs:
        summary["pairs"] = [{**r, "from_tool": r["from"], "to_tool": r["to"]} for r in proof.results]
        summary["brought"] = proof.brought
        summary["causes"] = causes(proof.results)
        summary["faults"] = fault_groups(proof.results)
        summary["times"] = times(proof.results)
    return summary


def causes(results: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """The findings of all pairs by cause (same check, same value of the Setup, same cure), the worst and widest first."""
    found: dict[tuple[str, str, str], dict[str, Any]] = {}
    for result in results:
        for finding in result["findings"]:
            cure = finding["cure"]["says"] if finding["cure"] else ""
            key = (finding["check"], finding["quantity"] or finding["message"], cure)
            cause = found.setdefault(key, {"finding": finding, "pairs": []})
            pair_of = [result["from"], result["to"]]
            if pair_of not in cause["pairs"]:
                cause["pairs"].append(pair_of)
    return sorted(found.values(), key=lambda c: (SEVERITIES.index(c["finding"]["severity"]), -len(c["pairs"])))


def times(results: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """The longest and the shortest exchange, each with where its time goes; fewer where there are fewer."""
    told = [result for result in results if result.get("spent")]
    chosen = {id(pick): pick for pick in (max(told, key=_seconds), min(told, key=_seconds))} if told else {}
    found = []
    for pick in chosen.values():
        shares = [{"name": name, "seconds": seconds} for name, seconds in pick["spent"].items()]
        found.append({"from_tool": pick["from"], "to_tool": pick["to"], "seconds": pick["seconds"], "shares": shares})
    return found


def _seconds(result: dict[str, Any]) -> float:
    return float(result["seconds"])


def fault_groups(results: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """The verdicts of all pairs by fault, and within a fault by what it came to (same verdict, same check): the worst and
    widest first, each with the first pair's sentence."""
    found: dict[str, dict[tuple[str, str], dict[str, Any]]] = {}
    for result in results:
        for fault in result.get("faults", []):
            groups = found.setdefault(fault["fault"], {})
            key = (fault["verdict"], fault["check"] or "")
            group = groups.setdefault(
                key, {"verdict": fault["verdict"], "check": fault["check"], "says": fault["says"], "pairs": []}
            )
            group["pairs"].append([result["from"], result["to"]])
    order = ("unsafe", "can't be noticed", "safe")
    return [{"fault": name, "groups": sorted(groups.values(), key=lambda g: (order.index(g["verdict"]), -len(g["pairs"])))}
            for name, groups in found.items()]  # fmt: skip


def _name(where: str) -> str:
    parts = [part.replace("_", " ") for part in where.strip("/").split("/")]
    if parts[0] == "tools" and len(parts) > 1:
        return f"T{parts[1]} {' '.join(parts[2:])}".strip()
    return " ".join(parts[1:]) or parts[0]


def _short(value: object) -> str:
    if isinstance(value, dict):
        return "there"
    return "nothing" if value is None else f"{value:g}" if isinstance(value, float | int) else str(value)


def stages(setup: Setup, proof: dict[str, Any] | None, tests: list[dict[str, Any]]) -> list[dict[str, str]]:
    """How far a machine is along the stages that are built. The evidence of the signals is their tests."""
    told = list(conflicts(setup, derive(setup)))
    evidence = "open"
    why = "No proof has been run."
    if proof and proof["stale"]:
        evidence, why = "stale", proof["changes"][0] if proof["changes"] else "The Setup has changed since the proof."
    elif proof and proof["state"] == "done":
        evidence = "failing" if proof["stop"] or proof["unsafe"] else "proven"
        if proof["stop"]:
            why = f"{proof['stop']} of {proof['total']} exchanges have a stop."
        elif proof["unsafe"]:
            why = f"{proof['unsafe']} of {proof['cases']} cases under faults are unsafe."
        else:
            why = f"All {proof['total']} exchanges are proven."
    elif proof:
        why = f"The proof is {proof['state']}, {proof['done']} of {proof['total']}."

    def mark(name: str, filled: bool, missing: str) -> dict[str, str]:
        if not filled:
            return {"name": name, "mark": "open", "why": missing}
        if evidence == "open":
            return {"name": name, "mark": "filled", "why": "Filled in, not proven."}
        return {"name": name, "mark": evidence if evidence != "failing" else "filled", "why": why}

    changer = mark("Changer", setup.changer is not None, "There is no changer yet.")
    if told:
        changer = {"name": "Changer", "mark": "failing", "why": told[0].message}
    tools = mark("Tools", bool(setup.exchangeable()), "No tool is stored in a pocket yet.")
    return [mark("Machine", True, ""), _signals_mark(setup, tests), changer, tools,
            {"name": "Proof", "mark": evidence, "why": why}]  # fmt: skip


def _signals_mark(setup: Setup, tests: list[dict[str, Any]]) -> dict[str, str]:
    newest = {test["number"]: test for test in tests}
    names = [entry.name for entry in setup.inputs if entry.number not in newest]
    stale = [entry.name for entry in setup.inputs if entry.number in newest and newest[entry.number]["stale"]]
    failed = [entry.name for entry in setup.inputs if entry.number in newest and newest[entry.number]["outcome"] != "passed"]

    def told(mark: str, why: str) -> dict[str, str]:
        return {"name": "Signals", "mark": mark, "why": why}

    if not setup.inputs and not setup.outputs:
        return told("open", "There is no input or output yet.")
    if twice := next(signal_conflicts(setup), None):
        return told("failing", twice.message)
    if stale:
        return told("stale", f"Changed since its test: {', '.join(stale)}.")
    if failed:
        return told("failing", f"Did not pass its test: {', '.join(failed)}.")
    if names:
        return told("filled", f"Not tested: {', '.join(names)}.")
    return told("proven", "All inputs are tested.")
