"""Expo, rates, pulses, mixes and where the travel runs out."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.controls.deflections import (
    command_for_throw,
    deflected,
    mean_throw_rad,
    stick_commands,
    surface_deflection,
)
from jinba.core.controls.fitting import Command, ControlRole, Fitting
from jinba.core.controls.hinge_moment import hinge_moment_nm
from jinba.core.controls.linkage import Linkage, motion
from jinba.core.controls.mixing import Mix, Weights, mixed_commands, motor_outputs, saturation_map, servo_output
from jinba.core.controls.pulses import pulse_of_count, pulse_of_share, share_of_pulse
from jinba.core.controls.setup import ControlSetup, starting_setup
from jinba.core.controls.throws import AxisRates, RateStep, expo, stick_for
from jinba.core.errors import JinbaError, OutOfRangeError
from jinba.core.frames import Axis
from tests.builders import model
from tests.reference.linkages import EXPO

LEFT = Fitting(ControlRole.LEFT_ELEVON, 1, 0.05, 0.4)
RIGHT = Fitting(ControlRole.RIGHT_ELEVON, 2, 0.05, 0.4)
SHARES = st.floats(-1.0, 1.0)


def setup_of(key: str) -> ControlSetup:
    c = model(key)
    return starting_setup(c.airframe, elevator=c.elevator, aileron=c.aileron, rudder=c.rudder)


@pytest.mark.parametrize(("k", "x", "y"), EXPO)
def test_expo_is_the_common_cubic(k, x, y):
    assert expo(x, k) == pytest.approx(y, abs=1e-12)


@given(k=st.floats(-1, 1), x=SHARES)
def test_expo_keeps_its_ends_is_odd_and_has_its_slope_at_the_centre(k, x):
    assert expo(1.0, k) == pytest.approx(1.0)
    assert expo(0.0, k) == 0.0
    assert expo(-x, k) == pytest.approx(-expo(x, k))
    assert expo(1e-6, k) / 1e-6 == pytest.approx(1 - k, abs=1e-9)


@given(k=st.floats(-0.45, 1), x=st.floats(0.0, 1.0))
def test_the_stick_for_a_command_is_the_way_back_through_expo(k, x):
    assert expo(stick_for(float(expo(x, k)), k), k) == pytest.approx(float(expo(x, k)), abs=1e-6)


@pytest.mark.parametrize(("pulse", "share"), [(1500, 0), (1000, -1), (2000, 1), (1250, -0.5)])
def test_pulses_are_shares_of_five_hundred_microseconds(pulse, share):
    """1000-1500-2000 microseconds: common practice, no source."""
    assert share_of_pulse(pulse) == share
    assert pulse_of_share(share) == pulse


def test_receiver_counts_and_pulses_that_are_no_command():
    assert [pulse_of_count(n) for n in (172, 992, 1811)] == [987.5, 1500.0, 2011.875]
    assert share_of_pulse(800) == -1.4
    for bad in (799.0, 2201.0, 2500.0, float("nan")):
        with pytest.raises(OutOfRangeError, match="pulse"):
            share_of_pulse(bad)


@pytest.mark.parametrize("bad", [2.0, 1.01, 0.0, -0.5, float("nan")])
def test_a_rate_of_two_hundred_per_cent_is_refused(bad):
    with pytest.raises(OutOfRangeError, match="rate"):
        RateStep("high", bad, 1.0)


def test_rates_have_one_to_three_steps_with_names_of_their_own():
    step = RateStep("high", 1.0, 1.0)
    with pytest.raises(JinbaError, match="same name"):
        AxisRates(Axis.PITCH, (step, step))
    with pytest.raises(JinbaError, match="one, two or three"):
        AxisRates(Axis.PITCH, ())


@given(pitch=SHARES, roll=SHARES, wp=st.floats(0.05, 1.5), wr=st.floats(0.05, 1.5), d=st.floats(-1, 1))
def test_mixing_never_exceeds_the_travel_and_never_cuts_silently(pitch, roll, wp, wr, d):
    commands = {Command.PITCH: np.array([pitch]), Command.ROLL: np.array([roll])}
    for f in (LEFT, RIGHT):
        out = servo_output(f, commands, weights=Weights(pitch=wp, roll=wr), differential=d)
        assert abs(float(out.pulse[0])) <= 1.0
        assert bool(out.clipped[0]) == (abs(float(out.wanted[0])) > 1.0 + 1e-9)
        assert out.clipped[0] or out.given == pytest.approx(out.wanted)


@pytest.mark.parametrize("w", [0.5, 0.6, 0.8, 1.0])
def test_the_cut_share_is_the_area_of_the_corners(w):
    """Two commands of weight w: the corners with |x| + |y| > 1/w, half of (2 - 1/w)^2 of the box. Plane geometry."""
    found = saturation_map(LEFT, RIGHT, weights=Weights(pitch=w, roll=w), steps=81)
    assert found.cut_share == pytest.approx(0.5 * (2 - 1 / w) ** 2, abs=0.013)
    # At full elevator a surface runs from w + w down to w - w: of the wanted 2w each way 1 - w is left.
    assert found.across_left_at_full_up == pytest.approx(min(1.0, (1 - w + w) / (2 * w)), abs=1e-9)


def test_at_large_flap_more_than_half_of_the_aileron_of_a_flaperon_is_gone():
    """Common practice, no source: ailerons lose more than half of their range at large flap."""
    left = Fitting(ControlRole.LEFT_FLAPERON, 1, 0.05, 0.4)
    right = Fitting(ControlRole.RIGHT_FLAPERON, 5, 0.05, 0.4)
    maps = [
        saturation_map(
            left, right, weights=Weights(roll=1.0, flap=0.9), held={Command.FLAP: np.array(flap)} if flap else None
        )
        for flap in (0.0, 0.6, 1.0)
    ]
    left_over = [m.across_left_at_full_up for m in maps]
    assert left_over[0] == 1.0
    assert left_over[0] > left_over[1] > left_over[2]
    # Flap 0.9: the surface that goes down has 0.1 left of 1, the other goes up all the way: (1 + 0.1)/2.
    assert left_over[2] == pytest.approx(0.55)


@given(throttle=st.floats(0, 1), yaw=SHARES, share=st.floats(0, 1))
def test_a_rudder_never_starts_a_propeller(throttle, yaw, share):
    left, right = motor_outputs(np.array([throttle]), np.array([yaw]), share=share)
    for out in (left, right):
        assert 0.0 <= out[0] <= 1.0
    assert throttle > 0.0 or left[0] == right[0] == 0.0
    assert yaw <= 0 or right[0] >= left[0], "nose left: the right motor pulls harder"


def test_mixes_read_the_sticks_and_never_each_other():
    mixes = (
        Mix(Command.YAW, Command.ROLL, 0.2),
        Mix(Command.ROLL, Command.YAW, 0.3),
        Mix(Command.FLAP, Command.PITCH, 0.1),
    )
    out = mixed_commands({Command.YAW: np.array([1.0]), Command.ROLL: np.array([0.5])}, mixes)
    assert out[Command.ROLL][0] == pytest.approx(0.5 + 0.2)
    assert out[Command.YAW][0] == pytest.approx(1.0 + 0.3 * 0.5)
    assert Command.PITCH not in out
    with pytest.raises(JinbaError, match="itself"):
        Mix(Command.ROLL, Command.ROLL, 0.1)


def test_a_mix_may_differ_between_the_two_sides_of_its_source():
    mix = Mix(Command.YAW, Command.PITCH, 0.1, share_other=0.3)
    assert mix.gives(np.array([1.0, -1.0])) == pytest.approx([0.1, -0.3])


def test_differential_takes_from_the_aileron_that_goes_down():
    c = {Command.ROLL: np.array([1.0])}
    left = Fitting(ControlRole.LEFT_AILERON, 1, 0.05, 0.4)
    right = Fitting(ControlRole.RIGHT_AILERON, 5, 0.05, 0.4)
    down = servo_output(left, c, weights=Weights(), differential=0.4).given[0]
    up = servo_output(right, c, weights=Weights(), differential=0.4).given[0]
    assert (down, up) == pytest.approx((0.6, -1.0))
    raised = servo_output(right, {Command.FLAP: np.array([1.0])}, weights=Weights(), crow=0.5)
    assert raised.given[0] == pytest.approx(-0.5), "crow lifts the aileron"


@pytest.mark.parametrize("key", ["low_wing", "v_tail", "flying_wing", "canard", "sailplane"])
def test_full_stick_gives_the_measured_throw_of_the_set_up_a_model_starts_with(key):
    c, setup = model(key), setup_of(key)
    assert mean_throw_rad(setup, Axis.PITCH, -1.0) == pytest.approx(c.elevator.throw_rad, rel=0.06)
    assert mean_throw_rad(setup, Axis.ROLL, 1.0) == pytest.approx(c.aileron.throw_rad, rel=0.06)


@given(share=st.floats(0.1, 0.95))
def test_a_throw_leads_back_to_its_rate(share):
    setup = setup_of("low_wing")
    throw = mean_throw_rad(setup, Axis.PITCH, -share)
    assert command_for_throw(setup, Axis.PITCH, throw, sign=-1.0) == pytest.approx(share, abs=2e-3)
    assert command_for_throw(setup, Axis.PITCH, math.radians(80), sign=-1.0) is None


def test_sticks_reach_the_surfaces_through_the_rate_of_the_phase():
    setup = setup_of("low_wing")
    high, low = setup.phases[0], replace(setup.phases[0], name="low", pitch_rate=1)
    back = {Axis.PITCH: np.array([1.0])}
    ends = [
        next(d for d in deflected(setup, stick_commands(setup, p, back)) if d.fitting.role is ControlRole.ELEVATOR)
        for p in (high, low)
    ]
    assert ends[0].deflection_rad[0] < ends[1].deflection_rad[0] < 0, (
        "stick back: elevator up, less of it on the low rate"
    )
    assert ends[1].deflection_rad[0] / ends[0].deflection_rad[0] == pytest.approx(0.6, abs=0.03)


def test_a_set_up_refuses_what_no_model_can_have():
    setup = setup_of("low_wing")
    with pytest.raises(JinbaError, match="fitted twice"):
        replace(setup, fittings=(setup.fittings[0], setup.fittings[0]))
    with pytest.raises(JinbaError, match="Rates are needed"):
        replace(setup, rates=setup.rates[:2])
    with pytest.raises(JinbaError, match="same name"):
        replace(setup, phases=(setup.phases[0], setup.phases[0]))
    with pytest.raises(OutOfRangeError, match="end point"):
        replace(setup.fittings[0], end_point_up=2.0)


def test_a_rate_that_is_not_there_is_the_last_one():
    """A flight phase may name a third rate where an axis has two."""
    rates = AxisRates(Axis.PITCH, (RateStep("high", 1.0, 1.0), RateStep("low", 0.6, 0.6)))
    assert [rates.step(i).name for i in range(4)] == ["high", "low", "low", "low"]


@pytest.mark.parametrize("trim", [0.15, -0.15])
def test_trim_moves_the_surface_under_every_stick(trim):
    """wanted = weight x sense x command + trim: the whole curve is shifted by the trim, until the travel ends."""
    aileron = setup_of("low_wing").fittings[0]
    roll = np.linspace(-0.6, 0.6, 5)
    base, shifted = (
        servo_output(aileron, {Command.ROLL: roll}, weights=Weights(), trim_share=t).wanted for t in (0.0, trim)
    )
    assert shifted - base == pytest.approx(trim)


@pytest.mark.parametrize("share", [0.4, -0.4])
def test_negative_differential_takes_from_the_aileron_that_goes_up(share):
    setup = setup_of("low_wing")
    for fitting in setup.fittings[:2]:
        wanted = servo_output(
            fitting, {Command.ROLL: np.array([-1.0, 1.0])}, weights=Weights(), differential=share
        ).wanted
        down, up = wanted.max(), -wanted.min()
        assert (down, up) == pytest.approx((1.0 - max(share, 0.0), 1.0 + min(share, 0.0)))


@pytest.mark.parametrize("key", ["low_wing", "high_wing", "v_tail", "flying_wing"])
def test_a_set_up_starts_with_the_smallest_usual_servo_that_holds_two_and_a_half_times_the_load(key):
    """Rod force is the same at arm and horn: torque over arm x horn against the hinge moment in a dive of 28 m/s."""
    sizes = (0.0, 0.05, 0.12, 0.2, 0.4, 0.8, 1.6, 3.0)
    c = model(key)
    surface_of = {Axis.PITCH: c.elevator, Axis.ROLL: c.aileron, Axis.YAW: c.rudder}
    for fitting in setup_of(key).fittings:
        control = next(v for v in surface_of.values() if v.chord_m == fitting.chord_m)
        load = hinge_moment_nm(
            dynamic_pressure_pa=0.5 * 1.2 * 28.0**2,
            span_m=fitting.span_m,
            chord_m=fitting.chord_m,
            flap_ratio=0.25,
            deflection_rad=control.throw_rad,
        )
        lever = fitting.linkage.horn_m / fitting.linkage.arm_m
        size = fitting.servo.torque_nm
        smaller = sizes[sizes.index(size) - 1]
        assert smaller * lever < 2.5 * load <= size * lever * 1.001, fitting.role


@pytest.mark.parametrize("key", ["low_wing", "canard", "flying_wing"])
def test_a_click_of_a_set_up_moves_the_surface_by_the_measured_click(key):
    """Through servo and linkage, by the four-bar itself: to the half microsecond a radio can be set to."""
    c, setup = model(key), setup_of(key)
    fitting = next(f for f in setup.moving(Command.PITCH))
    servo = fitting.servo.rad_per_us * setup.radio.click_us * setup.weights.of(fitting.role, Command.PITCH)
    surface = abs(float(np.diff(motion(fitting.linkage, np.array([0.0, servo])).deflection_rad)[0]))
    assert surface == pytest.approx(c.elevator.rad_per_click, abs=0.3 * fitting.servo.rad_per_us)


def test_nose_left_speeds_the_right_motor_up_and_slows_the_left_one():
    left, right = motor_outputs(np.array([0.5]), np.array([0.4]), share=0.5)
    assert (left[0], right[0]) == pytest.approx((0.4, 0.6))
    left, right = motor_outputs(np.array([0.5]), np.array([-0.4]), share=0.5)
    assert (left[0], right[0]) == pytest.approx((0.6, 0.4))


def test_a_rate_may_give_less_one_way_than_the_other():
    """First for up and right, second for down and left: each side of the stick has its own end."""
    step = RateStep("low", 0.8, 0.4)
    assert [float(step.command(x)) for x in (1.0, 0.5, 0.0, -0.5, -1.0)] == pytest.approx([0.8, 0.4, 0.0, -0.2, -0.4])


def test_where_the_rod_binds_the_surface_stays_as_far_as_it_came_each_way():
    """A short rod on a long arm: full command asks for more than it can reach, one way or both."""
    bound = replace(LEFT, linkage=Linkage(arm_m=0.020, horn_m=0.009, distance_m=0.060, arm_up=True, horn_up=True))
    reached = surface_deflection(bound, np.linspace(-1.4, 1.4, 57))
    assert np.isfinite(reached).all()
    assert reached[0] < -0.1
    assert reached[-1] > 0.1
    free = ~np.isnan(motion(bound.linkage, np.linspace(-1.4, 1.4, 57) * bound.servo.rad_per_us * 500.0).deflection_rad)
    assert not free.all(), "this one does bind"
    assert np.abs(np.diff(reached)).max() < 0.35, "no jump where it binds"
