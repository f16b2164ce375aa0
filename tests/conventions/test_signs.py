"""Signs in words: a wrong one crashes a model. Every direction for the model, the stick and the surface."""

import re
from dataclasses import replace

import pytest

from jinba.core.airframe.parts import Motor
from jinba.core.controls.transfer import AxisRest, Way, orders
from jinba.core.frames import (
    Axis,
    Response,
    ThrustLine,
    axis_of,
    opposite,
    response_of_deflection,
    station_words,
    surface_sign,
    thrust_tilt_response,
    words_for,
)
from jinba.core.observe import predictions
from jinba.core.observe.parameters import P
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import design_of
from jinba.core.spoken import spoken
from tests.builders import ZERO, model, trimmed, with_margin
from tests.flown import released

WORDS = [
    (Response.NOSE_UP, "nose up", "stick back, towards you", "elevator trailing edge up", "lever towards you"),
    (
        Response.NOSE_DOWN,
        "nose down",
        "stick forward, away from you",
        "elevator trailing edge down",
        "lever away from you",
    ),
    (
        Response.ROLL_RIGHT,
        "right wing down",
        "stick right",
        "right aileron up, left aileron down",
        "lever to the right",
    ),
    (Response.ROLL_LEFT, "left wing down", "stick left", "left aileron up, right aileron down", "lever to the left"),
    (Response.YAW_RIGHT, "nose right", "rudder stick right", "rudder trailing edge right", "lever to the right"),
    (Response.YAW_LEFT, "nose left", "rudder stick left", "rudder trailing edge left", "lever to the left"),
]


@pytest.mark.parametrize(("response", "of_model", "stick", "surface", "lever"), WORDS)
def test_every_direction_in_words(response, of_model, stick, surface, lever):
    w = words_for(response)
    assert (w.model, w.stick, w.surface, w.trim_lever) == (of_model, stick, surface, lever)
    assert opposite(opposite(response)) is response
    assert axis_of(opposite(response)) is axis_of(response)
    assert response_of_deflection(axis_of(response), surface_sign(response) * 0.1) is response


THRUST = [
    (ThrustLine.DOWN, +0.3, Response.NOSE_DOWN),
    (ThrustLine.UP, +0.3, Response.NOSE_UP),
    (ThrustLine.RIGHT, +0.3, Response.YAW_RIGHT),
    (ThrustLine.LEFT, +0.3, Response.YAW_LEFT),
    (ThrustLine.DOWN, -0.3, Response.NOSE_UP),
    (ThrustLine.UP, -0.3, Response.NOSE_DOWN),
    (ThrustLine.RIGHT, -0.3, Response.YAW_LEFT),
    (ThrustLine.LEFT, -0.3, Response.YAW_RIGHT),
]


@pytest.mark.parametrize(("tilt", "arm", "response"), THRUST)
def test_thrust_line_words_follow_the_signed_arm(tilt, arm, response):
    """Behind the balance point (pusher) every effect of a tilt is the other way round."""
    assert thrust_tilt_response(tilt, x_motor_ahead_of_cg_m=arm) is response


@pytest.mark.parametrize(("key", "ahead"), [("low_wing", True), ("twin_boom_pusher", False)])
def test_estimator_and_stand_in_agree_on_what_down_thrust_does(key, ahead):
    """Tilting the forward end down pitches a tractor's nose down with power and a pusher's up, in both models."""
    c = model(key)
    motor = c.airframe.motor
    assert isinstance(motor, Motor)
    tilted = replace(c, airframe=replace(c.airframe, motor=replace(motor, tilt_down_rad=motor.tilt_down_rad + 0.08)))
    moment = Moment(design_of(c), trimmed(c))
    change = predictions.pitch_rate_power(
        ZERO, Moment(design_of(tilted), moment.trims), "full"
    ) - predictions.pitch_rate_power(ZERO, moment, "full")
    flown = [released(x, throttle=1.0)[0] for x in (c, tilted)]
    assert (change < 0) is ahead
    assert (flown[1] - flown[0] < 0) is ahead


def test_stand_in_follows_the_surfaces():
    """Elevator trailing edge down: nose down. Right aileron up: right wing down. Rudder trailing edge left: rolls left."""
    c = model("high_wing")
    level = released(c)
    assert released(c, pitch=0.03)[0] < level[0] - 1
    assert released(c, pitch=-0.03)[0] > level[0] + 1
    assert released(c, roll=0.03)[1] > level[1] + 5
    assert released(c, rudder=0.15)[1] < level[1] - 0.5


def test_estimator_follows_the_surfaces_and_the_faults():
    c = model("high_wing")
    d, t = design_of(c), trimmed(c)

    def roll(x=ZERO, trims=t):
        return predictions.roll_rate_cruise(x, Moment(d, trims))

    def shifted(p, value):
        x = ZERO.copy()
        x[p] = value
        return x

    assert predictions.pitch_rate_cruise(ZERO, Moment(d, replace(t, elevator_rad=t.elevator_rad + 0.02))) < -1
    assert roll(trims=replace(t, aileron_rad=0.02)) > roll() + 1
    assert roll(shifted(P.LATERAL_CG, 0.005)) > roll() + 1, "right wing heavy: right wing goes down"
    assert roll(shifted(P.TWIST, 0.01)) > roll() + 1, "right tip washed out: right wing goes down"
    assert predictions.crab_cruise(shifted(P.YAW_OFFSET, 0.03), Moment(d, t)) < -0.3, (
        "fin trailing edge left: nose left"
    )
    assert predictions.roll_rate_inverted(shifted(P.LATERAL_CG, 0.005), Moment(d, t)) < predictions.roll_rate_inverted(
        ZERO, Moment(d, t)
    )
    assert predictions.roll_rate_inverted(shifted(P.TWIST, 0.01), Moment(d, t)) > predictions.roll_rate_inverted(
        ZERO, Moment(d, t)
    )


@pytest.mark.parametrize(("margin", "pushes", "dives"), [(0.12, True, "pulls out"), (-0.02, False, "steepens")])
def test_what_a_nose_heavy_and_a_tail_heavy_model_show(margin, pushes, dives):
    """Common practice, no source: nose-heavy needs push inverted and pulls out of a dive; tail-heavy needs pull and tucks."""
    c = with_margin(model("low_wing"), margin)
    motorless = replace(c, airframe=replace(c.airframe, motor=None))
    m = Moment(design_of(motorless), trimmed(motorless))
    push = predictions.inverted_push(ZERO, m)
    assert (push > 0) is pushes
    assert (predictions.dive_rate(ZERO, m) > 0) is (dives == "pulls out")


@pytest.mark.parametrize(
    ("axis", "rest", "says"),
    [
        (Axis.PITCH, +0.06, ("it goes down, for nose down", "elevator down")),
        (Axis.PITCH, -0.06, ("it goes up, for nose up", "elevator up")),
        (Axis.ROLL, +0.06, ("it goes down, for right wing down", "left aileron down")),
        (Axis.ROLL, -0.06, ("it goes up, for left wing down", "left aileron up")),
        (Axis.YAW, +0.06, ("it goes left, for nose left", "rudder left")),
        (Axis.YAW, -0.06, ("it goes right, for nose right", "rudder right")),
    ],
)
def test_clevis_instructions_say_model_and_surface(axis, rest, says):
    c = model("low_wing")
    neutral = {a: AxisRest(0.0, 0.0, 0.0) for a in Axis}
    order = orders(c.control_setup, neutral, {axis: rest}, Way.CLEVIS, inverted_v=False)[0]
    assert says[0] in order.clevis
    assert says[1] in order.find
    assert not re.search(r"[-+]\d", " ".join((*order.steps, order.find))), "no signed number reaches a pilot"


def test_stations_are_words_too():
    assert spoken(station_words(-0.229, "firewall")) == "229 mm ahead of the firewall"
    assert spoken(station_words(0.229, "firewall")) == "229 mm behind the firewall"
    assert station_words(0.0, "firewall") == "at the firewall"
