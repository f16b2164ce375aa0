"""Natural motions of a simulated model about a steady flight, by differences of its own equations."""

from __future__ import annotations

import numpy as np

from jinba.core.flight.simulation.craft import Craft
from jinba.core.flight.simulation.motion import STATES, derivative, loads, settle
from jinba.core.flight.simulation.steady import Steady, steady

STILL = np.zeros(4)


def rates_of(craft: Craft, state, late, surfaces, throttle) -> tuple[np.ndarray, np.ndarray]:
    """Rates of the state, and of the wash that lies behind, with each surface settled for itself."""
    force, moment, wanted = np.zeros(3), np.zeros(3), np.zeros_like(late)
    circulation = late.copy()
    for _ in range(200):
        loads(craft, state[3:6], state[10:13], STILL, circulation, late, surfaces, throttle, 1.0, force, moment, wanted)
        if settle(craft, circulation, wanted, 0.7) < 1e-9:
            break
    out = np.zeros(STATES)
    derivative(craft, state, force, moment, out)
    return out, (circulation - late) * np.linalg.norm(state[3:6]) / craft.tail_arm


def eigenvalues(craft: Craft, at: Steady) -> np.ndarray:
    """Eigenvalues [1/s] of velocity, attitude, rates and trailing wash about a steady flight."""
    n = len(at.circulation)
    rows = [3, 4, 5, 6, 7, 8, 9, 10, 11, 12]

    def f(z: np.ndarray) -> np.ndarray:
        state = at.state.copy()
        state[rows] = z[: len(rows)]
        rate, wake = rates_of(craft, state, z[len(rows) :], at.surfaces, at.throttle)
        return np.concatenate([rate[rows], wake])

    z0 = np.concatenate([at.state[rows], at.circulation])
    base, size = f(z0), len(rows) + n
    jacobian = np.zeros((size, size))
    for j in range(size):
        moved = z0.copy()
        moved[j] += 1e-4
        jacobian[:, j] = (f(moved) - base) / 1e-4
    return np.linalg.eigvals(jacobian)


def named(craft: Craft, *, speed_mps: float) -> dict[str, complex]:
    """Short and long period, dutch roll, roll and spiral [1/s] of a model in level flight."""
    at = steady(craft, speed_mps=speed_mps)
    assert at.found
    roots = eigenvalues(craft, at)
    wave = sorted((z for z in roots if z.imag > 1e-3), key=abs)
    real = sorted(z.real for z in roots if abs(z.imag) <= 1e-3 and abs(z.real) > 1e-6)
    return {"waves": wave, "real": real}
