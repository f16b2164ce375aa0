"""Go, caution or no-go from wind, gusts and direction against the model's stall speed and the pilot's limits."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from jinba.core.atmosphere.wind import WindComponents, wind_components
from jinba.core.cards.catalogue import CARDS
from jinba.core.configuration import PilotLimits
from jinba.core.errors import check_range
from jinba.core.spoken import a_speed


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
class WindVerdict:
    """Verdict with reasons in words, components on the strip, and cards the gusts rule out."""

    verdict: Verdict
    headline: str
    reasons: tuple[str, ...]
    components: WindComponents
    gust_spread_mps: float
    refused_cards: tuple[str, ...]


def judge_wind(wind: Wind, *, stall_speed_mps: float, limits: PilotLimits) -> WindVerdict:
    """Return go / caution / no-go with its reasons.

    No-go beyond the pilot's limits, with a tailwind above 1 m/s, or when gusts reach half the stall speed; caution above
    70 % of any limit. Common practice, no source. Raises: OutOfRangeError for impossible winds.
    """
    check_range("stall speed", stall_speed_mps, unit="m/s", low=0.5, high=150.0)
    check_range(
        "gust", wind.gust_mps, unit="m/s", low=wind.speed_mps, high=70.0, hint="A gust is at least the mean wind."
    )
    parts = wind_components(speed_mps=wind.speed_mps, from_rad=wind.from_rad, strip_heading_rad=wind.strip_heading_rad)
    spread = wind.gust_mps - wind.speed_mps
    ratios = (
        ("wind", wind.speed_mps, limits.wind_mps, "mean wind"),
        ("crosswind", abs(parts.crosswind_mps), limits.crosswind_mps, "across the strip"),
        ("gusts", spread, limits.gust_spread_mps, "gust over mean"),
        ("gusts against stall", wind.gust_mps, 0.5 * stall_speed_mps, "gusts, against half the stall speed"),
    )
    reasons: list[str] = []
    worst = 0.0
    for _, value, limit, words in sorted(ratios, key=lambda r: r[2] / max(r[1], 1e-9)):
        worst = max(worst, value / limit)
        if value > 0.7 * limit:
            reasons.append(f"{a_speed(value, 1)} {words}, limit {a_speed(limit, 1)}")
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
