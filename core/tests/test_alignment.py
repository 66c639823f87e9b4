"""The alignment of a rack from taught pockets: its intervals hold the truth as often as they say, slips stand out."""

import math
import random
from collections.abc import Mapping

import pytest
from demo_setup import DOCUMENT, changed, demo
from hypothesis import given
from hypothesis import strategies as st
from orthotrope.calc.alignment import Alignment, align
from orthotrope.machine.executor import run_program
from orthotrope.machine.run import Call
from orthotrope.program.reader import read_text
from orthotrope.proof.exchanges import exchange_text, prove_exchanges
from orthotrope.proof.worlds import nominal_world
from orthotrope.setup import Setup, read_setup


def taught(places: Mapping[int, tuple[float, ...]], **values: object) -> Setup:
    rows = [{"pocket": n, "x": p[0], "y": p[1], "z": p[2] if len(p) > 2 else None} for n, p in places.items()]
    return read_setup(changed(DOCUMENT, changer__rack__taught=rows, **values))


def aligned(places: dict[int, tuple[float, ...]], **values: object) -> Alignment:
    found = align(taught(places, **values))
    assert found is not None
    return found


def row(
    origin: tuple[float, float],
    bearing: float,
    pitch: float,
    numbers: list[int],
    scatter: random.Random | None = None,
    sigma: float = 0.0,
) -> dict[int, tuple[float, ...]]:
    cos, sin = math.cos(math.radians(bearing)), math.sin(math.radians(bearing))
    noise = scatter.gauss if scatter else (lambda mean, spread: 0.0)
    return {
        n: (origin[0] + (n - 1) * pitch * cos + noise(0, sigma), origin[1] + (n - 1) * pitch * sin + noise(0, sigma))
        for n in numbers
    }


def test_the_stated_intervals_hold_the_truth_in_95_of_100() -> None:
    held = {"x": 0, "y": 0, "bearing": 0, "pitch": 0}
    seeds = 400
    for seed in range(seeds):
        chance = random.Random(seed)
        origin = (128 + chance.uniform(-1.5, 1.5), 1187 + chance.uniform(-1.5, 1.5))
        bearing, pitch, sigma = (
            chance.uniform(-0.4, 0.4),
            58.5 + chance.uniform(-0.15, 0.15),
            chance.uniform(0.005, 0.04),
        )
        found = aligned(row(origin, bearing, pitch, sorted(chance.sample(range(1, 11), 5)), chance, sigma))
        held["x"] += abs(found.fit.origin.x - origin[0]) <= found.origin_u95
        held["y"] += abs(found.fit.origin.y - origin[1]) <= found.origin_u95
        held["bearing"] += abs(found.fit.bearing_deg - bearing) <= found.bearing_u95_deg
        held["pitch"] += abs(found.fit.pitch - pitch) <= found.pitch_u95
    assert all(0.92 <= count / seeds <= 0.98 for count in held.values()), held


@given(st.floats(-180, 180), st.floats(40, 80), st.lists(st.integers(1, 10), min_size=2, max_size=8, unique=True))
def test_exact_places_are_recovered_exactly(bearing: float, pitch: float, numbers: list[int]) -> None:
    found = aligned(row((128.4, 1187.5), bearing, pitch, numbers))
    assert found.fit.pitch == pytest.approx(pitch, abs=1e-9) and found.fit.worst < 1e-9
    assert abs((found.fit.bearing_deg - bearing + 180) % 360 - 180) < 1e-9


def test_two_pockets_are_enough_at_the_ends_and_not_side_by_side() -> None:
    wide, narrow = (aligned(row((128.4, 1187.5), 0.1, 58.5, pair)) for pair in ([1, 10], [1, 2]))
    assert wide.assumed and wide.enough and not narrow.enough
    assert narrow.pockets[9].known_to > 8 * wide.pockets[9].known_to
    assert "a slip in one is not seen" in wide.says[1] and "times over the rack" in narrow.says[1]
    scattered = aligned(row((128.4, 1187.5), 0.1, 58.5, [1, 10]), machine__axes__X__home_scatter=0.28)
    assert scattered.room == pytest.approx(0.02) and not scattered.enough
    assert align(taught({3: (1.0, 2.0)})) is None


@pytest.mark.parametrize("pocket", [1, 4, 10])
@pytest.mark.parametrize(
    "slip, says", [(lambda x: x - 10, ""), (lambda x: float(f"{x:.3f}".replace(".", "", 1)) / 10**4, "decimal point")]
)
def test_a_typing_error_stands_out_and_the_others_do_not(pocket: int, slip: object, says: str) -> None:
    places = row((128.4, 1187.5), 0.2, 58.52, [1, 3, 4, 7, 10], random.Random(3), 0.015)
    places[pocket] = (slip(places[pocket][0]), places[pocket][1])  # type: ignore[operator]
    found = aligned(places)
    assert [entry.pocket for entry in found.taught if entry.stands_out] == [pocket]
    assert says in next(entry.slip for entry in found.taught if entry.stands_out)
    assert any(f"Pocket {pocket} stands out" in line for line in found.says)


def test_a_rack_that_is_not_level_is_seen() -> None:
    places = {
        n: (*place[:2], -143.7 + 0.05 * (n - 1)) for n, place in row((128.4, 1187.5), 0.0, 58.5, [1, 5, 10]).items()
    }
    found = aligned(places)
    assert found.level is not None and found.level.worst < 1e-9
    assert (
        found.level.last_z - found.level.first_z == pytest.approx(0.45)
        and "0.45 mm higher at pocket 10" in found.says[-1]
    )


def test_single_positions_are_gone_to_by_a_list_and_proven() -> None:
    places = {2: (187.3, 1187.9), 9: (596.1, 1187.1)}
    setup = taught(places, changer__rack__single_positions=True)
    text = exchange_text(setup, setup.profile, 2, 9)
    assert "IF [#101 EQ 2] THEN #112 = 187.3" in text and "#105" not in text
    run = run_program(
        read_text(text), setup.profile, nominal_world(setup), Call((410.0, 620.0, -60.5), from_tool=2, to_tool=9)
    )
    visited = {(round(s.end[0], 3), round(s.end[1], 3)) for s in run.trace.segments}
    assert set(places.values()) <= visited and run.trace.ended == "end"
    assert all(result.worst == "note" for result in prove_exchanges(setup))


def test_two_rows_are_fitted_together_and_a_plane_through_their_heights() -> None:
    turn, pitch = math.radians(90.35), 85.08
    cos, sin = math.cos(turn), math.sin(turn)
    taught = []
    for pocket in (1, 3, 5, 8):
        row, column = divmod(pocket - 1, 4)
        x, y = 1089.4 + column * pitch * cos - row * 95 * sin, 120.9 + column * pitch * sin + row * 95 * cos
        taught.append({"pocket": pocket, "x": round(x, 6), "y": round(y, 6), "z": -222 + 0.05 * column - 0.2 * row})
    setup = read_setup(changed(demo("dunlin"), changer__rack__taught=taught))
    found = align(setup)
    assert (
        found is not None
        and found.fit.bearing_deg == pytest.approx(90.35, abs=1e-4)
        and found.fit.pitch == pytest.approx(85.08)
    )
    assert (found.fit.origin.x, found.fit.origin.y) == pytest.approx((1089.4, 120.9), abs=1e-4)
    assert [r.pocket for r in found.fit.residuals] == [1, 3, 5, 8] and found.fit.worst < 1e-4
    eighth = found.pockets[7]
    assert (eighth.x, eighth.y) == pytest.approx((taught[3]["x"], taught[3]["y"]), abs=1e-3)
    assert found.level is not None and found.level.worst < 1e-9 and found.level.last_row_z == pytest.approx(-222.2)
    assert "last row lies 0.2 mm lower" in " ".join(found.says)
