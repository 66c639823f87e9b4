"""The steps of a routine: as one text, or a text a touch for a control that can't do the sums."""

from collections.abc import Iterator

from orthotrope.errors import InputError
from orthotrope.sequence.probing.qualifying import routine_named
from orthotrope.sequence.probing.registry import PLANS, RoutineRequest, tip_of
from orthotrope.sequence.probing.writing import Probing
from orthotrope.sequence.steps import Remark, Say, Sequence, Step, Stop
from orthotrope.setup import Setup
from orthotrope.setup.control import ControlProfile
from orthotrope.setup.routines import Routine


def wanted_of(
    setup: Setup, routine: Routine, profile: ControlProfile | None, called_at: tuple[float, float] | None
) -> RoutineRequest:
    """What is wanted, with the tip that it is made with.

    Raises:
        InputError: see :func:`tip_of`.
    """
    across = setup.machine.axes.across
    middle = tuple((axis.soft_least + axis.soft_greatest) / 2 for axis in across)
    at = called_at or (middle[0], middle[1])
    return RoutineRequest(setup, routine, tip_of(setup, routine), profile or setup.profile, at)


def plan_routine(
    setup: Setup, name: str, profile: ControlProfile | None = None, called_at: tuple[float, float] | None = None
) -> Sequence:
    """The steps of a routine, by its name. A control that can't do the sums is made to wait after each touch, so that its
    place is noted.

    Raises:
        InputError: where there is none of that name, or its probe can't make it.
    """
    wanted = wanted_of(setup, routine_named(setup, name), profile, called_at)
    p, title = Probing.of(wanted), f"{setup.machine.name}: {name}"
    if wanted.tip is None:
        return Sequence(title, tuple(PLANS[wanted.routine.kind].steps(wanted.routine, p)))
    return Sequence(title, tuple(_calculated(p) if p.works_out else _noted(p)))


def plan_touch(
    setup: Setup,
    name: str,
    number: int,
    profile: ControlProfile | None = None,
    called_at: tuple[float, float] | None = None,
) -> Sequence:
    """One touch of a routine as a text of its own: for a control that can't do the sums. ``number``: from 1.

    Raises:
        InputError: as :func:`plan_routine` does, and where there is no such touch.
    """
    wanted = wanted_of(setup, routine_named(setup, name), profile, called_at)
    count = len(PLANS[wanted.routine.kind].aims(wanted.routine, wanted.tip)) if wanted.tip else 0
    if not 1 <= number <= count:
        raise InputError.at("/touch", f"`touch` must be from 1 to {count}, the touches of {name}; got {number}.")
    p = Probing.of(wanted)
    return Sequence(f"{setup.machine.name}: {name}, touch {number} of {count}", tuple(_noted(p, number)))


def _calculated(p: Probing) -> Iterator[Step]:
    yield from p.begin()
    yield from p.plan.steps(p.routine, p)
    yield from p.judged()
    yield from p.set()
    yield from p.end(f"{p.routine.name} is found; state the feed again")
    yield from p.refusals()


def _noted(p: Probing, only: int | None = None) -> Iterator[Step]:
    """Each touch with a pause after it, at which its place is noted; ``only`` one of them, by its number."""
    aims = p.plan.aims(p.routine, p.tip)
    yield from p.begin()
    if not p.goes_on:
        yield Remark("this control has no touching move that goes on at a miss: nothing guards the moves between")
    for number, aim in enumerate(aims, 1):
        if only not in (None, number):
            continue
        yield from p.go_to(aim, p.clear(aims))
        yield from p.search(aim)
        yield from p.measure(aim, "touched")
        axes = ", ".join(axis for axis, part in zip("XYZ", aim.way, strict=True) if abs(part) > 1e-9)
        yield Say(f"Touch {number} of {len(aims)}, {aim.name}: note {axes} in machine coordinates")
        yield Stop("pause")
        yield from p.retreat(aim)
    yield from p.end("Enter what was noted: the zero is worked out of it")
    if p.asks:
        yield from p.refusals()
