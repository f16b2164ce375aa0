"""Air that is not still: seeded gusts of the published spectrum, as a model flies through them."""

from __future__ import annotations

import math

import numba
import numpy as np
from numpy.typing import NDArray

from jinba.core.flight.simulation.motion import STEP_S

Array = NDArray[np.float64]

_FEET = 0.3048
_LOWEST_M = 10.0

STILL: Array = np.zeros((1, 4))
"""Air that stands still, as a run wants it."""


def gusts(
    rng: np.random.Generator, *, wind_mps: float, height_m: float, speed_mps: float, span_m: float, seconds: float
) -> Array:
    """Return gusts (steps, 4): north, east, down [m/s] and rolling [rad/s], for a model at a speed and height.

    Dryden at low altitude: with h in feet, L_w = h, L_u = h/(0.177 + 0.000823 h)^1.2, sigma_w = 0.1 W,
    sigma_u = sigma_w/(0.177 + 0.000823 h)^0.4; rolling sigma_p^2 = 0.8 sigma_w^2 (pi L_w/4b)^(1/3)/L_w^2, forgotten in
    4b/(pi V); first-order filters L/V throughout. Validity: 10 to 300 m, a model smaller than the gusts. W is the wind at
    the field. References: MIL-F-8785C, 1980, sec. 3.7 (from memory); the simpler filters derived here.
    """
    steps = max(round(seconds / STEP_S), 1)
    if wind_mps <= 0.0:
        return np.zeros((steps, 4))
    feet = max(height_m, _LOWEST_M) / _FEET
    rough = 0.177 + 0.000823 * feet
    down, along = feet * _FEET, feet * _FEET / rough**1.2
    sigma = 0.1 * wind_mps
    level = sigma / rough**0.4
    rolling = math.sqrt(0.8 * (math.pi * down / (4.0 * span_m)) ** (1.0 / 3.0)) * sigma / down
    lasting = 4.0 * span_m / (math.pi * speed_mps)
    columns = ((level, along / speed_mps), (level, along / speed_mps), (sigma, down / speed_mps), (rolling, lasting))
    return np.column_stack([_forgetting(rng, steps, size, lasts) for size, lasts in columns])


def _forgetting(rng: np.random.Generator, steps: int, sigma: float, time_s: float) -> Array:
    """Return noise of a standard deviation that forgets with a time constant, from its steady state on."""
    keep = math.exp(-STEP_S / time_s)
    noise = rng.standard_normal(steps) * sigma * math.sqrt(1.0 - keep * keep)
    return np.asarray(_lasting(noise, keep, float(rng.standard_normal()) * sigma))


@numba.njit(cache=True, error_model="numpy")
def _lasting(noise: Array, keep: float, first: float) -> Array:
    kept, now = np.empty_like(noise), first
    for i in range(noise.shape[0]):
        now = keep * now + noise[i]
        kept[i] = now
    return kept
