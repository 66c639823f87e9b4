"""A fork, disc or arm meets the spindle at another angle than the stored one."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding


@check("not-oriented", "stop", "run", harms=True)
def not_oriented(case: Case, report: FindingFactory) -> Iterator[Finding]:
    magazine = case.world.magazine
    wanted = magazine.orientation if magazine else None
    for event in case.main.trace.of_kind("not-oriented"):
        angle = f" {wanted.angle:g}° within {wanted.tolerance:g}°" if wanted else ""
        yield report.of_event(
            event,
            f"The spindle does not stand at its angle{angle} as pocket {event.data['pocket']} meets it; "
            f"orient it ({case.profile.orient}) and wait before coming near.",
            "/changer/orientation/angle_deg",
        )
