"""The lattice with real sections: limits, sensitivities against differences, winglets and the grid's own error."""

import math
from dataclasses import replace

import aerosandbox as asb
import pytest

from jinba.core.airframe.parts import Airframe, Body, Role, Section, Surface
from jinba.core.airframe.planform import planform_of
from jinba.core.stability.aero import aero_model
from jinba.core.stability.grid import centre_of_lift_m, grid_point
from jinba.core.stability.lattice import coarser, panels_for
from jinba.core.stability.loads import solve_alpha, solve_loads
from jinba.core.stability.neutral_point import SECTION_SLOPE_RATIO, lift_slope_per_rad
from tests.builders import model


def wing(aspect_ratio: float, *, sweep: float = 0.0) -> Airframe:
    half = 0.01 * aspect_ratio
    surface = Surface("wing", Role.WING, 0, 0, (Section(0, 0, 0.02), Section(half, half * math.tan(sweep), 0.02)))
    return Airframe((surface,), Body(0, 0.3, 0.01, 0.01))


@pytest.mark.parametrize("k", [1.0, 0.92, 0.7])
def test_a_very_long_wing_lifts_like_its_section(k):
    """dC_L/dalpha -> 2 pi k cos(sweep): thin-aerofoil theory and simple sweep theory (e.g. Etkin and Reid, from memory)."""
    for sweep in (0.0, math.radians(30)):
        airframe = wing(400, sweep=sweep)
        slope = solve_alpha(airframe, panels=(24, 4), section_slope=k)[0].lift_m2 / planform_of(airframe.wing).area_m2
        assert slope == pytest.approx(2 * math.pi * k * math.cos(sweep), rel=0.02)


@pytest.mark.parametrize("aspect_ratio", [5.0, 8.0, 12.0])
def test_section_slope_acts_as_in_the_handbook_form(aspect_ratio):
    """The lattice with k = 0.8 over k = 1 against the Polhamus form with the same k (USAF DATCOM 4.1.3.2, from memory)."""
    airframe = wing(aspect_ratio)
    soft, hard = (solve_alpha(airframe, panels=(24, 4), section_slope=k)[0].lift_m2 for k in (0.8, 1.0))
    book = lift_slope_per_rad(aspect_ratio, section_ratio=0.8) / lift_slope_per_rad(aspect_ratio)
    assert soft / hard == pytest.approx(book, abs=0.012)


@pytest.mark.parametrize("key", ["low_wing", "canard", "tandem"])
def test_sensitivities_are_what_a_difference_gives(key):
    """d(loads)/d(ln k) of each surface against solving anew with that surface's slope half a percent up and down."""
    airframe = model(key).airframe
    count = len(airframe.surfaces)
    zero = (0.0,) * count
    base = solve_loads(airframe, zero_lift_rad=zero, section_slope=SECTION_SLOPE_RATIO)
    for i in range(count):
        up, down = (
            solve_loads(
                airframe,
                zero_lift_rad=zero,
                section_slope=tuple(SECTION_SLOPE_RATIO * (1 + d if j == i else 1) for j in range(count)),
            ).alpha
            for d in (0.005, -0.005)
        )
        for j in range(count):
            difference = (up[j].lift_m2 - down[j].lift_m2) / 0.01
            assert base.slope_sensitivity[i][j].lift_m2 == pytest.approx(difference, rel=1e-3, abs=1e-6)


def test_the_wing_s_own_slope_weakens_the_tail_behind_it():
    """More lift, more downwash: the tail's lift falls when the wing's section slope rises."""
    loads = solve_loads(model("low_wing").airframe, zero_lift_rad=(0.0, 0.0))
    assert loads.slope_sensitivity[0][0].lift_m2 > 0 > loads.slope_sensitivity[0][1].lift_m2


def winglets(cant_deg: float) -> Airframe:
    height, tip = 0.12, Section(0.6, 0.05, 0.16, 0.0)
    out = height * math.cos(math.radians(cant_deg))
    end = Section(0.6 + out, 0.11, 0.08, height * math.sin(math.radians(cant_deg)))
    surface = Surface("wing", Role.WING, 0, 0, (Section(0, 0, 0.24), tip, end))
    return Airframe((surface,), Body(0, 0.3, 0.01, 0.01))


@pytest.mark.parametrize("cant_deg", [60.0, 80.0])
def test_canted_winglets_against_the_reference_lattice(cant_deg):
    """Neutral point and lift slope of a wing with winglets: aerosandbox's lattice, 24 x 8, computed here."""
    airframe = winglets(cant_deg)
    s = airframe.wing
    sections = [
        asb.WingXSec(xyz_le=[q.x_offset_m, q.y_m, q.z_offset_m], chord=q.chord_m, airfoil=asb.Airfoil("naca0006"))
        for q in s.sections
    ]
    plane = asb.Airplane(wings=[asb.Wing(symmetric=True, xsecs=sections)], xyz_ref=[0, 0, 0])
    point = asb.OperatingPoint(velocity=15, alpha=0)
    vlm = asb.VortexLatticeMethod(plane, point, spanwise_resolution=16, chordwise_resolution=8)
    theirs = vlm.run_with_stability_derivatives(alpha=True, beta=False, p=False, q=False, r=False)
    fine = solve_alpha(airframe, panels=panels_for(1))
    x = grid_point(airframe, fine, solve_alpha(airframe, panels=coarser(panels_for(1))), [1.0]).x_m
    assert abs(x - float(theirs["x_np"])) < 0.01 * planform_of(s).mac_m
    assert fine[0].lift_m2 / plane.s_ref == pytest.approx(float(theirs["CLa"]), rel=0.03)


@pytest.mark.parametrize("key", ["high_wing", "canard", "delta", "biplane", "triplane"])
def test_the_extrapolated_point_lies_nearer_a_fine_grid_than_the_grid_itself(key):
    airframe = model(key).airframe
    ones = [1.0] * len(airframe.surfaces)
    panels = panels_for(len(ones))
    fine, coarse = solve_alpha(airframe, panels=panels), solve_alpha(airframe, panels=coarser(panels))
    exact = centre_of_lift_m(solve_alpha(airframe, panels=(40, 6)), ones)
    point = grid_point(airframe, fine, coarse, ones)
    assert abs(point.x_m - exact) < max(abs(centre_of_lift_m(fine, ones) - exact), 0.0005)
    assert abs(point.x_m - exact) < 4.0 * point.sigma_m


def test_small_tails_are_less_sure_than_large_ones_and_wings_alone_surest():
    """Tails at low Reynolds numbers dominate the total sigma (docs/methods/neutral-point.md)."""

    def sigma(key: str, span_m: float) -> float:
        aero = aero_model(model(key, span_m=span_m).airframe)
        return aero.neutral_point.sigma_total_m / aero.planform.mac_m

    assert sigma("high_wing", 0.6) > sigma("high_wing", 2.2) > sigma("flying_wing", 2.2)


def test_twist_apart_on_each_side_does_not_touch_the_neutral_point():
    airframe = model("low_wing").airframe
    tip = airframe.wing.sections[-1]
    bent = replace(airframe.wing, sections=(*airframe.wing.sections[:-1], replace(tip, left_twist_rad=0.03)))
    other = replace(airframe, surfaces=(bent, *airframe.surfaces[1:]))
    assert aero_model(other).neutral_point.x_m == pytest.approx(aero_model(airframe).neutral_point.x_m, abs=1e-12)
