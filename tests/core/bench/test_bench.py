"""The bench's answer: maiden point, risk, fingers, and invariances of the whole."""

import math
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import norm

from jinba.core.airframe.planform import chord_at
from jinba.core.bench.answer import bench_answer
from jinba.core.bench.maiden import forward_margin, maiden_point
from jinba.core.configuration import JigReading, PublishedPoint, balance_of
from jinba.core.observe.situation import design_of
from jinba.core.said import Severity
from jinba.core.silhouettes import SILHOUETTES
from jinba.core.spoken import spoken
from jinba.core.walks import shift_datum
from tests.builders import model, with_margin


def test_the_maiden_point_keeps_the_risk_under_one_percent():
    """x = x_np - MAC (SM_min + max(2.33 sigma, 1.645 sigma_m)), x_np the foremost of power off and on: 1 % by the normal distribution
    (scipy), and 5 % at most with a misread balance in sigma_m."""
    c = model()
    d, m = design_of(c), maiden_point(design_of(c))
    assert m.x_m is not None
    foremost = min(d.aero.neutral_point.x_m, d.aero.neutral_point.x_power_on_m)
    margin = (foremost - m.x_m) / d.aero.planform.mac_m
    sigma = m.sigma_m / d.aero.planform.mac_m
    assert norm.cdf(m.minimum_margin, loc=margin, scale=sigma) <= 0.01 + 1e-9
    wide = math.hypot(sigma, math.sqrt(0.2) * 0.05)
    assert norm.cdf(m.minimum_margin, loc=margin, scale=wide) <= 0.05 + 1e-9
    assert margin - m.minimum_margin == pytest.approx(max(2.3263 * sigma, 1.6449 * wide), rel=1e-4)
    assert m.forward_limit_m < m.x_m


def test_worked_example_of_the_margin_arithmetic():
    """Neutral point sigma 2.5 %, jig 3 mm on 250 mm, minimum 5 %: 11.5 % = 28.6 mm ahead of it (worked by hand)."""
    sigma = (0.025**2 + (3 / 250) ** 2) ** 0.5
    assert (0.05 + 2.326 * sigma) * 250 == pytest.approx(28.6, abs=0.1)


def test_without_elevator_there_is_no_point_and_it_says_measure_better_or_more_throw():
    c = model()
    weak = replace(c, elevator=replace(c.elevator, throw_rad=0.02))
    m = maiden_point(design_of(weak))
    assert m.x_m is None
    assert not m.reachable
    assert "measure better" in m.words
    assert forward_margin(design_of(weak)) < forward_margin(design_of(c))


def test_a_published_point_behind_the_safe_one_is_called_out():
    c = model()
    safe = maiden_point(design_of(c)).x_m
    assert safe is not None
    behind = maiden_point(design_of(replace(c, published=PublishedPoint(safe + 0.02))))
    assert "do not use it without a reason" in behind.published.words
    fine = maiden_point(design_of(replace(c, published=PublishedPoint(safe - 0.003))))
    assert "agrees" in fine.published.words


def test_no_number_loses_its_sign_a_balance_behind_the_neutral_point_is_called_unstable():
    """The bench once showed a margin of -11.6 % as "11.6 %"."""
    c = model()
    x = balance_of(c).x_m
    tail_heavy = replace(c, jig=JigReading(x + 0.09, 0.002, x))
    ahead = shift_datum(tail_heavy, 0.5, "tail")
    negative = {n.key: n.below_zero for s in (tail_heavy, ahead) for n in bench_answer(s).numbers if n.value < 0}
    assert negative == {"static_margin": "behind: unstable", "neutral_point": "ahead", "balance": "ahead"}
    read = replace(c, order=None, published=PublishedPoint(x + 0.09))
    said = bench_answer(read).maiden.published
    assert said is not None
    assert (said.code, said.severity) == ("behind", Severity.WARNING), "decided by code, not by its words"


def test_the_jig_counts_and_the_disagreement_is_shown():
    c = model()
    x = balance_of(c).x_m
    read = replace(c, jig=JigReading(x + 0.014, 0.002, x))
    a = bench_answer(read)
    assert a.x_cg_m == pytest.approx(x + 0.014)
    assert "14 mm behind the sum of items" in spoken(a.disagreement.words)
    battery = read.battery
    assert battery is not None
    moved = replace(read, items=tuple(replace(i, x_m=i.x_m - 0.05) if i is battery else i for i in read.items))
    expected = x + 0.014 - 0.05 * battery.mass_kg / balance_of(c).mass.mass_kg
    assert bench_answer(moved).x_cg_m == pytest.approx(expected), "a later move carries the reading with it"


def test_fingers_are_named_at_their_own_leading_edge():
    """On a swept wing the same station lies at another distance behind the local leading edge."""
    c = model("sailplane")
    f = bench_answer(c).fingers
    leading, _ = chord_at(c.airframe.wing, f.y_m)
    assert leading + f.behind_le_m == pytest.approx(bench_answer(c).x_cg_m)
    assert f.y_m > c.airframe.body.width_m / 2


@pytest.mark.parametrize("key", sorted(SILHOUETTES))
def test_every_silhouette_starts_safe(key):
    a = bench_answer(model(key, span_m=1.8))
    assert a.risk < 0.05, "a new model starts where its gate lets it fly"
    assert a.maiden.reachable
    assert not a.caveats
    assert len({n.key for n in a.numbers}) == len(a.numbers)


@settings(max_examples=15, deadline=None)
@given(st.floats(-0.8, 0.8), st.sampled_from(sorted(SILHOUETTES)))
def test_another_datum_changes_no_margin_and_no_tendency(dx, key):
    c = with_margin(model(key), 0.11)
    a, b = bench_answer(c), bench_answer(shift_datum(c, dx, "elsewhere"))
    assert b.static_margin == pytest.approx(a.static_margin, abs=1e-9)
    assert b.maiden.aft_limit_m == pytest.approx(a.maiden.aft_limit_m - dx, abs=1e-9)
    assert [t.value for t in b.tendencies] == pytest.approx([t.value for t in a.tendencies], abs=1e-6)


@settings(max_examples=10, deadline=None)
@given(st.floats(0.5, 3.0))
def test_margins_do_not_depend_on_size(factor):
    a, b = model("low_wing", span_m=1.2), model("low_wing", span_m=1.2 * factor)
    at = [d.aero.planform.fraction_at(d.aero.neutral_point.x_m) for d in (design_of(a), design_of(b))]
    assert at[0] == pytest.approx(at[1], abs=1e-4)
    assert design_of(b).aero.cl_p == pytest.approx(design_of(a).aero.cl_p, rel=1e-4)


def test_a_hot_day_raises_the_stall_speed_by_the_square_root_of_density():
    """20 K above standard: density -6.5 %, stall speed +3.4 % (ISO 2533 with the ideal gas law, by hand)."""
    c = model()
    hot = replace(c, site_temperature_k=308.15)
    assert hot.density_kg_m3 / c.density_kg_m3 == pytest.approx(288.15 / 308.15, rel=1e-9)
    assert design_of(hot).stall_speed_mps / design_of(c).stall_speed_mps == pytest.approx(1.034, abs=0.006)
    stall = next(n for n in bench_answer(hot).numbers if n.key == "stall_speed")
    assert any(i.name == "density altitude" and spoken(i.words).startswith("6") for i in stall.reason.inputs)
