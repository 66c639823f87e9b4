"""One block's words, run on the virtual machine in the order of RS-274 (NISTIR 6556, table 8)."""

import math
import re
from dataclasses import dataclass

from orthotrope.machine.drive import Drive
from orthotrope.machine.g_words import MODE_WORDS, MOTION_WORDS
from orthotrope.machine.memory import ControlMemory, ControlState
from orthotrope.machine.offsets import OFFSET_WORDS, Offsets
from orthotrope.machine.run import Call
from orthotrope.machine.world import World
from orthotrope.program.faults import RunFault
from orthotrope.program.words import ARGUMENTS, LENGTH_LETTERS
from orthotrope.setup.control import ControlProfile

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


DWELL, MACHINE_FRAME = 4, 53
"""G words that are for their block alone, beside those that set offsets."""


class Control(ControlMemory):
    """A control: it runs a program's blocks, one at a time."""

    def __init__(self, profile: ControlProfile, world: World, call: Call, begun: ControlState | None = None):
        super().__init__(profile, world, call, begun)
        self.drive = Drive(self)
        self.offsets = Offsets(self, self.drive)

    def words(self, line: int, words: list[tuple[str, float]]) -> Enter | Return | None:
        """Run one block's words; returns where the program goes on if it is not the next block.

        Raises:
            RunFault: what RS-274 calls an error.
            Ended: at the program's end.
            Crashed: where the machine stops by itself.
        """
        g_codes, m_codes, values = _sorted(words)
        if 65 in g_codes:
            arguments = {ARGUMENTS[a]: v for a, v in values.items() if a in ARGUMENTS and a != "P"}
            return Enter(values.get("P", 0), values.get("L", 1), arguments)
        special, motion = self._set_modes(g_codes, values)
        self._take_letters(values, special, bool(m_codes), line)
        if m_codes:
            self._m_before(m_codes, values)
        if values and (special is not None or motion is not None or not values.keys().isdisjoint("XYZABCUVW")):
            self._note_lengths(values, special, line)
        if special == DWELL:
            seconds = values.get("P", values.get("X", 0.0))
            if seconds < 0:
                raise RunFault(f"A dwell can't be negative; got {seconds:g}.")
            self.stay(seconds * self.profile.dwell_seconds)
        elif special is not None and special != MACHINE_FRAME:
            self.offsets.run(special, values)
        elif not values.keys().isdisjoint("XYZABCUVWIJKR") or (motion is not None and motion >= 80):
            self.drive.go(self.modes.motion, values, special == MACHINE_FRAME)
        return self._m_after(m_codes, values) if m_codes else None

    def _set_modes(self, codes: list[float], values: dict[str, float]) -> tuple[float | None, float | None]:
        """Set the modes of G words; the one that is for this block alone, and the motion that the block states, if any."""
        special: float | None = None
        motion: float | None = None
        for code in codes:
            if code in MOTION_WORDS or 80 <= code <= 89 or code in self.touching:
                motion = self.modes.motion = code
                if code == 80:
                    self.cycle.clear()
            elif code in MODE_WORDS:
                MODE_WORDS[code](self, code, values)
            elif code in (DWELL, MACHINE_FRAME) or code in OFFSET_WORDS:
                special = code
        return special, motion

    def _take_letters(self, values: dict[str, float], special: float | None, switches: bool, line: int) -> None:
        """Take feed, speed and tool; ``switches``: the block has M words, which command the spindle themselves."""
        modes = self.modes
        self.feed_given = "F" in values
        if self.unit_first is None:
            self.unit_used = self.unit_used or not values.keys() <= {"S", "T"}
        if "F" in values and special != DWELL:
            modes.feed = values["F"] * (modes.scale if modes.feed_mode == 94 else 1.0)
            self.run.feed = line, modes.feed
        if "S" in values:
            modes.speed = values["S"]
            spindle = self.machine.spindle
            if spindle.rate and not switches:
                spindle.turn(math.copysign(modes.speed, spindle.rate))
        if "T" in values:
            modes.selected = round(values["T"])
            self.run.request_used = self.run.request_used or self.request_read

    def _note_lengths(self, values: dict[str, float], special: float | None, line: int) -> None:
        """Keep in which unit lengths were given; zero is the same in each."""
        if special == DWELL:
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
                self.machine.carrier.change_by_hand(self.modes.selected)
                self.parameters.values[self.profile.parameters.record] = float(self.modes.selected)
                self.machine.journal.event("tool-changed", tool=self.modes.selected)
                if self.modes.length_mode == 43 and self.modes.length_number != self.modes.selected:
                    self.modes.length_old = f"T{self.modes.selected} was put in"
            elif code in (3, 4):
                self.machine.spindle.turn(self.modes.speed if code == 3 else -self.modes.speed)
            elif code == 5:
                self.machine.spindle.turn(0.0)
            elif code == self.orient_word:
                self.machine.orient(values.get("R"))
            elif code in (48, 49):
                self.modes.override_locked = code == 49
            if code not in NOT_SWITCHED:
                self.machine.journal.event("switched", word=f"M{code}", p=values.get("P"))
                self.machine.switch(code, values.get("P"))
            self.watch.switched(code, values.get("P"))

    def _m_after(self, codes: list[int], values: dict[str, float]) -> Enter | Return | None:
        for code in codes:
            if code in STOPS:
                self.watch.stopped()
            if code in (0, 60):
                self.machine.journal.event("pause")
                self._by_hand()
            elif code in (2, 30):
                raise Ended
            elif code == 98:
                return Enter(values.get("P", 0), values.get("L", 1), None)
            elif code == 99:
                return Return()
        return None

    def _by_hand(self) -> None:
        """At a pause at the loading place, where the program has brought the spindle, the tool is changed by a person:
        to the one that the last message names, else to the one that was requested, or what they take for it."""
        magazine, wanted = self.world.magazine, self._named_last()
        brought = any(segment.kind != "dwell" for segment in self.machine.trace.segments)
        given = magazine.by_hand(self.machine.position, wanted) if magazine and brought else None
        self.parameters.met = True  # the requested tool was read
        if brought:
            self.machine.journal.dependencies.add("stored")
        if given is None:
            return
        if speed := self.machine.spindle.turning():
            self.machine.journal.crash("spindle-turning", speed=speed, doing="the tool is changed by hand")
        self.machine.dwell(HAND_SECONDS, self.block)
        self.machine.carrier.change_by_hand(given)

    def _named_last(self) -> int:
        """The tool that a person is requested to put in: of those that the last message names, or the requested one. The tool that is in
        the spindle is named to be taken out."""
        wanted, events = self.run.call.to_tool, self.machine.trace.events
        said = next((event.data["text"] for event in reversed(events) if event.kind == "message"), "")
        named = [
            number
            for number in map(int, NAMED_TOOL.findall(said))
            if number in self.world.tools and number != self.machine.tool
        ]
        return wanted if wanted in named or not named else named[0]


def _sorted(words: list[tuple[str, float]]) -> tuple[list[float], list[int], dict[str, float]]:
    """The G and the M words of a block, and its other letters."""
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
    return g_codes, m_codes, values
