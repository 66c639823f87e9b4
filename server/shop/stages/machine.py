"""The stage Machine: axes, stored positions, control profiles."""

from typing import Any

from orthotrope.calc.derived import DerivedChanger
from orthotrope.calc.derived_machine import crossing, machine_workings
from orthotrope.calc.space import usable_space
from orthotrope.errors import InputError, OrthotropeError
from orthotrope.program.readback import read_back
from orthotrope.program.reader import read_text
from orthotrope.program.writer import NotWritable, as_written, write
from orthotrope.proof.conflicts import margin_advice
from orthotrope.proof.exchanges import finding_json
from orthotrope.proof.positions import check_way, entry_card
from orthotrope.sequence.sample import sample
from orthotrope.setup import Setup
from orthotrope.setup.control import read_profile

from shop.stages.registry import ANSWERS, Asked, Evidence, Mark, stage
from shop.stages.told import told


@stage("Machine", answer="machine")
def mark(evidence: Evidence) -> tuple[Mark, str]:
    """A machine is filled in as soon as there is one."""
    return evidence.filled(True, "")


@ANSWERS.register("machine")
def answer(setup: Setup, derived: DerivedChanger | None, asked: Asked) -> dict[str, Any]:
    """Soft limits, curves, usable space, stored positions with their texts and findings, and the entry card."""
    space = usable_space(setup, derived)
    axes = {}
    for name, axis in setup.machine.axes.items():
        now, kept = crossing(setup, axis), crossing(setup, axis, kept=True)
        assert now is not None
        axes[name] = {
            "soft_least": axis.soft_least,
            "soft_greatest": axis.soft_greatest,
            "now": now.as_json(),
            "kept": kept.as_json() if kept else None,
        }
    return {
        "axes": axes,
        "workings": {key: working.as_json() for key, working in machine_workings(setup).items()},
        "space": {
            "data_sheet": space.data_sheet,
            "within_limits": space.within_limits,
            "left": space.left,
            "rectangle": list(space.rectangle),
            "kept_clear": [{"name": k.name, "outline": [list(p) for p in k.outline]} for k in space.kept_clear],
        },
        "ways": [_way(setup, position.name) for position in setup.positions],
        "card": [
            {
                "group": e.group,
                "name": e.name,
                "where": e.where,
                "value": e.value,
                "shown": e.shown,
                "unit": e.unit,
                "decimals": e.decimals,
            }
            for e in entry_card(setup)
        ],
        "findings": told("margin", margin_advice(setup)),
        "unknown_before_homing": _unknown_before_homing(setup),
    }


def _way(setup: Setup, name: str) -> dict[str, Any]:
    file = f"{setup.machine.name}-to-{name}{setup.profile.file_ending}".lower().replace(" ", "-")
    try:
        found = check_way(setup, name)
    except NotWritable as failed:
        return {
            "name": name,
            "file": file,
            "text": None,
            "why": str(failed),
            "starts": 0,
            "seconds": 0.0,
            "findings": [],
        }
    return {
        "name": name,
        "file": file,
        "text": found.text,
        "why": "",
        "starts": found.starts,
        "seconds": found.seconds,
        "findings": [finding_json(finding) for finding in found.findings],
    }


def _unknown_before_homing(setup: Setup) -> list[str]:
    """What the control can't know before the machine has gone home."""
    found = [
        "Where the machine stands: its readout counts from where it was switched on.",
        "The soft limits: nothing stops an axis before its hard stop.",
    ]
    if setup.positions:
        found.append(f"The stored positions ({', '.join(position.name for position in setup.positions)}).")
    if setup.changer:
        found.append("The pockets and heights of the changer: no exchange may begin.")
    if setup.work_offsets:
        found.append(f"The zeros of the parts ({len(setup.work_offsets)} work offsets).")
    return found


def profile_answer(profile: dict[str, Any]) -> dict[str, Any]:
    """A sample program in a profile that need not be stored, and whether it reads back as what was meant."""
    try:
        known = read_profile(profile)
    except InputError as bad:
        return {
            "faults": [fault.as_json() for fault in bad.faults],
            "text": None,
            "says": "",
            "agrees": False,
            "call": "",
        }
    call = f"G65 P{known.exchange_program} A1 B2" if known.exchange_call == "G65" else "T2 M6"
    sequence = sample(known)
    try:
        text = write(sequence, known)
        again = read_back(read_text(text), known)
    except OrthotropeError as failed:
        return {"faults": [], "text": None, "says": str(failed), "agrees": False, "call": call}
    agrees = again == as_written(sequence, known)
    says = (
        f"Read back, it gives the same {len(again.steps)} steps."
        if agrees
        else "Read back, it gives other steps than were meant."
    )
    return {"faults": [], "text": text, "says": says, "agrees": agrees, "call": call}
