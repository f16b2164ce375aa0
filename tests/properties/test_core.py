"""Properties that hold for every aeroplane: what a change of datum, of scale or of side can and cannot do."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from jinba.core.airframe.parts import Airframe, Body, Role, Section, Surface
from jinba.core.airframe.planform import planform_of
from jinba.core.bench.answer import bench_answer
from jinba.core.configuration import balance_of
from jinba.core.mass.items import Item, sum_items
from jinba.core.observe.situation import design_of
from jinba.core.silhouettes import silhouette_configuration
from jinba.core.stability.aero import aero_model
from jinba.core.walks import shift_datum

KEYS = st.sampled_from(["high_wing", "low_wing", "twin_boom_pusher", "sailplane"])
LENGTH = st.floats(-2.0, 2.0)
MASS = st.floats(0.001, 8.0)


@st.composite
def wings(draw: st.DrawFn) -> Surface:
    """A wing of one to three panels with any sweep and taper a model might have."""
    count = draw(st.integers(1, 3))
    chord, y, x, z = draw(st.floats(0.08, 0.5)), 0.0, 0.0, 0.0
    sections = [Section(0.0, 0.0, chord)]
    for _ in range(count):
        y += draw(st.floats(0.12, 0.8))
        x += draw(st.floats(-0.1, 0.25))
        z += draw(st.floats(0.0, 0.12))
        chord *= draw(st.floats(0.5, 1.0))
        sections.append(Section(y, x, chord, z))
    return Surface("wing", Role.WING, draw(LENGTH), draw(st.floats(-0.2, 0.2)), tuple(sections))


def alone(wing: Surface) -> Airframe:
    return Airframe((wing,), Body(wing.x_m - 0.2, 0.8, 0.02, 0.02))


def moved(wing: Surface, dx: float) -> Surface:
    return replace(wing, x_m=wing.x_m + dx)


def scaled(wing: Surface, k: float) -> Surface:
    sections = tuple(Section(s.y_m * k, s.x_offset_m * k, s.chord_m * k, s.z_offset_m * k) for s in wing.sections)
    return replace(wing, x_m=wing.x_m * k, z_m=wing.z_m * k, sections=sections)


@given(wings(), LENGTH, st.floats(0.3, 3.0))
def test_the_mean_chord_moves_with_the_datum_and_grows_with_the_scale(wing, dx, k):
    p, shifted, bigger = planform_of(wing), planform_of(moved(wing, dx)), planform_of(scaled(wing, k))
    assert shifted.mac_m == pytest.approx(p.mac_m)
    assert shifted.x_le_mac_m == pytest.approx(p.x_le_mac_m + dx, abs=1e-9)
    assert bigger.mac_m == pytest.approx(k * p.mac_m)
    assert bigger.area_m2 == pytest.approx(k * k * p.area_m2)
    assert bigger.aspect_ratio == pytest.approx(p.aspect_ratio)
    chords = [s.chord_m for s in wing.sections]
    assert min(chords) - 1e-12 <= p.mac_m <= max(chords) + 1e-12


@settings(max_examples=25)
@given(wings(), LENGTH)
def test_the_neutral_point_does_not_care_where_stations_are_counted_from(wing, dx):
    here, there = alone(wing), alone(moved(wing, dx))
    a, b = aero_model(here).neutral_point, aero_model(there).neutral_point
    assert b.x_m == pytest.approx(a.x_m + dx, abs=1e-6)
    assert b.lift_slope == pytest.approx(a.lift_slope, rel=1e-6)


@settings(max_examples=25)
@given(wings())
def test_a_wing_alone_has_its_neutral_point_within_its_own_chords_and_lifts_less_than_a_section(wing):
    airframe = alone(wing)
    n = aero_model(airframe).neutral_point
    front = min(wing.x_m + s.x_offset_m for s in wing.sections)
    rear = max(wing.x_m + s.x_offset_m + s.chord_m for s in wing.sections)
    assert front < n.x_m - n.body_shift_m < rear
    assert 0 < n.lift_slope < 2 * math.pi, "thin-section slope is the limit of an endless wing"


@given(st.lists(st.tuples(MASS, LENGTH, LENGTH, LENGTH), min_size=1, max_size=8), st.data())
def test_mass_and_moment_add_up_in_any_grouping(rows, data):
    items = tuple(Item(f"i{n}", f"item {n}", m, x, y, z) for n, (m, x, y, z) in enumerate(rows))
    whole = sum_items(items)
    cut = data.draw(st.integers(0, len(items)))
    parts = [sum_items(part) for part in (items[:cut], items[cut:]) if part]
    lumps = tuple(Item(f"p{n}", "lump", p.mass_kg, p.x_m, p.y_m, p.z_m) for n, p in enumerate(parts))
    again = sum_items(lumps)
    assert again.mass_kg == pytest.approx(whole.mass_kg)
    for axis in ("x_m", "y_m", "z_m"):
        assert getattr(again, axis) == pytest.approx(getattr(whole, axis), abs=1e-9)
        values = [getattr(i, axis) for i in items]
        assert min(values) - 1e-9 <= getattr(whole, axis) <= max(values) + 1e-9


@settings(max_examples=20)
@given(KEYS, st.floats(-0.5, 0.5))
def test_a_change_of_datum_changes_no_margin_no_speed_and_no_tendency(key, dx):
    c = silhouette_configuration(key, span_m=1.6)
    a, b = bench_answer(c), bench_answer(shift_datum(c, dx, "elsewhere"))
    for one, other in zip(a.numbers, b.numbers, strict=True):
        moved = dx if one.key in ("neutral_point", "balance") else 0.0
        assert other.value == pytest.approx(one.value - moved, rel=1e-6, abs=1e-6 if moved else 1e-9), one.key
    for one, other in zip(a.tendencies, b.tendencies, strict=True):
        assert other.value == pytest.approx(one.value, rel=1e-4, abs=1e-4), one.key


@settings(max_examples=20)
@given(KEYS, st.floats(0.002, 0.06))
def test_moving_the_pack_aft_always_moves_the_balance_aft_and_costs_margin(key, move):
    c = silhouette_configuration(key, span_m=1.6)
    pack = c.battery
    assume(pack is not None and pack.bay_m is not None)
    lower, upper = pack.bay_m
    place = lambda x: replace(c, items=tuple(replace(i, x_m=x) if i.key == pack.key else i for i in c.items))  # noqa: E731
    front, rear = place(lower), place(min(lower + move, upper))
    before, after = balance_of(front), balance_of(rear)
    share = pack.mass_kg / before.mass.mass_kg
    assert after.x_m - before.x_m == pytest.approx(share * (min(lower + move, upper) - lower))
    assert design_of(rear).static_margin < design_of(front).static_margin


@settings(max_examples=20)
@given(KEYS, st.floats(200.0, 3000.0))
def test_height_costs_stall_speed_by_the_square_root_of_density_and_no_margin(key, elevation):
    c = silhouette_configuration(key, span_m=1.6)
    high = replace(c, site_elevation_m=elevation)
    a, b = design_of(c), design_of(high)
    lift = a.aero.cl_max / b.aero.cl_max
    assert b.stall_speed_mps / a.stall_speed_mps == pytest.approx(
        math.sqrt(lift * c.density_kg_m3 / high.density_kg_m3)
    )
    assert 1.0 <= lift < 1.05, "thin air also lowers the Reynolds number a little"
    assert b.static_margin == pytest.approx(a.static_margin)
    assert b.damping < a.damping, "thin air damps less"


@settings(max_examples=15)
@given(KEYS)
def test_a_mirrored_mass_mirrors_the_lateral_balance_only(key):
    c = silhouette_configuration(key, span_m=1.6)
    tip = Item("lead", "lead", 0.03, balance_of(c).x_m, 0.5)
    right = balance_of(replace(c, items=(*c.items, tip)))
    left = balance_of(replace(c, items=(*c.items, replace(tip, y_m=-0.5))))
    assert right.mass.y_m == pytest.approx(-left.mass.y_m)
    assert right.mass.y_m > 0
    assert np.isclose(right.x_m, left.x_m)
