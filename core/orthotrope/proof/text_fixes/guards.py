"""Guards, waits and moves that are left out: the touching move that stops at a miss, a dwell where no input tells, a back-off."""

import re
from collections.abc import Iterator

from orthotrope.proof.case import Case
from orthotrope.proof.findings import Finding
from orthotrope.proof.text_fixes.trying import TEXT_FIXES, TextChange
from orthotrope.proof.touching import Touch, touches_of
from orthotrope.setup.machine import AXES
from orthotrope.units import MM_PER_INCH

GOES_ON = re.compile(r"G\s*38\.([35])", re.IGNORECASE)
SWITCHES = re.compile(r"M\s*(\d+)(?:[^(;]*P\s*(\d+\.?\d*))?", re.IGNORECASE)

DWELL_MARGIN = 1.25
"""A dwell is so much longer than its device takes, as in the written texts."""

BACK_OFF = 2.0
"""mm; where the Setup has no probe in the spindle that says how far to back off."""


@TEXT_FIXES.register("touch-unguarded")
@TEXT_FIXES.register("missed-touch")
def stops_at_a_miss(case: Case, text: list[str], finding: Finding) -> Iterator[TextChange]:
    """The touching move that stops the control at a miss, in place of the one that goes on."""
    line = finding.line or 1
    old = text[line - 1]
    yield TextChange(line, 1, (GOES_ON.sub(lambda found: f"G38.{'2' if found[1] == '3' else '4'}", old, count=1),))


@TEXT_FIXES.register("action-unconfirmed")
def dwells(case: Case, text: list[str], finding: Finding) -> Iterator[TextChange]:
    """A dwell as long as the device takes, after the line that switches it. Where an input tells, the dwell is found by another
    check, and is not offered: what the program does when the input does not come is for its author to say."""
    magazine = case.world.magazine
    for line in range(finding.line or 1, 0, -1):
        switched = SWITCHES.search(re.split(r"[(;]", text[line - 1], maxsplit=1)[0])
        device = (
            magazine and switched and magazine.device_of(int(switched[1]), float(switched[2]) if switched[2] else None)
        )
        if magazine and device:
            profile, seconds = case.profile, magazine.takes(device[0]) * DWELL_MARGIN
            yield TextChange(line + 1, 0, (f"G4 {profile.dwell_letter}{seconds / profile.dwell_seconds:g}",))
            return


@TEXT_FIXES.register("contact-kept")
def backs_off(case: Case, text: list[str], finding: Finding) -> Iterator[TextChange]:
    """A move back from the surface before the one that goes sideways, in the distance mode of the text there."""
    line = finding.line or 1
    before = [touch for touch in touches_of(case.main) if touch.event.t <= (finding.at_seconds or 0.0)]
    if not before:
        return
    relative = _last(text[:line], "90|91") == "91"
    inch = {"20": True, "21": False}.get(_last(text[:line], "20|21"), case.profile.unit == "inch")
    by = MM_PER_INCH if inch else 1.0
    back = f"G0 {_back(before[-1], _back_off(case) / by)}"
    yield TextChange(line, 0, (back,) if relative else ("G91", back, "G90"))


def _back_off(case: Case) -> float:
    probes = case.setup.probes if case.setup else ()
    return next((probe.back_off for probe in probes if probe.tool == case.call.from_tool), BACK_OFF)


def _back(touch: Touch, distance: float) -> str:
    ways = zip(AXES, touch.way, strict=True)
    return " ".join(f"{axis}{round(-way * distance, 4):g}" for axis, way in ways if abs(way * distance) > 1e-4)


def _last(lines: list[str], codes: str) -> str:
    """Which of these G codes is said last in these lines, as they are written; "": none."""
    code = "\n".join(re.sub(r"\([^)]*\)|;.*", "", line) for line in lines)
    said = re.findall(rf"G\s*({codes})(?![.\d])", code, re.IGNORECASE)
    return said[-1] if said else ""
