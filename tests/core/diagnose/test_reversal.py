"""Reversal trial and trim that wanders within one flight."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest

from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.diagnose.reversal import reversal
from jinba.core.diagnose.sorties import LoggedSortie
from jinba.core.diagnose.wandering import wandering_trim
from jinba.core.errors import JinbaError
from jinba.core.frames import Axis, Response
from jinba.core.observe.situation import design_of
from jinba.core.spoken import spoken
from tests.builders import model

OLD = model()
NEW = replace(OLD, elevator=replace(OLD.elevator, mechanical_rad=OLD.elevator.mechanical_rad + math.radians(1.5)))


def flown(setup, clicks: int) -> LoggedSortie:
    way = Response.NOSE_UP if clicks >= 0 else Response.NOSE_DOWN
    readings = (Reading("pitch_clicks", number=abs(clicks), direction=way), Reading("left_over", choice="holds"))
    return LoggedSortie(setup, (CardRecord("F2", Outcome.DONE, readings, left_alone=True),))


def clicks_of(rows):
    return next(r for r in rows if r.measure == "pitch_clicks")


def test_a_change_that_did_it_is_proved_and_a_drift_cancels():
    rows = reversal(flown(OLD, 0), flown(NEW, 7), flown(OLD, 1), card_id="F2")
    row = clicks_of(rows)
    assert row.effect == pytest.approx(row.changed - 0.5 * (row.before + row.again))
    assert row.proved
    assert "the change did it" in row.words
    still = clicks_of(reversal(flown(OLD, 1), flown(NEW, 2), flown(OLD, 2), card_id="F2"))
    assert not still.proved
    assert "not proved" in still.words
    assert "drifted" not in still.words
    drifting = clicks_of(reversal(flown(OLD, -9), flown(NEW, 4), flown(OLD, 9), card_id="F2"))
    assert not drifting.proved
    assert "drifted as much by itself" in drifting.words


def test_what_is_no_reversal_is_refused():
    with pytest.raises(JinbaError, match="same setting"):
        reversal(flown(OLD, 0), flown(NEW, 1), flown(NEW, 0), card_id="F2")
    with pytest.raises(JinbaError, match="Nothing was changed"):
        reversal(flown(OLD, 0), flown(OLD, 1), flown(OLD, 0), card_id="F2")
    with pytest.raises(JinbaError, match="not logged in all three"):
        reversal(flown(OLD, 0), flown(NEW, 1), flown(OLD, 0), card_id="F5")


def counted(*clicks: int, mm: float | None = None) -> tuple[CardRecord, ...]:
    rows = [
        CardRecord("F3", Outcome.DONE, (Reading("roll_clicks", number=c, direction=Response.ROLL_RIGHT),))
        for c in clicks
    ]
    if mm is not None:
        rows.append(CardRecord("A3", Outcome.DONE, (Reading("elevator_mm", number=mm),)))
    return tuple(rows)


def test_trim_that_wanders_in_one_flight_is_a_squawk():
    """Common practice, no source: trim wandering during one flight is a servo or linkage fault, stop and inspect."""
    assert wandering_trim(OLD, counted(3, 4)) == ()
    found = wandering_trim(OLD, counted(3, 4, 8))
    assert [s.code for s in found] == ["wandering_trim"]
    assert "aileron trim wandered by 5 clicks" in found[0].words
    assert "do not fly" in found[0].words


def test_a_surface_that_rests_elsewhere_than_its_trim_says_is_a_squawk():
    rests = OLD.ruler_mm(Axis.PITCH, OLD.elevator.resting_rad)
    assert wandering_trim(OLD, counted(mm=round(rests + 0.5, 1))) == ()
    assert [s.code for s in wandering_trim(OLD, counted(mm=rests + 4.0))] == ["surface_moved"]


def test_a_reversal_says_how_much_more_or_less_with_the_scatter_of_three_flights():
    """var(b - (a + c)/2) = s^2 (1 + 1/4 + 1/4), s = 1.4 clicks from flight to flight (docs/methods/estimator.md)."""
    for clicks, word in ((7, "less"), (-7, "more")):
        row = clicks_of(reversal(flown(OLD, 0), flown(NEW, clicks), flown(OLD, 0), card_id="F2"))
        assert row.sigma == pytest.approx(1.4 * math.sqrt(1.5))
        # Nose up is the elevator's negative way.
        assert row.effect == pytest.approx(-clicks)
        assert f" {word} with the change" in row.words


def test_a_word_counts_as_the_middle_of_its_class():
    """Nose rises: 1.5 to 6 degrees a second at 14 m/s, so 3.75; the change that makes it hold takes all of that away."""

    def felt(setting, word):
        rated = CardRecord("F28", Outcome.DONE, (Reading("go_round", choice=word),))
        return LoggedSortie(setting, (rated,))

    rows = reversal(felt(OLD, "rises"), felt(NEW, "holds"), felt(OLD, "rises"), card_id="F28")
    (row,) = [r for r in rows if r.before]
    middle = 3.75 * 14.0 / design_of(OLD).cruise_speed_mps
    assert (row.before, row.again, row.changed) == pytest.approx((middle, middle, 0.0))


def test_a_surface_that_moved_says_where_it_rests_and_where_its_trim_says():
    rests = OLD.ruler_mm(Axis.PITCH, OLD.elevator.resting_rad)
    (found,) = wandering_trim(OLD, counted(mm=rests + 4.0))
    assert f"rests {rests + 4.0:.1f} mm off fair after landing, its trim says {rests:.1f} mm" in spoken(found.words)
