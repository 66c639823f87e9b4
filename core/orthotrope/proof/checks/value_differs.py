"""A constant that stands for a quantity of the Setup and has another value."""

from collections.abc import Iterator

from orthotrope.proof.case import Case, Teller, check
from orthotrope.proof.findings import Finding, mm
from orthotrope.setup.styles import ByHand, DiscChanger, ThreadOn


@check("value-differs", "stop", "run")
def value_differs(case: Case, tell: Teller) -> Iterator[Finding]:
    """Exchanges: where the spindle goes down to couple, its place, its height and its feed are the Setup's."""
    setup, derived = case.setup, case.derived
    if setup is None or setup.changer is None or derived is None or case.purpose != "exchange":
        return
    changer = setup.changer
    if isinstance(changer, ByHand):
        return
    tolerance = max(axis.resolution for axis in (setup.machine.axes.X, setup.machine.axes.Y, setup.machine.axes.Z))
    tolerance = max(tolerance, 2 * 10.0**-case.profile.decimals * len(derived.pockets))
    ladder = derived.ladder
    if isinstance(changer, ThreadOn):
        feed, feed_where, feed_name = changer.coupling.feed, "/changer/coupling/feed", "coupling feed"
    else:
        feed, feed_where, feed_name = changer.grip.feed, "/changer/grip/feed", "feed down to the tool"
    if isinstance(changer, DiscChanger):
        places = [(pocket.pocket, changer.exchange.x, changer.exchange.y) for pocket in derived.pockets[:1]]
        place_where, near = "/changer/exchange", changer.grip.holder_diameter
    else:
        places = [(pocket.pocket, pocket.x, pocket.y) for pocket in derived.pockets]
        place_where, near = "/changer/rack/datum", changer.rack.pitch / 2
    meets = derived.stored_top_z
    told: set[str] = set()
    for segment in case.main.trace.segments:
        sideways = segment.start[:2] != segment.end[:2]
        if sideways or segment.whole_end[2] >= min(segment.start[2], meets):
            continue
        number, x, y = min(places, key=lambda p: abs(p[1] - segment.start[0]) + abs(p[2] - segment.start[1]))
        if abs(x - segment.start[0]) + abs(y - segment.start[1]) > near:
            continue
        name = "the exchange place" if isinstance(changer, DiscChanger) else f"pocket {number}"
        wanted = [(f"{name}, X", segment.start[0], x, f"{place_where}/x", tolerance),
                  (f"{name}, Y", segment.start[1], y, f"{place_where}/y", tolerance)]  # fmt: skip
        if segment.kind == "feed":
            wanted += [("couple height", segment.whole_end[2], ladder.couple_z, "/changer/heights/touch_z", tolerance),
                       (feed_name, segment.feed, feed, feed_where, 0.5)]  # fmt: skip
        elif isinstance(changer, ThreadOn):
            wanted.append(("couple height", segment.whole_end[2], ladder.couple_z, "/changer/heights/touch_z", tolerance))
        for name, value, meant, quantity, allowed in wanted:
            if abs(value - meant) > allowed and name not in told:
                told.add(name)
                yield tell(f"{name[0].upper()}{name[1:]}: the program has {mm(value)}, the Setup {mm(meant)}; correct the one that "
                           f"is wrong.", segment.line, segment.t0, segment.start, quantity)  # fmt: skip
