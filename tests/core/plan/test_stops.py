"""What stops a sortie: the margin by its own evidence, the pack, the work order; a reason overrides, nothing else does."""

from __future__ import annotations

import math
import re
from dataclasses import replace

import pytest
from scipy.stats import norm

from jinba.core.bench.maiden import maiden_point
from jinba.core.configuration import JigReading, Launch
from jinba.core.diagnose.tendencies import tendencies
from jinba.core.diagnose.update import prior_belief
from jinba.core.errors import JinbaError, RefusedError
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import design_of
from jinba.core.plan.sign_off import criteria, signed
from jinba.core.plan.stops import HAND_THROW_MPS, balance_stop, launch_stop, minutes_stop, overridden, work_stop
from jinba.core.said import finding
from jinba.core.silhouettes import SILHOUETTES
from jinba.core.spoken import spoken
from tests.builders import model, trimmed, with_margin


def millimetres(pattern: str, words: str) -> float:
    found = re.search(pattern, spoken(words))
    assert found is not None, spoken(words)
    return float(found.group(1))


def test_behind_the_neutral_point_it_will_not_fly_and_says_how_far_to_move():
    """6 % behind: so many millimetres of the chord; forward until 5 % chance is left, a misread balance counted in (scipy)."""
    c = with_margin(model(), -0.06)
    d = design_of(c)
    mac, sigma = 1000.0 * d.aero.planform.mac_m, math.hypot(d.static_margin_sigma, math.sqrt(0.2) * 0.05)
    stop = balance_stop(c, None)
    assert stop is not None
    assert stop.stops
    assert millimetres(r"Balance: ([\d.]+) mm behind the neutral point, it will not fly", stop.words) == pytest.approx(
        0.06 * mac, abs=0.6
    )
    forward = millimetres(r"Move the balance point at least ([\d.]+) mm forward", stop.words)
    assert forward == pytest.approx((c.rules.minimum + norm.ppf(0.95) * sigma + 0.06) * mac, abs=0.6)


@pytest.mark.parametrize("sigmas", [1.6, 1.7])
@pytest.mark.parametrize("twice", [False, True])
def test_five_percent_is_where_it_stops_and_a_second_reading_that_agrees_lets_it_go_further_aft(sigmas, twice):
    """1.645 sigmas over the class minimum (table of the normal distribution), with a misreading in them until it was read twice."""
    c = with_margin(model(), 0.09)
    if twice:
        c = replace(c, jig=replace(c.jig, again_m=c.jig.x_m))
    d = design_of(c)
    sigma = d.static_margin_sigma if twice else math.hypot(d.static_margin_sigma, math.sqrt(0.2) * 0.05)
    x = d.aero.neutral_point.x_m - (c.rules.minimum + sigmas * sigma) * d.aero.planform.mac_m
    c = replace(c, jig=replace(c.jig, x_m=x, items_x_m=d.balance.mass.x_m, again_m=x if twice else None))
    stop = balance_stop(c, None)
    assert (stop is not None) is (sigmas < 1.645)
    assert stop is None or "a chance of" in stop.words


def test_what_the_flights_say_counts_and_not_the_bench_alone():
    c = with_margin(model(), 0.12)
    sure = prior_belief(static_margin_sigma=0.01)
    assert balance_stop(c, sure) is None
    mean = sure.mean.copy()
    mean[P.STATIC_MARGIN] = -0.10
    assert balance_stop(c, replace(sure, mean=mean)) is not None


@pytest.mark.parametrize("layout", SILHOUETTES)
def test_the_maiden_point_passes_its_own_gate(layout):
    """Two pages never say different things: what the bench recommends is not stopped by the plan."""
    c = model(layout)
    c = replace(c, jig=JigReading(c.items[0].x_m, 0.002, design_of(c).balance.mass.x_m))
    point = maiden_point(design_of(c))
    c = replace(c, jig=JigReading(point.aft_limit_m - 1e-5, 0.002, design_of(c).balance.mass.x_m))
    assert balance_stop(c, None) is None


def test_the_pack_and_the_work_order_stop_it_too():
    assert minutes_stop(6.0, 6.0) is None
    too_long = minutes_stop(6.1, 2.3)
    assert too_long is not None
    assert "6.1 minutes" in spoken(too_long.words)
    assert work_stop(0) is None
    assert [work_stop(n).words.split(" not proved")[0] for n in (1, 3)] == [  # type: ignore[union-attr]
        "Work order: 1 action is",
        "Work order: 3 actions are",
    ]


def test_only_a_reason_in_words_overrides_and_each_stop_wants_its_own():
    stops = tuple(s for s in (work_stop(1), minutes_stop(9.0, 6.0)) if s is not None)
    for reasons in ({}, {"work_order": "ok"}, {"work_order": "   .    "}, {"work_order": "proved on paper"}):
        with pytest.raises(RefusedError, match="say why"):
            overridden(stops, reasons)
    why = {"work_order": "proved on paper", "minutes": "fresh pack, 12 minutes", "balance": "not asked"}
    assert [reason for _, reason in overridden(stops, why)] == ["proved on paper", "fresh pack, 12 minutes"]
    assert overridden((), {}) == ()
    with pytest.raises(JinbaError, match="at most 300"):
        overridden(stops[:1], {"work_order": "x" * 301})


def test_a_model_that_stalls_faster_than_a_hand_throws_is_not_thrown():
    """Nine metres a second is a good throw (common practice, no source)."""
    slow, fast = model("sailplane"), model("low_wing", span_m=3.0)
    assert design_of(slow).stall_speed_mps < HAND_THROW_MPS < design_of(fast).stall_speed_mps
    assert launch_stop(replace(slow, launch=Launch.HAND)) is None
    for launch in (Launch.WHEELS, Launch.BUNGEE):
        assert launch_stop(replace(fast, launch=launch)) is None
    stop = launch_stop(replace(fast, launch=Launch.HAND))
    assert stop is not None
    assert stop.stops
    assert "a hand throws 9 m/s at best" in spoken(stop.words)


def test_everything_has_to_be_so_before_a_model_is_signed_off():
    """Each criterion alone keeps it open; with a reason what is missing is written down (found by review: there was no end)."""
    c = with_margin(model(), 0.09)
    fine = tuple(replace(t, settled=True) for t in tendencies(c, prior_belief(static_margin_sigma=0.01), trimmed(c)))
    clicked = c.with_control(replace(c.elevator, clicks=9))
    good = {"flown": frozenset(), "open_actions": 0, "went_wrong": (), "contradictions": ()}
    assert all(k.met for k in criteria(c, fine, **good))
    assert signed(criteria(c, fine, **good), by="me", remark="") == ("me", "", ())
    cases = [
        (c, (replace(fine[0], settled=False), *fine[1:]), good),
        (clicked, fine, good),
        (c, fine, good | {"open_actions": 1}),
        (c, fine, good | {"went_wrong": ("F1 was broken off",)}),
        (c, fine, good | {"contradictions": (finding("cards", "F12 against F13"),)}),
    ]
    stall = tuple(replace(t, settled=t.key != "stall_speed", out=False) for t in fine)
    assert [k.met for k in criteria(c, stall, **good)].count(False) == 1
    assert all(k.met for k in criteria(c, stall, **good | {"flown": frozenset({"F8"})})), (
        "not every model reads its airspeed"
    )
    for setup, after, more in cases:
        found = criteria(setup, after, **more)
        (missing,) = [k.words for k in found if not k.met]
        with pytest.raises(RefusedError, match="Not all is as it should be"):
            signed(found, by="me", remark="")
        assert signed(found, by="me", remark="the buyer knows") == ("me", "the buyer knows", (missing,))
