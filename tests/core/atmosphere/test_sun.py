"""The sun: rise, set and civil twilight of many places, polar days, and whose eyes it stands in."""

from __future__ import annotations

import math
from datetime import UTC, datetime, timedelta

import pytest

from jinba.core.atmosphere.sun import Sun, daylight, sun_at
from jinba.core.errors import JinbaError, OutOfRangeError

PLACES = [
    # latitude, longitude, noon UTC of the day, sunrise, sunset, civil dawn, civil dusk (UTC)
    (51.4779, 0.0, "2026-03-20T12", "06:03:08", "18:12:43", "05:29:16", "18:46:41"),
    (51.4779, 0.0, "2026-06-21T12", "03:43:06", "20:20:31", "02:54:28", "21:09:10"),
    (39.7392, -104.9903, "2026-03-20T19", "13:03:21", "01:10:53", "12:35:57", "01:38:20"),
    (-33.8688, 151.2093, "2026-12-21T02", "18:41:22", "09:05:11", "18:11:38", "09:34:54"),
    (-0.1807, -78.4678, "2026-06-21T17", "11:12:33", "23:18:55", "10:49:35", "23:41:53"),
    (47.2692, 11.4041, "2026-12-21T11", "06:58:36", "15:26:16", "06:22:08", "16:02:44"),
    (35.6762, 139.6503, "2026-09-23T03", "20:30:43", "08:37:19", "20:04:45", "09:03:15"),
    (69.6492, 18.9553, "2026-03-20T11", "04:44:22", "17:01:02", "03:43:06", "18:02:47"),
]
"""Computed with astral 3.2 itself on another day and by its own dates: this proves that our day is the one of the place. What proves astral is
:func:`test_equinox_noon_stands_at_the_complement_of_the_latitude` and the almanac's length of day."""


@pytest.mark.parametrize(("latitude", "longitude", "noon", "rise", "set_", "dawn", "dusk"), PLACES)
def test_the_day_is_that_of_the_place_wherever_it_lies(latitude, longitude, noon, rise, set_, dawn, dusk):
    when = datetime.fromisoformat(f"{noon}:00:00+00:00")
    day = daylight(latitude_deg=latitude, longitude_deg=longitude, when=when)
    assert day.dawn < day.sunrise < when < day.sunset < day.dusk, "it sets after it has risen, at the place"
    for got, expected in ((day.sunrise, rise), (day.sunset, set_), (day.dawn, dawn), (day.dusk, dusk)):
        hours = datetime.fromisoformat(f"{got.date()}T{expected}+00:00")
        tolerance = timedelta(minutes=5 if abs(latitude) > 60 else 3)
        assert abs(got - hours) < tolerance


def test_the_length_of_the_longest_day_is_that_of_the_sunset_equation():
    """cos H = (sin -0.833 - sin phi sin delta) / (cos phi cos delta), delta 23.44: textbook spherical astronomy (Smart, 1931; from memory)."""
    phi, delta, low = math.radians(51.4779), math.radians(23.44), math.radians(-0.833)
    hour = math.acos((math.sin(low) - math.sin(phi) * math.sin(delta)) / (math.cos(phi) * math.cos(delta)))
    day = daylight(latitude_deg=51.4779, longitude_deg=0.0, when=datetime(2026, 6, 21, 12, tzinfo=UTC))
    assert (day.sunset - day.sunrise).total_seconds() == pytest.approx(2 * hour * 86400 / math.tau, abs=120)


def test_equinox_noon_stands_at_the_complement_of_the_latitude():
    """By geometry: at an equinox the sun stands over the equator."""
    sun = sun_at(latitude_deg=40.0, longitude_deg=0.0, when=datetime(2026, 3, 20, 12, 7, tzinfo=UTC))
    assert math.degrees(sun.height_rad) == pytest.approx(50.0, abs=0.4)
    assert math.degrees(sun.bearing_rad) == pytest.approx(180.0, abs=1.0), "in the south, north of the equator"


def test_polar_night_and_polar_day_are_said_and_no_error():
    night = daylight(latitude_deg=69.6492, longitude_deg=18.9553, when=datetime(2026, 12, 21, 12, tzinfo=UTC))
    assert (night.sunrise, night.sunset, night.always) == (None, None, False)
    day = daylight(latitude_deg=69.6492, longitude_deg=18.9553, when=datetime(2026, 6, 21, 12, tzinfo=UTC))
    assert (day.sunrise, day.always) == (None, True)


@pytest.mark.parametrize(
    ("bearing", "height", "looking", "dazzles"),
    [
        (270, 12, 270, True),
        (270, 12, 245, True),
        (270, 12, 235, False),
        (270, 40, 270, False),
        (270, -3, 270, False),
        (5, 12, 350, True),
    ],
)
def test_a_low_sun_dazzles_whoever_looks_near_it(bearing, height, looking, dazzles):
    sun = Sun(math.radians(bearing), math.radians(height))
    assert sun.dazzles(math.radians(looking)) is dazzles


def test_no_place_and_no_zone_are_refused():
    with pytest.raises(OutOfRangeError, match="south is negative"):
        sun_at(latitude_deg=147.0, longitude_deg=11.0, when=datetime(2026, 6, 1, tzinfo=UTC))
    with pytest.raises(JinbaError, match="zone"):
        sun_at(latitude_deg=47.0, longitude_deg=11.0, when=datetime(2026, 6, 1))
