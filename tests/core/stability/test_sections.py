"""Sections: thin-aerofoil integrals, coordinate files, the library against the programs it was computed with."""

import math
from dataclasses import replace
from pathlib import Path

import aerosandbox as asb
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from bench.section_table import polar
from jinba.core.airframe.parts import REYNOLDS, Camber, Foil
from jinba.core.errors import JinbaError
from jinba.core.observe.situation import design_of
from jinba.core.stability.section_library import SECTIONS
from jinba.core.stability.sections import reynolds_factor, section_of
from jinba.core.stability.thin_aerofoil import mean_line_integrals
from jinba.formats.airfoil import AirfoilFileError, read_airfoil
from tests.builders import model

DATABASE = Path(asb.__file__).parent / "geometry/airfoil/airfoil_database"


def four_digit_mean_line(f: float, p: float, x: np.ndarray) -> np.ndarray:
    return np.where(x < p, f / p**2 * (2 * p * x - x * x), f / (1 - p) ** 2 * (1 - 2 * p + 2 * p * x - x * x))


def test_mean_line_of_naca_2412():
    """Zero-lift angle -2.077 deg, moment -0.0531: thin-aerofoil theory (Glauert; Anderson, Fundamentals, ch. 4, from memory)."""
    x = 0.5 * (1 - np.cos(np.linspace(0, math.pi, 400)))
    zero_lift, moment = mean_line_integrals(x, four_digit_mean_line(0.02, 0.4, x))
    assert math.degrees(zero_lift) == pytest.approx(-2.077, abs=0.003)
    assert moment == pytest.approx(-0.0531, abs=0.0002)


@pytest.mark.parametrize(("name", "thickness", "camber"), [("mh45", 0.0984, 0.0171), ("clarky", 0.1171, 0.0343)])
def test_a_coordinate_file_gives_thickness_and_camber(name, thickness, camber):
    """aerosandbox 4.2.10: max_thickness and max_camber of its own files, read here as bytes."""
    foil = read_airfoil((DATABASE / f"{name}.dat").read_bytes(), file_name=f"{name}.dat")
    assert foil.thickness == pytest.approx(thickness, abs=0.001)
    assert foil.camber == pytest.approx(camber, abs=0.001)


@pytest.mark.parametrize("key", ["naca2412", "clarky", "sd7037", "naca0012"])
def test_coordinates_against_the_polar_of_the_library(key):
    """Thin theory against neuralfoil's zero-lift angle (0.6 deg) and moment (0.02); highest lift within twice its 11 %."""
    foil = read_airfoil((DATABASE / f"{key}.dat").read_bytes())
    section = SECTIONS[key]
    assert math.degrees(foil.zero_lift_rad) == pytest.approx(section.zero_lift_deg, abs=0.6)
    assert foil.cm_zero_lift == pytest.approx(section.cm_zero_lift, abs=0.02)
    assert foil.cl_max[2] == pytest.approx(section.cl_max[2], rel=0.22)


@pytest.mark.parametrize("key", ["naca0009", "rg15", "s1223", "mh60"])
def test_the_library_is_what_its_source_computes(key):
    """neuralfoil 0.3.3 on aerosandbox's coordinates, computed again here at two Reynolds numbers."""
    section, foil = SECTIONS[key], asb.Airfoil(key)
    alpha0, moment, peak = polar(foil, 2e5)
    assert (section.zero_lift_deg, section.cm_zero_lift) == pytest.approx((alpha0, moment), abs=0.006)
    assert section.cl_max[2] == pytest.approx(peak, abs=0.006)
    assert section.cl_max[0] == pytest.approx(0.9 * polar(foil, 5e4)[2], abs=0.006)


def test_a_section_of_high_lift_is_fitted_where_it_flies():
    """S1223, from memory of its wind-tunnel data (Selig, University of Illinois): zero lift near -10 deg, moment near -0.29 at 3 deg.

    Read at the edge of its polar it was -6 deg and -0.07, twenty clicks of elevator off.
    """
    s = SECTIONS["s1223"]
    assert s.zero_lift_deg == pytest.approx(-10.2, abs=0.8)
    assert s.cm_zero_lift == pytest.approx(-0.285, abs=0.03)


def test_both_arrangements_of_points_are_one_section():
    round_file = (DATABASE / "mh45.dat").read_text().splitlines()
    points = [tuple(map(float, line.split())) for line in round_file[1:] if len(line.split()) == 2]
    nose = min(range(len(points)), key=lambda i: points[i][0])
    upper, lower = points[: nose + 1][::-1], points[nose:]
    rows = [f"{x:.6f} {y:.6f}" for x, y in (*upper, *lower)]
    apart = "\n".join(["MH45", f"{len(upper)}. {len(lower)}.", *rows])
    one, other = read_airfoil("\n".join(round_file).encode()), read_airfoil(apart.encode())
    assert other.zero_lift_rad == pytest.approx(one.zero_lift_rad, abs=1e-4)
    assert (other.thickness, other.camber) == pytest.approx((one.thickness, one.camber), abs=1e-4)


def test_any_chord_and_decimal_marks_of_its_own_are_read():
    text = (DATABASE / "clarky.dat").read_text().splitlines()
    points = [tuple(map(float, line.split())) for line in text[1:] if len(line.split()) == 2]
    big = "\n".join(f"{x * 200:.4f}; {y * 200:.4f}" for x, y in points)
    assert read_airfoil(big.encode()).thickness == pytest.approx(0.117, abs=0.001)


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"name\n1 0\n0 0\n1 0\n", "3 points"),
        (b"name\n" + b"1.0 0.0\n0.5 x\n" * 20, "Line 3: cannot read"),
        (b"a\x00b", "control characters"),
        (b"1 2 3\n" * 400_000, "larger than 200 kB"),
        (b"name\n" + b"0.5 0.0\n" * 30, "do not go round|no length"),
        (b"name\n20. 20.\n" + b"0.1 0.0\n" * 30, "says 20 and 20 points and has 30"),
    ],
)
def test_bad_files_are_refused_by_line(data, words):
    with pytest.raises(AirfoilFileError, match=words):
        read_airfoil(data)


@given(st.binary(max_size=400))
def test_any_bytes_are_read_or_refused_in_words(data):
    try:
        answer: object = read_airfoil(data)
    except JinbaError as error:
        answer = error.title
    assert answer


def test_a_named_section_goes_before_its_family_and_small_wings_stall_faster():
    """Maximum lift falls at low Reynolds numbers (neuralfoil; docs/methods/stall.md): the same wing at 0.4 of the size."""
    c = model("high_wing")
    s = SECTIONS["s1223"]
    foil = Foil(s.name, s.thickness, s.camber, math.radians(s.zero_lift_deg), s.cm_zero_lift, s.cl_max)
    wing = replace(c.airframe.wing, foil=foil)
    lifted = replace(c, airframe=replace(c.airframe, surfaces=(wing, *c.airframe.surfaces[1:])))
    assert design_of(lifted).stall_speed_mps < 0.9 * design_of(c).stall_speed_mps
    assert section_of(wing).cl_max == s.cl_max[2]
    assert design_of(model("high_wing", span_m=0.5)).aero.cl_max < design_of(c).aero.cl_max
    for r, peak in zip(REYNOLDS, s.cl_max, strict=True):
        assert reynolds_factor(wing, r) == pytest.approx(peak / s.cl_max[2])


@pytest.mark.parametrize(
    ("family", "like"), [("flat_bottom", "clarky"), ("semi_symmetrical", "naca2412"), ("reflexed", "e186")]
)
def test_a_family_is_like_a_section_of_it(family, like):
    """Clark Y, NACA 2412 and E 186 by neuralfoil 0.3.3 at Re 2e5: camber lifts at no incidence, reflex pitches up."""
    wing = replace(model().airframe.wing, camber=Camber(family), foil=None)
    zero_lift_deg, moment, peak = polar(asb.Airfoil(like), 2e5)
    data = section_of(wing)
    assert math.degrees(data.zero_lift_rad) == pytest.approx(zero_lift_deg, abs=0.9)
    assert data.cm_zero_lift == pytest.approx(moment, abs=0.02)
    assert data.cl_max == pytest.approx(peak, rel=0.15)


@pytest.mark.parametrize("s", SECTIONS.values(), ids=lambda s: s.key)
def test_thickness_and_camber_of_the_library_are_those_of_the_coordinates(s):
    """aerosandbox 4.2.10: ``max_thickness``, ``max_camber``."""
    foil = asb.Airfoil(s.key)
    assert (s.thickness, abs(s.camber)) == pytest.approx((foil.max_thickness(), abs(foil.max_camber())), abs=0.0015)
