"""The slow ends of a flight: stall, practice approach, landing."""

from __future__ import annotations

import math

import numpy as np

from jinba.core.cards.model import CardRecord, Reading
from jinba.core.flight.piloting.aloft import Aloft, CannotFly, mean_of, pitch_seen, roll_seen
from jinba.core.flight.piloting.person import PITCH_EDGES
from jinba.core.flight.piloting.said import done, held, mirrored, option
from jinba.core.flight.simulation.hands import BANK, HEIGHT, PATH, ROLLING, SPEED, UP_STICK
from jinba.core.frames import Axis

_GLIDES_DEG = (5.0, 11.0)
"""Between them an approach is as wanted, steeper it sinks early, flatter it floats: common practice, no source."""

_DROPS_RAD, _SNAPS_RAD_S = 0.30, 2.6


def stall(a: Aloft) -> CardRecord:
    """Fly F8: idle, height held until it lets go; which wing, how sharply, how much height."""
    at = a.steady(1.25 * a.stall_mps, throttle=0.0)
    flight = a.start(at)
    hold = {"throttle": 0.0, "path": 0.0, "hold_path": 1.5, "pitch_most": a.throw[Axis.PITCH] + abs(a.rest[Axis.PITCH])}
    begun, broke, rows = 100.0, False, []
    for _ in range(30):
        track = a.fly(flight, a.hand(at, **hold, hold_bank=0.25), 0.4)
        rows.append(track)
        if abs(track[-1, BANK]) > _DROPS_RAD or track[-1, PATH] < math.radians(-14.0):
            broke = True
            break
    after = a.fly(flight, a.hand(at, **hold, hold_bank=0.0), 0.6)
    seen = np.vstack([*rows[-3:], after])
    bank, rolling = float(seen[-1, BANK]), float(np.abs(seen[:, ROLLING]).max())
    a.fly(flight, a.hand(at, path=math.radians(-20.0), throttle=0.0), 1.0)
    out = a.fly(flight, a.hand(at, path=0.0, throttle=0.8, hold_path=0.8), 3.5)
    lost = max(begun - float(out[:, HEIGHT].min()), 1.0)
    dropped = broke and abs(bank) > _DROPS_RAD
    wing = "none" if not dropped else "right" if (bank > 0) is not a.eyes.slips() else "left"
    sharp = "snaps" if dropped and rolling > _SNAPS_RAD_S else "drops" if dropped else "mushes"
    return done(
        "F8",
        Reading("wing", choice=wing),
        Reading("sharpness", choice=sharp),
        Reading("height_lost", number=float(round(min(lost * math.exp(a.eyes.noise(a.eyes.person.blur)), 250.0)))),
    )


def approach(a: Aloft) -> CardRecord:
    """Fly F28: a glide towards the strip at height, then full power with the stick held still."""
    at = a.steady(a.eyes.speed(1.3 * a.stall_mps), throttle=0.0)
    track = a.fly(a.start(at), a.let_go(at, pitch=at.surfaces[0], throttle=0.0), 1.0)
    glide = -math.degrees(mean_of(track, PATH, 0.0)) / a.eyes.person.gain
    choice = "floats" if glide < _GLIDES_DEG[0] else "sinks" if glide > _GLIDES_DEG[1] else "normal"
    up = a.fly(a.start(at), a.let_go(at, pitch=at.surfaces[0], throttle=1.0), 1.4)
    return done(
        "F28",
        Reading("glide_path", choice=choice),
        option("F28", "go_round", a.eyes.path_word(pitch_seen(up, 0.2, 1.0), PITCH_EDGES)),
        _slow_roll(a),
    )


def _slow_roll(a: Aloft) -> Reading | None:
    """Return which way it rolls hands off, level at approach speed; nothing where that cannot be flown, or was not looked at."""
    try:
        level = a.steady(a.eyes.speed(1.3 * a.stall_mps))
    except CannotFly:
        return None
    word = a.eyes.roll_word(roll_seen(a.fly(a.start(level), a.let_roll(level), 2.4), 0.3, 2.0))
    if a.eyes.misses():
        return None
    return option("F28", "roll_slow", mirrored(word) if a.eyes.slips() else word)


def landing(a: Aloft) -> CardRecord:
    """Fly F29: a glide, held off over the ground; how far back the stick was as it touched, and what it did then."""
    at = a.steady(1.25 * a.stall_mps, throttle=0.0)
    flight = a.start(at, height_m=4.0)
    low = float(a.craft.wheels[:, 2].max()) if len(a.craft.wheels) else 0.1
    track, sinking = None, 0.0
    for _ in range(60):
        height = -float(flight.state[2])
        flare = height < 0.9 + low
        path = math.radians(-1.0) if flare else at.path_rad
        track = a.fly(flight, a.hand(at, path=path, hold_path=1.5 if flare else 0.6, throttle=0.0), 0.2)
        if track[-1, HEIGHT] < low + 0.08:
            sinking = -float(track[-1, SPEED] * math.sin(track[-1, PATH]))
            break
    assert track is not None
    stick = (mean_of(track, UP_STICK, 0.0) - a.rest[Axis.PITCH]) / a.throw[Axis.PITCH]
    stick += a.eyes.noise(2.0 * a.eyes.person.feel)
    settled = "settled" if sinking < 0.9 else "bounced" if sinking < 2.2 else "porpoised"
    return done(
        "F29",
        held("stick_back", Axis.PITCH, max(-1.0, min(1.0, round(stick * 10.0) / 10.0)), digits=1),
        None if a.eyes.misses() else Reading("bounce", choice=settled),
    )
