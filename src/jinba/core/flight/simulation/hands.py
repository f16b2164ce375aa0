"""A run: the model flies on while hands and servos move its surfaces. Compiled; what was seen comes back fifty times a second."""

from __future__ import annotations

import math
from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from jinba.core.flight.simulation.craft import Craft
from jinba.core.flight.simulation.ground import nearness, rolling
from jinba.core.flight.simulation.motion import GRAVITY, STATES, STEP_S, air_in_body, derivative, loads, settle, trail

Array = NDArray[np.float64]

EVERY = 2
"""Steps between two rows of a track."""

(
    TIME,
    SPEED,
    PATH,
    BANK,
    NOSE,
    HEADING,
    HEIGHT,
    NORTH,
    EAST,
    ROLLING,
    PITCHING,
    YAWING,
    LOAD,
    SLIP,
    UP_STICK,
    SIDE_STICK,
    POWER,
) = range(17)
"""Columns of a track: [s, m/s, rad, m, rad/s, g]. UP_STICK, SIDE_STICK: surfaces of pitch and roll [rad]; POWER 0 to 1."""

COLUMNS = 17
_BUFFER = 80

UNSETTLED = 0.04
"""Share of the way to where it settles that the circulation has still to go after a step of ten milliseconds. Derived here."""


class Hand(NamedTuple):
    """What the pilot's hands do in a run. Angles of surfaces [rad, signs of ``core.frames``].

    ``pitch``: where the pitch control is held; with ``hold_path`` > 0 it is moved to keep ``path`` [rad], that strongly
    [rad per rad]; ``pitch_rate`` [rad/s] is added from the start. The same for ``roll`` with ``hold_bank``, ``bank``. ``rudder``;
    with ``hold_heading`` > 0 moved to keep the nose from swinging. ``throttle``; with ``hold_speed`` > 0 moved to keep ``speed``.
    ``pitch_most``, ``roll_most``: stops. With ``until_bank`` > 0 [rad] the run ends once it has banked that far. ``flap``: of all flaps, down. A stabiliser on board adds to the hands: ``gyro`` against
    every rate [rad per rad/s], ``level`` towards wings level and a nose at ``level_nose`` [rad per rad, rad].
    """

    pitch: float = 0.0
    pitch_rate: float = 0.0
    hold_path: float = 0.0
    path: float = 0.0
    pitch_most: float = 0.45
    roll: float = 0.0
    hold_bank: float = 0.0
    bank: float = 0.0
    roll_most: float = 0.40
    rudder: float = 0.0
    hold_heading: float = 0.0
    throttle: float = 0.0
    hold_speed: float = 0.0
    speed: float = 0.0
    flap: float = 0.0
    gyro: float = 0.0
    level: float = 0.0
    level_nose: float = 0.0
    until_bank: float = 0.0


class Flight(NamedTuple):
    """Where a model is in its flight; a run moves it on. All arrays: state (13,), circulation (n,), late (n,), surfaces and
    throttle as the servos stand (5,), and what the delay still holds (80, 5)."""

    state: Array
    circulation: Array
    late: Array
    servos: Array
    waiting: Array


def begin(state: Array, circulation: Array, surfaces: Array, throttle: float) -> Flight:
    """Return a flight that begins in a state (13,) with the strips settled and the servos where the hands are.

    ``surfaces`` (4,) [rad], ``throttle`` 0 to 1.
    """
    servos = np.array([*surfaces, throttle], dtype=float)
    return Flight(state.copy(), circulation.copy(), circulation.copy(), servos, np.tile(servos, (_BUFFER, 1)))


def copy(flight: Flight) -> Flight:
    """Return the flight at this moment, to be flown on twice."""
    return Flight(*(part.copy() for part in flight))


@numba.njit(cache=True, error_model="numpy")
def _wrapped(angle: float) -> float:
    return (angle + math.pi) % (2.0 * math.pi) - math.pi


@numba.njit(cache=True, error_model="numpy")
def look(state: Array, servos: Array, time: float, load: float, out: Array) -> None:
    """Write what is seen of a state (13,) at a time [s] and a load [g] into a row of a track."""
    a, b, c, d = state[6], state[7], state[8], state[9]
    u, v, w = state[3], state[4], state[5]
    north = (a * a + b * b - c * c - d * d) * u + 2 * (b * c - a * d) * v + 2 * (b * d + a * c) * w
    east = 2 * (b * c + a * d) * u + (a * a - b * b + c * c - d * d) * v + 2 * (c * d - a * b) * w
    down = 2 * (b * d - a * c) * u + 2 * (c * d + a * b) * v + (a * a - b * b - c * c + d * d) * w
    speed = math.sqrt(u * u + v * v + w * w)
    out[0] = time
    out[1] = speed
    out[2] = math.asin(min(max(-down / max(speed, 0.1), -1.0), 1.0))
    out[3] = math.atan2(2 * (c * d + a * b), a * a - b * b - c * c + d * d)
    out[4] = math.asin(min(max(2 * (a * c - d * b), -1.0), 1.0))
    out[5] = math.atan2(east, north)
    out[6] = -state[2]
    out[7] = state[0]
    out[8] = state[1]
    out[9] = state[10]
    out[10] = state[11]
    out[11] = state[12]
    out[12] = load
    out[13] = math.asin(min(max(v / max(speed, 0.1), -1.0), 1.0))
    out[14] = servos[0]
    out[15] = servos[1]
    out[16] = servos[4]


@numba.njit(cache=True, error_model="numpy")
def _wishes(hand: Hand, seen: Array, time: float, wish: Array) -> None:
    upright = -1.0 if abs(seen[3]) > 0.5 * math.pi else 1.0
    pitch = hand.pitch + hand.pitch_rate * time
    if hand.hold_path > 0.0:
        # The pitch control is positive nose down; upside down the same stick moves the path the other way.
        wrong = hand.path - seen[2]
        pitch -= upright * hand.hold_path * wrong
        # A nose that comes up is met with down, whichever way up it flies.
        pitch += 0.12 * hand.hold_path * seen[10]
    wish[0] = min(max(pitch, -hand.pitch_most), hand.pitch_most)
    roll = hand.roll
    if hand.hold_bank > 0.0:
        roll += hand.hold_bank * _wrapped(hand.bank - seen[3]) - 0.13 * hand.hold_bank * seen[9]
    wish[1] = min(max(roll, -hand.roll_most), hand.roll_most)
    # The rudder is positive nose left.
    wish[2] = hand.rudder + hand.hold_heading * seen[11]
    power = hand.throttle
    if hand.hold_speed > 0.0:
        power += hand.hold_speed * (hand.speed - seen[1])
    wish[3] = hand.flap
    wish[4] = min(max(power, 0.0), 1.0)
    if hand.gyro > 0.0 or hand.level > 0.0:
        wish[0] += hand.gyro * seen[10] + hand.level * (seen[4] - hand.level_nose)
        wish[1] -= hand.gyro * seen[9] + hand.level * seen[3]
        wish[2] += hand.gyro * seen[11]


@numba.njit(cache=True, error_model="numpy")
def run(craft: Craft, flight: Flight, hand: Hand, wind: Array, seconds: float) -> Array:
    """Return the track (rows, 17) of a run; ``flight`` is moved on.

    ``wind`` (m, 4): how the air moves, earth axes [m/s], and rolls [rad/s], one row a step, the last one kept; ``seconds`` [s]. It ends before
    that at the ground, at the bank the hands wait for, and when nothing can be computed any more. Second-order Adams-Bashforth at 100 Hz, or two or four times that.
    Derived here.
    """
    fine = craft.substeps
    step, steps = STEP_S / fine, round(seconds / STEP_S) * fine
    settles = 1.0 - UNSETTLED ** (1.0 / fine)
    state, servos = flight.state, flight.servos
    force, moment, air = np.zeros(3), np.zeros(3), np.zeros(4)
    wanted = np.zeros_like(flight.circulation)
    now, before = np.zeros(STATES), np.zeros(STATES)
    wish = np.zeros(5)
    track = np.zeros((steps // (EVERY * fine) + 1, COLUMNS))
    seen = np.zeros(COLUMNS)
    rows = 0
    delay = min(round(craft.delay / step), _BUFFER - 1)
    for k in range(steps + 1):
        gust = wind[min(k // fine, wind.shape[0] - 1)]
        air_in_body(state, gust, air)
        loads(
            craft,
            state[3:6],
            state[10:13],
            air,
            flight.circulation,
            flight.late,
            servos[:4],
            servos[4],
            nearness(craft, -state[2]),
            force,
            moment,
            wanted,
        )
        rolling(craft, state, force, moment)
        if k % (EVERY * fine) == 0:
            look(state, servos, k * step, -force[2] / (craft.mass * GRAVITY), seen)
            track[rows, :] = seen
            rows += 1
            _wishes(hand, seen, k * step, wish)
            if hand.until_bank > 0.0 and abs(_wrapped(seen[BANK] - track[0, BANK])) > hand.until_bank:
                break
        if k == steps:
            break
        derivative(craft, state, force, moment, now)
        for i in range(STATES):
            state[i] += step * (now[i] if k == 0 else 1.5 * now[i] - 0.5 * before[i])
            before[i] = now[i]
        size = math.sqrt(state[6] ** 2 + state[7] ** 2 + state[8] ** 2 + state[9] ** 2)
        for i in range(6, 10):
            state[i] /= size
        settle(craft, flight.circulation, wanted, settles)
        speed = math.sqrt(state[3] ** 2 + state[4] ** 2 + state[5] ** 2)
        trail(craft, flight.circulation, flight.late, speed * step)
        _servos(craft, flight, wish, k, delay, step)
        if state[2] >= 0.0 or not speed < 200.0:
            break
    return track[:rows]


@numba.njit(cache=True, error_model="numpy")
def _servos(craft: Craft, flight: Flight, wish: Array, k: int, delay: int, step_s: float) -> None:
    """Move the surfaces towards what was wished a moment ago, as fast as servos go, with slack; a motor takes a fifth of a second."""
    flight.waiting[k % _BUFFER, :] = wish
    asked = flight.waiting[(k - delay) % _BUFFER] if k >= delay else flight.waiting[_BUFFER - 1]
    for i in range(4):
        off = asked[i] - flight.servos[i]
        half = 0.5 * craft.slack
        # Within the slack the surface stays where the air and the last move have left it.
        off = off - half if off > half else off + half if off < -half else 0.0
        most = craft.rate * step_s
        flight.servos[i] += min(max(off, -most), most)
    flight.servos[4] += (asked[4] - flight.servos[4]) * step_s / 0.2
