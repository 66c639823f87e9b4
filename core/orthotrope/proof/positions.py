"""The way to each stored position, written, run from many places and checked; and the entry card for the control."""

from dataclasses import dataclass, replace
from itertools import product

from orthotrope.calc.derived import derive
from orthotrope.machine.run import Call
from orthotrope.machine.virtual import VirtualMachine
from orthotrope.machine.world import World
from orthotrope.program.reader import read_text
from orthotrope.program.writer import write
from orthotrope.proof.case import Case, findings_of
from orthotrope.proof.findings import Finding, worst_first
from orthotrope.proof.worlds import nominal_world
from orthotrope.sequence.positions import plan_way
from orthotrope.setup import Setup
from orthotrope.setup.control import ControlProfile
from orthotrope.setup.machine import Axis
from orthotrope.units import MM_PER_INCH, in_unit

Vector = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class WayResult:
    """One stored position: its text, from how many places it was run, the longest time, and what was found."""

    name: str
    text: str
    starts: int
    seconds: float
    findings: tuple[Finding, ...]


def starting_places(setup: Setup, world: World, tool: int) -> list[Vector]:
    """Three by three by three places all over the travel; those where the spindle stands in a body are left out."""

    def marks(axis: Axis) -> tuple[float, float, float]:
        return axis.soft_least, (axis.soft_least + axis.soft_greatest) / 2, axis.soft_greatest

    machine = VirtualMachine(world, (0.0, 0.0, 0.0), tool)
    (x, y), z = setup.machine.axes.across, setup.machine.axes.upright
    places = product(marks(x), marks(y), marks(z))
    return [place for place in places if machine.stands_free(place)]


def check_way(setup: Setup, name: str, profile: ControlProfile | None = None) -> WayResult:
    """The way to a stored position, in a control profile (the Setup's where none is said), run with the empty spindle
    and with the longest tool. A finding is reported once, with the place it began at.

    Raises:
        InputError: where there is none of that name.
    """
    profile = profile or setup.profile
    text = write(plan_way(setup, name), profile)
    program, world, derived = read_text(text), nominal_world(setup), derive(setup)
    longest = max(setup.tools, key=lambda tool: tool.whole_length).number if setup.tools else 0
    found: dict[tuple[str, str | None], Finding] = {}
    starts, seconds = 0, 0.0
    for tool in sorted({0, longest}):
        for place in starting_places(setup, world, tool):
            case = Case(program, profile, "return", world, Call(place, from_tool=tool), setup, derived)
            starts += 1
            for finding in findings_of(case, "run") if starts > 1 else findings_of(case, "static", "text", "run"):
                where = f"From X {in_unit(place[0])}, Y {in_unit(place[1])}, Z {in_unit(place[2])}" + (
                    f" with T{tool}" if tool else ""
                )
                found.setdefault(
                    (finding.check, str(finding.line)), replace(finding, message=f"{where}: {finding.message}")
                )
            seconds = max(seconds, case.main.trace.seconds)
    return WayResult(name, text, starts, seconds, tuple(worst_first(found.values())))


@dataclass(frozen=True, slots=True)
class CardEntry:
    """One value to key into the control, in the order of keying: of which ``group``, its name, where it stands in the
    Setup (a pointer; a soft limit follows from its axis), the value in mm and as the control shall show it."""

    group: str
    name: str
    where: str
    value: float
    shown: str
    unit: str
    decimals: int


def shown_by_control(setup: Setup, value: float) -> tuple[float, int]:
    """A length in mm as the control shows it: in its unit, rounded, and with how many decimals."""
    inch = setup.profile.unit == "inch"
    decimals = min(setup.profile.decimals, 4 if inch else 3)
    return round(value / MM_PER_INCH if inch else value, decimals) + 0.0, decimals


def entry_card(setup: Setup) -> list[CardEntry]:
    """What the control must be given: the soft limits of each axis, then the stored positions in the order of their
    moves."""
    unit = "in" if setup.profile.unit == "inch" else "mm"

    def entry(group: str, name: str, where: str, value: float) -> CardEntry:
        shown, decimals = shown_by_control(setup, value)
        return CardEntry(group, name, where, value, f"{shown:.{decimals}f}", unit, decimals)

    card = []
    for axis, data in setup.machine.axes.items():
        card.append(entry("Soft limits", f"{axis} from", f"/machine/axes/{axis}/soft_least", data.soft_least))
        card.append(entry("Soft limits", f"{axis} to", f"/machine/axes/{axis}/soft_greatest", data.soft_greatest))
    for index, position in enumerate(setup.positions):
        for step, move in enumerate(position.moves):
            for axis, value in move.axes:
                card.append(entry(position.name, axis, f"/positions/{index}/moves/{step}/{axis}", value))
    return card
