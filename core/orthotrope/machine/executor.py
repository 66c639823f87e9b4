"""Runs a program: its blocks one after the other, its conditions, jumps, loops and calls."""

import math
from collections.abc import Callable, Container
from copy import copy
from dataclasses import dataclass, field
from typing import NamedTuple

from orthotrope.machine.control import Control, Ended, Enter, Return
from orthotrope.machine.memory import ControlState
from orthotrope.machine.modes import Modes
from orthotrope.machine.motion import Vector
from orthotrope.machine.run import ByHand, Call, Endless, Run
from orthotrope.machine.stops import Crashed, TooManyMoves
from orthotrope.machine.touches import Followed, Touches
from orthotrope.machine.twins import twin
from orthotrope.machine.world import World
from orthotrope.packed import PIECE, Packed
from orthotrope.program.blocks import AnyBlock, Block, End, If, Plain, Program, Setting, While
from orthotrope.program.expressions import Evaluator, Place, ValueFault
from orthotrope.program.faults import Nowhere, ProgramError, RunFault
from orthotrope.program.words import ARGUMENTS
from orthotrope.sequence.values import Named
from orthotrope.setup.control import ControlProfile

MOST_JUMPS_BACK = 10_000
LOCAL = range(1, 34)
"""Parameters that a call with arguments has for itself."""
DEEPEST_CALLS = 20
SAME_AGAIN = 16
"""Times that a run jumps back to the same block with everything as it was, after which it will go on so for ever: it moves in between, and what
takes its time (a device, the spindle) has had it by then; or it is at rest, and nothing is on its way."""
MOST_REPEATED = 600_000
"""Blocks that are run again, by loops and calls; calls within calls can go on for ever without a jump back."""

TOLD_EVERY = 5000
"""Blocks after which it is reported how far a run is."""


@dataclass(slots=True)
class _Frame:
    back: int
    start: int
    repeats: int
    locals: dict[int, float] | None
    line: int
    touched: Followed = field(default_factory=dict)


@dataclass(slots=True)
class _Before:
    """How everything was when a run jumped back to block ``to``, for the ``jumps``-th time: place, parameters, modes, tools, how often each call
    is still repeated, how many segments there were; ``times``: how often it has been so again."""

    to: int
    place: Vector
    values: tuple[dict[int, float], dict[str, float]]
    modes: Modes
    tools: tuple[int, dict[int, int]]
    calls: list[int]
    segments: int
    jumps: int
    times: int = 0


class RunState(NamedTuple):
    """Where a run is: its control, the calls it is in, the block that comes next, and how many have been run."""

    control: ControlState
    frames: list[_Frame]
    jumps_back: int
    next_block: int
    blocks_run: int


class ProgramRun:
    """One run of one program on one control, block by block; with ``merges`` a waiting loop is one dwell."""

    def __init__(self, program: Program, control: Control):
        self.program, self.control = program, control
        self.parameters, self.machine, self.run = control.parameters, control.machine, control.run
        self.journal = control.machine.journal
        self.frames: list[_Frame] = []
        self.jumps_back = 0
        self.before: _Before | None = None
        self.place: Place | None = None
        self.index, self.count, self.line = 0, 0, 0
        self.most = len(program.blocks) + MOST_REPEATED
        self.journal.most_moves = len(program.blocks) + self.run.call.most_moves
        self.over = False
        self.merges = False

    def go(self, tell: Callable[[float], None] | None = None) -> Run:
        """Run to the end, a stop, or a fault; ``tell`` gets how far in the text it is, 0 to 1, again and again."""
        while self.step():
            if tell is not None and self.count % TOLD_EVERY == 0:
                tell(self.index / len(self.program.blocks))
        return self.run

    def step(self) -> bool:
        """Run the next block; False when there is none: the end, a stop, or a fault."""
        run = self.run
        try:
            if self.index < len(self.program.blocks) and not run.endless:
                block = self.program.blocks[self.index]
                if run.call.block_delete and isinstance(block, Block) and block.skip:
                    self.index += 1
                    return True
                if run.call.by_hand:
                    self._set_by_hand(run.call.by_hand)
                self.journal.line = self.line = block.line
                self.count += 1
                if self.count <= self.most:
                    start = self.journal.t
                    self.index = self._block(block, self.index)
                    self.journal.end_block(block.line, start, *self.control.record)
                    return True
                run.endless = Endless(block.line, f"more than {MOST_REPEATED:,} blocks are run again")
            run.trace.ended = "stopped" if run.endless else "end"
        except Ended:
            run.trace.ended = "end"
            self._close(self.line)
        except Crashed:
            self._close(self.line)
        except TooManyMoves:
            run.endless = Endless(self.line, f"it makes more than {run.call.most_moves:,} moves")
            run.trace.ended = "stopped"
            self._close(self.line)
        except RunFault as fault:
            run.fault = ProgramError(self.line, self.place.column if self.place else 1, str(fault))
            run.nowhere = isinstance(fault, Nowhere)
        modes = self.control.modes
        run.modes, run.length_of = modes.kept(), modes.length_number if modes.length_mode == 43 else 0
        run.read = self.parameters.read
        run.left = self.control.left()
        run.passed = self.machine.collisions.closest.sorted() if self.machine.collisions.closest else None
        run.tested = self.parameters.touches.tested if self.parameters.touches else run.tested
        run.unit_first = bool(self.control.unit_first)
        run.states_unit = run.unit_first and "unit" not in self.journal.dependencies
        self.over = True
        return False

    def _set_by_hand(self, every: tuple[ByHand, ...]) -> None:
        """What a person sets before the next block."""
        for entry in every:
            if entry.after == self.count and entry.parameter:
                self.control.set(entry.parameter, entry.value)
            elif entry.after == self.count and entry.input:
                self.machine.signals.hold(entry.input, entry.value != 0)

    def kept(self) -> "RunState":
        """Where it is before a block, for :meth:`again`."""
        frames = [copy(frame) for frame in self.frames]
        return RunState(self.control.kept(), frames, self.jumps_back, self.index, self.count)

    def again(self, kept: "RunState", deadline: float) -> None:
        """Run the block of ``kept`` again and stop it from outside at ``deadline`` (seconds of the run)."""
        control, self.frames, self.jumps_back, self.index, self.count = kept
        self.control.restore(control)
        self.over = False
        self.machine.deadline = deadline
        try:
            self.step()
        finally:
            self.machine.deadline = math.inf

    def take_over(self, other: "ProgramRun", kept: "RunState", dependencies: Container[str]) -> None:
        """Go on where another run of the same program was before a block, in this one's world; ``dependencies``: what the
        other run had depended on."""
        control, frames, self.jumps_back, self.index, self.count = kept
        self.frames = [copy(frame) for frame in frames]
        self.control.take_over(other.control, control, dependencies)

    def _close(self, line: int) -> None:
        blocks = self.journal.trace.blocks
        self.journal.end_block(line, blocks[-1].t1 if blocks else 0.0, *self.control.record)

    def _block(self, block: AnyBlock, index: int) -> int:
        """Run a block; returns the index of the next."""
        touches = self.parameters.touches
        if touches:
            touches.words.clear()
        if type(block) is Plain:
            self.place = None
            then = self.control.words(block.line, [*zip(block.letters, block.values, strict=True)])
            return index + 1 if then is None else self._go_on(then, index, block.line)
        assert isinstance(block, Block)
        if block.control is not None:
            return self._control(block, index)
        words = []
        for word in block.words:
            self.place = word.place
            if touches:
                touches.clear()
            value = word.evaluate(self.parameters)
            if not math.isfinite(value):
                raise ValueFault(f"{word.letter} has no finite value.")
            words.append((word.letter, value))
            if touches:
                touches.words[word.letter] = touches.used
        settings = (
            [(self._target(setting), *self._calculated(setting)) for setting in block.settings]
            if block.settings
            else ()
        )
        then = self.control.words(block.line, words) if words else None
        for target, value, used in settings:
            self.control.set(target, value, used)
        for text in block.messages:
            self.journal.event("message", text=text)
        return index + 1 if then is None else self._go_on(then, index, block.line)

    def _target(self, setting: Setting) -> float | str:
        self.place = setting.place
        if isinstance(setting.target, Named):
            return setting.target.name
        assert setting.index is not None
        return setting.index(self.parameters)

    def _value(self, setting: Setting) -> float:
        value = setting.evaluate(self.parameters)
        if not math.isfinite(value):
            raise ValueFault("The value is not finite.")
        return value

    def _calculated(self, setting: Setting) -> tuple[float, Touches | None]:
        """The value of a setting, and what touches it came of."""
        if self.parameters.touches is None:
            return self._value(setting), None
        self.parameters.touches.clear()
        return self._value(setting), self.parameters.touches.copied()

    def _control(self, block: Block, index: int) -> int:
        control = block.control
        assert control is not None
        self.place = control.place
        if type(control) is If:
            if control.evaluate is not None and not self._holds(control.evaluate):
                return index + 1
            if control.then is not None:
                self.control.set(self._target(control.then), *self._calculated(control.then))
                return index + 1
            assert control.target is not None
            return self._jump(self._label(control.target(self.parameters), index), index, block.line)
        if type(control) is While:
            if control.evaluate is not None and not self._holds(control.evaluate):
                return self.program.loops[index] + 1
            if self.merges and index in self.program.waits:
                return self._waited(index, control)
            return index + 1
        assert isinstance(control, End)
        return self._jump(self.program.loops[index], index, block.line)

    def _holds(self, condition: Evaluator) -> bool:
        touches = self.parameters.touches
        if touches is None:
            return condition(self.parameters) != 0
        touches.clear()
        holds = condition(self.parameters) != 0
        touches.decided()
        return holds

    def _waited(self, index: int, loop: While) -> int:
        """A loop that only dwells and counts, run as one dwell up to where an input can have changed, or the count ends
        it. What comes of it is the same; only the blocks in between are not kept."""
        wait = self.program.waits[index]
        setting, journal, store = wait.setting, self.journal, self.parameters
        seconds, quiet = max(0.0, wait.seconds) * self.control.profile.dwell_seconds, self.machine.devices.quiet_until()
        count, target = 0, self._target(setting)
        while True:
            count += 1
            value = self._value(setting)
            if isinstance(target, str):
                store.names[target] = value
            else:
                store.set(target, value)
            if journal.t + count * seconds >= quiet - 1e-9 or count >= MOST_JUMPS_BACK:
                break
            if loop.evaluate is not None and loop.evaluate(store) == 0:
                break
            # Until then an input says the same: only the count goes on.
            if wait.step is not None and isinstance(target, float):
                while journal.t + (count + 1) * seconds < quiet - 1e-9 and count + 1 < MOST_JUMPS_BACK:
                    if not value + wait.step < wait.most:
                        break
                    count, value = count + 1, value + wait.step
                store.set(target, value)
        self.journal.line = self.program.blocks[index + 1].line
        self.control.stay(count * seconds)
        self.control.set(target, value)
        self.jumps_back += count - 1
        return self._jump(index, index, self.line)

    def _label(self, number: float, index: int) -> int:
        places = self.program.labels.get(round(number), ())
        if not places or number != round(number):
            raise Nowhere(f"There is no block N{number:g} to go on at.")
        return next((place for place in places if place > index), places[0])

    def _jump(self, to: int, index: int, line: int) -> int:
        if to <= index:
            self.jumps_back += 1
            if self.jumps_back > MOST_JUMPS_BACK:
                self.run.endless = Endless(line, f"it has jumped back more than {MOST_JUMPS_BACK:,} times")
            elif self.merges and self._is_as_before(to):
                self.run.endless = Endless(line, "it repeats the same blocks, and nothing changes")
        return to

    def _is_as_before(self, to: int) -> bool:
        """Whether a run goes round and round: it jumps back to where it was, as it was. What it is compared with is kept again each time that
        it has jumped back twice as often, so that the way into a loop does not matter."""
        before, place, segments = self.before, self.machine.position, self.journal.trace.segments
        if before is None or self.jumps_back >= 2 * before.jumps:
            modes = twin(self.control.modes)
            self.before = _Before(
                to, place, self._values(), modes, self._tools(), self._calls(), len(segments), self.jumps_back
            )
            return False
        if before.to != to or before.place != place or before.modes != self.control.modes:
            return False
        if before.calls != self._calls() or before.values != self._values() or before.tools != self._tools():
            return False
        before.times += 1
        if before.times < SAME_AGAIN or self.run.call.by_hand:
            return False
        moves = any(segments[at].kind != "dwell" for at in range(before.segments, len(segments)))
        return moves or math.isinf(self.machine.devices.quiet_until())

    def _values(self) -> tuple[dict[int, float], dict[str, float]]:
        return dict(self.parameters.values), dict(self.parameters.names)

    def _tools(self) -> tuple[int, dict[int, int]]:
        return self.machine.tool, dict(self.machine.carrier.changer.stored) if self.machine.carrier.changer else {}

    def _calls(self) -> list[int]:
        return [frame.repeats for frame in self.frames]

    def _go_on(self, then: Enter | Return, index: int, line: int) -> int:
        return self._enter(then, index, line) if isinstance(then, Enter) else self._return()

    def _enter(self, call: Enter, index: int, line: int) -> int:
        if call.number not in self.program.programs:
            raise Nowhere(f"There is no program O{call.number:g} to call.")
        if len(self.frames) >= DEEPEST_CALLS:
            self.run.endless = Endless(line, f"calls are nested deeper than {DEEPEST_CALLS}")
            return index
        if call.repeats < 1:
            return index + 1
        start = self.program.programs[round(call.number)]
        kept, touches = None, self.parameters.touches
        touched: Followed = {}
        if call.arguments is not None:
            kept = {n: self.parameters.values.get(n, 0.0) for n in LOCAL}
            self.parameters.values.update({n: call.arguments.get(n, 0.0) for n in LOCAL})
            if touches:
                given: Followed = {
                    ARGUMENTS[letter]: used for letter, used in touches.words.items() if letter in ARGUMENTS and used
                }
                touched = touches.exchanged(LOCAL, given)
        self.frames.append(_Frame(index + 1, start, int(call.repeats) - 1, kept, line, touched))
        return start

    def _return(self) -> int:
        if not self.frames:
            self.run.returned = True
            raise Ended
        frame = self.frames[-1]
        if frame.repeats > 0:
            frame.repeats -= 1
            return self._jump(frame.start, frame.start, frame.line)
        self.frames.pop()
        if frame.locals is not None:
            self.parameters.values.update(frame.locals)
            if self.parameters.touches:
                self.parameters.touches.exchanged(LOCAL, frame.touched)
        return frame.back


def run_program(
    program: Program, profile: ControlProfile, world: World, call: Call, tell: Callable[[float], None] | None = None
) -> Run:
    """Run a program that was read. It must be readable; what RS-274 calls an error in running is the run's
    ``fault``. ``tell``: as :meth:`ProgramRun.go` has it."""
    run = ProgramRun(program, Control(profile, world, call))
    run.merges = True
    if len(program.blocks) > PIECE:
        trace = run.machine.trace
        trace.segments, trace.blocks = Packed(trace.segments), Packed(trace.blocks)
    return run.go(tell)
