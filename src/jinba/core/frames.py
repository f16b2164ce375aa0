"""Axes, signs and every direction word: the only place where a sign becomes a word.

Drawing axes: x aft of the datum, y to the right wing (as seated in the cockpit), z up. Body axes (dynamics): x forward,
y right, z down; p, q, r right-handed: p > 0 right wing down, q > 0 nose up, r > 0 nose right.
alpha > 0 nose up. The pitch control is positive in the *nose-down* sense: trailing edge down on a tail, on elevons and on a
V-tail, so *up elevator is negative*; trailing edge up on a foreplane. Flaps are positive trailing edge down.
Aileron > 0: right aileron up, left aileron down, which rolls right. Rudder > 0: trailing edge left, which yaws left.
Thrust tilt > 0: forward end of the axis down, or to the right. Static margin = (x_np - x_cg) / MAC, positive stable.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum

from jinba.core.spoken import a_length


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


class PitchControl(StrEnum):
    """What pitches the model, which decides how its surfaces move as seen from behind."""

    TAIL = "tail"
    FOREPLANE = "foreplane"
    ELEVONS = "elevons"
    V_TAIL = "v_tail"
    INVERTED_V_TAIL = "inverted_v_tail"


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

_UP_UP = {
    Response.NOSE_UP: "both {} trailing edge up",
    Response.NOSE_DOWN: "both {} trailing edge down",
}

# Where the surfaces seen from behind move otherwise than those of a tail with elevator, ailerons and rudder. A V-tail's
# panels lean outwards, so trailing edges that swing to the right go down on the right panel and up on the left one.
_SURFACES: dict[PitchControl, dict[Response, str]] = {
    PitchControl.TAIL: {},
    PitchControl.FOREPLANE: {
        Response.NOSE_UP: "foreplane trailing edge down",
        Response.NOSE_DOWN: "foreplane trailing edge up",
    },
    PitchControl.ELEVONS: {r: w.format("elevons") for r, w in _UP_UP.items()}
    | {
        Response.ROLL_RIGHT: "right elevon up, left elevon down",
        Response.ROLL_LEFT: "left elevon up, right elevon down",
    },
    PitchControl.V_TAIL: {r: w.format("tail surfaces") for r, w in _UP_UP.items()}
    | {
        Response.YAW_RIGHT: "right tail surface down, left tail surface up",
        Response.YAW_LEFT: "left tail surface down, right tail surface up",
    },
    PitchControl.INVERTED_V_TAIL: {r: w.format("tail surfaces") for r, w in _UP_UP.items()}
    | {
        Response.YAW_RIGHT: "right tail surface up, left tail surface down",
        Response.YAW_LEFT: "left tail surface up, right tail surface down",
    },
}

_CONTROL_NAMES: dict[PitchControl, dict[Axis, str]] = {
    PitchControl.TAIL: {},
    PitchControl.FOREPLANE: {Axis.PITCH: "foreplane"},
    PitchControl.ELEVONS: {Axis.PITCH: "elevon pitch", Axis.ROLL: "elevon roll"},
    PitchControl.V_TAIL: {Axis.PITCH: "V-tail pitch", Axis.YAW: "V-tail yaw"},
    PitchControl.INVERTED_V_TAIL: {Axis.PITCH: "V-tail pitch", Axis.YAW: "V-tail yaw"},
}
_PLAIN_NAMES = {Axis.PITCH: "elevator", Axis.ROLL: "aileron", Axis.YAW: "rudder"}

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


def words_for(response: Response, layout: PitchControl = PitchControl.TAIL) -> DirectionWords:
    """Return the words for the model's response, the stick, the surface seen from behind and the trim lever.

    ``layout``: what pitches the model; stick, lever and response are the same for all, the surfaces are not.
    """
    plain = _WORDS[response]
    surface = _SURFACES[layout].get(response)
    return plain if surface is None else replace(plain, surface=surface)


_MODES: dict[int, dict[Axis, str]] = {
    1: {Axis.PITCH: "left", Axis.ROLL: "right", Axis.YAW: "left"},
    2: {Axis.PITCH: "right", Axis.ROLL: "right", Axis.YAW: "left"},
    3: {Axis.PITCH: "left", Axis.ROLL: "left", Axis.YAW: "right"},
    4: {Axis.PITCH: "right", Axis.ROLL: "left", Axis.YAW: "right"},
}
_STICK_WAY: dict[Response, str] = {
    Response.NOSE_UP: "back, towards you",
    Response.NOSE_DOWN: "forward, away from you",
    Response.ROLL_RIGHT: "to the right",
    Response.ROLL_LEFT: "to the left",
    Response.YAW_RIGHT: "to the right",
    Response.YAW_LEFT: "to the left",
}


def stick_of(axis: Axis, mode: int) -> str:
    """Return which stick, left or right, commands an axis in a transmitter mode (1 to 4).

    Mode 1: elevator and rudder left, aileron right. 2: rudder left, elevator and aileron right. 3: elevator and aileron
    left, rudder right. 4: aileron left, elevator and rudder right; the throttle takes the other upright motion. Common
    practice, no source.
    """
    return _MODES[mode][axis]


def throttle_stick(mode: int) -> str:
    """Return which stick is the throttle: the one whose upright motion is not the elevator."""
    return "right" if _MODES[mode][Axis.PITCH] == "left" else "left"


def sticks_words(mode: int) -> str:
    """Return what the two sticks of a transmitter mode command, in words."""
    names = {Axis.PITCH: "elevator", Axis.ROLL: "aileron", Axis.YAW: "rudder"}
    on = {side: [names[a] for a in Axis if stick_of(a, mode) == side] for side in ("left", "right")}
    on[throttle_stick(mode)].append("throttle")
    return f"Left stick: {' and '.join(on['left'])}. Right stick: {' and '.join(on['right'])}."


def words_for_pilot(
    response: Response, layout: PitchControl, *, mode: int, levers_reversed: tuple[str, ...] = ()
) -> DirectionWords:
    """Return the words for this pilot's radio: the stick by its side, the trim lever by its sense.

    ``mode``: 1 to 4; ``levers_reversed``: axes ("pitch", ...) whose trim lever works the other way round.
    """
    plain, axis = words_for(response, layout), _AXIS[response]
    side = stick_of(axis, mode)
    lever = _WORDS[opposite(response) if axis.value in levers_reversed else response].trim_lever
    return replace(plain, stick=f"{side} stick {_STICK_WAY[response]}", trim_lever=f"{lever}, beside the {side} stick")


def control_name(axis: Axis, layout: PitchControl = PitchControl.TAIL) -> str:
    """Return what the control of an axis is called: elevator, foreplane, elevon pitch, V-tail yaw, ..."""
    return _CONTROL_NAMES[layout].get(axis, _PLAIN_NAMES[axis])


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
    """Return ``"right"`` for positive y (as seated in the cockpit), else ``"left"``. ``value`` in any unit."""
    return "right" if value > 0 else "left"


BEHIND = "behind: unstable"
"""What is said of a balance point behind the neutral point, after its distance."""


def station_words(x_m: float, datum: str) -> str:
    """Return a station [m aft of the datum] in words, without a sign: "229 mm ahead of the wing root leading edge"."""
    if abs(x_m) < 0.0005:
        return f"at the {datum}"
    return f"{a_length(abs(x_m))} {'behind' if x_m > 0 else 'ahead of'} the {datum}"


def forward_or_aft(value: float) -> str:
    """Return ``"aft"`` for positive x, else ``"forward"``. ``value`` in any unit."""
    return "aft" if value > 0 else "forward"
