"""Long lists in little memory: they are lists all the same; and what a review of a long job needs."""

import random
import tracemalloc

import pytest
from orthotrope.packed import PIECE, Packed
from orthotrope.program.reader import read_text
from orthotrope.proof.case import Case
from orthotrope.proof.review import make_case, review
from orthotrope.setup.control import find_profile


def test_it_is_a_list_that_grows_at_its_end_and_can_be_cut_off() -> None:
    plain, packed = list[object](), Packed[object]()
    for number in range(3 * PIECE + 7):
        item: object = (number, str(number)) if number != PIECE // 2 else len  # a function is not packed
        plain.append(item)
        packed.append(item)
    assert list(packed) == plain and len(packed) == len(plain) and packed[-1] == plain[-1]
    dice = random.Random(3)
    for _ in range(50):
        at = dice.randrange(-len(plain), len(plain))
        assert packed[at] == plain[at] and packed[at : at + 9] == plain[at : at + 9]
    for length in (3 * PIECE, 2 * PIECE + 3, PIECE - 1, 0):
        del packed[length:], plain[length:]
        assert list(packed) == plain
        packed.append("more")
        plain.append("more")
        assert list(packed) == plain
    with pytest.raises(IndexError):
        packed[len(plain)]
    with pytest.raises(TypeError):
        packed[0] = 1


def job(head: str, lines: int, number: str = "") -> Case:
    dice = random.Random(1)
    moves = [
        f"{number and f'N{n} '}G1 X{dice.uniform(0, 800):.3f} Y{dice.uniform(0, 900):.3f} F1500" for n in range(lines)
    ]
    return make_case(read_text("\n".join([head, *moves, "M30"])), find_profile("parametric"), "job")


@pytest.mark.parametrize("number", ["N", pytest.param("", marks=pytest.mark.thorough)])
def test_a_long_job_is_reviewed_in_less_than_eight_times_its_own_size(number: str) -> None:
    review(job("G21 G90", 10))  # what is read once and kept
    tracemalloc.start()
    try:
        case = job("G21 G90", 20_000, number)
        review(case)
        assert tracemalloc.get_traced_memory()[1] < 8 * 20_000 * len("G1 X400.000 Y400.000 F1500")
    finally:
        tracemalloc.stop()
    assert len(case.main.trace.segments) == 20_000 and case.main.trace.blocks[10_000].line == 10_001


@pytest.mark.parametrize(
    ("head", "same"),
    [
        ("G21 G90", True),
        ("T3 S900\nG20 G1 X1", True),
        ("F300\nG21", False),
        ("G0 X1\nG21", False),
        ("#1 = #2\nG21", True),
        ("#1 = #171\nG21", False),
        ("#171 = 3\nG21", False),
        ("G21\n#1 = #190", False),
        ("G90", False),
    ],
)
def test_the_run_of_an_inch_caller_is_another_only_where_the_unit_is_asked(head: str, same: bool) -> None:
    case = job(head.replace("#190", f"#{find_profile('parametric').parameters.called_unit}"), 3)
    main, inch = case.from_both_callers()
    assert (main.trace is inch.trace) == same and inch.modes_before["unit"] == 20
    if same:
        case = job(head, 3)
        assert case.run(inch.call).trace == main.trace and case.run(inch.call).modes == inch.modes


def test_a_numbered_line_is_jumped_to() -> None:
    text = "G21\nGOTO 20\nN10 G0 X1\nN20 G0 X2\nIF [#1 EQ 1] GOTO 30\n#1 = 1\nGOTO 10\nn30 M30\n"
    case = make_case(read_text(text), find_profile("parametric"), "job")
    assert [segment.line for segment in case.main.trace.segments] == [4, 3, 4]
    assert not read_text("N1 WHILE [#1 LT 2] DO1\nN2 END1").faults
    for wrong in ("/(a) x N1 G0", "N1.5 G0 X1", "N-3 G0 X1", "N123456789 G0 X1", "G0 N3 X1", "N1 N2 G0 X1"):
        assert read_text(wrong).faults, wrong
