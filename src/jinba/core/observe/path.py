"""The hands-off path after letting go: a small step-by-step solution of the master equation."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numba

from jinba.core.constants import STANDARD_GRAVITY_MPS2
from jinba.core.observe.situation import STEEPEST, Situation, pitch_lag_s

_STEP_S = 0.05
_STEEPER_RAD = math.radians(10)


@dataclass(frozen=True, slots=True)
class Release:
    """What the path did after letting go.

    ``mean_rate_rad_s`` toward the canopy over the window; ``time_to_level_s`` and ``time_to_steeper_s`` (10 degrees
    steeper) or None when it did not happen within the window.
    """

    mean_rate_rad_s: float
    time_to_level_s: float | None
    time_to_steeper_s: float | None


def release(
    s: Situation,
    *,
    elevator_rad: float,
    thrust_n: float,
    path_rad: float,
    inverted: bool = False,
    window_s: float = 2.0,
    speed_ratio: float = 1.0,
) -> Release:
    """Return the path after letting go at a path angle [rad, up positive] with elevator at rest and thrust fixed.

    Integrates speed, path angle and load factor with the pitch lag from the master equation, in steps of 0.05 s.
    ``speed_ratio``: speed at release over the situation's. Validity: first seconds, attached flow, SM + D > 0.
    References: docs/methods/master-equation.md, equation 3 (derived here).
    """
    a, weight = s.design.aero, s.design.balance.mass.mass_kg * STANDARD_GRAVITY_MPS2
    # Everything is carried per unit of lift at the situation's speed: at another speed only v^2 changes.
    turned, level, steeper = _followed(
        (s.path_rate_per_g, pitch_lag_s(s), s.manoeuvre_margin, s.moment_square * s.lift, s.damping),
        ((s.pitch_moment - s.pitch_control * elevator_rad) / s.lift, s.thrust_moment(thrust_n) / s.lift),
        (thrust_n / weight, a.cl_zero / a.lift_slope, s.lift / a.lift_slope),
        # Drag over weight: CD0 q S v^2 + k (n W)^2 / (q S v^2).
        (a.cd_zero / s.lift, a.induced_factor * s.lift),
        (path_rad, speed_ratio, -1.0 if inverted else 1.0),
        round(window_s / _STEP_S),
    )
    return Release(turned / window_s, None if math.isnan(level) else level, None if math.isnan(steeper) else steeper)


@numba.njit(cache=True, error_model="numpy")
def _followed(
    pitch: tuple[float, float, float, float, float],
    moments: tuple[float, float],
    thrusts: tuple[float, float, float],
    drags: tuple[float, float],
    begin: tuple[float, float, float],
    steps: int,
) -> tuple[float, float, float]:
    """Return how far the path turned [rad], and when it was level and ten degrees steeper [s; NaN: not in these steps].

    ``pitch``: g/V, lag, SM + D, K C_L, D; ``moments``: of surfaces and of thrust, per lift; ``thrusts``: T/W, incidence at no lift, and
    by load factor; ``drags``: parasite and induced over weight; ``begin``: path, speed, 1 upright or -1 inverted. Compiled: this loop
    is most of what an estimate costs. Derived here (docs/methods/master-equation.md).
    """
    g_over_v0, lag, margin, square, pitch_damping = pitch
    drive, thrust_moment = moments
    thrust, zero_alpha, alpha_per_n = thrusts
    parasite, induced = drags
    path, v, up = begin
    gamma, least = path, (STEEPEST * margin) ** 2
    # Let go in a steady path: the load factor starts at what that path needs.
    n = up * math.cos(gamma)
    turned, level, steeper = 0.0, math.nan, math.nan
    for i in range(1, steps + 1):
        gravity, vv = up * math.cos(gamma), v * v
        carried = thrust * math.sin(max(-0.4, min(0.4, n / vv * alpha_per_n - zero_alpha)))
        # The thrust moment is fixed while q changes, hence v^2 on the aerodynamic part only.
        moment = drive * vv + thrust_moment + pitch_damping * (gravity - carried)
        # Situation.balanced_load, written out.
        target = 2.0 * moment / (margin + math.sqrt(max(margin * margin - 4.0 * square / vv * moment, least)))
        n += (target - n) * min(1.0, _STEP_S / lag)
        rate = g_over_v0 / v * (n + carried - gravity)
        turned += rate * _STEP_S
        # A rate towards the canopy lowers the path when the model is upside down.
        gamma += up * rate * _STEP_S
        drag = parasite * vv + induced * n * n / vv
        # A floor far below the stall keeps a hopeless guess of the solver computable; nothing is read there.
        v = max(0.3, v + g_over_v0 * (thrust - drag - math.sin(gamma)) * _STEP_S)
        if math.isnan(level) and path < 0 and gamma >= 0:
            # Within the step, by its own rate: a time that jumps by whole steps has no slope to solve with.
            level = i * _STEP_S - (gamma / rate if rate > 0.0 else 0.0)
        if math.isnan(steeper) and path < 0 and gamma <= path - _STEEPER_RAD:
            steeper = i * _STEP_S
    return turned, level, steeper
