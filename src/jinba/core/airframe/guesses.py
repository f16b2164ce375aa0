"""What of an airframe a silhouette has guessed and nobody has measured yet, and how much less sure that makes it."""

from __future__ import annotations

import math
from typing import Any

from jinba.core.airframe.measuring import Path, measuring_steps
from jinba.core.airframe.parts import Airframe

GUESS_SIGMA_MAC = 0.05
"""How far the neutral point of a model lies from its silhouette's, one sigma [MAC], while nothing is measured: common practice, no
source (proportions of models of one kind differ by a tenth)."""

_BALANCING = ("body", "surfaces")
"""Parts whose measures move the neutral point."""


def key_of(path: Path) -> str:
    """Return the name of a measure: "surfaces.0.sections.1.chord_m"."""
    return ".".join(str(p) for p in path)


def all_measures(airframe: Airframe) -> tuple[str, ...]:
    """Return the names of every measure that is taken of an airframe, in the order of taking them."""
    return tuple(key_of(s.path) for s in measuring_steps(airframe))


def still_guessed(before: Airframe, after: Airframe, guessed: tuple[str, ...]) -> tuple[str, ...]:
    """Return what of the guessed measures is still guessed: what was changed was measured, what is gone is no measure any more."""
    left = set(guessed)
    return tuple(
        key
        for s in measuring_steps(after)
        if (key := key_of(s.path)) in left and _at(before, s.path) == _at(after, s.path)
    )


def guess_sigma_m(airframe: Airframe, guessed: tuple[str, ...], *, mac_m: float) -> float:
    """Return how much less sure the neutral point is for what is guessed [m]: each measure has an equal share of the variance.

    Derived here (docs/methods/neutral-point.md).
    """
    counted = [k for k in all_measures(airframe) if k.startswith(_BALANCING)]
    open_ = sum(k in counted for k in guessed)
    return GUESS_SIGMA_MAC * mac_m * math.sqrt(open_ / len(counted)) if open_ else 0.0


def _at(airframe: Airframe, path: Path) -> Any:
    value: Any = airframe
    for part in path:
        try:
            value = value[part] if isinstance(part, int) else getattr(value, part)
        except (IndexError, AttributeError):
            return None
    return value
