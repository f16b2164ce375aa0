"""Fuel burns: balance with the tank empty, by hand; where it turns unsafe it stops."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jinba.core.bench.answer import bench_answer
from jinba.core.bench.fuel import burnt_out, tank_empty
from jinba.core.configuration import JigReading, balance_of
from jinba.core.mass.items import Item, ItemKind
from jinba.core.observe.situation import design_of
from jinba.core.plan.stops import balance_stop, fuel_stop
from jinba.core.silhouettes import silhouette_configuration

PLAIN = silhouette_configuration("low_wing", span_m=1.6)


def with_tank(x_m, kg=0.3, read=True):
    tank = Item("tank", "Tank, full", kg, x_m, kind=ItemKind.FUEL)
    c = replace(PLAIN, items=(*PLAIN.items, tank))
    x = balance_of(c).x_m
    return replace(c, jig=JigReading(x, 0.002, x)) if read else c


@pytest.mark.parametrize(("ahead_m", "way"), [(0.25, "aft"), (-0.25, "forward")])
def test_a_tank_ahead_of_the_balance_point_leaves_it_further_aft_when_it_is_empty(ahead_m, way):
    """By moments: x' = (M x - m x_t) / (M - m), read on the jig with the tank full."""
    at = balance_of(PLAIN).x_m - ahead_m
    c = with_tank(at)
    total, x = balance_of(c).mass.mass_kg, balance_of(c).x_m
    by_hand = (total * x - 0.3 * at) / (total - 0.3)
    found = tank_empty(c, x_np_m=design_of(c).aero.neutral_point.x_m)
    assert found.x_cg_m == pytest.approx(by_hand, abs=1e-6)
    assert found.burnt_kg == pytest.approx(0.3)
    assert f"further {way}" in found.words
    assert (found.static_margin < design_of(c).static_margin) is (way == "aft")
    assert bench_answer(c).tank_empty == found


def test_what_is_safe_full_and_not_empty_stops_and_says_of_which_tank():
    forward = replace(PLAIN, items=tuple(replace(i, x_m=i.x_m - 0.06) for i in PLAIN.items))
    at = balance_of(forward).x_m - 0.35
    c = replace(forward, items=(*forward.items, Item("tank", "Tank", 1.2, at, kind=ItemKind.FUEL)))
    x = balance_of(c).x_m
    # A tank this heavy takes most of the margin with it as it empties.
    shift = design_of(replace(c, jig=JigReading(x, 0.002, x))).static_margin - 0.14
    x += shift * design_of(c).aero.planform.mac_m
    c = replace(c, jig=JigReading(x, 0.002, balance_of(replace(c, jig=None)).x_m))
    assert balance_stop(c, None) is None
    stop = fuel_stop(c, None)
    assert stop.code == "fuel"
    assert stop.words.startswith("Tank empty: ")
    assert fuel_stop(replace(c, items=forward.items), None) is None


def test_a_model_without_fuel_burns_none_and_a_tank_on_the_shelf_counts_for_nothing():
    assert burnt_out(PLAIN) is None
    off = replace(PLAIN, items=(*PLAIN.items, Item("tank", "Tank", 0.3, 0.0, kind=ItemKind.FUEL, fitted=False)))
    assert burnt_out(off) is None
    assert fuel_stop(PLAIN, None) is None
