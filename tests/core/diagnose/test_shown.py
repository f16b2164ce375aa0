"""How a behaviour is known, and what a landed sortie is said to mean: nothing is well that was not seen."""

from __future__ import annotations

from dataclasses import replace

import pytest

from bench.advice import model_of, rated, record
from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.diagnose.estimate import estimate_of, headline
from jinba.core.diagnose.seen import Logged, seen_of
from jinba.core.diagnose.shown import Shown, chance_in_band, how_shown, sure_side
from jinba.core.diagnose.sorties import LoggedSortie
from jinba.core.frames import Response
from jinba.core.spoken import spoken

LOOKED_AT = ("F1", "F2", "F3", "F4", "F5", "F7", "F28", "F29")
PUSH = record("F14", Reading("stick_held", number=0.3, direction=Response.NOSE_DOWN))
FASTER = record(
    "F13", Reading("clicks_fast", number=3.0, direction=Response.NOSE_DOWN), Reading("left_over", choice="holds")
)
SPEED = record("F8", Reading("entry_speed", number=8.8))


def after(*records: CardRecord):
    c = model_of("low_wing", 1.5)
    c = replace(c, jig=None if c.jig is None else replace(c.jig, again_m=c.jig.x_m))
    return estimate_of((LoggedSortie(c, records),), said=())


def said(*records: CardRecord, broken_off: tuple[str, ...] = (), together: float | None = None) -> str:
    found = after(*records)
    counted = {"data_count": found.data_count, "broken_off": broken_off, "together": together}
    return spoken(headline("Fell", found.after, **counted))


def shown(found, key: str) -> Shown:
    return next(t.shown for t in found.after if t.key == key)


def test_chances_are_those_of_the_normal_curve():
    """68.3 and 95.4 % within one and two sigma; 84.1 % below one sigma above (table of the normal distribution)."""
    assert chance_in_band(0.0, 1.0, (-1.0, 1.0)) == pytest.approx(0.6827, abs=1e-4)
    assert chance_in_band(0.0, 0.5, (-1.0, 1.0)) == pytest.approx(0.9545, abs=1e-4)
    assert [chance_in_band(v, 0.0, (-1.0, 1.0)) for v in (-1.2, 0.0, 1.2)] == [0.0, 1.0, 0.0]
    assert [sure_side(v, 0.0, (-1.0, 1.0)) for v in (-1.2, 0.0, 1.2)] == [-1, 0, 1]
    assert [sure_side(v, 1.0, (-1.0, 1.0)) for v in (-2.0, -1.7, 0.0, 1.7, 2.0)] == [-1, 0, 0, 0, 1]


def test_nothing_flown_is_not_known_and_never_well():
    found = after()
    assert {t.shown for t in found.after} <= {Shown.UNKNOWN, Shown.INFERRED}
    assert not any(t.settled for t in found.after)
    assert said() == "Fell: Nothing was learned in this sortie: fly F2 and F3."
    assert found.score == ()
    words = said(CardRecord("F1", Outcome.ABORTED), broken_off=("F1",))
    assert words.startswith("Fell: F1 broken off. Nothing was learned")
    assert "before the next take-off" in words


def test_where_it_should_be_needs_every_behaviour_seen_in_its_band():
    cards = [record(k) for k in LOOKED_AT]
    some = said(*cards)
    assert "is where it should be" not in some
    assert (
        "Fell: 5 of 7 behaviours seen in their band, none outside. Not seen yet: Balance (F13 or F12), Stall speed (F8)."
        in some
    )
    whole = (*cards, SPEED, rated("F12", "dive", "pulls_out"), PUSH, FASTER)
    assert shown(after(*whole), "pitch_trim") is Shown.IN_BAND
    assert said(*whole) == "Fell is where it should be: every behaviour was seen in its band."
    assert "is where it should be" not in said(*whole, broken_off=("F12",))
    # Nine chances in ten that all of them lie there at once, or it is not said; the chance stands beside it.
    assert said(*whole, together=0.93).endswith("; that all lie there at once is 93 % likely.")
    assert said(*whole, together=0.93).startswith("Fell is where it should be")
    assert said(*whole, together=0.62) == (
        "Fell: every behaviour was seen in its band; that all lie there at once is 62 % likely."
    )


@pytest.mark.parametrize(
    ("word", "alone", "expected", "verdict"),
    [
        ("holds", True, Shown.IN_BAND, "let go, it holds its height"),
        ("rears", True, Shown.ABOVE, "let go, the nose rises"),
        ("drops", True, Shown.BELOW, "let go, the nose drops"),
        ("drops", False, Shown.BELOW, "let go, the nose drops"),
        ("rears", False, Shown.ABOVE, "let go, the nose rises"),
    ],
)
def test_in_band_never_stands_beside_rears_drops_or_could_not_be_left_alone(word, alone, expected, verdict):
    found = after(record("F1"), rated("F2", "left_over", word, alone=alone))
    pitch = next(t for t in found.after if t.key == "pitch_trim")
    assert (pitch.shown, pitch.verdict) == (expected, verdict)
    assert pitch.out is (expected is not Shown.IN_BAND)
    calm = after(record("F1"), rated("F2", "left_over", "holds", alone=False))
    assert shown(calm, "pitch_trim") is not Shown.IN_BAND


def test_a_word_at_the_end_of_the_scale_rules_over_a_number_inside_the_band():
    for word, expected in (("left_fast", Shown.BELOW), ("right_fast", Shown.ABOVE), ("level", Shown.IN_BAND)):
        seen = seen_of([Logged(rated("F3", "left_over", word), 1)])
        assert how_shown("roll_cruise", 0.0, 1.0, (-3.0, 3.0), seen) is expected
    drifts = seen_of([Logged(rated("F3", "left_over", "right"), 1)])
    assert how_shown("roll_cruise", 1.9, 1.6, (-3.0, 3.0), drifts) is Shown.UNSURE, (
        "inside, and yet it was seen to drift"
    )
    assert how_shown("roll_cruise", 1.0, 1.0, (-3.0, 3.0), drifts) is Shown.IN_BAND
    assert how_shown("roll_cruise", 3.2, 1.6, (-3.0, 3.0), drifts) is Shown.ABOVE
    assert how_shown("roll_cruise", 0.0, 1.0, (-3.0, 3.0), seen_of([])) is Shown.INFERRED
    assert how_shown("roll_cruise", 0.0, 6.0, (-3.0, 3.0), seen_of([])) is Shown.UNKNOWN


def test_a_prediction_is_scored_on_what_was_flown_and_on_nothing_else():
    assert [s.key for s in after(record("F1"), record("F2")).score] == ["pitch_trim"]
    assert {s.key for s in after(*(record(k) for k in LOOKED_AT)).score} == {
        "pitch_trim",
        "roll_cruise",
        "roll_slow",
        "power_pitch",
        "yaw",
    }


def test_the_own_card_of_power_and_of_slow_roll_says_more_than_the_approach():
    """Found by looking: "seen outside" stood beside a value in the middle of its band, for a go-round that F5 had overruled."""
    approach = record("F28", Reading("go_round", choice="rears"), Reading("roll_slow", choice="right_fast"))
    step, slow = record("F5", Reading("pitch_full", choice="holds")), record("F7", Reading("roll_slow", choice="level"))
    band = (-1.0, 1.0)
    alone, both = (seen_of(Logged(r, 1) for r in rs) for rs in ((approach,), (approach, step, slow)))
    for key in ("power_pitch", "roll_slow"):
        assert how_shown(key, 0.0, 0.2, band, alone) is Shown.ABOVE
        assert how_shown(key, 0.0, 0.2, band, both) is Shown.IN_BAND
