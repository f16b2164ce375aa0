"""Clicks, turns and millimetres of a control, against the trade's numbers and their own round trips."""

from __future__ import annotations

import doctest
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.controls.surface_control import MOST_CLICKS, Control, transfer_trim
from jinba.core.errors import OutOfRangeError
from jinba.core.frames import Axis
from jinba.core.stability import sections, stall

DEG = math.degrees(1.0)


def control(**more) -> Control:
    base = {"axis": Axis.PITCH, "throw_rad": 0.3, "rad_per_click": 0.0044, "chord_m": 0.05, "horn_arm_m": 0.012}
    return Control(**(base | more))


def test_one_turn_of_an_m2_clevis_on_a_12_mm_horn_is_1_91_degrees():
    """Common practice, no source: 0.4 mm pitch; atan(0.4/12)."""
    assert control().rad_per_turn * DEG == pytest.approx(1.909, abs=0.001)
    assert control(thread_pitch_m=0.0005).rad_per_turn > control().rad_per_turn
    assert control(horn_arm_m=0.024).rad_per_turn < 0.51 * control().rad_per_turn


@given(st.floats(-0.35, 0.35), st.floats(0.006, 0.03), st.sampled_from([0.0004, 0.0005, 0.00045357, 0.000635]))
def test_what_the_clevis_cannot_do_is_left_for_the_sub_trim_and_is_less_than_a_quarter_turn(target, horn, pitch):
    c = control(horn_arm_m=horn, thread_pitch_m=pitch)
    t = transfer_trim(c, target)
    assert t.turned_rad + t.sub_trim_rad == pytest.approx(target, abs=1e-12)
    assert abs(t.sub_trim_rad) <= c.rad_per_turn / 4 + 1e-12
    assert t.half_turns * t.turned_rad >= 0
    assert t.surface_mm * target >= 0, "the ruler reads on the side the surface goes"


@given(st.floats(-0.5, 0.5), st.floats(0.01, 0.3))
def test_the_ruler_reads_the_chord_of_the_arc(angle, chord):
    c = control(chord_m=chord)
    assert abs(c.millimetres(angle)) <= abs(angle) * chord * 1000 + 1e-9
    assert 2 * math.asin(c.millimetres(angle) / 2000 / chord) == pytest.approx(angle, abs=1e-9)


@given(st.integers(-MOST_CLICKS, MOST_CLICKS), st.floats(-0.2, 0.2), st.floats(-0.2, 0.2))
def test_the_surface_rests_where_mechanics_sub_trim_and_clicks_put_it(clicks, mechanical, sub):
    c = control(clicks=clicks, mechanical_rad=mechanical, sub_trim_rad=sub)
    assert c.resting_rad == pytest.approx(mechanical + sub + clicks * 0.0044)


@pytest.mark.parametrize(
    ("field", "value"),
    [
        ("throw_rad", 0.0),
        ("throw_rad", math.nan),
        ("rad_per_click", 0.0),
        ("chord_m", -0.05),
        ("horn_arm_m", 0.0),
        ("thread_pitch_m", 0.05),
        ("clicks", MOST_CLICKS + 1),
        ("mechanical_rad", 1.0),
    ],
)
def test_impossible_controls_are_refused_by_axis_and_name(field, value):
    with pytest.raises(OutOfRangeError, match="pitch"):
        control(**{field: value})


def test_the_examples_in_the_docstrings():
    assert doctest.testmod(sections).failed == 0
    assert doctest.testmod(stall).failed == 0
