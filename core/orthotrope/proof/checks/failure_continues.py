"""A branch that was taken because something went wrong ends like a success."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.completing import completed, off_by
from orthotrope.proof.findings import Finding
from orthotrope.units import with_unit


@check("failure-continues", "stop", "run", harms=True)
def failure_continues(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """It goes back to the job without having done what it is for, or ends with the nose inside the changer without a word."""
    run = case.main
    if run.trace.ended != "end" or not run.trace.blocks:
        return
    last = run.trace.blocks[-1]
    if run.returned and (wrong := _not_done(case)):
        yield report(
            f"It goes back to the job as if nothing had happened, and {wrong}; say what is wrong, pause and end (M0, M30).",
            last.line,
            last.t1,
            last.position,
        )
    elif case.purpose in ("measure", "probe") and not run.returned and _not_done(case) and not _said(case):
        yield report(
            f"It ends without a word, and {_not_done(case)}; say what is wrong and pause before the end.",
            last.line,
            last.t1,
            last.position,
        )
    elif case.purpose == "exchange" and _not_done(case) and _in_changer(case) and not _said(case):
        yield report(
            "It ends with the nose inside the changer without having said what to do; say it before the pause.",
            last.line,
            last.t1,
            last.position,
        )


def _not_done(case: Case) -> str:
    run = case.main
    held = run.trace.holding[-1][1]
    changes = case.purpose == "exchange" and case.world.magazine is not None
    if changes and held != run.call.to_tool and run.trace.blocks[-1].record == held:  # else the record is untrue
        is_there = (
            "its tool is neither held nor free"
            if held is None
            else f"the spindle holds {f'T{held:g}' if held else 'no tool'}"
        )
        asked = f"T{run.call.to_tool}" if run.call.to_tool else "the empty spindle"
        return f"{is_there}, where {asked} was asked for"
    if case.purpose == "measure" and run.trace.of_kind("missed-touch") and not run.trace.of_kind("length-set"):
        return "nothing was measured"
    off = off_by(case)
    if off is not None and case.measured and abs(off) > case.measured.allowed:
        return f"the {case.measured.name} is {with_unit(abs(off))}"
    if (
        case.purpose in ("measure", "probe")
        and run.trace.of_kind("touch", "missed-touch", "pause")
        and not completed(case)
    ):
        return "nothing was measured" if case.purpose == "measure" else "nothing was set"
    return ""


def _said(case: Case) -> bool:
    """Whether something was said since the spindle last moved."""
    trace = case.main.trace
    stands = max((segment.t1 for segment in trace.segments if segment.kind != "dwell"), default=0.0)
    return any(event.t >= stands - 1e-9 for event in trace.of_kind("message"))


def _in_changer(case: Case) -> bool:
    magazine, position = case.world.magazine, case.main.trace.blocks[-1].position
    return magazine is not None and position[2] < magazine.hover_z
