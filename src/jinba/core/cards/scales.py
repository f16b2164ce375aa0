"""Where the words of a rating begin and end in physical units: one table for estimator, stand-in and screens."""

from __future__ import annotations

import math
from dataclasses import dataclass

_INF = math.inf


@dataclass(frozen=True, slots=True)
class Scale:
    """Boundaries between the options of a rating, lowest first; one fewer than the options. ``unit`` of the boundaries."""

    edges: tuple[float, ...]
    unit: str

    def interval(self, index: int) -> tuple[float, float]:
        """Return the (low, high) of an option; the ends are open. Derived here (docs/methods/estimator.md)."""
        low = -_INF if index == 0 else self.edges[index - 1]
        high = _INF if index == len(self.edges) else self.edges[index]
        return low, high

    def classify(self, value: float) -> int:
        """Return the index of the option a value falls in. ``value`` in the unit of the scale."""
        return sum(1 for e in self.edges if value >= e)

    @property
    def typical_width(self) -> float:
        """Width of a middle option, the measure of a rater's scatter. Derived here (docs/methods/estimator.md)."""
        return (self.edges[-1] - self.edges[0]) / (len(self.edges) - 1)


# Path rates and roll rates in deg/s, sideslip in deg; anchors laid at the predicted look of neutral.
PITCH_DRIFT = Scale((-6.0, -1.5, 1.5, 6.0), "deg/s")
ROLL_DRIFT = Scale((-9.0, -2.0, 2.0, 9.0), "deg/s")
YAW_DRIFT = Scale((-5.0, -1.5, 1.5, 5.0), "deg")
DIVE = Scale((-1.0, 2.5, 7.0, 12.0), "deg/s")
UP_LINE = Scale((-8.0, 0.0, 10.0, 22.0), "deg/s")
"""Rates toward the canopy, which is the ground side when inverted."""
