"""Adequacy checks against textbook arithmetic, and what more tail, fin or dihedral does to them."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from jinba.core.airframe.planform import planform_of
from jinba.core.bench import adequacy as module
from jinba.core.bench.adequacy import adequacy, cruise_lift, fin_arm_m, fin_volume
from jinba.core.bench.maiden import forward_margin
from jinba.core.configuration import ModelClass, PilotLimits
from jinba.core.observe.situation import design_of
from jinba.core.plan.stops import height_stop
from jinba.core.power.propulsion import THRUST_AT_SPEED
from jinba.core.silhouettes import SILHOUETTES
from jinba.core.spoken import spoken
from tests.builders import model, with_margin


def check(c, key: str):
    return next(a for a in adequacy(design_of(c)) if a.key == key)


def with_wing(c, **changes):
    wing = c.airframe.wing
    new = replace(wing, **changes)
    return replace(
        c, airframe=replace(c.airframe, surfaces=tuple(new if s is wing else s for s in c.airframe.surfaces))
    )


def raised(c, degrees: float):
    rise = math.tan(math.radians(degrees))
    sections = tuple(replace(s, z_offset_m=s.z_offset_m + rise * s.y_m) for s in c.airframe.wing.sections)
    return with_wing(c, sections=sections)


@pytest.mark.parametrize("key", SILHOUETTES)
def test_no_silhouette_starts_with_a_fin_or_tail_out_of_range(key):
    checks = {a.key: a for a in adequacy(design_of(model(key)))}
    assert checks["fin_volume"].passes, checks["fin_volume"]
    assert "tail_volume" not in checks or checks["tail_volume"].passes
    assert all(a.words for a in checks.values())


def test_tail_and_fin_volumes_are_the_textbook_products():
    """V_H = S_t l_t/(S c), V_V = S_v l_v/(S b): Nelson, 1998, eq. 2.25 and 2.79 (from memory)."""
    c = model("high_wing")
    d = design_of(c)
    wing, tail, fin = d.aero.planform, planform_of(c.airframe.pitch_surface), c.airframe.fin
    arm = tail.station_at(0.25) - wing.station_at(0.25)
    assert check(c, "tail_volume").value == pytest.approx(tail.area_m2 * arm / (wing.area_m2 * wing.mac_m))
    expected = fin.area_m2 * fin_arm_m(d) / (wing.area_m2 * wing.span_m)
    assert fin_volume(c.airframe, x_cg_m=d.balance.x_m) == pytest.approx(expected)


def test_the_spiral_example_of_the_method_page():
    """0.137 per second, doubling in 5.0 s, worked by hand in docs/methods/adequacy.md."""
    lift, cl_beta, cn_beta, cl_p, arm = 0.45, -0.035, 0.055, -0.40, 0.45
    cn_r = -2 * cn_beta * arm - 0.02 * lift**2
    root = 9.80665 / 14 * (cl_beta * cn_r - lift / 4 * cn_beta) / (cl_p * cn_beta)
    assert root == pytest.approx(0.137, abs=0.001)
    c = model("low_wing")
    d = design_of(c)
    a, p = d.aero, d.aero.planform
    own_cn_r = -2 * a.cn_beta * fin_arm_m(d) / p.span_m - 0.02 * cruise_lift(d) ** 2
    own = 9.80665 / d.cruise_speed_mps * (a.cl_beta * own_cn_r - cruise_lift(d) / 4 * a.cn_beta) / (a.cl_p * a.cn_beta)
    assert check(c, "spiral").value == pytest.approx(math.log(2) / own, rel=1e-6)


def test_the_dihedral_it_asks_for_levels_the_spiral_and_more_fin_tightens_it():
    c = model("low_wing")
    flat = check(c, "spiral")
    asked = int(flat.words.split("About ")[1].split(" degrees")[0])
    assert check(raised(c, asked), "spiral").value == module._SLOWEST_S
    assert check(raised(c, asked // 2), "spiral").value < module._SLOWEST_S
    fin = replace(c.airframe.fin, height_m=1.5 * c.airframe.fin.height_m)
    taller = check(replace(c, airframe=replace(c.airframe, fin=fin)), "spiral")
    assert taller.value < flat.value


def test_small_tails_and_fins_are_named_with_what_would_do():
    c = model("high_wing")
    tail = c.airframe.pitch_surface
    small = tuple(replace(s, y_m=0.35 * s.y_m) for s in tail.sections)
    surfaces = (c.airframe.wing, replace(tail, sections=small))
    weak = check(replace(c, airframe=replace(c.airframe, surfaces=surfaces)), "tail_volume")
    assert not weak.passes
    grow = int(weak.words.split("%")[0].split()[-1]) / 100
    assert weak.value * (1 + grow) == pytest.approx(weak.low, rel=0.02)
    fin = replace(c.airframe.fin, height_m=0.3 * c.airframe.fin.height_m)
    assert "hunt in yaw" in check(replace(c, airframe=replace(c.airframe, fin=fin)), "fin_volume").words
    bare = check(replace(c, airframe=replace(c.airframe, fin=None)), "fin_volume")
    assert not bare.passes
    assert "A fin would do" in bare.words


def test_thrust_wind_and_field_speak_in_a_pilots_words():
    c = model("high_wing")
    weak = replace(c, airframe=replace(c.airframe, motor=replace(c.airframe.motor, static_thrust_n=3.0)))
    assert "into wind only" in check(weak, "thrust_to_weight").words
    assert check(weak, "thrust_to_weight").value == pytest.approx(
        3.0 / (9.80665 * design_of(weak).balance.mass.mass_kg)
    ), "static thrust, as the classes' limits are"
    assert not check(replace(c, limits=PilotLimits(wind_mps=12.0)), "cruise_over_wind").passes
    assert check(replace(c, model_class=ModelClass.AEROBATIC), "thrust_to_weight").low == 0.9
    high = replace(c, site_elevation_m=2500.0)
    ratio = check(high, "landing_roll").value / check(c, "landing_roll").value
    assert ratio == pytest.approx(c.density_kg_m3 / high.density_kg_m3, rel=0.02), (
        "thin air lengthens the roll as density falls"
    )
    assert not any(a.key in ("thrust_to_weight", "tail_volume") for a in adequacy(design_of(model("tandem"))))


def test_a_pull_below_the_least_drag_is_said_to_hold_no_height():
    """Least drag over lift 2 sqrt(k CD0) of the polar (Anderson, Introduction to Flight, ch. 6, from memory)."""
    c = model("high_wing")
    d = design_of(c)
    weight, lifts = 9.80665 * d.balance.mass.mass_kg, np.linspace(0.1, 1.5, 4000)
    least = min((d.aero.cd_zero + d.aero.induced_factor * lifts**2) / lifts) * weight / THRUST_AT_SPEED
    for share, holds in ((1.03, True), (0.97, False)):
        motor = replace(c.airframe.motor, static_thrust_n=share * least)
        weak = replace(c, airframe=replace(c.airframe, motor=motor))
        found = check(weak, "thrust_to_weight")
        assert not found.passes
        assert ("cannot hold its height" in found.words) is not holds
        assert (height_stop(weak) is None) is holds
    assert height_stop(model("tandem")) is None, "a glider needs none"


@pytest.mark.parametrize("key", ["low_wing", "canard", "flying_wing"])
def test_a_balance_ahead_of_the_forward_limit_is_said(key):
    c = model(key)
    most = forward_margin(design_of(c))
    for off, passes in ((0.02, False), (-0.02, True)):
        found = check(with_margin(c, most + off), "flare")
        assert found.passes is passes
        assert passes or f"{1000 * 0.02 * design_of(c).aero.planform.mac_m:.0f} mm ahead of the foremost" in spoken(
            found.words
        )
