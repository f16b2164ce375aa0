"""The closed forms of the estimator against a flight that shares nothing with them: same side, same size within its spread."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from jinba.core.airframe.planform import planform_of
from jinba.core.constants import AIR_VISCOSITY_PA_S
from jinba.core.flight.simulation.craft import craft_of
from jinba.core.flight.simulation.gusts import STILL
from jinba.core.flight.simulation.hands import ROLLING, SLIP, Hand, begin, run
from jinba.core.flight.simulation.spread import Wrong
from jinba.core.flight.simulation.steady import steady
from jinba.core.frames import Axis
from jinba.core.observe import predictions
from jinba.core.observe.parameters import P
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import Trims, design_of, pitch_lag_s, roll_lag_s, situation, trim_elevator_rad
from jinba.core.stability.aero import aero_model
from jinba.core.stability.sections import reynolds_factor
from tests.builders import ZERO, model

FAULTS = {
    P.LATERAL_CG: lambda v, span: Wrong(cg_right_m=v * span),
    P.TWIST: lambda v, _: Wrong(twist_rad=v),
    P.YAW_OFFSET: lambda v, _: Wrong(fin_left_rad=v),
    P.THRUST_RIGHT: lambda v, _: Wrong(thrust_right_rad=v),
}


def flown(key: str, fault: P, value: float, *, slow: bool = False, power: bool = False, on_its_back: bool = False):
    """Roll rate [deg/s] and crab [deg, nose right] that a fault adds, hands off in roll, where the reference flies straight."""
    c = model(key)
    d = design_of(c)
    speed = 1.25 * d.stall_speed_mps if slow else d.cruise_speed_mps
    good = craft_of(c)
    at = steady(good, speed_mps=speed, inverted=on_its_back)
    found = []
    for wrong in (FAULTS[fault](value, planform_of(c.airframe.wing).span_m), Wrong()):
        flight = begin(at.state, at.circulation, at.surfaces, at.throttle)
        keep = {"pitch": at.surfaces[0], "throttle": 1.0 if power else at.throttle}
        free = Hand(**{k: float(v) for k, v in (keep | {"roll": at.surfaces[1]}).items()})
        rolls = run(craft_of(c, None, wrong), flight, free, STILL, 0.8)[15:, ROLLING].mean()
        flight = begin(at.state, at.circulation, at.surfaces, at.throttle)
        level = Hand(**{k: float(v) for k, v in (keep | {"hold_bank": 1.5}).items()})
        crab = -run(craft_of(c, None, wrong), flight, level, STILL, 2.0)[75:, SLIP].mean()
        found.append((math.degrees(rolls), math.degrees(crab)))
    return found[0][0] - found[1][0], found[0][1] - found[1][1]


def said(key: str, fault: P, value: float, predict) -> float:
    """What the estimator says that the fault adds to a measure."""
    c = model(key)
    moment = Moment(
        design_of(c),
        Trims(trim_elevator_rad(situation(design_of(c), ZERO, speed_mps=design_of(c).cruise_speed_mps)), 0.0, 0.0),
    )
    x = ZERO.copy()
    x[fault] = value
    return float(predict(x, moment) - predict(ZERO, moment))


@pytest.mark.parametrize("key", ["low_wing", "high_wing", "flying_wing"])
@pytest.mark.parametrize(
    ("fault", "value", "predict", "how"),
    [
        (P.LATERAL_CG, 0.006, predictions.roll_rate_cruise, {}),
        (P.LATERAL_CG, 0.006, predictions.roll_rate_slow, {"slow": True}),
        (P.TWIST, 0.01, predictions.roll_rate_cruise, {}),
        (P.TWIST, 0.01, predictions.roll_rate_slow, {"slow": True}),
        (P.LATERAL_CG, 0.006, predictions.roll_rate_inverted, {"on_its_back": True}),
        (P.TWIST, 0.01, predictions.roll_rate_inverted, {"on_its_back": True}),
    ],
)
def test_roll_left_over_is_as_the_flight_has_it(key, fault, value, predict, how):
    rolled, _ = flown(key, fault, value, **how)
    expected = said(key, fault, value, predict)
    assert expected != 0
    assert 0.55 < rolled / expected < 1.8


@pytest.mark.parametrize(
    ("fault", "value", "predict", "how"),
    [
        (P.YAW_OFFSET, 0.03, predictions.crab_cruise, {}),
        (P.THRUST_RIGHT, 0.05, predictions.crab_full_power, {"power": True}),
    ],
)
def test_crab_is_to_the_side_and_of_the_size_the_flight_has(fault, value, predict, how):
    _, crab = flown("low_wing", fault, value, **how)
    expected = said("low_wing", fault, value, predict)
    assert 0.3 < crab / expected < 3.0


@pytest.mark.parametrize(("key", "margin_sign"), [("low_wing", 1), ("canard", 1), ("flying_wing", 1)])
def test_sticks_held_slow_and_inverted_are_as_the_flight_has_them(key, margin_sign):
    c = model(key)
    d = design_of(c)
    craft = craft_of(c)
    level, slow = (steady(craft, speed_mps=v).surfaces[0] for v in (d.cruise_speed_mps, 1.25 * d.stall_speed_mps))
    back = steady(craft, speed_mps=d.cruise_speed_mps, inverted=True).surfaces[0]
    moment = Moment(d, Trims(trim_elevator_rad(situation(d, ZERO, speed_mps=d.cruise_speed_mps)), 0.0, 0.0))
    throw = c.throw_rad(Axis.PITCH)
    assert (back - level) / throw == pytest.approx(
        margin_sign * predictions.inverted_push(ZERO, moment), rel=0.6, abs=0.05
    )
    # What slow flight takes is back stick, and that is nose up: the surface's negative way.
    assert (level - slow) / throw == pytest.approx(predictions.slow_stick(ZERO, moment), rel=0.7, abs=0.05)


@pytest.mark.parametrize("measure", [predictions.slow_stick, predictions.inverted_push])
def test_an_elevator_of_twice_the_power_takes_half_the_stick(measure):
    """The stick a change of lift takes is inverse to the control power, whatever the model."""
    c = replace(model(), airframe=replace(model().airframe, motor=None))
    d = design_of(c)
    strong = ZERO.copy()
    strong[P.LN_ELEVATOR] = math.log(2.0)
    sticks = []
    for x in (ZERO, strong):
        rest = trim_elevator_rad(situation(d, x, speed_mps=d.cruise_speed_mps))
        sticks.append(measure(x, Moment(d, Trims(rest, 0.0, 0.0))))
    assert sticks[1] == pytest.approx(0.5 * sticks[0], rel=1e-6)


@pytest.mark.parametrize("key", ["low_wing", "sailplane", "delta"])
def test_the_stall_is_computed_at_its_own_reynolds_number(key):
    """C_L,max at Re = rho V c/mu of the very speed it gives: the fixed point, checked from outside."""
    c = model(key, span_m=0.9)
    d = design_of(c)
    reynolds = c.density_kg_m3 * d.stall_speed_mps * d.aero.planform.mac_m / AIR_VISCOSITY_PA_S
    expected = aero_model(c.airframe).cl_max * reynolds_factor(c.airframe.wing, reynolds)
    assert d.aero.cl_max == pytest.approx(expected, rel=0.01)
    lift = 0.5 * c.density_kg_m3 * d.stall_speed_mps**2 * d.aero.planform.area_m2 * d.aero.cl_max
    assert lift == pytest.approx(d.balance.mass.mass_kg * 9.80665, rel=0.01)


@pytest.mark.parametrize("key", ["low_wing", "high_wing", "flying_wing"])
def test_roll_builds_up_as_fast_as_in_the_flight(key):
    """The time to 63 % of a steady roll after an aileron step, within a factor of two (inertias are drawn apart)."""
    c = model(key)
    d = design_of(c)
    craft = craft_of(c)
    at = steady(craft, speed_mps=d.cruise_speed_mps)
    flight = begin(at.state, at.circulation, at.surfaces, at.throttle)
    track = run(
        craft._replace(delay=0.0, rate=100.0),
        flight,
        Hand(float(at.surfaces[0]), roll=0.1, throttle=at.throttle),
        STILL,
        1.2,
    )
    settled = track[-10:, ROLLING].mean()
    reached = track[np.flatnonzero(track[:, ROLLING] > 0.63 * settled)[0], 0]
    lag = roll_lag_s(situation(d, ZERO, speed_mps=d.cruise_speed_mps))
    assert 0.4 < (reached + 0.01) / lag < 2.5
    assert 0.05 <= pitch_lag_s(situation(d, ZERO, speed_mps=d.cruise_speed_mps)) <= 0.6


@pytest.mark.parametrize(("turns_right", "down"), [(True, "left"), (False, "right")])
def test_torque_rolls_against_the_propeller(turns_right, down):
    """Newton's third law: more torque, more roll the other way; in the estimator and in the flight."""
    c = model("low_wing")
    motor = replace(c.airframe.motor, turns_right=turns_right, tilt_right_rad=0.0)
    c = replace(c, airframe=replace(c.airframe, motor=motor))
    moment = Moment(design_of(c), Trims(0.0, 0.0, 0.0))
    more = ZERO.copy()
    more[P.LN_TORQUE] = 0.5
    added = predictions.roll_rate_full_power(more, moment) - predictions.roll_rate_full_power(ZERO, moment)
    assert (added < 0) is (down == "left")
    at = steady(craft_of(c), speed_mps=design_of(c).cruise_speed_mps)
    rolls = []
    for torque in (1.0, 1.6):
        craft = craft_of(c)
        craft = craft._replace(prop_torque=craft.prop_torque * torque)
        flight = begin(at.state, at.circulation, at.surfaces, at.throttle)
        hand = Hand(float(at.surfaces[0]), roll=float(at.surfaces[1]), throttle=1.0)
        rolls.append(run(craft, flight, hand, STILL, 0.6)[:, ROLLING].mean())
    assert bool(rolls[1] < rolls[0]) is (down == "left")
