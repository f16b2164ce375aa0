"""Balance across and in height from simple readings, each with its error and its words."""

from __future__ import annotations

import math
from dataclasses import dataclass

from jinba.core.frames import left_or_right
from jinba.core.mass.weighing import hang_height_m, lateral_from_tip_mass_m
from jinba.core.spoken import a_length, a_mass
from jinba.core.uncertainty import root_sum_square

_TIP_MASS_SIGMA_KG = 0.001
_POINTS_SIGMA_M = 0.0005
"""Friction of two points on the centre line: common practice, no source. [m]"""

_LEAN_SIGMA_RAD = math.radians(0.7)
_HANG_STATION_SIGMA_M = 0.002


@dataclass(frozen=True, slots=True)
class AxisEstimate:
    """A balance along one axis: value and one sigma [m], and what was found in words."""

    value_m: float
    sigma_m: float
    words: str


def lateral_balance(*, tip_mass_kg: float, on_left_tip: bool, half_span_m: float, mass_kg: float) -> AxisEstimate:
    """Return how far right of the centre line a model balances (left negative), from the mass that levels it.

    The model rests on two points of its centre line; the mass lies on the light tip, so the other wing is the heavy one.
    Sigma: 1 g at the tip and the friction of the points. Raises: OutOfRangeError. References: as lateral_from_tip_mass_m.
    """
    away = lateral_from_tip_mass_m(tip_mass_kg=tip_mass_kg, half_span_m=half_span_m, mass_kg=mass_kg)
    y = away if on_left_tip else -away
    sigma = root_sum_square([_TIP_MASS_SIGMA_KG * half_span_m / mass_kg, _POINTS_SIGMA_M])
    if abs(y) <= sigma:
        words = "Level within what two points can show."
    else:
        light = "left" if on_left_tip else "right"
        words = (
            f"The {left_or_right(y)} wing is heavy: it balances {a_length(abs(y), 1)} {left_or_right(y)} of the centre line. "
            f"{a_mass(tip_mass_kg)} inside the {light} tip, or moving a part across, levels it."
        )
    return AxisEstimate(y, sigma, words)


def height_by_hanging(*, x_cg_m: float, x_hang_m: float, z_hang_m: float, lean_to_canopy_rad: float) -> AxisEstimate:
    """Return the height of the balance point above the datum line, from a model hung nose down by its tail.

    Sigma: 0.7 degrees of lean over the arm, 2 mm of the hook. Raises: OutOfRangeError. References: as hang_height_m.
    """
    z = hang_height_m(x_cg_m=x_cg_m, x_hang_m=x_hang_m, z_hang_m=z_hang_m, lean_to_canopy_rad=lean_to_canopy_rad)
    arm = (x_hang_m - x_cg_m) / math.cos(lean_to_canopy_rad) ** 2
    sigma = root_sum_square([arm * _LEAN_SIGMA_RAD, _HANG_STATION_SIGMA_M])
    side = "above" if z >= 0 else "below"
    return AxisEstimate(z, sigma, f"It balances {a_length(abs(z))} {side} the datum line, within {a_length(sigma)}.")
