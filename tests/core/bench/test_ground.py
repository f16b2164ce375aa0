"""Wheels, rudder, one motor out, several motors as one, and what a running propeller does to the neutral point."""

import math
from dataclasses import replace

import pytest

from jinba.core.airframe.parts import Body, Gear, Motor
from jinba.core.bench.ground import one_motor_out, rudder, wheels
from jinba.core.errors import GeometryError
from jinba.core.observe.situation import design_of
from jinba.core.power.propulsion import THRUST_AT_SPEED, full_thrust_n, thrust_line_of, tilted_down, torque_arm_m
from jinba.core.stability.aero import aero_model
from tests.builders import model


def twin(**changes):
    """A twin of the low-wing shape: the motors moved out to a third of the half span, with nacelles."""
    c = model("low_wing")
    a = c.airframe
    out = Motor(-0.12, 0.02, 0.6 * a.motor.static_thrust_n, 0.2, y_m=0.25, **changes)
    return replace(c, airframe=replace(a, motor=out, nacelles=(Body(-0.14, 0.3, 0.06, 0.07, y_m=0.25, z_m=0.01),)))


def test_two_motors_pull_like_one_of_both():
    a = twin().airframe
    line = thrust_line_of(a)
    assert full_thrust_n(a) == pytest.approx(2 * THRUST_AT_SPEED * a.motor.static_thrust_n)
    assert (line.static_thrust_n, line.x_m, line.y_m) == pytest.approx((2 * a.motor.static_thrust_n, -0.12, 0.0))
    assert torque_arm_m(a) < 0
    assert torque_arm_m(twin(counter_rotating=True).airframe) == 0.0


def test_the_thrust_line_of_unlike_motors_keeps_the_sum_of_moments():
    """sum T z = T_all z_mean about any point: checked about the datum for a nose motor and a pair above the wing."""
    a = twin().airframe
    a = replace(a, further_motors=(Motor(-0.4, -0.05, 7.0, 0.22, tilt_down_rad=0.04),))
    line = thrust_line_of(a)
    by_hand = 2 * a.motor.static_thrust_n * 0.02 + 7.0 * -0.05
    assert line.static_thrust_n * line.z_m == pytest.approx(by_hand)
    assert thrust_line_of(tilted_down(a, 0.02)).tilt_down_rad == pytest.approx(line.tilt_down_rad + 0.02)


def test_nacelles_ahead_of_the_wing_move_the_neutral_point_forward():
    c = twin()
    bare = replace(c.airframe, nacelles=())
    assert aero_model(c.airframe).neutral_point.x_m < aero_model(bare).neutral_point.x_m


@pytest.mark.parametrize(("key", "way"), [("low_wing", -1), ("twin_boom_pusher", +1)])
def test_a_propeller_in_front_takes_stability_away_and_one_behind_adds_it(key, way):
    """Tractor 0.5 to 2 % MAC forward (handbook range, from memory); a pusher behind the neutral point the other way."""
    aero = aero_model(model(key).airframe)
    share = aero.neutral_point.power_shift_m / aero.planform.mac_m
    assert 0.0 < way * share < 0.02
    glider = aero_model(model("sailplane").airframe)
    assert glider.neutral_point.power_shift_m == 0.0


@pytest.mark.parametrize(
    ("main_behind_mm", "third_behind_mm", "passes", "words"),
    [
        (-45, 700, True, "holds its tail down"),
        (5, 700, False, "noses over"),
        (25, -300, True, "on the nose wheel"),
        (-5, -300, False, "sits back on its tail"),
    ],
)
def test_wheels_against_the_balance_point(main_behind_mm, third_behind_mm, passes, words):
    """Tail wheel: mains 12 to 25 degrees ahead; nose wheel: 5 to 20 behind (common practice, no source)."""
    c = model("low_wing")
    x = design_of(c).balance.x_m
    gear = Gear(x + main_behind_mm / 1000, 0.15, x + third_behind_mm / 1000, -0.14)
    check = wheels(design_of(replace(c, airframe=replace(c.airframe, gear=gear))))
    assert check.passes is passes
    assert words in check.words


def test_nose_wheel_load_is_the_lever_rule():
    """FAA-H-8083-1 (from memory): load on the nose wheel = distance of the mains behind the balance over the wheelbase."""
    c = model("low_wing")
    x = design_of(c).balance.x_m
    gear = Gear(x + 0.03, 0.15, x + 0.03 - 0.30, -0.14)
    assert "10 % of the mass" in wheels(design_of(replace(c, airframe=replace(c.airframe, gear=gear)))).words


def test_wheels_in_one_place_are_refused():
    with pytest.raises(GeometryError, match="within 20 mm"):
        Gear(0.1, 0.1, 0.11, -0.1)


def test_a_weak_rudder_is_foreseen_with_what_would_do():
    c = model("low_wing")
    weak = rudder(design_of(replace(c, rudder=replace(c.rudder, throw_rad=math.radians(4)))))
    assert not weak.passes
    assert "more throw or rudder chord would do" in weak.words
    assert rudder(design_of(c)).passes


def test_one_motor_out_says_below_which_speed_it_cannot_be_held():
    mild = one_motor_out(design_of(twin()))
    c = twin()
    wild = replace(c, airframe=replace(c.airframe, motor=replace(c.airframe.motor, y_m=0.6, static_thrust_n=60.0)))
    hard = one_motor_out(design_of(wild))
    assert mild.value < hard.value
    assert not hard.passes
    assert "throttle back at once" in hard.words
    assert one_motor_out(design_of(model("low_wing"))) is None
