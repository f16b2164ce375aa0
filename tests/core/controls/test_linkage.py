"""Four-bar linkages against an independent root finder and the published closed form."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy.optimize import brentq

from jinba.core.controls.four_bar import LinkageError
from jinba.core.controls.linkage import Drive, Linkage, motion, servo_for, square_lean_rad, turned_rad, windup_rad
from jinba.core.errors import OutOfRangeError
from tests.reference.linkages import CLEVIS_TURNS, FOUR_BARS

LINKAGES = st.builds(
    Linkage,
    arm_m=st.floats(0.006, 0.016),
    horn_m=st.floats(0.008, 0.022),
    distance_m=st.floats(0.06, 0.4),
    rise_m=st.floats(-0.015, 0.015),
    arm_lean_rad=st.floats(-0.3, 0.3),
    horn_lean_rad=st.floats(-0.3, 0.3),
    arm_up=st.booleans(),
    horn_up=st.booleans(),
)


# Horn in line with the rod: the hinge lies 0.1 m from the arm's pin along (sin 1.4, cos 1.4).
DEAD = Linkage(arm_m=0.01, horn_m=0.012, distance_m=0.0985450, rise_m=0.01 + 0.0169967, horn_lean_rad=1.4)


def one(linkage: Linkage, servo_rad: float) -> float:
    return float(motion(linkage, np.array([servo_rad])).deflection_rad[0])


@pytest.mark.parametrize("row", FOUR_BARS)
def test_the_published_linkages_come_out(row):
    a, h, d, e, horn, rod, servo, wanted = row
    k = Linkage(arm_m=a / 1e3, horn_m=h / 1e3, distance_m=d / 1e3, rise_m=e / 1e3, horn_lean_rad=math.radians(horn))
    assert k.rod_m == pytest.approx(rod / 1e3, abs=1e-9)
    assert math.degrees(one(k, math.radians(servo))) == pytest.approx(wanted, abs=1e-5)


@given(k=LINKAGES, servo=st.floats(-0.8, 0.8))
def test_an_independent_root_finder_finds_the_same_angle(k, servo):
    """Only |B - A| = L is used, with none of the program's closed form; the root is followed from neutral."""

    def gap(deflection: float, at: float) -> float:
        up_a, up_h = (1 if k.arm_up else -1), (1 if k.horn_up else -1)
        horn = up_h * deflection + k.horn_lean_rad
        ax, ay = k.arm_m * math.sin(at + k.arm_lean_rad), up_a * k.arm_m * math.cos(at + k.arm_lean_rad)
        bx, by = k.distance_m + k.horn_m * math.sin(horn), k.rise_m + up_h * k.horn_m * math.cos(horn)
        return math.hypot(bx - ax, by - ay) - k.rod_m

    found = one(k, servo)
    assume(math.isfinite(found))
    angle = 0.0
    for at in np.linspace(0.0, servo, 60)[1:]:
        low, high = angle - 0.06, angle + 0.06
        assume(gap(low, at) * gap(high, at) < 0)
        angle = brentq(gap, low, high, args=(at,), xtol=1e-13)
    assert found == pytest.approx(angle, abs=1e-8)


@given(k=LINKAGES, servo=st.floats(-0.6, 0.6))
def test_the_slope_is_the_derivative_and_the_way_back_leads_back(k, servo):
    m = motion(k, np.array([servo - 1e-6, servo, servo + 1e-6]))
    assume(bool(np.isfinite(m.deflection_rad).all()) and m.transmission_rad[1] > 0.4)
    slope = (m.deflection_rad[2] - m.deflection_rad[0]) / 2e-6
    assert m.slope[1] == pytest.approx(slope, rel=2e-4, abs=1e-6)
    back = servo_for(k, float(m.deflection_rad[1]), most_servo_rad=1.5)
    swept = motion(k, np.linspace(0.0, servo, 30))
    one_way = np.isfinite(swept.slope).all() and (np.sign(swept.slope) == np.sign(swept.slope[0])).all()
    assert not one_way or back == pytest.approx(servo, abs=1e-9)


def test_a_rod_that_cannot_reach_is_said_and_never_an_angle():
    k = Linkage(arm_m=0.020, horn_m=0.006, distance_m=0.060)
    assert math.isnan(one(k, math.radians(60)))
    assert servo_for(k, math.radians(120), most_servo_rad=math.radians(60)) is None


def test_a_linkage_on_dead_centre_cannot_be_put_together():
    with pytest.raises(LinkageError, match="dead centre"):
        motion(DEAD, np.zeros(1))
    with pytest.raises(OutOfRangeError, match="horn"):
        Linkage(horn_m=0.0)


@pytest.mark.parametrize(
    ("arm_up", "horn_up", "way"), [(True, True, +1), (False, False, -1), (True, False, -1), (False, True, +1)]
)
def test_pushing_the_rod_lowers_the_trailing_edge_of_a_horn_above_and_lifts_that_of_a_horn_below(arm_up, horn_up, way):
    assert math.copysign(1, one(Linkage(arm_up=arm_up, horn_up=horn_up), 0.3)) == way


def test_a_direct_drive_moves_with_the_servo_and_equal_cables_stay_tight():
    assert one(Linkage(drive=Drive.DIRECT), 0.2) == pytest.approx(0.2)
    cables = Linkage(drive=Drive.PULL_PULL, arm_m=0.012, horn_m=0.012, distance_m=0.5)
    m = motion(cables, np.radians([-40.0, 0.0, 40.0]))
    assert np.degrees(m.deflection_rad) == pytest.approx([-40.0, 0.0, 40.0], abs=1e-9)
    assert m.slack_m == pytest.approx(0.0, abs=1e-12)
    # Pins ahead of the hinge line on both ends: the idle cable goes slack, it is never pulled (Ackermann geometry).
    leaning = Linkage(drive=Drive.PULL_PULL, arm_m=0.012, horn_m=0.012, distance_m=0.5, horn_lean_rad=0.35)
    idle = motion(leaning, np.radians([-40.0, 40.0])).slack_m
    assert (np.abs(idle) > 1e-4).all()
    assert servo_for(leaning, 0.2, most_servo_rad=1.0) == pytest.approx(-servo_for(leaning, -0.2, most_servo_rad=1.0))


@pytest.mark.parametrize(("pitch", "turns", "horn", "degrees"), CLEVIS_TURNS)
def test_clevis_turns_on_a_square_horn(pitch, turns, horn, degrees):
    """A long rod and a square horn: the exact four-bar is asin(n p/h) within a hundredth of a degree and the rod's slope."""
    k = Linkage(arm_m=horn / 1e3, horn_m=horn / 1e3, distance_m=2.0, thread_pitch_m=pitch / 1e3)
    assert math.degrees(turned_rad(k, turns)) == pytest.approx(degrees, abs=0.012)
    both = Linkage(arm_m=horn / 1e3, horn_m=horn / 1e3, distance_m=2.0, thread_pitch_m=pitch / 1e3, both_ends=True)
    assert turned_rad(both, turns / 2) == pytest.approx(turned_rad(k, turns))
    assert turned_rad(k, -turns) < 0 < turned_rad(k, turns), "a longer rod pushes: the trailing edge goes down"


@given(k=LINKAGES)
def test_a_squared_arm_stands_at_ninety_degrees_to_its_rod(k):
    lean = square_lean_rad(k)
    assume(abs(lean) < 1.3)
    m = motion(replace(k, arm_lean_rad=lean), np.zeros(1))
    arm, rod = m.arm_pin_m[:, 0], m.horn_pin_m[:, 0] - m.arm_pin_m[:, 0]
    assert float(np.dot(arm, rod)) == pytest.approx(0.0, abs=1e-12)


def test_a_torque_rod_winds_up_as_a_round_bar_does():
    """2 mm steel, 80 mm long, 0.1 N m: 0.1 x 0.08/(79e9 x pi 0.002^4/32) = 3.7 degrees, by hand."""
    k = Linkage(drive=Drive.TORQUE_ROD, wire_m=0.002, wire_length_m=0.08)
    assert math.degrees(windup_rad(k, 0.1)) == pytest.approx(3.694, abs=0.01)
    assert windup_rad(Linkage(), 0.1) == 0.0
