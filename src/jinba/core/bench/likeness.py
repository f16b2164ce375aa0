"""Readings against what the silhouette had guessed: a slip of digit, unit or side makes a model unlike every one of its kind.

Common practice, no source, for every limit. A second reading that agrees is believed, whatever the silhouette has.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from jinba.core.airframe.measuring import MeasuringStep, measuring_steps
from jinba.core.airframe.planform import planform_of
from jinba.core.airframe.taken import Readings, key_of, value_at
from jinba.core.bench.proportions import ask
from jinba.core.configuration import Configuration
from jinba.core.errors import SLIPS
from jinba.core.said import Said
from jinba.core.spoken import a_length

_UNLIKE = 3.0
"""Times the guess, or its part: models of one kind are no further apart in a measure."""

_LIKE = 1.6
"""Times the guess, or its part: as near as that to it, a slip explains a reading."""

_APART = 0.03
"""Of the span: places that lie nearer together than this may be either side of anything."""

_SHAPELY = 0.05
"""Of the span: less sweep or rise than this says nothing of how much another model has."""

_SHAPES = {"x_offset_m", "z_offset_m"}
"""Sweep and rise: models of one kind have none, or a lot."""

_SAME = 0.05
_APART_RAD = math.radians(3.0)
_TURNED = -1.0

_SIZES = {
    *("chord_m", "y_m", "length_m", "width_m", "height_m", "root_chord_m", "tip_chord_m"),
    *("propeller_diameter_m", "main_y_m"),
}
"""Measures without a side: a part that has one of them is so large, wherever the datum is."""


@dataclass(frozen=True, slots=True)
class Doubted:
    """A reading that is unlike the guess and that no other agrees with: of which half, its place among the readings of that half, its
    value and what was probably meant [m, rad for an angle]."""

    left: bool
    index: int
    value: float
    meant: float

    def agrees(self, value: float) -> bool:
        """Whether another reading [m or rad] is of the same thing."""
        return alike(self.value, value)


def out_of_likeness(c: Configuration) -> Iterator[Said]:
    """Yield what was read once and is far from what the silhouette had guessed, where a slip explains it. Derived here."""
    steps = {key_of(s.path): s for s in measuring_steps(c.airframe)}
    for taken in c.taken:
        step = steps.get(taken.key)
        if step is None or not (doubts := doubted(c, step, taken)):
            continue
        words, said = _words_of(step), doubts[0]
        guess = _value(c, step) + (taken.guess_off or 0.0)
        what = f"{step.name}, {'left' if said.left else 'right'} half" if taken.off and taken.off_left else step.name
        yield ask(
            what,
            f"{words(said.value)}, where the silhouette has {words(guess)}",
            words(said.meant),
            step.part,
            taken.key,
        )


def doubted(c: Configuration, step: MeasuringStep, taken: Readings) -> tuple[Doubted, ...]:
    """Return the readings of a measure that are in doubt. Derived here."""
    if taken.guess_off is None:
        return ()
    value, span = _value(c, step), planform_of(c.airframe.wing).span_m
    # A lost sign turns a station about the datum it was read from, wherever the datum is by now.
    zero = taken.datum_x_m if step.focus.endswith("x_m") else 0.0
    halves = ((False, taken.off), (True, taken.off_left))
    read = [(left, i, value + off) for left, offs in halves for i, off in enumerate(offs)]
    found = []
    for place, (left, i, reading) in enumerate(read):
        # Two that agree are believed, whatever the silhouette has.
        if any(alike(reading, other) for k, (_, _, other) in enumerate(read) if k != place):
            continue
        meant = _meant(reading - zero, value + taken.guess_off - zero, step, span)
        if meant is not None:
            found.append(Doubted(left, i, reading, meant + zero))
    return tuple(found)


def alike(one: float, other: float) -> bool:
    """Whether two readings [m or rad], of one half or of both, are of the same thing: within a twentieth. Derived here."""
    return abs(one - other) <= _SAME * max(abs(one), abs(other))


def _value(c: Configuration, step: MeasuringStep) -> float:
    return float(value_at(c.airframe, step.path) or 0.0)


def _meant(value: float, guess: float, step: MeasuringStep, span_m: float) -> float | None:
    """Return what a slip made of this value, None where it is like the guess or no slip explains it. [m or rad]"""
    size = str(step.path[-1]) in _SIZES
    near = _APART_RAD if step.quantity == "angle" else 0.0 if size else _APART * span_m
    if value == 0.0 or guess == 0.0 or abs(value - guess) <= near:
        return None
    tried = [] if size else [_TURNED]
    plain = str(step.path[-1]) in _SHAPES and abs(guess) < _SHAPELY * span_m
    if not plain and abs(math.log(abs(value / guess))) > math.log(_UNLIKE):
        tried = [10.0, 0.1] if step.quantity == "angle" else list(SLIPS)
    off = {value / slip: abs(math.log(abs(value / slip / guess))) for slip in tried if value / slip / guess > 0.0}
    meant = min(off, key=lambda v: off[v], default=None)
    return meant if meant is not None and off[meant] <= math.log(_LIKE) else None


def _words_of(step: MeasuringStep) -> Callable[[float], str]:
    """Return how a value of a measure is said: with its side in words, never by a sign."""
    kind = str(step.path[-1])
    if kind in _SIDES or step.focus.endswith("x_m"):
        positive, negative = _SIDES.get(kind, ("behind it", "ahead of it"))
        if step.quantity == "angle":
            return lambda v: f"{math.degrees(abs(v)):.1f}° {positive if v > 0.0 else negative}"
        return lambda v: f"{a_length(abs(v))} {positive if v > 0.0 else negative}"
    return a_length


_SIDES = {
    "x_offset_m": ("behind it", "ahead of it"),
    "z_m": ("above it", "below it"),
    "ground_z_m": ("above it", "below it"),
    "z_offset_m": ("higher", "lower"),
    "incidence_rad": ("leading edge up", "leading edge down"),
    "twist_rad": ("wash-in", "wash-out"),
    "left_twist_rad": ("wash-in", "wash-out"),
    "tilt_down_rad": ("down", "up"),
    "tilt_right_rad": ("right", "left"),
}
