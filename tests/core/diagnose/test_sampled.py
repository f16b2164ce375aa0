"""The belief and what is said of it against plain sampling: nothing here is solved, everything is drawn."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy.stats import multivariate_t

from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.diagnose.causes import A_FAULT, causes, largest_fault, words_of_the_pilot
from jinba.core.diagnose.likelihood import scores_of
from jinba.core.diagnose.reliability import kept, said_and_seen
from jinba.core.diagnose.score import score_prediction
from jinba.core.diagnose.sorties import LoggedSortie, sortie_data
from jinba.core.diagnose.tendencies import judged_by, tendencies
from jinba.core.diagnose.together import SET_BY_HAND, all_in_band, joint_state
from jinba.core.diagnose.update import STATED_OVER_SOLVED, prior_of, update
from jinba.core.frames import Response
from jinba.core.observe.measures import errors_of
from jinba.core.observe.parameters import COUNT, P, prior_means
from jinba.core.observe.predictions import Moment, moment_upside_down
from jinba.core.observe.situation import design_of, resting_trims
from tests.builders import model, with_margin

C = with_margin(model(), 0.12)
STEPS = 8_000
OF_PITCH = (P.STATIC_MARGIN, P.PITCH_MOMENT, P.THRUST_DOWN, P.LN_ELEVATOR, P.LN_SPEED, P.LN_WORDS)
DESIGN = design_of(C)


def flown(*records: CardRecord) -> LoggedSortie:
    return LoggedSortie(C, records)


def said(card: str, **words: str) -> CardRecord:
    return CardRecord(card, Outcome.DONE, tuple(Reading(k, choice=c) for k, c in words.items()), True)


TRIM = said("F2", left_over="holds")
FASTER = CardRecord(
    "F13",
    Outcome.DONE,
    (Reading("clicks_fast", number=3, direction=Response.NOSE_DOWN), Reading("left_over", choice="holds")),
    True,
)
DIVE = said("F12", dive="pulls_out")


@pytest.mark.parametrize("records", [(TRIM, FASTER), (TRIM, FASTER, DIVE)])
def test_the_belief_is_that_of_a_markov_chain(records):
    """Independence Metropolis over unknowns and errors (Hastings, Biometrika 57, 1970; from memory), proposed by a t distribution about
    the solution: whatever is proposed, the chain is of the posterior that is written out here."""
    data, prior = sortie_data(flown(*records)), prior_of(DESIGN)
    prior = type(prior)(prior.mean, prior.covariance, {}, prior.pulls)
    found = update(prior, data)
    assert found.joint is not None
    keys = list(found.bias)
    errors = {e.key: e for d in data for e in d.measure.errors}
    mean = np.concatenate([prior.mean, [errors[k].mean for k in keys]])
    spread = np.concatenate([prior.sigma, [errors[k].sigma for k in keys]])

    low, high, sigma = [d.low for d in data], [d.high for d in data], [d.sigma for d in data]

    def log_density(state: np.ndarray) -> float:
        said = [
            d.measure.said(state[:COUNT], d.moment)
            + sum(e.share * state[COUNT + keys.index(e.key)] for e in d.measure.errors)
            for d in data
        ]
        heard = scores_of(*(np.array(v) for v in (low, high, said, sigma))).log
        return -0.5 * float((((state - mean) / spread) ** 2).sum()) + float(heard.sum())

    rng = np.random.default_rng(1)
    peak = np.concatenate([found.mean, list(found.bias.values())])
    # What a card of pitch knows nothing of stays where it is: it is independent of all the rest.
    moving = [*OF_PITCH, *range(COUNT, len(peak))]
    proposed = multivariate_t(peak[moving], found.joint[np.ix_(moving, moving)], df=8, seed=rng)
    drawn_at = proposed.rvs(STEPS)
    states = np.tile(peak, (STEPS, 1))
    states[:, moving] = drawn_at
    weights = np.array([log_density(s) for s in states]) - proposed.logpdf(drawn_at)
    here, drawn = 0, []
    for trial, luck in enumerate(np.log(rng.random(STEPS))):
        here = trial if luck < weights[trial] - weights[here] else here
        drawn.append(states[here, :COUNT])
    chain = np.array(drawn[STEPS // 10 :])
    for p, stated in ((P.STATIC_MARGIN, STATED_OVER_SOLVED), (P.PITCH_MOMENT, 1.0), (P.LN_ELEVATOR, 1.0)):
        assert found.mean[p] == pytest.approx(chain[:, p].mean(), abs=0.3 * chain[:, p].std())
        # A word has no curvature between its edges, and a strength of words bends the rest: to some narrower, some wider.
        assert 0.85 < found.sigma[p] / (stated * chain[:, p].std()) < 1.2


def test_the_chance_of_all_behaviours_at_once_is_that_of_drawing_them():
    belief = update(prior_of(DESIGN), sortie_data(flown(TRIM, FASTER)))
    rests = resting_trims(C)
    judged = [j for j in judged_by(C, belief, Moment(DESIGN, rests)) if j.key in SET_BY_HAND]
    errors = errors_of(DESIGN)
    covariance, keys = joint_state(belief, {j.missed: errors[j.missed].sigma for j in judged if j.missed})
    rng = np.random.default_rng(2)
    drawn = rng.multivariate_normal(np.zeros(len(covariance)), covariance, 200_000)
    inside = np.ones(len(drawn), dtype=bool)
    for j in judged:
        value = j.value + drawn[:, :COUNT] @ j.slopes
        value += drawn[:, COUNT + keys.index(j.missed)] if j.missed else 0.0
        inside &= (value >= j.band[0]) & (value <= j.band[1])
    together = all_in_band(C, belief, rests)
    assert together == pytest.approx(inside.mean(), abs=0.004)
    assert together == all_in_band(C, belief, rests), "the same belief, the same chance"
    least = min(t.chance for t in tendencies(C, belief, rests) if t.key in SET_BY_HAND)
    assert 0.0 < together <= least + 0.002, "no likelier than the least likely of them"


def test_the_largest_fault_is_as_likely_as_by_hand_and_what_is_left_is_not_explained():
    """One unknown at three of its sigmas, all others known to be as the bench says: it is the fault, for certain; at half a sigma none is."""
    prior = prior_of(DESIGN)
    for sigmas, chance in ((3.0, 1.0), (-3.0, 1.0), (0.5, 0.0), (A_FAULT, 0.5)):
        mean = prior_means()
        mean[P.TWIST] += sigmas * prior.sigma[P.TWIST]
        covariance = np.diag((1e-3 * prior.sigma) ** 2)
        chances = largest_fault(prior, type(prior)(mean, covariance, {}, prior.pulls))
        assert chances[P.TWIST] == pytest.approx(chance, abs=0.03)
        assert chances.sum() == pytest.approx(chance, abs=0.03)
    nothing_flown = largest_fault(prior, prior)
    # None of twelve beyond 1.5 sigma: 0.866 to the twelfth (standard normal table).
    assert 1.0 - nothing_flown.sum() == pytest.approx(0.866**12, abs=0.02)


def test_what_the_flights_do_not_tell_apart_is_named_as_a_twin():
    """Balance and elevator both decide what a stick upside down shows: correlated by 0.9 they are twins, by 0.5 they are not."""
    prior = prior_of(DESIGN)
    for together, twin in ((0.9, "elevator_power"), (-0.9, "elevator_power"), (0.5, "")):
        covariance = np.diag(prior.sigma**2)
        i, j = P.STATIC_MARGIN, P.LN_ELEVATOR
        covariance[i, j] = covariance[j, i] = together * prior.sigma[i] * prior.sigma[j]
        belief = type(prior)(prior.mean, covariance, {}, np.zeros((0, COUNT)))
        found = {c.key: c for c in causes(prior, (), belief)}
        assert (found["static_margin"].twin, found["twist"].twin) == (twin, "")


@pytest.mark.parametrize(
    ("mean", "sigma", "said"),
    [
        (0.2, 0.15, "Your words are 21 % stronger than most people's"),
        (-0.2, 0.15, "Your words are 17 % weaker than most people's"),
        (0.02, 0.15, "Your words are as strong as most people's"),
        (3.0, 0.15, "Your words are 65 % stronger than most people's"),
        (0.2, 0.24, ""),
        (0.2, 0.0, ""),
    ],
)
def test_the_strength_of_words_is_said_as_it_is_counted_and_only_where_something_told(mean, sigma, said):
    """exp(0.5 tanh(0.2/0.5)) = 1.21, and 0.83 the other way; at most exp(0.5) = 1.65 (table of the exponential)."""
    prior = prior_of(DESIGN)
    means, covariance = prior_means(), np.diag(prior.sigma**2)
    means[P.LN_WORDS], covariance[P.LN_WORDS, P.LN_WORDS] = mean, sigma**2
    found = words_of_the_pilot(prior, type(prior)(means, covariance, {}, prior.pulls))
    assert found.startswith(said)
    assert bool(found) is bool(said)


def test_a_model_that_nothing_pitches_has_errors_all_the_same():
    assert moment_upside_down(replace(DESIGN, elevator_throw_rad=0.0)) == 0.0


def test_what_was_said_against_what_came_true():
    """By hand: nine of ten said to be 95 % likely came true, two of four said to be 30 %."""
    rows = kept([(0.95, True)] * 9 + [(0.95, False)] + [(0.3, True), (0.3, False)] * 2)
    assert [(k.low, k.count, k.came_true) for k in rows] == [(0.2, 4, 2), (0.8, 10, 9)]
    assert rows[1].said == pytest.approx(0.95)
    # Wilson, 9 of 10: 0.596 to 0.982 (table, from memory).
    assert (rows[1].least, rows[1].most) == pytest.approx((0.596, 0.982), abs=1e-3)
    assert all(k.honest for k in rows)
    assert not kept([(0.9, False)] * 20)[0].honest
    assert kept([]) == ()


def test_only_what_was_flown_on_its_own_card_is_held_against_what_was_said():
    before = tendencies(C, prior_of(DESIGN), resting_trims(C))
    after = tendencies(C, update(prior_of(DESIGN), sortie_data(flown(TRIM))), resting_trims(C))
    of_trim = tuple(t for t in after if t.key == "pitch_trim")
    pairs = said_and_seen(before, of_trim, score_prediction(before, of_trim))
    assert pairs == [(next(t.chance for t in before if t.key == "pitch_trim"), True)]
