"""Readings of a measure: mean and sigma, left and right, by ruler, plan and meter."""

from __future__ import annotations

import math
import statistics
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.airframe.taken import METER_SIGMA_RAD, RULER_SIGMA_M, How, Reading, Readings, read
from jinba.core.bench.measured import take
from jinba.core.errors import UnknownKeyError
from tests.builders import model

TIP = "surfaces.0.sections.1.chord_m"


def readings(values, left=()):
    kept, taken = None, None
    for i, value in enumerate(values):
        kept, taken = read(kept, taken, Reading(value, again=i > 0), key=TIP, on="")
    for value in left:
        kept, taken = read(kept, taken, Reading(value, left=True, again=True), key=TIP, on="")
    return kept, taken


@given(st.lists(st.floats(0.1, 0.3), min_size=1, max_size=8), st.lists(st.floats(0.1, 0.3), max_size=4))
def test_the_value_is_the_mean_of_the_halves_and_the_readings_are_kept(right, left):
    kept, taken = readings(right, left)
    by_hand = statistics.fmean([statistics.fmean(s) for s in (right, left) if s])
    assert kept == pytest.approx(by_hand, abs=1e-12)
    assert [kept + o for o in taken.off] == pytest.approx(right, abs=1e-12)
    assert [kept + o for o in taken.off_left] == pytest.approx(left, abs=1e-12)


def test_four_readings_are_twice_as_good_and_a_wide_spread_is_believed():
    """The standard error of a mean: JCGM 100:2008, 4.2.3, s/sqrt(n) (from memory); never better than the tool's own."""
    values = [0.200, 0.2004, 0.1996, 0.2001]
    _, close = readings(values)
    assert close.sigma(0.2, angle=False) == pytest.approx(RULER_SIGMA_M / 2)
    wide = [0.190, 0.205, 0.210, 0.199]
    _, spread = readings(wide)
    assert spread.sigma(0.2, angle=False) == pytest.approx(statistics.stdev(wide) / 2)
    _, many = readings(values * 3)
    assert many.sigma(0.2, angle=False) == pytest.approx(close.sigma(0.2, angle=False)), "the tool's own error stays"


def test_a_plan_is_coarser_than_the_model_and_a_meter_is_in_degrees():
    on_plan = Readings(TIP, (0.0,), how=How.PLAN, scale=4.0)
    assert on_plan.sigma(0.2, angle=False) > 2 * Readings(TIP, (0.0,)).sigma(0.2, angle=False)
    assert Readings(TIP, (0.0,)).sigma(0.02, angle=True) == METER_SIGMA_RAD
    assert Readings(TIP, (0.0,)).sigma(3.0, angle=False) == pytest.approx(0.006), (
        "a long way is not read to a millimetre"
    )


def test_left_against_right_and_a_reading_that_slipped():
    _, taken = readings([0.200, 0.201], left=[0.208])
    assert taken.left_less_right == pytest.approx(0.0075)
    assert taken.apart(0.2, angle=False) is None
    _, slipped = readings([0.200, 0.219])
    assert slipped.apart(0.2, angle=False) == pytest.approx(0.019)
    _, one_side = readings([0.2])
    assert one_side.left_less_right is None


def test_taking_a_measure_sets_it_and_it_is_no_guess_any_more():
    c = take(model("high_wing"), "surfaces.0.incidence_rad", Reading(math.radians(2.0)), on="2026-11-29")
    assert c.airframe.surfaces[0].incidence_rad == pytest.approx(math.radians(2.0))
    again = take(c, "surfaces.0.incidence_rad", Reading(math.radians(3.0), again=True), on="2026-11-30")
    assert again.airframe.surfaces[0].incidence_rad == pytest.approx(math.radians(2.5))
    assert [(t.count, t.on) for t in again.taken] == [(2, "2026-11-30")]
    anew = take(again, "surfaces.0.incidence_rad", Reading(math.radians(1.0)), on="2026-11-30")
    assert [t.count for t in anew.taken] == [1]
    with pytest.raises(UnknownKeyError, match="no such measure"):
        take(c, "surfaces.9.x_m", Reading(0.1), on="")


def test_what_was_measured_before_readings_were_kept_counts_and_a_guess_does_not():
    c = model("high_wing")
    chord = c.airframe.surfaces[0].sections[1].chord_m
    left = Reading(chord + 0.01, left=True, again=True)
    measured = take(c, TIP, left, on="")
    assert measured.airframe.surfaces[0].sections[1].chord_m == pytest.approx(chord + 0.005), "the mean of both halves"
    assert measured.taken[0].left_less_right == pytest.approx(0.01)
    guessed = take(replace(c, guessed=(TIP,)), TIP, left, on="")
    assert guessed.airframe.surfaces[0].sections[1].chord_m == pytest.approx(chord + 0.01)
    assert guessed.taken[0].left_less_right is None


def test_a_plan_is_not_made_a_ruler_by_one_look_at_the_model():
    c = take(model("high_wing"), TIP, Reading(0.2, how=How.PLAN, scale=4.0), on="")
    both = take(c, TIP, Reading(0.201, again=True), on="").taken[0]
    assert (both.how, both.scale, both.count) == (How.PLAN, 4.0, 2)
    anew = take(c, TIP, Reading(0.201), on="").taken[0]
    assert (anew.how, anew.scale, anew.count) == (How.MODEL, 1.0, 1)
