"""The stage Changer: how tools are exchanged, and one exchange in text and run."""

from dataclasses import replace
from typing import Any

from orthotrope.calc.derived import DerivedChanger
from orthotrope.errors import OrthotropeError
from orthotrope.machine.report import trace_as_json
from orthotrope.machine.trace import Trace
from orthotrope.program.reader import read_text
from orthotrope.program.writer import write
from orthotrope.proof.case import Case
from orthotrope.proof.cures import tried
from orthotrope.proof.exchanges import exchange_case, exchange_text, finding_json, of_changed
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.judging import judge
from orthotrope.proof.review import pair, review
from orthotrope.sequence.exchanges import plan_ready
from orthotrope.setup import Setup

from shop.stages.registry import ANSWERS, Asked, Evidence, Mark, stage

MOST_PLAYED = 20_000
"""Moves of a program that is played; one that makes more is told as one without an end."""


@stage("Changer", answer="exchange")
def mark(evidence: Evidence) -> tuple[Mark, str]:
    """Failing where the Setup contradicts itself."""
    if evidence.conflicts:
        return "failing", evidence.conflicts[0].message
    return evidence.filled(evidence.setup.changer is not None, "There is no changer yet.")


@ANSWERS.register("exchange")
def answer(setup: Setup, derived: DerivedChanger | None, asked: Asked) -> dict[str, Any] | None:
    """One exchange; None while there is no changer."""
    if derived is None:
        return None
    return exchange_json(setup, asked.from_tool, asked.to_tool, asked.profile, asked.program, asked.fault, asked.sensor)


def exchange_json(
    setup: Setup,
    from_tool: int | None,
    to_tool: int | None,
    profile: str | None,
    brought: str | None = None,
    fault: str | None = None,
    sensor: int | None = None,
) -> dict[str, Any] | None:
    """One exchange in every control profile, run through the text of the chosen one, or through a program that was
    brought; None while there is none."""
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
        file = (
            f"{setup.machine.name.lower()}-exchange{'' if entry.arithmetic else f'-{one}-{other}'}{entry.file_ending}"
        )
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
    return {
        "under": under.as_json() if under else None,
        "from_tool": one,
        "to_tool": other,
        "texts": texts,
        "shown": shown,
        "ready": _ready(setup, shown),
        "trace": _playable(case.main.trace) if case and case.program.readable else None,
        "findings": [finding_json(finding) for finding in findings],
    }


def _ready(setup: Setup, profile: str) -> dict[str, Any] | None:
    """The program that readies a tool while the job cuts; None where the style has none, or the control can't hold
    it."""
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
        while index < len(blocks) - 1 and (
            blocks[index]["line"] != event.line or blocks[index]["end_seconds"] < event.t
        ):
            index += 1
        blocks[index]["set"][f"#{event.data['parameter']}"] = event.data["value"]
    spindle = [{**ramp, "start_speed": ramp["from"], "end_speed": ramp["to"]} for ramp in whole["spindle"]]
    return {**whole, "blocks": blocks, "spindle": spindle}
