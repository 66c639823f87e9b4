"""The verdict on an exchange under a fault: safe, unsafe, or undetectable (checks.md).

Safe: nothing harmful happens; it is completed with a true record, or stops by itself with one that is true or marked
doubtful. Undetectable: it does harm and no signal that the machine has could tell. Otherwise unsafe.
"""

from dataclasses import dataclass
from typing import Any, Literal

from orthotrope.machine.run import Run
from orthotrope.proof.case import Case, findings_of
from orthotrope.proof.findings import Finding, worst_first
from orthotrope.registry import Registry

Verdict = Literal["unsafe", "undetectable", "safe"]
VERDICTS: dict[Verdict, str] = {"unsafe": "unsafe", "undetectable": "no sensor detects it", "safe": "safe"}
"""In words for the screen; the worst first."""


@dataclass(frozen=True, slots=True)
class Detection:
    """What would tell a fault: an input of one of these roles, asked by the program (none could), or what ``advice``
    helps."""

    roles: tuple[str, ...]
    advice: str


GRIPPED: dict[str, Detection] = {
    "pocket-empty": Detection(
        ("grip closed", "tool present"),
        "An input with the role grip closed (made on a tool only), waited for after closing, would detect it.",
    ),
    "grip-stays-shut": Detection(
        ("grip open",), "An input with the role grip open, waited for before the spindle rises, would detect it."
    ),
    "grip-stays-open": Detection(
        ("grip closed",),
        "An input with the role grip closed, waited for before the tool is carried off, would detect it.",
    ),
    "air-low": Detection(
        ("air", "grip open"), "An input with the role air, asked before the exchange, would detect it."
    ),
}
"""What the signals of a style with a grip can notice."""

DETECTION: Registry[dict[str, Detection]] = Registry("style of changer", "orthotrope.kinds.*.detection")
"""Style of changer → for each fault that its own moves could notice, what would tell it."""


@dataclass(frozen=True, slots=True)
class FaultResult:
    """One exchange under one fault: the verdict, in words what happened, and the finding that it rests on (None: none);
    ``sensor``: the number of the input that is dead in it."""

    fault: str
    verdict: Verdict
    says: str
    finding: Finding | None = None
    sensor: int | None = None

    def as_json(self) -> dict[str, Any]:
        found = self.finding
        return {
            "sensor": self.sensor,
            "fault": self.fault,
            "verdict": self.verdict,
            "says": self.says,
            "check": found.check if found else None,
            "quantity": found.quantity if found else None,
            "line": found.line if found else None,
            "at_seconds": found.at_seconds if found else None,
        }


def judge(
    under: Case,
    fault: str,
    detection: Detection | None,
    without: Finding | None = None,
    is_fault: frozenset[str] = frozenset(),
) -> FaultResult:
    """One exchange under one fault. ``detection``: what would tell the fault where no style's own moves do; ``without``:
    what goes wrong in it without a fault; ``is_fault``: the checks whose findings tell the fault itself, which is no harm
    where the program notices it."""
    run, magazine = under.main, under.world.magazine
    noticed = is_fault if run.trace.blocks and run.trace.blocks[-1].doubtful else frozenset()
    found = [finding for finding in findings_of(under, "run", harms=True) if finding.check not in noticed]
    harm = next(iter(worst_first(found)), None) or _untrue(under, run) or without_end(run)
    if harm is None:
        return FaultResult(fault, "safe", _measured(run) if under.purpose in ("measure", "probe") else _ended(run))
    detection = (DETECTION.get(magazine.style, {}) if magazine else {}).get(fault, detection)
    can_wait = under.profile.wait != "none"
    detected_by = {entry.role for entry in under.setup.inputs if can_wait} if under.setup else set()
    again = without is not None and (harm.check, harm.line) == (without.check, without.line)
    if again or detection is None or not detected_by.isdisjoint(detection.roles):
        return FaultResult(fault, "unsafe", harm.message, harm)
    why = "No signal of this machine detects it." if can_wait else "This control can't wait for a signal."
    return FaultResult(fault, "undetectable", f"{harm.message} {why} {detection.advice}", harm)


def _ended(run: Run) -> str:
    trace = run.trace
    if expired := trace.of_kind("wait-expired"):
        return f"It waits for the input {expired[-1].data['input']} and stops by itself where that does not come."
    if trace.ended == "end":
        if trace.holding[-1][1] == run.call.to_tool and not trace.blocks[-1].doubtful:
            return "It is completed, the record is true."
        said = next((event.data["text"] for event in reversed(trace.events) if event.kind == "message"), "")
        return f"It stops by itself: {said}." if said else "It stops by itself."
    stop = next((event.kind for event in reversed(trace.events) if event.kind in ("not-homed", "beyond-travel")), "")
    return {
        "not-homed": "The control does not begin: the machine is not homed.",
        "beyond-travel": "The control stops at a soft limit, before it moves.",
    }.get(stop, "It stops by itself.")


def _measured(run: Run) -> str:
    """How measuring ends: by what it says."""
    said = next((event.data["text"] for event in reversed(run.trace.events) if event.kind == "message"), "")
    return f"It ends with: {said}." if said and run.trace.ended == "end" else _ended(run)


def _untrue(case: Case, run: Run) -> Finding | None:
    """A record that differs from what is there at the end, and is not marked as doubtful."""
    if case.profile.record != "parameter" or not run.trace.blocks:
        return None
    last = run.trace.blocks[-1]
    held = run.trace.held(last.t1)
    if last.doubtful or held == last.record:
        return None
    is_there = "its tool is neither held nor free" if held is None else f"the spindle holds {_named(held)}"
    message = f"At the end the record says {_named(last.record)}, and {is_there}."
    return Finding("record-untrue", "stop", message, last.line, last.t1, last.position)


def without_end(run: Run) -> Finding | None:
    """A wait or a loop without an end: nothing moves any more, nothing is said, and a person who looks into it is inside when it goes on."""
    if not run.endless:
        return None
    message = f"It does not end: {run.endless.what}. Give the loop a count and a way out."
    return Finding("unbounded-loop", "stop", message, run.endless.line, run.trace.seconds)


def _named(tool: float) -> str:
    return f"T{tool:g}" if tool else "no tool"
