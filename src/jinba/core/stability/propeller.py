"""What a running propeller does to the neutral point: the force in its own plane when it meets the air at an angle."""

from __future__ import annotations

import math

from jinba.core.airframe.parts import Airframe, Motor

NORMAL_FORCE_SLOPE = math.degrees(0.00165)
"""Force in the disk's plane over q and disk area, two blades, no thrust. [per rad]
References: dC_Np/dalpha = 0.00165 per degree, Perkins and Hage, Airplane Performance, Stability and Control, 1949, sec. 5-5
(from memory)."""

POWER_FACTOR = 1.6
"""How much full power raises the force over the windmilling propeller's; 1.3 to 2 (same source, from memory)."""

_UPWASH = 0.15


def power_shift_m(airframe: Airframe, *, x_np_m: float, area_m2: float, lift_slope: float) -> float:
    """Return how far full power moves the neutral point: forward negative. [m]

    dx = -sum n C_Na f (1 + upwash) S_disk (x_np - x_prop) / (S a): a propeller ahead of the neutral point takes stability
    away, one behind it adds some. The slipstream's effect on a tail comes on top (it usually adds) and is left out: the
    safe side. Sigma about half of the value.

    Parameters
    ----------
    x_np_m : neutral point, power off. [m from the datum]
    area_m2 : wing area. [m2]
    lift_slope : of the whole model on that area. [per rad]

    References: normal force as :data:`NORMAL_FORCE_SLOPE`; moment sum derived here (docs/methods/neutral-point.md).
    """
    motors = () if airframe.motor is None else (airframe.motor, *airframe.further_motors)
    return -sum(_normal_force_m2(m, x_np_m) * (x_np_m - m.x_m) for m in motors) / (area_m2 * lift_slope)


def _normal_force_m2(motor: Motor, x_np_m: float) -> float:
    disk = math.pi / 4.0 * motor.propeller_diameter_m**2
    upwash = _UPWASH if motor.x_m < x_np_m else 0.0
    return motor.count * NORMAL_FORCE_SLOPE * POWER_FACTOR * (1.0 + upwash) * disk
