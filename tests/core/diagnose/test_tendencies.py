"""Behaviours, risk and the score of a prediction."""

from dataclasses import replace

import numpy as np
import pytest
from scipy.stats import norm

from jinba.core.diagnose.score import score_prediction, scored
from jinba.core.diagnose.tendencies import propagate, risk_behind_minimum, tendencies
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
    _, sigma = propagate(predictions.roll_rate_slow, moment, belief)
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
    assert heavy["static_margin"].verdict == "expected: nose-heavy for its class"
    assert heavy["static_margin"].out
    assert not heavy["static_margin"].settled
    c = with_margin(model(), -0.02)
    light = {t.key: t for t in tendencies(c, prior_belief(static_margin_sigma=0.02), trimmed(c))}
    assert light["static_margin"].verdict == "expected: tail-heavy for its class"


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
