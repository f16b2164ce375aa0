"""The sun at a place: where it stands, and when it goes."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta, timezone

from astral import Observer
from astral.sun import azimuth, dawn, dusk, elevation, noon, sunrise, sunset

from jinba.core.errors import JinbaError, check_range

GLARE_ASIDE_RAD = math.radians(30.0)
GLARE_UP_RAD = math.radians(35.0)
"""A sun no further aside and no higher than this from where one looks dazzles: common practice, no source."""

_RISEN_RAD = math.radians(-0.833)
"""Centre of the sun at sunrise and sunset: its radius and mean refraction (astral's own zenith of 90.833 degrees)."""


@dataclass(frozen=True, slots=True)
class Sun:
    """Where the sun stands: compass bearing and height over the horizon [rad]."""

    bearing_rad: float
    height_rad: float

    def dazzles(self, looking_rad: float) -> bool:
        """Return whether it stands in the eyes of whoever looks that way, by compass [rad]. Common practice, no source."""
        aside = math.remainder(self.bearing_rad - looking_rad, math.tau)
        return _RISEN_RAD < self.height_rad <= GLARE_UP_RAD and abs(aside) <= GLARE_ASIDE_RAD


@dataclass(frozen=True, slots=True)
class Daylight:
    """The light of one day at a place; ``dawn`` and ``dusk`` civil. None: the sun does not pass there that day.

    ``always``: up all day (True), down all day (False), None where it rises and sets.
    """

    dawn: datetime | None
    sunrise: datetime | None
    sunset: datetime | None
    dusk: datetime | None
    always: bool | None = None


def _observer(latitude_deg: float, longitude_deg: float) -> Observer:
    check_range("latitude", latitude_deg, unit="°", low=-90.0, high=90.0, hint="south is negative")
    check_range("longitude", longitude_deg, unit="°", low=-180.0, high=180.0, hint="west is negative")
    return Observer(latitude_deg, longitude_deg, 0.0)


def _aware(when: datetime) -> datetime:
    if when.tzinfo is None:
        raise JinbaError("A time needs its zone.")
    check_range("year", when.year, unit="", low=1901, high=2099)
    return when.astimezone(UTC)


def sun_at(*, latitude_deg: float, longitude_deg: float, when: datetime) -> Sun:
    """Return where the sun stands at a moment, as seen at sea level.

    References: the algorithms of the NOAA solar calculator after Meeus, Astronomical Algorithms, 1998, by the library astral.
    Validity: years 1901 to 2099. Raises: OutOfRangeError for no place on earth; JinbaError for a time without its zone.
    """
    place, at = _observer(latitude_deg, longitude_deg), _aware(when)
    return Sun(math.radians(azimuth(place, at)), math.radians(elevation(place, at)))


def daylight(*, latitude_deg: float, longitude_deg: float, when: datetime) -> Daylight:
    """Return the light of the day in which a moment lies, by the sun's own clock at the place, so that it sets after it has risen.

    Validity: to some minutes, level horizon. References and errors: as :func:`sun_at`.
    """
    place = _observer(latitude_deg, longitude_deg)
    by_the_sun = timezone(timedelta(minutes=round(4.0 * longitude_deg)))
    day = _aware(when).astimezone(by_the_sun).date()
    rises, sets = _passes(sunrise, place, day, by_the_sun), _passes(sunset, place, day, by_the_sun)
    always = None
    if rises is None or sets is None:
        always = math.radians(elevation(place, noon(place, day, by_the_sun))) > _RISEN_RAD
    return Daylight(_passes(dawn, place, day, by_the_sun), rises, sets, _passes(dusk, place, day, by_the_sun), always)


def _passes(of: Callable[..., datetime], place: Observer, day: date, zone: timezone) -> datetime | None:
    """Return the moment of that day, None where the sun does not pass there (polar day or night)."""
    try:
        return of(place, day, tzinfo=zone).astimezone(UTC)
    except ValueError:
        return None
