"""A control's state, and one block's words run on the virtual machine, in the order of RS-274 (NISTIR 6556, table
8)."""

import math
import re
from collections.abc import Container, Iterable
from dataclasses import dataclass
from typing import Any, NamedTuple

from orthotrope.machine.arcs import arc_between
from orthotrope.machine.cycles import cycle_moves
from orthotrope.machine.modes import Modes
from orthotrope.machine.motion import Vector
from orthotrope.machine.parameters import ParameterStore
from orthotrope.machine.run import SHIFTED, Call, Left, Run
from orthotrope.machine.standing import MachineState
from orthotrope.machine.stops import Crashed
from orthotrope.machine.touches import Touches
from orthotrope.machine.twins import twin
from orthotrope.machine.virtual import VirtualMachine
from orthotrope.machine.watch import Watch
from orthotrope.machine.world import World
from orthotrope.program.faults import RunFault
from orthotrope.program.words import ARGUMENTS, LENGTH_LETTERS, WORK_OFFSET_OF
from orthotrope.setup.control import ControlProfile
from orthotrope.setup.numbering import ACTIVE_OFFSET, OFFSETS_FIRST, OFFSETS_STEP, SHIFT_FIRST

LEFT_OVER = 60
"""Working parameters, from the profile's first one on, that may hold what a call before has left."""

MOST_REPEATS = 100
"""Times that one block may repeat its cycle (L)."""


HAND_SECONDS = 30.0
"""How long a person takes to change a tool and confirm it."""

NAMED_TOOL = re.compile(r"\bT(\d{1,4})\b")
"""A tool in a message."""

STOPS = frozenset({0, 2, 30, 60, 99})
"""M words at which a program waits for a person, or ends."""

NOT_SWITCHED = frozenset({0, 1, 2, 3, 4, 5, 6, 30, 48, 49, 60, 98, 99})
"""M words that switch no output."""


class Ended(Exception):
    """The program has come to its end."""


@dataclass(frozen=True, slots=True)
class Enter:
    """Go into program ``number``, ``repeats`` times; ``arguments`` for its own parameters, None: it shares the
    caller's."""

    number: float
    repeats: float
    arguments: dict[int, float] | None


@dataclass(frozen=True, slots=True)
class Return:
    """Go back to the caller."""


class ControlState(NamedTuple):
    """All of a control that a block can change."""

    machine: MachineState
    modes: Modes
    values: dict[int, float]
    names: dict[str, float]
    inch: bool
    lengths: dict[int, float]
    offset: Vector
    cycle: dict[str, float]
    watch: Watch
    touches: Touches | None
    unit_first: bool | None


class Control:
    """Modes, offsets and parameters. Cutter compensation is kept as a mode and does not move the path.

    ``unit_first``: whether the program stated its unit before anything depended on the caller's; None: it has done
    neither yet."""

    def __init__(self, profile: ControlProfile, world: World, call: Call, begun: "ControlState | None" = None):
        """As it is when the program is called; or as another one was (``begun``), which :meth:`take_over` completes."""
        self.profile, self.world = profile, world
        self.machine = VirtualMachine(world, call.at, call.from_tool, fresh=begun is None)
        known = profile.parameters
        self.parameters = ParameterStore(dict(begun.values) if begun else self._called(call), known)
        self.modes = twin(begun.modes) if begun else Modes(unit=call.unit, distance=call.distance)
        if begun:
            self.parameters.names, self.parameters.inch = dict(begun.names), begun.inch
            self.lengths, self.cycle, self.offset = dict(begun.lengths), dict(begun.cycle), begun.offset
        else:
            self.parameters.inch = call.unit == 20
            self.lengths = {number: tool.recorded for number, tool in world.tools.items()}
            self.cycle = {}
            self._left_on(call)
            self.offset = self.offset_now()
        self.touching = {
            word: stops
            for word, stops in ((profile.touch_stops, True), (profile.touch_goes_on, False))
            if word is not None
        }
        self.watch = self.parameters.watch = Watch(self.machine, profile)
        self.parameters.inputs = world.inputs.by_parameter(known.input_first, known.called_unit)
        self.orient_word = float(profile.orient[1:]) if profile.orient[0] == "M" else -1
        self.run = Run(call, self.machine.trace, {}, self.modes.kept())
        self.unit_first = begun.unit_first if begun else None
        self._unit_used = False
        if begun:
            self.parameters.values[known.called_unit] = float(call.unit)

    def _called(self, call: Call) -> dict[int, float]:
        """The parameters as a call has them."""
        world, known = self.world, self.profile.parameters
        values: dict[int, float] = {
            known.exchange_from: float(call.from_tool),
            known.exchange_to: float(call.to_tool) if call.asked is None else call.asked,
            known.record: float(call.from_tool),
            known.record_doubtful: float(call.doubtful),
            known.called_unit: float(call.unit),
            known.called_distance: float(call.distance),
            ACTIVE_OFFSET: 1.0,
        }
        if call.left is not None:
            values.update({known.working_first + number: call.left for number in range(LEFT_OVER)})
        for axis in range(3):
            values[known.called_at_first + axis] = call.at[axis]
            for number, offset in world.work_offsets.items():
                values[OFFSETS_FIRST + (number - 1) * OFFSETS_STEP + axis] = offset[axis]
        if world.magazine:
            for pocket, number in world.magazine.recorded.items():
                values[known.pockets_first + pocket] = 0.0 if number == call.from_tool else float(number)
        return values

    def _left_on(self, call: Call) -> None:
        """What the caller has active: a tool's length, another work offset, compensation, a canned cycle, a
        rotation."""
        modes = self.modes
        if call.active == "length":
            modes.length_mode, modes.length = (
                43,
                self.lengths.get(call.from_tool) or max(self.lengths.values(), default=50.0),
            )
            modes.length_number = call.from_tool
        elif call.active == "offset":
            modes.work_offset = 2
            self.parameters.values[ACTIVE_OFFSET] = 2.0
        elif call.active == "shift":
            self.parameters.values.update({SHIFT_FIRST + axis: way for axis, way in enumerate(SHIFTED)})
        elif call.active == "plane":
            modes.plane = 18
        elif call.active == "inverse time":
            modes.feed_mode = 93
        elif call.active == "compensation":
            modes.cutter = 41
        elif call.active == "cycle":
            modes.motion, self.cycle = 81, {"R": 5.0, "Z": -5.0}
        elif call.active == "rotation":
            modes.rotation, modes.turned = 68, (0.0, 0.0, math.radians(30))
        elif call.active in ("forwards", "backwards"):
            greatest = self.world.spindle.greatest
            modes.speed = greatest
            self.machine.turns_already(greatest if call.active == "forwards" else -greatest)

    def set(self, target: float | str, value: float, used: Touches | None = None) -> None:
        """Set a parameter, by number or name; an offset among them is in force at once. ``used``: what touches the value
        came of, where there were any."""
        if used and self.touches:
            self.touches.used, self.touches.asked = used.used, used.asked
            self.touches.written(target if isinstance(target, str) else self.parameters.index(target))
        if isinstance(target, str):
            self.parameters.names[target] = value
            self.machine.event("set", parameter=f"<{target}>", value=value)
            return
        index = self.parameters.set(target, value)
        if index == self.profile.parameters.called_unit:
            self.parameters.called_unit(index)
        if index >= SHIFT_FIRST:
            number, axis = divmod(index - OFFSETS_FIRST, OFFSETS_STEP)
            if 0 <= number < 9 and axis < 3:
                touched = sorted(used.used) if used else []
                self._zero_set("value", number + 1, {axis: self.parameters.values[index]}, {axis: touched})
            self.offset = self.offset_now()
        self.machine.event("set", parameter=index, value=value)

    @property
    def touches(self) -> Touches | None:
        """What became of the touches that there were; None: there was none yet."""
        return self.parameters.touches

    def _between(self, number: int, axis: int) -> float:
        """How far a work offset is from the active one, before it is set, mm."""
        there, active = (
            self.parameters.offset(number or self.modes.work_offset),
            self.parameters.offset(self.modes.work_offset),
        )
        return there[axis] - active[axis]

    def _zero_set(
        self,
        how: str,
        number: int,
        zeros: dict[int, float],
        touched: dict[int, list[int]],
        between: dict[int, float] | None = None,
    ) -> None:
        """A zero was set (``number``: the work offset, 0 the shift): machine coordinates by axis, and the touches that
        each came of, by their ``how``: "value", or "place" where the machine stood."""
        for axis, zero in zeros.items():
            self.machine.event(
                "zero-set",
                how=how,
                offset=number,
                active=self.modes.work_offset,
                axis=axis,
                zero=zero,
                between=(between or {}).get(axis, 0.0),
                frame=self.offset[axis],
                touches=touched.get(axis, []),
                tested=sorted(self.touches.tested) if self.touches else [],
            )

    def _of_word(self, letter: str) -> list[int]:
        return sorted(self.touches.words.get(letter, ())) if self.touches else []

    def _of_place(self, axis: int) -> list[int]:
        stands = self.touches.stands[axis] if self.touches else None
        return [] if stands is None else [stands]

    @property
    def record(self) -> tuple[float, bool]:
        """The record of the tool in the spindle, and whether it is doubtful."""
        known, values = self.profile.parameters, self.parameters.values
        return values.get(known.record, 0.0), values.get(known.record_doubtful, 0.0) == 1

    def words(self, line: int, words: list[tuple[str, float]]) -> Enter | Return | None:
        """Run one block's words; returns where the program goes on if it is not the next block.

        Raises:
            RunFault: what RS-274 calls an error.
            Ended: at the program's end.
            Crashed: where the machine stops by itself.
        """
        g_codes: list[float] = []
        m_codes: list[int] = []
        values: dict[str, float] = {}
        for letter, value in words:
            if letter == "G":
                g_codes.append(round(value * 10) / 10)
            elif letter == "M":
                m_codes.append(round(value))
            else:
                values[letter] = value
        if 65 in g_codes:
            arguments = {ARGUMENTS[a]: v for a, v in values.items() if a in ARGUMENTS and a != "P"}
            return Enter(values.get("P", 0), values.get("L", 1), arguments)
        modes = self.modes
        special: float | None = None
        motion: float | None = None
        for code in g_codes:
            special, motion = self._g(code, values, special, motion)
        if self.unit_first is None:
            self._unit_used = self._unit_used or not values.keys() <= {"S", "T"}
        if "F" in values and special != 4:
            modes.feed = values["F"] * (modes.scale if modes.feed_mode == 94 else 1.0)
            self.run.feed = line, modes.feed
        if "S" in values:
            modes.speed = values["S"]
            if self.machine.rate and not m_codes:
                self.machine.turn(math.copysign(modes.speed, self.machine.rate))
        if "T" in values:
            modes.selected = round(values["T"])
            self.run.request_used = self.run.request_used or self._request_read
        if m_codes:
            self._m_before(m_codes, values)
        if values and (special is not None or motion is not None or not values.keys().isdisjoint("XYZABCUVW")):
            self._note_lengths(values, special, line)
        if special == 4:
            seconds = values.get("P", values.get("X", 0.0))
            if seconds < 0:
                raise RunFault(f"A dwell can't be negative; got {seconds:g}.")
            self.stay(seconds * self.profile.dwell_seconds)
        elif special is not None and special != 53:
            self._special(special, values)
        elif not values.keys().isdisjoint("XYZABCUVWIJKR") or (motion is not None and motion >= 80):
            self._motion(modes.motion, values, special == 53)
        return self._m_after(m_codes, values) if m_codes else None

    def stay(self, seconds: float) -> None:
        """Dwell for a time."""
        begin = self.machine.t
        self.machine.dwell(seconds, self._state)
        self.watch.dwelt(begin, self.machine.t)

    @property
    def _state(self) -> int:
        return len(self.machine.trace.blocks)

    @property
    def _request_read(self) -> bool:
        """Whether the program has asked which tool is requested."""
        return self.profile.parameters.exchange_to in self.parameters.read

    def _g(
        self, code: float, values: dict[str, float], special: float | None, motion: float | None
    ) -> tuple[float | None, float | None]:
        """Take one G word into the modes; returns the block's word without mode, and its motion."""
        modes = self.modes
        if code in (0, 1, 2, 3) or 80 <= code <= 89 or code in self.touching:
            modes.motion = code
            motion = code
            if code == 80:
                self.cycle.clear()
        elif code in (17, 18, 19):
            modes.plane = int(code)
        elif code in (90, 91):
            modes.distance = int(code)
        elif code in (93, 94):
            modes.feed_mode = int(code)
        elif code in (20, 21):
            if self.unit_first is None:
                self.unit_first = not (self._unit_used or self.parameters.unit_met)
            modes.unit = int(code)
            self.parameters.inch = code == 20
        elif code in (40, 41, 42):
            modes.cutter = int(code)
        elif code == 43:
            number = round(values.get("H", self.machine.tool))
            if number not in self.lengths and number != 0:
                raise RunFault(f"There is no length offset H{number}.")
            modes.length_mode, modes.length = 43, self.lengths.get(number, 0.0)
            modes.length_old, modes.length_number = "", number
            self.machine.event("length-active", tool=number, length=modes.length)
            self.offset = self.offset_now()
        elif code == 49:
            modes.length_mode, modes.length = 49, 0.0
            modes.length_old = ""
            self.offset = self.offset_now()
        elif code in WORK_OFFSET_OF:
            modes.work_offset = WORK_OFFSET_OF[code]
            self.parameters.values[ACTIVE_OFFSET] = modes.work_offset
            self.offset = self.offset_now()
        elif code in (98, 99):
            modes.return_level = int(code)
        elif code == 68:
            modes.rotation = 68
            modes.turned = (
                values.pop("X", 0.0) * modes.scale,
                values.pop("Y", 0.0) * modes.scale,
                math.radians(values.pop("R", 0.0)),
            )
            x, y, turn = modes.turned
            self.machine.event("turned", x=x, y=y, degrees=math.degrees(turn), active=modes.work_offset)
        elif code == 69:
            modes.rotation, modes.turned = 69, (0.0, 0.0, 0.0)
        elif code in (4, 10, 28, 28.1, 30, 30.1, 53, 92, 92.1, 92.2, 92.3):
            special = code
        return special, motion

    def _note_lengths(self, values: dict[str, float], special: float | None, line: int) -> None:
        """Keep in which unit lengths were given; nought is the same in each."""
        if special == 4:
            return
        for letter in LENGTH_LETTERS:
            if values.get(letter, 0.0) != 0.0 and not (letter == "R" and special == 10):
                self.run.lengths_under.setdefault(self.modes.unit, line)
                return

    def _m_before(self, codes: list[int], values: dict[str, float]) -> None:
        for code in codes:
            if code == 6:
                if self.modes.selected and self.modes.selected not in self.world.tools:
                    raise RunFault(f"There is no tool T{self.modes.selected} to be changed to.")
                self.machine.change_tool(self.modes.selected)
                self.parameters.values[self.profile.parameters.record] = float(self.modes.selected)
                self.machine.event("tool-changed", tool=self.modes.selected)
                if self.modes.length_mode == 43 and self.modes.length_number != self.modes.selected:
                    self.modes.length_old = f"T{self.modes.selected} was put in"
            elif code in (3, 4):
                self.machine.turn(self.modes.speed if code == 3 else -self.modes.speed)
            elif code == 5:
                self.machine.turn(0.0)
            elif code == self.orient_word:
                self.machine.orient(values.get("R"))
            elif code in (48, 49):
                self.modes.override_locked = code == 49
            if code not in NOT_SWITCHED:
                self.machine.event("switched", word=f"M{code}", p=values.get("P"))
                self.machine.switch(code, values.get("P"))
            self.watch.switched(code, values.get("P"))

    def _m_after(self, codes: list[int], values: dict[str, float]) -> Enter | Return | None:
        for code in codes:
            if code in STOPS:
                self.watch.stopped()
            if code in (0, 60):
                self.machine.event("pause")
                self._by_hand()
            elif code in (2, 30):
                raise Ended
            elif code == 98:
                return Enter(values.get("P", 0), values.get("L", 1), None)
            elif code == 99:
                return Return()
        return None

    def left(self) -> Left:
        """How the machine is left as it stands now."""
        machine, magazine = self.machine, self.world.magazine
        first = self.profile.parameters.pockets_first
        return Left(
            machine.rate * 60,
            self.modes.override_locked,
            self.parameters.shift(),
            tuple(
                (n, self.parameters.values.get(first + n, 0.0)) for n in sorted({*magazine.places, *magazine.recorded})
            )
            if magazine
            else (),
            self.modes.length_old,
            self.modes.length_mode == 43,
        )

    def offset_now(self) -> Vector:
        work = self.parameters.offset(self.modes.work_offset)
        shift = self.parameters.shift()
        return work[0] + shift[0], work[1] + shift[1], work[2] + shift[2] + self.modes.length

    def _special(self, code: float, values: dict[str, float]) -> None:
        """G10, G28, G30, G92 and their like."""
        scale, store = self.modes.scale, self.parameters
        given = {axis: values[letter] * scale for axis, letter in enumerate("XYZ") if letter in values}
        if code == 10:
            self._g10(given, values)
        elif code in (28, 30):
            self._need_home()
            through = self._target_of(given)
            self.run.z_absolute = self.run.z_absolute or not given or 2 in given
            if given:
                self.machine.move(through, "rapid", 0.0, self._state, False)
            home = tuple(a.home if i in given or not given else through[i] for i, a in enumerate(self.world.axes))
            self.machine.move((home[0], home[1], home[2]), "rapid", 0.0, self._state, True)
        elif code == 92:
            work = store.offset(self.modes.work_offset)
            zeros = {}
            for axis, value in given.items():
                length = self.modes.length if axis == 2 else 0.0
                zeros[axis] = self.machine.position[axis] - value - length
                store.values[SHIFT_FIRST + axis] = zeros[axis] - work[axis]
            self._zero_set("place", 0, zeros, {axis: self._of_place(axis) for axis in zeros})
            self.machine.event("offset-set", word="G92", axes=sorted(given))
        elif code in (92.1, 92.2):
            for axis in range(3):
                store.values[SHIFT_FIRST + axis] = 0.0
        self.offset = self.offset_now()

    def _g10(self, given: dict[int, float], values: dict[str, float]) -> None:
        kind, number = round(values.get("L", 0)), round(values.get("P", 0))
        if kind == 1:
            if number < 1:
                raise RunFault("G10 L1 wants a tool's number in P.")
            if 2 in given:
                if (
                    self.modes.length_mode == 43
                    and number == self.modes.length_number
                    and given[2] != self.modes.length
                ):
                    self.modes.length_old = f"the length of T{number} was changed"
                self.lengths[number] = given[2]
                self.machine.event(
                    "length-set",
                    tool=number,
                    length=given[2],
                    active=self.modes.work_offset,
                    touches=self._of_word("Z"),
                    tested=sorted(self.touches.tested) if self.touches else [],
                )
            return
        if kind not in (2, 20):
            raise RunFault(f"G10 L{kind} is not known; there are L1, L2 and L20.")
        number = number or self.modes.work_offset
        if not 1 <= number <= 9:
            raise RunFault(f"G10 wants a work offset from 1 to 9 in P; got {number}.")
        first = OFFSETS_FIRST + (number - 1) * OFFSETS_STEP
        shift = self.parameters.shift()
        zeros, touched = dict(given), {axis: self._of_word("XYZ"[axis]) for axis in given}
        between = {axis: self._between(number, axis) for axis in given}
        if kind == 20:
            for axis, value in given.items():
                length = self.modes.length if axis == 2 else 0.0
                zeros[axis] = self.machine.position[axis] - value - shift[axis] - length
                touched[axis] = touched[axis] or self._of_place(axis)
        for axis, zero in zeros.items():
            self.parameters.values[first + axis] = zero
        self._zero_set("value" if kind == 2 else "place", number, zeros, touched, between)
        self.machine.event("offset-set", word="G10", offset=number, axes=sorted(given))

    def _need_home(self) -> None:
        if not self.machine.homed:
            self.machine.event("not-homed")
            raise Crashed

    def _target_of(self, given: dict[int, float]) -> Vector:
        """The machine place of part coordinates (mm) for the axes given."""
        place = list(self.machine.position)
        if self.modes.rotation == 68 and (0 in given or 1 in given):
            return self._turned(given)
        if self.modes.distance == 91:
            for axis, value in given.items():
                place[axis] += value
        else:
            for axis, value in given.items():
                place[axis] = value + self.offset[axis]
        return place[0], place[1], place[2]

    def _turned(self, given: dict[int, float]) -> Vector:
        cx, cy, angle = self.modes.turned
        cos, sin = math.cos(angle), math.sin(angle)
        place = self.machine.position
        x, y = place[0] - self.offset[0] - cx, place[1] - self.offset[1] - cy
        part = [x * cos + y * sin + cx, y * cos - x * sin + cy, place[2] - self.offset[2]]
        for axis, value in given.items():
            part[axis] = part[axis] + value if self.modes.distance == 91 else value
        x, y = part[0] - cx, part[1] - cy
        return (
            x * cos - y * sin + cx + self.offset[0],
            x * sin + y * cos + cy + self.offset[1],
            part[2] + self.offset[2],
        )

    def _motion(self, motion: float, values: dict[str, float], machine_frame: bool) -> None:
        scale = self.modes.scale
        given = {axis: values[letter] * scale for axis, letter in ((0, "X"), (1, "Y"), (2, "Z")) if letter in values}
        if machine_frame:
            self._need_home()
            place = self.machine.position
            target = (given.get(0, place[0]), given.get(1, place[1]), given.get(2, place[2]))
        else:
            target = self._target_of(given)
        self.run.request_used = self.run.request_used or self._request_read
        absolute = machine_frame or self.modes.distance == 90
        if absolute and self.touches:
            self._sent(given, target, machine_frame)
        if 2 in given and absolute and not machine_frame and self.modes.length_old:
            self.machine.event("length-old", why=self.modes.length_old)
            self.modes.length_old = ""
        if target != self.machine.position:
            self.watch.moves()
            if self.touches:
                self._leaves(target)
                self.touches.moved(given, absolute)
        self.run.z_absolute = self.run.z_absolute or (2 in given and absolute)
        if motion == 0:
            self.machine.move(target, "rapid", 0.0, self._state, machine_frame)
        elif motion == 1:
            self.machine.move(target, "feed", self._feed(target), self._state, machine_frame)
        elif motion in (2, 3):
            self._arc(motion, target, values, machine_frame)
        elif motion in self.touching:
            self._touch(target, self.touching[motion])
        elif motion >= 81:
            self._canned(motion, given, values)
        elif given:
            raise RunFault("Axis words stand in the block and no motion is active (G80).")

    def _sent(self, given: Iterable[int], target: Vector, machine_frame: bool) -> None:
        """Note where axes are sent because of touches."""
        for axis in given:
            if touched := self._of_word("XYZ"[axis]):
                self.machine.event(
                    "touched-move",
                    axis=axis,
                    target=target[axis],
                    machine_frame=machine_frame,
                    frame=self.offset[axis],
                    touches=touched,
                )

    def _leaves(self, target: Vector) -> None:
        """Where the contact of a touch is still kept, a move goes back from it first."""
        touches, here = self.touches, self.machine.position
        assert touches
        if touches.left is None:
            return
        way, touches.left = touches.left, None
        move = [end - start for start, end in zip(here, target, strict=True)]
        along = sum(m * w for m, w in zip(move, way, strict=True))
        aside = math.sqrt(max(0.0, sum(m * m for m in move) - along * along))
        if along > -1e-6 and aside > 1e-6:
            self.machine.event("contact-kept", aside=aside)

    def _touch(self, target: Vector, stops: bool) -> None:
        """A touching move, and its result in the parameters; a miss ``stops`` the control or not."""
        known, here = self.profile.parameters, self.machine.position
        feed, given = self._feed(target), self.run.feed is not None
        self.parameters.values[known.touch_made] = 0.0
        touched = self.machine.touch(target, feed, self._state)
        way = [end - start for start, end in zip(here, target, strict=True)]
        long = math.hypot(*way) or 1.0
        x, y, z = (part / long for part in way)
        if self.parameters.touches is None:
            self.parameters.touches = Touches()
        first = known.latched_first
        touches = self.parameters.touches
        number = touches.begun((x, y, z), range(first, first + 3), known.touch_made, touched.latched is not None)
        data: dict[str, Any] = {"touch": number, "stops": stops, "way": [x, y, z], "feed": feed, "feed_given": given}
        if touched.latched is None:
            self.machine.event("missed-touch", **data)
            if stops:
                raise Crashed
            return
        frame = self.offset if self.profile.latched != "machine" else (0.0, 0.0, 0.0)
        for axis in range(3):
            self.parameters.values[known.latched_first + axis] = touched.latched[axis] - frame[axis]
        self.parameters.values[known.touch_made] = 1.0
        self.machine.event("touch", latched=touched.latched, stopped=touched.stopped, input=touched.input, **data)

    def _by_hand(self) -> None:
        """At a pause at the loading place, where the program has brought the spindle, the tool is changed by a person:
        to the one that the last message names, else to the one that was asked for, or what they take for it."""
        magazine, wanted = self.world.magazine, self._named_last()
        brought = any(segment.kind != "dwell" for segment in self.machine.trace.segments)
        given = magazine.by_hand(self.machine.position, wanted) if magazine and brought else None
        self.parameters.met = True  # the tool that is wanted was asked for
        if brought:
            self.machine.asked.add("stored")
        if given is None:
            return
        if self.machine.trace.turning(self.machine.t):
            self.machine.event(
                "spindle-turning", speed=self.machine.trace.turning(self.machine.t), doing="the tool is changed by hand"
            )
            raise Crashed
        self.machine.dwell(HAND_SECONDS, self._state)
        self.machine.change_tool(given)

    def _named_last(self) -> int:
        """The tool that a person is told to put in: of those that the last message names, or the requested one. The tool that is in
        the spindle is named to be taken out."""
        wanted, events = self.run.call.to_tool, self.machine.trace.events
        said = next((event.data["text"] for event in reversed(events) if event.kind == "message"), "")
        named = [
            number
            for number in map(int, NAMED_TOOL.findall(said))
            if number in self.world.tools and number != self.machine.tool
        ]
        return wanted if wanted in named or not named else named[0]

    def kept(self) -> "ControlState":
        """All that a block can change, for :meth:`restore`."""
        parameters = self.parameters
        return ControlState(
            self.machine.kept(),
            twin(self.modes),
            dict(parameters.values),
            dict(parameters.names),
            parameters.inch,
            dict(self.lengths),
            self.offset,
            dict(self.cycle),
            self.watch.copied(),
            self.touches.copied() if self.touches else None,
            self.unit_first,
        )

    def restore(self, kept: "ControlState") -> None:
        """Go back to what :meth:`kept` has."""
        self.modes, self.lengths, self.offset, self.cycle, self.watch = (
            kept.modes,
            kept.lengths,
            kept.offset,
            kept.cycle,
            kept.watch,
        )
        self.parameters.values, self.parameters.names, self.parameters.inch = kept.values, kept.names, kept.inch
        self.parameters.watch = kept.watch
        self.parameters.touches = kept.touches.copied() if kept.touches else None
        self.unit_first = kept.unit_first
        self.machine.restore(kept.machine)

    def take_over(self, other: "Control", kept: "ControlState", asked: Container[str]) -> None:
        """Go on where another control was, in this one's world: this one was made with what it had :meth:`kept`; see
        :class:`VirtualMachine`."""
        self.parameters.read = set(other.parameters.read)
        before, call = other.run.modes_before, self.run.call
        self.run.modes_before = {**before, "unit": call.unit, "distance": call.distance}
        self.machine.take_over(other.machine, kept.machine, asked)
        self.watch = self.parameters.watch = kept.watch.of(self.machine)
        self.parameters.touches = kept.touches.copied() if kept.touches else None
        self.run.z_absolute = other.run.z_absolute
        self.run.feed, self.run.lengths_under = other.run.feed, dict(other.run.lengths_under)
        self.run.modes_before = other.run.modes_before

    def _feed(self, target: Vector, way: float | None = None) -> float:
        self.machine.asked.add("override")
        feed = self.modes.feed if self.modes.override_locked else self.modes.feed * self.run.call.override
        if self.modes.feed_mode == 93:
            way = math.dist(self.machine.position, target) if way is None else way
            feed = feed * way
        if feed <= 0:
            raise RunFault("The feed is zero; give an F word.")
        return feed

    def _arc(self, motion: float, target: Vector, values: dict[str, float], frame: bool) -> None:
        arc = arc_between(self.machine.position, target, motion == 2, self.modes.plane, values, self.modes.scale)
        self.machine.arc(target, arc, self._feed(target, arc.length), self._state, frame)

    def _canned(self, cycle: float, given: dict[int, float], values: dict[str, float]) -> None:
        if self.modes.plane != 17:
            raise RunFault("Canned cycles are run in the XY plane (G17) only.")
        self.cycle.update({letter: values[letter] for letter in "RZQP" if letter in values})
        if "R" not in self.cycle or "Z" not in self.cycle:
            raise RunFault("A canned cycle wants R and Z.")
        scale, machine, relative = self.modes.scale, self.machine, self.modes.distance == 91
        for _ in range(max(1, min(MOST_REPEATS, round(values.get("L", 1))))):
            here = machine.position
            x, y, _z = self._target_of({axis: value for axis, value in given.items() if axis < 2})
            clear = self.cycle["R"] * scale + (here[2] if relative else self.offset[2])
            deep = self.cycle["Z"] * scale + (clear if relative else self.offset[2])
            peck = self.cycle.get("Q", 0.0) * scale
            for go in cycle_moves(cycle, here, x, y, clear, deep, peck, self.modes.return_level == 98):
                place = (go.x, go.y, go.z)
                if go.kind == "wait":
                    machine.dwell(self.cycle.get("P", 0.0) * self.profile.dwell_seconds, self._state)
                else:
                    feed = self._feed(place) if go.kind == "feed" else 0.0
                    machine.move(place, go.kind, feed, self._state, False)
