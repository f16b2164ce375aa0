"""Thrust, thrust line and torque of one motor and of several, by hand and by the sum of moments."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.airframe.parts import Airframe, Motor
from jinba.core.power.propulsion import (
    THRUST_AT_SPEED,
    TORQUE_FACTOR,
    full_thrust_n,
    thrust_line_of,
    tilted_down,
    torque_arm_m,
)
from tests.builders import model


def fitted(*motors: Motor) -> Airframe:
    return replace(model().airframe, motor=motors[0] if motors else None, further_motors=tuple(motors[1:]))


def motor(**more) -> Motor:
    base = model().airframe.motor
    assert base is not None
    return replace(base, **{"static_thrust_n": 20.0, "propeller_diameter_m": 0.25, "turns_right": True, **more})


def test_the_factors_lie_where_small_propellers_do():
    """In flight 0.6 to 0.85 of the static thrust, C_Q/C_T 0.06 to 0.11: common practice, no source."""
    assert 0.6 <= THRUST_AT_SPEED <= 0.85
    assert 0.06 <= TORQUE_FACTOR <= 0.11


def test_a_propeller_that_turns_right_rolls_the_model_left():
    """Reaction: k T D over T, 0.08 x 0.25 m = 20 mm to the left; the other way for one that turns left; a glider has none."""
    assert torque_arm_m(fitted(motor())) == pytest.approx(-0.020)
    assert torque_arm_m(fitted(motor(turns_right=False))) == pytest.approx(+0.020)
    assert torque_arm_m(fitted()) == 0.0


def test_the_torques_of_two_motors_add_by_their_thrust():
    """20 N x 0.25 m turning right and 10 N x 0.3 m turning left: 0.08 (-5 + 3)/30 = -5.3 mm; a counter-rotating pair has none."""
    two = fitted(motor(), motor(static_thrust_n=10.0, propeller_diameter_m=0.3, turns_right=False))
    assert torque_arm_m(two) == pytest.approx(0.08 * (-5.0 + 3.0) / 30.0)
    assert torque_arm_m(fitted(motor(y_m=0.2, counter_rotating=True))) == 0.0
    same = torque_arm_m(fitted(motor(y_m=0.2, counter_rotating=False)))
    assert same == pytest.approx(-0.020), "a pair that turns alike rolls like one"


@given(
    st.lists(
        st.tuples(st.floats(2, 60), st.floats(-0.3, 0.3), st.floats(-0.5, 0.5), st.floats(-0.1, 0.1)),
        min_size=2,
        max_size=3,
    )
)
def test_one_motor_stands_for_several_with_the_same_thrust_and_moments(rows):
    motors = [motor(static_thrust_n=t, z_m=z, x_m=x, tilt_down_rad=down) for t, z, x, down in rows]
    one = thrust_line_of(fitted(*motors))
    assert one is not None
    total = sum(t for t, *_ in rows)
    assert one.total_thrust_n == pytest.approx(total)
    assert one.total_thrust_n * one.z_m == pytest.approx(sum(t * z for t, z, _, _ in rows))
    assert one.total_thrust_n * one.x_m == pytest.approx(sum(t * x for t, _, x, _ in rows))
    assert one.total_thrust_n * one.tilt_down_rad == pytest.approx(sum(t * d for t, _, _, d in rows))


def test_a_single_motor_is_itself_and_a_pair_pulls_on_the_centre_line():
    single = motor(y_m=0.0)
    assert thrust_line_of(fitted(single)) is single
    pair = thrust_line_of(fitted(motor(y_m=0.2)))
    assert pair is not None
    assert (pair.y_m, pair.total_thrust_n) == (0.0, 40.0)
    assert pair.propeller_diameter_m == pytest.approx(0.25 * math.sqrt(2.0)), "one disk of the same area"
    assert full_thrust_n(fitted(motor(y_m=0.2))) == pytest.approx(THRUST_AT_SPEED * 40.0)


@pytest.mark.parametrize(("by", "then"), [(0.05, 0.07), (-0.05, -0.03), (0.9, 0.3), (-0.9, -0.3)])
def test_a_thrust_axis_is_tilted_by_so_much_and_never_beyond_the_stops(by, then):
    turned = tilted_down(fitted(motor(tilt_down_rad=0.02), motor(tilt_down_rad=0.02)), by)
    assert turned.motor is not None
    assert [m.tilt_down_rad for m in (turned.motor, *turned.further_motors)] == pytest.approx([then, then])
    assert tilted_down(fitted(), by).motor is None
