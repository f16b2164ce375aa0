"""Washers behind the motor: for what power does to pitch and yaw, never to cure a balance move or a trim."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

from jinba.core.airframe.parts import Airframe
from jinba.core.configuration import Configuration
from jinba.core.controls.shims import mount_shim
from jinba.core.correct.actions import Action, ActionKind, HeldBack
from jinba.core.diagnose.behaviour import behaviour, share_of
from jinba.core.diagnose.seen import Seen
from jinba.core.diagnose.tendencies import CRAB_LIMIT_DEG, POWER_PITCH_LIMIT
from jinba.core.diagnose.update import Belief
from jinba.core.frames import ThrustLine, thrust_tilt_response, words_for
from jinba.core.observe import predictions
from jinba.core.observe.parameters import PARAMETERS, Array, P
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import Trims, design_of
from jinba.core.power.propulsion import faces_aft, motors_of, on_washers, thrust_line_of, tilted_down, tilted_right
from jinba.core.spoken import a_length

_LARGEST_TILT_RAD = math.radians(3.0)
_PROBE_RAD = 0.02
_FOUR_IN_FIVE = 0.8416
"""Standard normal quantile of 0.8 (table)."""

_TOLD = 0.96
"""What was flown has said something of a thrust line when it is known better than this share of what the bench guessed."""

_Tilted = Callable[[Airframe, float], Airframe]
_Rate = Callable[[Array, Moment], float]


def correct_thrust_line(
    configuration: Configuration, belief: Belief, trims: Trims, seen: Seen
) -> tuple[Configuration, tuple[Action, ...], tuple[HeldBack, ...]]:
    """Return the configuration with washers behind the motor, when full power pitches or turns it out of its band, and what is held back.

    Only where F5 (for side thrust: with what the nose did sideways) was flown in this setup and has said something about the thrust line:
    what a go-round shows at another speed asks for F5 first. Judged with the balance and the surfaces it is going to fly with (``trims`` [rad]). At most 3 degrees,
    in steps of half a degree; never for a fan in a duct, which stands on no washers. Words follow the signed arm: on a pusher
    down-thrust pitches the nose up, and the washers go under the other bolts.
    """
    if not on_washers(configuration.airframe):
        return configuration, (), ()
    after, actions, held = configuration, list[Action](), tuple[HeldBack, ...]()
    own = "F5" in seen.cards - seen.borrowed
    if {"F5", "F28"} & seen.cards and _told(belief, P.THRUST_DOWN):
        tilted, found = _pitch(after, belief, trims)
        if own:
            after, actions = tilted, found
        elif found:
            held = (_only_the_go_round(),)
    power = seen.of("F5")
    sideways = power is not None and own and power.reading("yaw_full") is not None
    if sideways and _told(belief, P.THRUST_RIGHT) and all(m.count == 1 for m in motors_of(configuration.airframe)):
        after, found = _yaw(after, belief, trims)
        actions += found
    return after, tuple(actions), held


def _only_the_go_round() -> HeldBack:
    return HeldBack(
        ActionKind.THRUST_LINE,
        "No washers yet: only the go-round speaks for them, and it is flown at another speed.",
        "Fly F5 (power step at the same speed) in this setup.",
        ("F5",),
    )


def _told(belief: Belief, parameter: P) -> bool:
    # Nothing flown under power: a washer would answer the bench's own guess.
    return bool(belief.sigma[parameter] < _TOLD * PARAMETERS[parameter].sigma)


def _pitch(c: Configuration, belief: Belief, trims: Trims) -> tuple[Configuration, list[Action]]:
    def rate(x: Array, m: Moment) -> float:
        return predictions.pitch_rate_power(x, m, "full")

    limit = POWER_PITCH_LIMIT / design_of(c).cruise_speed_mps
    tilt = _tilt(c, belief, trims, rate, "pitch_full", limit, tilted_down)
    if tilt == 0.0:
        return c, []
    way = ThrustLine.DOWN if tilt > 0 else ThrustLine.UP
    thumb = "Rule of thumb: climbs with power, add down-thrust. That holds for a tractor only."
    return replace(c, airframe=tilted_down(c.airframe, math.radians(tilt))), [_action(c, way, abs(tilt), thumb)]


def _yaw(c: Configuration, belief: Belief, trims: Trims) -> tuple[Configuration, list[Action]]:
    tilt = _tilt(c, belief, trims, predictions.crab_full_power, "yaw_full", CRAB_LIMIT_DEG, tilted_right)
    if tilt == 0.0:
        return c, []
    way = ThrustLine.RIGHT if tilt > 0 else ThrustLine.LEFT
    thumb = "Rule of thumb: swings left with power, add right-thrust. That holds for a tractor only."
    return replace(c, airframe=tilted_right(c.airframe, math.radians(tilt))), [_action(c, way, abs(tilt), thumb)]


def _tilt(
    c: Configuration, belief: Belief, trims: Trims, rate: _Rate, missed: str, limit: float, tilted: _Tilted
) -> float:
    """Return the tilt that brings a behaviour to nought [deg, in halves], 0 where it may lie inside its limit or gets worse."""
    moment = Moment(design_of(c), trims)
    bias = share_of(missed, moment) * belief.missed(missed, moment.design)

    def at(tilt: float) -> float:
        changed = replace(c, airframe=tilted(c.airframe, tilt))
        return rate(belief.mean, Moment(design_of(changed), trims)) + bias

    now = at(0.0)
    # Washers are for what is known to lie outside, as everything else is that is called known: four chances in five.
    _, sigma, _ = behaviour(rate, missed, belief, moment)
    if abs(now) <= limit + _FOUR_IN_FIVE * sigma:
        return 0.0
    # The signed arm is inside the prediction: on a pusher the slope has the other sign by itself.
    slope = (at(_PROBE_RAD) - now) / _PROBE_RAD
    wanted = -now / slope if abs(slope) > 1e-6 else 0.0
    # Half a degree is about the thinnest washer there is.
    tilt = round(math.degrees(max(-_LARGEST_TILT_RAD, min(_LARGEST_TILT_RAD, wanted))) * 2.0) / 2.0
    return 0.0 if abs(at(math.radians(tilt))) >= abs(now) else tilt


def _action(c: Configuration, way: ThrustLine, degrees: float, thumb: str) -> Action:
    motor = thrust_line_of(c.airframe)
    assert motor is not None
    ahead = design_of(c).balance.x_m - motor.x_m
    response = thrust_tilt_response(way, x_motor_ahead_of_cg_m=ahead)
    shim = mount_shim(
        way,
        angle_rad=math.radians(degrees),
        spacing_m=motor.bolt_spacing_m,
        propeller_faces_aft=faces_aft(motor, x_cg_m=design_of(c).balance.x_m),
        x_motor_ahead_of_cg_m=ahead,
    )
    what = "the motor" if sum(m.count for m in motors_of(c.airframe)) == 1 else "every motor"
    return Action(
        ActionKind.THRUST_LINE,
        degrees,
        "degrees",
        f"Tilt {what}: forward end {way.value} by {degrees:.1f} degrees, {a_length(shim.thickness_m, 1)} of washers {shim.where}, "
        f"bolt rows {a_length(motor.bolt_spacing_m)} apart.",
        f"Full power then takes the {words_for(response).model.replace('nose ', 'nose further ')} than now.",
        "Prove it by F5; putting the washers back must bring the old behaviour back.",
        thumb=thumb,
    )
