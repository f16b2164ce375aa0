"""The schools side by side, and what each remedy buys."""

import math
from dataclasses import replace

import pytest
from scipy.stats import norm

from jinba.core.airframe.planform import planform_of
from jinba.core.bench.answer import bench_answer
from jinba.core.bench.maiden import forward_margin, maiden_point
from jinba.core.bench.remedies import remedies
from jinba.core.configuration import PublishedPoint, balance_of
from jinba.core.observe.situation import design_of
from jinba.core.stability.aero import aero_model
from jinba.core.stability.loads import solve_loads
from jinba.core.stability.neutral_point import SECTION_SLOPE_RATIO
from jinba.core.stability.sections import flap_effectiveness, section_of, wing_cl_max
from tests.builders import model


def test_computed_points_stand_beside_the_rules_with_their_risk():
    c = model("high_wing")
    c = replace(c, published=PublishedPoint(balance_of(c).x_m, "plan"))
    answer = bench_answer(c)
    by_key = {s.key: s for s in answer.schools}
    assert list(by_key) == ["maiden", "target", "common", "undocumented", "published"]
    assert [s.computed for s in answer.schools] == [True, True, False, False, False]
    for s in answer.schools:
        margin = (answer.x_np_m - s.to_m) / answer.mac_m
        sigma = answer.static_margin_sigma
        assert s.risk == pytest.approx(norm.cdf(c.rules.minimum, loc=margin, scale=sigma), abs=1e-9)
    assert by_key["maiden"].risk <= 0.05 + 1e-9, "what the gate lets through"


@pytest.mark.parametrize(("key", "rules"), [("flying_wing", []), ("canard", []), ("triplane", ["multi"])])
def test_rules_for_a_tailed_monoplane_are_not_said_of_other_layouts(key, rules):
    """A third of the reference chord is said of several wings; nothing of flying wings and canards (common practice)."""
    assert [s.key for s in bench_answer(model(key)).schools if not s.computed] == rules


def weak_elevator():
    c = model()
    return replace(c, elevator=replace(c.elevator, throw_rad=0.06))


def test_when_the_limits_cross_each_remedy_says_what_it_buys():
    c = weak_elevator()
    d = design_of(c)
    maiden = maiden_point(d)
    assert not maiden.reachable
    found = {r.key: r for r in bench_answer(c).remedies}
    assert set(found) == {"measure", "throw"}, "none that leaves more than 5 % risk"
    assert found["measure"].aft_limit_m > maiden.aft_limit_m
    assert found["throw"].forward_limit_m < maiden.forward_limit_m
    assert "The limits still cross" in found["throw"].words
    for r in found.values():
        assert r.room_m == pytest.approx(r.aft_limit_m - r.forward_limit_m)


def test_a_foreplane_that_stalls_in_the_flare_lifts_no_more_with_more_throw():
    """Found by review: forward limit and "25 % more throw" took a foreplane for unstallable. Its lift is summed here anew."""
    c = model("canard")
    d = design_of(c)
    limit = d.aero.foreplane_limit_rad
    assert limit < 0.85 * d.elevator_throw_rad, "it stalls before it runs out of throw"
    further = replace(d, elevator_throw_rad=1.5 * d.elevator_throw_rad)
    assert forward_margin(further) == pytest.approx(forward_margin(d))
    assert not any(r.key == "throw" for r in remedies(d, maiden_point(d)))
    less = replace(d, elevator_throw_rad=limit / 2.0)
    assert forward_margin(less) < forward_margin(d)
    assert any(r.key == "throw" for r in remedies(less, maiden_point(less)))
    assert design_of(model("high_wing")).aero.foreplane_limit_rad == math.inf
    loads = solve_loads(
        c.airframe,
        zero_lift_rad=tuple(section_of(s).zero_lift_rad for s in c.airframe.surfaces),
        section_slope=SECTION_SLOPE_RATIO,
    )
    i = c.airframe.surfaces.index(c.airframe.pitch_surface)
    own = planform_of(c.airframe.pitch_surface)
    area, peak = d.aero.planform.area_m2, aero_model(c.airframe).cl_max
    alpha = (peak / 1.21 * area - sum(x.lift_m2 for x in loads.base)) / sum(x.lift_m2 for x in loads.alpha)
    flapped = limit * 0.85 * flap_effectiveness(c.airframe.pitch_surface.hinge_fraction) * loads.elevator[i].lift_m2
    carried = loads.base[i].lift_m2 + alpha * loads.alpha[i].lift_m2 + flapped
    highest = wing_cl_max(section_of(c.airframe.pitch_surface), taper=own.taper) + 0.25
    assert carried / own.area_m2 == pytest.approx(highest, rel=1e-6)
