"""The behaviours of a model as rails: left word to right word, band, prediction with sigma."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from jinba.core.cards.scales import Per
from jinba.core.configuration import Configuration
from jinba.core.diagnose.seen import NOTHING, Seen
from jinba.core.diagnose.shown import KNOWN, OUTSIDE, OWN_CARDS, Shown, chance_in_band, how_shown
from jinba.core.diagnose.update import Belief
from jinba.core.frames import BEHIND
from jinba.core.observe import predictions
from jinba.core.observe.measures import errors_of, size_of
from jinba.core.observe.parameters import COUNT, Array
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import Design, Trims, design_of
from jinba.core.spoken import plus_minus
from jinba.core.uncertainty import normal_cdf

_STEP = 1e-4
PITCH_LIMIT_DEG_S = 1.5
ROLL_LIMIT_DEG_S = 3.0
CRAB_LIMIT_DEG = 1.5
"""What a model of the speed and span of ``core.cards.scales`` may do hands off and be called in trim: common practice, no source
(docs/methods/estimator.md)."""

POWER_PITCH_LIMIT = 67.0
"""Pitch with full power is settled below this over the airspeed [deg/s times m/s] (docs/methods/estimator.md)."""


def pitch_limit_deg_s(design: Design) -> float:
    """Return the path rate that is in trim for a model of this speed [deg/s]: the same load factor at any. Derived here."""
    return PITCH_LIMIT_DEG_S * size_of(Per.PATH, design)


def roll_limit_deg_s(design: Design) -> float:
    """Return the roll rate that is in trim for a model of this speed and span [deg/s]: the same turn over its own span. Derived here."""
    return ROLL_LIMIT_DEG_S * size_of(Per.ROLL, design)


@dataclass(frozen=True, slots=True)
class Tendency:
    """One behaviour: ``value`` and ``sigma`` in ``unit``, wanted ``low`` to ``high``, ends in words, scale of the rail.

    ``verdict`` in a pilot's words, ``words`` the amount without a sign. ``chance``: that it lies in its band [-]; ``shown``: how
    that is known; ``settled``: seen in its band, on its own card; ``out``: seen outside, or all but sure to lie there.
    """

    key: str
    name: str
    left: str
    right: str
    unit: str
    value: float
    sigma: float
    low: float
    high: float
    rail_low: float
    rail_high: float
    verdict: str
    words: str
    chance: float
    shown: Shown
    settled: bool
    out: bool


@dataclass(frozen=True, slots=True)
class _Rail:
    key: str
    name: str
    left: str
    right: str
    unit: str
    predict: Callable[[Array, Moment], float]
    left_verdict: str
    right_verdict: str
    good: str


_RAILS: tuple[_Rail, ...] = (
    _Rail(
        "static_margin",
        "Balance",
        "tail-heavy, twitchy",
        "nose-heavy, sluggish",
        "% MAC",
        predictions.margin,
        "tail-heavy for its class",
        "nose-heavy for its class",
        "balance where its class wants it",
    ),
    _Rail(
        "pitch_trim",
        "Pitch, hands off at cruise",
        "nose drops",
        "nose rises",
        "deg/s",
        predictions.pitch_rate_cruise,
        "let go, the nose drops",
        "let go, the nose rises",
        "let go, it holds its height",
    ),
    _Rail(
        "roll_cruise",
        "Roll, hands off at cruise",
        "left wing down",
        "right wing down",
        "deg/s",
        predictions.roll_rate_cruise,
        "let go at cruise, the left wing goes down",
        "let go at cruise, the right wing goes down",
        "let go at cruise, it stays level",
    ),
    _Rail(
        "roll_slow",
        "Roll, hands off when slow",
        "left wing down",
        "right wing down",
        "deg/s",
        predictions.roll_rate_slow,
        "slow, the left wing grows heavy",
        "slow, the right wing grows heavy",
        "slow, it stays level",
    ),
    _Rail(
        "power_pitch",
        "Pitch with full power",
        "nose drops",
        "nose rises",
        "deg/s",
        lambda x, m: predictions.pitch_rate_power(x, m, "full"),
        "full power pushes the nose down",
        "full power pulls the nose up",
        "power hardly moves the nose",
    ),
    _Rail(
        "yaw",
        "Crab at cruise",
        "nose left",
        "nose right",
        "deg",
        predictions.crab_cruise,
        "flies with its nose left",
        "flies with its nose right",
        "flies straight",
    ),
    _Rail(
        "stall_speed",
        "Stall speed",
        "slower",
        "faster",
        "m/s",
        predictions.break_speed,
        "stalls slower than computed",
        "stalls faster than computed",
        "stalls where computed",
    ),
)


def tendencies(
    configuration: Configuration, belief: Belief, trims: Trims, seen: Seen = NOTHING
) -> tuple[Tendency, ...]:
    """Return every behaviour of a configuration, hands-off with the surfaces resting at ``trims``, under a belief.

    Sigma by linear propagation of the belief's covariance. Without a motor the power rail is left out. ``seen``: what was flown
    with the surfaces where they rest; without it everything is a prediction.
    """
    design = design_of(configuration)
    moment = Moment(design, trims)
    return tuple(_tendency(rail, design, moment, belief, seen) for rail in _rails_of(configuration))


@dataclass(frozen=True, slots=True)
class Judged:
    """What a behaviour is judged by: its value and wanted band in its unit, its slopes with the unknowns (COUNT,), the measure
    whose persistent error belongs to it, empty where none does, and how much of that error is in it [-]."""

    key: str
    name: str
    value: float
    band: tuple[float, float]
    slopes: Array
    missed: str
    share: float


def judged_by(configuration: Configuration, belief: Belief, moment: Moment) -> tuple[Judged, ...]:
    """Return what every behaviour of a configuration is judged by at a moment. Derived here (docs/methods/estimator.md)."""
    return tuple(_judged(r, belief, moment) for r in _rails_of(configuration))


def _judged(rail: _Rail, belief: Belief, moment: Moment) -> Judged:
    missed = _MISSED.get(rail.key, "")
    value, _, slopes = behaviour(rail.predict, missed, belief, moment)
    return Judged(
        rail.key, rail.name, value, _bands(rail.key, moment.design)[:2], slopes, missed, share_of(missed, moment)
    )


def share_of(missed: str, moment: Moment) -> float:
    """Return how much of the persistent error of a measure is in the behaviour it belongs to [-]. Derived here."""
    return predictions.power_share(moment) if missed == "pitch_full" else 1.0


def behaviour(
    predict: Callable[[Array, Moment], float], missed: str, belief: Belief, moment: Moment
) -> tuple[float, float, Array]:
    """Return (value, sigma, slopes) of what a model does under a belief: the closed form, and what it misses.

    All in the unit of the prediction. ``missed``: key of the error that belongs to it, empty for none. The error is a part of the behaviour: known as well as the estimate left it,
    together with the unknowns, or with the whole width of its prior where no flight has met it. References: JCGM 100:2008, eq. 13;
    derived here (docs/methods/estimator.md).
    """
    slopes, share = slopes_of(predict, moment, belief), share_of(missed, moment)
    variance = float(slopes @ belief.covariance @ slopes)
    if missed in belief.bias:
        # An error that is given without a joint covariance is known for certain.
        if belief.joint is not None:
            i = COUNT + list(belief.bias).index(missed)
            variance += float(2.0 * share * slopes @ belief.joint[:COUNT, i] + share**2 * belief.joint[i, i])
    elif missed:
        variance += (share * errors_of(moment.design)[missed].sigma) ** 2
    value = float(predict(belief.mean, moment)) + (share * belief.missed(missed, moment.design) if missed else 0.0)
    return value, math.sqrt(max(variance, 0.0)), slopes


def _rails_of(configuration: Configuration) -> list[_Rail]:
    return [r for r in _RAILS if not (r.key == "power_pitch" and configuration.airframe.motor is None)]


def slopes_of(predict: Callable[[Array, Moment], float], moment: Moment, belief: Belief) -> Array:
    """Return how a prediction moves with each unknown (COUNT,), in its unit, by central differences at the belief. Derived here."""
    slopes = np.zeros(COUNT)
    for j in range(COUNT):
        up, down = belief.mean.copy(), belief.mean.copy()
        up[j] += _STEP
        down[j] -= _STEP
        slopes[j] = (predict(up, moment) - predict(down, moment)) / (2.0 * _STEP)
    return slopes


def _tendency(rail: _Rail, design: Design, moment: Moment, belief: Belief, seen: Seen) -> Tendency:
    value, sigma, _ = behaviour(rail.predict, _MISSED.get(rail.key, ""), belief, moment)
    low, high, rail_low, rail_high = _bands(rail.key, design)
    shown = how_shown(rail.key, value, sigma, (low, high), seen)
    return _in_words(rail, value, sigma, (low, high), (rail_low, rail_high), shown)


_MISSED = {
    "pitch_trim": "pitch_left_over",
    "roll_cruise": "roll_cruise",
    "roll_slow": "roll_slow",
    "power_pitch": "pitch_full",
    "yaw": "yaw_left_over",
}
"""The measure whose persistent error belongs to a behaviour."""


def tendency_from(
    key: str,
    *,
    value: float,
    sigma: float,
    band: tuple[float, float],
    rail: tuple[float, float],
    shown: Shown | None = None,
) -> Tendency | None:
    """Return a behaviour of stored numbers in today's words; None when nobody knows the key any more.

    Every number in the unit of the behaviour; ``shown`` None: nothing is stored of how it was known.
    """
    known = next((r for r in _RAILS if r.key == key), None)
    if known is None:
        return None
    return _in_words(known, value, sigma, band, rail, shown or how_shown(key, value, sigma, band, NOTHING))


def _in_words(
    rail: _Rail, value: float, sigma: float, band: tuple[float, float], ends: tuple[float, float], shown: Shown
) -> Tendency:
    low, high = band
    rail_low, rail_high = ends
    chance = chance_in_band(value, sigma, band)
    return Tendency(
        rail.key,
        rail.name,
        rail.left,
        rail.right,
        rail.unit,
        value,
        sigma,
        low,
        high,
        rail_low,
        rail_high,
        _verdict(rail, value, band, chance, shown),
        _amount(rail, value, sigma),
        chance,
        shown,
        shown is Shown.IN_BAND,
        shown in OUTSIDE or (shown is Shown.INFERRED and chance < KNOWN),
    )


def _verdict(rail: _Rail, value: float, band: tuple[float, float], chance: float, shown: Shown) -> str:
    middle = 0.5 * (band[0] + band[1])
    side = rail.left_verdict if value < middle else rail.right_verdict
    if shown is Shown.IN_BAND:
        return rail.good
    if shown in OUTSIDE:
        return rail.left_verdict if shown is Shown.BELOW else rail.right_verdict
    card_ids = " or ".join(c for c, _ in OWN_CARDS[rail.key][:2])
    if shown is Shown.UNKNOWN:
        return f"not known yet: fly {card_ids}"
    if shown is Shown.UNSURE:
        return f"flown, not sure yet: fly {card_ids} again"
    # Without its own card it is what the rest lets expect, and is said to be no more.
    return f"expected: {rail.good}" if chance >= KNOWN else f"expected: {side}"


def _amount(rail: _Rail, value: float, sigma: float) -> str:
    """Its size, and its side in words: no sign is lost, and none has to be read."""
    size = plus_minus(abs(value), sigma, rail.unit)
    if rail.key == "static_margin":
        return f"{size} {BEHIND}" if value < 0 else size
    if rail.key == "stall_speed" or abs(value) < 0.05:
        return size
    return f"{size} {rail.left if value < 0 else rail.right}"


def _bands(key: str, design: Design) -> tuple[float, float, float, float]:
    rules = design.configuration.rules
    if key == "static_margin":
        low, high = 100 * (rules.target - rules.band), 100 * (rules.target + rules.band)
        return low, high, low - 14.0, high + 14.0
    if key in ("pitch_trim", "roll_cruise", "roll_slow"):
        limit, end = (pitch_limit_deg_s(design), 8.0 / 1.5) if key == "pitch_trim" else (roll_limit_deg_s(design), 5.0)
        return -limit, limit, -end * limit, end * limit
    if key == "power_pitch":
        limit = POWER_PITCH_LIMIT / design.cruise_speed_mps
        return -limit, limit, -4 * limit, 4 * limit
    if key == "yaw":
        return -CRAB_LIMIT_DEG, CRAB_LIMIT_DEG, -8.0, 8.0
    v = design.stall_speed_mps
    return 0.9 * v, 1.1 * v, 0.7 * v, 1.3 * v


def risk_behind_minimum(configuration: Configuration, *, margin_fraction: float, sigma_fraction: float) -> float:
    """Return P(static margin < the class minimum) [-] for a margin and its total sigma, both fractions of MAC.

    Derived here (docs/methods/maiden-balance.md).
    """
    return normal_cdf((configuration.rules.minimum - margin_fraction) / max(sigma_fraction, 1e-6))
