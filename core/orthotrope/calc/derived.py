"""Everything that follows from a Setup: pockets, heights, coupling, each number with its working.

The interface answers "why is this number this?" from here; the planners and the checks take their numbers from here.
What is a style's own is in its folder, registered in :data:`DERIVING`; what styles share is here, in ``rack`` and in
``disc``."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from orthotrope.calc.heights import HeightLadderInput, HeightLadderOutput, height_ladder
from orthotrope.calc.pockets import Pocket
from orthotrope.registry import Registry
from orthotrope.setup import Setup
from orthotrope.setup.changer import PocketChanger
from orthotrope.setup.gripping import Grip
from orthotrope.setup.tools import Tool
from orthotrope.units import with_unit


@dataclass(frozen=True, slots=True)
class Term:
    """One input of a working: ``where`` it stands in the Setup (JSON pointer), or "" where it is itself derived."""

    name: str
    value: float
    unit: str
    where: str = ""


@dataclass(frozen=True, slots=True)
class Derivation:
    """A derived quantity and how it came about. ``value`` is None where it can't be had, and ``formula`` says why."""

    name: str
    value: float | None
    unit: str
    formula: str
    terms: tuple[Term, ...]
    rounding: str = "not rounded"


@dataclass(frozen=True, slots=True)
class Outline:
    """What a changer covers in plan: a rectangle about its ``middle``, turned by ``bearing_deg``, grown by
    ``round_by``; mm. A circle has no length and no width."""

    middle: tuple[float, float]
    half_length: float
    half_width: float
    bearing_deg: float
    round_by: float = 0.0


@dataclass(frozen=True, slots=True)
class Storage:
    """What a tool finds in a pocket, mm: ``what`` stands in the pockets, how wide it is and how far apart they are; the
    ``hole`` that a cutter must pass (None: it hangs free), the depth of the spindle's bore that a shank stands into
    (None: a holder keeps it out). ``beside``: for each pocket, in their order, those that are beside it."""

    what: str
    diameter: float
    pitch: float
    beside: tuple[frozenset[int], ...]
    hole: float | None = None
    bore_depth: float | None = None

    def shank_over(self, tool: Tool) -> float:
        """By how much a tool's shank is too long for the spindle's bore, mm; 0 where it fits."""
        return 0.0 if self.bore_depth is None else max(0.0, tool.shank_above - self.bore_depth)


@dataclass(frozen=True, slots=True)
class StoredFeed:
    """A feed of the Setup: its value, mm/min, where it stands (JSON pointer), and its name."""

    value: float
    where: str
    name: str


@dataclass(frozen=True, slots=True)
class Taking:
    """Where and how the spindle takes a tool: the ``places`` by pocket number (0: the one place of all), where their X
    and Y stand in the Setup, and how near to one a place is meant to be it, mm; the ``feed`` of the last stretch down,
    and the feed into a fork that is entered from the side (None: tools are taken from above)."""

    places: tuple[tuple[int, float, float], ...]
    where: str
    near: float
    feed: StoredFeed
    feed_in: StoredFeed | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class DerivedChanger:
    """What follows from a changer: its pockets (in order), the ladder, and each number's working by key. A style may
    add to it.

    A disc's pockets are where they are with the disc at home and pocket 1 in front; who changes tools by hand has none.
    ``stored_top_z`` is the top of a stored tool: of its nut, or of its knob; ``rack_top_z`` of the block;
    ``approach_gap`` is from hover to where the thread meets (negative: the nose hovers inside the nut), or with a grip
    to the knob; ``middle`` that of the changer in plan; mm. ``outline``, ``storage`` and ``taking`` are None where
    there is no such thing."""

    pockets: tuple[Pocket, ...]
    ladder: HeightLadderOutput
    longest: Tool | None
    longest_length: float
    park_z: float
    approach_gap: float
    stored_top_z: float
    rack_top_z: float
    middle: tuple[float, float]
    workings: dict[str, Derivation]
    outline: Outline | None = None
    storage: Storage | None = None
    taking: Taking | None = None

    def pocket(self, number: int) -> Pocket:
        return self.pockets[number - 1]

    def looked_at(self) -> tuple[object, ...]:
        """What the checks take from here, beside what is in the world: a change of it makes a proof stale."""
        places = tuple((pocket.pocket, pocket.x, pocket.y) for pocket in self.pockets)
        return places, self.ladder.as_json(), self.park_z, self.stored_top_z, self.rack_top_z, self.taking


DERIVING: Registry[Callable[[Setup, Any], DerivedChanger]] = Registry("style of changer", "orthotrope.kinds.*.derive")
"""Style of changer → what works out all that follows from it."""


def derive(setup: Setup) -> DerivedChanger | None:
    """All that follows from the Setup's changer; None while it has none. Pure: the same Setup, the same result."""
    changer = setup.changer
    return None if changer is None else DERIVING[changer.style](setup, changer)


@dataclass(frozen=True, slots=True)
class Ladder:
    """The heights of a changer with pockets, the longest tool that they are for, and their workings."""

    heights: HeightLadderOutput
    longest: Tool | None
    longest_length: float
    workings: dict[str, Derivation]

    def shared(self, changer: PocketChanger, grows: float) -> dict[str, Any]:
        """What every style with pockets has from here, by the fields of :class:`DerivedChanger`; ``grows``: how far a
        stored tool stands above the height at which it is taken, mm."""
        heights = changer.heights
        return {
            "ladder": self.heights,
            "longest": self.longest,
            "longest_length": self.longest_length,
            "park_z": heights.park_z,
            "approach_gap": heights.hover_gap - grows,
            "stored_top_z": self.heights.couple_z + grows,
        }


def climb(setup: Setup, changer: PocketChanger) -> Ladder:
    """The height ladder of a changer with pockets."""
    heights = changer.heights
    stored = setup.stored()
    longest = max(stored, key=lambda tool: tool.whole_length) if stored else None
    longest_length = longest.whole_length if longest else heights.planned_longest
    ladder = height_ladder(
        HeightLadderInput(
            touch_z=heights.touch_z,
            recess=heights.recess,
            hover_gap=heights.hover_gap,
            stored_top_z=heights.stored_top_z,
            longest_tool=longest_length,
            margin=heights.margin,
            z_top=setup.machine.axes.upright.soft_greatest,
            pocket_depth=heights.pocket_depth,
        )
    )
    return Ladder(ladder, longest, longest_length, height_workings(setup, changer, ladder, longest, longest_length))


def knob_working(changer: PocketChanger, grip: Grip) -> dict[str, Derivation]:
    """How far hover is clear of the knob of a stored holder."""
    knob = Term("knob above the gauge line", grip.knob_height, "mm", "/changer/grip/knob_height")
    gap = Term("hover gap", changer.heights.hover_gap, "mm", "/changer/heights/hover_gap")
    return {
        "approach_gap": Derivation(
            "Clear of the knob", gap.value - knob.value, "mm", "hover gap − knob above the gauge line", (gap, knob)
        )
    }


def height_workings(
    setup: Setup, changer: PocketChanger, ladder: HeightLadderOutput, longest: Tool | None, longest_length: float
) -> dict[str, Derivation]:
    """The rungs of the ladder, each with what it comes from."""
    heights, base = changer.heights, "/changer/heights"

    def term(name: str, key: str) -> Term:
        return Term(name, getattr(heights, key), "mm", f"{base}/{key}")

    if longest:
        index = [tool.number for tool in setup.tools].index(longest.number)
        reach = Term(f"longest tool, T{longest.number}", longest_length, "mm", f"/tools/{index}/length")
    else:
        reach = Term("longest tool, planned", longest_length, "mm", f"{base}/planned_longest")
    top, margin = term("stored top", "stored_top_z"), term("margin", "margin")
    couple = Term("couple", ladder.couple_z, "mm")
    room = setup.machine.axes.upright.soft_greatest - ladder.carry_z
    fits = f"{with_unit(room)} below the top of travel" if room >= 0 else f"{with_unit(-room)} above the top of travel"
    return {
        "couple_z": Derivation(
            "Couple",
            ladder.couple_z,
            "mm",
            "nose on spacer − rack sunk by",
            (term("nose on spacer", "touch_z"), term("rack sunk by", "recess")),
        ),
        "hover_z": Derivation(
            "Hover", ladder.hover_z, "mm", "couple + hover gap", (couple, term("hover gap", "hover_gap"))
        ),
        "empty_z": Derivation("Empty", ladder.empty_z, "mm", "stored top + margin", (top, margin)),
        "carry_z": Derivation(
            "Carry", ladder.carry_z, "mm", f"stored top + longest tool + margin; {fits}", (top, reach, margin)
        ),
        "riser": Derivation(
            "Riser",
            ladder.riser,
            "mm",
            "longest tool − pocket depth, or 0 where it fits",
            (reach, term("pocket depth", "pocket_depth")),
        ),
    }
