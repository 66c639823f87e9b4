"""Blocks → steps: what a text that Orthotrope wrote says, in the terms in which it was meant."""

from collections.abc import Callable

from orthotrope.program.blocks import AnyBlock, Block, End, If, Plain, Program
from orthotrope.program.blocks import While as WhileBlock
from orthotrope.program.faults import ProgramError
from orthotrope.sequence.steps import (
    AxisName,
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
    While,
)
from orthotrope.sequence.steps import Words as DeviceWords
from orthotrope.sequence.values import Number, Parameter, Value
from orthotrope.setup.control import ControlProfile

Words = list[tuple[str, Value]]


def read_back(program: Program, profile: ControlProfile) -> Sequence:
    """The sequence that a written text stands for.

    Raises:
        ProgramError: at the first block that is no step of a written sequence.
    """
    blocks = list(program.blocks)
    if not blocks or not isinstance(blocks[0], Block) or not blocks[0].comments:
        raise ProgramError(1, 1, "A written text begins with its title.")
    return Sequence(blocks[0].comments[0], tuple(_step(block, profile) for block in blocks[1:]))


def _step(block: AnyBlock, profile: ControlProfile) -> Step:
    if isinstance(block, Plain):
        return _from_words(
            [(a, Number(v)) for a, v in zip(block.letters, block.values, strict=True)], "", block, profile
        )
    note = block.comments[0] if block.comments else ""
    if isinstance(block.control, If):
        return _from_if(block.control, note, block)
    if isinstance(block.control, WhileBlock) and block.control.condition is not None:
        return While(block.control.condition)
    if isinstance(block.control, End):
        return EndWhile()
    if block.settings:
        return Compute(_target(block.settings[0].target, block), block.settings[0].value, note)
    if block.label is not None and not block.words:
        return Label(block.label, note)
    if not block.words:
        if note.startswith("MSG,"):
            return Say(note[4:].strip())
        return Remark(note)
    return _from_words([(word.letter, word.value) for word in block.words], note, block, profile)


def _target(target: Value, block: Block) -> int | Value:
    """The number of the parameter that is set, or how it is worked out."""
    if isinstance(target, Parameter) and not isinstance(target.number, Number):
        return target.number
    return _index(target, block)


def _index(target: Value, block: Block) -> int:
    if isinstance(target, Parameter) and isinstance(target.number, Number):
        return int(target.number.value)
    raise ProgramError(block.line, 1, "A written text sets parameters by their number.")


def _from_if(control: If, note: str, block: Block) -> Step:
    if control.then is not None and control.condition is not None:
        return ComputeIf(control.condition, _index(control.then.target, block), control.then.value, note)
    if isinstance(control.goto, Number):
        return Choose(control.condition, int(control.goto.value), note)
    raise ProgramError(block.line, control.place.column, "A written text jumps to a number.")


def _from_words(words: Words, note: str, block: AnyBlock, profile: ControlProfile) -> Step:
    codes = [(letter, value) for letter, value in words if letter in "GM"]
    rest = {letter: value for letter, value in words if letter not in "GM"}
    names = [f"{letter}{value.value:g}" for letter, value in codes if isinstance(value, Number)]
    if names in (["G53", "G0"], ["G53", "G1"]):
        return Move(_axes(rest), rest.get("F"), note)
    if names == ["G4"]:
        return Dwell(rest[profile.dwell_letter], note)
    if touch := _touch(names, rest, note, profile):
        return touch
    if names in (["G91", "G0"], ["G91", "G1"]):
        return RelativeMove(_axes(rest), rest.get("F"), note)
    if names == ["G43"] and "H" in rest:
        return UseLength(rest["H"], note)
    if names == ["G68"] and "R" in rest:
        return SetTurn(rest["R"], note)
    if names == ["G10"]:
        return _from_g10(rest, note, block)
    simple = _simple(rest, note, profile)
    if len(names) == 1 and names[0] in simple:
        return simple[names[0]]()
    if codes and not rest and all(letter == "G" for letter, _ in codes):
        return SetModes(tuple(value for _, value in codes), note)
    if words and words[0][0] == "M":  # a device's own words
        if len(words) == 2 and set(rest) == {"P"}:
            return DeviceWords(names[0], rest["P"], note)
        if all(isinstance(value, Number) for _, value in words):
            return DeviceWords(
                " ".join(f"{letter}{v.value:g}" for letter, v in words if isinstance(v, Number)), None, note
            )
    raise ProgramError(block.line, 1, "The block is no step of a written sequence.")


def _touch(names: list[str], rest: dict[str, Value], note: str, profile: ControlProfile) -> Touch | None:
    """The touching move that a block's G words say; None: they say none."""
    for touching, stops in ((profile.touch_stops, True), (profile.touch_goes_on, False)):
        if touching is not None and names in ([f"G{touching:g}"], ["G91", f"G{touching:g}"]) and "F" in rest:
            return Touch(_axes(rest), rest["F"], stops, note, relative=len(names) == 2)
    return None


def _simple(rest: dict[str, Value], note: str, profile: ControlProfile) -> dict[str, Callable[[], Step]]:
    """Steps that one word says, by the word."""
    return {
        "M3": lambda: Spindle("forwards", rest["S"], note),
        "M4": lambda: Spindle("backwards", rest["S"], note),
        "M5": lambda: Spindle("stop", None, note),
        profile.pause: lambda: Stop("pause", note),
        profile.end: lambda: Stop("end", note),
        profile.back: lambda: Stop("return", note),
        "M49": lambda: Override(True, note),
        "M48": lambda: Override(False, note),
        profile.grip_close: lambda: Switch("close the grip", note),
        profile.grip_open: lambda: Switch("open the grip", note),
        profile.orient: lambda: Switch("orient the spindle", note),
    }


def _axes(rest: dict[str, Value]) -> tuple[tuple[AxisName, Value], ...]:
    return tuple((letter, value) for letter, value in rest.items() if letter in ("X", "Y", "Z"))  # type: ignore[misc]


def _from_g10(rest: dict[str, Value], note: str, block: AnyBlock) -> Step:
    kind, number = rest.get("L"), rest.get("P")
    if isinstance(kind, Number) and kind.value == 1 and number is not None and "Z" in rest:
        return SetLength(number, rest["Z"], note)
    if isinstance(kind, Number) and isinstance(number, Number) and kind.value in (2, 20):
        return SetOffset(int(number.value), _axes(rest), kind.value == 20, note)
    raise ProgramError(block.line, 1, "The block is no step of a written sequence.")
