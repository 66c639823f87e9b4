"""Why an edit that nothing is said of does no harm: rules, each with its reason, judged by what the text does, not by its lines.

A text is compared with the edited one in every world of a stated set: where all is as it should be, from every caller and all pairs of
what callers have, asked for other tools, and under every fault in each of its ways. An edit is harmless only where one rule holds in all of
them: what differs only when something is wrong differs."""

import math
from collections.abc import Callable, Iterator
from dataclasses import replace
from typing import Any, NamedTuple

from orthotrope.machine.events import EventKind
from orthotrope.machine.run import Run
from orthotrope.program.reader import read_text
from orthotrope.proof.callers import for_others, in_combination
from orthotrope.proof.case import Case, findings_of
from orthotrope.proof.faults.registry import FAULTS

NEAR = 2e-3
"""mm; places that differ by less are the same: what a control's last decimal is."""

SAID = frozenset({"message", "set", "blind-dwell", "length-old", "touched-move", "contact-kept"})
"""Events that are no deed: what is said, what is kept in a parameter, what only the checks look at."""


ANYWHERE = frozenset({"switched", "comes-onto", "goes-off", "unconfirmed", "length-set", "length-active", "zero-set"})
"""Events that are reported where a way begins, or that do not depend on where it stands: what comes of them is reported by others, with its
place."""

ON_ITS_WAY = frozenset({"spindle", "device", "done", "feed-over-axis", "pressed", "released"})
"""Events whose place depends on how fast it comes there."""


class Deed(NamedTuple):
    """One thing that a run does: what, and its numbers."""

    what: str
    numbers: tuple[float, ...]


def deeds(run: Run) -> Iterator[Deed]:
    """All that a run does, in its order: moves with their kind, end and feed, what is switched, what is touched and set."""
    trace = run.trace
    done: list[tuple[float, int, Deed]] = [
        (segment.t0, 1, Deed(segment.kind, (*segment.end, segment.feed)))
        for segment in trace.segments
        if segment.kind != "dwell" and segment.start != segment.end
    ]
    done += [
        (event.t, 0, Deed(event.kind, tuple(_flat(event.data)))) for event in trace.events if event.kind not in SAID
    ]
    yield from (deed for _, _, deed in sorted(done, key=lambda entry: entry[:2]))
    last = trace.blocks[-1] if trace.blocks else None
    # Whether a record that is true is marked as doubtful where a run is cut short does not matter.
    doubtful = float(last.doubtful and last.record != last.holds) if last else 0.0
    yield Deed("ends", (float(last.record), doubtful, float(last.holds or 0)) if last else ())
    left = (float(run.returned), run.left.speed, float(run.left.locked), float(run.length_of), *run.left.shift)
    modes = [float(run.modes.get(mode, 0)) for mode in sorted(run.modes)] if trace.ended == "end" else []
    yield Deed(f"ended {trace.ended}", (*modes, *left))


def _flat(data: dict[str, Any]) -> Iterator[float]:
    for name, value in sorted(data.items()):
        if name in ("touch", "touches", "at_seconds", "seconds", "done", "stops", "tested", "dwelt", "takes"):
            continue
        if isinstance(value, bool | int | float):
            yield float(value)
        elif isinstance(value, str):
            yield float(sum(value.encode()))
        elif isinstance(value, list | tuple) and all(isinstance(part, int | float) for part in value):
            yield from (float(part) for part in value)


def worlds(case: Case) -> Iterator[Case]:
    """The worlds and calls in which texts are compared."""
    call = case.call
    yield case
    for changed in ({"unit": 20}, {"distance": 91}, {"left": 7.5}):
        yield replace(case, call=replace(call, **changed), _runs={})
    for active in ("plane", "inverse time", "compensation", "forwards", "length"):
        yield replace(case, call=replace(call, active=active), _runs={})
    yield from (called for called, _ in in_combination(case))
    if case.purpose == "exchange":
        yield from (called for called, _ in for_others(case))
    else:
        others = [number for number in case.world.tools if number != call.from_tool]
        for number in others[:1]:
            yield replace(case, call=replace(call, from_tool=number), _runs={})
    yield replace(case, call=replace(call, doubtful=True), _runs={})
    for fault in FAULTS.values():
        if fault.applies(case.world, call) and (case.purpose == "exchange" or not fault.of_exchange):
            yield from (replace(under, _runs={}) for under in fault.variants(case))


def _same(one: Deed, other: Deed) -> bool:
    return (
        one.what == other.what
        and len(one.numbers) == len(other.numbers)
        and all(abs(a - b) <= NEAR for a, b in zip(one.numbers, other.numbers, strict=True))
    )


def does_the_same(before: list[Run], after: list[Run]) -> bool:
    for one, other in zip(before, after, strict=True):
        mine, its = list(deeds(one)), list(deeds(other))
        if len(mine) != len(its) or not all(map(_same, mine, its)):
            return False
    return True


def _stands_longer(before: list[Run], after: list[Run]) -> bool:
    return does_the_same(before, after) and all(
        b.trace.seconds <= a.trace.seconds + 1e-6 for b, a in zip(before, after, strict=True)
    )


def _stations(run: Run) -> Iterator[Deed]:
    """What a run does but for the ways between: each deed with the place where it is done, and where and how it ends."""
    for event in run.trace.events:
        if event.kind not in SAID and event.kind not in ON_ITS_WAY:
            place = () if event.kind in ANYWHERE else event.position
            yield Deed(event.kind, (*place, *_flat(event.data)))
    yield from list(deeds(run))[-2:]
    yield Deed("stands", run.trace.blocks[-1].position if run.trace.blocks else ())


def goes_another_way(before: list[Run], after: list[Run]) -> bool:
    """Between the same places of the same deeds; whether it keeps clear on that way the proof has looked at, and said nothing."""
    for one, other in zip(before, after, strict=True):
        mine, its = list(_stations(one)), list(_stations(other))
        if len(mine) != len(its) or not all(map(_same, mine, its)):
            return False
    return True


def _feeds_aside(run: Run) -> Iterator[Deed]:
    """What a run does, but for how fast it goes, and what a slower touch changes by."""
    for event in run.trace.events:
        if event.kind in SAID or event.kind in ON_ITS_WAY:
            continue
        data = {name: value for name, value in event.data.items() if name not in ("feed", "stopped")}
        yield Deed(event.kind, tuple(_flat(data)))
    yield from list(deeds(run))[-2:]


def _goes_more_slowly(before: list[Run], after: list[Run]) -> bool:
    """Moves that may meet something go more slowly, and find the same; a touch that counts at another feed would be reported."""
    for one, other in zip(before, after, strict=True):
        mine, its = list(_feeds_aside(one)), list(_feeds_aside(other))
        if len(mine) != len(its) or other.trace.seconds < one.trace.seconds - 1e-6:
            return False
        if not all(_nearly(a, b) for a, b in zip(mine, its, strict=True)):
            return False
    return True


SLOWER = 0.2
"""mm; a slower touch is latched so much less far."""


def _nearly(one: Deed, other: Deed) -> bool:
    near = SLOWER if one.what == "touch" else NEAR
    return one.what == other.what and all(abs(a - b) <= near for a, b in zip(one.numbers, other.numbers, strict=False))


RESULTS: frozenset[EventKind] = frozenset({"zero-set", "length-set", "turned"})
"""What a measuring or a routine is for."""


def _finds_the_same(before: list[Run], after: list[Run]) -> bool:
    """It touches the same elsewhere, or in another order, and finds the same."""
    for one, other in zip(before, after, strict=True):
        mine, its = list(_found(one)), list(_found(other))
        touched = one.trace.of_kind("touch"), other.trace.of_kind("touch")
        if not touched[0] or not touched[1] or len(mine) != len(its):
            return False
        if not all(a.what == b.what and _close(a, b) for a, b in zip(mine, its, strict=True)):
            return False
    return True


FOUND_WITHIN = 0.006
"""mm; what is found on another place of the same is the same within this: the scatter of a nominal world's rounding."""


def _close(one: Deed, other: Deed) -> bool:
    return len(one.numbers) == len(other.numbers) and all(
        abs(a - b) <= FOUND_WITHIN for a, b in zip(one.numbers, other.numbers, strict=True)
    )


def _found(run: Run) -> Iterator[Deed]:
    """What is set at the end of it; what is kept in parameters is judged by the proof."""
    for event in run.trace.events:
        if event.kind in RESULTS:
            yield Deed(event.kind, tuple(_flat(event.data)))
    yield from list(deeds(run))[-2:]


def _in_another_order(before: list[Run], after: list[Run]) -> bool:
    """A length is called before or after a move in machine coordinates, which it does not matter to."""
    for one, other in zip(before, after, strict=True):
        mine, its = list(deeds(one)), list(deeds(other))
        calls = [[deed for deed in run if deed.what == "length-active"] for run in (mine, its)]
        rest = [[deed for deed in run if deed.what != "length-active"] for run in (mine, its)]
        if any(len(a) != len(b) or not all(map(_same, a, b)) for a, b in (calls, rest)):
            return False
    return True


def _stands_elsewhere(before: list[Run], after: list[Run]) -> bool:
    """It ends at another place, no lower than it was called at, after the same deeds; an exchange is to go back to its caller."""
    for one, other in zip(before, after, strict=True):
        if one.call.from_tool != one.call.to_tool:
            return False
        mine, its = list(_stations(one))[:-1], list(_stations(other))[:-1]
        ends = other.trace.blocks[-1].position if other.trace.blocks else other.call.at
        if len(mine) != len(its) or not all(map(_same, mine, its)) or ends[2] < other.call.at[2] - NEAR:
            return False
    return True


def _says_more(before: list[Run], after: list[Run]) -> bool:
    """After the same deeds it says something more, and waits for a person, where it would have ended."""
    for one, other in zip(before, after, strict=True):
        mine, its = list(deeds(one)), list(deeds(other))
        extra = its[len(mine) - 2 : -2]
        same = [*its[: len(mine) - 2], *its[-2:]]
        if not all(deed.what in ("pause", "override") for deed in extra) or len(same) != len(mine):
            return False
        if not all(map(_same, mine, same)):
            return False
    return True


def _normal_state(before: list[Run], after: list[Run]) -> bool:
    """A relative caller gets absolute back: the control's normal state, which a job states again; no leak by the rules."""
    for one, other in zip(before, after, strict=True):
        if other.modes.get("distance") not in (90, one.modes.get("distance")):
            return False
        if not does_the_same([one], [replace(other, modes={**other.modes, "distance": one.modes.get("distance", 90)})]):
            return False
    return True


def _commanded_again(before: list[Run], after: list[Run]) -> bool:
    """A device is commanded once more what it was commanded before; had it done something else in between, it would move again, which is a deed."""
    for one, other in zip(before, after, strict=True):
        mine, its, at = list(deeds(one)), list(deeds(other)), 0
        for index, deed in enumerate(its):
            if at < len(mine) and _same(mine[at], deed):
                at += 1
            elif deed.what != "switched" or not any(_same(deed, earlier) for earlier in its[:index]):
                return False
        if at < len(mine):
            return False
    return True


TURNED = frozenset({"freed", "gripped", "spindle"})
"""Events of a thread that is turned on or off: how far, and how fast."""


def _turned_otherwise(before: list[Run], after: list[Run]) -> bool:
    """A nut is turned on or off further, less far or at another speed, the same way and at the same pocket; the checks of the nut and of
    the thread know how far that may go, and have said nothing."""
    for one, other in zip(before, after, strict=True):
        mine, its = list(deeds(one)), list(deeds(other))
        rest = [[deed for deed in run if deed.what not in TURNED] for run in (mine, its)]
        turned = [[_way(deed) for deed in run if deed.what in TURNED] for run in (mine, its)]
        if turned[0] != turned[1] or not any(deed.what == "freed" or deed.what == "gripped" for deed in its):
            return False
        if len(rest[0]) != len(rest[1]) or not all(map(_same, *rest)):
            return False
    return True


def _way(deed: Deed) -> tuple[str, float, float]:
    """What is turned, and which way: of a spindle whether forwards, of a tool its number and pocket."""
    if deed.what == "spindle":
        return deed.what, math.copysign(1.0, deed.numbers[0]) if deed.numbers[0] else 0.0, 0.0
    return deed.what, deed.numbers[0], deed.numbers[-1]


def _of_no_tool(before: list[Run], after: list[Run]) -> bool:
    """The empty spindle has no length: called or cancelled, it comes to the same."""
    for one, other in zip(before, after, strict=True):
        mine, its = ([deed for deed in deeds(run) if deed.what != "length-active"] for run in (one, other))
        empty = bool(other.trace.blocks) and not other.trace.blocks[-1].holds
        if len(mine) != len(its) or not all(map(_same, mine, its)):
            return False
        if not empty and one.length_of != other.length_of:
            return False
    return True


def _goes_back(before: list[Run], after: list[Run]) -> bool:
    """It goes back to its caller when it is done, where it ended: nothing was refused, nothing paused for a person."""
    for one, other in zip(before, after, strict=True):
        if other.trace.of_kind("pause") or not does_the_same([one], [replace(other, returned=one.returned)]):
            return False
    return True


def _without_length(run: Run) -> Iterator[Deed]:
    for deed in deeds(run):
        if deed.what == "length-active":
            continue
        yield deed._replace(numbers=(*deed.numbers[:-4], *deed.numbers[-3:])) if deed.what == "ended end" else deed


def _no_length_after_failing(before: list[Run], after: list[Run]) -> bool:
    """A failing branch that leaves no length in force: who goes on calls one."""
    for one, other in zip(before, after, strict=True):
        mine, its = list(_without_length(one)), list(_without_length(other))
        failed = bool(other.trace.of_kind("pause")) and not other.trace.of_kind(*RESULTS)
        if not failed or other.length_of or other.returned or len(mine) != len(its) or not all(map(_same, mine, its)):
            return False
    return True


RULES: dict[str, Callable[[list[Run], list[Run]], bool]] = {
    "it does the same, and takes no less time": _stands_longer,
    "it does the same": does_the_same,
    "it goes another way between the same deeds": goes_another_way,
    "a move that may meet something goes more slowly, and finds the same": _goes_more_slowly,
    "a nut is turned otherwise, within what the checks allow": _turned_otherwise,
    "a device is commanded again what it has done": _commanded_again,
    "it leaves the distance mode at the control's normal state": _normal_state,
    "with the empty spindle it comes to the same whether a length is called": _of_no_tool,
    "a length is called before or after a move in machine coordinates": _in_another_order,
    "it ends at another place, as high as it was called": _stands_elsewhere,
    "it goes back to its caller when it is done": _goes_back,
    "it leaves no length in force where it fails": _no_length_after_failing,
    "it says something more at its end": _says_more,
    "it does not wait at its end": lambda before, after: _says_more(after, before),
    "it touches the same elsewhere, and finds the same": _finds_the_same,
}
"""What is found to do no harm, by why."""


AS_USUAL = "it does there what the written text does where nothing is wrong"
REFUSES = "it stops by itself, with nothing set, moved on or harmed, where it went on"


def _refuses(there: Case, run: Run) -> bool:
    """Whether a run ends with a pause or an alarm and no result, and nothing in it is harm."""
    there.keep(run)
    stops = run.trace.ended == "stopped" or bool(run.trace.of_kind("pause", "message"))
    return stops and not run.returned and not run.trace.of_kind(*RESULTS) and not findings_of(there, "run", harms=True)


def why_harmless(cases: list[Case], before: str, after: str) -> str:
    """The first rule that says why the text ``after`` does no harm where ``before`` does none; "": none does."""
    program, other = read_text(before), read_text(after)
    if not other.readable:
        return ""
    mine, its, whys = list[Run](), list[Run](), list[str]()
    for case in cases:
        usual: Run | None = None  # as written, where all is as it should be
        for there in worlds(case):
            mine.append(replace(there, program=program, _runs={}).main)
            its.append(replace(there, program=other, _runs={}).main)
            found = next((why for why, rule in RULES.items() if rule([mine[-1]], [its[-1]])), "")
            usual = usual or mine[-1]
            if not found and goes_another_way([usual], [its[-1]]):
                found = AS_USUAL
            if not found and not _refuses(replace(there, program=other, _runs={}), its[-1]):
                return ""
            whys.append(found or REFUSES)
    same = next((why for why, rule in RULES.items() if rule(mine, its)), "")
    if same:
        return same
    return "in each world for a reason of its own: " + "; ".join(
        why for why in (*RULES, AS_USUAL, REFUSES) if why in whys
    )
