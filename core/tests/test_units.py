"""Quantities as people type them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from orthotrope.errors import QuantityError
from orthotrope.units import KINDS, in_column, read_quantity, round_to_step, shown_in


@pytest.mark.parametrize(
    "text, kind, unit, value",
    [
        ("12.5", "length", "mm", 12.5),
        ("1.5in", "length", "mm", 38.1),
        ("3/8 in", "length", "mm", 9.525),
        ("1 1/2 in", "length", "mm", 38.1),
        ("12.7 + 0.05", "length", "mm", 12.75),
        ("−148.2", "length", "mm", -148.2),
        ("2 x 48mm", "length", "mm", 96.0),
        ("(3 + 4) * 2", "length", "inch", 355.6),
        ("1in - 0.4mm", "length", "mm", 25.0),
        ("1\u202f186.5", "length", "mm", 1186.5),
        ("12 thou", "length", "mm", 0.3048),
        ("25 mm/s", "feed", "mm", 1500.0),
        ("60", "feed", "inch", 1524.0),
        ("1.2 m/min", "feed", "mm", 1200.0),
        ("90deg", "angle", "mm", 90.0),
        ("250 ms", "time", "mm", 0.25),
        ("20 rev/s", "speed", "mm", 1200.0),
        ("0.5 m/s²", "acceleration", "mm", 500.0),
        ("10", "count", "inch", 10.0),
        (".5", "length", "mm", 0.5),
        ("2-1/2", "length", "inch", 63.5),
        ("2 1/2", "length", "inch", 63.5),
        ("2½", "length", "inch", 63.5),
        ("½", "length", "inch", 12.7),
        ("-½", "length", "inch", -12.7),
        ("2 - 1/2", "length", "mm", 1.5),
        ("7-2", "length", "mm", 5.0),
        ("2-3/2", "length", "mm", 0.5),
        ("1 186.5", "length", "mm", 1186.5),
        ("1 186,5", "length", "mm", 1186.5),
        ("12 345 678", "length", "mm", 12345678.0),
        ("1 186/2", "length", "mm", 593.0),
        ("12,5", "length", "mm", 12.5),
        ("1,234", "length", "mm", 1.234),
        ("12 inches", "length", "mm", 304.8),
    ],
)
def test_understood(text: str, kind: str, unit: str, value: float) -> None:
    found = read_quantity(text, kind, unit)
    assert found.value == pytest.approx(value, rel=1e-12)
    assert found.unit == KINDS[kind].unit


@pytest.mark.parametrize(
    "text, kind, says",
    [
        ("", "length", "Nothing is entered"),
        ("1,234.5", "length", "one decimal sign"),
        ("E0", "acceleration", "A number is expected"),
        ("12 1", "length", "units that fit"),
        ("abc", "length", "A number is expected"),
        ("12 rpm", "length", "units that fit"),
        ("5 +", "length", "missing at the end"),
        ("(5", "length", "not closed"),
        ("5/0", "length", "Division by zero"),
        ("1in + 2", "length", "one part of the sum has a unit"),
        ("2mm * 3mm", "length", "can't be multiplied"),
        ("9" * 150 + " * " + "9" * 40 + "e300", "length", ""),
        ("1e999", "length", "not a finite number"),
        ("1" * 201, "length", "longer than 200"),
        ("nan", "length", "A number is expected"),
    ],
)
def test_reported(text: str, kind: str, says: str) -> None:
    with pytest.raises(QuantityError) as failed:
        read_quantity(text, kind)
    assert says.lower() in failed.value.what.lower()
    assert 0 <= failed.value.column <= max(200, len(text))


@given(st.text(max_size=60), st.sampled_from(sorted(KINDS)), st.sampled_from(["mm", "inch"]))
def test_any_text_is_understood_or_reported(text: str, kind: str, unit: str) -> None:
    try:
        read_quantity(text, kind, unit)
    except QuantityError as reported:
        assert reported.what.endswith(".")


@given(st.floats(-1e6, 1e6), st.sampled_from([0.001, 0.005, 0.01, 0.25, 1.0]))
def test_rounding_is_to_the_nearest_step(value: float, step: float) -> None:
    assert abs(round_to_step(value, step) - value) <= step / 2 + 1e-9
    assert round_to_step(-value, step) == -round_to_step(value, step)


def test_a_column_has_the_decimals_of_its_unit_and_a_true_minus() -> None:
    assert [in_column(value) for value in (380.0, -0.01, 2.5405)] == ["380.000", "−0.010", "2.541"]
    with shown_in("inch"):
        assert in_column(-25.4) == "−1.0000"
