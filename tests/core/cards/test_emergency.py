"""Emergency cards: directions in words, nothing about a motor that is not there, short enough for a glance."""

from __future__ import annotations

import re
from dataclasses import replace

import pytest

from jinba.core.cards.emergency import EMERGENCY_KINDS, Emergency, emergencies_for
from jinba.core.configuration import Configuration
from jinba.core.controls.radio import RadioSheet
from jinba.core.silhouettes import SILHOUETTES
from jinba.core.silhouettes import silhouette_configuration as silhouette

MOST_LETTERS, MOST_STEPS = 120, 9


def card(configuration: Configuration, key: str) -> Emergency:
    return next(e for e in emergencies_for(configuration) if e.key == key)


def with_radio(configuration: Configuration, **sheet) -> Configuration:
    return replace(configuration, controls=replace(configuration.control_setup, radio=RadioSheet(**sheet)))


@pytest.mark.parametrize("shape", SILHOUETTES)
def test_every_model_has_every_card_short_and_says_nothing_of_what_it_has_not(shape):
    c = silhouette(shape, span_m=1.4)
    cards = emergencies_for(c)
    assert tuple(e.key for e in cards) == EMERGENCY_KINDS
    for e in cards:
        assert 3 <= len(e.steps) <= MOST_STEPS, e.key
        assert max(map(len, (*e.steps, e.sign, e.never, e.then))) <= MOST_LETTERS, e.key
        assert e.never.startswith("Never "), e.key
    words = " ".join(w for e in cards for w in (e.sign, *e.steps, e.never, e.then)).lower()
    if c.airframe.motor is None:
        assert not re.search(r"throttle|motor|power|propeller", words)
    else:
        assert "throttle" in words
        assert "propeller" in words


def test_what_is_held_is_trimmed_the_same_way_in_the_words_of_model_stick_and_lever():
    c = with_radio(silhouette("low_wing", span_m=1.4), mode=2, levers_reversed=("roll",))
    steps = card(c, "out_of_trim").steps
    assert "Held right stick back, towards you: trim it nose up, lever towards you, beside the right stick." in steps
    assert "Held right stick to the right: trim it right wing down, lever to the left, beside the right stick." in steps
    plain = card(replace(c, controls=None), "out_of_trim").steps
    assert "Held stick forward, away from you: trim it nose down, lever away from you." in plain


def test_a_reversed_elevator_is_flown_the_other_way_round():
    c = with_radio(silhouette("low_wing", span_m=1.4), mode=1)
    assert (
        "Left stick forward, away from you, lifts the nose; left stick back, towards you, lowers it."
        in card(c, "reversed").steps
    )
