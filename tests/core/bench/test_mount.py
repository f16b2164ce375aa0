"""Where to mount the wing, mission mass, readings across and in height, and the bench's work order."""

from dataclasses import replace

import pytest

from jinba.core.bench.answer import bench_answer
from jinba.core.bench.arrange import arrangements
from jinba.core.bench.mount import moved, wing_mount
from jinba.core.bench.order import order_said
from jinba.core.configuration import Configuration, JigReading, balance_of, with_carried_jig
from jinba.core.diagnose.update import prior_of
from jinba.core.errors import JinbaError, UnreachableTargetError
from jinba.core.mass.items import Item
from jinba.core.mass.readings import AxisReading, SwungInertia
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import design_of, roll_lag_s, situation
from jinba.core.stability.aero import aero_model
from jinba.core.stability.heights import at_height
from jinba.core.walks import shift_datum
from tests.builders import ZERO, model

BARE = {"bare_mass_kg": 1.1, "wing_mass_kg": 0.5, "wing_x_m": 0.10}


def test_the_whole_balances_where_the_margin_wants_it():
    """The moment sum of fuselage and wing, and the neutral point solved anew with the wing there, give the margin said."""
    c = model("high_wing")
    m = wing_mount(c, bare_x_m=0.07, **BARE)
    total = (1.1 * 0.07 + 0.5 * (m.x_root_m + 0.10)) / 1.6
    there = moved(c.airframe, m.shift_m)
    aero = at_height(there, aero_model(there), z_cg_m=balance_of(c).mass.z_m)
    assert m.x_cg_m == pytest.approx(total, abs=1e-6)
    assert m.static_margin == pytest.approx((aero.neutral_point.x_m - total) / aero.planform.mac_m, abs=1e-4)
    assert m.static_margin > c.rules.minimum


def test_a_tail_heavy_fuselage_wants_its_wing_further_aft_and_the_wing_s_own_mass_is_no_small_thing():
    """Setting the wing by the fuselage alone ignores the wing's own mass (common practice, no source: a known mistake)."""
    c = model("high_wing")
    light, heavy = wing_mount(c, bare_x_m=0.05, **BARE), wing_mount(c, bare_x_m=0.08, **BARE)
    assert heavy.x_root_m > light.x_root_m
    assert abs(heavy.ignoring_wing_m) > 0.002
    assert "the wing weighs too" in heavy.words


def test_a_fuselage_that_no_wing_balances_is_refused_with_what_to_do():
    with pytest.raises(UnreachableTargetError, match="Move the pack or the motor first"):
        wing_mount(model("high_wing"), bare_x_m=3.0, **BARE)


def camera(**more) -> Configuration:
    c = model("high_wing")
    return replace(c, items=(*c.items, Item("cam", "Camera", 0.3, 0.40, fitted=False, to_come=True, **more)))


def test_equipment_still_to_come_counts_in_the_mission_and_not_in_the_test():
    c = camera()
    answer = bench_answer(c)
    assert answer.x_cg_m == pytest.approx(bench_answer(model("high_wing")).x_cg_m)
    assert answer.mission.added_kg == pytest.approx(0.3)
    assert answer.mission.x_cg_m > answer.x_cg_m
    assert answer.mission.stall_speed_mps > design_of(c).stall_speed_mps
    assert {"B7", "F2"} <= set(answer.mission.fly_again)
    assert "plan the re-test now" in answer.mission.words
    assert bench_answer(model()).mission is None


def test_an_item_is_not_on_board_and_to_come_at_once():
    with pytest.raises(JinbaError, match="choose one"):
        Item("a", "Camera", 0.1, 0.0, fitted=True, to_come=True)


def read(c: Configuration) -> Configuration:
    y, z = balance_of(c).mass.y_m, balance_of(c).mass.z_m
    return replace(
        c,
        jig=JigReading(0.061, 0.002, balance_of(c).x_m),
        across=AxisReading(0.004, 0.001, y, "tip mass"),
        height=AxisReading(-0.012, 0.004, z, "hung"),
    )


def test_readings_rule_and_are_carried_exactly_over_added_mass():
    """(m r + dm p)/(m + dm) on each axis, worked by hand here."""
    before = read(model())
    m = balance_of(before).mass.mass_kg
    after = with_carried_jig(before, replace(before, items=(*before.items, Item("b", "Lead", 0.05, -0.2, 0.3, 0.02))))
    b = balance_of(after)
    by_hand = [(m * r + 0.05 * p) / (m + 0.05) for r, p in ((0.061, -0.2), (0.004, 0.3), (-0.012, 0.02))]
    assert (b.x_m, b.mass.y_m, b.mass.z_m) == pytest.approx(by_hand, abs=1e-12)


def test_a_lateral_reading_narrows_the_heavy_wing_and_moves_the_prediction():
    c = model("low_wing")
    right = read(c)
    prior = prior_of(design_of(right))
    assert prior.sigma[P.LATERAL_CG] < prior_of(design_of(c)).sigma[P.LATERAL_CG]
    assert situation(design_of(right), ZERO, speed_mps=12.0).lateral_cg > 0


def test_swung_inertia_replaces_the_estimate():
    c = model("low_wing")
    d = design_of(c)
    slow = design_of(replace(c, swung=SwungInertia(roll_kg_m2=2 * d.roll_inertia_kg_m2)))
    at = [roll_lag_s(situation(x, ZERO, speed_mps=12.0)) for x in (d, slow)]
    assert at[1] == pytest.approx(2 * at[0])
    assert slow.pitch_inertia_kg_m2 == d.pitch_inertia_kg_m2


def test_the_work_order_expects_a_reading_and_judges_it_in_words():
    c = replace(read(model("low_wing")), order=None)
    order = arrangements(c, target_x_m=balance_of(c).x_m - 0.008).proposals[0].setup.order
    assert order.expected_m == pytest.approx(balance_of(c).x_m - 0.008, abs=0.002)
    assert "Fingers" in order.place_words
    done = replace(order, steps=tuple(replace(s, done=True) for s in order.steps))
    said = lambda reading: order_said(replace(c, order=replace(done, reading_m=reading))).words  # noqa: E731
    assert order_said(c) is None
    assert "steps to do" in order_said(replace(c, order=order)).words
    assert "now read the balance" in said(None)
    assert said(order.expected_m + 0.001).startswith("Proved")
    assert "further aft than computed" in said(order.expected_m + 0.010)
    assert "further forward than computed" in said(order.expected_m - 0.010)


def test_the_datum_moves_the_work_order_along():
    c = read(model("low_wing"))
    c = arrangements(c, target_x_m=balance_of(c).x_m - 0.005).proposals[0].setup
    there = shift_datum(c, 0.1, "nose")
    assert there.order.expected_m == pytest.approx(c.order.expected_m - 0.1)
