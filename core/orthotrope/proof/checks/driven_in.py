"""The nose comes down on what a pocket has lower than where it is taken, or as low as that where there is no pocket."""

import math
from collections.abc import Iterator

from orthotrope.machine.changing import SEATED, Magazine
from orthotrope.machine.motion import Vector
from orthotrope.machine.trace import Segment, Trace
from orthotrope.proof.case import Case, FindingFactory, check
from orthotrope.proof.findings import Finding
from orthotrope.units import in_unit, with_unit

BESIDE = 1.5
"""Times the way from pocket to pocket, or of :data:`LONE`, that a place may be off the nearest one to be meant for a pocket."""

LONE = 60.0
"""mm; that way where there is one place only."""


@check("driven-in", "stop", "run", harms=True)
def driven_in(case: Case, report: FindingFactory) -> Iterator[Finding]:
    magazine = case.world.magazine
    for event in case.main.trace.of_kind("driven-in"):
        assert magazine is not None
        pocket, tool, deep = event.data["pocket"], event.data["tool"], event.data["deep"]
        where = f"pocket {pocket}" if pocket else "the exchange place"
        yield report.of_event(
            event,
            f"At {where} the nose goes {with_unit(deep)} lower than T{tool} is taken (Z {in_unit(magazine.couple_z)}): it is driven "
            "into its pocket. Correct the height of this move.",
            "/changer/heights/touch_z",
        )
    if magazine and magazine.places and case.purpose == "exchange":
        yield from _beside(case.main.trace, magazine, report)


def _beside(trace: Trace, magazine: Magazine, report: FindingFactory) -> Iterator[Finding]:
    """The first place near the pockets that is none, where the nose comes down to where tools are taken, and up again; a way into a fork,
    and a touch, begin beside a pocket."""
    moves = [segment for segment in trace.segments if segment.start != segment.end]
    for at, move in enumerate(moves):
        low = magazine.couple_z - move.end[2]
        if low < -SEATED or move.kind == "touch" or not _is_upright(move) or move.start[2] < move.end[2]:
            continue
        after = moves[at + 1] if at + 1 < len(moves) else None
        if after and (after.kind == "touch" or not _is_upright(after)):
            continue
        pocket, off = _nearest(magazine, move.end)
        on_its_way = after is None and magazine.enters(move.end, (*magazine.places[pocket], move.end[2]))
        if magazine.aligned < off <= BESIDE * _spacing(magazine) and not on_its_way:
            x, y, z = map(in_unit, move.end)
            yield report(
                f"The nose comes down to Z {z} at X {x} Y {y}, where there is no pocket: the nearest, pocket {pocket}, is {with_unit(off)} "
                "away. Correct the place of this move, or the number of the pocket.",
                move.line,
                move.t1,
                move.end,
            )
            return


def _is_upright(move: Segment) -> bool:
    return move.start[:2] == move.end[:2]


def _nearest(magazine: Magazine, place: Vector) -> tuple[int, float]:
    """The pocket that is nearest to a place, and how far, mm."""
    off = {pocket: math.dist(at, place[:2]) for pocket, at in magazine.places.items()}
    pocket = min(off, key=lambda number: off[number])
    return pocket, off[pocket]


def _spacing(magazine: Magazine) -> float:
    places = sorted(set(magazine.places.values()))
    apart = [math.dist(one, other) for index, one in enumerate(places) for other in places[index + 1 :]]
    return min(apart, default=LONE)
