"""Room for a blunder on the bench: how probable it is, what a second reading does, and what a new one means for old flights."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from scipy.stats import norm

from jinba.core.bench.answer import bench_answer
from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.configuration import balance_of, with_carried_jig
from jinba.core.diagnose.contradictions import contradictions
from jinba.core.diagnose.seen import NOTHING
from jinba.core.diagnose.sorties import LoggedSortie, belief_after, read_as
from jinba.core.diagnose.tendencies import risk_behind_minimum
from jinba.core.diagnose.update import STATED_OVER_SOLVED, prior_belief, prior_of, update
from jinba.core.frames import Response
from jinba.core.observe.measures import Datum, Measure
from jinba.core.observe.parameters import P
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import design_of
from jinba.core.spoken import spoken
from tests.builders import model, trimmed, with_margin


def said_of_margin(value: float, sigma: float) -> Datum:
    c = model()
    m = Measure("direct", "direct", "", lambda x, _: float(x[P.STATIC_MARGIN]), sigma, 1e-9, "direct")
    return Datum(m, Moment(design_of(c), trimmed(c)), value, value, sigma, "F0", "direct")


@pytest.mark.parametrize("value", [0.0, 0.03, -0.08, 0.15])
def test_the_chance_of_a_misreading_and_the_margin_after_it_are_those_of_the_mixture(value):
    """0.8 N(0, s^2) + 0.2 N(0, s^2 + 0.05^2) times the likelihood of one reading, integrated on a grid (scipy's normal density)."""
    s, sigma = 0.02, 0.015
    found = update(prior_belief(static_margin_sigma=s, misread=0.2), (said_of_margin(value, sigma),))
    grid = np.linspace(-0.6, 0.6, 24001)
    likely = norm.pdf(value, loc=grid, scale=sigma)
    well = 0.8 * norm.pdf(grid, scale=s) * likely
    wrong = 0.2 * norm.pdf(grid, scale=math.hypot(s, 0.05)) * likely
    both = well + wrong
    mean = float((grid * both).sum() / both.sum())
    assert found.misread == pytest.approx(float(wrong.sum() / both.sum()), abs=1e-3)
    assert found.mean[P.STATIC_MARGIN] == pytest.approx(mean, abs=1e-4)
    spread = math.sqrt(float(((grid - mean) ** 2 * both).sum() / both.sum()))
    assert found.sigma[P.STATIC_MARGIN] == pytest.approx(max(STATED_OVER_SOLVED * spread, 0.01), rel=5e-3)


def pushed(c, push: float) -> LoggedSortie:
    reading = Reading("stick_held", number=push, direction=Response.NOSE_DOWN)
    trim = CardRecord("F2", Outcome.DONE, (Reading("left_over", choice="holds"),), True)
    return LoggedSortie(c, (trim, CardRecord("F14", Outcome.DONE, (reading,), True)))


def read_twice(c):
    return replace(c, jig=replace(c.jig, again_m=c.jig.x_m + 0.0005))


def test_flights_far_from_the_bench_ask_for_the_balance_again_with_the_odds_and_not_once_it_was_read_twice():
    """A flying wing whose dive steepens by itself lies behind its neutral point: the bench, which says nine per cent, was misread."""
    once = with_margin(model("flying_wing"), 0.09)
    tucks = CardRecord("F12", Outcome.DONE, (Reading("dive", choice="tucks"),), True)
    dived = (LoggedSortie(once, (*pushed(once, 0.3).records[:1], tucks)),)
    belief = belief_after(dived, configuration=once)
    assert belief.misread > 0.9
    margin, sigma = design_of(once).static_margin + belief.mean[P.STATIC_MARGIN], belief.sigma[P.STATIC_MARGIN]
    assert margin < 0.02
    assert risk_behind_minimum(once, margin_fraction=margin, sigma_fraction=sigma) > 0.9, (
        "it is all but sure to be too little"
    )
    (said,) = contradictions(NOTHING, belief, prior_of(design_of(once)))
    assert "to 1 that it was misread: more tail-heavy" in spoken(said.words)
    assert "Read the balance again, another way" in said.words
    twice = read_twice(once)
    assert belief_after((replace(dived[0], configuration=twice),), configuration=twice).misread == 0.0
    near = belief_after((pushed(once, 0.3),), configuration=once)
    assert near.misread < 0.25
    assert contradictions(NOTHING, near, prior_of(design_of(once))) == ()


def test_two_readings_that_agree_are_known_better_and_two_that_do_not_are_said():
    c = with_margin(model(), 0.09)
    one, two = balance_of(c), balance_of(read_twice(c))
    assert two.x_m == pytest.approx(one.x_m + 0.00025)
    assert two.sigma_m == pytest.approx(one.sigma_m / math.sqrt(2.0))
    assert (one.misread, two.misread) == (0.2, 0.0)
    apart = replace(c, jig=replace(c.jig, again_m=c.jig.x_m + 0.02))
    assert balance_of(apart).sigma_m == pytest.approx(0.01)
    assert balance_of(apart).misread == 0.2
    words = spoken(bench_answer(apart).disagreement.words)
    assert "The two readings differ by 20 mm" in words
    assert "Read it a third time" in words


def test_both_readings_are_carried_over_a_pack_that_moves():
    c = read_twice(with_margin(model(), 0.09))
    pack = c.battery
    moved = replace(c, items=tuple(replace(i, x_m=i.x_m + 0.03) if i is pack else i for i in c.items))
    carried = with_carried_jig(c, moved)
    assert balance_of(carried).x_m == pytest.approx(balance_of(moved).x_m)
    assert carried.jig.agrees
    assert carried.jig.again_m - carried.jig.x_m == pytest.approx(0.0005)


def test_a_balance_read_again_corrects_the_flights_before_and_they_keep_what_they_said():
    """Flown at 12 % as read; read again it is 4 % less, for that flight too: what it showed is then no nose-heavy model."""
    wrong = with_margin(model(), 0.12)
    design = design_of(wrong)
    right = replace(wrong, jig=replace(wrong.jig, x_m=wrong.jig.x_m + 0.04 * design.aero.planform.mac_m))
    flight = pushed(wrong, 0.3)
    (as_read,) = read_as((flight,), right)
    assert balance_of(as_read.configuration).x_m == pytest.approx(balance_of(right).x_m)
    assert as_read.records == flight.records
    before, after = belief_after((flight,), configuration=wrong), belief_after((flight,), configuration=right)
    flown = [
        design.static_margin + before.mean[P.STATIC_MARGIN],
        design_of(right).static_margin + after.mean[P.STATIC_MARGIN],
    ]
    assert flown[0] > flown[1] > 0.05
    assert after.mean[P.STATIC_MARGIN] > before.mean[P.STATIC_MARGIN]
    assert read_as((flight,), wrong) == (flight,)
