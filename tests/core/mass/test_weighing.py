"""Readings against handbook weighings, and the errors each method makes."""

from __future__ import annotations

import doctest
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.airframe.parts import Role, Section, Surface
from jinba.core.errors import JinbaError, OutOfRangeError
from jinba.core.mass import weighing
from jinba.core.mass.across import height_by_hanging, lateral_balance
from jinba.core.mass.readings import MOST_STEPS, BenchOrder, BenchStep
from jinba.core.mass.weighing import (
    Support,
    bifilar_inertia_kg_m2,
    hang_height_m,
    lateral_from_tip_mass_m,
    pendulum_inertia_kg_m2,
    scales_reading,
    span_reading,
    support_loads_kg,
)
from jinba.core.spoken import spoken

SWEPT = Surface("wing", Role.WING, 0.0, 0.0, (Section(0.0, 0.0, 0.28), Section(0.6, 0.279785, 0.16)))
STRAIGHT = Surface("wing", Role.WING, 0.1, 0.0, (Section(0.0, 0.0, 0.25), Section(0.8, 0.0, 0.25)))
INCH, POUND = 0.0254, 0.45359237


def test_the_examples_in_the_docstrings():
    assert doctest.testmod(weighing).failed == 0


def test_nose_wheel_and_tail_wheel_weighings_of_the_handbook():
    """CG = D - F L/W = 114.8 in and D + R L/W = 19.7 in: FAA-H-8083-1 (from memory)."""
    nose = scales_reading(
        (Support("nose wheel", 340 * POUND, 50 * INCH), Support("main wheels", 1666 * POUND, 128 * INCH))
    )
    assert nose.x_m / INCH == pytest.approx(114.779661, abs=1e-4)
    tail = scales_reading(
        (Support("main wheels", 1151 * POUND, 7.5 * INCH), Support("tail wheel", 67 * POUND, 229.5 * INCH))
    )
    assert tail.x_m / INCH == pytest.approx(19.71182266, abs=1e-4)


def test_three_wheels_give_the_balance_along_and_across():
    """812, 838 and 240 g: 1890 g at 78.254 mm, 2.270 mm to the right (closed form)."""
    r = scales_reading(
        (
            Support("left wheel", 0.812, 0.118, -0.165),
            Support("right wheel", 0.838, 0.118, 0.165),
            Support("nose", 0.240, -0.195),
        )
    )
    assert (r.mass_kg, r.x_m, r.y_m) == pytest.approx((1.890, 0.07825396825, 0.00226984127))


def test_the_sigma_of_a_weighing_is_the_spread_of_repeated_ones():
    """Monte Carlo with the stated errors of scale and ruler against the propagated sigma."""
    supports = (Support("front", 0.612, -0.035), Support("rear", 1.890, 0.245))
    rng = np.random.default_rng(4)
    found = []
    for _ in range(4000):
        noisy = [
            Support(
                s.name,
                s.mass_kg + max(0.0005, 0.002 * s.mass_kg) * rng.standard_normal(),
                s.x_m + 0.001 * rng.standard_normal(),
            )
            for s in supports
        ]
        found.append(scales_reading(tuple(noisy)).x_m)
    r = scales_reading(supports)
    assert r.x_m == pytest.approx(0.1765107914)
    assert np.std(found) == pytest.approx(r.sigma_m, rel=0.06)
    assert r.y_m is None, "two scales on the centre line say nothing of the sides"


def test_the_same_distance_further_out_on_a_swept_wing_is_another_balance_point():
    root = span_reading(SWEPT, behind_le_m=0.06, y_m=0.0, sigma_m=0.002)
    out = span_reading(SWEPT, behind_le_m=0.06, y_m=0.3, sigma_m=0.002)
    assert out.x_m - root.x_m == pytest.approx(0.279785 / 2)
    assert {c.code for c in out.caveats} == {"swept"}
    assert "140 mm behind the root's" in spoken(out.caveats[0].words)
    assert out.sigma_m == pytest.approx(math.hypot(0.002, 0.279785 / 0.6 * 0.005)), (
        "a misplaced finger counts by the sweep"
    )
    assert span_reading(STRAIGHT, behind_le_m=0.06, y_m=0.4, sigma_m=0.002).sigma_m == pytest.approx(0.002)


@given(st.floats(0.0, 0.8), st.floats(0.02, 0.2))
def test_on_a_straight_wing_it_does_not_matter_where_one_holds_it(y, behind):
    assert span_reading(STRAIGHT, behind_le_m=behind, y_m=y, sigma_m=0.003).x_m == pytest.approx(0.1 + behind)


def test_readings_that_cannot_mean_what_was_thought_are_questioned_or_refused():
    odd = span_reading(STRAIGHT, behind_le_m=0.24, y_m=0.1, sigma_m=0.002)
    assert {c.code for c in odd.caveats} == {"odd-place"}
    with pytest.raises(OutOfRangeError, match="distance from the centre line"):
        span_reading(STRAIGHT, behind_le_m=0.06, y_m=0.9, sigma_m=0.002)
    with pytest.raises(OutOfRangeError, match="distance behind the leading edge"):
        span_reading(STRAIGHT, behind_le_m=3.0, y_m=0.1, sigma_m=0.002)
    with pytest.raises(JinbaError, match="two, three or four"):
        scales_reading((Support("one", 1.0, 0.0),))
    with pytest.raises(OutOfRangeError, match="scale under the nose"):
        scales_reading((Support("nose", math.nan, 0.0), Support("main", 1.0, 0.1)))
    assert {c.code for c in scales_reading((Support("a", 1.0, 0.0), Support("b", 1.0, 0.03))).caveats} == {"close"}
    assert {c.code for c in scales_reading((Support("a", 0.001, 0.0), Support("b", 1.0, 0.3))).caveats} == {"light"}


def test_hung_by_the_tail_the_balance_point_comes_to_hang_below_the_hook():
    """Turn the model as it hangs and look where its balance point is: straight below (independent rotation)."""
    x_cg, x_h, z_h, lean = 0.09, 0.80, 0.02, math.radians(4)
    z = hang_height_m(x_cg_m=x_cg, x_hang_m=x_h, z_hang_m=z_h, lean_to_canopy_rad=lean)
    forward, up = x_h - x_cg, z - z_h
    # Nose straight down, canopy to the right; a lean to the canopy turns the forward axis by +lean to the right.
    side = forward * math.sin(lean) + up * math.cos(lean)
    assert side == pytest.approx(0.0, abs=1e-12)
    assert z < z_h, "the nose leans to the canopy: the mass lies on the belly's side"


def test_lateral_balance_and_swinging():
    """y = 3.75 mm for 12 g at 0.75 m on 2.4 kg; bifilar 0.15775 and pendulum 0.49484 kg m2 (re-derived, from memory)."""
    assert lateral_from_tip_mass_m(tip_mass_kg=0.012, half_span_m=0.75, mass_kg=2.4) == pytest.approx(0.00375)
    assert bifilar_inertia_kg_m2(mass_kg=2.4, spacing_m=0.6, length_m=1.5, period_s=2.1) == pytest.approx(
        0.1577473, rel=1e-5
    )
    assert pendulum_inertia_kg_m2(mass_kg=2.4, arm_m=1.2, period_s=2.35) == pytest.approx(0.4948373, rel=1e-5)
    with pytest.raises(JinbaError, match="swings that fast"):
        pendulum_inertia_kg_m2(mass_kg=2.4, arm_m=1.2, period_s=1.5)


@given(
    st.floats(0.05, 20.0),
    st.floats(-0.3, 0.5),
    st.floats(-0.05, 0.05),
    st.sampled_from([((-0.2, 0.0), (0.6, 0.0)), ((-0.3, 0.0), (0.1, -0.2), (0.1, 0.2))]),
)
def test_scales_read_back_what_stands_on_them(mass, x, y, places):
    """Statics one way and the moment sum the other: mass and balance come back whatever stands on the scales."""
    loads = support_loads_kg(mass_kg=mass, x_m=x, y_m=y if len(places) == 3 else 0.0, places=places)
    total = sum(loads)
    assert total == pytest.approx(mass)
    assert sum(m * p[0] for m, p in zip(loads, places, strict=True)) / total == pytest.approx(x, abs=1e-9)


def test_scales_in_one_line_are_refused():
    with pytest.raises(JinbaError, match="one line"):
        support_loads_kg(mass_kg=1.0, x_m=0.1, y_m=0.0, places=((0.0, 0.0), (0.1, 0.0), (0.3, 0.0)))


@pytest.mark.parametrize(
    ("grams", "left", "says"),
    [(12.0, True, "right wing is heavy"), (12.0, False, "left wing is heavy"), (0.5, True, "Level")],
)
def test_a_mass_on_the_light_tip_says_which_wing_is_heavy_and_how_far_it_balances_aside(grams, left, says):
    """m arm = M y; sigma: a gram at the tip and half a millimetre of the points, as squares (propagation, by hand)."""
    found = lateral_balance(tip_mass_kg=grams / 1000, on_left_tip=left, half_span_m=0.75, mass_kg=2.0)
    assert abs(found.value_m) == pytest.approx(grams / 1000 * 0.75 / 2.0, rel=0.02)
    assert (found.value_m > 0) is left, "what levels it lies on the light side"
    assert found.sigma_m == pytest.approx(math.hypot(0.001 * 0.75 / 2.0, 0.0005), rel=1e-6)
    assert says in found.words


def test_height_by_hanging_is_as_sure_as_the_lean_can_be_read():
    """dz/d(lean) = arm/cos^2(lean): 0.7 degrees over the arm, 2 mm of the hook, as squares (propagation, by hand)."""
    lean = math.radians(6.0)
    found = height_by_hanging(x_cg_m=0.1, x_hang_m=0.9, z_hang_m=0.05, lean_to_canopy_rad=lean)
    assert found.value_m == pytest.approx(0.05 - 0.8 * math.tan(lean), abs=1e-9)
    assert found.sigma_m == pytest.approx(math.hypot(0.8 / math.cos(lean) ** 2 * math.radians(0.7), 0.002), rel=1e-6)
    assert "below the datum line" in found.words
    level = height_by_hanging(x_cg_m=0.1, x_hang_m=0.9, z_hang_m=0.05, lean_to_canopy_rad=0.0)
    assert "above the datum line" in level.words


def test_a_kitchen_scale_reads_to_half_a_gram_or_a_fifth_of_a_per_cent():
    """Common practice, no source: repeated weighings of light and of heavy models scatter like that."""
    for kg in (0.05, 4.0):
        loads = support_loads_kg(mass_kg=kg, x_m=0.1, y_m=0.0, places=((0.0, 0.0), (0.4, 0.0)))
        sigma = scales_reading(
            tuple(Support("wheel", load, x) for x, load in zip((0.0, 0.4), loads, strict=True))
        ).sigma_m
        shares = [max(0.0005, 0.002 * load) for load in loads]
        # x = sum m x / sum m: each load moves it by (x_i - x)/M, each place by m_i/M of a millimetre.
        expected = math.hypot(
            *((x - 0.1) / kg * s for x, s in zip((0.0, 0.4), shares, strict=True)),
            *(load / kg * 0.001 for load in loads),
        )
        assert sigma == pytest.approx(expected, rel=0.25)


def test_a_work_order_has_steps_and_not_endlessly_many():
    steps = tuple(BenchStep(f"step {i}") for i in range(MOST_STEPS + 1))
    assert BenchOrder(steps[:1], 0.1, 0.002, "").done is False
    for wrong in ((), steps):
        with pytest.raises(JinbaError, match="steps"):
            BenchOrder(wrong, 0.1, 0.002, "")


@pytest.mark.parametrize(("apart", "questioned"), [(0.03, True), (0.20, False)])
def test_scales_that_stand_close_together_read_hardly_anything(apart, questioned):
    """Both stand far behind the datum: it is their distance that counts, not where they are."""
    found = scales_reading((Support("front", 1.0, 0.5, 0.0), Support("rear", 1.0, 0.5 + apart, 0.0)))
    assert any(s.code == "close" for s in found.caveats) is questioned
