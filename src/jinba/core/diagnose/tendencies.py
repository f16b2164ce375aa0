"""The behaviours of a model as rails: left word to right word, band, prediction with sigma."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from jinba.core.cards.scales import Per
from jinba.core.configuration import Configuration
from jinba.core.diagnose.behaviour import behaviour, share_of
from jinba.core.diagnose.goal import Goal, asked_of, goal_of
from jinba.core.diagnose.seen import NOTHING, Seen
from jinba.core.diagnose.shown import KNOWN, OUTSIDE, OWN_CARDS, Shown, chance_in_band, how_shown
from jinba.core.diagnose.update import Belief
from jinba.core.frames import BEHIND
from jinba.core.observe import predictions
from jinba.core.observe.measures import size_of
from jinba.core.observe.parameters import Array
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import Design, Trims, design_of
from jinba.core.spoken import plus_minus
from jinba.core.uncertainty import normal_cdf
from jinba.core.wish import Wanted

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
    missed: str = ""
    times: float = 1.0


_RAILS: tuple[_Rail, ...] = (
    _Rail(
        "static_margin",
        "Balance",
        "tail-heavy, twitchy",
        "nose-heavy, sluggish",
        "% MAC",
        predictions.margin,
        "more tail-heavy than wanted",
        "more nose-heavy than wanted",
        "balance where it is wanted",
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
        "pitch_left_over",
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
        "roll_cruise",
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
        "roll_slow",
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
        "pitch_full",
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
        "yaw_left_over",
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


def _asked(wanted: Wanted, name: str, left: str, right: str, unit: str, verdicts: tuple[str, str, str]) -> _Rail:
    predict, missed, times = asked_of(wanted)
    return _Rail(f"asked_{wanted}", name, left, right, unit, predict, *verdicts, missed, times)


_ASKED = {
    Wanted.PUSH: _asked(
        Wanted.PUSH,
        "Stick held inverted",
        "pull",
        "push",
        "% stick",
        (
            "inverted it wants less push than you asked for",
            "inverted it wants more push than you asked for",
            "inverted it wants the push you asked for",
        ),
    ),
    Wanted.DIVE: _asked(
        Wanted.DIVE,
        "Let go in the dive",
        "steepens",
        "pulls out",
        "deg/s",
        (
            "let go in the dive, it comes out less than you asked for",
            "let go in the dive, it comes out harder than you asked for",
            "let go in the dive, it does what you asked for",
        ),
    ),
    Wanted.TOUCHDOWN: _asked(
        Wanted.TOUCHDOWN,
        "Stick back at touchdown",
        "push",
        "pull",
        "% stick",
        (
            "at touchdown it takes less back stick than you asked for",
            "at touchdown it takes more back stick than you asked for",
            "at touchdown it takes the back stick you asked for",
        ),
    ),
}
"""Rails of what a pilot may ask for, each shown where he does."""


def tendencies(
    configuration: Configuration, belief: Belief, trims: Trims, seen: Seen = NOTHING
) -> tuple[Tendency, ...]:
    """Return every behaviour of a configuration, hands-off with the surfaces resting at ``trims``, under a belief.

    Sigma by linear propagation of the belief's covariance. Without a motor the power rail is left out. ``seen``: what was flown
    with the surfaces where they rest; without it everything is a prediction.
    """
    moment, goal = Moment(design_of(configuration), trims), goal_of(configuration, belief)
    rails = _rails_of(configuration)
    if configuration.wish is not None and goal.asked is not None:
        rails.insert(1, _ASKED[configuration.wish.behaviour])
    return tuple(_tendency(rail, goal, moment, belief, seen) for rail in rails)


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
    goal = goal_of(configuration, belief)
    found = [_judged(r, goal, belief, moment) for r in _rails_of(configuration)]
    if configuration.wish is not None and goal.slope is not None:
        found[0] = _by_what_is_asked(found[0], _ASKED[configuration.wish.behaviour], goal, belief, moment)
    return tuple(found)


def _by_what_is_asked(balance: Judged, rail: _Rail, goal: Goal, belief: Belief, moment: Moment) -> Judged:
    """Return the balance judged by the behaviour it is for, in margins: how far it is from there is known as well as that is."""
    asked, per_cent = _judged(rail, goal, belief, moment), 100.0 / (goal.slope or 1.0)
    return replace(balance, slopes=per_cent * asked.slopes, missed=asked.missed, share=per_cent * asked.share)


def _judged(rail: _Rail, goal: Goal, belief: Belief, moment: Moment) -> Judged:
    value, _, slopes = behaviour(rail.predict, rail.missed, belief, moment, times=rail.times)
    share = rail.times * share_of(rail.missed, moment)
    return Judged(rail.key, rail.name, value, _bands(rail.key, moment.design, goal)[:2], slopes, rail.missed, share)


def _rails_of(configuration: Configuration) -> list[_Rail]:
    return [r for r in _RAILS if not (r.key == "power_pitch" and configuration.airframe.motor is None)]


def _tendency(rail: _Rail, goal: Goal, moment: Moment, belief: Belief, seen: Seen) -> Tendency:
    value, sigma, _ = behaviour(rail.predict, rail.missed, belief, moment, times=rail.times)
    low, high, rail_low, rail_high = _bands(rail.key, moment.design, goal)
    shown = how_shown(rail.key, value, sigma, (low, high), seen)
    return _in_words(rail, value, sigma, (low, high), (rail_low, rail_high), shown)


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
    known = next((r for r in (*_RAILS, *_ASKED.values()) if r.key == key), None)
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


def _bands(key: str, design: Design, goal: Goal) -> tuple[float, float, float, float]:
    if key == "static_margin":
        low, high = (100.0 * end for end in goal.band)
        return low, high, low - 14.0, high + 14.0
    if key.startswith("asked_") and goal.asked is not None:
        low, high = goal.asked
        return low, high, low - 2.0 * (high - low), high + 2.0 * (high - low)
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
