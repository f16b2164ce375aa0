"""Flaps, knife-edge and stabilisers."""

from __future__ import annotations

import math

from jinba.core.cards.model import CardRecord, Reading
from jinba.core.flight.piloting.aloft import Aloft, Array, CannotFly, mean_of, path_seen, roll_seen
from jinba.core.flight.piloting.said import done, held, option
from jinba.core.flight.simulation.hands import HEIGHT, NOSE, PITCHING, SIDE_STICK, UP_STICK
from jinba.core.frames import Axis

FULL_FLAP_RAD = math.radians(40.0)
_EDGE_S = 1.6
_RUDDERS = (0.3, 0.5, 0.7, 1.0)
"""Shares of full rudder he tries on the edge, one after the other."""

_STEADY_DEG_S = 3.0
"""A path that bends less than this is called held. Common practice, no source."""


def flap_step(a: Aloft) -> CardRecord:
    """Fly F11: a quarter, a half and all of the flap, the stick that holds it level; not on where it takes half of that."""
    readings: list[Reading | None] = []
    speed = a.eyes.speed(1.33 * a.stall_mps)
    most = 0.0
    for key, share in (("stick_quarter", 0.25), ("stick_half", 0.5), ("stick_full", 1.0)):
        try:
            at = a.steady(speed, flap_rad=share * FULL_FLAP_RAD)
        except CannotFly:
            break
        track = a.fly(a.start(at), a.hand(at), 3.0)
        stick = (mean_of(track, UP_STICK, 1.0) - a.rest[Axis.PITCH]) / a.throw[Axis.PITCH]
        stick = max(-1.0, min(1.0, round((stick + a.eyes.noise(a.eyes.person.feel)) * 20.0) / 20.0))
        aside = track[:, SIDE_STICK] - a.rest[Axis.ROLL]
        most = max(most, abs(aside).max() / a.throw[Axis.ROLL], key=abs)
        readings.append(held(key, Axis.PITCH, stick, digits=2))
        if abs(stick) > 0.5:
            break
    if not readings:
        raise CannotFly
    return done("F11", *readings, held("aileron_held", Axis.ROLL, round(min(float(most), 1.0) * 20.0) / 20.0, digits=2))


def knife_edge(a: Aloft) -> CardRecord:
    """Fly F21: on each side the rudder that holds it, and what elevator and aileron it then takes to keep straight."""
    readings: list[Reading] = []
    # On its right side left rudder points up: the side is named after the rudder that is held.
    for side, bank in (("right", -1.0), ("left", 1.0)):
        rudder, track = _held_on_edge(a, bank)
        rolled = mean_of(track, SIDE_STICK, 0.5) - a.rest[Axis.ROLL]
        pitching = mean_of(track, PITCHING, 0.3)
        # Elevator positive is nose down; what pitches up towards the canopy takes down elevator: found by flying it again.
        other = _on_edge(a, bank, rudder, pitch=a.rest[Axis.PITCH] + 0.1 * a.throw[Axis.PITCH])
        answer = mean_of(other, PITCHING, 0.3) - pitching
        needed = 0.0 if abs(answer) < 1e-4 else -0.1 * pitching / answer
        climbs = path_seen(track, 0.2, _EDGE_S)
        choice = "climbs" if climbs > _STEADY_DEG_S else "sinks" if climbs < -_STEADY_DEG_S else "holds"
        readings += [
            Reading(f"height_{side}", choice=choice),
            held(f"rudder_{side}", Axis.YAW, bank * rudder, digits=2),
            held(f"pitch_{side}", Axis.PITCH, _share(needed), digits=2),
            held(f"roll_{side}", Axis.ROLL, _share(rolled / a.throw[Axis.ROLL]), digits=2),
        ]
    return done("F21", *readings)


def _held_on_edge(a: Aloft, bank: float) -> tuple[float, Array]:
    """Give more rudder until it sinks no more; return its share of full and the track. Derived here."""
    for rudder in _RUDDERS:
        track = _on_edge(a, bank, rudder)
        if path_seen(track, 0.2, _EDGE_S) > -_STEADY_DEG_S:
            break
    return rudder, track


def _on_edge(a: Aloft, bank: float, rudder: float, **kept: float) -> Array:
    at = a.cruise()
    held_there = {"hold_path": 0.0, "bank": bank * math.pi / 2.0, "throttle": 1.0} | kept
    hand = a.hand(at, **held_there, rudder=bank * rudder * a.throw[Axis.YAW])
    flight = a.start(at)
    a.fly(flight, hand, 1.2)
    return a.fly(flight, hand, _EDGE_S)


def _share(stick: float) -> float:
    return max(-1.0, min(1.0, round(stick * 20.0) / 20.0))


def self_levelling(a: Aloft) -> CardRecord:
    """Fly F23: hands off in the levelling mode; height over half a minute."""
    at = a.cruise()
    stabiliser = None if a.real.controls is None else a.real.controls.stabiliser
    if stabiliser is None:
        raise CannotFly
    level = stabiliser.level_board_rad + stabiliser.level_mode_rad
    hand = a.let_go(at, hold_bank=0.0, roll=a.rest[Axis.ROLL], level=0.5, gyro=0.08, level_nose=level)
    track = a.fly(a.start(at), hand, 20.0)
    gained = float(track[-1, HEIGHT] - track[0, HEIGHT])
    choice = "climbs" if gained > 4.0 else "sinks" if gained < -4.0 else "holds"
    height = abs(gained) * math.exp(a.eyes.noise(a.eyes.person.blur))
    return done(
        "F23",
        Reading("path", choice=choice),
        Reading("height", number=float(round(min(height, 250.0)))),
        Reading("seconds", number=20.0),
    )


def midpoints(a: Aloft) -> CardRecord:
    """Fly F24: the controller takes what is held, and it is found again on the ground with the ruler."""
    at = a.cruise()
    track = a.fly(a.start(at), a.hand(at), 3.0)
    rest = mean_of(track, UP_STICK, 1.0)
    mm = round(abs(a.real.ruler_mm(Axis.PITCH, rest)) + abs(a.eyes.noise(0.3 if a.eyes.person.feel else 0.0)), 1)
    return done("F24", Reading("stored", choice="yes"), Reading("elevator_mm", number=mm))


def gains(a: Aloft) -> CardRecord:
    """Fly F25: rate-stabilised, short inputs, does it shake; then a climb at two thirds of the power, hands off."""
    at = a.cruise()
    entries = () if a.real.controls is None or a.real.controls.stabiliser is None else a.real.controls.stabiliser.gains
    gyro = 0.12 * (1.25 ** len(entries))
    flight = a.start(at)
    nudged = a.fly(flight, a.let_go(at, gyro=gyro, pitch=a.rest[Axis.PITCH] + 0.15), 0.4)
    track = a.fly(flight, a.let_go(at, gyro=gyro), 2.0)
    late = track[track[:, 0] > 1.0, PITCHING]
    swings = float(late.max() - late.min()) > 0.5 * float(nudged[:, PITCHING].max() - nudged[:, PITCHING].min())
    free = a.fly(a.start(at), a.let_go(at, pitch=a.rest[Axis.PITCH] + 0.15), 0.4)
    soft = abs(float(nudged[-1, PITCHING])) > 0.9 * abs(float(free[-1, PITCHING]))
    climb = a.fly(a.start(at), a.hand(at, path=math.radians(45.0), throttle=0.9), 2.0)
    up = a.start(at)
    up.state[:] = flight.state
    held_off = a.fly(up, a.let_go(at, hold_bank=0.0, roll=a.rest[Axis.ROLL], gyro=gyro, throttle=0.65), 2.0)
    dips = float(held_off[-1, NOSE] - held_off[0, NOSE]) < math.radians(-12.0)
    return done(
        "F25",
        Reading("shakes", choice="shakes" if swings else "sluggish" if soft else "fine"),
        Reading("climb_nose", choice="dips" if dips and len(climb) else "holds"),
        option("F25", "climb_roll", a.eyes.roll_word(roll_seen(held_off, 0.3, 1.5))),
    )
