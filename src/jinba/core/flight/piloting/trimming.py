"""Off the ground and into trim: take-off, pitch, roll and yaw trim, speed course."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from jinba.core.cards.model import CardRecord, Reading
from jinba.core.flight.piloting.aloft import (
    HOLD_NOSE,
    Aloft,
    crab_seen,
    mean_of,
    path_seen,
    pitch_seen,
    roll_seen,
    time_until,
)
from jinba.core.flight.piloting.person import PITCH_EDGES, YAW_EDGES
from jinba.core.flight.piloting.said import aborted, done, held, mirrored, option
from jinba.core.flight.simulation.hands import BANK, HEADING, HEIGHT, NOSE, SIDE_STICK, SPEED, UP_STICK, Flight, begin
from jinba.core.flight.simulation.motion import STATES
from jinba.core.flight.simulation.steady import Steady, flying
from jinba.core.frames import Axis

ROUNDS = 3
"""How often he trims and looks again before he says what is left."""

_THROWN_RAD = math.radians(15.0)

_BANKED = math.radians(30.0)
"""The bank that is timed: the card says so."""

_LEVEL = 2
"""Index of the word in the middle."""


def lift_off(a: Aloft) -> CardRecord:
    """Fly F1: full power or launch, hands light; what the nose does as it leaves, and what the climb takes."""
    flight = _standing(a) if len(a.craft.wheels) else _launched(a)
    hands = {"throttle": 1.0, "hold_heading": HOLD_NOSE, "roll": a.rest[Axis.ROLL]}
    at = a.slow()
    swing = 0.0
    if len(a.craft.wheels):
        track = a.fly(flight, a.let_go(at, **hands), 1.0)
        pull = 0.0
        # He lets it fly off; where it will not, he helps with a little more up every half second.
        while track[-1, HEIGHT] < track[0, HEIGHT] + 0.15:
            if pull > 1.0:
                return aborted("F1")
            swing += math.degrees(float(track[-1, HEADING] - track[0, HEADING]))
            fast = track[-1, SPEED] > 1.05 * a.stall_mps
            pull += 0.07 if fast else 0.0
            hand = a.let_go(at, **hands, pitch=a.rest[Axis.PITCH] - pull * a.throw[Axis.PITCH])
            track = a.fly(flight, hand, 0.5)
            if flight.state[0] > 250.0:
                return aborted("F1")
    # A thrown model is never left quite alone: thumbs rest on the sticks.
    light = 0.0 if len(a.craft.wheels) else 0.25
    free = a.fly(flight, a.let_go(at, **hands, hold_path=light, path=_THROWN_RAD if a.has_motor else at.path_rad), 1.2)
    climb = a.fly(flight, a.hand(at, throttle=1.0, path=math.radians(20.0 if a.has_motor else 0.0)), 5.0)
    nose = a.eyes.path_word(path_seen(free, 0.1, 1.0), PITCH_EDGES)
    stick = (mean_of(climb, UP_STICK, 2.5) - a.rest[Axis.PITCH]) / a.throw[Axis.PITCH] + a.eyes.noise(
        a.eyes.person.feel
    )
    way = 1 if abs(swing) < 8.0 else 2 if swing > 0 else 0
    return done(
        "F1",
        option("F1", "lift_off", nose),
        held("stick_held", Axis.PITCH, _to_twentieth(stick), digits=2),
        None if a.eyes.misses() else option("F1", "swing", mirrored(way, words=3) if a.eyes.slips() else way),
    )


def _standing(a: Aloft) -> Flight:
    state = np.zeros(STATES)
    state[6] = 1.0
    state[2] = -float(a.craft.wheels[:, 2].max()) + 0.01
    state[3] = 0.5
    surfaces = np.array([a.rest[Axis.PITCH], a.rest[Axis.ROLL], a.rest[Axis.YAW], 0.0])
    return begin(state, np.zeros(len(a.craft.row)), surfaces, 0.3)


def _launched(a: Aloft) -> Flight:
    """Thrown upward at a quarter above the stall speed, motor running; a glider begins in its glide, at height."""
    at = a.slow()
    if not a.has_motor:
        return a.start(at, height_m=60.0)
    flight = a.start(at, height_m=2.5)
    incidence = math.atan2(float(at.state[5]), float(at.state[3]))
    flight.state[3:10] = flying(speed_mps=float(np.linalg.norm(at.state[3:6])), alpha=incidence, path=_THROWN_RAD)[3:10]
    return flight


def pitch_trim(a: Aloft) -> CardRecord:
    """Fly F2: trim the way the stick is held, two clicks at a time, until hands off shows nothing more."""
    at, before = a.cruise(), a.rest[Axis.PITCH]

    def seen() -> int:
        return a.eyes.path_word(pitch_seen(a.fly(a.start(at), a.let_go(at), 3.0), 0.3, 2.0), PITCH_EDGES)

    # A nose that rises is trimmed down, and down is positive.
    word = _trimmed(a, at, Axis.PITCH, UP_STICK, seen, against=1.0)
    alone = a.left_alone()
    watched = a.fly(a.start(at), a.let_go(at), 6.0)
    tilted = time_until(watched, np.abs(np.unwrap(watched[:, NOSE]) - watched[0, NOSE]) > math.radians(20.0))
    clicks = (a.rest[Axis.PITCH] - before) / a.click[Axis.PITCH]
    return done(
        "F2",
        held("pitch_clicks", Axis.PITCH, clicks, digits=0),
        option("F2", "left_over", word),
        None if tilted is None or a.eyes.misses() else Reading("time_to_20_deg", number=round(a.eyes.watch(tilted), 1)),
        left_alone=alone,
    )


def roll_trim(a: Aloft) -> CardRecord:
    """Fly F3: trim, then let go from level twice and time thirty degrees of bank."""
    at, before = a.cruise(), a.rest[Axis.ROLL]

    def seen() -> int:
        return a.eyes.roll_word(roll_seen(a.fly(a.start(at), a.let_roll(at), 3.0), 0.3, 2.0))

    # Aileron is positive to the right: what rolls right is trimmed left.
    word = _trimmed(a, at, Axis.ROLL, SIDE_STICK, seen, against=-1.0)
    clicks = (a.rest[Axis.ROLL] - before) / a.click[Axis.ROLL]
    slip = a.eyes.slips()
    return done(
        "F3",
        held("roll_clicks", Axis.ROLL, clicks, digits=0),
        option("F3", "left_over", mirrored(word) if slip else word),
        *bank_times(a, at, ("bank_time_first", "bank_time_second"), most_s=8.0),
    )


def _trimmed(a: Aloft, at: Steady, axis: Axis, stick: int, seen: Callable[[], int], *, against: float) -> int:
    """Trim where the stick is held, then by what is still seen, until that is nothing; return the index of the last word."""
    held_at = mean_of(a.fly(a.start(at), a.hand(at), 4.0), stick, 2.0)
    _trim(a, axis, _by_twos((held_at - a.rest[axis]) / a.click[axis] + a.eyes.noise(a.eyes.person.clicks)))
    for _ in range(ROUNDS):
        word = seen()
        if word == _LEVEL:
            return word
        off = word - _LEVEL
        _trim(a, axis, against * (off if abs(off) == 1 else 2.0 * off))
    return seen()


def bank_times(a: Aloft, at: Steady, keys: tuple[str, ...], *, most_s: float) -> list[Reading]:
    """Return which wing went down and how long thirty degrees took [s], each time let go from level. Derived here."""
    wings, times = [], []
    for _ in keys:
        track = a.fly(a.start(at), a.let_roll(at, until_bank=_BANKED), most_s)
        bank = np.unwrap(track[:, BANK])
        down = time_until(track, np.abs(bank - bank[0]) > _BANKED)
        times.append(down)
        if down is not None:
            row = int(np.flatnonzero(np.abs(bank - bank[0]) > _BANKED)[0])
            wings.append("right" if bank[row] > bank[0] else "left")
    if len(wings) < len(keys) or len(set(wings)) > 1:
        # Once this way and once that, or not every time: neither wing is heavy.
        return [Reading("bank_wing", choice="none"), *(Reading(k, number=most_s, none=True) for k in keys)]
    wing = wings[0] if not a.eyes.slips() else {"left": "right", "right": "left"}[wings[0]]
    shown = [round(a.eyes.watch(t), 1) for t in times if t is not None]
    return [Reading("bank_wing", choice=wing), *(Reading(k, number=t) for k, t in zip(keys, shown, strict=True))]


def yaw_trim(a: Aloft) -> CardRecord:
    """Fly F4: flying away, the nose is trimmed to where it goes until nothing shows."""
    click, before = a.click[Axis.YAW], a.rest[Axis.YAW]
    for left in range(ROUNDS, -1, -1):
        at = a.cruise()
        crab = crab_seen(a.fly(a.start(at), a.hand(at), 3.0), 0.5, 2.5)
        word = a.eyes.word(crab, YAW_EDGES)
        if word == _LEVEL or not left:
            break
        # Nose right is trimmed with left rudder, which is positive.
        _trim(a, Axis.YAW, (word - _LEVEL) * 2.0)
    slip = a.eyes.slips()
    return done(
        "F4",
        held("yaw_clicks", Axis.YAW, (a.rest[Axis.YAW] - before) / click, digits=0),
        option("F4", "left_over", mirrored(word) if slip else word),
    )


_HALF_BANK, _CHANGED = math.radians(25.0), math.radians(8.0)


def turns(a: Aloft) -> CardRecord:
    """Fly F34: let go in a bank to either side, what it does in four seconds; then a second of full rudder from level."""
    at = a.cruise()
    incidence = math.atan2(float(at.state[5]), float(at.state[3]))

    def banked(side: float) -> str:
        flight = a.start(at)
        state = flying(speed_mps=a.cruise_mps, alpha=incidence, bank=side * _HALF_BANK, path=at.path_rad)
        flight.state[3:10] = state[3:10]
        track = a.fly(flight, a.let_roll(at), 4.0)
        further = side * float(np.unwrap(track[:, BANK])[-1]) - _HALF_BANK
        return "in" if further > _CHANGED else "out" if further < -_CHANGED else "stays"

    flight = a.start(at)
    # Left rudder is positive: which side is all one here.
    track = a.fly(flight, a.let_roll(at, rudder=a.rest[Axis.YAW] - a.throw[Axis.YAW]), 1.5)
    reached = abs(math.degrees(float(np.unwrap(track[:, BANK])[-1])))
    full = "little" if reached < 12.0 else "much" if reached > 55.0 else "fine"
    return done(
        "F34",
        Reading("turn_left", choice=banked(-1.0)),
        Reading("turn_right", choice=banked(1.0)),
        Reading("full_rudder", choice=full),
    )


def speed_course(a: Aloft) -> CardRecord:
    """Fly F32: a hundred metres there and back, with the wind and against it."""
    at = a.cruise()
    speed = mean_of(a.fly(a.start(at), a.hand(at), 4.0), SPEED, 0.0)
    along = a.air.wind_mps * math.cos(float(a.eyes.rng.uniform(0.0, math.pi)))
    out, back = (round(a.eyes.watch(100.0 / max(speed + w, 2.0)), 1) for w in (along, -along))
    return done(
        "F32",
        Reading("distance", number=100.0),
        Reading("seconds_out", number=out),
        Reading("seconds_back", number=back),
    )


def _trim(a: Aloft, axis: Axis, clicks: float) -> None:
    a.rest[axis] += max(-60.0, min(60.0, round(clicks))) * a.click[axis]


def _by_twos(clicks: float) -> float:
    return 2.0 * round(clicks / 2.0) if abs(clicks) > 3.0 else float(round(clicks))


def _to_twentieth(stick: float) -> float:
    return max(-1.0, min(1.0, round(stick * 20.0) / 20.0))
