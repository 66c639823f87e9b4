"""Steps → program text, by a control profile."""

from dataclasses import fields, is_dataclass, replace
from typing import Any, TypeVar

from orthotrope.errors import OrthotropeError
from orthotrope.sequence.steps import (
    Choose,
    Compute,
    ComputeIf,
    Dwell,
    Label,
    Move,
    Remark,
    Say,
    Sequence,
    SetModes,
    Spindle,
    Step,
    Stop,
)
from orthotrope.sequence.values import PRECEDENCE, Binary, Function, Named, Number, Parameter, Unary, Value
from orthotrope.setup.control import ControlProfile


class NotWritable(OrthotropeError):
    """A step that the control profile has no means for: ``profile`` and ``what`` it lacks."""

    def __init__(self, profile: str, what: str):
        self.profile, self.what = profile, what
        super().__init__(f"The control profile '{profile}' has no {what}.")


Any_ = TypeVar("Any_")


def rounded(sequence: Sequence, decimals: int) -> Sequence:
    """The sequence with every number as the text can hold it: rounded to ``decimals``."""
    return replace(sequence, steps=tuple(_rounded(step, decimals) for step in sequence.steps))


def _rounded(node: Any_, decimals: int) -> Any_:
    if isinstance(node, Number):
        return Number(round(node.value, decimals) + 0.0)  # type: ignore[return-value]
    if isinstance(node, tuple):
        return tuple(_rounded(part, decimals) for part in node)  # type: ignore[return-value]
    if is_dataclass(node) and not isinstance(node, type):
        parts: dict[str, Any] = {f.name: _rounded(getattr(node, f.name), decimals) for f in fields(node)}
        return replace(node, **parts)
    return node


def number_text(value: float, decimals: int) -> str:
    """A number for a program: no exponent, no trailing noughts, no minus nought."""
    text = f"{value:.{decimals}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return "0" if text == "-0" else text


class _Writer:
    def __init__(self, profile: ControlProfile):
        self.profile = profile

    def value(self, value: Value, weakest: int = 0) -> str:
        """A value inside brackets."""
        match value:
            case Number(number):
                return number_text(number, self.profile.decimals)
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

    def setting(self, parameter: int, value: Value) -> str:
        return self.needs_arithmetic(f"#{parameter} = {self.word(value)}")

    def step(self, step: Step) -> str:
        match step:
            case Move(axes, None):
                return "G53 G0 " + " ".join(f"{axis}{self.word(value)}" for axis, value in axes)
            case Move(axes, feed) if feed is not None:
                return "G53 G1 " + " ".join(f"{a}{self.word(value)}" for a, value in axes) + f" F{self.word(feed)}"
            case Spindle("stop"):
                return "M5"
            case Spindle(turn, speed) if speed is not None:
                return f"{'M3' if turn == 'forwards' else 'M4'} S{self.word(speed)}"
            case Dwell(seconds):
                unit = Number(self.profile.dwell_seconds)
                return f"G4 P{self.word(seconds if unit.value == 1 else Binary('/', seconds, unit))}"
            case Compute(parameter, value):
                return self.setting(parameter, value)
            case ComputeIf(condition, parameter, value):
                return self.condition(condition) + f" THEN {self.setting(parameter, value)}"
            case Choose(None, label):
                return self.needs_conditions(f"GOTO {label}")
            case Choose(condition, label) if condition is not None:
                return self.condition(condition) + f" GOTO {label}"
            case Label(label):
                return f"N{label}"
            case SetModes(modes):
                return " ".join(f"G{self.word(mode)}" for mode in modes)
            case Say(text):
                return f"(MSG, {text})"
            case Remark(text):
                return f"({text})"
            case Stop(kind):
                return {"pause": "M0", "end": "M30", "return": "M99"}[kind]
        raise TypeError(f"not a step: {step!r}")

    def condition(self, condition: Value) -> str:
        return self.needs_conditions(f"IF [{self.value(condition)}]")

    def needs_conditions(self, text: str) -> str:
        if not self.profile.conditions:
            raise NotWritable(self.profile.name, "conditions or jumps")
        return text


def write(sequence: Sequence, profile: ControlProfile) -> str:
    """The sequence as program text for a control of this profile.

    Numbers are rounded to the profile's decimals; see :func:`rounded`.

    Raises:
        NotWritable: where a step needs what the profile does not have.
    """
    writer = _Writer(profile)
    lines = ["%", f"({sequence.title})"]
    for step in sequence.steps:
        line = writer.step(step)
        note: str = getattr(step, "note", "")
        lines.append(f"{line:<34} ({note})" if note else line)
    return "\n".join([*lines, "%", ""])
