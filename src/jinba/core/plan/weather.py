"""Go, caution or no-go from wind, gusts and direction against the model's stall speed and the pilot's limits."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum

from jinba.core.atmosphere.wind import WindComponents, wind_components
from jinba.core.cards.catalogue import CARDS
from jinba.core.configuration import Experience, ModelClass, PilotLimits
from jinba.core.errors import check_range
from jinba.core.said import Said, finding
from jinba.core.spoken import a_speed

WIND_KEEPS = timedelta(minutes=30)
"""So long a reading of the wind says something: common practice, no source."""

_FIRST, _SETTLING = 2, 5
_SHARES = (0.50, 0.60, 0.75)
"""Gusts up to this share of the stall speed on the first two sorties, up to the fifth, and once it is settled; the three numbers
and the two below: common practice, no source (a settled trainer is flown in 5 m/s, on its maiden half its stall speed is the end)."""

_BY_CLASS: dict[ModelClass, float] = {ModelClass.AEROBATIC: 1.15, ModelClass.CAMERA_SHIP: 0.9}
_BY_EXPERIENCE = {Experience.LEARNING: 0.85, Experience.PRACTISED: 1.0, Experience.SEASONED: 1.15}


class Verdict(StrEnum):
    """What the wind allows."""

    GO = "go"
    CAUTION = "caution"
    NO_GO = "no_go"


@dataclass(frozen=True, slots=True)
class Wind:
    """Wind at the field: mean and gust [m/s], bearing it blows from and strip heading [rad, clockwise from north]."""

    speed_mps: float
    gust_mps: float
    from_rad: float
    strip_heading_rad: float


@dataclass(frozen=True, slots=True)
class WindRead:
    """The wind as it was last read at the field, and when."""

    wind: Wind
    at: datetime

    def old(self, now: datetime) -> bool:
        """Return whether it was read too long ago to go by."""
        return now - self.at > WIND_KEEPS


@dataclass(frozen=True, slots=True)
class WindVerdict:
    """Verdict with reasons in words, components on the strip, and cards the gusts rule out."""

    verdict: Verdict
    headline: str
    reasons: tuple[str, ...]
    components: WindComponents
    gust_spread_mps: float
    refused_cards: tuple[str, ...]


def gust_share(model_class: ModelClass, experience: Experience, *, sortie: int) -> float:
    """Return up to which share of its stall speed [-] gusts are accepted: more for a known model, its class and its pilot.

    ``sortie``: the number of the next one. Common practice, no source. Raises: OutOfRangeError.
    """
    check_range("number of the sortie", sortie, unit="", low=1, high=1e6)
    share = _SHARES[0] if sortie <= _FIRST else _SHARES[1] if sortie <= _SETTLING else _SHARES[2]
    return share * _BY_CLASS.get(model_class, 1.0) * _BY_EXPERIENCE[experience]


def judge_wind(
    wind: Wind,
    *,
    stall_speed_mps: float,
    limits: PilotLimits,
    model_class: ModelClass = ModelClass.SPORT,
    sortie: int = 1,
) -> WindVerdict:
    """Return go / caution / no-go with its reasons.

    No-go beyond the pilot's limits, with a tailwind above 1 m/s, or when gusts reach their share of the stall speed
    (:func:`gust_share`, for a ``sortie`` of that number); caution above 70 % of any limit. Common practice, no source.
    Raises: OutOfRangeError for impossible winds.
    """
    check_range("stall speed", stall_speed_mps, unit="m/s", low=0.5, high=150.0)
    check_range(
        "gust", wind.gust_mps, unit="m/s", low=wind.speed_mps, high=70.0, hint="A gust is at least the mean wind."
    )
    parts = wind_components(speed_mps=wind.speed_mps, from_rad=wind.from_rad, strip_heading_rad=wind.strip_heading_rad)
    spread = wind.gust_mps - wind.speed_mps
    share = gust_share(model_class, limits.experience, sortie=sortie)
    ratios = (
        ("wind", wind.speed_mps, limits.wind_mps, "mean wind"),
        ("crosswind", abs(parts.crosswind_mps), limits.crosswind_mps, "across the strip"),
        ("gusts", spread, limits.gust_spread_mps, "gust over mean"),
        (
            "gusts against stall",
            wind.gust_mps,
            share * stall_speed_mps,
            f"gusts, against {100 * share:.0f} % of the stall speed",
        ),
    )
    reasons: list[str] = []
    worst = 0.0
    for _, value, limit, words in sorted(ratios, key=lambda r: r[2] / max(r[1], 1e-9)):
        worst = max(worst, value / limit)
        if value > 0.7 * limit:
            reasons.append(
                f"{a_speed(value, 1)} {words}, {'beyond the' if value > limit else 'limit'} {a_speed(limit, 1)}"
            )
    tail = parts.headwind_mps < -1.0
    if tail:
        reasons.insert(0, f"{a_speed(-parts.headwind_mps, 1)} tailwind: take off the other way")
    refused = tuple(c.id for c in CARDS.values() if c.gust_limit_mps is not None and spread > c.gust_limit_mps)
    verdict = Verdict.NO_GO if worst > 1.0 or tail else Verdict.CAUTION if worst > 0.7 or refused else Verdict.GO
    return WindVerdict(verdict, _headline(verdict, refused, reasons), tuple(reasons), parts, spread, refused)


def _headline(verdict: Verdict, refused: tuple[str, ...], reasons: list[str]) -> str:
    if verdict is Verdict.NO_GO:
        return f"Not now: {reasons[0]}."
    if refused:
        return f"Go, but not {', '.join(refused)}: gusts too strong for them."
    if verdict is Verdict.CAUTION:
        return f"Go with care: {reasons[0]}."
    return "Go: wind well inside your limits."


def wind_stops(verdict: WindVerdict | None, card_ids: Collection[str]) -> tuple[Said, ...]:
    """Return what the wind says against a sortie of these cards: against flying at all, or against some of them."""
    if verdict is None:
        return ()
    found = []
    if verdict.verdict is Verdict.NO_GO:
        found.append(finding("wind", f"Wind: {verdict.headline}", stops=True))
    refused = [c for c in card_ids if c in verdict.refused_cards]
    if refused:
        words = f"Gusts: too strong for {', '.join(refused)}. Take them out of this sortie."
        found.append(finding("gusts", words, stops=True))
    return tuple(found)
