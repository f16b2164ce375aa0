"""What the throws are worth in the air: roll rate, pull-up, load factor, and the floor below which no rate may go."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from jinba.core.configuration import ModelClass
from jinba.core.constants import STANDARD_GRAVITY_MPS2
from jinba.core.controls.deflections import command_for_throw, mean_throw_rad
from jinba.core.controls.setup import COMMAND_OF, ControlSetup
from jinba.core.controls.throws import RateStep
from jinba.core.controls.travel import angle_of_ruler, ruler_m, vertical_m
from jinba.core.errors import UnreachableTargetError
from jinba.core.frames import Axis, response_of_deflection, words_for
from jinba.core.observe.parameters import COUNT
from jinba.core.observe.situation import (
    APPROACH_OVER_STALL,
    Design,
    Situation,
    elevator_for_load_rad,
    load_factor,
    situation,
    trim_elevator_rad,
)
from jinba.core.spoken import a_distance, a_length, a_speed

FLOOR_SHARE = 0.85
"""Share of the wing's lift that full back stick must call up at approach speed: derived here from "a substantial pull-up when slow and pointed down"."""

_CALM_SHARE = 0.85
"""Share of the wing's highest load factor that low rates keep to: derived here, so that a full pull does not stall."""

_DIVE_RAD = math.radians(45.0)
_NO_FAULTS = np.zeros(COUNT)


@dataclass(frozen=True, slots=True)
class ClassThrow:
    """What a class of model is flown with at full stick: roll rate [rad/s] and load factor at cruise. Common practice, no source."""

    roll_rate_rad_s: float
    load_factor: float
    school: str


CLASS_THROWS: dict[ModelClass, ClassThrow] = {
    ModelClass.TRAINER: ClassThrow(math.radians(70), 2.5, "low"),
    ModelClass.CAMERA_SHIP: ClassThrow(math.radians(70), 2.2, "low"),
    ModelClass.SPORT: ClassThrow(math.radians(130), 4.0, "soft"),
    ModelClass.AEROBATIC: ClassThrow(math.radians(220), 6.0, "soft"),
    ModelClass.GLIDER: ClassThrow(math.radians(60), 2.5, "low"),
}


@dataclass(frozen=True, slots=True)
class RateAuthority:
    """What one rate of one axis does.

    ``first_way``, ``second_way``: the model's responses, nose up / right first; ``first_rad``, ``second_rad``: mean throws;
    ``first_m``, ``second_m`` straight at the chord; ``roll_rate_rad_s`` at cruise and ``roll_rate_slow_rad_s`` at approach speed; ``load_factor`` of full back
    stick at cruise with ``stalls_first``, ``load_factor_dive`` at the fastest dive; ``slow_share`` of the wing's lift it can call up at approach speed, power off;
    ``pull_out_m`` height to come out of a 45 degree dive there; ``floor_passed`` None where there is no floor.
    """

    axis: Axis
    rate: str
    chord_m: float
    first_way: str
    second_way: str
    first_rad: float
    second_rad: float
    first_m: float
    second_m: float
    curve: tuple[tuple[float, float], ...]
    roll_rate_rad_s: float | None
    roll_rate_slow_rad_s: float | None
    load_factor: float | None
    stalls_first: bool
    load_factor_dive: float | None
    slow_share: float | None
    pull_out_m: float | None
    floor_passed: bool | None
    words: str


def rate_authority(
    design: Design, setup: ControlSetup, axis: Axis, step: RateStep, *, dive_mps: float | None = None
) -> RateAuthority:
    """Return what a rate of an axis is worth at cruise, at approach speed and in the fastest dive. [m/s]

    References: docs/methods/authority.md.
    """
    sign = 1.0 if axis is Axis.ROLL else -1.0
    first = mean_throw_rad(setup, axis, sign * step.first)
    second = mean_throw_rad(setup, axis, -sign * step.second)
    moving = setup.moving(COMMAND_OF[axis])
    chord = moving[0].chord_m if moving else 0.0
    roll = roll_slow = factor = share = height = dive = None
    stalls = False
    passed: bool | None = None
    if axis is Axis.ROLL and moving:
        roll = full_roll_rate_rad_s(design, first, speed_mps=design.cruise_speed_mps)
        roll_slow = full_roll_rate_rad_s(design, first, speed_mps=APPROACH_OVER_STALL * design.stall_speed_mps)
    if axis is Axis.PITCH and moving:
        factor, stalls = full_load_factor(design, first, speed_mps=design.cruise_speed_mps)
        share, height = slow_pull_up(design, first)
        dive = None if dive_mps is None else full_load_factor(design, first, speed_mps=dive_mps)[0]
        passed = share >= FLOOR_SHARE
    return RateAuthority(
        axis=axis,
        rate=step.name,
        chord_m=chord,
        first_way=words_for(response_of_deflection(axis, sign)).model,
        second_way=words_for(response_of_deflection(axis, -sign)).model,
        first_rad=first,
        second_rad=second,
        first_m=ruler_m(chord, first),
        second_m=ruler_m(chord, second),
        curve=tuple((x / 20.0, float(step.command(x / 20.0))) for x in range(-20, 21)),
        roll_rate_rad_s=roll,
        roll_rate_slow_rad_s=roll_slow,
        load_factor=factor,
        stalls_first=stalls,
        load_factor_dive=dive,
        slow_share=share,
        pull_out_m=height,
        floor_passed=passed,
        words=_words(step.name, bool(moving), roll, factor, stalls, share, height, passed)
        + (
            ""
            if dive is None or dive_mps is None
            else f" In the fastest dive, {a_speed(dive_mps)}, it pulls {dive:.0f} g."
        ),
    )


def full_roll_rate_rad_s(design: Design, aileron_rad: float, *, speed_mps: float) -> float:
    """Return the steady roll rate [rad/s] of an aileron angle [rad each side]: p = (2V/b) C_l,da da/|C_l,p|.

    References: Perkins and Hage, 1949, ch. 9; Nelson, 1998, sec. 5.3 (both from memory).
    """
    a = design.aero
    return 2.0 * speed_mps / a.planform.span_m * a.cl_aileron * aileron_rad / abs(a.cl_p)


def full_load_factor(design: Design, back_rad: float, *, speed_mps: float) -> tuple[float, bool]:
    """Return (load factor [-], whether the wing stalls first) of a steady pull with the elevator ``back_rad`` [rad] up of trim.

    Trimmed at cruise, thrust as in level flight; limited by (V/Vs)^2. References: docs/methods/authority.md (derived here).
    """
    trim = trim_elevator_rad(_at(design, design.cruise_speed_mps, "level"))
    s = _at(design, speed_mps, "level")
    n = load_factor(s, elevator_rad=trim - back_rad, thrust_n=s.thrust_n)
    most = (speed_mps / design.stall_speed_mps) ** 2
    return min(n, most), n >= most


def slow_pull_up(design: Design, back_rad: float) -> tuple[float, float | None]:
    """Return (share of the wing's lift that full back stick calls up at 1.3 stall speeds, height [m] out of a 45 degree dive).

    Power off, elevator trimmed at cruise. The wing gives (V/Vs)^2 there. Height at constant speed and load factor n:
    V^2/g ln[(n - cos g0)/(n - 1)], None when n <= 1.05, where it never comes out. Derived here.
    """
    v = APPROACH_OVER_STALL * design.stall_speed_mps
    trim = trim_elevator_rad(_at(design, design.cruise_speed_mps, "level"))
    n = load_factor(_at(design, v, "idle"), elevator_rad=trim - back_rad, thrust_n=0.0)
    most = APPROACH_OVER_STALL**2
    used = min(n, most)
    if used <= 1.05:
        return max(0.0, used / most), None
    return used / most, v**2 / STANDARD_GRAVITY_MPS2 * math.log((used - math.cos(_DIVE_RAD)) / (used - 1.0))


def throw_for_load_factor(design: Design, n: float, *, speed_mps: float) -> float:
    """Return the elevator angle up of trim [rad] that pulls a steady load factor; the way back of :func:`full_load_factor`.

    Derived here (docs/methods/authority.md).
    """
    trim = trim_elevator_rad(_at(design, design.cruise_speed_mps, "level"))
    s = _at(design, speed_mps, "level")
    return max(0.0, trim - elevator_for_load_rad(s, load=n, thrust_n=s.thrust_n))


def floor_throw_rad(design: Design) -> float:
    """Return the least elevator throw [rad] that passes the floor at approach speed, power off.

    Derived here (docs/methods/authority.md).
    """
    v = APPROACH_OVER_STALL * design.stall_speed_mps
    trim = trim_elevator_rad(_at(design, design.cruise_speed_mps, "level"))
    s = _at(design, v, "idle")

    wanted = FLOOR_SHARE * APPROACH_OVER_STALL**2
    return max(0.0, trim - elevator_for_load_rad(s, load=wanted, thrust_n=0.0))


def _at(design: Design, speed_mps: float, throttle: str) -> Situation:
    return situation(design, _NO_FAULTS, speed_mps=speed_mps, throttle=throttle)


def _words(
    rate: str,
    moves: bool,
    roll: float | None,
    factor: float | None,
    stalls: bool,
    share: float | None,
    height: float | None,
    passed: bool | None,
) -> str:
    if not moves:
        return "Nothing moves this axis."
    if roll is not None:
        return f"Full stick rolls at {math.degrees(roll):.0f}°/s at cruise: {2 * math.pi / max(roll, 1e-6):.1f} s for a roll."
    if factor is not None and share is not None:
        pull = f"Full back stick at cruise pulls {factor:.1f} g" + (", where the wing stalls." if stalls else ".")
        slow = f" Slow, power off, it calls up {100 * share:.0f} % of the wing's lift"
        out = (
            f" and comes out of a 45° dive in {a_distance(height)}."
            if height is not None
            else " and does not come out of a 45° dive."
        )
        floor = "" if passed else f" Below the floor of {100 * FLOOR_SHARE:.0f} %: more throw on the {rate} rate."
        return pull + slow + out + floor
    return ""


@dataclass(frozen=True, slots=True)
class ThrowSetting:
    """A throw wanted and the rate that gives it: share of full throw, angle [rad], straight and square movement. [m]"""

    share: float
    angle_rad: float
    straight_m: float
    square_m: float


def rate_for_throw(setup: ControlSetup, axis: Axis, *, straight_m: float, first: bool) -> ThrowSetting:
    """Return the rate that moves the trailing edge of an axis by a straight distance [m]; ``first``: nose up, or right.

    Raises: UnreachableTargetError when the linkage does not reach it, saying how far it does; OutOfRangeError.
    """
    moving = setup.moving(COMMAND_OF[axis])
    if not moving:
        raise UnreachableTargetError(f"Nothing moves {axis.value} on this model.")
    chord = moving[0].chord_m
    sign = (1.0 if axis is Axis.ROLL else -1.0) * (1.0 if first else -1.0)
    angle = angle_of_ruler(chord, straight_m)
    share = command_for_throw(setup, axis, angle, sign=sign)
    if share is None or share < 0.05:
        most = ruler_m(chord, mean_throw_rad(setup, axis, sign))
        raise UnreachableTargetError(
            f"This linkage gives {a_length(0.05 * most, 1)} to {a_length(most, 1)} that way: other holes or end points for "
            f"{a_length(straight_m, 1)}."
        )
    return ThrowSetting(share, angle, straight_m, vertical_m(chord, angle))


@dataclass(frozen=True, slots=True)
class ThrowSchool:
    """One school of throws: its key and name, throws wanted [rad], expo, the rate that gives them now, and words."""

    key: str
    name: str
    pitch_rad: float
    roll_rad: float
    pitch_rate: float | None
    roll_rate: float | None
    pitch_expo: float
    roll_expo: float
    usual: bool
    words: str


def throw_schools(design: Design, setup: ControlSetup) -> tuple[ThrowSchool, ...]:
    """Return the three schools of throws for the class of the model, each computed for this airframe.

    Low rates: the class' roll rate and load factor at cruise, never below the floor. Soft centre: the whole travel with
    expo k = 1 - low/high, so that the middle of the stick feels the same. No stall: as much pitch as just reaches the
    wing's highest lift at cruise. References: schools common practice, no source; values derived here.
    """
    wanted = CLASS_THROWS[design.configuration.model_class]
    floor = floor_throw_rad(design)
    v = design.cruise_speed_mps
    highest = (v / design.stall_speed_mps) ** 2
    calm = min(wanted.load_factor, _CALM_SHARE * highest)
    pitch_low = max(floor, throw_for_load_factor(design, calm, speed_mps=v))
    per_rad = full_roll_rate_rad_s(design, 1.0, speed_mps=v)
    roll_low = wanted.roll_rate_rad_s / per_rad
    pitch_full, roll_full = mean_throw_rad(setup, Axis.PITCH, -1.0), mean_throw_rad(setup, Axis.ROLL, 1.0)
    stall = max(floor, throw_for_load_factor(design, highest, speed_mps=v))

    def school(key: str, name: str, pitch: float, roll: float, soft: tuple[float, float], words: str) -> ThrowSchool:
        return ThrowSchool(
            key,
            name,
            pitch,
            roll,
            command_for_throw(setup, Axis.PITCH, pitch, sign=-1.0),
            command_for_throw(setup, Axis.ROLL, roll, sign=1.0),
            soft[0],
            soft[1],
            wanted.school == key,
            words,
        )

    def softness(low: float, full: float) -> float:
        return round(min(0.7, max(0.0, 1.0 - low / full)), 2) if full > 1e-6 else 0.0

    return (
        school(
            "low",
            "Low rates for the maiden",
            pitch_low,
            roll_low,
            (0.2, 0.2),
            "Small throws against over-control, but never below what still pulls up when slow.",
        ),
        school(
            "soft",
            "Full travel, soft centre",
            pitch_full,
            roll_full,
            (softness(pitch_low, pitch_full), softness(roll_low, roll_full)),
            "The same calm centre by expo; the whole travel is there when it is needed.",
        ),
        school(
            "no_stall",
            "As much pitch as does not stall",
            stall,
            roll_full,
            (0.2, 0.2),
            "Full back stick at cruise just reaches the wing's highest lift: it cannot be snapped over.",
        ),
    )
