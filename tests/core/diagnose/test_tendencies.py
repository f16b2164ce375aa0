"""Behaviours, risk and the score of a prediction."""

from dataclasses import replace

import numpy as np
import pytest
from scipy.stats import norm

from jinba.core.diagnose.behaviour import behaviour
from jinba.core.diagnose.score import score_prediction, scored
from jinba.core.diagnose.tendencies import risk_behind_minimum, tendencies
from jinba.core.diagnose.update import prior_belief
from jinba.core.observe import predictions
from jinba.core.observe.parameters import P
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import design_of
from tests.builders import model, trimmed, with_margin


def test_propagation_agrees_with_sampling():
    """GUM linear propagation against 4000 random draws of the prior."""
    c = with_margin(model(), 0.1)
    moment, belief = Moment(design_of(c), trimmed(c)), prior_belief(static_margin_sigma=0.02)
    _, sigma, _ = behaviour(predictions.roll_rate_slow, "", belief, moment)
    rng = np.random.default_rng(1)
    draws = rng.multivariate_normal(belief.mean, belief.covariance * 0.04, 4000)
    sampled = np.std([predictions.roll_rate_slow(x, moment) for x in draws]) / 0.2
    assert sigma == pytest.approx(sampled, rel=0.06)


def test_risk_is_the_normal_tail():
    c = model()
    assert risk_behind_minimum(c, margin_fraction=0.09, sigma_fraction=0.02) == pytest.approx(
        norm.cdf(0.04, 0.09, 0.02), rel=1e-9
    )


def test_words_follow_the_value():
    c = with_margin(model(), 0.25)
    heavy = {t.key: t for t in tendencies(c, prior_belief(static_margin_sigma=0.02), trimmed(c))}
    assert heavy["static_margin"].verdict == "expected: more nose-heavy than wanted"
    assert heavy["static_margin"].out
    assert not heavy["static_margin"].settled
    c = with_margin(model(), -0.02)
    light = {t.key: t for t in tendencies(c, prior_belief(static_margin_sigma=0.02), trimmed(c))}
    assert light["static_margin"].verdict == "expected: more tail-heavy than wanted"


@pytest.mark.parametrize(("margin", "side"), [(0.055, "tail-heavy"), (0.125, "nose-heavy")])
def test_what_is_expected_just_outside_the_band_is_said_to_that_side(margin, side):
    c = with_margin(model(), margin)
    found = {t.key: t for t in tendencies(c, prior_belief(static_margin_sigma=0.003), trimmed(c))}
    assert found["static_margin"].verdict == f"expected: more {side} than wanted"


def test_an_amount_says_its_side_in_words_and_a_speed_has_none():
    """Rolls to the left are negative, and so are nose down and nose left; a tail-heavy margin reads "behind"."""
    c = with_margin(model(), 0.09)
    belief = prior_belief(static_margin_sigma=0.02)
    for twist in (0.01, -0.01):
        mean = belief.mean.copy()
        mean[P.TWIST] = twist
        found = {t.key: t for t in tendencies(c, replace(belief, mean=mean), trimmed(c))}
        roll = found["roll_cruise"]
        assert roll.words.endswith(roll.right if roll.value > 0 else roll.left)
        assert abs(roll.value) > 1.0
        for key in ("stall_speed", "static_margin"):
            side = found[key].words.split()[-1]
            assert side not in {found[key].left, found[key].right}
        assert (roll.value > 0) is (predictions.roll_rate_cruise(mean, Moment(design_of(c), trimmed(c))) > 0)


def test_a_rail_holds_its_band_in_the_middle_and_shows_as_far_beyond_it_as_models_go():
    """Common practice, no source: 14 % beyond the band of a margin, 8 deg/s in pitch and 15 in roll at 14 m/s and 1.5 m, 8 deg of
    yaw, 30 % of a stall speed."""
    c = with_margin(model(), 0.09)
    found = {t.key: t for t in tendencies(c, prior_belief(static_margin_sigma=0.02), trimmed(c))}
    for t in found.values():
        assert t.rail_low + t.rail_high == pytest.approx(t.low + t.high)
    ends = {k: t.rail_high for k, t in found.items()}
    assert ends["static_margin"] == pytest.approx(found["static_margin"].high + 14.0)
    speed, span = design_of(c).cruise_speed_mps, design_of(c).aero.planform.span_m
    pitch, roll = 8.0 * 14.0 / speed, 15.0 * (speed / 14.0) / (span / 1.5)
    assert (ends["pitch_trim"], ends["roll_cruise"], ends["roll_slow"], ends["yaw"]) == pytest.approx(
        (pitch, roll, roll, 8.0)
    )
    assert ends["power_pitch"] == pytest.approx(4.0 * found["power_pitch"].high)
    stall = found["stall_speed"]
    assert (stall.low, stall.high, stall.rail_high) == pytest.approx(
        tuple(f * design_of(c).stall_speed_mps for f in (0.9, 1.1, 1.3))
    )


def test_an_honest_forecaster_scores_a_standard_normal():
    """Prior N(0, s_p); data leave a posterior of sigma s_f: its mean moves with variance s_p^2 - s_f^2 (total variance)."""
    c = with_margin(model(), 0.1)
    rng = np.random.default_rng(4)
    wide, narrow = prior_belief(static_margin_sigma=0.03), prior_belief(static_margin_sigma=0.015)
    before = tendencies(c, wide, trimmed(c))
    z = []
    for _ in range(300):
        moved = narrow.mean.copy()
        moved[P.STATIC_MARGIN] = rng.normal(0, (0.03**2 - 0.015**2) ** 0.5)
        found = tendencies(c, replace(narrow, mean=moved), trimmed(c))
        z.append(next(s.sigmas for s in score_prediction(before, found) if s.key == "static_margin"))
    assert np.std(z) == pytest.approx(1.0, abs=0.12)
    assert np.mean(np.abs(z) < 1) == pytest.approx(0.68, abs=0.08)


@pytest.mark.parametrize(
    ("z", "within", "words"),
    [(0.5, True, "as predicted"), (-1.5, False, "within two sigma"), (2.5, False, "a surprise")],
)
def test_a_prediction_is_scored_in_the_sigmas_that_were_stated(z, within, words):
    c = model()
    found = tendencies(c, prior_belief(static_margin_sigma=0.03), trimmed(c))[0]
    score = scored(found, found, z)
    assert score.within_one_sigma is within
    assert score.words.startswith(words)


def test_a_flight_that_taught_nothing_is_scored_in_quarters_of_what_was_said():
    """sqrt(sigma_p^2 - sigma_f^2) would be nothing: a quarter of the sigma that was stated is the least it is measured by."""
    c = with_margin(model(), 0.1)
    before = tendencies(c, prior_belief(static_margin_sigma=0.03), trimmed(c))
    said = next(t for t in before if t.key == "static_margin")
    found = replace(said, value=said.value + 0.5 * said.sigma)
    (score,) = score_prediction((said,), (found,))
    assert score.sigmas == pytest.approx(0.5 / 0.25)
