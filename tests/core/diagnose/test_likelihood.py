"""Interval and plain scores: derivatives against finite differences, values against scipy."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import norm

from jinba.core.diagnose.likelihood import Scores, scores_of


def scored(low: float, high: float, h: float, sigma: float) -> Scores:
    """The score of one datum, between two others: none of them may touch it."""
    found = scores_of(*(np.array(v) for v in ([0.0, low, -1.0], [0.0, high, 1.0], [9.0, h, -9.0], [1.0, sigma, 2.0])))
    return Scores(*(float(v[1]) for v in (found.log, found.slope, found.weight)))


INTERVALS = [(-math.inf, -6.0), (-6.0, -1.5), (-1.5, 1.5), (6.0, math.inf)]


@pytest.mark.parametrize(("low", "high"), INTERVALS)
@pytest.mark.parametrize("h", [-12.0, -3.0, 0.0, 4.0, 15.0])
def test_interval_score_is_the_normal_probability(low, high, h):
    """log[Phi((high - h)/s) - Phi((low - h)/s)] by scipy's distribution function, computed from the nearer tail."""
    s, sigma = scored(low, high, h, 1.7), 1.7
    a, b = (low - h) / sigma, (high - h) / sigma
    expected = norm.logcdf(b) if a == -math.inf else norm.logsf(a) if b == math.inf else _log_difference(a, b)
    assert s.log == pytest.approx(expected, rel=1e-6, abs=1e-9)


def _log_difference(a: float, b: float) -> float:
    if a + b > 0:
        a, b = -b, -a
    return float(norm.logcdf(b) + math.log1p(-math.exp(norm.logcdf(a) - norm.logcdf(b))))


@given(st.sampled_from(INTERVALS), st.floats(-20, 20), st.floats(0.3, 5))
def test_slope_and_curvature_are_the_derivatives_and_log_concave(interval, h, sigma):
    s, e = scored(*interval, h, sigma), 1e-4 * sigma
    up, down = scored(*interval, h + e, sigma), scored(*interval, h - e, sigma)
    assert s.slope == pytest.approx((up.log - down.log) / (2 * e), rel=1e-3, abs=1e-4)
    assert s.weight >= 0
    assert s.weight <= 1.0001 / sigma**2
    assert s.weight == pytest.approx((down.slope - up.slope) / (2 * e), rel=2e-2, abs=1e-3)


def test_a_plain_number_is_a_gaussian():
    s = scored(3.0, 3.0, 2.0, 0.5)
    assert (s.log, s.slope, s.weight) == pytest.approx((-2.0, 4.0, 4.0))
