"""Steady flight of a model: attitude, surfaces and throttle at which nothing changes."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import product

import numba
import numpy as np
from numpy.typing import NDArray
from scipy.optimize import root

from jinba.core.flight.simulation.craft import Craft
from jinba.core.flight.simulation.motion import GRAVITY, STATES, derivative, loads, settle

Array = NDArray[np.float64]

_ROUNDS = 200


@dataclass(frozen=True, slots=True)
class Steady:
    """A steady straight flight: ``state`` (13,), ``circulation`` (n,), ``surfaces`` (4,) [rad], ``throttle``, path angle
    [rad, climb positive], and whether it was found."""

    state: Array
    circulation: Array
    surfaces: Array
    throttle: float
    path_rad: float
    found: bool


@numba.njit(cache=True, error_model="numpy")
def settled_loads(
    craft: Craft, state: Array, surfaces: Array, throttle: float, circulation: Array
) -> tuple[Array, Array]:
    """Return force and moment [N, N m] once the strips have settled; ``circulation`` (n,) is moved there.

    ``surfaces`` (4,) [rad], ``throttle`` 0 to 1. Derived here.
    """
    force, moment, wanted, still = np.zeros(3), np.zeros(3), np.zeros_like(circulation), np.zeros(4)
    for _ in range(_ROUNDS):
        loads(
            craft,
            state[3:6],
            state[10:13],
            still,
            circulation,
            circulation,
            surfaces,
            throttle,
            1.0,
            force,
            moment,
            wanted,
        )
        if settle(craft, circulation, wanted, 0.85) < 1e-10:
            break
    return force, moment


def flying(
    *, speed_mps: float, alpha: float, beta: float = 0.0, bank: float = 0.0, path: float = 0.0, inverted: bool = False
) -> Array:
    """Return the state (13,) of straight flight at angles [rad] and an airspeed. Derived here."""
    return np.asarray(_flying(speed_mps, alpha, beta, bank, path, inverted))


@numba.njit(cache=True, error_model="numpy")
def _flying(speed_mps: float, alpha: float, beta: float, bank: float, path: float, inverted: bool) -> Array:
    state = np.zeros(STATES)
    state[2] = -100.0
    state[3] = speed_mps * math.cos(alpha) * math.cos(beta)
    state[4] = speed_mps * math.sin(beta)
    state[5] = speed_mps * math.sin(alpha) * math.cos(beta)
    pitch = path + (-alpha if inverted else alpha)
    roll = bank + (math.pi if inverted else 0.0)
    state[6] = math.cos(roll / 2) * math.cos(pitch / 2)
    state[7] = math.sin(roll / 2) * math.cos(pitch / 2)
    state[8] = math.cos(roll / 2) * math.sin(pitch / 2)
    state[9] = -math.sin(roll / 2) * math.sin(pitch / 2)
    return state


@numba.njit(cache=True, error_model="numpy")
def _unbalanced(
    craft: Craft, z: Array, speed_mps: float, surfaces: Array, throttle: float, inverted: bool, circulation: Array
) -> Array:
    """Return what is left to balance (6,): accelerations over that of gravity, moments over weight and span or chord.

    ``z`` (6,): incidence, sideslip, bank, pitch and roll control [rad], and the path [rad] with a ``throttle`` of 0 or more, else
    the throttle of level flight. ``surfaces`` (4,) rudder and flaps are taken from [rad]. Derived here.
    """
    path = z[5] if throttle >= 0.0 else 0.0
    power = throttle if throttle >= 0.0 else z[5]
    state = _flying(speed_mps, z[0], z[1], z[2], path, inverted)
    surfaces[0], surfaces[1] = z[3], z[4]
    force, moment = settled_loads(craft, state, surfaces, power, circulation)
    rate, left = np.zeros(STATES), np.zeros(6)
    derivative(craft, state, force, moment, rate)
    left[:3] = rate[3:6] / GRAVITY
    weight = craft.mass * GRAVITY
    left[3], left[4], left[5] = moment[0] / craft.span, moment[1] / craft.chord, moment[2] / craft.span
    left[3:] /= weight
    return left


def steady(
    craft: Craft,
    *,
    speed_mps: float,
    throttle: float | None = None,
    rudder_rad: float = 0.0,
    flap_rad: float = 0.0,
    inverted: bool = False,
) -> Steady:
    """Return steady straight flight at an airspeed: level with its throttle, or with a throttle [share of full] its path.

    The pilot keeps the wings level with the ailerons and lets it slip as rudder and fin want. Six unknowns: incidence,
    sideslip, bank, pitch and roll control, and throttle or path. References: e.g. Stevens and Lewis, 2003, sec. 3.6 (from
    memory).
    """
    circulation = np.zeros(len(craft.row))
    weight = craft.mass * GRAVITY
    lift = weight / (0.5 * craft.density * speed_mps**2 * craft.area)
    has_motor = len(craft.prop_static) > 0

    surfaces = np.array([0.0, 0.0, rudder_rad, flap_rad])
    given = -1.0 if throttle is None and has_motor else float(throttle or 0.0)

    def residual(z: Array) -> Array:
        return np.asarray(_unbalanced(craft, z, speed_mps, surfaces, given, inverted, circulation))

    sign = -1.0 if inverted else 1.0
    best = None
    powered = throttle is None and has_motor
    for first, last_first in product(
        (sign * lift / 4.5, sign * lift / 4.5 - 0.05, sign * lift / 4.5 + 0.08),
        (0.4, 0.75, 0.15) if powered else (-0.1,),
    ):
        guess = np.array([first, 0.0, 0.0, 0.0, 0.0, last_first])
        circulation[:] = 0.0
        found = root(residual, guess, method="hybr", options={"xtol": 1e-9, "maxfev": 400})
        if best is None or np.abs(found.fun).max() < np.abs(best.fun).max():
            best = found
        if np.abs(best.fun).max() < 1e-6:
            break
    assert best is not None
    alpha, beta, bank, pitch, roll, last = best.x
    gliding = throttle is not None or not has_motor
    path, power = (last, throttle or 0.0) if gliding else (0.0, last)
    residual(best.x)
    ok = bool(np.abs(best.fun).max() < 1e-5 and 0.0 <= power <= 1.0)
    state = flying(speed_mps=speed_mps, alpha=alpha, beta=beta, bank=bank, path=path, inverted=inverted)
    return Steady(
        state, circulation.copy(), np.array([pitch, roll, rudder_rad, flap_rad]), float(power), float(path), ok
    )
