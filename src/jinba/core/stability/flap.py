"""What a wing flap adds: lift, moment about the neutral point, highest lift and drag, with the wake on the tail."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from jinba.core.airframe.parts import Airframe, Surface
from jinba.core.airframe.planform import planform_of
from jinba.core.stability.aero import REAL_FLAP_FACTOR, AeroModel, aero_model
from jinba.core.stability.loads import solve_flap
from jinba.core.stability.neutral_point import SECTION_SLOPE_RATIO, efficiency_of
from jinba.core.stability.sections import flap_effectiveness, flap_moment

_ANGLES_RAD = tuple(math.radians(d) for d in (0.0, 12.0, 20.0, 30.0, 40.0, 60.0))
_STILL_WORKS = (1.0, 1.0, 0.80, 0.63, 0.54, 0.42)
"""Share of the lift that a plain flap of a quarter chord still gives at larger angles: DATCOM, 1978, fig. 6.1.1.1-40 (from memory)."""

_PEAK_SHARE = 0.5
"""Share of what a flap adds to the lift that it adds to the highest lift: the flapped wing stalls earlier (handbook order, from memory)."""


@dataclass(frozen=True, slots=True)
class WingFlap:
    """A trailing edge of the wing that goes down on both sides alike: between two shares of the half span, share of the chord [-],
    and how far [rad, trailing edge down positive]."""

    inner: float
    outer: float
    chord_share: float
    angle_rad: float


@dataclass(frozen=True, slots=True)
class FlapEffect:
    """What flaps add at the same angle of attack, referred to wing area and MAC [-]: lift, moment about the neutral point (nose up
    positive), highest lift, drag without lift."""

    lift: float
    moment: float
    peak: float
    drag: float


def working_angle_rad(angle_rad: float) -> float:
    """Return the angle at which a flap without separation would lift as one at ``angle_rad`` does, same sign. [rad]

    References: :data:`_STILL_WORKS`. Validity: plain flaps of a fifth to a third of the chord, up to 60 degrees.
    """
    share = float(np.interp(abs(angle_rad), _ANGLES_RAD, _STILL_WORKS))
    return angle_rad * share


def flap_effect(airframe: Airframe, flaps: tuple[WingFlap, ...]) -> FlapEffect:
    """Return what wing flaps add together.

    The lattice with the flapped strips at tau K delta more incidence, tails in the wake that makes; the flap's own moment nose-down
    by thin aerofoil; drag 1.7 (c_f/c)^1.38 (S_f/S) sin^2 delta. Sigma 40 % of each. References: docs/methods/flap.md; drag:
    McCormick, Aerodynamics, Aeronautics and Flight Mechanics, 1979, ch. 3 (from memory).
    """
    single = [_one(airframe, flap) for flap in flaps]
    return FlapEffect(*(float(sum(getattr(f, name) for f in single)) for name in ("lift", "moment", "peak", "drag")))


@lru_cache(maxsize=128)
def _one(airframe: Airframe, flap: WingFlap) -> FlapEffect:
    aero, wing, p = aero_model(airframe), airframe.wing, planform_of(airframe.wing)
    loads = solve_flap(airframe, inner=flap.inner, outer=flap.outer, section_slope=SECTION_SLOPE_RATIO)
    x_np, angle, hinge = aero.neutral_point.x_m, working_angle_rad(flap.angle_rad), 1.0 - flap.chord_share
    shift = flap_effectiveness(hinge) * REAL_FLAP_FACTOR * angle
    factors = [efficiency_of(s, airframe) for s in airframe.surfaces]
    lift = sum(f * x.lift_m2 for f, x in zip(factors, loads, strict=True)) / p.area_m2
    about_np = sum(f * (x.moment_m3 + x_np * x.lift_m2) for f, x in zip(factors, loads, strict=True))
    flapped_m2, chord_squared_m3 = _covered(wing, flap)
    own = flap_moment(hinge) * REAL_FLAP_FACTOR * angle * chord_squared_m3 / (p.area_m2 * p.mac_m)
    drag = 1.7 * flap.chord_share**1.38 * flapped_m2 / p.area_m2 * math.sin(flap.angle_rad) ** 2
    return FlapEffect(lift * shift, about_np * shift / (p.area_m2 * p.mac_m) - own, _PEAK_SHARE * lift * shift, drag)


def _covered(wing: Surface, flap: WingFlap) -> tuple[float, float]:
    """Return the wing's area over the flap's span [m2] and the integral of the chord squared over it [m3], both halves."""
    y = np.linspace(flap.inner * wing.half_span_m, flap.outer * wing.half_span_m, 41)
    chords = np.interp(y, [s.y_m for s in wing.sections], [s.chord_m for s in wing.sections])
    return 2.0 * float(np.trapezoid(chords, y)), 2.0 * float(np.trapezoid(chords**2, y))


def flapped(aero: AeroModel, effect: FlapEffect) -> AeroModel:
    """Return the aerodynamic model with flaps down."""
    return replace(
        aero,
        cl_zero=aero.cl_zero + effect.lift,
        cm_zero=aero.cm_zero + effect.moment,
        cl_max=aero.cl_max + effect.peak,
        cd_zero=aero.cd_zero + effect.drag,
    )
