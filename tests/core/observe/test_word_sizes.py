"""Words mean the same on a light park flyer and on a heavy tug: the same load factor, the same turn over the span."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.cards.scales import DIVE, PITCH_DRIFT, ROLL_DRIFT, Per, load_factor_of, size
from jinba.core.diagnose.ordinary import ordinary_of, tells_apart
from jinba.core.diagnose.seen import seen_in
from jinba.core.diagnose.sorties import LoggedSortie
from jinba.core.diagnose.tendencies import tendencies
from jinba.core.diagnose.update import prior_of
from jinba.core.flight.piloting.person import PITCH_EDGES, Eyes, Person, draw_person
from jinba.core.frames import Response
from jinba.core.observe.predictions import Moment
from jinba.core.observe.readings import data_of
from jinba.core.observe.situation import design_of
from jinba.core.plan.programme import programme
from jinba.core.plan.states import CardState
from tests.builders import model, trimmed, with_margin

SIZES = [("high_wing", 0.5), ("low_wing", 1.5), ("low_wing", 3.0), ("flying_wing", 0.8), ("sailplane", 3.0)]


def test_the_words_begin_at_the_load_factors_of_a_trainer_at_fourteen_metres_a_second():
    """Common practice, no source: trim at 0.04 and 0.15, the dive at -0.03, 0.06, 0.17 and 0.30."""
    assert [load_factor_of(e) for e in PITCH_DRIFT.edges] == pytest.approx([-0.15, -0.04, 0.04, 0.15], abs=0.005)
    assert [load_factor_of(e) for e in DIVE.edges] == pytest.approx([-0.03, 0.06, 0.17, 0.30], abs=0.006)
    assert [e * 1.5 / 14.0 for e in ROLL_DRIFT.edges] == pytest.approx([-0.96, -0.21, 0.21, 0.96], abs=0.01)


@pytest.mark.parametrize(("key", "span"), SIZES)
def test_a_nose_that_rises_says_the_same_load_factor_on_every_size(key, span):
    """Path rate times airspeed over g, by hand: whatever the model, "rises" begins at 0.037 g and ends at 0.15."""
    c = model(key, span_m=span)
    record = CardRecord("F2", Outcome.DONE, (Reading("left_over", choice="rises"),), True)
    (found,) = [d for d in data_of(record, Moment(design_of(c), trimmed(c))) if d.measure.key == "pitch_left_over"]
    speed = design_of(c).cruise_speed_mps
    loads = [math.radians(v) * speed / 9.80665 for v in (found.low, found.high)]
    assert loads == pytest.approx([0.0374, 0.1495], abs=2e-4)
    own = found.sigma / found.measure.scatter
    assert own / (found.high - found.low) == pytest.approx(0.9 / 4.5), "the doubt goes with the word"


@pytest.mark.parametrize(("key", "span"), SIZES)
def test_a_roll_that_drifts_says_the_same_turn_over_the_span_on_every_size(key, span):
    c = model(key, span_m=span)
    record = CardRecord("F3", Outcome.DONE, (Reading("left_over", choice="right"),))
    (found,) = [d for d in data_of(record, Moment(design_of(c), trimmed(c))) if d.measure.key == "roll_left_over"]
    d = design_of(c)
    turns = [v * d.aero.planform.span_m / d.cruise_speed_mps for v in (found.low, found.high)]
    assert turns == pytest.approx([2.0 * 1.5 / 14.0, 9.0 * 1.5 / 14.0])


@pytest.mark.parametrize(("key", "span"), SIZES)
def test_in_its_band_and_the_middle_word_are_one_and_the_same(key, span):
    """Two screens must not say different things: what holds by the card is in trim by the rail."""
    c = model(key, span_m=span)
    record = CardRecord("F2", Outcome.DONE, (Reading("left_over", choice="holds"),), True)
    (word,) = [d for d in data_of(record, Moment(design_of(c), trimmed(c))) if d.measure.key == "pitch_left_over"]
    rails = {t.key: t for t in tendencies(c, prior_of(design_of(c)), trimmed(c))}
    assert (rails["pitch_trim"].low, rails["pitch_trim"].high) == pytest.approx((word.low, word.high))


def test_slower_and_smaller_mean_faster_rates():
    assert size(Per.PATH, cruise_mps=7.0, span_m=0.6) == pytest.approx(2.0)
    assert size(Per.ROLL, cruise_mps=14.0, span_m=0.75) == pytest.approx(2.0)
    assert size(Per.ITSELF, cruise_mps=7.0, span_m=0.6) == 1.0


def test_a_simulated_pilot_judges_by_size_as_far_as_he_does():
    """Seven metres a second bend a path twice as fast for the same load; one who sees bare rates calls that fast."""
    sees, bare = (Eyes(Person(by_size=share), np.random.default_rng(1)) for share in (1.0, 0.0))
    for eyes in (sees, bare):
        eyes.looks_at(cruise_mps=7.0, span_m=0.7)
    assert sees.path_word(3.0, PITCH_EDGES) == 2
    assert bare.path_word(3.0, PITCH_EDGES) == 3
    shares = [draw_person(np.random.default_rng(i)).by_size for i in range(200)]
    assert min(shares) >= 0.0
    assert 0.7 < float(np.mean(shares)) < 0.9


def dived(key: str, span: float, word: str):
    c = with_margin(model(key, span_m=span), 0.09)
    sortie = LoggedSortie(c, (CardRecord("F12", Outcome.DONE, (Reading("dive", choice=word),), True),))
    return seen_in((sortie,), c)


def test_what_a_model_does_at_its_least_margin_too_speaks_for_no_nose_heavy_one():
    """A small flying wing pulls hard out of any dive: that sends no battery aft. A trainer's does not at five per cent."""
    assert not dived("flying_wing", 0.8, "rears_out").nose_heavy
    assert not dived("low_wing", 1.5, "eases").nose_heavy
    assert dived("low_wing", 1.5, "rears_out").nose_heavy
    assert dived("flying_wing", 0.8, "tucks").tail_heavy, "a warning is never ordinary"


def test_clicks_and_push_count_from_what_the_least_margin_asks_for():
    c = with_margin(model("delta", span_m=0.8), 0.09)
    least = ordinary_of(c)

    def speaks(card: str, key: str, number: float):
        reading = Reading(key, number=number, direction=Response.NOSE_DOWN)
        word = (Reading("left_over", choice="holds"),) if card == "F13" else ()
        sortie = LoggedSortie(c, (CardRecord(card, Outcome.DONE, (reading, *word), True),))
        return bool(seen_in((sortie,), c).nose_heavy)

    few, push = max(2.0, least.clicks_faster), max(0.15, least.push)
    assert [speaks("F13", "clicks_fast", few + d) for d in (-0.5, 0.5)] == [False, True]
    assert [speaks("F14", "stick_held", push + d) for d in (-0.02, 0.02)] == [False, True]


def test_a_card_that_answers_any_balance_with_the_same_word_is_not_offered():
    """A heavy, fast tandem with very large wings: its dive keeps its line whatever its balance."""
    heavy = model("tandem", span_m=3.0)
    fast = replace(heavy, cruise_speed_mps=90.0)
    assert tells_apart(model("low_wing"), "F12")
    assert not tells_apart(fast, "F12")
    assert tells_apart(fast, "F14"), "a stick that is held has no words"
    plan = programme(fast, results={}, stale=frozenset(), sorties_flown=3)
    (dive,) = [p for p in plan.cards if p.card_id == "F12"]
    assert dive.state is CardState.NOT_FOR_THIS_MODEL
    assert "same word" in dive.reason
