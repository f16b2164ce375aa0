"""Axes, signs and every direction word: the only place where a sign becomes a word.

Drawing axes: x aft of the datum, y to the right wing (as seated in the cockpit), z up. Body axes (dynamics): x forward,
y right, z down; p, q, r right-handed: p > 0 right wing down, q > 0 nose up, r > 0 nose right.
alpha > 0 nose up. Elevator and flap are positive trailing edge down, so *up elevator is negative*.
Aileron > 0: right aileron up, left aileron down, which rolls right. Rudder > 0: trailing edge left, which yaws left.
Thrust tilt > 0: forward end of the axis down, or to the right. Static margin = (x_np - x_cg) / MAC, positive stable.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Response(StrEnum):
    """What the *model* does, in its own axes, whatever its attitude."""

    NOSE_UP = "nose_up"
    NOSE_DOWN = "nose_down"
    ROLL_RIGHT = "roll_right"
    ROLL_LEFT = "roll_left"
    YAW_RIGHT = "yaw_right"
    YAW_LEFT = "yaw_left"


class Axis(StrEnum):
    """The three control axes."""

    PITCH = "pitch"
    ROLL = "roll"
    YAW = "yaw"


@dataclass(frozen=True, slots=True)
class DirectionWords:
    """One control direction in the three ways a pilot needs: model, stick, surface seen from behind."""

    model: str
    stick: str
    surface: str
    trim_lever: str


_WORDS: dict[Response, DirectionWords] = {
    Response.NOSE_UP: DirectionWords(
        "nose up", "stick back, towards you", "elevator trailing edge up", "lever towards you"
    ),
    Response.NOSE_DOWN: DirectionWords(
        "nose down", "stick forward, away from you", "elevator trailing edge down", "lever away from you"
    ),
    Response.ROLL_RIGHT: DirectionWords(
        "right wing down", "stick right", "right aileron up, left aileron down", "lever to the right"
    ),
    Response.ROLL_LEFT: DirectionWords(
        "left wing down", "stick left", "left aileron up, right aileron down", "lever to the left"
    ),
    Response.YAW_RIGHT: DirectionWords(
        "nose right", "rudder stick right", "rudder trailing edge right", "lever to the right"
    ),
    Response.YAW_LEFT: DirectionWords(
        "nose left", "rudder stick left", "rudder trailing edge left", "lever to the left"
    ),
}

# +1 where a positive surface deflection of the axis brings about the response (see the module's sign table).
_SURFACE_SIGN: dict[Response, int] = {
    Response.NOSE_UP: -1,
    Response.NOSE_DOWN: +1,
    Response.ROLL_RIGHT: +1,
    Response.ROLL_LEFT: -1,
    Response.YAW_RIGHT: -1,
    Response.YAW_LEFT: +1,
}

_AXIS: dict[Response, Axis] = {
    Response.NOSE_UP: Axis.PITCH,
    Response.NOSE_DOWN: Axis.PITCH,
    Response.ROLL_RIGHT: Axis.ROLL,
    Response.ROLL_LEFT: Axis.ROLL,
    Response.YAW_RIGHT: Axis.YAW,
    Response.YAW_LEFT: Axis.YAW,
}


def words_for(response: Response) -> DirectionWords:
    """Return the words for the model's response, the stick, the surface seen from behind and the trim lever."""
    return _WORDS[response]


def axis_of(response: Response) -> Axis:
    """Return the axis a response belongs to."""
    return _AXIS[response]


def surface_sign(response: Response) -> int:
    """Return +1 when a positive deflection of the axis' surface causes ``response``, else -1."""
    return _SURFACE_SIGN[response]


def opposite(response: Response) -> Response:
    """Return the response the other way round on the same axis."""
    return next(r for r in Response if r is not response and _AXIS[r] is _AXIS[response])


def response_of_deflection(axis: Axis, deflection_rad: float) -> Response:
    """Return what the model does for a surface deflection [rad] of an axis, signs as in this module.

    A deflection of zero is reported as the response of a positive one; callers say "none" before asking.
    """
    sign = 1 if deflection_rad >= 0 else -1
    return next(r for r in Response if _AXIS[r] is axis and _SURFACE_SIGN[r] == sign)


class ThrustLine(StrEnum):
    """Directions in which a motor can be tilted, named by the forward end of its axis."""

    DOWN = "down"
    UP = "up"
    RIGHT = "right"
    LEFT = "left"


def thrust_tilt_response(tilt: ThrustLine, *, x_motor_ahead_of_cg_m: float) -> Response:
    """Return what more power does after tilting the motor's forward axis end ``tilt``-wards.

    Parameters
    ----------
    tilt : direction in which the forward end of the thrust axis is moved.
    x_motor_ahead_of_cg_m : signed arm, positive for a tractor, negative for a pusher. [m]

    The moment follows from the signed arm, never from the word: behind the CG every effect is reversed.
    References: derived here (docs/methods/signs.md).
    """
    tractor = {
        ThrustLine.DOWN: Response.NOSE_DOWN,
        ThrustLine.UP: Response.NOSE_UP,
        ThrustLine.RIGHT: Response.YAW_RIGHT,
        ThrustLine.LEFT: Response.YAW_LEFT,
    }[tilt]
    return tractor if x_motor_ahead_of_cg_m >= 0 else opposite(tractor)


def left_or_right(value: float) -> str:
    """Return ``"right"`` for positive y (as seated in the cockpit), else ``"left"``."""
    return "right" if value > 0 else "left"


def station_words(x_m: float, datum: str) -> str:
    """Return a station [m aft of the datum] in words, without a sign: "229 mm ahead of the wing root leading edge"."""
    if abs(x_m) < 0.0005:
        return f"at the {datum}"
    return f"{abs(x_m) * 1000:.0f} mm {'behind' if x_m > 0 else 'ahead of'} the {datum}"


def forward_or_aft(value: float) -> str:
    """Return ``"aft"`` for positive x, else ``"forward"``."""
    return "aft" if value > 0 else "forward"
