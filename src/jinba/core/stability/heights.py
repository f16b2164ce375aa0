"""What surfaces above or below the balance point pitch by the part of their force that lies along the body."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from jinba.core.airframe.parts import Airframe, Surface
from jinba.core.airframe.planform import half_chord_sweep_rad, planform_of
from jinba.core.stability.aero import OSWALD_EFFICIENCY, AeroModel, SurfaceLift
from jinba.core.stability.neutral_point import SECTION_SLOPE_RATIO, lift_slope_per_rad

Array = NDArray[np.float64]

_SURFACE_DRAG = 0.018
"""Drag of a surface without lift, of its area: friction 0.009 on both sides at Re 1e5 to 3e5 (from memory)."""

_LIFTS = np.array([-0.5, 0.3, 1.1])


@dataclass(frozen=True, slots=True)
class HeightMoment:
    """Pitching moment coefficient ``none + linear C_L + square C_L^2`` of what lies above or below the balance point, nose up
    positive [-]."""

    none: float
    linear: float
    square: float


def height_moment(airframe: Airframe, aero: AeroModel, *, z_cg_m: float) -> HeightMoment:
    """Return the pitching moment of all lifting surfaces by their heights over the balance point, ``z_cg_m`` over the datum line [m].

    A surface's lift stands square to the air that meets it, so it leans forward by alpha - epsilon: along the body L (alpha -
    epsilon) - D pulls forward at its height z, and pitches the nose down: dC_m = -sum z/(S c) (L (alpha - epsilon) - D)/q.
    alpha - epsilon is read back from the lift the lattice gives the surface. Validity: attached flow. References: pendulum stability,
    e.g. Perkins and Hage, Airplane Performance, Stability and Control, 1949, ch. 5 (from memory); derived here
    (docs/methods/pendulum.md).
    """
    p = aero.planform
    total = np.zeros(len(_LIFTS))
    alphas = (_LIFTS - aero.cl_zero) / aero.lift_slope
    for surface, lift in zip(airframe.surfaces, aero.surface_lifts, strict=True):
        forward_m2 = _forward_m2(surface, lift, alphas)
        total -= (_mean_height_m(surface) - z_cg_m) / (p.area_m2 * p.mac_m) * forward_m2
    square, linear, none = np.polyfit(_LIFTS, total, 2)
    return HeightMoment(float(none), float(linear), float(square))


def _forward_m2(surface: Surface, lift: SurfaceLift, alphas: Array) -> Array:
    """Return the force along the body, forward positive, over the dynamic pressure, at angles of attack [rad]. [m2]"""
    own = planform_of(surface)
    slope = lift_slope_per_rad(
        own.aspect_ratio, half_chord_sweep_rad=half_chord_sweep_rad(surface), section_ratio=SECTION_SLOPE_RATIO
    )
    per_area = (lift.base_m2 + alphas * lift.alpha_m2) / own.area_m2
    # What it lifts says at which angle it meets the air; less its own angle against the body that is the air's.
    met = per_area / slope - lift.angle_rad
    drag = _SURFACE_DRAG + per_area**2 / (math.pi * own.aspect_ratio * OSWALD_EFFICIENCY)
    return np.asarray(lift.efficiency * own.area_m2 * (per_area * met - drag))


@lru_cache(maxsize=64)
def _mean_height_m(surface: Surface) -> float:
    y = np.linspace(0.0, surface.half_span_m, 41)
    at = [s.y_m for s in surface.sections]
    chord = np.interp(y, at, [s.chord_m for s in surface.sections])
    height = np.interp(y, at, [s.z_offset_m for s in surface.sections])
    return surface.z_m + float(np.trapezoid(chord * height, y) / np.trapezoid(chord, y))


def at_height(airframe: Airframe, aero: AeroModel, *, z_cg_m: float) -> AeroModel:
    """Return the aerodynamic model of a model that balances at a height over the datum line. ``z_cg_m`` [m].

    The neutral point is that at no lift, where the static margin is counted; ``cm_square`` is what the slope changes with lift.
    Derived here (docs/methods/pendulum.md).
    """
    found = height_moment(airframe, aero, z_cg_m=z_cg_m)
    moved = replace(aero.neutral_point, x_m=aero.neutral_point.x_m - found.linear * aero.planform.mac_m)
    return replace(aero, neutral_point=moved, cm_zero=aero.cm_zero + found.none, cm_square=found.square)
