"""Short runs of the simulated models: let go and watch, roll hands off, stall. Everything as arrays over the models."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from jinba.core.flight.dynamics import Controls, airspeed, bank_rad, path_angle_rad, pitch_rad, step
from jinba.core.flight.plant import GRAVITY, Array, Plant
from jinba.core.flight.trimming import Steady, flying_state

STEP_S = 0.02
_TWENTY = math.radians(20.0)
_THIRTY = math.radians(30.0)


@dataclass(frozen=True, slots=True)
class PathRun:
    """Mean flight-path rate [deg/s, climb positive] over the judged window.

    Times [s] to a level path and to 20 degrees of pitch from where it was let go; nan: not within ``watched_s``.
    """

    rate_deg_s: Array
    time_to_level_s: Array
    time_to_twenty_s: Array


def path_run(
    plant: Plant,
    state: Array,
    controls: Controls,
    *,
    held_aileron: Array,
    seconds: float,
    settle_s: float = 0.0,
    watched_s: float = 0.0,
) -> PathRun:
    """Return the path after letting go in pitch; the pilot keeps the wings level with ``held_aileron`` and the stick.

    The rate is the mean from ``settle_s`` to ``seconds``; the run goes on to ``watched_s`` for the times.
    ``seconds`` [s].
    """
    start = path_angle_rad(state)
    reference_bank = np.round(bank_rad(state) / np.pi) * np.pi
    pitch = pitch_rad(state)
    begin, end = start.copy(), start.copy()
    level, twenty = np.full(plant.count, np.nan), np.full(plant.count, np.nan)
    judged, settle = round(seconds / STEP_S), round(settle_s / STEP_S)
    for i in range(max(judged, round(watched_s / STEP_S))):
        if i == settle:
            begin = path_angle_rad(state)
        wrong = np.angle(np.exp(1j * (bank_rad(state) - reference_bank)))
        aileron = held_aileron - 0.6 * wrong - 0.08 * state[3]
        state = step(state, replace(controls, aileron=np.clip(aileron, -0.4, 0.4)), plant, STEP_S)
        now = path_angle_rad(state)
        crossed = np.isnan(level) & (start < 0) & (now >= 0)
        level[crossed] = (i + 1) * STEP_S
        twenty[np.isnan(twenty) & (np.abs(pitch_rad(state) - pitch) >= _TWENTY)] = (i + 1) * STEP_S
        if i == judged - 1:
            end = now
    return PathRun(np.degrees(end - begin) / (seconds - settle_s), level, twenty)


@dataclass(frozen=True, slots=True)
class RollRun:
    """Mean roll rate [deg/s, right wing down positive] to 30 degrees or the end, and the time to 30 degrees (nan: not)."""

    rate_deg_s: Array
    time_to_bank_s: Array


def roll_run(plant: Plant, state: Array, controls: Controls, *, seconds: float) -> RollRun:
    """Return the roll after letting the ailerons go, the pilot holding the pitch; body sense, right wing down positive.

    ``seconds`` [s].
    """
    reference = np.round(bank_rad(state) / np.pi) * np.pi
    first = np.angle(np.exp(1j * (bank_rad(state) - reference)))
    reached = np.full(plant.count, np.nan)
    angle = np.zeros(plant.count)
    for i in range(round(seconds / STEP_S)):
        state = step(state, controls, plant, STEP_S)
        angle = np.angle(np.exp(1j * (bank_rad(state) - reference))) - first
        hit = np.isnan(reached) & (np.abs(angle) >= _THIRTY)
        reached[hit] = np.sign(angle[hit]) * (i + 1) * STEP_S
        if np.isfinite(reached).all():
            break
    time = np.abs(reached)
    rate = np.where(np.isfinite(reached), np.sign(reached) * 30.0 / np.maximum(time, 0.05), np.degrees(angle) / seconds)
    return RollRun(np.asarray(rate), time)


@dataclass(frozen=True, slots=True)
class StallRun:
    """Bank at the break [rad], greatest roll rate [rad/s], height lost [m], speed at the break [m/s]."""

    bank_rad: Array
    roll_rate: Array
    height_lost_m: Array
    speed_mps: Array


def stall_run(plant: Plant, steady: Steady, *, rest: Controls) -> StallRun:
    """Return a power-off stall: elevator eased up until the nose drops or a wing goes, then stick released and power."""
    n = plant.count
    state = steady.state
    elevator = steady.controls.elevator.copy()
    broken = np.zeros(n, dtype=bool)
    since = np.zeros(n)
    bank_at, rate_at = np.zeros(n), np.zeros(n)
    height_at, lowest, speed_at = np.zeros(n), np.full(n, np.inf), np.zeros(n)
    idle, full = np.zeros(n), plant.full_thrust
    path_before = path_angle_rad(state)
    for _ in range(round(9.0 / STEP_S)):
        elevator = np.where(
            broken, elevator + (rest.elevator + 0.05 - elevator) * 0.06, np.maximum(elevator - 0.03 * STEP_S, -0.45)
        )
        controls = Controls(
            elevator, steady.controls.aileron, steady.controls.rudder, np.where(broken & (since > 0.5), full, idle)
        )
        state = step(state, controls, plant, STEP_S)
        alpha = np.arctan2(state[2], state[0])
        critical = (plant.strip_cl_max.min(axis=0) - plant.cl_zero) / plant.a_even
        path = path_angle_rad(state)
        new = ~broken & ((alpha > critical) & (path < path_before) | (np.abs(bank_rad(state)) > 0.5))
        path_before = path
        speed_at[new], height_at[new] = airspeed(state)[new], state[10][new]
        broken |= new
        since += broken * STEP_S
        watching = broken & (since < 1.2)
        bigger = watching & (np.abs(state[3]) > np.abs(rate_at))
        rate_at[bigger] = state[3][bigger]
        bank_at = np.where(watching, bank_rad(state), bank_at)
        lowest = np.where(broken, np.minimum(lowest, state[10]), lowest)
    lost = np.where(broken, np.maximum(height_at - lowest, 0.5), 0.5)
    return StallRun(bank_at, rate_at, lost, np.where(broken, speed_at, airspeed(state)))


def dive_state(plant: Plant, steady: Steady, *, path_rad: float, speed_ratio: float) -> Array:
    """Return the state of a straight dive entered from a steady flight, angle of attack for its own load factor.

    Derived here (docs/methods/stand-in.md). ``speed_ratio`` [-].
    """
    return _placed(plant, steady, path_rad=path_rad, speed_ratio=speed_ratio, inverted=False)


def up_line_state(plant: Plant, steady: Steady, *, path_rad: float, speed_ratio: float) -> Array:
    """Return the state of a straight inverted line. Derived here (docs/methods/stand-in.md). ``speed_ratio`` [-]."""
    return _placed(plant, steady, path_rad=path_rad, speed_ratio=speed_ratio, inverted=True)


def _placed(plant: Plant, steady: Steady, *, path_rad: float, speed_ratio: float, inverted: bool) -> Array:
    speed = airspeed(steady.state) * speed_ratio
    q = 0.5 * plant.rho * speed**2
    lift = plant.mass * GRAVITY * math.cos(path_rad) / (q * plant.area) * (-1.0 if inverted else 1.0)
    alpha = (lift - plant.cl_zero) / (plant.a_even * 1.06)
    n = plant.count
    zero = np.zeros(n)
    bank = np.full(n, np.pi if inverted else 0.0)
    return flying_state(speed=speed, alpha=alpha, beta=zero, bank=bank, path=np.full(n, path_rad), inverted=inverted)
