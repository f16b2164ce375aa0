"""Elliptical wings against closed forms, and outlines from a table."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.airframe.outline import elliptical_sections
from jinba.core.airframe.parts import Airframe, Body, Role, Surface
from jinba.core.airframe.planform import planform_of
from jinba.core.errors import JinbaError
from jinba.core.stability.loads import solve_alpha
from jinba.formats.outline_table import OutlineTableError, read_outline


@given(st.floats(0.3, 2.5), st.floats(0.1, 0.5), st.floats(0.0, 1.0))
def test_area_and_mean_chord_of_an_ellipse(half, root, straight):
    """S = pi/4 c0 b exactly, MAC = 8/(3 pi) c0 within half a percent (any handbook)."""
    p = planform_of(
        Surface("wing", Role.WING, 0, 0, elliptical_sections(half_span_m=half, root_chord_m=root, straight_at=straight))
    )
    assert p.area_m2 == pytest.approx(math.pi / 4 * root * 2 * half, rel=1e-6)
    assert p.mac_m == pytest.approx(8 / (3 * math.pi) * root, rel=0.006)
    assert p.x_le_mac_m + straight * p.mac_m == pytest.approx(straight * root, rel=1e-6, abs=1e-9)


def test_an_elliptical_wing_lifts_as_the_lifting_line_says():
    """a = 2 pi A/(A + 2) for elliptical loading (Prandtl, any handbook); a lattice is 2 to 5 % lower at A = 8."""
    wing = Surface("wing", Role.WING, 0, 0, elliptical_sections(half_span_m=0.8, root_chord_m=1.6 / (2 * math.pi)))
    p = planform_of(wing)
    assert p.aspect_ratio == pytest.approx(8.0, rel=1e-6)
    slope = solve_alpha(Airframe((wing,), Body(0, 0.3, 0.01, 0.01)), panels=(24, 4))[0].lift_m2 / p.area_m2
    assert slope == pytest.approx(2 * math.pi * 8 / 10, rel=0.05)


@pytest.mark.parametrize(
    "text",
    [
        "0 0 250\n300 10 240\n750 60 150\n",
        "y;le;chord\n0;0;250\n300;10;240\n750;60;150",
        "0, 0, 250\n300, 10, 240\n750, 60, 150",
        "0,0,250\n300,10,240\n750,60,150",
        "# measured\n0\t0\t250,0\n300\t10\t240,0\n750\t60\t150,0",
    ],
)
def test_a_table_is_read_however_it_is_separated(text):
    sections = read_outline(text)
    assert [(s.y_m, s.x_offset_m, s.chord_m) for s in sections] == [(0, 0, 0.25), (0.3, 0.01, 0.24), (0.75, 0.06, 0.15)]


def test_rise_and_washout_and_the_scale_of_a_plan():
    """A plan at 1 : 4, wash-out positive leading edge down."""
    root, tip = read_outline("0 0 62.5 0 0\n187.5 10 40 5 2", millimetres_per_unit=4.0)
    assert (root.chord_m, tip.y_m, tip.z_offset_m) == pytest.approx((0.25, 0.75, 0.02))
    assert math.degrees(tip.twist_rad) == pytest.approx(-2.0)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("0 0 250", "1 rows"),
        ("0 0 250\n300 wide 240", "Row 2"),
        ("0 0\n300 10", "Row 1"),
        ("0 0 250\n300 nan 240", "Row 2"),
        ("0 0 250\n100 0 -40", "chord"),
    ],
)
def test_bad_tables_are_refused_by_row(text, words):
    with pytest.raises(JinbaError, match=words):
        read_outline(text)


def test_more_chords_than_are_computed_are_refused():
    with pytest.raises(OutlineTableError, match="2 to 24 chords"):
        read_outline("\n".join(f"{i * 10} 0 200" for i in range(25)))
