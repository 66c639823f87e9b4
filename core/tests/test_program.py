"""Reading and writing: any bytes, RS-274's rules, what was written read back."""

import math
import time
from typing import Any

import pytest
from demo_setup import DOCUMENT, changed, demo
from fuzz import mutated, tried
from hypothesis import given, settings
from hypothesis import strategies as st
from orthotrope.errors import InputError
from orthotrope.machine.executor import run_program
from orthotrope.machine.parameters import ParameterStore
from orthotrope.machine.run import Call
from orthotrope.machine.world import bare_world
from orthotrope.program.blocks import Block, Plain
from orthotrope.program.expressions import NormalisedLine, ValueFault, compiled, parse_bracket
from orthotrope.program.faults import ProgramError
from orthotrope.program.readback import read_back
from orthotrope.program.reader import read_lines, read_text
from orthotrope.program.writer import NotWritable, as_written, comment, number_text, write
from orthotrope.sequence import steps
from orthotrope.sequence.exchanges import Exchange, plan_every, plan_one
from orthotrope.sequence.values import FUNCTIONS, PRECEDENCE, Binary, Function, Named, Number, Unary, Value, parameter
from orthotrope.setup import read_setup
from orthotrope.setup.control import ControlProfile, find_profile

PARAMETRIC, PLAIN_WORDS = find_profile("parametric"), find_profile("plain words")


def worth(text: str, **values: float) -> float:
    store = ParameterStore({int(name[1:]): value for name, value in values.items()}, PARAMETRIC.parameters)
    line = f"[{text}]".replace(" ", "")
    return compiled(parse_bracket(NormalisedLine(1, line, line)))(store)


@pytest.mark.parametrize(
    "text, value",
    [
        ("1 + 2 * 3", 7),
        ("2 ** 3 ** 2", 64),
        ("10 - 4 - 3", 3),
        ("7 MOD 3", 1),
        ("-7 MOD 3", 2),
        ("1 + 1 EQ 2 AND 3 GT 2", 1),
        ("1 OR 0 AND 0", 0),
        ("1 LT 2 XOR 1", 0),
        ("ATAN[1]/[1]", 45),
        ("SIN[30] + COS[60]", 1),
        ("FIX[-2.5]", -3),
        ("FUP[-2.5]", -2),
        ("ROUND[-2.5]", -3),
        ("-#5 + ABS[-2]", -5),
        ("##5", 4),
        ("#[5 + 1]", 9),
        ("SQRT[EXP[LN[16]]]", 4),
    ],
)
def test_expressions(text: str, value: float) -> None:
    assert worth(text, p5=7, p6=9, p7=4) == pytest.approx(value)


@pytest.mark.parametrize(
    "text", ["1/0", "SQRT[-1]", "LN[0]", "ACOS[2]", "0 ** -1", "[-8] ** 0.5", "5 MOD 0", "#0", "#[1/2]", "#<x>"]
)
def test_expressions_without_a_value_are_reported(text: str) -> None:
    with pytest.raises(ValueFault):
        worth(text)


@pytest.mark.parametrize(
    "line, column",
    [
        ("G1 X1 X2", 7),
        ("G0 G1 X5", 4),
        ("G1 X[1 + ", 9),
        ("G1 X[1 + 2", 5),
        ("G1 (open", 4),
        ("G1 (a (b)", 7),
        ("X1 )", 4),
        ("G1 X", 5),
        ("IF [1 EQ 1] X5", 13),
        ("#100 12", 8),
        ("G1 XY5", 5),
        ("M3 M4", 4),
        ("G1 ?5", 4),
        ("X5 N10", 4),
        ("ATAN[1] = 3", 9),
        ("END1", 1),
        ("DO1", 1),
        ("X" + "9" * 400, 2),
        ("G1 X[" + "[" * 100 + "1" + "]" * 101, 0),
    ],
)
def test_what_can_t_be_read_has_line_and_column(line: str, column: int) -> None:
    faults = read_text(f"G21\n{line}\n").faults
    assert len(faults) == 1 and faults[0].line == 2
    assert not column or faults[0].column == column, faults[0]


def test_blanks_case_comments_and_block_numbers_mean_nothing() -> None:
    block = read_text("n10 g 1x + 0. 12 (in it) y-3 ; rest").blocks[0]
    assert isinstance(block, Block) and block.label == 10 and block.comments == ("in it", "rest")
    assert [(w.letter, w.value) for w in block.words] == [("G", Number(1)), ("X", Number(0.12)), ("Y", Number(-3))]
    assert read_text("g1x.5y-2.").blocks[0] == Plain(1, "GXY", (1.0, 0.5, -2.0))
    assert read_text("/G1 X5").blocks[0].skip  # type: ignore[union-attr]
    assert [b.line for b in read_text("%\r\nG1 X1\r\n\r\nG1 X2\r\n%\r\nnoise").blocks] == [2, 4]


@given(st.binary(max_size=400))
def test_any_bytes_give_blocks_or_faults(noise: bytes) -> None:
    program = read_text(noise)
    lines = noise.decode("utf-8", "replace").replace("\r\n", "\n").replace("\r", "\n").split("\n")
    for fault in program.faults:
        assert 1 <= fault.line <= len(lines) and fault.column >= 1


@given(st.text(alphabet="GXYZNOMFIJ#[]<>=+-*/()0123456789. \n;%ACDEGHILNOQRSTUWH", max_size=200))
def test_text_that_looks_like_a_program_gives_blocks_or_faults(text: str) -> None:
    read_text(text)


def test_ten_times_the_text_takes_about_ten_times_as_long() -> None:
    def seconds(count: int) -> float:
        best = math.inf
        for _ in range(3):
            begun = time.perf_counter()
            assert sum(1 for _ in read_lines(f"G1 X{i}.5 Y-{i} F600" for i in range(count))) == count
            best = min(best, time.perf_counter() - begun)
        return best

    assert seconds(40_000) < 25 * seconds(4_000)


# What was written, read back

decimals = st.integers(-10_000_000, 10_000_000).map(lambda n: n / 10_000 + 0.0)
numbers = decimals.map(Number)
leaf = st.one_of(
    numbers, st.integers(1, 999).map(parameter), st.from_regex(r"[a-z][a-z0-9_]{0,6}", fullmatch=True).map(Named)
)


def _grow(inner: Any) -> Any:
    compound = st.one_of(
        st.builds(Binary, st.sampled_from(sorted(PRECEDENCE)), inner, inner),
        st.builds(lambda name, a: Function(name, (a,)), st.sampled_from([f for f in FUNCTIONS if f != "ATAN"]), inner),
        st.builds(lambda a, b: Function("ATAN", (a, b)), inner, inner),
    )
    return compound | compound.map(Unary) | st.integers(1, 99).map(parameter).map(Unary)


values = st.recursive(leaf, _grow, max_leaves=8)
words = st.from_regex(r"[a-z]([a-z ,:;0-9]{0,20}[a-z])?", fullmatch=True)
notes = st.just("") | words
axes = st.lists(st.sampled_from("XYZ"), min_size=1, max_size=3, unique=True).flatmap(
    lambda names: st.tuples(*(st.tuples(st.just(name), values) for name in names))
)
any_text = st.text(max_size=30).filter(lambda text: bool(comment(text)))
any_step = st.one_of(
    st.builds(steps.Move, axes, st.none() | values, notes),
    st.builds(steps.Spindle, st.sampled_from(["forwards", "backwards"]), values, notes),
    st.builds(steps.Spindle, st.just("stop"), st.none(), notes),
    st.builds(steps.Dwell, values, notes),
    st.builds(steps.Compute, st.integers(1, 999), values, notes),
    st.builds(steps.ComputeIf, values, st.integers(1, 999), values, notes),
    st.builds(steps.Choose, st.none() | values, st.integers(1, 9999), notes),
    st.builds(steps.Label, st.integers(1, 9999), notes),
    st.builds(steps.SetModes, st.lists(st.integers(1, 99).map(parameter), min_size=1, max_size=3).map(tuple), notes),
    st.builds(steps.Say, words | any_text),
    st.builds(steps.Remark, words | any_text),
    st.builds(
        steps.Wait,
        st.none() | st.integers(1, 20),
        numbers,
        st.floats(0.5, 9),
        st.integers(900, 999),
        st.just(120),
        notes,
    ),
    st.builds(steps.Words, st.sampled_from(["M62", "M62P1", "M42 P3", "M101"]), st.none(), notes),
    st.builds(steps.Words, st.just("M44"), values, notes),
    st.builds(steps.Override, st.booleans(), notes),
    st.builds(
        steps.Compute,
        st.builds(lambda a, b: Binary("+", Number(a), parameter(b)), st.integers(1, 9), st.integers(1, 9)),
        values,
    ),
    st.builds(steps.Stop, st.sampled_from(["pause", "end", "return"]), notes),
)


@settings(max_examples=150)
@given(st.lists(any_step, max_size=12), st.lists(any_step, max_size=3), values)
def test_reading_what_was_written_gives_the_same_steps(
    some: list[steps.Step], inner: list[steps.Step], while_: Value
) -> None:
    sequence = steps.Sequence("a sequence (of steps)", (*some, steps.While(while_), *inner, steps.EndWhile()))
    program = read_text(write(sequence, PARAMETRIC))
    assert not program.faults
    assert read_back(program, PARAMETRIC) == as_written(sequence, PARAMETRIC)


@given(st.floats(-1e5, 1e5))
def test_a_written_number_has_no_exponent_and_is_near(value: float) -> None:
    text = number_text(value, 4)
    assert "e" not in text and text != "-0" and abs(float(text) - value) <= 0.5e-4 + 1e-9


def test_both_texts_of_an_exchange_read_back_as_planned() -> None:
    setup = read_setup(DOCUMENT)
    for sequence, profile in (
        (plan_every(setup), PARAMETRIC),
        (plan_one(setup, Exchange(2, 9, (400, 500))), PLAIN_WORDS),
    ):
        assert read_back(read_text(write(sequence, profile)), profile) == as_written(sequence, profile)


def test_plain_words_have_no_arithmetic_and_say_so() -> None:
    with pytest.raises(NotWritable, match="plain words"):
        write(plan_every(read_setup(DOCUMENT)), PLAIN_WORDS)
    text = write(plan_one(read_setup(DOCUMENT), Exchange(0, 3, (400, 500))), PLAIN_WORDS)
    assert "#" not in text and "IF" not in text


def test_an_exchange_that_can_t_be_planned_says_why() -> None:
    setup = read_setup(DOCUMENT)
    with pytest.raises(InputError, match="no tool T77"):
        plan_one(setup, Exchange(77, 1, (0, 0)))
    with pytest.raises(InputError, match="no changer"):
        plan_every(read_setup({**DOCUMENT, "changer": None}))


def test_a_foreign_text_is_no_written_sequence() -> None:
    with pytest.raises(ProgramError):
        read_back(read_text("(title)\nG2 X5 I1"), PARAMETRIC)


@pytest.mark.parametrize("profile", [PARAMETRIC, PLAIN_WORDS], ids=lambda profile: profile.name)
def test_any_name_can_stand_in_a_comment(profile: ControlProfile) -> None:
    document = changed(
        demo("knot"), machine__name="Knot (new); 2", tools__0__name="cutter ) G0 Z-99 (", tools__1__name="MSG, drill"
    )
    for setup in (read_setup(changed(DOCUMENT, machine__name="MSG, Heron (new)")), read_setup(document)):
        sequences = [plan_one(setup, Exchange(1, 2, (400, 500))), *([plan_every(setup)] if profile.arithmetic else [])]
        for sequence in sequences:
            program = read_text(write(sequence, profile))
            assert not program.faults and read_back(program, profile) == as_written(sequence, profile)
    assert comment("(a)\n(MSG, b)") == "[a] [MSG, b]" and comment("MSG, go on") == "MSG , go on"


@pytest.mark.parametrize("name", ["curlew", "dunlin", "godwit", "heron", "knot", "plover", "sanderling"])
def test_the_texts_of_every_demo_machine_read_back_as_planned(name: str) -> None:
    setup = read_setup(demo(name))
    one, other = (tool.number for tool in setup.exchangeable()[:2])
    planned = [
        plan_every(setup),
        *(plan_one(setup, Exchange(a, b, (400, 500))) for a, b in ((0, one), (one, other), (other, 0))),
    ]
    for profile in setup.every_profile():
        for sequence in planned[0 if profile.arithmetic else 1 :]:
            assert read_back(read_text(write(sequence, profile)), profile) == as_written(sequence, profile)


def test_a_moved_parameter_keeps_its_unit() -> None:
    known = PARAMETRIC.parameters.model_copy(update={"called_at_first": 301, "latched_first": 401})
    moved = PARAMETRIC.model_copy(update={"parameters": known})
    text = "G20\n#1 = #301\n#2 = #171\nG91 G38.2 Z-1 F10\n#3 = #403\nM30"
    done = run_program(read_text(text), moved, bare_world(), Call((254.0, 0.0, 0.0), unit=20))
    assert done.fault is None
    reported = {event.data["parameter"]: event.data["value"] for event in done.trace.of_kind("set")}
    assert reported[1] == pytest.approx(10.0) and reported[2] == 0.0
    assert reported[3] == pytest.approx(
        (done.trace.of_kind("touch")[0].data["latched"][2] - bare_world().work_offsets[1][2]) / 25.4
    )


def test_programs_that_were_changed_at_random_are_read_run_and_reviewed() -> None:
    """A small share of those that tools/fuzz.py tries on demand."""
    found = tried(range(400))
    assert len({mutated(number) for number, _, _ in found}) > 390
    assert [wrong for _, _, wrong in found if wrong] == []
