"""The four-bar of arm, rod and horn in closed form, for one linkage or for many at once.

Plane of the rod: x aft from the servo axis, y up. The arm's pin A = a (sin t, s_a cos t), the horn's
B = (d, e) + h (sin f, s_h cos f), s = +1 for a pin above and -1 below; |B - A| = L. Deflection = s_h (f - f_neutral).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike, NDArray

from jinba.core.errors import JinbaError

Floats = NDArray[np.float64]
Pin = tuple[Floats, Floats]
"""A pin's place: x aft, y up. [m]"""
_ROUNDING = 1e-12
_DEAD_CENTRE = 1e-3


class LinkageError(JinbaError):
    """A linkage that cannot be put together as measured."""

    code = "linkage-cannot-close"


@dataclass(frozen=True, slots=True)
class Motion:
    """How a linkage moves, one row per servo angle.

    ``servo_rad`` (n,) from neutral; ``deflection_rad`` (n,) and ``slope`` d deflection / d servo (n,), NaN where the rod
    cannot reach; ``arm_pin_m``, ``horn_pin_m`` (2, n) in the plane of the rod; ``transmission_rad`` (n,) between rod and
    horn, 90 degrees is best, 0 is dead centre; ``slack_m`` (n,) of the idle cable, positive slack, negative stretched.
    """

    servo_rad: Floats
    deflection_rad: Floats
    slope: Floats
    arm_pin_m: Floats
    horn_pin_m: Floats
    transmission_rad: Floats
    slack_m: Floats


@dataclass(frozen=True)
class Bars:
    """Lengths [m], leans at neutral [rad] and sides of a four-bar; scalars, or arrays that broadcast with the angles."""

    arm: ArrayLike
    horn: ArrayLike
    distance: float
    rise: float
    arm_lean: float
    horn_lean: float
    arm_side: float
    horn_side: float

    def arm_pin(self, angle: ArrayLike) -> Pin:
        """Return A for arm angles from square. [m]"""
        arm = np.asarray(self.arm)
        return arm * np.sin(angle), self.arm_side * arm * np.cos(angle)

    def horn_pin(self, angle: ArrayLike) -> Pin:
        """Return B for horn angles from square. [m]"""
        horn = np.asarray(self.horn)
        return self.distance + horn * np.sin(angle), self.rise + self.horn_side * horn * np.cos(angle)

    def apart(self, servo: ArrayLike, deflection: ArrayLike) -> Floats:
        """Return the distance between the pins for a servo angle and a deflection. [m]

        Derived here (docs/methods/linkage.md).
        """
        f = np.asarray(deflection) * self.horn_side + self.horn_lean
        (ax, ay), (bx, by) = self.arm_pin(np.asarray(servo) + self.arm_lean), self.horn_pin(f)
        return np.asarray(np.hypot(bx - ax, by - ay))

    @cached_property
    def rod(self) -> Floats:
        """Rod length that the neutral position sets. [m] Derived here (docs/methods/linkage.md)."""
        return self.apart(0.0, 0.0)

    @cached_property
    def _neutral(self) -> tuple[Floats, Floats]:
        a, b = self.arm_pin(self.arm_lean), self.horn_pin(self.horn_lean)
        return _wrapped(self.horn_lean - self._towards_hinge(a)), _wrapped(self.arm_lean - self._towards_horn(b))

    @cached_property
    def dead(self) -> NDArray[np.bool_]:
        """Whether rod and horn lie in one line at neutral. Derived here (docs/methods/linkage.md)."""
        gap = np.abs(self._neutral[0])
        return (np.minimum(gap, np.pi - gap) < _DEAD_CENTRE) | (self.rod < _DEAD_CENTRE)

    def _towards_hinge(self, a: Pin) -> Floats:
        return np.asarray(np.arctan2(self.distance - a[0], self.horn_side * (self.rise - a[1])))

    def _towards_horn(self, b: Pin) -> Floats:
        return np.asarray(np.arctan2(b[0], self.arm_side * b[1]))

    def horn_angle(self, a: Pin, length: ArrayLike) -> Floats:
        """Return the horn angle for the arm's pin (2, ...) and a rod length, on the fitted branch; NaN out of reach.

        Derived here (docs/methods/linkage.md).
        """
        square = (self.distance - a[0]) ** 2 + (self.rise - a[1]) ** 2
        # The law of cosines in the triangle arm pin, hinge, horn pin; its two solutions are the two branches.
        turn = _turn(np.asarray(length) ** 2 - square - np.asarray(self.horn) ** 2, self.horn, square)
        f = self._towards_hinge(a) + np.sign(self._neutral[0]) * turn
        # The angle next to neutral: a surface never goes round the long way.
        return np.asarray(self.horn_lean + _wrapped(f - self.horn_lean))

    def arm_angle(self, b: Pin, length: ArrayLike) -> Floats:
        """Return the arm angle for the horn's pin (2, ...) and a rod length, on the fitted branch; NaN out of reach.

        Derived here (docs/methods/linkage.md).
        """
        square = b[0] ** 2 + b[1] ** 2
        turn = _turn(square + np.asarray(self.arm) ** 2 - np.asarray(length) ** 2, self.arm, square)
        t = self._towards_horn(b) + np.sign(self._neutral[1]) * turn
        return np.asarray(self.arm_lean + _wrapped(t - self.arm_lean))

    def slope(self, a: Pin, b: Pin, arm: Floats, horn: Floats) -> tuple[Floats, Floats]:
        """Return (d deflection / d servo, angle between rod and horn [rad]) from equal speeds of both pins along the rod.

        Derived here (docs/methods/linkage.md).
        """
        x, y = b[0] - a[0], b[1] - a[1]
        length = np.hypot(x, y)
        # A rod does not stretch: both pins move equally fast along it, whatever they do across it.
        along_arm = np.asarray(self.arm) * (x * np.cos(arm) - y * self.arm_side * np.sin(arm)) / length
        along_horn = (x * np.cos(horn) - y * self.horn_side * np.sin(horn)) / length
        with np.errstate(divide="ignore", invalid="ignore"):
            # At a dead centre the horn's speed along the rod is zero: infinite slope is the answer, not an error.
            slope = self.horn_side * along_arm / (np.asarray(self.horn) * along_horn)
        return slope, np.arcsin(np.clip(np.abs(along_horn), 0.0, 1.0))


def _turn(numerator: Floats, radius: ArrayLike, square: Floats) -> Floats:
    with np.errstate(divide="ignore", invalid="ignore"):
        cosine = numerator / (2.0 * np.asarray(radius) * np.sqrt(square))
        return np.where(np.abs(cosine) <= 1.0 + _ROUNDING, np.arccos(np.clip(cosine, -1.0, 1.0)), np.nan)


def _wrapped(angle: ArrayLike) -> Floats:
    return np.asarray((np.asarray(angle) + np.pi) % (2.0 * np.pi) - np.pi)


def follow(bars: Bars, servo: Floats, *, rod_m: float | None = None) -> Motion:
    """Return how the horn follows servo angles (n,) [rad from neutral], with another rod length [m] if given.

    |D| cos(f - psi) = (L^2 - |D|^2 - h^2)/(2 h), D from A to the hinge, psi its direction; the branch fitted at neutral.
    """
    length = bars.rod if rod_m is None else rod_m
    arm = servo + bars.arm_lean
    a = bars.arm_pin(arm)
    horn = bars.horn_angle(a, length)
    b = bars.horn_pin(horn)
    slope, transmission = bars.slope(a, b, arm, horn)
    deflection = bars.horn_side * (horn - bars.horn_lean)
    return Motion(servo, deflection, slope, np.stack(a), np.stack(b), transmission, np.zeros_like(deflection))


def lead(bars: Bars, deflection: Floats) -> Floats:
    """Return the servo angles [rad from neutral] that bring deflections; NaN out of reach or behind a dead centre.

    Derived here (docs/methods/linkage.md).
    """
    horn = bars.horn_side * deflection + bars.horn_lean
    b = bars.horn_pin(horn)
    arm = bars.arm_angle(b, bars.rod)
    a = bars.arm_pin(arm)
    here, _ = bars.slope(a, b, arm, horn)
    start_a, start_b = bars.arm_pin(bars.arm_lean), bars.horn_pin(bars.horn_lean)
    # Behind a dead centre the slope has the other sign: the surface would come back. That solution is none.
    at_neutral, _ = bars.slope(start_a, start_b, np.asarray(bars.arm_lean), np.asarray(bars.horn_lean))
    return np.where(here * at_neutral > 0.0, arm - bars.arm_lean, np.nan)
