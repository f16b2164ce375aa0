"""The Beaufort scale against the World Meteorological Organization's steps."""

from __future__ import annotations

from itertools import pairwise

import pytest

from jinba.core.atmosphere.beaufort import FORCES, beaufort
from jinba.core.errors import OutOfRangeError


@pytest.mark.parametrize(
    ("number", "low_mps", "high_mps", "knots"),
    [
        (0, 0.0, 0.2, (0, 0)),
        (1, 0.3, 1.5, (1, 3)),
        (2, 1.6, 3.3, (4, 6)),
        (3, 3.4, 5.4, (7, 10)),
        (4, 5.5, 7.9, (11, 16)),
        (6, 10.8, 13.8, (22, 27)),
        (8, 17.2, 20.7, (34, 40)),
        (10, 24.5, 28.4, (48, 55)),
        (11, 28.5, 32.6, (56, 63)),
    ],
)
def test_the_steps_are_those_of_the_wmo(number, low_mps, high_mps, knots):
    """WMO, Manual on Codes, WMO-No. 306, table 1100; from memory. The middle of its column of knots lies in its column of metres."""
    force = FORCES[number]
    assert (force.number, force.low_mps, force.high_mps) == (number, low_mps, high_mps)
    assert beaufort(0.5 * sum(knots) * 1852 / 3600).number == number


@pytest.mark.parametrize(
    ("speed_mps", "number"), [(1.0, 1), (4.2, 3), (7.9, 4), (3.3, 2), (0.0, 0), (32.7, 12), (50.0, 12)]
)
def test_a_speed_has_one_step(speed_mps, number):
    """WMO-No. 306, from memory."""
    assert beaufort(speed_mps).number == number


def test_the_scale_has_no_gap_and_no_overlap_and_refuses_what_is_no_wind():
    for lower, upper in pairwise(FORCES):
        assert lower.high_mps is not None
        assert round(upper.low_mps - lower.high_mps, 3) == 0.1
        assert lower.low_mps < lower.usual_mps < lower.high_mps < upper.usual_mps
    for wrong in (-0.1, 61.0, float("nan")):
        with pytest.raises(OutOfRangeError):
            beaufort(wrong)
