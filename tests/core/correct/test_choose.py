"""Which changes are made: the expectation by another integration, safety before any cost, and what was left out is said."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import norm

from jinba.core.correct import choose
from jinba.core.correct import compose as compose_
from jinba.core.correct.actions import ActionKind, HeldBack
from jinba.core.correct.choose import beyond, loss
from jinba.core.correct.compose import compose
from jinba.core.correct.composed import Choices
from jinba.core.mass.items import ItemKind
from tests.builders import ALL_SEEN, model, trimmed, with_margin
from tests.core.correct.test_compose import kinds, knowing


@settings(max_examples=25, deadline=None)
@given(st.floats(-20, 20), st.floats(0.2, 6), st.floats(-8, 3), st.floats(0.5, 9))
def test_how_far_beyond_its_band_is_the_expectation_by_numeric_integration(value, sigma, low, width):
    high = low + width
    out = norm.expect(lambda x: max(x - high, low - x, 0.0), loc=value, scale=sigma, epsabs=1e-8, limit=200)
    assert beyond(value, sigma, (low, high)) == pytest.approx(out / (0.5 * width), rel=1e-3, abs=1e-4)


def raised_motor(by: float):
    c = with_margin(model(), 0.09)
    return replace(c, airframe=replace(c.airframe, motor=replace(c.airframe.motor, z_m=c.airframe.motor.z_m + by)))


def test_washers_that_are_worth_their_work_are_ordered_and_others_are_left_with_what_would_open_them(monkeypatch):
    c, belief = raised_motor(0.08), knowing()
    worth = compose(c, belief, trimmed(c), ALL_SEEN)
    assert ActionKind.THRUST_LINE in kinds(worth)
    monkeypatch.setitem(choose.COSTS, ActionKind.THRUST_LINE, 50.0)
    left = compose(c, belief, trimmed(c), ALL_SEEN)
    assert ActionKind.THRUST_LINE not in kinds(left)
    held = next(h for h in left.held_back if h.kind is ActionKind.THRUST_LINE)
    assert held.words.startswith("Not done: ")
    assert held.cards == ("F5",)
    assert left.configuration.airframe.motor == c.airframe.motor


def test_what_is_made_is_never_worse_in_expectation_than_the_whole_or_nothing():
    for c in (raised_motor(0.08), raised_motor(0.03), with_margin(model(), 0.16)):
        belief = knowing()
        found = loss(compose(c, belief, trimmed(c), ALL_SEEN), belief)
        nothing = Choices(battery_m=0.0, use_thrust_line=False, use_tip_ballast=False)
        assert found <= loss(compose(c, belief, trimmed(c), ALL_SEEN, nothing), belief) + 1e-9


def test_a_margin_that_may_be_too_small_is_mended_whatever_it_costs(monkeypatch):
    """No work is too much for a model that may be unstable: the chance of too little margin is no price but a limit."""
    for kind in choose.COSTS:
        monkeypatch.setitem(choose.COSTS, kind, 1e6)
    c = with_margin(model(), 0.02)
    found = compose(c, knowing(), trimmed(c), ALL_SEEN)
    assert ActionKind.MOVE_BATTERY in kinds(found)
    assert "forward" in found.actions[0].words


def test_the_pilots_own_place_for_the_pack_is_kept():
    c = with_margin(model(), 0.09)
    battery = next(i for i in c.items if i.kind is ItemKind.BATTERY)
    found = compose(c, knowing(), trimmed(c), ALL_SEEN, Choices(battery_m=0.010))
    after = next(i for i in found.configuration.items if i.key == battery.key)
    assert after.x_m == pytest.approx(battery.x_m + 0.010, abs=1e-9)


def test_a_reading_the_whole_set_waits_for_is_waited_for_when_the_set_is_cut(monkeypatch):
    """Lead that waits for another reading of the balance stays waiting, whatever else is left out."""
    monkeypatch.setitem(choose.COSTS, ActionKind.THRUST_LINE, 50.0)
    c, belief = raised_motor(0.08), knowing()
    waits = HeldBack(ActionKind.BALLAST, "Read the balance again, another way.", (), reading=True)

    def composed(allowed: Choices):
        # Balance is taken out by its switch: then nothing is left that would wait.
        monkeypatch.setattr(compose_, "chosen", lambda allowed, belief, composed: composed(allowed))
        found = compose(c, belief, trimmed(c), ALL_SEEN, allowed)
        return replace(found, held_back=(*found.held_back, waits) if allowed.use_thrust_line else found.held_back)

    cut = choose.chosen(Choices(), belief, composed)
    assert ActionKind.THRUST_LINE not in kinds(cut)
    assert cut.held_back.count(waits) == 1
