"""Wind on the strip: components along and across."""

from __future__ import annotations

import math
from dataclasses import dataclass

from jinba.core.errors import check_range


@dataclass(frozen=True, slots=True)
class WindComponents:
    """Wind split along a strip: ``headwind_mps`` > 0 from ahead [m/s], ``crosswind_mps`` > 0 from the right [m/s]."""

    headwind_mps: float
    crosswind_mps: float


def wind_components(*, speed_mps: float, from_rad: float, strip_heading_rad: float) -> WindComponents:
    """Return headwind and crosswind on a strip.

    Parameters
    ----------
    speed_mps : wind speed, >= 0. [m/s]
    from_rad : bearing the wind blows *from*, clockwise from north. [rad]
    strip_heading_rad : heading of take-off, clockwise from north. [rad]

    Raises: OutOfRangeError for a negative or absurd (> 60 m/s) speed.
    References: resolution of a vector; common practice in every pilot's manual.
    """
    check_range("wind speed", speed_mps, unit="m/s", low=0.0, high=60.0)
    angle = from_rad - strip_heading_rad
    return WindComponents(speed_mps * math.cos(angle), speed_mps * math.sin(angle))
