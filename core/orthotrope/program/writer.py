"""Steps → program text, by a control profile."""

import re
from collections.abc import Iterator
from dataclasses import fields, is_dataclass, replace
from typing import Any, TypeVar

from orthotrope.errors import OrthotropeError
from orthotrope.sequence.steps import (
    Choose,
    Compute,
    ComputeIf,
    Dwell,
    EndWhile,
    Label,
    Move,
    Override,
    Remark,
    Say,
    Sequence,
    SetLength,
    SetModes,
    SetOffset,
    Spindle,
    Step,
    Stop,
    Switch,
    Touch,
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


Any_ = TypeVar("Any_")


def as_written(sequence: Sequence, profile: ControlProfile) -> Sequence:
    """The sequence with every number as the text of this profile can hold it: lengths in its unit, rounded to its decimals."""
    steps = [part for step in sequence.steps for part in (_waited(step, profile) if isinstance(step, Wait) else (step,))]
    return Sequence(comment(sequence.title), tuple(_as_written(step, profile) for step in steps))


_IN_COMMENT = str.maketrans({"(": "[", ")": "]"})


def comment(text: str) -> str:
    """A text as a comment can hold it: round brackets, which would end it, become square ones, and what is no sign (line ends
    among them) a blank. One that is no message does not begin like one."""
    plain = "".join(sign if sign.isprintable() else " " for sign in text).translate(_IN_COMMENT)
    plain = " ".join(plain.split())
    return f"MSG {plain[3:]}" if plain[:4].upper() == "MSG," else plain


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


def _as_written(node: Any_, profile: ControlProfile) -> Any_:
    if isinstance(node, Number):
        return _number(node, profile)  # type: ignore[return-value]
    if isinstance(node, Override) and not {48, 49} <= set(profile.m_words):
        return Remark("the feed override must stand at 100 % here" if node.locked else "the feed override may act again")  # type: ignore[return-value]
    if isinstance(node, Dwell):
        return replace(node, seconds=_dwell(node.seconds, profile))
    if isinstance(node, tuple):
        return tuple(_as_written(part, profile) for part in node)  # type: ignore[return-value]
    if isinstance(node, Say | Remark):
        return replace(node, text=comment(node.text))
    if isinstance(node, Words):
        return _words(node, profile)  # type: ignore[return-value]
    if is_dataclass(node) and not isinstance(node, type):
        parts: dict[str, Any] = {f.name: _as_written(getattr(node, f.name), profile) for f in fields(node)}
        if "note" in parts:
            parts["note"] = comment(parts["note"])
        return replace(node, **parts)
    return node


def _words(words: Words, profile: ControlProfile) -> Words:
    """Words of a device with their P, where they are an M word and a P, as its number: so they are read back."""
    parts = [f"{part[0]}{float(part[1:]):g}" for part in _WORD.findall(words.text)]
    if words.pocket is None and len(parts) == 2 and parts[0][0] == "M" and parts[1][0] == "P":
        return Words(parts[0], Number(float(parts[1][1:])), comment(words.note))
    pocket = None if words.pocket is None else _as_written(words.pocket, profile)
    return Words(" ".join(parts), pocket, comment(words.note))


_WORD = re.compile(r"[A-Z][0-9.]+")


def _dwell(seconds: Value, profile: ControlProfile) -> Value:
    """A dwell in the control's own unit of it."""
    if isinstance(seconds, Number):
        return Number(round(seconds.value / profile.dwell_seconds, profile.decimals) + 0.0)
    per_second = Number(round(1 / profile.dwell_seconds, profile.decimals))
    return seconds if per_second.value == 1 else Binary("*", _as_written(seconds, profile), per_second)


def _number(number: Number, profile: ControlProfile) -> Number:
    inch = profile.unit == "inch"
    if number.means == "unit":
        return Number(20 if inch else 21)
    value = number.value / MM_PER_INCH if inch and number.means == "length" else number.value
    return Number(round(value, profile.decimals) + 0.0)


def number_text(value: float, decimals: int, trailing_zeros: bool = False) -> str:
    """A number for a program: no exponent, no minus nought; trailing noughts only where they are wanted, and never on a
    whole number that stands for a word or a count."""
    text = f"{value:.{decimals}f}"
    if "." in text and not (trailing_zeros and value != int(value)):
        text = text.rstrip("0").rstrip(".")
    return "0" if text == "-0" else text


class _Writer:
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
        if not self.profile.arithmetic:
            raise NotWritable(self.profile.name, "parameters or arithmetic")
        return text

    def setting(self, target: int | Value, value: Value) -> str:
        number = f"{target}" if isinstance(target, int) else f"[{self.value(target)}]"
        return self.needs_arithmetic(f"#{number} = {self.word(value)}")

    def step(self, step: Step) -> str:
        match step:
            case Move(axes, None):
                return "G53 G0 " + " ".join(f"{axis}{self.word(value)}" for axis, value in axes)
            case Move(axes, feed) if feed is not None:
                return "G53 G1 " + " ".join(f"{a}{self.word(value)}" for a, value in axes) + f" F{self.word(feed)}"
            case Touch(axes, feed, stops):
                word = self.profile.touch_stops if stops else self.profile.touch_goes_on
                if word is None:
                    raise NotWritable(self.profile.name, f"touching move that {'stops at' if stops else 'goes on after'} a miss")
                return f"G{word:g} " + " ".join(f"{a}{self.word(value)}" for a, value in axes) + f" F{self.word(feed)}"
            case SetOffset(number, axes, here):
                wanted = "G10 L20" if here else "G10 L2"
                if self.profile.offset_word != wanted:
                    raise NotWritable(self.profile.name, f"word that sets a work offset by {wanted}; it has "
                                      f"{self.profile.offset_word}")  # fmt: skip
                return f"{wanted} P{number} " + " ".join(f"{a}{self.word(value)}" for a, value in axes)
            case SetLength(number, value):
                if self.profile.length_word != "G10 L1":
                    raise NotWritable(self.profile.name, "word that sets a tool's length; it is keyed in by the entry card")
                return f"G10 L1 P{number} Z{self.word(value)}"
            case Switch(device):
                return {"close the grip": self.profile.grip_close, "open the grip": self.profile.grip_open,
                        "orient the spindle": self.profile.orient}[device]  # fmt: skip
            case Words(text, None):
                return text
            case Words(text, pocket) if pocket is not None:
                return f"{text} P{self.word(pocket)}"
            case While(condition):
                return self.needs_conditions(f"WHILE [{self.value(condition)}] DO1")
            case EndWhile():
                return "END1"
            case Override(locked):
                return "M49" if locked else "M48"
            case Spindle("stop"):
                return "M5"
            case Spindle(turn, speed) if speed is not None:
                return f"{'M3' if turn == 'forwards' else 'M4'} S{self.word(speed)}"
            case Dwell(seconds):
                return f"G4 {self.profile.dwell_letter}{self.word(seconds)}"
            case Compute(target, value):
                return self.setting(target, value)
            case ComputeIf(condition, target, value):
                return self.condition(condition) + f" THEN {self.setting(target, value)}"
            case Choose(None, label):
                return self.needs_conditions(f"GOTO {label}")
            case Choose(condition, label) if condition is not None:
                return self.condition(condition) + f" GOTO {label}"
            case Label(label):
                return f"N{label}"
            case SetModes(modes):
                return " ".join(f"G{self.word(mode)}" for mode in modes)
            case Say(text):
                return f"(MSG, {text})" if self.profile.message == "remark" else f"({text})"
            case Remark(text):
                return f"({text})"
            case Stop(kind):
                return {"pause": self.profile.pause, "end": self.profile.end, "return": self.profile.back}[kind]
        raise TypeError(f"not a step: {step!r}")

    def condition(self, condition: Value) -> str:
        return self.needs_conditions(f"IF [{self.value(condition)}]")

    def needs_conditions(self, text: str) -> str:
        if not self.profile.conditions:
            raise NotWritable(self.profile.name, "conditions or jumps")
        return text


def write(sequence: Sequence, profile: ControlProfile) -> str:
    """The sequence as program text for a control of this profile.

    Numbers are as the profile has them; see :func:`as_written`.

    Raises:
        NotWritable: where a step needs what the profile does not have.
    """
    writer = _Writer(profile)
    written = as_written(sequence, profile)
    lines = [f"({written.title})"]
    number = 0
    for step in written.steps:
        line = writer.step(step)
        if profile.line_numbers and line[0] not in "(N":
            number += profile.line_numbers
            line = f"N{FIRST_LINE_NUMBER + number} {line}"
        note: str = getattr(step, "note", "")
        lines.append(f"{line:<34} ({note})" if note else line)
    percent = ["%"] if profile.percent_signs else []
    return "\n".join([*percent, *lines, *percent, ""])


FIRST_LINE_NUMBER = 10_000
"""Line numbers begin above this, so that none is a place that a jump goes to."""
