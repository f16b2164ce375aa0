"""Area and mean chord against closed forms."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.airframe.parts import Airframe, Body, GeometryError, Role, Section, Surface
from jinba.core.airframe.planform import chord_at, planform_of
from jinba.core.errors import OutOfRangeError
from tests.reference.planforms import CASES, airframe_of


def surface(*sections: Section) -> Surface:
    return Surface("wing", Role.WING, 0.0, 0.0, sections)


# Straight-tapered wing: MAC = 2/3 c_r (1 + l + l^2)/(1 + l), y = b/6 (1 + 2 l)/(1 + l); Raymer, Aircraft Design, wing
# geometry equations (from memory). c_root, c_tip, span, sweep of the leading edge [deg] -> area, MAC, y, x of MAC's edge.
TAPERED = [
    (0.30, 0.30, 1.8, 0, 0.54, 0.3, 0.45, 0.0),
    (0.32, 0.18, 1.6, 6, 0.40, 0.2565333333, 0.3626666667, 0.03811780266),
    (0.25, 0.10, 1.3, 25, 0.2275, 0.1857142857, 0.2785714286, 0.1298999905),
    (0.60, 0.00, 0.9, 50, 0.27, 0.4, 0.15, 0.1787630389),
]


@pytest.mark.parametrize(("root", "tip", "span", "sweep", "area", "mac", "y_mac", "x_mac"), TAPERED)
def test_straight_taper(root, tip, span, sweep, area, mac, y_mac, x_mac):
    half = span / 2
    p = planform_of(surface(Section(0, 0, root), Section(half, half * math.tan(math.radians(sweep)), tip)))
    assert (p.area_m2, p.mac_m, p.y_mac_m, p.x_le_mac_m) == pytest.approx(
        (area, mac, y_mac, x_mac), rel=1e-9, abs=1e-12
    )


@pytest.mark.parametrize("case", CASES, ids=lambda c: c.name)
def test_catalogue(case):
    p = planform_of(airframe_of(case.surfaces).wing)
    assert (p.area_m2, p.mac_m, p.x_le_mac_m) == pytest.approx(
        (case.area_m2, case.mac_m, case.x_le_mac_m), rel=1e-9, abs=1e-12
    )


@given(st.lists(st.tuples(st.floats(0.05, 1.0), st.floats(0.02, 0.6), st.floats(-0.3, 0.3)), min_size=2, max_size=5))
def test_any_outline_against_numeric_integration(panels):
    """The panel sums equal a fine trapezoid integration of the definition MAC = (2/S) int c^2 dy."""
    y, sections = 0.0, []
    for i, (h, chord, x) in enumerate(panels):
        sections.append(Section(y, x if i else 0.0, chord))
        y += h
    wing = surface(*sections)
    p = planform_of(wing)
    n, area, square = 4000, 0.0, 0.0
    for k in range(n):
        c = chord_at(wing, (k + 0.5) / n * wing.half_span_m)[1]
        area += c * wing.half_span_m / n
        square += c * c * wing.half_span_m / n
    assert p.area_m2 == pytest.approx(2 * area, rel=1e-6)
    assert p.mac_m == pytest.approx(square / area, rel=1e-5)


def test_crossed_panels_are_refused_with_the_place():
    with pytest.raises(GeometryError, match="400 mm lies inside the one before it"):
        surface(Section(0, 0, 0.2), Section(0.5, 0, 0.2), Section(0.4, 0, 0.2))


@pytest.mark.parametrize("chord", [-0.1, math.nan, math.inf, 1e9])
def test_impossible_chords_are_refused(chord):
    with pytest.raises(OutOfRangeError, match="chord"):
        Section(0.0, 0.0, chord)


def test_surfaces_that_run_through_each_other_are_refused_by_name():
    wing = Surface("wing", Role.WING, 0.0, 0.05, (Section(0.0, 0.0, 0.3), Section(0.8, 0.0, 0.2)))
    body = Body(-0.3, 1.2, 0.1, 0.1)
    with pytest.raises(GeometryError, match=r"wing and second wing run through each other: .* overlap by 200 mm"):
        Airframe((wing, replace(wing, key="second wing", x_m=0.1, z_m=0.051)), body)
    Airframe((wing, replace(wing, key="second wing", x_m=0.1, z_m=-0.2)), body)
    Airframe((wing, replace(wing, key="tail", role=Role.TAIL, x_m=0.31)), body)
