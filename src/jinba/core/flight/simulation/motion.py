"""Forces on a model and its motion: rigid body, strips, bodies, propellers. Compiled, fixed step, no randomness of its own."""

from __future__ import annotations

import math

import numba
import numpy as np
from numpy.typing import NDArray

from jinba.core.constants import STANDARD_GRAVITY_MPS2
from jinba.core.flight.simulation.craft import Craft
from jinba.core.flight.simulation.polars import MOMENT, SLOPE, section

Array = NDArray[np.float64]

STATES = 13
SURFACES = 4
"""Place in the air [m, north, east, down], velocity in body axes [m/s], quaternion body to earth, rates [rad/s]."""

POSITION, VELOCITY, ATTITUDE, RATES = slice(0, 3), slice(3, 6), slice(6, 10), slice(10, 13)
STEP_S = 1.0 / 100.0
"""Step of a run and of its wind; a quick model takes it in two or four halves (``Craft.substeps``)."""

GRAVITY = STANDARD_GRAVITY_MPS2

_FLAP_FADES_RAD = 0.26
_FLAP_LOSS = 1.1
"""A flap beyond 15 degrees gains less and less: about half of its effect is left at 40 (Nelson's chart, from memory)."""

_BLADE_NORMAL = 0.12
"""Force in the plane of a propeller per incidence, on its disk: Ribner, NACA TR-819, 1945, order of it (from memory)."""

_UNEVEN_DISK = 0.06
"""Yawing moment of a propeller at incidence, per thrust and diameter: the blade that goes down pulls more. From memory."""


@numba.njit(cache=True, error_model="numpy")
def _faded(angle: float) -> float:
    beyond = abs(angle) - _FLAP_FADES_RAD
    if beyond <= 0.0:
        return angle
    kept = _FLAP_FADES_RAD + beyond / (1.0 + _FLAP_LOSS * beyond / _FLAP_FADES_RAD)
    return kept if angle > 0.0 else -kept


@numba.njit(cache=True, error_model="numpy")
def propeller(craft: Craft, j: int, along: float, throttle: float) -> tuple[float, float]:
    """Return thrust [N] and torque over that of full throttle [-] of one propeller at a speed along its axis. [m/s]

    T = T0 s^2 (1 - V/(s V0)): blades of one pitch at a share s of full revolutions. Derived here.
    """
    s = math.sqrt(min(max(throttle, 0.0), 1.0))
    if s < 0.02:
        return 0.0, 0.0
    advance = along / (s * craft.prop_pitch_speed[j])
    pull = 1.0 - advance
    if pull < -0.15:
        pull = -0.15
    # A blade that pulls less turns more easily, but never freely.
    return craft.prop_static[j] * s * s * pull, s * s * max(0.35 + 0.65 * pull, 0.1)


@numba.njit(cache=True, error_model="numpy")
def _washes(craft: Craft, circulation: Array, late: Array, washed: Array) -> None:
    """Write what the circulation does to each strip, ``washed`` (2n): fall of incidence times speed [m/s], then moment arm times
    circulation [m3/s].

    Column by column, so that compiled code may take several strips at once and still add each in the same order anywhere.
    """
    washed[:] = 0.0
    for j in range(circulation.shape[0]):
        now, before = circulation[j], late[j]
        for i in range(washed.shape[0]):
            washed[i] += craft.own[j, i] * now + craft.others[j, i] * before


@numba.njit(cache=True, error_model="numpy")
def _flow(
    craft: Craft, u0: float, v0: float, w0: float, p: float, q: float, r: float, stream: Array, turn: Array, flow: Array
) -> None:
    """Write how the air meets each strip: along its chord, up through it, and their size, rows of ``flow`` (3, n). [m/s]"""
    n = craft.place.shape[1]
    for i in range(n):
        x, y, z = craft.place[0, i], craft.place[1, i], craft.place[2, i]
        vx, vy, vz = u0 + q * z - r * y, v0 + r * x - p * z, w0 + p * y - q * x
        for j in range(craft.in_stream.shape[0]):
            vx += craft.in_stream[j, i] * stream[j]
            # The stream turns with the propeller: to the right means down on its right-hand side.
            vy += craft.in_stream[j, i] * turn[j] * craft.stream_arm[j, 1, i]
            vz -= craft.in_stream[j, i] * turn[j] * craft.stream_arm[j, 0, i]
        root = craft.pressure[i]
        along = root * (vx * craft.ahead[0, i] + vy * craft.ahead[1, i] + vz * craft.ahead[2, i])
        through = -root * (vx * craft.up[0, i] + vy * craft.up[1, i] + vz * craft.up[2, i])
        flow[0, i], flow[1, i] = along, through
        flow[2, i] = math.sqrt(along * along + through * through)


@numba.njit(cache=True, error_model="numpy")
def loads(
    craft: Craft,
    velocity: Array,
    rates: Array,
    air: Array,
    circulation: Array,
    late: Array,
    surfaces: Array,
    throttle: float,
    image: float,
    force: Array,
    moment: Array,
    wanted: Array,
) -> None:
    """Compute force and moment [N, N m, body axes] about the balance point, and the circulation each strip is going to have.

    ``velocity`` (3,) of the balance point through the ground's air, ``air`` (4,) how that moves, body axes [m/s], and
    rolls [rad/s]; ``image``: share of the wash that the ground leaves; ``rates``
    (3,) [rad/s]; ``circulation`` (n,) now and ``late`` (n,) as its wake reaches what lies behind [m2/s]; ``surfaces`` (4,)
    pitch, roll and yaw control and flaps [rad, signs of ``core.frames``, flaps down]; ``throttle`` 0 to 1. Writes ``force``, ``moment``, ``wanted``.
    """
    p, q, r = rates[0] - air[3], rates[1], rates[2]
    u0, v0, w0 = velocity[0] - air[0], velocity[1] - air[1], velocity[2] - air[2]
    force[:] = 0.0
    moment[:] = 0.0
    count = craft.prop_static.shape[0]
    stream = np.zeros(max(count, 1))
    turn = np.zeros(max(count, 1))
    for j in range(count):
        px, py, pz = craft.prop_place[j]
        ax, ay, az = craft.prop_axis[j]
        vx, vy, vz = u0 + q * pz - r * py, v0 + r * px - p * pz, w0 + p * py - q * px
        along = vx * ax + vy * ay + vz * az
        thrust, share = propeller(craft, j, along, throttle)
        disk = craft.prop_area[j]
        if thrust > 0.0:
            forward = max(along, 0.0)
            full = math.sqrt(forward * forward + 2.0 * thrust / (craft.density * disk))
            stream[j] = full - forward
            middle = 0.5 * (full + forward)
            radius = math.sqrt(disk / math.pi)
            turn[j] = (
                -craft.prop_torque[j] * share / (craft.density * disk * max(middle, 2.0) * 0.7 * radius) * craft.swirl
            )
        # What flows across the disk pushes it along, the more the harder it pulls.
        side = 0.5 * craft.density * (abs(along) + stream[j]) * disk * _BLADE_NORMAL
        cx, cy, cz = vx - along * ax, vy - along * ay, vz - along * az
        fx, fy, fz = thrust * ax - side * cx, thrust * ay - side * cy, thrust * az - side * cz
        force[0] += fx
        force[1] += fy
        force[2] += fz
        moment[0] += py * fz - pz * fy + craft.prop_torque[j] * share
        moment[1] += pz * fx - px * fz
        moment[2] += px * fy - py * fx
        if thrust > 0.0 and along > 1.0:
            # Nose up: the blade that goes down (right, for a propeller that turns right) meets more air. Nose left.
            blade = _UNEVEN_DISK * thrust * 2.0 * math.sqrt(disk / math.pi) * craft.prop_turn[j] / along
            moment[2] -= blade * cz
            moment[1] += blade * cy
    n = circulation.shape[0]
    flow, washed = np.empty((3, n)), np.empty(2 * n)
    _washes(craft, circulation, late, washed)
    _flow(craft, u0, v0, w0, p, q, r, stream, turn, flow)
    pitch, roll, yaw, down = (
        _faded(surfaces[0]),
        _faded(surfaces[1]),
        _faded(surfaces[2]),
        _faded(surfaces[3]),
    )
    f0 = f1 = f2 = m0 = m1 = m2 = 0.0
    for i in range(n):
        speed = flow[2, i]
        if speed < 0.1:
            wanted[i] = 0.0
            continue
        # Where the flow comes from behind or from the side the strip has no wake to speak of.
        slower = 1.0 / speed
        forwardness = max(flow[0, i] * slower, 0.0)
        alpha = math.atan2(flow[1, i], flow[0, i]) - forwardness * image * washed[i] * slower
        flap = craft.flap[i, 0] * pitch + craft.flap[i, 1] * roll + craft.flap[i, 2] * yaw + craft.flap[i, 3] * down
        lift, drag, turning = section(craft.row[i], alpha, flap)
        turning += craft.flap_moment[i] * craft.row[i, SLOPE] * flap * (1.0 if turning == craft.row[i, MOMENT] else 0.5)
        wanted[i] = 0.5 * speed * craft.strip_chord[i] * lift
        pressure = 0.5 * craft.density * speed * speed * craft.strip_area[i]
        s, c = math.sin(alpha), math.cos(alpha)
        on_up, on_ahead = pressure * (lift * c + drag * s), pressure * (lift * s - drag * c)
        fx = on_up * craft.up[0, i] + on_ahead * craft.ahead[0, i]
        fy = on_up * craft.up[1, i] + on_ahead * craft.ahead[1, i]
        fz = on_up * craft.up[2, i] + on_ahead * craft.ahead[2, i]
        f0 += fx
        f1 += fy
        f2 += fz
        about = pressure * turning * craft.strip_chord[i]
        about -= craft.density * speed * washed[n + i] * craft.strip_width[i] * forwardness
        x, y, z = craft.place[0, i], craft.place[1, i], craft.place[2, i]
        m0 += y * fz - z * fy + about * craft.along[0, i]
        m1 += z * fx - x * fz + about * craft.along[1, i]
        m2 += x * fy - y * fx + about * craft.along[2, i]
    force[0] += f0
    force[1] += f1
    force[2] += f2
    moment[0] += m0
    moment[1] += m1
    moment[2] += m2
    _bodies(craft, u0, v0, w0, p, q, r, force, moment)


@numba.njit(cache=True, error_model="numpy")
def _bodies(
    craft: Craft, u0: float, v0: float, w0: float, p: float, q: float, r: float, force: Array, moment: Array
) -> None:
    """Add what slender bodies do: lift where they grow, push where they shrink, drag across and along."""
    density = craft.density
    for i in range(craft.body_x.shape[0]):
        x, y, z = craft.body_x[i], craft.body_y[i], craft.body_z[i]
        vx, vy, vz = u0 + q * z - r * y, v0 + r * x - p * z, w0 + p * y - q * x
        across = 0.5 * density * craft.body_width[i] * 0.7 * math.sqrt(vy * vy + vz * vz)
        # Growing parts feel a force against the crossflow (Munk: density V w dS), whatever moves them through the air.
        along = density * abs(vx)
        fy, fz = -(along * craft.body_push[i] + across) * vy, -(along * craft.body_lift[i] + across) * vz
        force[1] += fy
        force[2] += fz
        moment[0] += y * fz - z * fy
        moment[1] -= x * fz
        moment[2] += x * fy
    speed = math.sqrt(u0 * u0 + v0 * v0 + w0 * w0)
    moment[0] += 0.5 * density * speed * v0 * craft.wing_height
    drag = 0.5 * density * speed * craft.drag_area
    force[0] -= drag * u0
    force[1] -= drag * v0
    force[2] -= drag * w0


@numba.njit(cache=True, error_model="numpy")
def derivative(craft: Craft, state: Array, force: Array, moment: Array, out: Array) -> None:
    """Write the rate of change of a state (13,) under a force and moment about the balance point, gravity added.

    References: rigid-body equations in body axes, e.g. Stevens and Lewis, Aircraft Control and Simulation, 2003, sec. 1.5
    (from memory).
    """
    u, v, w = state[3], state[4], state[5]
    a, b, c, d = state[6], state[7], state[8], state[9]
    p, q, r = state[10], state[11], state[12]
    out[0] = (a * a + b * b - c * c - d * d) * u + 2 * (b * c - a * d) * v + 2 * (b * d + a * c) * w
    out[1] = 2 * (b * c + a * d) * u + (a * a - b * b + c * c - d * d) * v + 2 * (c * d - a * b) * w
    out[2] = 2 * (b * d - a * c) * u + 2 * (c * d + a * b) * v + (a * a - b * b - c * c + d * d) * w
    out[3] = force[0] / craft.mass + 2 * (b * d - a * c) * GRAVITY - (q * w - r * v)
    out[4] = force[1] / craft.mass + 2 * (c * d + a * b) * GRAVITY - (r * u - p * w)
    out[5] = force[2] / craft.mass + (a * a - b * b - c * c + d * d) * GRAVITY - (p * v - q * u)
    out[6] = -0.5 * (b * p + c * q + d * r)
    out[7] = 0.5 * (a * p - d * q + c * r)
    out[8] = 0.5 * (d * p + a * q - b * r)
    out[9] = 0.5 * (-c * p + b * q + a * r)
    hx = craft.inertia[0, 0] * p + craft.inertia[0, 1] * q + craft.inertia[0, 2] * r
    hy = craft.inertia[1, 0] * p + craft.inertia[1, 1] * q + craft.inertia[1, 2] * r
    hz = craft.inertia[2, 0] * p + craft.inertia[2, 1] * q + craft.inertia[2, 2] * r
    mx, my, mz = moment[0] - (q * hz - r * hy), moment[1] - (r * hx - p * hz), moment[2] - (p * hy - q * hx)
    for i in range(3):
        out[10 + i] = craft.inverse[i, 0] * mx + craft.inverse[i, 1] * my + craft.inverse[i, 2] * mz


@numba.njit(cache=True, error_model="numpy")
def air_in_body(state: Array, wind: Array, out: Array) -> None:
    """Write a velocity of the air, earth axes [m/s], in body axes; its rolling [rad/s] stays. ``wind``, ``out`` (4,)."""
    out[3] = wind[3]
    a, b, c, d = state[6], state[7], state[8], state[9]
    out[0] = (a * a + b * b - c * c - d * d) * wind[0] + 2 * (b * c + a * d) * wind[1] + 2 * (b * d - a * c) * wind[2]
    out[1] = 2 * (b * c - a * d) * wind[0] + (a * a - b * b + c * c - d * d) * wind[1] + 2 * (c * d + a * b) * wind[2]
    out[2] = 2 * (b * d + a * c) * wind[0] + 2 * (c * d - a * b) * wind[1] + (a * a - b * b - c * c + d * d) * wind[2]


@numba.njit(cache=True, error_model="numpy")
def settle(craft: Craft, circulation: Array, wanted: Array, share: float) -> float:
    """Move the circulation a share of the way to where it settles; return the largest move. [m2/s]

    ``quicken`` holds one step of Newton's method for attached flow. Derived here.
    """
    n = circulation.shape[0]
    moves = np.zeros(n)
    most = 0.0
    for j in range(n):
        missing = wanted[j] - circulation[j]
        for i in range(n):
            moves[i] += craft.quicken[j, i] * missing
    for i in range(n):
        circulation[i] += share * moves[i]
        most = max(most, abs(moves[i]))
    return most


@numba.njit(cache=True, error_model="numpy")
def trail(craft: Craft, circulation: Array, late: Array, distance: float) -> None:
    """Let what lies behind feel the circulation after the time its wake takes. ``distance`` flown in the step [m]. Derived here."""
    lag = min(distance / craft.tail_arm, 1.0)
    for i in range(circulation.shape[0]):
        late[i] += lag * (circulation[i] - late[i])
