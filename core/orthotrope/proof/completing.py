"""Whether a sequence comes to its end where everything is as the Setup says: one that refuses there never runs."""

from collections.abc import Iterator

from orthotrope.machine.trace import Event
from orthotrope.proof.case import Case
from orthotrope.proof.findings import Finding
from orthotrope.setup.control import ControlProfile
from orthotrope.units import MM_PER_INCH

NOT_COMPLETED = "setup-conflict"
"""The check by which it is reported."""


def works_out(profile: ControlProfile) -> bool:
    """Whether a control does sums and asks conditions, and finds a touch in its parameters."""
    return profile.arithmetic and profile.conditions and profile.latched != "none"


def result_of(case: Case) -> Event | None:
    """Where a measuring does what it is for, if that is not to set a length, the last time; None: it does not."""
    wanted = case.measured
    if wanted is None:
        return None
    which, _ = KEPT_AS[wanted.kind]
    found = [event for event in case.main.trace.of_kind(wanted.kind) if event.data[which] == wanted.number]
    return found[-1] if found else None


KEPT_AS = {"set": ("parameter", "value"), "zero-set": ("offset", "zero"), "length-active": ("tool", "length")}
"""In an event of this kind: what says which one it is, and its value."""


def off_by(case: Case) -> float | None:
    """How far what a measuring finds beside a length is off what is really there, mm; None: it has found nothing."""
    event, wanted = result_of(case), case.measured
    if event is None or wanted is None:
        return None
    factor = MM_PER_INCH if case.profile.unit == "inch" and wanted.kind == "set" else 1.0
    return float(event.data[KEPT_AS[wanted.kind][1]]) * factor - wanted.true


def completed(case: Case) -> bool:
    """Whether a case, as called, has done what it is for: the requested tool is held and on record, a length set, a zero set, or what is
    found kept; where the control does no sums, something touched."""
    trace, profile = case.main.trace, case.profile
    if trace.ended != "end" or not trace.blocks:
        return False
    if case.purpose == "exchange":
        last = trace.blocks[-1]
        return not last.doubtful and last.holds == case.call.to_tool
    if case.purpose == "measure" and case.measured:
        return not works_out(profile) or result_of(case) is not None
    if case.purpose == "measure":
        sets = profile.length_word == "G10 L1" and works_out(profile)
        return not sets or bool(trace.of_kind("length-set"))
    part = case.routine
    if part is not None and works_out(profile):
        if part.offset is not None and profile.offset_word == "G10 L2":
            return bool(trace.of_kind("zero-set"))
        if part.kept:
            calculated = {event.data["parameter"] for event in trace.of_kind("set")}
            return calculated >= {*(entry[0] for entry in part.kept), *(entry[0] for entry in part.sizes)}
    touches = any(body.part_of == "part" or body.makes is not None for body in case.world.bodies)
    return bool(trace.of_kind("touch")) or not touches


def refused(case: Case) -> Iterator[Finding]:
    """That it is not completed, with what it says; nothing where something else is said to be wrong with the run."""
    run = case.main
    if run.endless or run.fault or run.trace.ended != "end" or completed(case):
        return
    said = next((event.data["text"] for event in reversed(run.trace.events) if event.kind == "message"), "")
    last = run.trace.blocks[-1] if run.trace.blocks else None
    yield Finding(
        NOT_COMPLETED,
        "stop",
        f"With everything as the Setup says the program does not finish: “{said}”. Look at the text, and at the Setup, the wiring of its "
        f"inputs first.",
        last.line if last else None,
        last.t1 if last else None,
    )
