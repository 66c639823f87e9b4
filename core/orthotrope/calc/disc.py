"""What the styles with a disc share: where its pockets are, what is beside one, how far it turns."""

import math

from orthotrope.calc.derived import (
    Derivation,
    DerivedChanger,
    Outline,
    Storage,
    StoredFeed,
    Taking,
    Term,
    climb,
    knob_working,
)
from orthotrope.calc.pockets import DiscPocketsInput, Pocket, disc_pockets
from orthotrope.calc.points import Point, unit_vector
from orthotrope.setup import Setup
from orthotrope.setup.disc import Disc, DiscChanger


def disc_middle(changer: DiscChanger, back: float) -> tuple[float, float]:
    """The disc's middle in plan, mm, when it stands ``back`` mm behind where its pocket is at the exchange place."""
    cos, sin = unit_vector(changer.disc.bearing_deg)
    way = changer.disc.radius + back
    return changer.exchange.x - way * cos, changer.exchange.y - way * sin


def turn_steps(disc: Disc, here: int, there: int) -> int:
    """Steps from one pocket to another in front, by the way that the disc turns."""
    forwards = (there - here) % disc.count
    return forwards if disc.way == "forwards" else min(forwards, disc.count - forwards)


def derive_disc(setup: Setup, changer: DiscChanger, back: float) -> DerivedChanger:
    """All that follows from a disc whose middle is ``back`` mm further away, at home, than where it meets the
    spindle."""
    ladder, grip, middle = climb(setup, changer), changer.grip, disc_middle(changer, back)
    pockets, more = _pockets_of(changer.disc, middle)
    feed = StoredFeed(grip.feed, "/changer/grip/feed", "feed down to the tool")
    return DerivedChanger(
        **ladder.shared(changer, grip.knob_height),
        pockets=pockets,
        rack_top_z=ladder.heights.couple_z,
        middle=middle,
        workings={**more, **ladder.workings, **knob_working(changer, grip)},
        outline=Outline(middle, 0.0, 0.0, 0.0, changer.disc.radius + grip.holder_diameter / 2),
        storage=_storage_of(changer.disc, grip.holder_diameter),
        taking=Taking(((0, changer.exchange.x, changer.exchange.y),), "/changer/exchange", grip.holder_diameter, feed),
    )


def _pockets_of(disc: Disc, middle: tuple[float, float]) -> tuple[tuple[Pocket, ...], dict[str, Derivation]]:
    pockets = disc_pockets(
        DiscPocketsInput(
            centre=Point(x=middle[0], y=middle[1]),
            radius=disc.radius,
            count=disc.count,
            first_bearing_deg=disc.bearing_deg,
            sense=disc.sense,
        )
    ).pockets
    radius = Term("radius", disc.radius, "mm", "/changer/disc/radius")
    count = Term("pockets", disc.count, "", "/changer/disc/count")
    step = Term("one step", disc.seconds_per_step, "s", "/changer/disc/seconds_per_step")
    most = disc.count // 2 if disc.way == "shorter" else disc.count - 1
    return tuple(pockets), {
        "pocket_pitch": Derivation(
            "Pockets apart", _apart(disc), "mm", "2 · radius · sin(180°/pockets)", (radius, count)
        ),
        "longest_turn": Derivation(
            "Longest turn",
            most * disc.seconds_per_step,
            "s",
            "half the pockets, whole steps · one step" if disc.way == "shorter" else "(pockets − 1) · one step",
            (count, step),
        ),
    }


def _apart(disc: Disc) -> float:
    return 2 * disc.radius * math.sin(math.pi / disc.count)


def _storage_of(disc: Disc, diameter: float) -> Storage:
    count = disc.count
    beside = tuple(frozenset({(pocket - 2) % count + 1, pocket % count + 1}) for pocket in range(1, count + 1))
    return Storage("holder", diameter, _apart(disc), beside)
