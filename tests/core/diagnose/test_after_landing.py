"""What hands find after landing: heat, what is loose, and surfaces that do not rest where their trims say."""

from __future__ import annotations

import pytest

from jinba.core.cards.fitted import cards_of
from jinba.core.cards.model import CardRecord, Outcome, Reading, check_record
from jinba.core.diagnose.after_landing import found_by_hand
from jinba.core.diagnose.wandering import wandering_trim
from jinba.core.frames import Axis
from jinba.core.observe.situation import Trims
from jinba.core.silhouettes import silhouette_configuration

SETUP = silhouette_configuration("low_wing", span_m=1.5)
CARDS = cards_of(SETUP)


def looked(**choices):
    record = CardRecord("A2", Outcome.DONE, tuple(Reading(k, choice=c) for k, c in choices.items()))
    check_record(CARDS["A2"], record)
    return record


def rested(part, mm, way, setup=SETUP):
    readings = (Reading(f"{part}_mm", number=mm), Reading(f"{part}_way", choice=way), Reading("noted", choice="yes"))
    record = CardRecord("A3", Outcome.DONE, readings)
    check_record(cards_of(setup)["A3"], record)
    return (record,)


@pytest.mark.parametrize(
    ("record", "codes"),
    [
        (looked(motor_heat="warm", pack_heat="hot", tight="yes"), []),
        (looked(motor_heat="too_hot", tight="yes"), ["too_hot"]),
        (looked(pack_heat="too_hot", tight="no"), ["too_hot", "loose"]),
    ],
)
def test_what_is_too_hot_to_hold_or_not_tight_stops_the_next_flight(record, codes):
    found = found_by_hand((record,))
    assert [f.code for f in found] == codes
    assert all(f.stops for f in found)


def test_what_was_seen_to_and_looked_at_again_stops_no_more():
    assert found_by_hand((looked(tight="no"), looked(tight="yes"))) == ()
    assert found_by_hand(()) == ()


def test_a_glider_is_not_asked_for_the_heat_of_its_motor():
    glider = cards_of(silhouette_configuration("sailplane", span_m=2.0))["A2"]
    assert [c.key for c in glider.captures] == ["pack_heat", "tight"]


@pytest.mark.parametrize(
    ("axis", "part", "rad", "there", "other"),
    [
        (Axis.PITCH, "elevator", 0.06, "down", "up"),
        (Axis.ROLL, "aileron", 0.06, "up", "down"),
        (Axis.YAW, "rudder", 0.06, "left", "right"),
        (Axis.ROLL, "aileron", -0.06, "down", "up"),
        (Axis.YAW, "rudder", -0.06, "right", "left"),
    ],
)
def test_a_surface_that_rests_where_its_trim_says_is_silent_and_the_other_way_it_has_moved(
    axis, part, rad, there, other
):
    """Trimmed right, the right aileron stands up; trimmed to yaw left, the rudder's trailing edge stands left (docs/methods/signs.md)."""
    landed = Trims(0.0, 0.0, 0.0).moved(axis, rad)
    mm = round(SETUP.ruler_mm(axis, rad), 1)
    assert mm > 1.0
    assert wandering_trim(SETUP, rested(part, mm, there), landed) == ()
    (found,) = wandering_trim(SETUP, rested(part, mm, other), landed)
    assert found.code == "surface_moved"
    assert f"{other} off fair" in found.words
    assert f"{there}: something has moved" in found.words


def test_surfaces_that_do_two_things_at_once_are_not_asked_for_one_of_them():
    wing = cards_of(silhouette_configuration("flying_wing", span_m=1.2))["A3"]
    assert [c.key for c in wing.captures] == ["elevator_mm", "elevator_way", "noted"]
    own = {c.key for c in CARDS["A3"].captures}
    assert {"aileron_mm", "rudder_mm"} < own


def test_a_foreplane_is_compared_in_its_own_way():
    canard = silhouette_configuration("canard", span_m=1.5)
    landed = Trims(0.06, 0.0, 0.0)
    mm = round(canard.ruler_mm(Axis.PITCH, 0.06), 1)
    assert wandering_trim(canard, rested("elevator", mm, "up", canard), landed) == ()
    assert len(wandering_trim(canard, rested("elevator", mm, "down", canard), landed)) == 1
