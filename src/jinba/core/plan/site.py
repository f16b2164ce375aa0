"""The site: where it lies, what it allows, and what the light there says of a sortie."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from jinba.core.atmosphere.sun import Daylight, Sun, daylight, sun_at
from jinba.core.cards.model import CardRecord
from jinba.core.configuration import Configuration, Launch
from jinba.core.errors import check_range, check_text
from jinba.core.plan.heights import needed_heights_m
from jinba.core.said import Said, finding
from jinba.core.spoken import a_distance

_SOON = timedelta(minutes=30)
"""Before sunset one is told that the light goes: common practice, no source."""

_ELEVATION_M = 100.0
"""Another height of the field than the bench computes with: 1 % of density; derived here from the standard atmosphere."""


@dataclass(frozen=True, slots=True)
class Site:
    """A flying site as its pilot typed it, nothing of it invented: ``elevation_m`` above the sea, ``heading_rad`` of its strip by compass,
    ``height_limit_m`` over ground, ``rules`` in his words (noise, edges nobody flies over, hours). None: not typed."""

    name: str
    latitude_deg: float
    longitude_deg: float
    elevation_m: float | None = None
    heading_rad: float | None = None
    height_limit_m: float | None = None
    rules: str = ""

    def __post_init__(self) -> None:
        check_text("name of the site", self.name, longest=60)
        check_text("rules of the site", self.rules, longest=2000)
        check_range("latitude", self.latitude_deg, unit="°", low=-90.0, high=90.0, hint="south is negative")
        check_range("longitude", self.longitude_deg, unit="°", low=-180.0, high=180.0, hint="west is negative")
        if self.elevation_m is not None:
            check_range("height of the site above the sea", self.elevation_m, unit="m", low=-430.0, high=5000.0)
        if self.heading_rad is not None:
            check_range("heading of the strip", math.degrees(self.heading_rad), unit="°", low=0.0, high=360.0)
        if self.height_limit_m is not None:
            check_range("height limit of the site", self.height_limit_m, unit="m", low=5.0, high=5000.0)


@dataclass(frozen=True, slots=True)
class Light:
    """The light at a site at a moment: the sun, the day, and whether it stands in the pilot's eyes on final and after take-off."""

    at: datetime
    sun: Sun
    day: Daylight
    on_final: bool
    after_take_off: bool


def light_at(site: Site, when: datetime, heading_rad: float | None) -> Light:
    """Return the light at a site; ``heading_rad`` of take-off and landing by compass, None: the strip's own, or not known.

    On final the pilot looks against the heading, after take-off along it. Derived here.
    """
    sun = sun_at(latitude_deg=site.latitude_deg, longitude_deg=site.longitude_deg, when=when)
    day = daylight(latitude_deg=site.latitude_deg, longitude_deg=site.longitude_deg, when=when)
    heading = site.heading_rad if heading_rad is None else heading_rad
    final = heading is not None and sun.dazzles(heading + math.pi)
    away = heading is not None and sun.dazzles(heading)
    return Light(when.astimezone(UTC), sun, day, final, away)


def light_findings(light: Light, minutes: float) -> tuple[Said, ...]:
    """Return what the light says of a sortie of so many minutes [min] that begins now: too dark stops, the rest warns.

    Common practice, no source: flown between civil dawn and dusk; local law comes first.
    """
    day, found = light.day, []
    ends = light.at + timedelta(minutes=minutes)
    if day.always is False and light.sun.height_rad < math.radians(-6.0):
        found.append(
            finding(
                "dark",
                "Light: the sun does not come up here today. It is too dark to see which way the model lies.",
                stops=True,
            )
        )
    elif day.dusk is not None and day.dawn is not None and not day.dawn <= light.at <= day.dusk:
        found.append(finding("dark", "Light: it is dark. Nobody sees which way the model lies.", stops=True))
    elif day.dusk is not None and ends > day.dusk:
        left = (day.dusk - light.at).total_seconds() / 60.0
        words = (
            f"Light: dusk is in {left:.0f} minutes, this sortie takes {minutes:.0f}. Take cards out, or fly tomorrow."
        )
        found.append(finding("dark", words, stops=True))
    elif day.sunset is not None and ends > day.sunset - _SOON:
        left = (day.sunset - light.at).total_seconds() / 60.0
        words = (
            f"Light: the sun sets in {left:.0f} minutes."
            if left > 0
            else f"Light: the sun set {-left:.0f} minutes ago."
        )
        found.append(finding("light", f"{words} Colours go before the light does: know top from bottom."))
    if light.on_final:
        found.append(
            finding(
                "glare_final",
                "Sun: in your eyes on final. Land the other way, wait, or stand so that you look past it.",
            )
        )
    if light.after_take_off:
        found.append(
            finding("glare_take_off", "Sun: in your eyes after take-off. Turn early to the side that is clear of it.")
        )
    return tuple(found)


def site_findings(site: Site, configuration: Configuration) -> tuple[Said, ...]:
    """Return what the site itself says of a model: the height of the field against the bench's. Derived here."""
    if site.elevation_m is None or abs(site.elevation_m - configuration.site_elevation_m) < _ELEVATION_M:
        return ()
    words = (
        f"Site: {site.name} lies at {a_distance(site.elevation_m)}, the bench computes for {a_distance(configuration.site_elevation_m)}. "
        "Put it right on the bench, under Check: stall speed and take-off follow."
    )
    return (finding("site_elevation", words),)


def too_low_for(site: Site | None, configuration: Configuration) -> Mapping[str, float]:
    """Return the cards that need more height than the site allows, with what they need [m]. Derived here (docs/methods/heights.md)."""
    if site is None or site.height_limit_m is None:
        return {}
    return {k: h for k, h in needed_heights_m(configuration).items() if h > site.height_limit_m}


def height_limit_stop(site: Site | None, configuration: Configuration, card_ids: tuple[str, ...]) -> Said | None:
    """Return that cards of a sortie need more height than the site allows, None when none does. Derived here."""
    high = {k: h for k, h in too_low_for(site, configuration).items() if k in card_ids}
    if site is None or site.height_limit_m is None or not high:
        return None
    each = ", ".join(f"{k} {a_distance(h)}" for k, h in high.items())
    words = f"Height: {site.name} allows {a_distance(site.height_limit_m)}, needed are {each}. Take them out, or fly them elsewhere."
    return finding("height_limit", words, stops=True)


_GROUND = {
    "wet": "Ground: wet grass holds the wheels and noses a model over. A longer run, elevator up till it rolls; or another day.",
    "long": "Ground: long grass trips wheels and propeller. Mow, launch by hand where the model is made for it, or another day.",
}


def ground_findings(looked: CardRecord | None, launch: Launch) -> tuple[Said, ...]:
    """Return what the ground says of a take-off on wheels, as it was looked at on the spot (G7). Common practice, no source."""
    said = None if looked is None else looked.reading("ground")
    if said is None or launch is not Launch.WHEELS or said.choice not in _GROUND:
        return ()
    return (finding("ground", _GROUND[said.choice]),)
