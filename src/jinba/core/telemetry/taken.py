"""Which measures of a card telemetry gives: times to an angle, height lost, speed at the break, what the pack gave."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from itertools import pairwise

from jinba.core.cards.model import Card, Reading
from jinba.core.frames import Axis
from jinba.core.telemetry.samples import Sample, seconds_until, stretches

BANKED_RAD = math.radians(30.0)
"""Bank that F3 and F7 time: their cards say so. [rad]"""

TILTED_RAD = math.radians(20.0)
"""Change of the nose that F2 times: its card says so. [rad]"""

_DIVING_RAD = math.radians(-20.0)
_WATCHED_S = 4.0
_BEFORE_BREAK_S = 3.0
_FULL, _CRUISE = 0.95, (0.2, 0.75)


def taken(card: Card, samples: Sequence[Sample]) -> tuple[Reading, ...]:
    """Return the readings of a card that a recording of it gives, each marked as from telemetry; empty where it gives none.

    Only what the card asks for. Derived here; each measure says how.
    """
    take = _TAKEN.get(card.id)
    asked = {c.key for c in card.captures}
    return tuple(r for r in take(samples) if r.key in asked) if take and samples else ()


def _time(key: str, seconds: float | None, stretch: Sequence[Sample]) -> Reading | None:
    """Return a time [s], "did not" where it was watched for four seconds at least, None where it was not."""
    if seconds is not None:
        return Reading(key, number=round(seconds, 1), telemetry=True)
    watched = stretch[-1].time_s - stretch[0].time_s
    return Reading(key, number=round(watched, 1), none=True, telemetry=True) if watched >= _WATCHED_S else None


def _bank_times(keys: tuple[str, ...], samples: Sequence[Sample]) -> Iterable[Reading]:
    """The last times the ailerons were let go: what comes before is trimming."""
    last = list(stretches(samples, Axis.ROLL))[-len(keys) :]
    if len(last) < len(keys) or any(line.bank_rad is None for s in last for line in s):
        return
    for key, stretch in zip(keys, last, strict=True):
        found = _time(key, seconds_until(stretch, lambda s: s.bank_rad, BANKED_RAD), stretch)
        if found is not None:
            yield found


def _tilt_time(samples: Sequence[Sample]) -> Iterable[Reading]:
    """The last time the elevator was let go."""
    last = list(stretches(samples, Axis.PITCH))[-1:]
    for stretch in last:
        if all(line.pitch_rad is not None for line in stretch):
            found = _time("time_to_20_deg", seconds_until(stretch, lambda s: s.pitch_rad, TILTED_RAD), stretch)
            if found is not None:
                yield found


def _dive_time(samples: Sequence[Sample]) -> Iterable[Reading]:
    """The first dive let go: until it no longer loses height. One that is pulled out by hand before tells no time."""
    for stretch in stretches(samples, Axis.PITCH):
        heights = [line.height_m for line in stretch]
        begun = stretch[0].pitch_rad
        if begun is None or begun > _DIVING_RAD or any(h is None for h in heights):
            continue
        lowest = min(range(len(heights)), key=lambda i: heights[i] or 0.0)
        if lowest < len(heights) - 3:
            yield Reading("time_to_level", number=round(stretch[lowest].time_s - stretch[0].time_s, 1), telemetry=True)
        return


def _stall(samples: Sequence[Sample]) -> Iterable[Reading]:
    """The least speed, and the height between the seconds before it and the lowest after it."""
    told = [s for s in samples if s.airspeed_mps is not None and s.height_m is not None]
    if len(told) < 3:
        return
    speed, slowest = min((_smooth(told, i), i) for i in range(1, len(told) - 1))
    broke = told[slowest].time_s
    before = max(s.height_m or 0.0 for s in told if broke - _BEFORE_BREAK_S <= s.time_s <= broke)
    after = min(s.height_m or 0.0 for s in told if s.time_s >= broke)
    yield Reading("height_lost", number=float(round(max(before - after, 0.0))), telemetry=True)
    yield Reading("entry_speed", number=round(speed, 1), telemetry=True)


def _smooth(told: Sequence[Sample], i: int) -> float:
    return sum(s.airspeed_mps or 0.0 for s in told[i - 1 : i + 2]) / 3.0


def _pack(samples: Sequence[Sample]) -> Iterable[Reading]:
    """What the pack gave: minutes flown, those with the motor running, its current at full throttle and in level cruise, volts at the end."""
    running = [s for s in samples if s.current_a is not None]
    if not running:
        return
    on_s = sum(b.time_s - a.time_s for a, b in pairwise(samples) if a.throttle is not None and a.throttle > 0.0)
    yield Reading("minutes", number=round(samples[-1].time_s / 60.0, 1), telemetry=True)
    yield Reading("motor_minutes", number=round(on_s / 60.0, 1), telemetry=True)
    for key, lines in (
        ("current_full", [s for s in running if (s.throttle or 0.0) > _FULL]),
        ("current_cruise", [s for s in running if _CRUISE[0] < (s.throttle or 0.0) < _CRUISE[1]]),
    ):
        if lines:
            mean = sum(s.current_a or 0.0 for s in lines) / len(lines)
            yield Reading(key, number=round(mean, 1), telemetry=True)
    if samples[-1].volts is not None and not samples[-1].throttle:
        yield Reading("volts", number=round(samples[-1].volts, 2), telemetry=True)


_TAKEN: dict[str, Callable[[Sequence[Sample]], Iterable[Reading]]] = {
    "F2": _tilt_time,
    "F3": lambda s: _bank_times(("bank_time_first", "bank_time_second"), s),
    "F7": lambda s: _bank_times(("bank_time",), s),
    "F8": _stall,
    "F12": _dive_time,
    "A1": _pack,
}
