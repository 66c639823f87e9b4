"""The stage Machine: axes, stored positions, control profiles."""

from dataclasses import dataclass

from orthotrope.calc.crossing import AxisCrossingOutput
from orthotrope.calc.derived import Derivation, DerivedChanger
from orthotrope.calc.derived_machine import crossing, machine_workings
from orthotrope.calc.space import UsableSpace, usable_space
from orthotrope.program.writer import NotWritable
from orthotrope.proof.conflicts import margin_advice
from orthotrope.proof.findings import Finding
from orthotrope.proof.positions import CardEntry, check_way, entry_card
from orthotrope.setup import Setup

from shop.stages.findings import as_findings
from shop.stages.registry import ANSWERS, Evidence, Mark, StageRequest, stage


@stage("Machine", answer="machine", sections=("machine", "bodies", "positions", "work_offsets"))
def mark(evidence: Evidence) -> tuple[Mark, str]:
    """A machine is filled in as soon as there is one."""
    return evidence.filled(True, "")


@dataclass(frozen=True, slots=True)
class AxisAnswer:
    """An axis' soft limits, mm; across them with the setting in force, and with the one that is kept beside it (None:
    there is none)."""

    soft_least: float
    soft_greatest: float
    now: AxisCrossingOutput
    kept: AxisCrossingOutput | None


@dataclass(frozen=True, slots=True)
class Way:
    """The way to a stored position: its text (None: ``why`` not), from how many places it was run, the longest time,
    and what was found."""

    name: str
    file: str
    text: str | None
    why: str = ""
    starts: int = 0
    seconds: float = 0.0
    findings: tuple[Finding, ...] = ()


@dataclass(frozen=True, slots=True)
class MachineAnswer:
    """``workings`` by key; ``card``: what is to be keyed into the control."""

    axes: dict[str, AxisAnswer]
    workings: dict[str, Derivation]
    space: UsableSpace
    ways: list[Way]
    card: list[CardEntry]
    findings: list[Finding]
    unknown_before_homing: list[str]


@ANSWERS.register("machine")
def answer(setup: Setup, derived: DerivedChanger | None, asked: StageRequest) -> MachineAnswer:
    """Soft limits, curves, usable space, stored positions with their texts and findings, and the entry card."""
    axes = {}
    for name, axis in setup.machine.axes.items():
        now = crossing(setup, axis)
        assert now is not None
        axes[str(name)] = AxisAnswer(axis.soft_least, axis.soft_greatest, now, crossing(setup, axis, kept=True))
    return MachineAnswer(
        axes=axes,
        workings=machine_workings(setup),
        space=usable_space(setup, derived),
        ways=[_way(setup, position.name) for position in setup.positions],
        card=list(entry_card(setup)),
        findings=as_findings("margin", margin_advice(setup)),
        unknown_before_homing=_unknown_before_homing(setup),
    )


def _way(setup: Setup, name: str) -> Way:
    file = f"{setup.machine.name}-to-{name}{setup.profile.file_ending}".lower().replace(" ", "-")
    try:
        found = check_way(setup, name)
    except NotWritable as failed:
        return Way(name, file, None, str(failed))
    return Way(name, file, found.text, "", found.starts, found.seconds, tuple(found.findings))


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
