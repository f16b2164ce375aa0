"""How unsure the neutral point is for what is guessed of the airframe and for how well the rest was measured."""

from __future__ import annotations

import math
from functools import lru_cache

from jinba.core.airframe.measuring import MeasuringStep, measuring_steps
from jinba.core.airframe.parts import Airframe
from jinba.core.airframe.planform import planform_of
from jinba.core.airframe.taken import Readings, key_of, value_at, with_value
from jinba.core.errors import JinbaError
from jinba.core.stability.neutral_point import quick_neutral_point_m
from jinba.core.uncertainty import root_sum_square

_GUESS_SHARE = 0.1
"""How far a guessed measure is from the model's own, of its size [-]: proportions of models of one kind differ by a tenth (common practice, no
source). It makes the neutral point of a tailed silhouette 5 to 6 % of the mean chord unsure, of a tandem's 20 %."""

_LEAST_OFFSET = 0.25
"""A guessed edge is as unsure as one that lies at least this far behind the root's, of the root chord [-]: common practice, no source."""

_STEP_MAC = 0.01
"""Step of the derivative, of the mean chord [-]: the neutral point is smooth there."""

_HEIGHTS = ("z_m", "z_offset_m")


@lru_cache(maxsize=256)
def slopes(airframe: Airframe) -> dict[str, float]:
    """Return how far the neutral point moves for each measure [m per m], by a quick lattice; measures that do not move it are not named.

    Derived here: one-sided differences of :func:`quick_neutral_point_m`; heights and angles do not move it at alpha 0.
    """
    start = quick_neutral_point_m(airframe)
    step = _STEP_MAC * planform_of(airframe.wing).mac_m
    found = {}
    for measure in _balancing(airframe):
        moved = _moved(airframe, measure, step)
        if moved is not None:
            found[key_of(measure.path)] = (moved - start) / step
    return found


def _balancing(airframe: Airframe) -> list[MeasuringStep]:
    parts = ("body", "surfaces")
    return [
        s
        for s in measuring_steps(airframe)
        if s.path[0] in parts and s.quantity == "length" and s.path[-1] not in _HEIGHTS
    ]


def _moved(airframe: Airframe, measure: MeasuringStep, step: float) -> float | None:
    try:
        longer = with_value(airframe, measure.path, value_at(airframe, measure.path) + step)
        return quick_neutral_point_m(longer)
    except JinbaError:
        return None


def _guess_size_m(airframe: Airframe, path: tuple[str | int, ...]) -> float:
    """Return how large what is guessed is [m]: the way from the wing for a place along the body, the measure itself else."""
    value, kind = abs(float(value_at(airframe, path))), path[-1]
    if kind == "x_m" and value_at(airframe, path[:-1]) is not airframe.wing:
        return abs(float(value_at(airframe, path)) - airframe.wing.x_m)
    if kind == "x_offset_m":
        return max(value, _LEAST_OFFSET * float(value_at(airframe, (*path[:2], "sections", 0, "chord_m"))))
    return value


@lru_cache(maxsize=256)
def guess_sigmas_m(airframe: Airframe) -> dict[str, float]:
    """Return how unsure the neutral point is for each measure while it is a guess [m, one sigma].

    |dx/dm| s_m, s_m a tenth of what is guessed. References: error propagation, derived here (docs/methods/neutral-point.md).
    """
    moved = slopes(airframe)
    return {
        key: abs(moved[key]) * _GUESS_SHARE * _guess_size_m(airframe, s.path)
        for s in _balancing(airframe)
        if (key := key_of(s.path)) in moved
    }


def guess_sigma_m(airframe: Airframe, guessed: tuple[str, ...]) -> float:
    """Return how much less sure the neutral point is for what is guessed [m]: the root sum square of what each guess does.

    Derived here (docs/methods/neutral-point.md).
    """
    if not guessed:
        return 0.0
    each = guess_sigmas_m(airframe)
    return root_sum_square(each.get(key, 0.0) for key in set(guessed))


def reading_sigmas_m(airframe: Airframe, taken: tuple[Readings, ...]) -> dict[str, float]:
    """Return how unsure the neutral point is for how well each measure was read [m, one sigma].

    |dx/dm| s_m, s_m of the readings. References: error propagation, derived here (docs/methods/neutral-point.md).
    """
    if not taken:
        return {}
    paths = {key_of(s.path): s.path for s in _balancing(airframe)}
    moved = slopes(airframe)
    return {
        t.key: abs(moved[t.key]) * t.sigma(float(value_at(airframe, paths[t.key])), angle=False)
        for t in taken
        if t.key in moved
    }


def unsure_m(airframe: Airframe, guessed: tuple[str, ...], taken: tuple[Readings, ...]) -> float:
    """Return how much less sure the neutral point is for guesses and readings together [m]. Derived here."""
    return math.hypot(guess_sigma_m(airframe, guessed), root_sum_square(reading_sigmas_m(airframe, taken).values()))
