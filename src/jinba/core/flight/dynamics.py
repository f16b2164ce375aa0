"""Equations of motion of the simulated models: rigid body, eight wing strips, tail, fin, propeller; non-linear."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from jinba.core.flight.plant import GRAVITY, Array, Plant

# State rows: u v w p q r (body axes, m/s and rad/s), quaternion e0..e3 (body to earth), height (m).
STATE_ROWS = 11
U, V, W, P_, Q, R = range(6)
HEIGHT = 10


@dataclass(frozen=True, slots=True)
class Controls:
    """Surface positions and thrust of each model, shape (n,); signs as in ``core.frames``. [rad, N]"""

    elevator: Array
    aileron: Array
    rudder: Array
    thrust: Array


def derivatives(state: Array, controls: Controls, plant: Plant) -> Array:
    """Return the time derivative of the state, shape (11, n).

    Newton-Euler equations in body axes, e.g. Etkin and Reid, Dynamics of Flight, 1996, ch. 4 (from memory). Strip forces
    act at the wing's aerodynamic centre line; stall is a fold-back of the strip's lift. Derived here
    (docs/methods/stand-in.md).
    """
    force, moment = _forces(state, controls, plant)
    u, v, w, p, q, r = state[:6]
    e0, e1, e2, e3 = state[6:10]
    gx = 2 * (e1 * e3 - e0 * e2) * GRAVITY
    gy = 2 * (e2 * e3 + e0 * e1) * GRAVITY
    gz = (e0 * e0 - e1 * e1 - e2 * e2 + e3 * e3) * GRAVITY
    out = np.empty_like(state)
    out[0] = force[0] / plant.mass + gx - (q * w - r * v)
    out[1] = force[1] / plant.mass + gy - (r * u - p * w)
    out[2] = force[2] / plant.mass + gz - (p * v - q * u)
    out[3] = (moment[0] - (plant.izz - plant.iyy) * q * r) / plant.ixx
    out[4] = (moment[1] - (plant.ixx - plant.izz) * p * r) / plant.iyy
    out[5] = (moment[2] - (plant.iyy - plant.ixx) * p * q) / plant.izz
    out[6] = -0.5 * (e1 * p + e2 * q + e3 * r)
    out[7] = 0.5 * (e0 * p - e3 * q + e2 * r)
    out[8] = 0.5 * (e3 * p + e0 * q - e1 * r)
    out[9] = 0.5 * (-e2 * p + e1 * q + e0 * r)
    out[10] = climb_rate(state)
    return out


def climb_rate(state: Array) -> Array:
    """Return the climb rate [m/s], shape (n,). Derived here (docs/methods/stand-in.md)."""
    u, v, w = state[:3]
    e0, e1, e2, e3 = state[6:10]
    down = 2 * (e1 * e3 - e0 * e2) * u + 2 * (e2 * e3 + e0 * e1) * v + (e0 * e0 - e1 * e1 - e2 * e2 + e3 * e3) * w
    return np.asarray(-down)


def bank_rad(state: Array) -> Array:
    """Return the bank angle [rad, right wing down positive], shape (n,). Derived here (docs/methods/stand-in.md)."""
    e0, e1, e2, e3 = state[6:10]
    return np.asarray(np.arctan2(2 * (e2 * e3 + e0 * e1), e0 * e0 - e1 * e1 - e2 * e2 + e3 * e3))


def pitch_rad(state: Array) -> Array:
    """Return the pitch attitude [rad, nose above the horizon positive], shape (n,).

    Derived here (docs/methods/stand-in.md).
    """
    e0, e1, e2, e3 = state[6:10]
    return np.asarray(np.arcsin(np.clip(2 * (e0 * e2 - e3 * e1), -1.0, 1.0)))


def airspeed(state: Array) -> Array:
    """Return the airspeed [m/s], shape (n,). Derived here (docs/methods/stand-in.md)."""
    return np.asarray(np.sqrt(state[0] ** 2 + state[1] ** 2 + state[2] ** 2))


def path_angle_rad(state: Array) -> Array:
    """Return the flight-path angle [rad, climb positive], shape (n,). Derived here (docs/methods/stand-in.md)."""
    return np.arcsin(np.clip(climb_rate(state) / np.maximum(airspeed(state), 0.1), -1.0, 1.0))


def _forces(state: Array, controls: Controls, plant: Plant) -> tuple[Array, Array]:
    wing_force, wing_moment, alpha_wing = _wing(state, controls, plant)
    u, v, w, p, q, r = state[:6]
    v2 = u * u + v * v + w * w
    pressure = 0.5 * plant.rho * v2
    speed = np.sqrt(v2)
    # Slipstream raises dynamic pressure at tail and fin.
    wash = 1.0 + plant.slipstream * controls.thrust / (np.maximum(pressure, 1.0) * plant.disk_area) * 0.25
    tail_alpha = (
        np.arctan2(w - q * plant.tail_x, u) - plant.downwash * alpha_wing + plant.elevator_gain * controls.elevator
    )
    tail_lift = pressure * wash * plant.tail_slope_area * np.clip(tail_alpha, -0.3, 0.3)
    fin_beta = np.arctan2(v + r * plant.fin_x - p * plant.fin_z, u)
    # Rudder trailing edge left (positive) pushes the fin to the right, which swings the nose left.
    fin_side = (
        -pressure
        * wash
        * plant.fin_slope_area
        * np.clip(fin_beta - plant.rudder_gain * controls.rudder - plant.fin_offset, -0.35, 0.35)
    )
    drag = pressure * plant.area * plant.cd_zero
    thrust_x = controls.thrust * np.cos(plant.thrust_down) * np.cos(plant.thrust_right)
    thrust_y = controls.thrust * np.sin(plant.thrust_right)
    thrust_z = controls.thrust * np.sin(plant.thrust_down)
    fx = wing_force[0] - drag * u / speed + thrust_x
    fy = fin_side - 0.3 * drag * v / speed * 4 + thrust_y
    fz = wing_force[2] - drag * w / speed - tail_lift + thrust_z
    rate = plant.cm_pitch_rate * q * plant.chord / (2.0 * np.maximum(speed, 0.1))
    pitch_zero = pressure * plant.area * plant.chord * (plant.cm_zero + plant.cm_elevator * controls.elevator + rate)
    # A rectangular surface damps its own roll with a/6 (C_lp): the rear wing of a tandem as much as the front one.
    tail_roll = plant.tail_roll * pressure * p / np.maximum(speed, 0.1)
    mx = (
        wing_moment[0]
        - tail_roll
        - plant.fin_z * fin_side
        - plant.thrust_z * thrust_y
        + plant.torque_arm * controls.thrust
    )
    my = wing_moment[1] + plant.tail_x * tail_lift + plant.thrust_z * thrust_x - plant.thrust_x * thrust_z + pitch_zero
    mz = wing_moment[2] + plant.fin_x * fin_side + plant.thrust_x * thrust_y
    return np.stack([fx, fy, fz]), np.stack([mx, my, mz])


def _wing(state: Array, controls: Controls, plant: Plant) -> tuple[Array, Array, Array]:
    u, v, w, p, q, r = state[:6]
    y = plant.strip_y
    us = u - r * y + q * plant.wing_z
    ws = w + p * y - q * plant.wing_x
    side = np.sign(y + 1e-9)
    alpha = np.arctan2(ws + side * v * plant.dihedral, us) + plant.strip_angle + plant.strip_aileron * controls.aileron
    share = plant.strip_area / plant.area
    mean = (share * alpha).sum(axis=0)
    attached = plant.cl_zero + plant.a_even * mean + plant.a_odd * (alpha - mean)
    cl = _stall(attached, plant.strip_cl_max)
    pressure = 0.5 * plant.rho * (us * us + ws * ws) * plant.strip_area
    lift = pressure * cl
    excess = np.maximum(np.abs(attached) - plant.strip_cl_max, 0.0)
    drag = pressure * (plant.induced * cl * cl + 0.25 * excess)
    angle = np.arctan2(ws, us)
    sin, cos = np.sin(angle), np.cos(angle)
    fx = lift * sin - drag * cos
    fz = -lift * cos - drag * sin
    force = np.stack([fx.sum(axis=0), np.zeros_like(u), fz.sum(axis=0)])
    moment = np.stack(
        [(y * fz).sum(axis=0), (plant.wing_z * fx - plant.wing_x * fz).sum(axis=0), -(y * fx).sum(axis=0)]
    )
    return force, moment, mean


def _stall(cl: Array, cl_max: Array) -> Array:
    over = np.maximum(np.abs(cl) - cl_max, 0.0)
    folded = np.minimum(np.abs(cl), cl_max) - np.minimum(0.55 * over, 0.4 * cl_max)
    return np.asarray(np.sign(cl) * folded)


def step(state: Array, controls: Controls, plant: Plant, dt: float) -> Array:
    """Return the state after ``dt`` [s] by the midpoint rule, in as many sub-steps as the quickest damping asks for.

    Light models roll and pitch with time constants of a few hundredths of a second; a sub-step stays below 0.8 of it.
    References: explicit midpoint rule, e.g. Press et al., Numerical Recipes, 2007 (from memory).
    """
    parts = max(1, math.ceil(dt / (0.8 * plant.shortest_lag_s)))
    h = dt / parts
    for _ in range(parts):
        middle = state + 0.5 * h * derivatives(state, controls, plant)
        state = state + h * derivatives(middle, controls, plant)
        state[6:10] /= np.sqrt((state[6:10] ** 2).sum(axis=0))
    return np.asarray(state)
