"""A mode that differs at the end from what it was at the start."""

from collections.abc import Iterator

from orthotrope.machine.modes import NORMAL
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding

_SAYS: dict[str, dict[float, str]] = {
    "distance": {90: "absolute", 91: "relative"},
    "unit": {20: "inch", 21: "mm"},
    "feed mode": {93: "inverse time", 94: "per minute"},
    "rotation": {68: "turned", 69: "not turned"},
}


@check("mode-leak", "warn", "text")
def mode_leak(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Run from a millimetre and an inch caller; the profile's normal state at the end is no leak."""
    normal = {**NORMAL, "unit": 20 if case.profile.unit == "inch" else 21}
    reported: set[str] = set()
    for run in case.from_both_callers():
        if run.trace.ended != "end" or not run.trace.blocks:
            continue
        for mode, after in run.modes.items():
            before = run.modes_before[mode]
            turned = mode == "rotation" and case.routine is not None and case.routine.sets_turn
            if after == before or after == normal.get(mode) or mode in reported or turned:
                continue
            reported.add(mode)
            names = _SAYS.get(mode, {})
            yield report(
                f"It was called with {mode} {names.get(before, '')} (G{before:g}) and ends with "
                f"{names.get(after, '')} (G{after:g}); put it back before the end.".replace("  ", " "),
                run.trace.blocks[-1].line,
                run.trace.seconds,
            )
