"""What cannot both be true is said: which two, and how to tell."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import CardRecord, Outcome, Reading, check_record
from jinba.core.diagnose.contradictions import contradictions
from jinba.core.diagnose.seen import seen_in
from jinba.core.diagnose.sorties import LoggedSortie
from jinba.core.diagnose.update import prior_of
from jinba.core.frames import Response
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import design_of
from tests.builders import model

C = model()
PRIOR = prior_of(design_of(C))


def record(card: str, *readings: Reading, alone: bool | None = None) -> CardRecord:
    made = CardRecord(card, Outcome.DONE, readings, alone)
    check_record(CARDS[card], made)
    return made


def said(*records: CardRecord, belief=PRIOR) -> list[str]:
    return [s.code for s in contradictions(seen_in((LoggedSortie(C, records),), C), belief, PRIOR)]


PULLS_OUT = record("F12", Reading("dive", choice="pulls_out"), alone=True)
TUCKS = record("F12", Reading("dive", choice="tucks"), alone=True)


def clicks(way: Response) -> CardRecord:
    word = Reading("left_over", choice="holds")
    return record("F13", Reading("clicks_fast", number=4, direction=way), word, alone=True)


def stall(speed: float) -> CardRecord:
    return record(
        "F8",
        Reading("wing", choice="none"),
        Reading("sharpness", choice=CARDS["F8"].capture("sharpness").options[0].key),
        Reading("height_lost", number=5.0),
        Reading("entry_speed", number=speed),
    )


PUSH = record("F14", Reading("stick_held", number=0.4, direction=Response.NOSE_DOWN), alone=True)


@pytest.mark.parametrize(
    ("records", "codes"),
    [
        ((PULLS_OUT, clicks(Response.NOSE_UP)), ["balance"]),
        ((TUCKS, clicks(Response.NOSE_DOWN)), ["balance"]),
        ((TUCKS, PUSH), ["balance"]),
        ((PULLS_OUT, clicks(Response.NOSE_DOWN), PUSH), []),
        ((TUCKS, clicks(Response.NOSE_UP)), []),
        ((), []),
    ],
)
def test_two_cards_that_speak_for_a_nose_heavy_and_a_tail_heavy_model_are_named(records, codes):
    """Found by review: 25 pairs tried, none noticed."""
    assert said(*records) == codes


@pytest.mark.parametrize(
    ("way", "word", "wants"),
    [
        (Response.NOSE_DOWN, "holds", "nose_heavy"),
        (Response.NOSE_DOWN, "rises", "nose_heavy"),
        (Response.NOSE_DOWN, "sinks", ""),
        (Response.NOSE_UP, "holds", "tail_heavy"),
        (Response.NOSE_UP, "sinks", "tail_heavy"),
        (Response.NOSE_UP, "rises", ""),
    ],
)
def test_trimmed_past_the_middle_a_second_speed_speaks_for_neither(way, word, wants):
    """Four clicks one way and the nose still goes that way: the record says both, and no more than that it was too many."""
    trimmed_so = record(
        "F13", Reading("clicks_fast", number=4, direction=way), Reading("left_over", choice=word), alone=True
    )
    seen = seen_in((LoggedSortie(C, (trimmed_so,)),), C)
    assert bool(seen.nose_heavy) is (wants == "nose_heavy")
    assert bool(seen.tail_heavy) is (wants == "tail_heavy")
    assert said(trimmed_so) == []


def test_the_sentence_names_both_cards_what_each_means_and_how_to_tell():
    seen = seen_in((LoggedSortie(C, (PULLS_OUT, clicks(Response.NOSE_UP))),), C)
    (found,) = contradictions(seen, PRIOR, PRIOR)
    assert "F12: let go, it pulls out of the dive: that is a nose-heavy model" in found.words
    assert "F13: faster, it wants up trim: that is a tail-heavy one" in found.words
    assert "Fly F13 again" in found.words


@pytest.mark.parametrize(
    ("word", "wing", "codes"),
    [
        ("left", "right", ["left_and_right"]),
        ("right_fast", "left", ["left_and_right"]),
        ("left", "left", []),
        ("level", "right", []),
    ],
)
def test_a_card_that_says_left_and_right_at_once_is_questioned(word, wing, codes):
    rolled = record(
        "F3",
        Reading("roll_clicks", number=0.0, none=True),
        Reading("left_over", choice=word),
        Reading("bank_wing", choice=wing),
        Reading("bank_time_first", number=3.0),
    )
    assert said(rolled) == codes


@pytest.mark.parametrize(("sigmas", "way"), [(3.0, "nose-heavy"), (-3.0, "tail-heavy"), (2.0, ""), (-2.0, "")])
def test_flights_that_contradict_the_bench_ask_for_the_balance_to_be_read_again(sigmas, way):
    mean = PRIOR.mean.copy()
    mean[P.STATIC_MARGIN] = sigmas * np.sqrt(PRIOR.covariance[P.STATIC_MARGIN, P.STATIC_MARGIN])
    found = contradictions(seen_in((), C), replace(PRIOR, mean=mean), PRIOR)
    assert [s.code for s in found] == (["bench"] if way else [])
    assert not way or f"more {way}" in found[0].words
    assert not way or "Read the balance again" in found[0].words


@pytest.mark.parametrize(
    ("made", "codes"),
    [
        (
            record(
                "F2",
                Reading("pitch_clicks", number=0),
                Reading("left_over", choice="holds"),
                Reading("time_to_20_deg", number=1.0),
                alone=True,
            ),
            ["word_and_time"],
        ),
        (
            record(
                "F2",
                Reading("pitch_clicks", number=0),
                Reading("left_over", choice="holds"),
                Reading("time_to_20_deg", number=9.0),
                alone=True,
            ),
            [],
        ),
        (
            record(
                "F2",
                Reading("pitch_clicks", number=0),
                Reading("left_over", choice="rises"),
                Reading("time_to_20_deg", number=1.0),
                alone=True,
            ),
            [],
        ),
        (
            record(
                "F2",
                Reading("pitch_clicks", number=100, direction=Response.NOSE_UP),
                Reading("left_over", choice="holds"),
                alone=True,
            ),
            ["many_clicks"],
        ),
        (stall(80.0), ["stall_speed"]),
        (stall(9.0), []),
    ],
)
def test_a_card_that_contradicts_itself_or_all_reason_is_asked_again(made, codes):
    """Found by review: "holds" with twenty degrees in a second, a hundred clicks, a stall at 80 m/s: all were believed."""
    seen = seen_in((LoggedSortie(C, (made,)),), C)
    found = contradictions(seen, PRIOR, PRIOR, stall_mps=design_of(C).stall_speed_mps)
    assert [s.code for s in found] == codes
    assert all(made.card_id in s.about for s in found)
