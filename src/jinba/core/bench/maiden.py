"""The chance-aware maiden balance point: aft limit by risk, forward limit by elevator authority."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.airframe.layout import pitch_control_of
from jinba.core.frames import Axis, control_name
from jinba.core.observe.situation import Design
from jinba.core.said import Said, Severity
from jinba.core.spoken import a_length
from jinba.core.uncertainty import root_sum_square, safe_distance

FLARE_LOAD_FACTOR = 1.15
TOUCHDOWN_OVER_STALL = 1.1
USABLE_THROW = 0.85
_CONTROL_SIGMA = 0.18
_CM_ZERO_SIGMA = 0.02
_NINETY_PERCENT = 1.2816


@dataclass(frozen=True, slots=True)
class MaidenPoint:
    """Where to balance for the first flight. Stations from the datum [m].

    ``aft_limit_m``: aft-most with P(margin < class minimum) under 1 %; ``forward_limit_m``: foremost from which the
    elevator can still flare; ``x_m``: the recommendation, None when the limits cross; ``reachable``; ``words`` why.
    ``published``: what to think of the published point, None without one; its code is "behind" when it is not to be used
    without a reason.
    """

    x_m: float | None
    aft_limit_m: float
    forward_limit_m: float
    minimum_margin: float
    sigma_m: float
    reachable: bool
    words: str
    published: Said | None


def maiden_point(design: Design) -> MaidenPoint:
    """Return the maiden balance point of a configuration.

    x_aft = x_np - MAC (SM_min + max(2.33 sigma, 1.645 sigma_m)), sigma of neutral point and balance reading together, sigma_m with the
    chance of a misread balance in it, x_np the foremost of power off and full power.
    x_fwd from C_m0 - SM CL n + K (CL n)^2 = -0.85 throw V_d at 1.1 V_s with a flare load of 1.15, with 90 % confidence in C_m0 and V_d.
    References: docs/methods/maiden-balance.md (derived here).
    """
    np_, c = design.aero.neutral_point, design.configuration
    mac = design.aero.planform.mac_m
    sigma = root_sum_square([np_.sigma_total_m, design.balance.sigma_m])
    foremost = min(np_.x_m, np_.x_power_on_m)
    aft = foremost - mac * (c.rules.minimum + safe_distance(sigma / mac, design.balance.misread))
    forward = np_.x_m - mac * forward_margin(design)
    reachable = forward < aft
    x = aft if reachable else None
    published = _published(design, aft, sigma)
    return MaidenPoint(x, aft, forward, c.rules.minimum, sigma, reachable, _words(design, reachable), published)


def forward_margin(design: Design) -> float:
    """Return the largest static margin [-] at which the elevator can still hold the flare. Source: as maiden_point."""
    return _flare_margin(design, sigmas=_NINETY_PERCENT)


def likely_forward_margin(design: Design) -> float:
    """Return the static margin [-] at which the elevator holds the flare with even chances. Source: as maiden_point."""
    return _flare_margin(design, sigmas=0.0)


def _flare_margin(design: Design, *, sigmas: float) -> float:
    lift = design.aero.cl_max / TOUCHDOWN_OVER_STALL**2
    control = design.aero.pitch_control * (1.0 - sigmas * _CONTROL_SIGMA)
    moment = design.aero.cm_zero - sigmas * _CM_ZERO_SIGMA
    usable = USABLE_THROW * design.elevator_throw_rad
    # Beyond its stall a foreplane lifts no more, whatever its flap does.
    authority = min(usable, design.aero.foreplane_limit_rad) * control
    flare = lift * FLARE_LOAD_FACTOR
    return (moment + design.aero.cm_square * flare * flare + authority) / flare


def _words(design: Design, reachable: bool) -> str:
    rules = design.configuration.rules
    control = control_name(Axis.PITCH, pitch_control_of(design.configuration.airframe))
    if reachable:
        return (
            f"As far aft as keeps the chance of less than {100 * rules.minimum:.0f} % static margin under 1 %, "
            f"given how well geometry and balance are known; the {control} can still flare from there."
        )
    return (
        "No balance point is both safe to the rear and light enough to flare: measure better first (jig, tail station), "
        f"or give the {control} more throw."
    )


_BEHIND_SIGMAS = 0.25
_FAR_AHEAD_SIGMAS = 3.0


def _published(design: Design, aft: float, sigma: float) -> Said | None:
    published = design.configuration.published
    if published is None:
        return None
    behind = (published.x_m - aft) / sigma
    off = a_length(abs(published.x_m - aft))
    if behind > _BEHIND_SIGMAS:
        kept = f"used all the same, because: {published.reason}"
        then = kept if published.reason else "do not use it without a reason."
        words = f"The published point lies {off} behind what this geometry can safely fly ({behind:.1f} sigma): {then}"
        return Said("behind", Severity.WARNING, words)
    if behind < -_FAR_AHEAD_SIGMAS:
        words = (
            f"The published point is {off} ahead of the computed one: cautious; check for a reading error in either."
        )
        return Said("far_ahead", Severity.PLAIN, words)
    side = "ahead of" if behind < 0 else "behind"
    return Said("agrees", Severity.GOOD, f"The published point agrees: {off} {side} the computed one.")
