"""Travel, resolution, binding, hinge moments and hole search."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise, product

import aerosandbox as asb
import neuralfoil
import numpy as np
import pytest
from scipy.integrate import quad

from jinba.core.controls.fitting import ControlRole, Fitting, Servo
from jinba.core.controls.four_bar import LinkageError
from jinba.core.controls.hinge_moment import hinge_moment_coefficients, hinge_moment_nm
from jinba.core.controls.holes import hole_search
from jinba.core.controls.linkage import Linkage, motion, square_lean_rad
from jinba.core.controls.travel import angle_of_ruler, full_throw_moment_nm, ruler_m, travel, vertical_m
from jinba.core.errors import OutOfRangeError
from tests.reference.linkages import THREADS

FITTING = Fitting(ControlRole.ELEVATOR, 2, 0.045, 0.4, Linkage(arm_m=0.008, horn_m=0.014))
AIR = {"speed_mps": 25.0, "density_kg_m3": 1.225, "section_chord_m": 0.15}


def codes(fitting: Fitting, **more: float) -> set[str]:
    return {f.code for f in travel(fitting, **{**AIR, **more}).findings}


def neuralfoil_hinge_moments(ratio: float) -> tuple[float, float]:
    """Return (c_h,alpha, c_h,delta) of a 6 % section from neuralfoil's surface velocities, cp = 1 - (u/V)^2, at Re 1e6."""
    x = np.asarray(neuralfoil.bl_x_points)

    def moment(deflection: float, alpha: float) -> float:
        foil = asb.Airfoil("naca0006")
        bent = foil.add_control_surface(deflection=deflection, hinge_point_x=1 - ratio) if deflection else foil
        aero = neuralfoil.get_aero_from_airfoil(bent, alpha=alpha, Re=1e6, model_size="xlarge")
        upper, lower = (
            np.array([float(np.ravel(aero[f"{side}_bl_ue/vinf_{i}"])[0]) for i in range(x.size)])
            for side in ("upper", "lower")
        )
        load = upper**2 - lower**2
        at = np.concatenate([[1 - ratio], x[x >= 1 - ratio], [1.0]])
        values = np.append(np.interp(at[:-1], x, load), 0.0)
        return -float(np.trapezoid(values * (at - (1 - ratio)), at)) / ratio**2

    delta = (moment(3.0, 0.0) - moment(-3.0, 0.0)) / (2 * math.radians(3.0))
    return (moment(0.0, 3.0) - moment(0.0, -3.0)) / (2 * math.radians(3.0)), delta


@pytest.mark.parametrize("ratio", [0.2, 0.3, 0.4])
def test_hinge_moments_agree_with_neuralfoil(ratio):
    """Thin-aerofoil theory against a viscous surrogate of a real section: 8 % for incidence, 15 % for the flap."""
    alpha, delta = neuralfoil_hinge_moments(ratio)
    ours = hinge_moment_coefficients(ratio)
    assert ours[0] == pytest.approx(alpha, rel=0.08)
    assert ours[1] == pytest.approx(delta, rel=0.15)


def test_the_quadrature_is_that_of_the_pressure_integral():
    hinge = math.acos(1 - 2 * 0.7)

    def load(t: float) -> float:
        plate = (1 - hinge / math.pi) * (1 + math.cos(t)) / math.sin(t)
        return 4 * (plate + math.log(abs(math.sin((t + hinge) / 2) / math.sin((t - hinge) / 2))) / math.pi)

    value, _ = quad(lambda t: load(t) * (0.5 * (1 - math.cos(t)) - 0.7) * 0.5 * math.sin(t), hinge, math.pi)
    assert hinge_moment_coefficients(0.3)[1] == pytest.approx(-value / 0.09, rel=1e-6)


def test_hinge_moment_of_a_surface_by_hand():
    """q 383 Pa, 0.4 m x 0.045 m^2, c_h,delta -0.965 x 0.35 rad: 0.105 N m."""
    c = hinge_moment_coefficients(0.3)[1]
    moment = hinge_moment_nm(dynamic_pressure_pa=383.0, span_m=0.4, chord_m=0.045, flap_ratio=0.3, deflection_rad=0.35)
    assert moment == pytest.approx(383 * 0.4 * 0.045**2 * abs(c) * 0.35)
    assert moment == pytest.approx(0.105, abs=0.002)


def test_what_a_ruler_and_a_gauge_read():
    """45 mm at 12 degrees: 9.4076 mm straight, 9.3560 mm square; 60 mm at 20 degrees: 20.8378 and 20.5212 (geometry)."""
    assert ruler_m(0.045, math.radians(12)) == pytest.approx(0.009407561694)
    assert vertical_m(0.045, math.radians(12)) == pytest.approx(0.009356026087)
    assert ruler_m(0.060, math.radians(20)) == pytest.approx(0.02083778132)
    assert angle_of_ruler(0.045, 0.009407561694) == pytest.approx(math.radians(12))
    with pytest.raises(OutOfRangeError):
        angle_of_ruler(0.045, 0.1)


def test_travel_differential_and_resolution_come_from_the_geometry():
    t = travel(FITTING, **AIR)
    ends = motion(FITTING.linkage, np.radians([-45.0, 45.0])).deflection_rad
    assert (-t.up_rad, t.down_rad) == pytest.approx(tuple(ends))
    assert t.differential == pytest.approx(-ends[0] / ends[1])
    assert t.rad_per_us == pytest.approx(8 / 14 * math.radians(0.09), rel=0.01), "arm over horn times 0.09 degrees"
    assert t.m_per_us == pytest.approx(0.045 * t.rad_per_us)
    assert t.advantage == pytest.approx(14 / 8, rel=0.01)


def test_binding_over_travel_slop_and_a_weak_servo_are_found():
    assert codes(FITTING) <= {"not_square"}
    assert "binds" in codes(replace(FITTING, linkage=Linkage(arm_m=0.020, horn_m=0.006, distance_m=0.06)))
    assert "over_travel" in codes(replace(FITTING, linkage=replace(FITTING.linkage, stop_rad=math.radians(15))))
    assert {"not_square", "differential"} <= codes(replace(FITTING, linkage=replace(FITTING.linkage, arm_lean_rad=0.4)))
    assert "weak_servo" in codes(replace(FITTING, servo=Servo(torque_nm=0.04)))
    assert "poor_angle" in codes(replace(FITTING, linkage=replace(FITTING.linkage, horn_lean_rad=1.0)))
    held = travel(replace(FITTING, linkage=replace(FITTING.linkage, stop_rad=math.radians(15))), **AIR)
    assert held.up_rad == pytest.approx(math.radians(15)), "a surface never moves past its stop"


def test_the_load_grows_with_the_square_of_the_speed():
    slow, fast = travel(FITTING, **AIR), travel(FITTING, **{**AIR, "speed_mps": 50.0})
    assert fast.torque_share == pytest.approx(4 * slow.torque_share)


# Horn in line with the rod: nothing could move it.
DEAD = Linkage(arm_m=0.01, horn_m=0.012, distance_m=0.0985450, rise_m=0.0269967, horn_lean_rad=1.4)
ARMS, HORNS = (0.007, 0.009, 0.011, 0.013), (0.010, 0.014, 0.018, 0.022)


def test_the_finest_pair_of_holes_is_what_trying_them_all_finds():
    found = hole_search(FITTING, arm_holes_m=ARMS, horn_holes_m=HORNS, wanted_m=0.018, **AIR)
    most = math.radians(0.09) * 500 * 1.2
    wanted = angle_of_ruler(0.045, 0.018)
    reaching = []
    for arm, horn in product(ARMS, HORNS):
        m = motion(Linkage(arm_m=arm, horn_m=horn), np.linspace(-most, most, 801))
        with np.errstate(invalid="ignore"):
            if np.nanmin(m.deflection_rad) <= -wanted and np.nanmax(m.deflection_rad) >= wanted:
                reaching.append((float(m.slope[400]), arm, horn))
    assert {(h.arm_m, h.horn_m) for h in found if h.reaches} <= {(a, h) for _, a, h in reaching}
    best = min(reaching)
    assert (found[0].arm_m, found[0].horn_m) == best[1:]
    assert all(a.m_per_us <= b.m_per_us for a, b in pairwise(found) if b.reaches)
    chosen = found[0]
    pair = replace(
        FITTING,
        linkage=Linkage(arm_m=chosen.arm_m, horn_m=chosen.horn_m),
        end_point_up=chosen.end_point_up,
        end_point_down=chosen.end_point_down,
    )
    assert (travel(pair, **AIR).up_m, travel(pair, **AIR).down_m) == pytest.approx((0.018, 0.018), abs=2e-6)


def test_the_practice_of_inner_hole_and_outer_hole_is_what_resolution_says():
    """Common practice, no source: innermost hole on the servo arm, outermost on the horn."""
    found = hole_search(FITTING, arm_holes_m=ARMS, horn_holes_m=HORNS, wanted_m=0.006, **AIR)
    assert (found[0].arm_m, found[0].horn_m) == (min(ARMS), max(HORNS))


def test_bad_holes_are_refused():
    with pytest.raises(OutOfRangeError, match="hole"):
        hole_search(FITTING, arm_holes_m=(0.0,), horn_holes_m=HORNS, wanted_m=0.018, **AIR)
    with pytest.raises(OutOfRangeError, match="wanted throw"):
        hole_search(FITTING, arm_holes_m=ARMS, horn_holes_m=HORNS, wanted_m=0.5, **AIR)
    flat = replace(FITTING, linkage=DEAD)
    with pytest.raises(LinkageError, match="fitted"):
        hole_search(flat, arm_holes_m=(0.010,), horn_holes_m=(0.012,), wanted_m=0.005, **AIR)


@pytest.mark.parametrize(("name", "pitch"), THREADS.items())
def test_every_thread_of_the_table_can_be_on_a_clevis(name, pitch):
    assert Linkage(thread_pitch_m=pitch / 1e3).metres_per_turn == pytest.approx(pitch / 1e3), name


def test_a_microsecond_moves_the_trailing_edge_by_chord_and_angle():
    """Movement at the chord is chord times angle for a small step; a click is so many microseconds, a dead band its own."""
    t = travel(FITTING, **AIR, click_us=6.0)
    assert t.m_per_us == pytest.approx(0.045 * t.rad_per_us, rel=1e-9)
    # A servo of some 400 microseconds to one end, nearly straight: end point over pulses, to a fifth.
    assert t.m_per_us == pytest.approx(t.up_m / (t.up_rad / t.rad_per_us), rel=0.2)
    assert t.m_per_click == pytest.approx(6.0 * t.m_per_us)
    assert t.smallest_m == pytest.approx(FITTING.servo.dead_band_us * t.m_per_us)


def test_the_load_of_a_servo_is_that_of_the_air_it_flies_in():
    """q = rho V^2/2 (by definition): twice the density, twice the moment; half the section's chord, the next ratio."""
    f = Fitting(ControlRole.ELEVATOR, 2, 0.045, 0.4)
    moment = full_throw_moment_nm(f, 0.35, 25.0, 1.225, 0.15)
    by_hand = hinge_moment_nm(
        dynamic_pressure_pa=0.5 * 1.225 * 625.0, span_m=0.4, chord_m=0.045, flap_ratio=0.3, deflection_rad=0.35
    )
    assert moment == pytest.approx(by_hand)
    assert full_throw_moment_nm(f, 0.35, 25.0, 2.45, 0.15) == pytest.approx(2.0 * moment)


@pytest.mark.parametrize(("lean", "off"), [(0.0, False), (12.0, True)])
def test_an_arm_that_stands_off_square_says_by_how_much(lean, off):
    square = replace(Linkage(), arm_lean_rad=square_lean_rad(Linkage()))
    f = Fitting(
        ControlRole.ELEVATOR, 2, 0.045, 0.4, replace(square, arm_lean_rad=square.arm_lean_rad + math.radians(lean))
    )
    found = travel(f, speed_mps=25.0, density_kg_m3=1.2, section_chord_m=0.15, click_us=4.0)
    said = [s.words for s in found.findings if s.code == "not_square"]
    assert bool(said) is off
    assert not off or "12° off square" in said[0]
