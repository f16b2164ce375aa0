"""The ground: wheels that carry, roll and grip, and the wing's own image below it."""

from __future__ import annotations

import math

import numba
import numpy as np
from numpy.typing import NDArray

from jinba.core.constants import STANDARD_GRAVITY_MPS2
from jinba.core.flight.simulation.craft import Craft

Array = NDArray[np.float64]

_SINKS_M = 0.01
"""How far the legs give at rest: common practice, no source."""

_ROLLS, _GRIPS = 0.06, 0.5
"""Friction of small wheels along and across, short grass: common practice, no source."""

_DAMPED = 0.6


@numba.njit(cache=True, error_model="numpy")
def nearness(craft: Craft, height: float) -> float:
    """Return the share of the wash that is left at a height [m] over the ground: (16 h/b)^2/(1 + (16 h/b)^2).

    References: McCormick, Aerodynamics, Aeronautics and Flight Mechanics, 1995, sec. 7.4 (from memory).
    """
    if height > craft.span:
        return 1.0
    squared = (16.0 * max(height, 0.02) / craft.span) ** 2
    return squared / (1.0 + squared)


@numba.njit(cache=True, error_model="numpy")
def rolling(craft: Craft, state: Array, force: Array, moment: Array) -> None:
    """Add force and moment [N, N m, body axes] of the wheels on the ground (z = 0): a spring and a damper each, friction.

    Derived here.
    """
    count = craft.wheels.shape[0]
    if count == 0 or -state[2] > 2.0 * craft.span:
        return
    a, b, c, d = state[6], state[7], state[8], state[9]
    p, q, r = state[10], state[11], state[12]
    # Rows of the rotation from body to earth: north, east, down.
    n0, n1, n2 = a * a + b * b - c * c - d * d, 2 * (b * c - a * d), 2 * (b * d + a * c)
    e0, e1, e2 = 2 * (b * c + a * d), a * a - b * b + c * c - d * d, 2 * (c * d - a * b)
    z0, z1, z2 = 2 * (b * d - a * c), 2 * (c * d + a * b), a * a - b * b - c * c + d * d
    weight = craft.mass * STANDARD_GRAVITY_MPS2
    spring = weight / (count * _SINKS_M)
    damper = 2.0 * _DAMPED * math.sqrt(spring * craft.mass / count)
    heading = math.atan2(e0, n0)
    ch, sh = math.cos(heading), math.sin(heading)
    for i in range(count):
        x, y, z = craft.wheels[i]
        deep = state[2] + z0 * x + z1 * y + z2 * z
        if deep <= 0.0:
            continue
        vx, vy, vz = state[3] + q * z - r * y, state[4] + r * x - p * z, state[5] + p * y - q * x
        north, east = n0 * vx + n1 * vy + n2 * vz, e0 * vx + e1 * vy + e2 * vz
        press = max(spring * deep + damper * (z0 * vx + z1 * vy + z2 * vz), 0.0)
        ahead, aside = ch * north + sh * east, -sh * north + ch * east
        along = -_ROLLS * press * ahead / (abs(ahead) + 0.1)
        across = -_GRIPS * press * aside / (abs(aside) + 0.3)
        fn, fe = ch * along - sh * across, sh * along + ch * across
        fx, fy, fz = n0 * fn + e0 * fe - z0 * press, n1 * fn + e1 * fe - z1 * press, n2 * fn + e2 * fe - z2 * press
        force[0] += fx
        force[1] += fy
        force[2] += fz
        moment[0] += y * fz - z * fy
        moment[1] += z * fx - x * fz
        moment[2] += x * fy - y * fx
