"""Between axes, surfaces and pulses: what rests where, exact by the linkage, both ways."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from jinba.core.controls.fitting import Fitting, sense_of, surface_words
from jinba.core.controls.four_bar import LinkageError
from jinba.core.controls.linkage import motion, servo_for
from jinba.core.controls.setup import COMMAND_OF, ControlSetup
from jinba.core.controls.travel import ruler_m
from jinba.core.frames import Axis
from jinba.core.spoken import a_length


def surface_rest_rad(fitting: Fitting, offsets: dict[Axis, float], *, inverted_v: bool = False) -> float:
    """Return the deflection [rad] that axis offsets [rad, signs of ``core.frames``] hold at a surface: the sum of its tasks.

    Derived here (docs/methods/trim-transfer.md).
    """
    return sum(
        sense_of(fitting.role, COMMAND_OF[axis], inverted_v=inverted_v) * value for axis, value in offsets.items()
    )


def pulses_for(fitting: Fitting, deflection_rad: float) -> float:
    """Return the microseconds of pulse [signed as the servo's rotation] that move a surface by an angle [rad] from neutral.

    Derived here (docs/methods/trim-transfer.md).
    """
    servo = servo_for(fitting.linkage, deflection_rad, most_servo_rad=math.pi / 2)
    if servo is None:
        raise LinkageError(f"The {fitting.name} cannot reach that position by trim.", name="trim")
    return servo / fitting.servo.rad_per_us


def deflection_for(fitting: Fitting, pulse_shift_us: float) -> float:
    """Return the deflection [rad] of a shift of the pulse [us]; the way back of :func:`pulses_for`.

    Derived here (docs/methods/trim-transfer.md).
    """
    m = motion(fitting.linkage, np.array([pulse_shift_us * fitting.servo.rad_per_us]))
    return float(m.deflection_rad[0])


def rest_words(fitting: Fitting, rest_rad: float) -> str:
    """Return where a surface rests, in words: "left elevon up 2.1 mm at 45 mm chord"."""
    mm = 1000.0 * ruler_m(fitting.chord_m, rest_rad)
    if mm < 0.05:
        return f"{fitting.name} fair"
    return f"{surface_words(fitting.role, rest_rad)} {a_length(mm / 1000, 1)} at {a_length(fitting.chord_m)} chord"


@dataclass(frozen=True, slots=True)
class AxisTrim:
    """One axis of the trim ledger: clicks, pulse [us], angle [rad] and movement at the chord [m], in words; ``beyond`` the threshold."""

    axis: Axis
    phase: str
    clicks: int
    pulse_us: float
    angle_rad: float
    moved_m: float
    words: str
    beyond: bool


def back_to_axes(setup: ControlSetup, rests: dict[str, float], *, inverted_v: bool) -> dict[Axis, float]:
    """Return the offsets of the axes [rad] that surface rests [rad by role] stand for: the mean over each axis' surfaces.

    The way back of :func:`surface_rest_rad`: sum of sense x rest over the number of surfaces of the axis.
    Derived here (docs/methods/trim-transfer.md).
    """
    result: dict[Axis, float] = {}
    for axis, command in COMMAND_OF.items():
        shares = [
            sense_of(f.role, command, inverted_v=inverted_v) * rests[f.role.value]
            for f in setup.fittings
            if f.role.value in rests and sense_of(f.role, command) != 0.0
        ]
        if shares:
            result[axis] = sum(shares) / len(shares)
    return result
