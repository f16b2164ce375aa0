"""The balance solver against brute force, handbook arithmetic and its own promises."""

from __future__ import annotations

import itertools
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jinba.core.errors import JinbaError, OutOfRangeError
from jinba.core.mass.arrangement import Load, Movable, Station, Target, arrange, recompute
from jinba.core.mass.ballast import ballast_mass_kg

NOSE, TAIL = Station("nose", -0.25), Station("tail", 0.80)


def load(**more) -> Load:
    base = {"rest_kg": 2.0, "rest_x_m": 0.11, "rest_y_m": 0.0}
    return Load(**(base | more))


def pack(key: str, mass: float, x: float = -0.05, low: float = -0.12, high: float = 0.04) -> Movable:
    return Movable(key, mass, x, low, high)


def test_moving_the_pack_is_the_handbook_shift():
    """Distance = total x shift / weight moved: FAA-H-8083-1, weight shift (from memory)."""
    aboard = load(packs=(pack("p", 0.31),), flown_pack="p")
    now = recompute(aboard, Target(0.0), {}, "p", ()).x_m
    best = arrange(aboard, Target(now - 0.005, 0.0003))[0]
    expected = 0.005 * (2.0 + 0.31) / 0.31
    assert -0.05 - best.positions_m["p"] == pytest.approx(expected, abs=0.0031)
    assert best.added_kg == 0.0


def test_ballast_alone_is_the_handbook_mass_in_whole_pieces():
    """m_b = m (x_t - x)/(x_b - x_t), the ballast's own mass included: FAA-H-8083-1 (from memory)."""
    aboard = load(stations=(NOSE, TAIL), pieces_kg=(0.001,), pieces_each=400)
    target = Target(0.10, 0.0005)
    best = arrange(aboard, target)[0]
    least = ballast_mass_kg(mass_kg=2.0, x_cg_m=0.11, x_target_m=0.1005, x_ballast_m=-0.25)
    assert [b.station for b in best.ballast] == ["nose"]
    assert least <= best.added_kg <= least + 0.001
    assert abs(best.x_m - 0.10) <= 0.0005 + 1e-9


def brute_force(aboard: Load, target: Target) -> float | None:
    """Return the least ballast [kg] over every millimetre, pack and count of pieces; None when nothing reaches."""
    best = None
    grids = [
        [m.x_m, *[round(m.low_m + k / 1000, 3) for k in range(round((m.high_m - m.low_m) * 1000) + 1)]]
        for m in aboard.movable
    ]
    counts = list(itertools.product(range(aboard.pieces_each + 1), repeat=len(aboard.stations)))
    piece = aboard.pieces_kg[0]
    for p in aboard.packs:
        for px in [round(p.low_m + k / 1000, 3) for k in range(round((p.high_m - p.low_m) * 1000) + 1)]:
            for xs in itertools.product(*grids):
                mass0 = aboard.rest_kg + p.mass_kg + sum(m.mass_kg for m in aboard.movable)
                moment0 = (
                    aboard.rest_kg * aboard.rest_x_m
                    + p.mass_kg * px
                    + sum(m.mass_kg * x for m, x in zip(aboard.movable, xs, strict=True))
                )
                for n in counts:
                    if sum(c > 0 for c in n) > 1:
                        continue
                    added = piece * sum(n)
                    x = (moment0 + sum(piece * c * s.x_m for c, s in zip(n, aboard.stations, strict=True))) / (
                        mass0 + added
                    )
                    if abs(x - target.x_m) <= target.tolerance_m and (best is None or added < best):
                        best = added
    return best


@pytest.mark.parametrize("target_m", [0.105, 0.093, 0.085, 0.080, 0.074, 0.115, 0.120])
def test_the_least_added_mass_is_that_of_brute_force(target_m):
    aboard = load(
        movable=(Movable("rx", 0.04, 0.0, -0.03, 0.02),),
        packs=(pack("small", 0.25, low=-0.07, high=0.0), pack("large", 0.34, low=-0.07, high=0.0)),
        flown_pack="small",
        stations=(NOSE, TAIL),
        pieces_kg=(0.02,),
        pieces_each=4,
    )
    target = Target(target_m, 0.001)
    expected = brute_force(aboard, target)
    best = arrange(aboard, target)[0]
    assert (best.shortfall_m > 0 or best.both_ends) if expected is None else best.shortfall_m == 0
    assert expected is None or best.added_kg == pytest.approx(expected, abs=1e-9)


def test_what_is_aboard_is_moved_before_lead_is_added_and_another_pack_comes_last():
    aboard = load(
        movable=(Movable("esc", 0.08, 0.0, -0.15, 0.1),),
        packs=(pack("flown", 0.3), pack("other", 0.45)),
        flown_pack="flown",
        stations=(NOSE, TAIL),
        pieces_kg=(0.005, 0.02),
    )
    now = recompute(aboard, Target(0.0), {}, "flown", ()).x_m
    ways = arrange(aboard, Target(now - 0.004, 0.001))
    assert ways[0].positions_m.keys() == {"flown"}
    assert all(w.added_kg == 0 for w in ways[:2])
    actions = [(w.pack, *sorted(w.positions_m), *(b.station for b in w.ballast)) for w in ways]
    assert len(set(actions)) == len(actions), "each way differs in what is done, not by a millimetre"


def test_both_ends_only_when_nothing_else_works_and_then_it_says_so():
    """A lateral target that only a nose-side and a tail-side station can serve together forces both ends."""
    left_nose, right_tail = Station("left front", -0.25, -0.3), Station("left rear", 0.47, -0.3)
    aboard = load(rest_y_m=0.006, stations=(left_nose, right_tail), pieces_kg=(0.001, 0.005, 0.02), pieces_each=20)
    ways = arrange(aboard, Target(0.11, 0.0005, y_tolerance_m=0.0005))
    assert ways[0].both_ends
    assert abs(ways[0].y_m) <= 0.0006
    one_end = load(stations=(NOSE, TAIL), pieces_kg=(0.01,), pieces_each=30)
    assert not any(w.both_ends for w in arrange(one_end, Target(0.09, 0.001)))


def test_out_of_reach_gives_the_nearest_and_how_far_it_falls_short():
    aboard = load(packs=(pack("p", 0.3),), flown_pack="p", stations=(NOSE,), pieces_kg=(0.01,), pieces_each=3)
    (way,) = arrange(aboard, Target(-0.1, 0.001))
    nearest = recompute(aboard, Target(-0.1), {"p": -0.12}, "p", way.ballast)
    assert way.positions_m["p"] == pytest.approx(-0.12)
    assert way.added_kg == pytest.approx(0.03)
    assert way.shortfall_m == pytest.approx(nearest.x_m + 0.1 - 0.001, abs=1e-9)


def test_already_there_means_nothing_to_do():
    (way,) = arrange(load(stations=(NOSE, TAIL), pieces_kg=(0.01,)), Target(0.11, 0.001))
    assert way.positions_m == {}
    assert way.ballast == ()


@settings(max_examples=25)
@given(
    st.floats(0.5, 6.0),
    st.floats(0.0, 0.2),
    st.floats(-0.02, 0.02),
    st.floats(-0.3, 0.3),
)
def test_a_shift_of_datum_shifts_every_answer_and_changes_no_mass(rest_kg, rest_x, shift, datum):
    def at(dx: float) -> tuple:
        aboard = Load(
            rest_kg,
            rest_x + dx,
            0.0,
            packs=(Movable("p", 0.3, dx - 0.05, dx - 0.15, dx + 0.05),),
            flown_pack="p",
            stations=(replace(NOSE, x_m=NOSE.x_m + dx), replace(TAIL, x_m=TAIL.x_m + dx)),
            pieces_kg=(0.01,),
            pieces_each=8,
        )
        return arrange(aboard, Target(rest_x + shift + dx, 0.002), most=1)[0]

    here, there = at(0.0), at(round(datum, 3))
    assert there.added_kg == pytest.approx(here.added_kg, abs=1e-9)
    assert (there.shortfall_m > 0) is (here.shortfall_m > 0)
    assert here.shortfall_m > 0 or abs(there.x_m - round(datum, 3) - rest_x - shift) <= 0.0025


def test_more_than_it_takes_and_nonsense_is_refused_by_name():
    many = tuple(Movable(f"m{i}", 0.01, 0.0, -0.1, 0.1) for i in range(41))
    with pytest.raises(JinbaError, match="41 items that can be moved; at most 40"):
        arrange(load(movable=many), Target(0.1))
    with pytest.raises(OutOfRangeError, match="tolerance"):
        arrange(load(), Target(0.1, 0.0))
    with pytest.raises(OutOfRangeError, match="target"):
        arrange(load(), Target(float("nan")))
    with pytest.raises(OutOfRangeError, match="piece of ballast"):
        arrange(load(stations=(NOSE,), pieces_kg=(0.0,)), Target(0.1))


def test_ballast_on_the_light_side_brings_the_lateral_balance_within_its_tolerance():
    """Pieces that may lie left or right: the moment across decides, by the sum of moments alone."""
    sides = (Station("left", 0.11, -0.7, 0.5), Station("right", 0.11, 0.7, 0.5))
    for aside, light in ((0.004, "left"), (-0.004, "right")):
        aboard = load(rest_y_m=aside, stations=sides, pieces_kg=(0.001,), pieces_each=60)
        best = arrange(aboard, Target(0.11, 0.002, y_tolerance_m=0.0005))[0]
        assert {b.station for b in best.ballast} == {light}
        assert abs(best.y_m) <= 0.0005 + 1e-9
        least = 2.0 * (abs(aside) - 0.0005) / (0.7 + 0.0005)
        assert least <= best.added_kg <= least + 0.002
        assert best.y_m == pytest.approx(
            (2.0 * aside + sum(b.mass_kg * (-0.7 if light == "left" else 0.7) for b in best.ballast)) / best.mass_kg
        )


def test_a_pack_moves_to_either_end_of_its_bay_and_not_beyond():
    aboard = load(packs=(pack("p", 0.8, x=0.02, low=-0.30, high=0.30),), flown_pack="p")
    for wanted in (-0.29, -0.1, 0.15, 0.29):
        target = (2.0 * 0.11 + 0.8 * wanted) / 2.8
        best = arrange(aboard, Target(target, 0.0004))[0]
        assert best.positions_m["p"] == pytest.approx(wanted, abs=0.0025)
        assert best.shortfall_m == 0.0
    beyond = arrange(aboard, Target((2.0 * 0.11 + 0.8 * 0.40) / 2.8, 0.0004))[0]
    assert beyond.positions_m["p"] == pytest.approx(0.30, abs=0.001)
    assert beyond.shortfall_m == pytest.approx(0.8 * 0.10 / 2.8 - 0.0004, abs=0.0005)


@pytest.mark.parametrize("shift", [-0.004, 0.004])
def test_what_may_move_both_ways_goes_the_way_the_balance_point_is_wanted(shift):
    """Weight moved forward moves the balance point forward: moment over total mass, whichever way (by definition)."""
    aboard = load(movable=(Movable("camera", 0.2, 0.0, -0.06, 0.06),))
    now = recompute(aboard, Target(0.0), {}, "", ()).x_m
    best = arrange(aboard, Target(now + shift, 0.0003))[0]
    assert best.positions_m["camera"] == pytest.approx(shift * 2.2 / 0.2, abs=0.004)
    assert best.x_m == pytest.approx(now + shift, abs=0.0004)
