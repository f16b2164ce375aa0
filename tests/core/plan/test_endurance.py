"""The minutes a sortie may take: what they rest on, and what warns or stops."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime

import pytest

from jinba.core.configuration import balance_of
from jinba.core.controls.radio import Timer
from jinba.core.plan.endurance import Fitted, Powered, endurance_of
from jinba.core.plan.programme import programme
from jinba.core.power.cells import Chemistry
from jinba.core.power.packs import Flight, Pack
from jinba.core.silhouettes import silhouette_configuration

NOW = datetime(2026, 5, 1, tzinfo=UTC)
SETUP = silhouette_configuration("low_wing", span_m=1.2)
PACK = Pack("a", "Fell 1", Chemistry.LIPO, 3, 3.6 * 2200, rating_per_h=30.0)


def powered(cell_v=4.18, *flights, pack=PACK, amps=None):
    return Powered("m", Fitted(pack, cell_v, NOW), (pack,), flights, amps)


def told(cell_v=4.18, *flights, **more):
    return endurance_of(SETUP, powered(cell_v, *flights, **more))


def took(mah, minutes=5.0):
    return Flight("a", "m", minutes, None, None, 3.6 * mah)


def codes(endurance):
    return {f.code: f.stops for f in endurance.findings}


def test_without_a_pack_it_is_a_guess_with_a_quarter_kept_back_and_says_so():
    guess = endurance_of(SETUP, Powered("m"))
    assert guess.safe_minutes == pytest.approx(0.75 * SETUP.pack_minutes)
    assert "guess" in guess.rests_on[0]
    assert guess.minutes is None


def test_a_glider_flies_by_the_guess_whatever_pack_is_named():
    glider = silhouette_configuration("sailplane", span_m=2.0)
    assert endurance_of(glider, powered()).pack == ""


def test_until_a_flight_has_told_a_big_pack_gives_no_more_than_the_guess():
    big = replace(PACK, capacity_c=3.6 * 12_000)
    assert told(4.18, pack=big).safe_minutes == pytest.approx(0.75 * SETUP.pack_minutes)
    assert told(4.18, took(900), pack=big).safe_minutes > 0.75 * SETUP.pack_minutes


def test_what_another_model_drew_from_the_pack_lifts_no_guess_and_is_no_flight_of_this_one():
    big = replace(PACK, capacity_c=3.6 * 12_000)
    foreign = Flight("a", "another", 5.0, 4.18, 3.84, 3.6 * 6_000)
    found = told(4.18, foreign, pack=big)
    assert found.safe_minutes == pytest.approx(0.75 * SETUP.pack_minutes)
    assert found.flights == 0
    assert any("no flight of this model" in w for w in found.rests_on)


def test_a_half_empty_pack_gives_less_than_half_and_warns():
    flown = [took(900)] * 3
    full, half = told(4.18, *flown), told(3.84, *flown)
    assert half.safe_minutes < 0.5 * full.safe_minutes
    assert codes(half) == {"pack_not_full": False}


def test_an_empty_pack_stops_and_so_does_a_cell_below_empty():
    assert codes(told(3.65))["pack_empty"]
    assert codes(told(2.9))["pack_deep"]
    iron = replace(PACK, chemistry=Chemistry.LIFEPO4)
    unknown = told(3.3, pack=iron)
    assert codes(unknown)["pack_not_full"]
    assert unknown.safe_minutes == 0.0, "what nobody knows is not flown on"


@pytest.mark.parametrize(("minutes", "named"), [(30.0, True), (2.0, False)])
def test_a_timer_that_runs_longer_is_named(minutes, named):
    radio = replace(SETUP.control_setup.radio, timers=(Timer("flight", minutes),))
    setup = replace(SETUP, controls=replace(SETUP.control_setup, radio=radio))
    assert ("timer_long" in codes(endurance_of(setup, powered()))) is named


@pytest.mark.parametrize(("rating", "amps", "stops"), [(5.0, 30.0, True), (30.0, 30.0, None), (None, 30.0, None)])
def test_full_throttle_beyond_the_rating_stops_when_it_was_measured(rating, amps, stops):
    found = codes(told(4.18, pack=replace(PACK, rating_per_h=rating), amps=amps))
    assert found.get("pack_rating") is stops


def test_what_is_only_computed_warns_before_it_stops():
    computed = endurance_of(SETUP, powered()).rests_on[-1]
    amps = float(computed.split("takes ")[1].split(" A")[0])
    close = replace(PACK, rating_per_h=0.9 * amps / 2.2)
    assert codes(told(4.18, pack=close))["pack_rating"] is False
    assert codes(told(4.18, pack=replace(PACK, rating_per_h=0.4 * amps / 2.2)))["pack_rating"] is True


def test_a_weak_pack_near_its_end_is_told_by_its_resistance():
    assert "pack_sags" in codes(told(4.18, pack=replace(PACK, resistance_ohm=0.12), amps=30.0))
    assert "pack_sags" not in codes(told(4.18, pack=replace(PACK, resistance_ohm=0.012), amps=30.0))


def test_a_flight_that_took_far_more_is_not_averaged_away():
    calm, hungry = [took(800)] * 4, took(1700)
    before, after = told(4.18, *calm), told(4.18, *calm, hungry)
    alone = told(4.18, hungry)
    assert "pack_hungry" in codes(after)
    assert "pack_hungry" not in codes(told(4.18, *calm, took(830)))
    assert after.safe_minutes <= min(alone.safe_minutes, before.safe_minutes)


@pytest.mark.parametrize(("more", "way", "stops"), [(0.08, "further forward", False), (-0.08, "further aft", True)])
def test_another_mass_moves_the_balance_point_the_right_way(more, way, stops):
    """The pack of this model lies ahead of its balance point: a heavier one brings it forward, a lighter one aft."""
    battery = SETUP.battery
    assert battery.x_m < balance_of(SETUP).x_m
    found = [
        f for f in told(4.18, pack=replace(PACK, mass_kg=battery.mass_kg + more)).findings if f.code == "pack_mass"
    ]
    assert way in found[0].words
    assert found[0].stops is stops
    assert not [f for f in told(4.18, pack=replace(PACK, mass_kg=battery.mass_kg)).findings if f.code == "pack_mass"]


def test_the_sortie_is_packed_into_the_minutes_that_the_pack_gives():
    less, more = (programme(SETUP, results={}, stale=frozenset(), sorties_flown=1, safe_minutes=m) for m in (5.5, 14.0))
    assert less.minutes <= 5.5 < more.minutes <= 14.0
    assert set(less.flight) < set(more.flight)
