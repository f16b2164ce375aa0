"""Where a control rests, and what no control can be."""

from __future__ import annotations

import doctest
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.controls.surface_control import MOST_CLICKS, Control
from jinba.core.errors import OutOfRangeError
from jinba.core.frames import Axis
from jinba.core.stability import sections, stall


def control(**more) -> Control:
    base = {"axis": Axis.PITCH, "throw_rad": 0.3, "rad_per_click": 0.0044, "chord_m": 0.05, "horn_arm_m": 0.012}
    return Control(**(base | more))


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
