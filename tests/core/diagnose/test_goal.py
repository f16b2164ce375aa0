"""What a model is balanced for: behaviours turned into margins, bounded, learnt and in the right direction."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jinba.core.configuration import Configuration, ModelClass, PublishedPoint, balance_of
from jinba.core.correct.balance import correct_balance, wanted_margin
from jinba.core.diagnose import goal as goal_module
from jinba.core.diagnose.behaviour import behaviour
from jinba.core.diagnose.goal import Goal, asked_of, furthest_forward, goal_of
from jinba.core.diagnose.tendencies import judged_by, tendencies
from jinba.core.diagnose.update import Belief, prior_of, update
from jinba.core.errors import JinbaError
from jinba.core.observe.measures import MEASURES, Datum
from jinba.core.observe.parameters import P
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import design_of, resting_trims, situation
from jinba.core.wish import Wanted, Wish
from tests.builders import ALL_SEEN, ZERO, model, trimmed, with_margin

LAYOUTS = ["low_wing", "high_wing", "canard", "biplane", "sailplane", "v_tail"]


def asking(wish: Wish | None, c: Configuration | None = None) -> Configuration:
    return replace(c or model(), flown_inverted=True, wish=wish)


def push(amount: float) -> Wish:
    return Wish(Wanted.PUSH, amount)


def goal(c: Configuration, belief: Belief | None = None) -> Goal:
    return goal_of(c, belief or prior_of(design_of(c)))


def does_at(c: Configuration, belief: Belief, margin: float) -> float:
    """What a model that is balanced at a margin does of what is asked for, what its form misses included."""
    assert c.wish is not None
    predict, missed, times = asked_of(c.wish.behaviour)
    d, x = design_of(c), belief.mean.copy()
    x[P.STATIC_MARGIN] = margin - d.static_margin
    return float(predict(x, Moment(d, resting_trims(c)))) + times * belief.missed(missed, d)


def test_fifteen_per_cent_push_is_the_margin_by_hand():
    """A glider in trim: the push between upright and inverted is 2 SM C_L / V_d (docs/methods/master-equation.md), over the throw."""
    c = asking(push(0.15), replace(model("sailplane"), airframe=replace(model("sailplane").airframe, motor=None)))
    d, belief = design_of(c), prior_of(design_of(c))
    belief = replace(belief, mean=ZERO.copy(), bias={"inverted_stick": 0.0})
    s = situation(d, ZERO, speed_mps=d.cruise_speed_mps)
    by_hand = 0.15 * d.elevator_throw_rad * d.aero.pitch_control / (2.0 * s.lift)
    assert c.rules.minimum < by_hand < furthest_forward(c.rules)
    assert goal(c, belief).margin == pytest.approx(by_hand, abs=2e-4)


@pytest.mark.parametrize("layout", LAYOUTS)
@pytest.mark.parametrize(
    "wish", [push(0.12), Wish(Wanted.DIVE, word="eases"), Wish(Wanted.TOUCHDOWN, 0.6)], ids=lambda w: w.behaviour
)
def test_balanced_there_it_does_what_was_asked_for_or_says_what_holds_it(layout, wish):
    c = asking(wish, model(layout))
    belief = prior_of(design_of(c))
    found = goal(c, belief)
    if found.asked is None:
        assert "much the same" in found.bound
        return
    low, high = found.asked
    there = does_at(c, belief, found.margin)
    assert low <= there <= high
    at_bound = found.margin == pytest.approx(c.rules.minimum) or found.margin == pytest.approx(
        furthest_forward(c.rules)
    )
    assert bool(found.bound) is at_bound
    assert found.sigma > 0.0


def test_more_push_a_harder_pull_out_and_more_back_stick_want_the_balance_further_forward():
    """In words: who asks for more push, more pull-out or more back stick asks for a more nose-heavy model."""
    for less, more in (
        (push(0.05), push(0.20)),
        (Wish(Wanted.DIVE, word="eases"), Wish(Wanted.DIVE, word="pulls_out")),
        (Wish(Wanted.TOUCHDOWN, 0.3), Wish(Wanted.TOUCHDOWN, 0.9)),
    ):
        assert goal(asking(less)).margin < goal(asking(more)).margin


def test_nobody_is_led_behind_the_least_margin_of_his_class_or_away_from_the_published_point():
    c = asking(push(0.0))
    assert goal(c).margin == c.rules.minimum
    assert goal(c).band[0] == c.rules.minimum
    assert "held by the least margin of its class, 4 % of the chord" in goal(c).bound
    d = design_of(c)
    published = d.aero.neutral_point.x_m - 0.12 * d.aero.planform.mac_m
    near = goal(replace(c, published=PublishedPoint(published)))
    assert near.margin == pytest.approx(0.12 - c.rules.band, abs=1e-6)
    assert "about the published point" in near.bound
    # One that lies behind the least margin holds nobody there.
    behind = replace(c, published=PublishedPoint(d.aero.neutral_point.x_m))
    assert goal(behind).margin == c.rules.minimum


def test_without_a_wish_it_is_the_target_of_the_class_and_aerobatics_are_further_aft():
    plain = goal(asking(None))
    assert (plain.margin, *plain.band, plain.asked) == pytest.approx((0.09, 0.06, 0.12, None))
    assert goal(replace(asking(None), model_class=ModelClass.AEROBATIC)).margin == 0.06


def test_a_model_that_was_seen_to_want_more_push_than_computed_is_balanced_further_aft():
    """What its closed form misses is learnt by flying it, and the goal goes with it: twice as much as asked at the bench's margin."""
    c = with_margin(asking(push(0.15)), 0.09)
    d, prior = design_of(c), prior_of(design_of(c))
    measure = MEASURES["F14", "stick_held"].sized(d)
    value = measure.predict(prior.mean, Moment(d, trimmed(c))) + 0.15
    seen = update(prior, (Datum(measure, Moment(d, trimmed(c)), value, value, 0.02, "F14", "inverted"),) * 3)
    now = d.static_margin + seen.mean[P.STATIC_MARGIN]
    assert goal(c, seen).margin - now < goal(c, prior).margin - d.static_margin - 0.01


def test_how_far_it_is_from_there_is_known_as_well_as_what_was_seen():
    """Against draws from the joint belief: the spread of (h - w)/h' over unknowns and the error, not the margin's own sigma."""
    c = with_margin(asking(push(0.15)), 0.11)
    d, prior = design_of(c), prior_of(design_of(c))
    measure, m = MEASURES["F14", "stick_held"].sized(d), Moment(d, trimmed(c))
    value = measure.predict(prior.mean, m)
    seen = update(prior, (Datum(measure, m, value, value, 0.02, "F14", "inverted"),))
    found, i = goal(c, seen), list(seen.bias).index("inverted_stick") + len(seen.mean)
    assert seen.joint is not None
    drawn = np.random.default_rng(3).multivariate_normal(
        np.concatenate([seen.mean, list(seen.bias.values())]), seen.joint, size=4000
    )
    predict, _, times = asked_of(Wanted.PUSH)
    h = np.array([predict(x[: len(seen.mean)], m) + times * x[i] for x in drawn])
    assert found.slope is not None
    assert found.away_sigma == pytest.approx(h.std() / found.slope, rel=0.10)
    balance = next(j for j in judged_by(c, seen, m) if j.key == "static_margin")
    assert balance.band == pytest.approx([100 * e for e in found.band])
    assert np.sqrt(balance.slopes @ seen.covariance @ balance.slopes) > 0.0


def test_the_rails_show_the_balance_it_is_for_and_the_behaviour_beside_it():
    c = with_margin(asking(push(0.15)), 0.09)
    found = {t.key: t for t in tendencies(c, prior_of(design_of(c)), trimmed(c))}
    assert list(found)[:2] == ["static_margin", "asked_push"]
    assert found["asked_push"].low < 15.0 < found["asked_push"].high
    assert (found["static_margin"].low, found["static_margin"].high) == pytest.approx(
        tuple(100 * e for e in goal(c).band)
    )
    assert "F14" in found["asked_push"].verdict
    assert "asked_push" not in {t.key for t in tendencies(asking(None), prior_of(design_of(c)), trimmed(c))}


def test_a_model_that_wants_more_push_than_asked_for_has_its_battery_moved_aft_and_says_what_for():
    c = with_margin(asking(push(0.08)), 0.15)
    d, prior = design_of(c), prior_of(design_of(c))
    known = replace(prior, covariance=0.02 * prior.covariance, bias={"inverted_stick": 0.0})
    found = correct_balance(c, known, ALL_SEEN)
    assert balance_of(found.configuration).x_m > d.balance.x_m
    assert "aft" in found.actions[0].words
    assert "for 8 % push held inverted" in found.wanted_words
    # And never so far that the margin may lie below the least of its class.
    assert wanted_margin(c, prior) >= c.rules.minimum + 1.75 * prior.sigma[P.STATIC_MARGIN]


def test_a_wing_that_comes_out_of_any_dive_alike_is_balanced_for_its_class_and_says_so():
    c = asking(Wish(Wanted.DIVE, word="eases"), model("flying_wing", span_m=0.6))
    found = goal(c)
    assert (found.margin, found.asked) == (c.rules.target, None)
    assert "cannot be had by moving it" in found.bound


@settings(max_examples=40, deadline=None)
@given(st.sampled_from(LAYOUTS), st.floats(0.0, 0.4), st.floats(-0.2, 0.2), st.floats(-0.3, 0.3))
def test_whatever_is_asked_for_the_goal_lies_between_the_least_and_the_most_of_its_class(
    layout, amount, margin, elevator
):
    c = asking(push(amount), model(layout))
    belief = prior_of(design_of(c))
    mean = belief.mean.copy()
    mean[P.STATIC_MARGIN], mean[P.LN_ELEVATOR] = margin, elevator
    found = goal_of(c, replace(belief, mean=mean))
    assert c.rules.minimum <= found.margin <= furthest_forward(c.rules)
    assert np.isfinite([found.sigma, found.away_sigma]).all()


@pytest.mark.parametrize(
    ("make", "says"),
    [
        (lambda: push(0.5), "50 % push held inverted cannot be asked for: say 0 to 40 % of full stick"),
        (lambda: push(float("nan")), "cannot be asked for"),
        (lambda: Wish(Wanted.TOUCHDOWN, 1.2), "120 % back stick held at touchdown cannot be asked for"),
        (lambda: Wish(Wanted.DIVE, word="rears_out"), "keeps its line, eases out gently, pulls out"),
        (lambda: replace(model(), flown_inverted=False, wish=push(0.05)), "say that you fly it so"),
    ],
)
def test_what_cannot_be_asked_for_is_said_with_what_can(make, says):
    with pytest.raises(JinbaError, match=says):
        make()


def test_a_behaviour_is_as_unsure_as_its_error_where_no_flight_has_met_it():
    """100 times the persistent error of the inverted stick, in per cent of full: nothing else is unknown."""
    c = asking(push(0.05))
    d, belief = design_of(c), prior_of(design_of(c))
    predict, missed, times = asked_of(Wanted.PUSH)
    known = replace(belief, covariance=np.zeros_like(belief.covariance))
    _, sigma, _ = behaviour(predict, missed, known, Moment(d, trimmed(c)), times=times)
    assert sigma == pytest.approx(100.0 * MEASURES["F14", "stick_held"].sized(d).bias)


def _at(margin: float) -> np.ndarray:
    x = ZERO.copy()
    x[P.STATIC_MARGIN] = margin
    return x


def test_a_behaviour_that_is_flat_where_it_is_wanted_makes_no_model_sure_of_nothing(monkeypatch):
    """Where more margin changes nothing of what is asked for, divided by that slope every sigma would be without end."""
    form = goal_module._FORMS[Wanted.PUSH]
    base = design_of(model()).static_margin

    def ends(x, _m):
        return 20.0 + 20.0 * float(np.tanh(60.0 * (base + x[P.STATIC_MARGIN] - 0.06)))

    monkeypatch.setitem(goal_module._FORMS, Wanted.PUSH, replace(form, predict=ends, missed="inverted_stick"))
    c = asking(push(0.399))
    belief = replace(prior_of(design_of(c)), bias={"inverted_stick": 0.0})
    found = goal(c, belief)
    (low, high), floor = (found.low, found.high), 40.0 / (furthest_forward(c.rules) - c.rules.minimum)
    here = (ends(belief.mean + _at(high - base), None) - ends(belief.mean + _at(low - base), None)) / (high - low)
    assert abs(here) < 0.5 * floor, "it is flat where it is wanted"
    assert found.slope is not None
    assert abs(found.slope) > 0.5 * floor
