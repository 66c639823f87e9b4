"""Steps → program text, by a control profile."""

import re
from collections.abc import Iterable, Iterator
from dataclasses import replace
from functools import lru_cache, singledispatch
from types import NoneType
from typing import Any

from orthotrope.errors import OrthotropeError
from orthotrope.sequence.steps import (
    Begin,
    CallProgram,
    Choose,
    Compute,
    ComputeIf,
    Dwell,
    EndWhile,
    Label,
    Move,
    Override,
    RelativeMove,
    Remark,
    Say,
    Sequence,
    SetLength,
    SetModes,
    SetOffset,
    SetTurn,
    Spindle,
    Step,
    Stop,
    Switch,
    Touch,
    UseLength,
    Wait,
    While,
    Words,
)
from orthotrope.sequence.values import PRECEDENCE, Binary, Function, Named, Number, Parameter, Unary, Value, parameter
from orthotrope.setup.control import ControlProfile
from orthotrope.units import MM_PER_INCH


class NotWritable(OrthotropeError):
    """A step that the control profile has no means for: ``profile`` and ``what`` it lacks."""

    def __init__(self, profile: str, what: str):
        self.profile, self.what = profile, what
        super().__init__(f"The control profile '{profile}' has no {what}.")


def as_written(sequence: Sequence, profile: ControlProfile) -> Sequence:
    """The sequence with every number as the text of this profile can hold it: lengths in its unit, rounded to its
    decimals."""
    steps = [
        part for step in sequence.steps for part in (_waited(step, profile) if isinstance(step, Wait) else (step,))
    ]
    return Sequence(comment(sequence.title), tuple(held(step, profile) for step in steps))


_IN_COMMENT = str.maketrans({"(": "[", ")": "]"})


@lru_cache(maxsize=4096)
def comment(text: str) -> str:
    """A text as a comment can hold it: round brackets, which would end it, become square ones, and what is no sign
    (line ends among them) a blank. One that is no message does not begin like one."""
    plain = "".join(sign if sign.isprintable() else " " for sign in text).translate(_IN_COMMENT)
    plain = " ".join(plain.split())
    plain = f"MSG {plain[3:]}" if plain[:4].upper() == "MSG," else plain
    return text if plain == text else plain


def _waited(wait: Wait, profile: ControlProfile) -> Iterator[Step]:
    """A wait as this control can do it: a loop of short dwells on the input, or one dwell."""
    if wait.input is None or profile.wait == "none":
        yield Dwell(wait.usual, wait.note)
        return
    timer, state = parameter(wait.timer), parameter(profile.parameters.input_first + wait.input)
    not_yet = Binary("NE", state, Number(1))
    yield Compute(wait.timer, Number(0), wait.note)
    yield While(Binary("AND", not_yet, Binary("LT", timer, Number(wait.limit))))
    yield Dwell(Number(profile.wait_pause))
    yield Compute(wait.timer, Binary("+", timer, Number(profile.wait_pause)))
    yield EndWhile()
    yield Choose(not_yet, wait.missing)


@singledispatch
def held(node: Any, profile: ControlProfile) -> Any:
    """A step, or a part of one, as a text of this profile can hold it. A step whose parts are values and a note needs
    none of its own."""
    if isinstance(node, tuple):
        return tuple(held(part, profile) for part in node)
    changed: dict[str, Any] = {}
    for name in getattr(node, "__match_args__", ()):  # the fields of a dataclass
        part = getattr(node, name)
        new = comment(part) if name == "note" else part if type(part) in _WRITTEN_AS_IS else held(part, profile)
        if new is not part:
            changed[name] = new
    return replace(node, **changed) if changed else node


_WRITTEN_AS_IS = frozenset({str, int, float, bool, NoneType})


@held.register
def _number(number: Number, profile: ControlProfile) -> Number:
    inch = profile.unit == "inch"
    if number.means == "unit":
        return Number(20 if inch else 21)
    value = number.value / MM_PER_INCH if inch and number.means == "length" else number.value
    rounded = round(value, profile.decimals) + 0.0
    return number if rounded == number.value and not number.means else Number(rounded)


@held.register
def _override(step: Override, profile: ControlProfile) -> Override | Remark:
    if {48, 49} <= set(profile.m_words):
        return step
    return Remark("the feed override must stand at 100 % here" if step.locked else "the feed override may act again")


@held.register
def _dwell(step: Dwell, profile: ControlProfile) -> Dwell:
    """A dwell in the control's own unit of it."""
    if isinstance(step.seconds, Number):
        return replace(step, seconds=Number(round(step.seconds.value / profile.dwell_seconds, profile.decimals) + 0.0))
    per_second = Number(round(1 / profile.dwell_seconds, profile.decimals))
    return (
        step if per_second.value == 1 else replace(step, seconds=Binary("*", held(step.seconds, profile), per_second))
    )


@held.register(Say)
@held.register(Remark)
def _text(step: Say | Remark, profile: ControlProfile) -> Say | Remark:
    return replace(step, text=comment(step.text))


@held.register
def _words(words: Words, profile: ControlProfile) -> Words:
    """Words of a device with their P, where they are an M word and a P, as its number: so they are read back."""
    parts = [f"{part[0]}{float(part[1:]):g}" for part in _WORD.findall(words.text)]
    if words.pocket is None and len(parts) == 2 and parts[0][0] == "M" and parts[1][0] == "P":
        return Words(parts[0], Number(float(parts[1][1:])), comment(words.note))
    pocket = None if words.pocket is None else held(words.pocket, profile)
    return Words(" ".join(parts), pocket, comment(words.note))


_WORD = re.compile(r"[A-Z][0-9.]+")


def number_text(value: float, decimals: int, trailing_zeros: bool = False) -> str:
    """A number for a program: no exponent, no minus zero; trailing zeros only where they are wanted, and never on a
    whole number that stands for a word or a count."""
    text = f"{value:.{decimals}f}"
    if "." in text and not (trailing_zeros and value != int(value)):
        text = text.rstrip("0").rstrip(".")
    return "0" if text == "-0" else text


class Writer:
    """What the words of a step are put together from, in one control profile."""

    def __init__(self, profile: ControlProfile):
        self.profile = profile

    def value(self, value: Value, weakest: int = 0) -> str:
        """A value inside brackets."""
        match value:
            case Number(number):
                return number_text(number, self.profile.decimals, self.profile.trailing_zeros)
            case Parameter(Number(number)):
                return self.needs_arithmetic(f"#{number:.0f}")
            case Parameter(inner):
                return self.needs_arithmetic(f"#[{self.value(inner)}]")
            case Named(name):
                return self.needs_arithmetic(f"#<{name}>")
            case Unary(inner):
                return self.needs_arithmetic(f"-{self.word(inner)}")
            case Function("ATAN", (first, second)):
                return self.needs_arithmetic(f"ATAN[{self.value(first)}]/[{self.value(second)}]")
            case Function(name, (inner,)):
                return self.needs_arithmetic(f"{name}[{self.value(inner)}]")
            case Binary(operator, left, right):
                strength = PRECEDENCE[operator]
                text = f"{self.value(left, strength - 1)} {operator} {self.value(right, strength)}"
                return self.needs_arithmetic(f"[{text}]" if strength <= weakest else text)
        raise TypeError(f"not a value: {value!r}")

    def word(self, value: Value) -> str:
        """A value behind a letter, an = or a minus sign."""
        text = self.value(value)
        return f"[{text}]" if isinstance(value, Binary) else text

    def needs_arithmetic(self, text: str) -> str:
        """A text that only a control with parameters takes."""
        if not self.profile.arithmetic:
            raise NotWritable(self.profile.name, "parameters or arithmetic")
        return text

    def setting(self, target: int | Value, value: Value) -> str:
        """A parameter that is set."""
        number = f"{target}" if isinstance(target, int) else f"[{self.value(target)}]"
        return self.needs_arithmetic(f"#{number} = {self.word(value)}")

    def axes(self, axes: Iterable[tuple[str, Value]]) -> str:
        """Axis words."""
        return " ".join(f"{axis}{self.word(value)}" for axis, value in axes)

    def condition(self, condition: Value) -> str:
        """The beginning of a block that has one."""
        return self.needs_conditions(f"IF [{self.value(condition)}]")

    def needs_conditions(self, text: str) -> str:
        """A text that only a control with conditions takes."""
        if not self.profile.conditions:
            raise NotWritable(self.profile.name, "conditions or jumps")
        return text


@singledispatch
def written(step: Any, writer: Writer) -> str:
    """The words of a step. Each type of step registers its own."""
    raise TypeError(f"not a step: {step!r}")


@written.register
def _(step: Move, writer: Writer) -> str:
    if step.feed is None:
        return f"G53 G0 {writer.axes(step.axes)}"
    return f"G53 G1 {writer.axes(step.axes)} F{writer.word(step.feed)}"


@written.register
def _(step: Touch, writer: Writer) -> str:
    profile = writer.profile
    word = profile.touch_stops if step.stops else profile.touch_goes_on
    if word is None:
        raise NotWritable(profile.name, f"touching move that {'stops at' if step.stops else 'goes on after'} a miss")
    frame = "G91 " if step.relative else ""
    return f"{frame}G{word:g} {writer.axes(step.axes)} F{writer.word(step.feed)}"


@written.register
def _(step: RelativeMove, writer: Writer) -> str:
    if step.feed is None:
        return f"G91 G0 {writer.axes(step.axes)}"
    return f"G91 G1 {writer.axes(step.axes)} F{writer.word(step.feed)}"


@written.register
def _(step: UseLength, writer: Writer) -> str:
    return "G49" if step.number == Number(0) else f"G43 H{writer.word(step.number)}"


@written.register
def _(step: CallProgram, writer: Writer) -> str:
    return f"G65 P{step.number} {writer.axes(step.arguments)}"


@written.register
def _(step: Begin, writer: Writer) -> str:
    return f"O{step.number}"


@written.register
def _(step: SetOffset, writer: Writer) -> str:
    wanted, profile = "G10 L20" if step.here else "G10 L2", writer.profile
    if profile.offset_word != wanted:
        raise NotWritable(profile.name, f"word that sets a work offset by {wanted}; it has {profile.offset_word}")
    return f"{wanted} P{step.number} {writer.axes(step.axes)}"


@written.register
def _(step: SetTurn, writer: Writer) -> str:
    return f"G68 X0 Y0 R{writer.word(step.turn)}"


@written.register
def _(step: SetLength, writer: Writer) -> str:
    if writer.profile.length_word != "G10 L1":
        raise NotWritable(writer.profile.name, "word that sets a tool's length; it is keyed in by the entry card")
    return f"G10 L1 P{writer.word(step.number)} Z{writer.word(step.length)}"


@written.register
def _(step: Switch, writer: Writer) -> str:
    profile = writer.profile
    return {
        "close the grip": profile.grip_close,
        "open the grip": profile.grip_open,
        "orient the spindle": profile.orient,
    }[step.device]


@written.register
def _(step: Words, writer: Writer) -> str:
    return step.text if step.pocket is None else f"{step.text} P{writer.word(step.pocket)}"


@written.register
def _(step: While, writer: Writer) -> str:
    return writer.needs_conditions(f"WHILE [{writer.value(step.condition)}] DO1")


@written.register
def _(step: EndWhile, writer: Writer) -> str:
    return "END1"


@written.register
def _(step: Override, writer: Writer) -> str:
    return "M49" if step.locked else "M48"


@written.register
def _(step: Spindle, writer: Writer) -> str:
    if step.speed is None:
        return "M5"
    return f"{'M3' if step.turn == 'forwards' else 'M4'} S{writer.word(step.speed)}"


@written.register
def _(step: Dwell, writer: Writer) -> str:
    return f"G4 {writer.profile.dwell_letter}{writer.word(step.seconds)}"


@written.register
def _(step: Compute, writer: Writer) -> str:
    return writer.setting(step.parameter, step.value)


@written.register
def _(step: ComputeIf, writer: Writer) -> str:
    return f"{writer.condition(step.condition)} THEN {writer.setting(step.parameter, step.value)}"


@written.register
def _(step: Choose, writer: Writer) -> str:
    if step.condition is None:
        return writer.needs_conditions(f"GOTO {step.label}")
    return f"{writer.condition(step.condition)} GOTO {step.label}"


@written.register
def _(step: Label, writer: Writer) -> str:
    return f"N{step.label}"


@written.register
def _(step: SetModes, writer: Writer) -> str:
    return " ".join(f"G{writer.word(mode)}" for mode in step.modes)


@written.register
def _(step: Say, writer: Writer) -> str:
    return f"(MSG, {step.text})" if writer.profile.message == "remark" else f"({step.text})"


@written.register
def _(step: Remark, writer: Writer) -> str:
    return f"({step.text})"


@written.register
def _(step: Stop, writer: Writer) -> str:
    profile = writer.profile
    return {"pause": profile.pause, "end": profile.end, "return": profile.back}[step.kind]


def write(sequence: Sequence, profile: ControlProfile) -> str:
    """The sequence as program text for a control of this profile.

    Numbers are as the profile has them; see :func:`as_written`.

    Raises:
        NotWritable: where a step needs what the profile does not have.
    """
    writer = Writer(profile)
    prepared = as_written(sequence, profile)
    lines = [f"({prepared.title})"]
    number = 0
    for step in prepared.steps:
        line = written(step, writer)
        if profile.line_numbers and line[0] not in "(N":
            number += profile.line_numbers
            line = f"N{FIRST_LINE_NUMBER + number} {line}"
        note: str = getattr(step, "note", "")
        lines.append(f"{line:<34} ({note})" if note else line)
    percent = ["%"] if profile.percent_signs else []
    return "\n".join([*percent, *lines, *percent, ""])


FIRST_LINE_NUMBER = 10_000
"""Line numbers begin above this, so that none is a place that a jump goes to."""
