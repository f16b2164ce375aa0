"""Weight and balance against handbook examples and the mass data of a reference flight-dynamics package."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.errors import JinbaError, OutOfRangeError, UnreachableTargetError
from jinba.core.mass.ballast import ballast_mass_kg, item_move_m, tip_ballast_kg, two_point_cg_m
from jinba.core.mass.items import Item, sum_items
from jinba.core.mass.readings import AxisReading
from jinba.core.spoken import spoken
from jinba.core.walks import changes
from tests.builders import model
from tests.reference.full_size import full_size_items

INCH = 0.0254
POUND = 0.45359237


def test_three_weights_on_a_board():
    """FAA-H-8083-1, weight and balance theory (from memory): 100 lb at 50, 100 at 90, 200 at 150 in balance at 110 in."""
    items = tuple(Item(str(i), "w", w * POUND, x * INCH) for i, (w, x) in enumerate(((100, 50), (100, 90), (200, 150))))
    assert sum_items(items).x_m / INCH == pytest.approx(110.0, abs=1e-9)


def test_moving_one_weight():
    """Same board: to bring 110 to 100 in, the second weight moves 40 in towards the datum."""
    assert item_move_m(total_mass_kg=400, item_mass_kg=100, cg_shift_m=-10 * INCH) / INCH == pytest.approx(-40.0)


def test_handbook_ballast():
    """FAA-H-8083-1, permanent ballast (from memory): 1876 lb, 0.8 in forward needed to 33 in, ballast at 228 in: 7.7 lb."""
    pounds = ballast_mass_kg(mass_kg=1876, x_cg_m=32.2, x_target_m=33.0, x_ballast_m=228.0)
    assert pounds == pytest.approx(7.70, abs=0.01)


@pytest.mark.parametrize(
    ("mass_g", "cg", "target", "arm", "expected_g"),
    [(2450, 78, 71, -190, 65.70881226), (1380, 92, 84, -145, 48.20960699)],
)
def test_nose_ballast_of_a_model_includes_its_own_mass(mass_g, cg, target, arm, expected_g):
    """Closed form m (x_t - x)/(x_b - x_t), re-derived; the recomputed balance point equals the target."""
    m = ballast_mass_kg(mass_kg=mass_g / 1000, x_cg_m=cg / 1000, x_target_m=target / 1000, x_ballast_m=arm / 1000)
    assert m * 1000 == pytest.approx(expected_g, abs=1e-4)
    after = sum_items((Item("m", "model", mass_g / 1000, cg / 1000), Item("b", "ballast", m, arm / 1000)))
    assert after.x_m * 1000 == pytest.approx(target, abs=1e-6)


def test_two_scales_and_tip_ballast():
    """Closed forms: 612 g at -35 mm and 1890 g at 245 mm; 2.4 kg 3 mm off, tip at 720 mm: 10 g."""
    assert two_point_cg_m(front_kg=0.612, rear_kg=1.890, front_x_m=-0.035, rear_x_m=0.245) * 1000 == pytest.approx(
        176.5107914
    )
    assert tip_ballast_kg(mass_kg=2.4, y_cg_m=0.003, tip_arm_m=0.720) * 1000 == pytest.approx(10.0)


def test_full_size_aeroplane_from_the_reference_package():
    """Weight and balance point of a light aeroplane as the package itself computes them from its data file."""
    items, weight_lb, cg_in = full_size_items("c172p")
    total = sum_items(items)
    assert total.mass_kg / POUND == pytest.approx(weight_lb, rel=1e-5)
    assert (total.x_m / INCH, total.y_m / INCH, total.z_m / INCH) == pytest.approx(cg_in, abs=1e-3)


@given(
    st.lists(
        st.tuples(st.floats(0.001, 5), st.floats(-1, 1), st.floats(-1, 1), st.floats(-1, 1)), min_size=1, max_size=12
    ),
    st.floats(-3, 3),
)
def test_a_shifted_datum_shifts_the_balance_point_and_nothing_else(rows, dx):
    items = tuple(Item(str(i), "x", m, x, y, z) for i, (m, x, y, z) in enumerate(rows))
    moved = tuple(Item(i.key, i.name, i.mass_kg, i.x_m - dx, i.y_m, i.z_m) for i in items)
    a, b = sum_items(items), sum_items(moved)
    assert b.x_m == pytest.approx(a.x_m - dx, abs=1e-9)
    assert b.iyy_kg_m2 == pytest.approx(a.iyy_kg_m2, rel=1e-6, abs=1e-9)


def test_nothing_on_board_and_negative_mass_are_refused():
    with pytest.raises(JinbaError, match="Weigh the airframe"):
        sum_items(())
    with pytest.raises(OutOfRangeError, match="mass"):
        Item("x", "x", -0.1, 0.0)
    with pytest.raises(OutOfRangeError):
        Item("x", "x", math.nan, 0.0)


def test_ballast_on_the_wrong_side_is_unreachable():
    with pytest.raises(UnreachableTargetError):
        ballast_mass_kg(mass_kg=2.0, x_cg_m=0.1, x_target_m=0.09, x_ballast_m=0.5)


def test_inertias_of_three_weights_are_those_about_their_own_balance_point():
    """Parallel axes, by hand: 1 kg at (0, 0.3, 0.1), 1 kg at (0.4, -0.1, 0.1), 2 kg at (0.2, 0.2, 0.3)."""
    rows = [(1.0, 0.0, 0.3, 0.1), (1.0, 0.4, -0.1, 0.1), (2.0, 0.2, 0.2, 0.3)]
    found = sum_items(tuple(Item(str(i), "part", *row) for i, row in enumerate(rows)))
    assert (found.x_m, found.y_m, found.z_m) == pytest.approx((0.2, 0.15, 0.2))
    sxx, syy, szz = 0.08, 0.0225 + 0.0625 + 2 * 0.0025, 0.01 + 0.01 + 2 * 0.01
    fields = [getattr(found, f) for f in found.__dataclass_fields__][4:7]
    assert fields == pytest.approx([syy + szz, sxx + szz, sxx + syy])


def test_a_reading_across_follows_what_is_moved_afterwards():
    """Read 2 mm right with the items 1 mm right of the middle; a part goes 3 mm further left: 2 - 4 mm."""
    read = AxisReading(0.002, 0.0005, 0.001)
    assert read.at(0.001) == pytest.approx(0.002)
    assert read.at(-0.003) == pytest.approx(-0.002)


@pytest.mark.parametrize(("rise", "words"), [(0.012, "Battery moved 12 mm up"), (-0.030, "Battery moved 30 mm down")])
def test_a_raised_item_says_how_far_and_which_way(rise, words):
    c = model()
    pack = c.battery
    raised = replace(c, items=tuple(replace(i, z_m=i.z_m + rise) if i is pack else i for i in c.items))
    assert words in spoken(" ".join(changes(c, raised)[1]))


@pytest.mark.parametrize(
    ("aft", "words"), [(0.012, "Battery moved 12 mm aft"), (-0.030, "Battery moved 30 mm forward")]
)
def test_a_moved_item_says_how_far_and_which_way(aft, words):
    c = model()
    pack = c.battery
    moved = replace(c, items=tuple(replace(i, x_m=i.x_m + aft, bay_m=None) if i is pack else i for i in c.items))
    assert words in spoken(" ".join(changes(c, moved)[1]))
