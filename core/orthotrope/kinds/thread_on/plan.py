"""Exchanges of a thread-on rack: the turning spindle threads the nut off in its pocket, and the next one on."""

from collections.abc import Iterator
from typing import Literal

from orthotrope.calc.derived import DerivedChanger
from orthotrope.kinds.thread_on.model import ThreadOn, ThreadSection
from orthotrope.sequence.exchanges.frame import Frame, Parts, Place, every, one
from orthotrope.sequence.exchanges.registry import EMPTY, PLANNERS, Descent, Exchange, Planner
from orthotrope.sequence.steps import Dwell, Move, Override, Sequence, Spindle, Step
from orthotrope.sequence.values import Number, Value, length
from orthotrope.setup import Setup


def _over(frame: Frame, place: Place) -> Iterator[Step]:
    yield Move((("X", place[0]), ("Y", place[1])), note="over the pocket")
    yield Move((("Z", frame.heights["hover"]),), note="hover")


def _thread_once(
    frame: Frame, turn: Literal["forwards", "backwards"], feed_note: str, dwell_note: str, tool: Value
) -> Iterator[Step]:
    """From hover down to couple height with the spindle turning, and up again."""
    changer = frame.setup.changer
    assert isinstance(changer, ThreadOn)
    thread, seconds = changer.coupling, frame.derived.workings["speed_seconds"].value or 0.0
    yield from frame.doubtful()
    yield Override(True, "the thread wants its feed: no override")
    yield Spindle(turn, Number(thread.speed), turn)
    yield Dwell(Number(max(0.1, seconds * 1.25)), "until it has its speed")
    yield Move((("Z", frame.heights["couple"]),), length(thread.feed), feed_note)
    yield Dwell(Number(thread.dwell), dwell_note)
    yield Move((("Z", frame.heights["hover"]),), note="hover")
    yield Override(False)
    yield from frame.stand(seconds)
    yield from frame.present(turn == "forwards")
    yield from frame.record(tool)


def _run_off_rising(frame: Frame, thread: ThreadSection) -> Iterator[Step]:
    """Seat the nut with the spindle standing, turn backwards, and rise by the thread's lead. Both gain speed evenly: Z
    begins when half the spindle's time is over, less half its own, so that in the end both have gone equally far."""
    seconds = frame.derived.workings["speed_seconds"].value or 0.0
    feed = thread.lead * thread.speed
    later = max(0.0, (seconds - feed / 60 / frame.setup.machine.axes.upright.acceleration) / 2)
    yield from frame.doubtful()
    yield Override(True, "the thread wants its feed: no override")
    yield Move((("Z", frame.heights["couple"]),), length(thread.feed), "couple: the nut is seated")
    yield Spindle("backwards", Number(thread.speed), "backwards")
    yield Dwell(Number(later), "Z catches up with the thread")
    yield Move((("Z", frame.heights["hover"]),), length(feed), "hover: the nut runs off")
    yield Override(False)
    yield from frame.stand(seconds)
    yield from frame.present(False)
    yield from frame.record(Number(EMPTY))


def _prepare(frame: Frame) -> Iterator[Step]:
    yield from frame.stand(frame.setup.machine.spindle.seconds_to_speed)
    yield Move((("Z", frame.heights["park"]),), note="park")


def _put_away(frame: Frame) -> Iterator[Step]:
    yield Move((("Z", frame.heights["carry"]),), note="carry")
    yield from _over(frame, frame.place_from)
    changer = frame.setup.changer
    assert isinstance(changer, ThreadOn)
    if changer.coupling.put_down == "going down":
        yield from _thread_once(
            frame, "backwards", "couple: the flats hold the nut", "until the nut is off", Number(EMPTY)
        )
    else:
        yield from _run_off_rising(frame, changer.coupling)


def _between(frame: Frame) -> Iterator[Step]:
    yield Move((("Z", frame.heights["empty"]),), note="empty")


def _fetch(frame: Frame) -> Iterator[Step]:
    yield from _over(frame, frame.place_to)
    yield from _thread_once(frame, "forwards", "couple: the nut runs on", "until the nut is tight", frame.to_tool)


PARTS = Parts(_prepare, _put_away, _between, fetch=_fetch)


class ThreadOnPlanner(Planner):
    """Both kinds of text of a thread-on rack."""

    def one(self, setup: Setup, derived: DerivedChanger, exchange: Exchange) -> Sequence:
        return one(PARTS, setup, derived, exchange)

    def every(self, setup: Setup, derived: DerivedChanger, part: bool = False) -> Sequence:
        return every(PARTS, setup, derived, f"{setup.machine.name}: every exchange of the thread-on rack", part)

    def descent(self, setup: Setup, derived: DerivedChanger) -> Descent:
        return Descent(derived.ladder.hover_z)


PLANNERS.add("thread-on", ThreadOnPlanner())
