"""The schools side by side, and what each remedy buys."""

from dataclasses import replace

import pytest
from scipy.stats import norm

from jinba.core.bench.answer import bench_answer
from jinba.core.bench.maiden import maiden_point
from jinba.core.configuration import PublishedPoint, balance_of
from jinba.core.observe.situation import design_of
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
        assert s.risk == pytest.approx(norm.cdf(c.rules.minimum, loc=margin, scale=1.5 * sigma), abs=1e-9)
    assert by_key["maiden"].risk <= 0.05, "what the gate lets through"


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
