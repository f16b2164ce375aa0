"""What shows the balance and the thrust line: power step, slow flight, dive, second speed, inverted flight."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from jinba.core.cards.model import CardRecord, Reading
from jinba.core.flight.piloting.aloft import (
    Aloft,
    CannotFly,
    crab_seen,
    mean_of,
    path_seen,
    pitch_seen,
    roll_seen,
    time_until,
)
from jinba.core.flight.piloting.person import DIVE_EDGES, PITCH_EDGES, UP_LINE_EDGES, YAW_EDGES
from jinba.core.flight.piloting.said import done, held, mirrored, option
from jinba.core.flight.piloting.trimming import bank_times
from jinba.core.flight.simulation.hands import PATH, TIME, UP_STICK, Flight
from jinba.core.flight.simulation.steady import Steady, flying
from jinba.core.frames import Axis


def power_step(a: Aloft) -> CardRecord:
    """Fly F5: throttle full and idle from level, hands off; then the clicks that hold full power at that speed."""
    at = a.cruise()
    full = a.fly(a.start(at), a.let_go(at, throttle=1.0), 1.6)
    rolls = a.fly(a.start(at), a.let_roll(at, throttle=1.0), 1.6)
    idle = a.fly(a.start(at), a.let_go(at, throttle=0.0), 1.6)
    slips = a.eyes.slips()
    sides = [
        (key, mirrored(word) if slips else word)
        for key, word in (
            ("roll_full", a.eyes.roll_word(roll_seen(rolls, 0.2, 1.3))),
            ("yaw_full", a.eyes.word(crab_seen(full, 0.8, 0.8), YAW_EDGES)),
        )
    ]
    return done(
        "F5",
        option("F5", "pitch_full", a.eyes.path_word(pitch_seen(full, 0.2, 1.3), PITCH_EDGES)),
        *(None if a.eyes.misses() else option("F5", key, word) for key, word in sides),
        _clicks_at_full(a),
        option("F5", "pitch_idle", a.eyes.path_word(pitch_seen(idle, 0.2, 1.3), PITCH_EDGES)),
    )


def _clicks_at_full(a: Aloft) -> Reading | None:
    try:
        climb = a.steady(a.cruise_mps, throttle=1.0)
    except CannotFly:
        return None
    track = a.fly(a.start(climb), a.hand(climb), 3.0)
    counted = (mean_of(track, UP_STICK, 1.0) - a.rest[Axis.PITCH]) / a.click[Axis.PITCH]
    return held("clicks_full", Axis.PITCH, round(counted + a.eyes.noise(a.eyes.person.clicks)), digits=0)


def slow_flight(a: Aloft) -> CardRecord:
    """Fly F7: the stick that holds it level a quarter above the stall, and which wing goes down."""
    at = a.slow()
    stick = _stick(a, at)
    track = a.fly(a.start(at), a.let_roll(at), 3.0)
    word = a.eyes.roll_word(roll_seen(track, 0.3, 2.0))
    return done(
        "F7",
        held("stick_held", Axis.PITCH, stick, digits=2),
        option("F7", "roll_slow", mirrored(word) if a.eyes.slips() else word),
        *bank_times(a, at, ("bank_time",), most_s=8.0),
    )


def _stick(a: Aloft, at: Steady) -> float:
    track = a.fly(a.start(at), a.hand(at), 3.0)
    share = (mean_of(track, UP_STICK, 1.0) - a.rest[Axis.PITCH]) / a.throw[Axis.PITCH]
    return max(-1.0, min(1.0, round((share + a.eyes.noise(a.eyes.person.feel)) * 20.0) / 20.0))


def dive(a: Aloft) -> CardRecord:
    """Fly F12: pushed to thirty-five degrees and let go, once each way."""
    at = a.cruise()
    alone = a.left_alone()
    rates, times = [], []
    for _ in range(2):
        flight = a.start(at, height_m=150.0)
        _push_down(a, flight, at)
        track = a.fly(flight, a.let_go(at), 2.3)
        rates.append(path_seen(track, 0.2, 2.0))
        # What steepens is pulled out by hand at once; the watch runs on for what comes round by itself.
        if track[-1, PATH] > track[0, PATH] and track[-1, PATH] < 0.0:
            on = a.fly(flight, a.let_go(at), 3.5)
            on[:, TIME] += track[-1, TIME]
            track = np.vstack([track, on])
        times.append(time_until(track, track[:, PATH] > 0.0))
    word = a.eyes.path_word(float(np.mean(rates)), DIVE_EDGES)
    level = times[0]
    return done(
        "F12",
        option("F12", "dive", word),
        None if level is None or a.eyes.misses() else Reading("time_to_level", number=round(a.eyes.watch(level), 1)),
        left_alone=alone,
    )


def _push_down(a: Aloft, flight: Flight, at: Steady) -> None:
    """Push until the dive stands; he lets go as soon as it does, before it grows fast. Raises: CannotFly."""
    for _ in range(14):
        down = a.fly(flight, a.hand(at, path=math.radians(-38.0), hold_path=1.4), 0.2)
        if down[-1, PATH] < math.radians(-32.0):
            return
    raise CannotFly


def second_speed(a: Aloft) -> CardRecord:
    """Fly F13: a third faster, trimmed there, the clicks counted, then put back."""
    alone = a.left_alone()
    at = a.steady(a.eyes.speed(1.33 * a.cruise_mps / a.eyes.person.speed))
    track = a.fly(a.start(at), a.hand(at), 3.0)
    needed = (mean_of(track, UP_STICK, 1.0) - a.rest[Axis.PITCH]) / a.click[Axis.PITCH]
    clicks = round(needed + a.eyes.noise(a.eyes.person.clicks))
    trimmed = a.rest[Axis.PITCH] + clicks * a.click[Axis.PITCH]
    track = a.fly(a.start(at), a.let_go(at, pitch=trimmed), 3.0)
    return done(
        "F13",
        held("clicks_fast", Axis.PITCH, float(clicks), digits=0),
        option("F13", "left_over", a.eyes.path_word(pitch_seen(track, 0.3, 2.0), PITCH_EDGES)),
        left_alone=alone,
    )


def inverted(a: Aloft) -> CardRecord:
    """Fly F14: rolled over at the same throttle, the stick that holds it level."""
    alone = a.left_alone()
    at = a.steady(a.cruise_mps, inverted=True)
    stick = _stick(a, replace(at))
    track = a.fly(a.start(at), a.let_roll(at), 2.5)
    word = a.eyes.roll_word(roll_seen(track, 0.3, 1.8))
    # Upside down the sides are taken for each other more easily than not.
    slips = a.eyes.slips() or a.eyes.slips()
    return done(
        "F14",
        held("stick_held", Axis.PITCH, stick, digits=2),
        None if a.eyes.misses() else option("F14", "roll_inverted", mirrored(word) if slips else word),
        left_alone=alone,
    )


def up_line(a: Aloft) -> CardRecord:
    """Fly F15: full power, forty-five degrees up and on its back, let go: which way the line bends."""
    alone = a.left_alone()
    at = a.steady(a.cruise_mps, inverted=True)
    incidence = math.atan2(float(at.state[5]), float(at.state[3]))
    state = flying(speed_mps=1.1 * a.cruise_mps, alpha=0.7 * incidence, path=math.radians(45.0), inverted=True)
    flight = a.start(at)
    flight.state[3:10] = state[3:10]
    track = a.fly(flight, a.let_go(at, throttle=1.0), 2.4)
    word = a.eyes.path_word(-path_seen(track, 0.3, 1.8), UP_LINE_EDGES)
    return done("F15", option("F15", "line", word), left_alone=alone)
