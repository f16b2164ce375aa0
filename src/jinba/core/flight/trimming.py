"""Steady straight flight of the simulated models by damped Newton steps."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jinba.core.flight.dynamics import STATE_ROWS, Controls, derivatives
from jinba.core.flight.plant import GRAVITY, Array, Plant

_STEPS = np.array([1e-5, 1e-5, 1e-5, 1e-5, 1e-5, 1e-4])


@dataclass(frozen=True, slots=True)
class Steady:
    """A steady straight flight: ``state`` (11, n), ``controls``, ``converged`` (n,) and ``path_rad`` (n,)."""

    state: Array
    controls: Controls
    converged: Array
    path_rad: Array


def steady_flight(
    plant: Plant, *, speed: Array, rudder: Array, thrust: Array | None = None, inverted: bool = False
) -> Steady:
    """Return the controls and attitude for steady straight flight at an airspeed [m/s], shape (n,).

    With ``thrust`` None it is level and the thrust is found; with a thrust [N] the path angle is found instead (a glide).
    Unknowns: angle of attack, sideslip, bank, elevator, aileron, and thrust or path angle. Entries that did not settle
    are marked in ``converged``, never passed off as trimmed.
    """
    n = plant.count
    q = 0.5 * plant.rho * speed**2
    lift = plant.mass * GRAVITY / (q * plant.area)
    guess_alpha = ((-lift if inverted else lift) - plant.cl_zero) / plant.a_even
    last = np.full(n, 0.0) if thrust is not None else q * plant.area * (plant.cd_zero + plant.induced * lift**2)
    z = np.stack(
        [
            guess_alpha,
            np.zeros(n),
            np.zeros(n),
            np.zeros(n),
            np.zeros(n),
            last / (plant.mass * GRAVITY) if thrust is None else last,
        ]
    )
    residual = _residual(z, plant, speed, rudder, thrust, inverted)
    for _ in range(25):
        jacobian = np.empty((n, 6, 6))
        for j in range(6):
            moved = z.copy()
            moved[j] += _STEPS[j]
            jacobian[:, :, j] = ((_residual(moved, plant, speed, rudder, thrust, inverted) - residual) / _STEPS[j]).T
        move = np.linalg.solve(jacobian + 1e-12 * np.eye(6), -residual.T[:, :, None])[:, :, 0].T
        z = z + np.clip(move, -0.15, 0.15)
        residual = _residual(z, plant, speed, rudder, thrust, inverted)
        if np.abs(residual).max() < 1e-9:
            break
    state, controls, path = _unpack(z, plant, speed, rudder, thrust, inverted)
    return Steady(state, controls, np.abs(residual).max(axis=0) < 1e-5, path)


def _residual(z: Array, plant: Plant, speed: Array, rudder: Array, thrust: Array | None, inverted: bool) -> Array:
    state, controls, _ = _unpack(z, plant, speed, rudder, thrust, inverted)
    rates = derivatives(state, controls, plant)[:6]
    # Accelerations in g and in comparable angular units, so that one tolerance fits all.
    return np.concatenate([rates[:3] / GRAVITY, rates[3:6] / 20.0])


def _unpack(
    z: Array, plant: Plant, speed: Array, rudder: Array, thrust: Array | None, inverted: bool
) -> tuple[Array, Controls, Array]:
    alpha, beta, bank, elevator, aileron, last = z
    path = last if thrust is not None else np.zeros_like(last)
    power = thrust if thrust is not None else last * plant.mass * GRAVITY
    state = flying_state(
        speed=speed, alpha=alpha, beta=beta, bank=bank + (np.pi if inverted else 0.0), path=path, inverted=inverted
    )
    return state, Controls(elevator, aileron, rudder, power), path


def flying_state(*, speed: Array, alpha: Array, beta: Array, bank: Array, path: Array, inverted: bool = False) -> Array:
    """Return the state (11, n) of straight flight without rotation at given angles [rad] and airspeed [m/s].

    Derived here (docs/methods/stand-in.md).
    """
    n = len(speed)
    state = np.zeros((STATE_ROWS, n))
    state[0] = speed * np.cos(alpha) * np.cos(beta)
    state[1] = speed * np.sin(beta)
    state[2] = speed * np.sin(alpha) * np.cos(beta)
    pitch = path + (-alpha if inverted else alpha)
    half_bank, half_pitch = bank / 2.0, pitch / 2.0
    state[6] = np.cos(half_bank) * np.cos(half_pitch)
    state[7] = np.sin(half_bank) * np.cos(half_pitch)
    state[8] = np.cos(half_bank) * np.sin(half_pitch)
    state[9] = -np.sin(half_bank) * np.sin(half_pitch)
    state[10] = 100.0
    return state
