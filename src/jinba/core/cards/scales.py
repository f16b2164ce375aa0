"""Where the words of a rating begin and end in physical units: one table for estimator, stand-in and screens."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import StrEnum

from jinba.core.constants import STANDARD_GRAVITY_MPS2

_INF = math.inf


AT_SPEED_MPS, AT_SPAN_M = 14.0, 1.5
"""Cruise speed and span of the model for which every edge and every error below is stated: a common trainer's, no source."""


class Per(StrEnum):
    """What a word is judged against: a path by the load factor its bending takes, q V/g; a roll by the degrees a model turns while
    it flies its own span, p b/V; or nothing."""

    PATH = "path"
    ROLL = "roll"
    ITSELF = "itself"


def size(per: Per, *, cruise_mps: float, span_m: float) -> float:
    """Return the rate that means the same word on a model, over that of the model of :data:`AT_SPEED_MPS` and :data:`AT_SPAN_M` [-].

    The same load factor bends the path of a slow model faster, in proportion to g/V; the same turn over its own span rolls a
    small one faster, in proportion to V/b. ``cruise_mps`` [m/s], ``span_m`` [m]. Derived here (docs/methods/estimator.md).
    """
    if per is Per.PATH:
        return AT_SPEED_MPS / cruise_mps
    if per is Per.ROLL:
        return (cruise_mps / span_m) / (AT_SPEED_MPS / AT_SPAN_M)
    return 1.0


def load_factor_of(rate_deg_s: float) -> float:
    """Return the load factor that bends the path of the model of :data:`AT_SPEED_MPS` at a rate [deg/s]: q V/g [-]. Derived here."""
    return math.radians(rate_deg_s) * AT_SPEED_MPS / STANDARD_GRAVITY_MPS2


@dataclass(frozen=True, slots=True)
class Scale:
    """Boundaries between the options of a rating, lowest first; one fewer than the options. ``unit`` of the boundaries, which are
    those of the model of :data:`AT_SPEED_MPS` and :data:`AT_SPAN_M`; ``per``: how they go with size."""

    edges: tuple[float, ...]
    unit: str
    per: Per = Per.ITSELF

    def interval(self, index: int) -> tuple[float, float]:
        """Return the (low, high) of an option; the ends are open. Derived here (docs/methods/estimator.md)."""
        low = -_INF if index == 0 else self.edges[index - 1]
        high = _INF if index == len(self.edges) else self.edges[index]
        return low, high

    def classify(self, value: float) -> int:
        """Return the index of the option a value falls in. ``value`` in the unit of the scale."""
        return sum(1 for e in self.edges if value >= e)

    def sized(self, times: float) -> Scale:
        """Return the scale of a model whose words begin at so many times these rates (:func:`size`, [-])."""
        return replace(self, edges=tuple(e * times for e in self.edges))

    @property
    def typical_width(self) -> float:
        """Width of a middle option, the measure of a rater's scatter. Derived here (docs/methods/estimator.md)."""
        return (self.edges[-1] - self.edges[0]) / (len(self.edges) - 1)


# Path rates and roll rates in deg/s, sideslip in deg; anchors laid at the predicted look of neutral. As load factors the trim
# words begin at 0.04 and 0.15, those of the dive at -0.03, 0.06, 0.17 and 0.30; a roll at 0.2 and 1.0 degrees a span.
PITCH_DRIFT = Scale((-6.0, -1.5, 1.5, 6.0), "deg/s", Per.PATH)
ROLL_DRIFT = Scale((-9.0, -2.0, 2.0, 9.0), "deg/s", Per.ROLL)
YAW_DRIFT = Scale((-5.0, -1.5, 1.5, 5.0), "deg")
DIVE = Scale((-1.0, 2.5, 7.0, 12.0), "deg/s", Per.PATH)
UP_LINE = Scale((-8.0, 0.0, 10.0, 22.0), "deg/s", Per.PATH)
"""Rates toward the canopy, which is the ground side when inverted."""
