"""Where the pockets of a rack are, from those that were taught: the fit, how well it knows each pocket, and what stands
out."""

import math
from dataclasses import dataclass, replace

import numpy as np
from scipy.special import stdtrit

from orthotrope.calc.pocket_fits import RackFitInput, RackFitOutput, rack_fit
from orthotrope.calc.pockets import Pocket
from orthotrope.calc.slips import ReadBackInput, read_back_value
from orthotrope.errors import InputError
from orthotrope.setup import Setup
from orthotrope.setup.changer import Rack, RackPlace, rack_of
from orthotrope.setup.datum import PocketDatum
from orthotrope.units import with_unit

CONFIDENCE = 0.975
"""Of one side: intervals are stated at 95 %."""

SEEN_TO = 0.01
"""mm; standard uncertainty of finding a pocket's axis with a pin or a dial, assumed while no residuals tell."""

STANDS_OUT = 5.0
"""A pocket stands out when the others miss it by this many times what they leave open, and by more than its
allowance."""


@dataclass(frozen=True, slots=True)
class TaughtPocket:
    """One taught pocket: the residual of the fit (taught less fitted, mm), and where the others alone put it
    (``missed_by``, mm; None with fewer than two others). ``slip``: what was probably mistyped, "" nothing."""

    pocket: int
    dx: float
    dy: float
    distance: float
    missed_by: float | None
    stands_out: bool
    slip: str


@dataclass(frozen=True, slots=True)
class KnownPocket:
    """How well the fit knows a pocket: ``known_to`` at 95 %, mm; it ``fits`` where that is within the room."""

    pocket: int
    x: float
    y: float
    known_to: float
    fits: bool


@dataclass(frozen=True, slots=True)
class Level:
    """How the rack lies: the height of its line at pocket 1 and at the last of its row, from the taught ones, and the
    worst of them off that line, mm; with rows the plane's at pocket 1 of the last row too."""

    first_z: float
    last_z: float
    worst: float
    last_row_z: float | None = None


@dataclass(frozen=True, slots=True)
class Alignment:
    """All of it. ``sigma``: standard uncertainty of one taught coordinate, from the residuals or ``assumed``; ``room``:
    the pocket's allowance less the scatter of home; ``origin_u95`` (of each coordinate) and so on: half widths of the
    95 % intervals;
    ``enough``: every pocket is known well enough; ``take``: the rule that the rack then has."""

    fit: RackFitOutput
    sigma: float
    assumed: bool
    freedom: int
    room: float
    origin_u95: float
    bearing_u95_deg: float
    pitch_u95: float
    taught: tuple[TaughtPocket, ...]
    pockets: tuple[KnownPocket, ...]
    level: Level | None
    enough: bool
    take: RackPlace
    says: tuple[str, ...]


def assumed_sigma(setup: Setup) -> float:
    """What is assumed of one taught coordinate: home, resolution, and how well an axis is seen, mm."""
    x, y = setup.machine.axes.across
    home = max(x.home_scatter or 0.0, y.home_scatter or 0.0) / 2
    step = max(x.resolution, y.resolution) / math.sqrt(12)
    return math.sqrt(home**2 + step**2 + SEEN_TO**2)


def align(setup: Setup) -> Alignment | None:
    """What the taught pockets of the Setup's rack say; None while fewer than two are taught.

    The fit has a free pitch: least squares in both axes, 2·n − 4 degrees of freedom. Intervals are Student's at 95 %.

    Raises:
        InputError: where the taught places determine no row.
    """
    rack = rack_of(setup.changer)
    if rack is None or len(rack.taught) < 2:
        return None
    places = [Pocket(pocket=entry.pocket, x=entry.x, y=entry.y) for entry in rack.taught]
    fit = fit_rows(rack, places)
    freedom = 2 * len(places) - 4
    squares = sum(r.distance**2 for r in fit.residuals)
    sigma = math.sqrt(squares / freedom) if freedom > 0 else assumed_sigma(setup)
    factor = float(stdtrit(freedom, CONFIDENCE)) if freedom > 0 else 1.96
    steps = [(p.pocket - 1) % rack.count for p in places]
    middle = sum(steps) / len(steps)
    weight = sum((step - middle) ** 2 for step in steps)

    def spread(step: float) -> float:
        """Standard uncertainty of one coordinate of the line at a pocket."""
        return sigma * math.sqrt(1 / len(steps) + (step - middle) ** 2 / weight)

    x, y = setup.machine.axes.across
    room = rack.placing_tolerance - max(x.home_scatter or 0.0, y.home_scatter or 0.0)
    cos, sin = math.cos(math.radians(fit.bearing_deg)), math.sin(math.radians(fit.bearing_deg))
    known = []
    for index in range(rack.total):
        row, step = divmod(index, rack.count)
        to = factor * math.sqrt(2) * spread(step)
        x_at, y_at = (
            step * fit.pitch * cos - row * rack.row_pitch * sin,
            step * fit.pitch * sin + row * rack.row_pitch * cos,
        )
        known.append(KnownPocket(index + 1, fit.origin.x + x_at, fit.origin.y + y_at, to, to <= room))
    taught = tuple(_taught(setup, rack, places, fit, index) for index in range(len(places)))
    level = _level(rack)
    found = Alignment(
        fit=fit,
        sigma=sigma,
        assumed=freedom <= 0,
        freedom=freedom,
        room=room,
        origin_u95=factor * spread(0),
        bearing_u95_deg=math.degrees(factor * sigma / (fit.pitch * math.sqrt(weight))),
        pitch_u95=factor * sigma / math.sqrt(weight),
        taught=taught,
        pockets=tuple(known),
        level=level,
        enough=all(pocket.fits for pocket in known),
        take=RackPlace(
            datum=PocketDatum(at="pocket", pocket=1, x=round(fit.origin.x, 4), y=round(fit.origin.y, 4)),
            bearing_deg=round(fit.bearing_deg, 5),
            pitch=round(fit.pitch, 5),
        ),
        says=(),
    )
    return replace(found, says=tuple(_says(found, rack)))


def _taught(setup: Setup, rack: Rack, places: list[Pocket], fit: RackFitOutput, index: int) -> TaughtPocket:
    residual, mine = fit.residuals[index], places[index]
    others = places[:index] + places[index + 1 :]
    missed, out, slip = None, False, ""
    if len({(p.pocket - 1) % rack.count for p in others}) >= 2:
        try:
            rest = fit_rows(rack, others)
        except InputError:
            rest = None
        if rest:
            cos, sin = math.cos(math.radians(rest.bearing_deg)), math.sin(math.radians(rest.bearing_deg))
            row, column = divmod(mine.pocket - 1, rack.count)
            way, off = column * rest.pitch, row * rack.row_pitch
            there = rest.origin.x + way * cos - off * sin, rest.origin.y + way * sin + off * cos
            missed = math.dist(there, (mine.x, mine.y))
            freedom = 2 * len(others) - 4
            left = (
                math.sqrt(sum(r.distance**2 for r in rest.residuals) / freedom) if freedom > 0 else assumed_sigma(setup)
            )
            out = len(others) >= 3 and missed > rack.placing_tolerance and missed > STANDS_OUT * left
            if out:
                slip = _slip(there, (mine.x, mine.y))
    return TaughtPocket(mine.pocket, residual.dx, residual.dy, residual.distance, missed, out, slip)


STRAIGHTENINGS = 4
"""Times that the rows are turned to the bearing just fitted; each leaves the square of the error of the one before."""


def fit_rows(rack: Rack, places: list[Pocket]) -> RackFitOutput:
    """The fit of taught pockets of all rows: the rows beyond the first are moved onto it, by the row pitch across the
    bearing, which is the fit's own; residuals have the pockets' own numbers.

    Raises:
        InputError: where the taught places determine no row.
    """
    bearing = rack.bearing_deg
    fit = None
    for _ in range(STRAIGHTENINGS if rack.rows > 1 else 1):
        cos, sin = math.cos(math.radians(bearing)), math.sin(math.radians(bearing))
        moved = []
        for place in places:
            row, column = divmod(place.pocket - 1, rack.count)
            off = row * rack.row_pitch
            moved.append(Pocket(pocket=column + 1, x=place.x + off * sin, y=place.y - off * cos))
        fit = rack_fit(RackFitInput(pockets=moved, tolerance=rack.placing_tolerance))
        bearing = fit.bearing_deg
    assert fit is not None
    numbered = [r.model_copy(update={"pocket": place.pocket}) for r, place in zip(fit.residuals, places, strict=True)]
    return fit.model_copy(update={"residuals": numbered})


def _slip(there: tuple[float, float], typed: tuple[float, float]) -> str:
    """What was probably mistyped: compared in whole millimetres, since the place itself is known no better."""
    for name, expected, got in (("X", there[0], typed[0]), ("Y", there[1], typed[1])):
        if abs(got - expected) < 1:
            continue
        reported = read_back_value(ReadBackInput(meant=float(round(expected)), shown=float(round(got)), decimals=0))
        if reported.slip:
            return f"{name}: {reported.slip}"
    return ""


def _level(rack: Rack) -> Level | None:
    """The line of the taught heights along the row, with rows the plane of them; None while too few have one."""
    known = [(*divmod(entry.pocket - 1, rack.count), entry.z) for entry in rack.taught if entry.z is not None]
    columns = {step for _, step, _ in known}
    across = len({row for row, _, _ in known}) > 1 and len(known) > 2
    if len(columns) < 2:
        return None
    terms = np.array([(1.0, float(step), float(row) if across else 0.0) for row, step, _ in known])
    heights = np.array([z for _, _, z in known])
    (first, slope, tilt), *_ = np.linalg.lstsq(terms, heights, rcond=None)
    worst = float(np.abs(terms @ np.array((first, slope, tilt)) - heights).max())
    return Level(
        float(first),
        float(first + slope * (rack.count - 1)),
        worst,
        float(first + tilt * (rack.rows - 1)) if across else None,
    )


def _says(found: Alignment, rack: Rack) -> list[str]:
    worst = max(found.pockets, key=lambda pocket: pocket.known_to)
    reported = []
    source = "assumed" if found.assumed else f"from the residuals, {found.freedom} degrees of freedom"
    verdict = "enough" if found.enough else "not enough"
    reported.append(
        f"Pocket {worst.pocket} is known worst: to {with_unit(worst.known_to)} of the {with_unit(found.room)} that "
        "there is room "
        f"for. That is {verdict}. One taught place scatters by {with_unit(found.sigma)} ({source})."
    )
    if len(found.taught) == 2:
        numbers = sorted(entry.pocket for entry in found.taught)
        apart = numbers[1] - numbers[0]
        ends = 1.96 * math.sqrt(2) * found.sigma
        grown = worst.known_to / ends
        reported.append(
            f"Two pockets leave nothing to compare: a slip in one is not seen. {apart} apart, their error grows "
            f"{grown:.1f} times over the rack; taught at both ends, 1 and {rack.count}, it would not grow."
        )
    if not found.enough and len(found.taught) > 2:
        reported.append("Teach pockets further apart, or more of them; or look for one that was taught badly.")
    for entry in found.taught:
        if entry.stands_out and entry.missed_by is not None:
            slip = f" ({entry.slip})" if entry.slip else ""
            reported.append(
                f"Pocket {entry.pocket} stands out: the others put it {with_unit(entry.missed_by)} from where it was "
                f"taught{slip}. Teach it again."
            )
    if found.level:
        tilt = found.level.last_z - found.level.first_z
        way = "higher" if tilt > 0 else "lower"
        reported.append(
            f"The rack lies {with_unit(abs(tilt))} {way} at pocket {rack.count} than at pocket 1; the worst taught "
            "height "
            f"is {with_unit(found.level.worst)} off that {'line' if found.level.last_row_z is None else 'plane'}."
        )
        if found.level.last_row_z is not None:
            rows = found.level.last_row_z - found.level.first_z
            reported.append(
                f"Its last row lies {with_unit(abs(rows))} {'higher' if rows > 0 else 'lower'} than its first."
            )
    return reported
