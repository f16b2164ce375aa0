"""Hinge moments of plain flaps: what the air asks of the servo."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from jinba.core.errors import check_range

HINGE_MOMENT_SHARE = 1.0
"""Share of the thin-aerofoil hinge moment that is counted: real gaps and boundary layers take 10 to 40 % off (handbook order, from memory); the whole is the safe answer for a servo."""


@lru_cache(maxsize=256)
def hinge_moment_coefficients(flap_ratio: float) -> tuple[float, float]:
    """Return (c_h,alpha, c_h,delta) [1/rad] of a plain flap whose chord is ``flap_ratio`` of the section's, hinge moment over q S_f c_f.

    Negative: the air closes the flap. With x = (1 - cos t)/2 and the hinge at t_h,
    dcp/alpha = 4 (1 + cos t)/sin t and
    dcp/delta = 4 [(1 - t_h/pi)(1 + cos t)/sin t + (1/pi) ln|sin((t + t_h)/2)/sin((t - t_h)/2)|], integrated over the flap
    by Gauss-Legendre. Validity: thin section, attached flow, sealed gap, hinge at the flap's nose.
    References: thin-aerofoil theory, Glauert, The Elements of Aerofoil and Airscrew Theory, 1926, ch. XI (from memory);
    the series is summed here (docs/methods/hinge-moment.md).
    """
    check_range("control chord over section chord", flap_ratio, unit="", low=0.02, high=0.98)
    hinge = math.acos(1.0 - 2.0 * (1.0 - flap_ratio))
    # Substituting t = t_h + (pi - t_h) u^2 puts the points where the logarithm is steep.
    node, weight = np.polynomial.legendre.leggauss(80)
    u = 0.5 * (node + 1.0)
    t = hinge + (math.pi - hinge) * u**2
    dt = 0.5 * weight * 2.0 * u * (math.pi - hinge)
    # Squeezed towards the hinge, where the loading has its logarithm: 80 points then hold eight digits.
    x = 0.5 * (1.0 - np.cos(t))
    arm_dx = (x - (1.0 - flap_ratio)) * 0.5 * np.sin(t) * dt / flap_ratio**2
    lift = 4.0 * (1.0 + np.cos(t)) / np.sin(t)
    log = 4.0 / math.pi * np.log(np.abs(np.sin(0.5 * (t + hinge)) / np.sin(0.5 * (t - hinge))))
    c_alpha = -float(np.sum(lift * arm_dx))
    c_delta = -float(np.sum(((1.0 - hinge / math.pi) * lift + log) * arm_dx))
    return c_alpha, c_delta


def hinge_moment_nm(
    *,
    dynamic_pressure_pa: float,
    span_m: float,
    chord_m: float,
    flap_ratio: float,
    deflection_rad: float,
    alpha_rad: float = 0.0,
) -> float:
    """Return the moment [N m] with which the air closes a control surface of a hinge length and chord [m].

    M = q S_f c_f |c_h,alpha alpha + c_h,delta delta|. References: :func:`hinge_moment_coefficients`.
    """
    c_alpha, c_delta = hinge_moment_coefficients(flap_ratio)
    coefficient = HINGE_MOMENT_SHARE * (c_alpha * alpha_rad + c_delta * deflection_rad)
    return dynamic_pressure_pa * span_m * chord_m**2 * abs(coefficient)
