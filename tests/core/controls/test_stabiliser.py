"""Level reference, gains, midpoints, trims that are commands; and washers by the numbers."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import brentq

from jinba.core.bench.controls import flown_gains
from jinba.core.bench.level import level_for, level_from_record
from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.cards.stale import difference
from jinba.core.controls.shims import shim_m, tilt_rad
from jinba.core.controls.stabiliser import (
    Device,
    GainEntry,
    GainSeen,
    Learning,
    ModeProof,
    Stabiliser,
    level_correction,
    masks,
    next_gains,
    stabiliser_findings,
    trims_forbidden,
)
from jinba.core.controls.switches import FlightMode
from jinba.core.correct.level import correct_level
from jinba.core.diagnose.seen import Seen
from jinba.core.diagnose.wandering import wandering_trim
from jinba.core.errors import OutOfRangeError
from jinba.core.frames import Axis
from jinba.core.observe.readings import trims_after
from jinba.core.observe.situation import Trims, design_of, resting_trims
from jinba.core.spoken import spoken
from tests.builders import model


def path_at(attitude: float, *, lift: float, slope: float, cd0: float, k: float, fall: float) -> float:
    """Return the steady path angle [rad] of a point mass held at an attitude above the level one, thrust T0 (V0/V)^fall.

    Written apart from the program: unknown speed ratio v, alpha = attitude - path, CL = lift cos(path)/v^2,
    sin(path) = (T - D)/W, solved by a root finder.
    """
    level = lift / slope

    def path_of(v: float) -> float:
        low, high = -0.7, 0.7
        return float(brentq(lambda g: lift * math.cos(g) / v**2 - slope * (level + attitude - g), low, high))

    def balance(v: float) -> float:
        g = path_of(v)
        cl = lift * math.cos(g) / v**2
        drag = v**2 * (cd0 + k * cl**2) / lift
        thrust = (cd0 + k * lift**2) / lift * v**-fall
        return math.sin(g) - (thrust - drag)

    return path_of(float(brentq(balance, 0.8, 1.25)))


@pytest.mark.parametrize("fall", [0.0, 1.0])
@pytest.mark.parametrize(("lift", "cd0", "k"), [(0.35, 0.035, 0.06), (0.5, 0.04, 0.05), (0.25, 0.03, 0.07)])
def test_the_correction_levels_an_independent_point_mass(lift, cd0, k, fall):
    """A reference 0.5 degrees off shows a path; the correction read from that path must be 0.5 degrees back."""
    off = math.radians(0.5)
    path = path_at(off, lift=lift, slope=4.8, cd0=cd0, k=k, fall=fall)
    c = level_correction(
        height_m=math.sin(path) * 15.0 * 20.0,
        seconds=20.0,
        speed_mps=15.0,
        lift=lift,
        lift_slope=4.8,
        cd_zero=cd0,
        induced_factor=k,
        thrust_fall=fall,
    )
    assert c.path_rad == pytest.approx(path)
    assert c.change_rad == pytest.approx(-off, rel=0.06)


@pytest.mark.parametrize("key", ["high_wing", "twin_boom_pusher", "flying_wing", "v_tail"])
def test_the_factor_of_models_lies_where_practice_has_it(key):
    """About 1.2 to 3.4 times the path angle at cruise; climbs: lower it, sinks: raise it (common practice, no source)."""
    d = design_of(model(key))
    climbing, sinking = level_for(d, height_m=6.0, seconds=20.0), level_for(d, height_m=-6.0, seconds=20.0)
    assert 1.2 <= climbing.factor <= 3.4
    assert climbing.change_rad < 0 < sinking.change_rad
    assert "Lower the level reference" in climbing.words
    assert "Raise the level reference" in sinking.words
    assert math.radians(1.0) <= abs(climbing.thumb_rad) <= math.radians(2.0)
    assert climbing.thumb_rad < 0.0 < sinking.thumb_rad, "by the thumb too it is lowered where it climbs"


def test_a_card_says_the_same_as_the_numbers_and_a_bad_flight_is_refused():
    d = design_of(model("high_wing"))
    card = CardRecord(
        "F23",
        Outcome.DONE,
        (Reading("path", choice="sinks"), Reading("height", number=6.0), Reading("seconds", number=20.0)),
    )
    assert level_from_record(d, card) == level_for(d, height_m=-6.0, seconds=20.0)
    assert level_from_record(d, replace(card, readings=card.readings[:1])) is None
    blank = replace(card, readings=(card.readings[0], card.readings[2]))
    assert level_from_record(d, blank) is None, "it sinks, by how much nobody said: that is not 'leave it'"
    held = replace(card, readings=(Reading("path", choice="holds"), card.readings[2]))
    assert level_from_record(d, held) == level_for(d, height_m=0.0, seconds=20.0)
    with pytest.raises(OutOfRangeError, match="height over distance"):
        level_for(d, height_m=300.0, seconds=5.0)
    with pytest.raises(OutOfRangeError, match="speed stability"):
        level_correction(
            height_m=3,
            seconds=20,
            speed_mps=8,
            lift=1.1,
            lift_slope=4.8,
            cd_zero=0.03,
            induced_factor=0.07,
            thrust_fall=0.0,
        )


@given(height=st.floats(-20, 20))
def test_the_correction_is_odd_and_grows_with_the_height(height):
    d = design_of(model("high_wing"))
    one, other = (level_for(d, height_m=s * height, seconds=20.0).change_rad for s in (1, -1))
    assert one == pytest.approx(-other, abs=1e-12)


def entries(*rows: tuple[float, GainSeen], term: str = "P") -> tuple[GainEntry, ...]:
    return tuple(GainEntry(Axis.PITCH, term, value, seen) for value, seen in rows)


@pytest.mark.parametrize(
    ("log", "value", "settled"),
    [
        (entries((20, GainSeen.FINE)), 25.0, False),
        (entries((20, GainSeen.FINE), (25, GainSeen.OSCILLATES)), 18.75, False),
        (entries((25, GainSeen.OSCILLATES), (18.75, GainSeen.FINE)), 18.75, True),
        (entries((20, GainSeen.SLUGGISH)), 25.0, False),
        (entries((20, GainSeen.OSCILLATES), (15, GainSeen.SLUGGISH)), 15.0, True),
        (entries((30, GainSeen.NOSE_DIPS), term="I"), 37.5, False),
        (entries((30, GainSeen.ROLLS_AWAY), term="I"), 37.5, False),
        (entries((37.5, GainSeen.FINE), term="I"), 37.5, True),
    ],
)
def test_gains_rise_until_they_shake_and_then_back_off(log, value, settled):
    """Common practice, no source: P up until it oscillates, then back; I just enough for the climb."""
    found = next_gains(log)[0]
    assert found.value == pytest.approx(value, rel=0.01)
    assert found.settled is settled


def codes(s: Stabiliser, clicks: tuple[int, int, int] = (0, 0, 0)) -> dict[str, bool]:
    return {f.code: f.stops for f in stabiliser_findings(s, clicks=clicks, midpoints_known=False)}


SET = Stabiliser(directions_checked=True, calibrated=True)


def test_trims_are_forbidden_with_a_controller_and_harmless_with_a_gyro():
    assert codes(SET) == {}
    assert codes(SET, clicks=(0, 2, 0)) == {"trims": True}
    gyro = replace(SET, device=Device.GYRO)
    assert codes(gyro, clicks=(0, 2, 0)) == {"trims": False}
    assert trims_forbidden(SET)
    assert not trims_forbidden(gyro)
    assert not trims_forbidden(None)


def test_a_level_reference_in_two_places_is_found():
    twice = replace(SET, level_board_rad=math.radians(4), level_mode_rad=math.radians(2))
    assert codes(twice)["level_twice"]
    assert math.degrees(twice.level_rad) == pytest.approx(6.0)
    assert codes(replace(SET, level_board_rad=0.07)) == {}


def test_what_is_not_checked_stored_or_steady_is_said():
    assert codes(Stabiliser()) == {"directions": True, "calibration": True}
    assert codes(replace(SET, learning=Learning.ONE_SHOT)) == {"not_stored": False}
    assert codes(replace(SET, learning=Learning.ONE_SHOT, stored_proved=True)) == {}
    assert codes(replace(SET, proofs=(ModeProof(FlightMode.CIRCLE, "2026-05-02", hunted=True),))) == {"hunting": False}
    assert masks(FlightMode.PASS_THROUGH) == ()
    assert "the stall, which it hides" in masks(FlightMode.RATE)


@pytest.mark.parametrize(("rows_mm", "degrees"), [(16, 2.9), (19, 2.4), (25, 1.8), (32, 1.4), (44, 1.0)])
def test_washers_of_eight_tenths(rows_mm, degrees):
    """0.8 mm over bolt rows of 16 to 44 mm: common practice, no source (geometry)."""
    assert math.degrees(tilt_rad(thickness_m=0.0008, spacing_m=rows_mm / 1e3)) == pytest.approx(degrees, abs=0.05)
    assert shim_m(
        tilt_rad=tilt_rad(thickness_m=0.0008, spacing_m=rows_mm / 1e3), spacing_m=rows_mm / 1e3
    ) == pytest.approx(0.0008)


def flown_level(path: str, height: float | None, *, both: bool) -> Seen:
    readings = [Reading("path", choice=path), Reading("seconds", number=20.0)]
    readings += [] if height is None else [Reading("height", number=height)]
    readings += [Reading("both_headings", choice="yes")] if both else []
    return Seen(cards=frozenset({"F23"}), records=(CardRecord("F23", Outcome.DONE, tuple(readings)),))


@pytest.mark.parametrize(
    ("path", "height", "both", "words", "turned"),
    [
        ("climbs", 8.0, False, "lower the nose", -1.0),
        ("sinks", 8.0, False, "raise the nose", 1.0),
        ("sinks", 40.0, False, "raise the nose by 2.0 degrees", 1.0),
        ("sinks", 40.0, True, "raise the nose", 1.0),
    ],
)
def test_the_level_reference_is_reworked_two_degrees_at_a_time_unless_both_headings_were_timed(
    path, height, both, words, turned
):
    """Climbs: lower it; sinks: raise it (common practice, no source); the height over the time is what it is computed from."""
    c = model("high_wing")
    c = replace(c, controls=replace(c.control_setup, stabiliser=Stabiliser()))
    after, action, held = correct_level(c, flown_level(path, height, both=both))
    assert held is None
    assert action is not None
    assert words in action.words
    moved = after.control_setup.stabiliser.level_rad
    assert math.copysign(1.0, moved) == turned
    assert math.degrees(abs(moved)) == pytest.approx(action.amount)
    assert (action.amount > 2.0) is both
    assert "F23" in difference(c, after).stale


def test_a_blank_height_moves_no_level_reference_and_says_what_is_missing():
    c = model("high_wing")
    assert correct_level(c, flown_level("climbs", None, both=False)) == (c, None, None), "no stabiliser"
    c = replace(c, controls=replace(c.control_setup, stabiliser=Stabiliser()))
    after, action, held = correct_level(c, flown_level("climbs", None, both=False))
    assert (after, action) == (c, None)
    assert held is not None
    assert held.cards == ("F23",)
    assert correct_level(c, flown_level("holds", None, both=False)) == (c, None, None)
    _, action, held = correct_level(c, flown_level("climbs", 299.0, both=False))
    assert (action, held is not None) == (None, True), "299 m in 20 s is no cruise: it moves nothing and fails no page"
    far = replace(c, controls=replace(c.control_setup, stabiliser=Stabiliser(level_board_rad=math.radians(19.5))))
    after, action, _ = correct_level(far, flown_level("sinks", 40.0, both=True))
    assert action is not None
    assert math.degrees(after.control_setup.stabiliser.level_rad) == pytest.approx(20.0)


def midpoint(card: str, mm: float, way: str | None, stored: str = "yes") -> CardRecord:
    readings = [Reading("elevator_mm", number=mm)]
    readings += [] if way is None else [Reading("elevator_way", choice=way)]
    readings += [Reading("stored", choice=stored)] if card == "F24" else [Reading("noted", choice="yes")]
    return CardRecord(card, Outcome.DONE, tuple(readings))


@pytest.mark.parametrize(("key", "sense"), [("flying_wing", 1.0), ("high_wing", 1.0), ("canard", -1.0)])
@pytest.mark.parametrize(("card", "way"), [("F24", "up"), ("F24", "down"), ("A3", "up")])
def test_a_learning_controllers_trim_is_where_its_surface_is_found_and_which_way(key, sense, card, way):
    """2 c sin(d/2) on the ruler; trailing edge down pitches the nose down, a foreplane's up (found by review: it never counted)."""
    c = model(key)
    learning = replace(c, controls=replace(c.control_setup, stabiliser=Stabiliser(learning=Learning.CONTINUOUS)))
    start, d = resting_trims(learning), design_of(learning)
    found = trims_after(d, midpoint(card, 5.0, way), start).elevator_rad
    chord = 1000.0 * c.chord_m(Axis.PITCH)
    assert 2.0 * chord * math.sin(abs(found) / 2.0) == pytest.approx(5.0)
    assert math.copysign(1.0, found) == sense * (1.0 if way == "down" else -1.0)
    for record in (midpoint(card, 5.0, None), midpoint("F24", 5.0, way, stored="no")):
        assert trims_after(d, record, start) == start, "without a way, or not stored, it says nothing"
    assert trims_after(design_of(c), midpoint(card, 5.0, way), resting_trims(c)) == resting_trims(c), (
        "clicks count there"
    )


def test_continuous_learning_moves_a_surface_and_is_no_fault_and_the_other_way_is_one():
    c = model("flying_wing")
    learning = replace(c, controls=replace(c.control_setup, stabiliser=Stabiliser(learning=Learning.CONTINUOUS)))
    assert wandering_trim(learning, (midpoint("A3", 5.0, "up"),)) == ()
    down = Trims(math.radians(4.0), 0.0, 0.0)
    read = round(c.ruler_mm(Axis.PITCH, down.elevator_rad), 1)
    assert wandering_trim(c, (midpoint("A3", read, "down"),), down) == ()
    (said,) = wandering_trim(c, (midpoint("A3", read, "up"),), down)
    assert f"{read} mm up off fair after landing, its trim says {read} mm down" in spoken(said.words)


def test_a_gain_card_feeds_the_gains_that_stand():
    """Found by review: F25 was asked and never used. It shakes: back to three quarters; the nose dips: a quarter more."""
    device = Stabiliser(
        gains=(GainEntry(Axis.PITCH, "P", 40.0, GainSeen.FINE), GainEntry(Axis.PITCH, "I", 20.0, GainSeen.FINE))
    )
    card = CardRecord("F25", Outcome.DONE, (Reading("shakes", choice="shakes"), Reading("climb_nose", choice="dips")))
    found = {(g.axis, g.term): g.value for g in next_gains((*device.gains, *flown_gains(device, (card,))))}
    assert found == {(Axis.PITCH, "P"): 30.0, (Axis.PITCH, "I"): 25.0}
    assert flown_gains(device, ()) == ()
    assert flown_gains(Stabiliser(), (card,)) == (), "what was never set is not judged"
