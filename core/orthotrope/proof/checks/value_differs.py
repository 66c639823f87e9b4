"""A constant that stands for a quantity of the Setup and has another value."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, Teller, check
from orthotrope.proof.findings import Finding, mm


@check("value-differs", "stop", "run")
def value_differs(case: Case, tell: Teller) -> Iterator[Finding]:
    """Exchanges: where the spindle goes down to couple, its place, its height and its feed are the Setup's."""
    setup, derived = case.setup, case.derived
    if setup is None or setup.changer is None or derived is None or case.purpose != "exchange":
        return
    tolerance = max(axis.resolution for axis in (setup.machine.axes.X, setup.machine.axes.Y, setup.machine.axes.Z))
    tolerance = max(tolerance, 2 * 10.0**-case.profile.decimals * len(derived.pockets))
    thread, ladder = setup.changer.coupling, derived.ladder
    meets = ladder.couple_z + thread.engaged_length
    told: set[str] = set()
    for segment in case.main.trace.segments:
        sideways = segment.start[:2] != segment.end[:2]
        if sideways or segment.whole_end[2] >= min(segment.start[2], meets):
            continue
        pocket = min(derived.pockets, key=lambda p: abs(p.x - segment.start[0]) + abs(p.y - segment.start[1]))
        if abs(pocket.x - segment.start[0]) + abs(pocket.y - segment.start[1]) > setup.changer.rack.pitch / 2:
            continue
        wanted = [(f"pocket {pocket.pocket}, X", segment.start[0], pocket.x, "/changer/rack/datum/x", tolerance),
                  (f"pocket {pocket.pocket}, Y", segment.start[1], pocket.y, "/changer/rack/datum/y", tolerance),
                  ("couple height", segment.whole_end[2], ladder.couple_z, "/changer/heights/touch_z", tolerance)]  # fmt: skip
        if segment.kind == "feed":
            wanted.append(("coupling feed", segment.feed, thread.feed, "/changer/coupling/feed", 0.5))
        for name, value, meant, quantity, allowed in wanted:
            if abs(value - meant) > allowed and name not in told:
                told.add(name)
                yield tell(f"{name[0].upper()}{name[1:]}: the program has {mm(value)}, the Setup {mm(meant)}; correct the one that "
                           f"is wrong.", segment.line, segment.t0, segment.start, quantity)  # fmt: skip
