"""Rates, expo, differential and flight phases: from the stick to the command of an axis."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, TypeVar

import numpy as np
from numpy.typing import NDArray

from jinba.core.declare import OPENS_NOTHING, Count, Share
from jinba.core.errors import JinbaError, check_range, check_text
from jinba.core.frames import Axis

Value = TypeVar("Value", float, NDArray[np.float64])
MOST_RATE = 1.0
"""Highest rate, of the full throw that end points and linkage give."""


def expo(stick: Value, share: float) -> Value:
    """Return what expo makes of a stick position: (1 - k) x + k x^3; odd, the ends stay, slope 1 - k at the centre.

    ``stick`` in [-1, 1]; ``share`` k: > 0 softer round the centre, < 0 sharper. Raises: OutOfRangeError for k outside
    [-1, 1]. References: the common cubic formula, common practice, no source.
    """
    check_range("expo", share, unit="share", low=-1.0, high=1.0)
    return (1.0 - share) * stick + share * stick**3


def stick_for(command: float, share: float) -> float:
    """Return the stick position [0, 1] that expo turns into a command in [0, 1]: the one real root in range, by bisection.

    Derived here.
    """
    low, high = 0.0, 1.0
    if command >= 1.0:
        return 1.0
    # Sharp expo (k < -0.5) overshoots before the end: the first crossing is what a thumb finds.
    for x in np.linspace(0.0, 1.0, 201):
        if expo(float(x), share) >= command:
            high = float(x)
            break
        low = float(x)
    for _ in range(40):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if expo(middle, share) < command else (low, middle)
    return 0.5 * (low + high)


@dataclass(frozen=True, slots=True)
class RateStep:
    """One rate of an axis: shares of full throw for nose up / right (``first``) and nose down / left (``second``), expo."""

    name: str
    first: Share
    second: Share
    expo: Share = 0.0

    def __post_init__(self) -> None:
        check_text("name of the rate", self.name, longest=30)
        for share in (self.first, self.second):
            check_range(
                f"{self.name} rate",
                share,
                unit="",
                low=0.05,
                high=MOST_RATE,
                hint="1 is 100 %: more travel comes from end points and holes.",
            )
        check_range(f"{self.name} rate, expo", self.expo, unit="share", low=-1.0, high=1.0)

    def command(self, stick: Value) -> Value:
        """Return the command for a stick position, + for nose up / right: the share of full throw that is asked for."""
        curved = expo(stick, self.expo)
        return curved * np.where(np.asarray(curved) >= 0.0, self.first, self.second)  # type: ignore[return-value]


@dataclass(frozen=True, slots=True)
class AxisRates:
    """The rates of an axis, high first, and its differential: 0.3 takes 30 % off the surface that goes down."""

    axis: Axis
    steps: tuple[RateStep, ...]
    differential: Share = 0.0

    def __post_init__(self) -> None:
        if not 1 <= len(self.steps) <= 3:
            raise JinbaError(f"{self.axis.value}: one, two or three rates.", name="rates")
        if len({s.name for s in self.steps}) < len(self.steps):
            raise JinbaError(f"{self.axis.value}: two rates have the same name.", name="rates")
        check_range(f"{self.axis.value} differential", self.differential, unit="share", low=-1.0, high=1.0)

    def step(self, index: int) -> RateStep:
        """Return the rate with this number, or the last one there is."""
        return self.steps[min(index, len(self.steps) - 1)]


@dataclass(frozen=True, slots=True)
class FlightPhase:
    """A flight phase: which rate of each axis, how much flap (0 to 1), and the trims that belong to it. [clicks]

    Clicks > 0: nose down, right wing down, nose left. ``speed_words``: the speed or throttle at which it was trimmed.
    """

    name: str
    pitch_rate: Count = 0
    roll_rate: Count = 0
    yaw_rate: Count = 0
    flap: Share = 0.0
    pitch_clicks: Count = 0
    roll_clicks: Count = 0
    yaw_clicks: Count = 0
    speed_words: Annotated[str, OPENS_NOTHING] = ""

    def __post_init__(self) -> None:
        check_text("name of the flight phase", self.name, longest=30)
        check_text("trimmed at", self.speed_words, longest=60)
        check_range(f"{self.name}, flap", self.flap, unit="share", low=0.0, high=1.0)
        for rate in (self.pitch_rate, self.roll_rate, self.yaw_rate):
            check_range(f"{self.name}, rate", rate, unit="share", low=0, high=2)
        for clicks in (self.pitch_clicks, self.roll_clicks, self.yaw_clicks):
            check_range(f"{self.name}, trim", clicks, unit="clicks", low=-200, high=200)

    def rate_of(self, axis: Axis) -> int:
        """Return the number of the rate an axis flies with."""
        return {Axis.PITCH: self.pitch_rate, Axis.ROLL: self.roll_rate, Axis.YAW: self.yaw_rate}[axis]

    def clicks_of(self, axis: Axis) -> int:
        """Return the trim of an axis in this phase. [clicks, signs of ``core.frames``]"""
        return {Axis.PITCH: self.pitch_clicks, Axis.ROLL: self.roll_clicks, Axis.YAW: self.yaw_clicks}[axis]
