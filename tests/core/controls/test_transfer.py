"""One clevis, one truth: orders per surface against a four-bar closed by a root finder that shares nothing with ours."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from jinba.core.airframe.layout import pitch_control_of
from jinba.core.bench.controls import controls_answer
from jinba.core.bench.trim_transfer import held_now, reset, transfer
from jinba.core.configuration import Configuration
from jinba.core.controls.fitting import ControlRole, Fitting
from jinba.core.controls.linkage import Drive, Linkage
from jinba.core.controls.pulses import NEUTRAL_US
from jinba.core.controls.setup import ControlSetup
from jinba.core.controls.stabiliser import Stabiliser
from jinba.core.controls.transfer import AxisRest, Way, orders, set_at, sharing, turns_words
from jinba.core.controls.trim import back_to_axes
from jinba.core.frames import Axis, PitchControl
from tests.builders import model

LAYOUTS = ("low_wing", "canard", "flying_wing", "v_tail", "delta", "biplane")
UNEQUAL = (
    Linkage(arm_m=0.010, horn_m=0.012, distance_m=0.09, thread_pitch_m=0.0004),
    Linkage(
        arm_m=0.014, horn_m=0.020, distance_m=0.07, rise_m=0.01, thread_pitch_m=0.0005, arm_up=False, horn_up=False
    ),
    Linkage(arm_m=0.012, horn_m=0.015, distance_m=0.12, horn_lean_rad=0.1, thread_pitch_m=0.0004, both_ends=True),
)


def described(key: str) -> Configuration:
    """Return a model whose surfaces all have linkages of their own, two of one axis never the same."""
    c = model(key)
    setup = c.control_setup
    fittings = tuple(replace(f, linkage=UNEQUAL[i % len(UNEQUAL)]) for i, f in enumerate(setup.fittings))
    return replace(c, controls=replace(setup, fittings=fittings))


def inverted(c: Configuration) -> bool:
    return pitch_control_of(c.airframe) is PitchControl.INVERTED_V_TAIL


def closed(k: Linkage, *, servo_rad: float, longer_m: float) -> float:
    """Return the deflection at which a rod that much longer closes [rad], trailing edge down positive, by bisection.

    Pins set out afresh: the arm's at a (sin, side cos) from the servo, the horn's at h (sin, side cos) from the hinge.
    """
    sides = (1.0 if k.arm_up else -1.0), (1.0 if k.horn_up else -1.0)

    def apart(servo: float, deflection: float) -> float:
        arm = k.arm_lean_rad + servo
        horn = k.horn_lean_rad + sides[1] * deflection
        ax, ay = k.arm_m * math.sin(arm), sides[0] * k.arm_m * math.cos(arm)
        bx = k.distance_m + k.horn_m * math.sin(horn)
        by = k.rise_m + sides[1] * k.horn_m * math.cos(horn)
        return math.hypot(bx - ax, by - ay)

    rod = apart(0.0, 0.0) + longer_m
    return float(brentq(lambda d: apart(servo_rad, d) - rod, -0.9, 0.9, xtol=1e-13))


RESTS = st.fixed_dictionaries({a: st.floats(-0.05, 0.05) for a in Axis})


@settings(max_examples=60)
@given(key=st.sampled_from(LAYOUTS), mechanical=RESTS, sub=RESTS, trim=RESTS, wanted=RESTS)
def test_every_surface_stands_where_it_must_by_the_linkage_itself(key, mechanical, sub, trim, wanted):
    """Clevis turned from where it stood, then the servo moved by the sub-trim: within a tenth of a millimetre of the order."""
    c = described(key)
    setup = c.control_setup
    rests = {a: AxisRest(mechanical[a], sub[a], trim[a]) for a in Axis}
    for order in orders(setup, rests, wanted, Way.CLEVIS, inverted_v=inverted(c)):
        f = next(f for f in setup.fittings if f.role.value == order.role)
        k = f.linkage
        clevis = order.rest_rad - order.held_rad - order.turned_rad
        start = brentq(lambda m, k=k, to=clevis: closed(k, servo_rad=0.0, longer_m=m) - to, -0.004, 0.004, xtol=1e-14)
        longer = start + 0.5 * order.half_turns * k.metres_per_turn
        turned = closed(k, servo_rad=0.0, longer_m=longer)
        assert turned - clevis == pytest.approx(order.turned_rad, abs=1e-9)
        stands = closed(k, servo_rad=order.held_us * f.servo.rad_per_us, longer_m=longer)
        assert 1000 * f.chord_m * abs(stands - order.rest_rad) < 0.1
        half = abs(closed(k, servo_rad=0.0, longer_m=longer + 0.5 * k.metres_per_turn) - turned)
        assert abs(order.held_rad) <= 0.52 * half, "no other half turn would come closer"
        goes = "longer" if order.half_turns > 0 else "shorter"
        assert order.half_turns == 0 or goes in order.clevis
        down, up = ("left", "right") if f.role is ControlRole.RUDDER else ("down", "up")
        assert order.half_turns == 0 or f"it goes {down if order.turned_rad > 0 else up}, for" in order.clevis
        assert f"{f.name} {down if order.rest_rad > 0 else up}" in order.find or f"{f.name} fair" in order.find


@settings(max_examples=40)
@given(key=st.sampled_from(LAYOUTS), sub=RESTS, wanted=RESTS)
def test_what_is_led_back_to_the_axes_rests_as_wanted_with_the_trims_centred(key, sub, wanted):
    c = described(key)
    setup = c.control_setup
    rests = {a: AxisRest(0.01, sub[a], 0.0) for a in Axis}
    served = {a: wanted[a] for group in sharing(setup) for a in group}
    found = orders(setup, rests, served, Way.CLEVIS, inverted_v=inverted(c))
    after = set_at(rests, served, found, setup, Way.CLEVIS, inverted_v=inverted(c))
    for axis, rest in after.items():
        assert rest.mechanical_rad + rest.sub_trim_rad == pytest.approx(wanted[axis], abs=1e-12)
        assert rest.trim_rad == 0.0


def test_a_second_order_counts_the_sub_trim_of_the_first():
    """1.5 degrees up leaves 0.41 the other way in sub-trim; half a degree more up takes it back: no turn, nearly no sub-trim."""
    c = model("low_wing")
    first, _ = reset(
        c,
        {a: held_now(c.control(a)) for a in Axis},
        {Axis.PITCH: c.elevator.mechanical_rad - math.radians(1.5)},
        Way.CLEVIS,
        axes=(Axis.PITCH,),
    )
    assert math.degrees(first.elevator.sub_trim_rad) == pytest.approx(0.41, abs=0.02)
    wanted = {Axis.PITCH: first.elevator.resting_rad - math.radians(0.41)}
    again, (order,) = reset(
        first, {a: held_now(first.control(a)) for a in Axis}, wanted, Way.CLEVIS, axes=(Axis.PITCH,)
    )
    assert order.half_turns == 0
    assert order.held.startswith("Sub-trim of the elevator to zero: the")
    assert "down that stood there is taken back" in order.held
    assert again.elevator.sub_trim_rad == pytest.approx(0.0, abs=math.radians(0.02))


def test_rework_and_desk_turn_the_same_clevis_by_the_same_half_turns():
    """A horn of 20 mm with an M3 thread: the rework once counted with the 12 mm and M2 the silhouette had started from."""
    c = model("low_wing")
    wide = Linkage(arm_m=0.012, horn_m=0.020, distance_m=0.10, thread_pitch_m=0.0005)
    fittings = tuple(
        replace(f, linkage=wide) if f.role is ControlRole.ELEVATOR else f for f in c.control_setup.fittings
    )
    flown = replace(
        c,
        controls=replace(c.control_setup, fittings=fittings),
        elevator=replace(c.elevator, clicks=-11, mechanical_rad=0.0),
    )
    desk = next(o for o in controls_answer(flown).surfaces if o.role == "elevator")
    rework, (order,) = reset(
        flown,
        {a: held_now(flown.control(a)) for a in Axis},
        {Axis.PITCH: flown.elevator.resting_rad},
        Way.CLEVIS,
        axes=(Axis.PITCH,),
    )
    assert order == desk
    # 2.75 degrees over atan(0.5/20) = 1.43 degrees a turn: four half turns in.
    assert order.half_turns == -4
    assert rework.elevator.resting_rad == pytest.approx(flown.elevator.resting_rad)


def test_axes_go_in_groups_that_share_a_surface():
    def groups(key: str) -> set[frozenset[Axis]]:
        return set(sharing(model(key).control_setup))

    one = frozenset
    assert groups("low_wing") == {one({Axis.PITCH}), one({Axis.ROLL}), one({Axis.YAW})}
    assert groups("flying_wing") == {one({Axis.PITCH, Axis.ROLL})}
    assert groups("v_tail") == {one({Axis.PITCH, Axis.YAW}), one({Axis.ROLL})}


def test_a_controllers_learned_midpoint_is_part_of_where_a_surface_stands():
    """Turned at the clevis, the learned shift is learned anew from there; the radio holds nothing before and after."""
    c = model("flying_wing")
    fitted = replace(
        c, controls=replace(c.control_setup, stabiliser=Stabiliser()), elevator=replace(c.elevator, clicks=-6)
    )
    learned = transfer(fitted, Way.MIDPOINT).configuration
    again, found = reset(
        learned,
        {a: held_now(learned.control(a)) for a in Axis},
        {a: learned.control(a).resting_rad for a in (Axis.PITCH, Axis.ROLL)},
        Way.CLEVIS,
        axes=(Axis.PITCH,),
    )
    assert all(o.half_turns < 0 and "1500" not in o.held and "in the controller" in o.held for o in found)
    assert again.controls is not None
    assert learned.controls is not None
    for before, after in zip(learned.controls.fittings, again.controls.fittings, strict=True):
        assert before.learned_us is not None
        assert after.learned_us is not None
        assert abs(after.learned_us - NEUTRAL_US) < abs(before.learned_us - NEUTRAL_US)
    assert again.elevator.resting_rad == pytest.approx(learned.elevator.resting_rad)


def test_other_drives_say_what_is_turned():
    def first(**linkage) -> str:
        setup = model("low_wing").control_setup
        f = replace(setup.fittings[2], linkage=replace(setup.fittings[2].linkage, **linkage))
        alone: ControlSetup = replace(setup, fittings=(f,))
        (order,) = orders(alone, {a: AxisRest(0, 0, 0) for a in Axis}, {Axis.PITCH: 0.05}, Way.CLEVIS, inverted_v=False)
        return order.clevis

    assert "turnbuckle" in first(both_ends=True)
    assert "out on one cable and in on the other" in first(drive=Drive.PULL_PULL)
    assert first(drive=Drive.DIRECT) == "The elevator is driven directly: there is no clevis."


@pytest.mark.parametrize(
    ("half_turns", "words"),
    [
        (0, "no turn"),
        (-1, "half a turn"),
        (2, "1 turn"),
        (-3, "1 and a half turns"),
        (4, "2 turns"),
        (5, "2 and a half turns"),
    ],
)
def test_half_turns_in_words(half_turns, words):
    assert turns_words(half_turns) == words


def test_a_fitting_on_the_other_side_turns_the_other_way_for_the_same_surface():
    """Horn below the surface: a longer rod lifts the trailing edge instead of lowering it. The order follows the linkage."""
    setup = model("low_wing").control_setup

    def order_of(f: Fitting):
        alone = replace(setup, fittings=(f,))
        return orders(alone, {a: AxisRest(0, 0, 0) for a in Axis}, {Axis.PITCH: 0.05}, Way.CLEVIS, inverted_v=False)[0]

    above = setup.fittings[2]
    below = replace(above, linkage=replace(above.linkage, arm_up=False, horn_up=False))
    assert "unscrew (longer rod)" in order_of(above).clevis
    assert "screw in (shorter rod)" in order_of(below).clevis
    for order in (order_of(above), order_of(below)):
        assert "it goes down, for nose down" in order.clevis


def test_two_surfaces_of_one_axis_stand_for_their_mean():
    """Ailerons of which one is 2 degrees off and the other none stand for one degree of the axis (by definition)."""
    setup = described("low_wing").control_setup
    rests = {f.role.value: 0.0 for f in setup.fittings}
    left, right = ControlRole.LEFT_AILERON.value, ControlRole.RIGHT_AILERON.value
    one = back_to_axes(setup, rests | {right: 0.04}, inverted_v=False)[Axis.ROLL]
    other = back_to_axes(setup, rests | {left: -0.04}, inverted_v=False)[Axis.ROLL]
    both = back_to_axes(setup, rests | {right: 0.04, left: -0.04}, inverted_v=False)[Axis.ROLL]
    assert abs(one) == pytest.approx(0.02)
    assert one == pytest.approx(other)
    assert both == pytest.approx(2.0 * one)
