"""A part coordinate where a machine coordinate is wanted, or the other way round."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.proof.touching import WIDEST, middle, touches_of, zeros_of
from orthotrope.setup.machine import AXES


@check("frame-mixed", "stop", "text")
def frame_mixed(case: Case, report: FindingFactory) -> Iterator[Finding]:
    """Detected by where things come to be: off the touch by as much as the part's zero is off the machine's."""
    for zero in zeros_of(case.main):
        place = middle(zero.touches, zero.axis)
        if zero.how == "value" and place is not None and _is_off_by(zero.zero - place, -zero.frame):
            yield report.of_event(
                zero.event,
                f"{zero.name} needs a machine coordinate and gets the part coordinate of the touch; add the work offset that "
                "was active.",
            )
            return
    touches = {touch.number: touch for touch in touches_of(case.main)}
    for event in case.main.trace.of_kind("touched-move"):
        data = event.data
        place = middle((touches[number] for number in data["touches"]), data["axis"])
        off = -data["frame"] if data["machine_frame"] else data["frame"]
        if place is not None and _is_off_by(data["target"] - place, off):
            wanted, got = ("machine", "part") if data["machine_frame"] else ("part", "machine")
            yield report.of_event(
                event,
                f"The move of {AXES[data['axis']]} needs a {wanted} coordinate and gets the {got} coordinate of the touch.",
            )
            return


def _is_off_by(off: float, frame: float) -> bool:
    return abs(frame) > 2 * WIDEST and abs(off - frame) <= WIDEST
