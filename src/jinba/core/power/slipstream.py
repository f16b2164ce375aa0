"""What a propeller's stream adds to the air that meets what lies behind it."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from jinba.core.airframe.parts import Airframe, Motor, Surface
from jinba.core.airframe.planform import planform_of
from jinba.core.power.propulsion import motors_of

MIXED = 0.6
"""Share of a stream's speed that reaches a surface behind it, past the body and after mixing: 0.4 to 1.0. Common practice, no source."""

STREAM_OVER_DISK = 0.9
"""Radius of a stream over that of its propeller: 1 standing by it, 0.71 far behind a standing one, 0.97 in level flight (momentum theory)."""

_STATIONS = 41


def speed_gain(thrust_n: float, *, speed_mps: float, density_kg_m3: float, disk_area_m2: float) -> float:
    """Return how much faster the air meets what lies in a stream, over the speed of flight [-]; nothing without thrust.

    Far behind a propeller the air goes at V_s = sqrt(V^2 + 2 T/(rho A)); of its gain a share is left (:data:`MIXED`):
    m (V_s/V - 1). Raises: nothing. Validity: a propeller that pulls, V > 0. References: momentum theory, e.g. Glauert,
    The Elements of Aerofoil and Airscrew Theory, 1926, ch. 15 (from memory).
    """
    if thrust_n <= 0.0 or disk_area_m2 <= 0.0:
        return 0.0
    return MIXED * (math.sqrt(1.0 + 2.0 * thrust_n / (density_kg_m3 * disk_area_m2 * speed_mps**2)) - 1.0)


def disk_area_m2(airframe: Airframe) -> float:
    """Return the area of all propeller disks together [m2]; nothing for a glider. Derived here."""
    return sum(m.count * _disk_m2(m) for m in motors_of(airframe))


def _disk_m2(motor: Motor) -> float:
    return 0.25 * math.pi * motor.propeller_diameter_m**2


def share_in_stream(surface: Surface, airframe: Airframe) -> float:
    """Return the share of a surface's area that lies in the stream of a propeller ahead of it [-], each stream counted by its part of
    all thrust over its part of all disks.

    A stream is a straight tube about the axis, as wide as :data:`STREAM_OVER_DISK` says. Derived here (docs/methods/slipstream.md).
    """
    motors = motors_of(airframe)
    thrust, disks = sum(m.total_thrust_n for m in motors), disk_area_m2(airframe)
    behind = planform_of(surface).station_at(0.25)
    total = 0.0
    for m in motors:
        if m.x_m < behind:
            # All streams are taken as one of the mean loading: the one that pulls harder on its disk counts for more.
            loading = (m.total_thrust_n / thrust) / (m.count * _disk_m2(m) / disks)
            total += loading * _share_in(surface, m)
    return min(total, 1.0)


@lru_cache(maxsize=64)
def _share_in(surface: Surface, motor: Motor) -> float:
    half = surface.half_span_m
    at = [s.y_m for s in surface.sections]
    y = np.linspace(-half, half, 2 * _STATIONS - 1)
    chord = np.interp(np.abs(y), at, [s.chord_m for s in surface.sections])
    z = surface.z_m + np.interp(np.abs(y), at, [s.z_offset_m for s in surface.sections])
    radius = 0.5 * STREAM_OVER_DISK * motor.propeller_diameter_m
    inside = np.zeros(len(y), dtype=bool)
    for side in (0.0,) if motor.count == 1 else (-1.0, 1.0):
        inside |= np.hypot(y - side * motor.y_m, z - motor.z_m) <= radius
    return float(np.trapezoid(np.where(inside, chord, 0.0), y) / np.trapezoid(chord, y))
