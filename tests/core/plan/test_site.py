"""The site and its light: what warns and what stops, in words that say which way."""

from __future__ import annotations

import math
from datetime import UTC, datetime, timedelta

import pytest

from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.configuration import Launch
from jinba.core.errors import OutOfRangeError
from jinba.core.plan.heights import needed_heights_m
from jinba.core.plan.site import (
    Site,
    ground_findings,
    height_limit_stop,
    light_at,
    light_findings,
    site_findings,
    too_low_for,
)
from jinba.core.silhouettes import silhouette_configuration

MEADOW = Site("Meadow", 47.27, 11.40, elevation_m=0.0, height_limit_m=45.0)
SETUP = silhouette_configuration("low_wing", span_m=1.5)
SUNSET = datetime(2026, 6, 21, 19, 14, tzinfo=UTC)
"""astral 3.2, for Innsbruck; civil dusk 19:55."""


def said(when, minutes=6.0, heading=None):
    return {f.code: f.stops for f in light_findings(light_at(MEADOW, when, heading), minutes)}


@pytest.mark.parametrize(
    ("before", "found"),
    [(90, {}), (20, {"light": False}), (-20, {"light": False}), (-38, {"dark": True}), (-60, {"dark": True})],
)
def test_the_light_warns_before_sunset_and_stops_what_would_end_in_the_dark(before, found):
    assert said(SUNSET - timedelta(minutes=before)) == found


def test_before_dawn_and_in_polar_night_nobody_flies():
    assert said(datetime(2026, 6, 21, 1, 30, tzinfo=UTC)) == {"dark": True}
    north = Site("North", 69.65, 18.96)
    night = light_findings(light_at(north, datetime(2026, 12, 21, 20, tzinfo=UTC), None), 6.0)
    assert [f.code for f in night] == ["dark"]


@pytest.mark.parametrize(("heading", "code"), [(90.0, "glare_final"), (270.0, "glare_take_off"), (0.0, None)])
def test_an_evening_sun_in_the_west_is_in_the_eyes_of_whoever_lands_to_the_east(heading, code):
    """Landing to the east one looks west at the model on final; taking off to the west one looks after it into the sun."""
    equinox = datetime(2026, 3, 20, 16, 30, tzinfo=UTC)
    light = light_at(MEADOW, equinox, math.radians(heading))
    assert 240 < math.degrees(light.sun.bearing_rad) < 280
    found = [f.code for f in light_findings(light, 6.0) if f.code.startswith("glare")]
    assert found == ([code] if code else [])


def test_cards_that_need_more_height_than_the_site_allows_are_named_and_stopped():
    needed = needed_heights_m(SETUP)
    assert set(too_low_for(MEADOW, SETUP)) == {k for k, h in needed.items() if h > 45.0} == {"F8", "F12"}
    stop = height_limit_stop(MEADOW, SETUP, ("F1", "F8", "F29"))
    assert stop.stops
    assert "F8" in stop.words
    assert "F12" not in stop.words
    assert height_limit_stop(MEADOW, SETUP, ("F1", "F29")) is None
    assert height_limit_stop(Site("High", 47.0, 11.0), SETUP, ("F8",)) is None, "no limit was typed"


def test_a_field_much_higher_than_the_bench_computes_for_is_told():
    high = Site("Alp", 47.0, 11.0, elevation_m=1500.0)
    assert [f.code for f in site_findings(high, SETUP)] == ["site_elevation"]
    assert site_findings(MEADOW, SETUP) == ()


@pytest.mark.parametrize(
    ("choice", "launch", "count"),
    [("wet", "wheels", 1), ("long", "wheels", 1), ("good", "wheels", 0), ("wet", "hand", 0)],
)
def test_wet_or_long_grass_matters_on_wheels(choice, launch, count):
    looked = CardRecord("G7", Outcome.PASSED, (Reading("ground", choice=choice),))
    assert len(ground_findings(looked, Launch(launch))) == count
    assert ground_findings(None, Launch.WHEELS) == ()


def test_degrees_of_no_place_are_refused_with_the_likely_slip():
    with pytest.raises(OutOfRangeError, match="south is negative"):
        Site("Meadow", 4727.0, 11.4)
