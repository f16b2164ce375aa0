"""The bench as hands know it: orders carried out exactly by exact hands, nearly by human ones, blunders as often as said."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from bench.loop.fleet import LAYOUTS, draw_case
from bench.loop.trial import Method, trial
from jinba.core.configuration import balance_of
from jinba.core.flight.piloting.sortie import Truth
from jinba.core.flight.workshop import EXACT, NONE, Blunders, Hands, carried_out, draw_truth, flown_with, pack_elsewhere
from jinba.core.mass.items import Item, ItemKind
from jinba.core.observe.situation import design_of
from tests.builders import model


def ordered():
    """A setup, and the same with the pack 20 mm forward, lead in a tip, a washer and half a turn of the elevator."""
    before = model()
    motor = before.airframe.motor
    assert motor is not None
    items = tuple(replace(i, x_m=i.x_m - 0.02) if i.kind is ItemKind.BATTERY else i for i in before.items)
    after = replace(
        before,
        items=(*items, Item("tip-left", "Tip", 0.01, 0.1, -0.7)),
        airframe=replace(before.airframe, motor=replace(motor, tilt_down_rad=motor.tilt_down_rad + 0.02)),
    )
    elevator = replace(after.elevator, mechanical_rad=after.elevator.mechanical_rad - 0.01, clicks=2)
    return before, after.with_control(elevator)


def test_exact_hands_do_what_was_ordered_and_leave_what_was_different_already():
    before, after = ordered()
    real = replace(before, items=tuple(replace(i, x_m=i.x_m + 0.004) for i in before.items))
    done = carried_out(Truth(real), before, after, np.random.default_rng(1), EXACT).real
    for item in after.items:
        there = next(i for i in done.items if i.key == item.key)
        was = 0.004 if item.key != "tip-left" else 0.0
        assert (there.x_m, there.mass_kg) == pytest.approx((item.x_m + was, item.mass_kg))
    assert done.airframe.motor == after.airframe.motor
    assert done.elevator.resting_rad == pytest.approx(after.elevator.resting_rad)


def test_human_hands_are_near_and_now_and_then_wrong_or_idle():
    before, after = ordered()
    rng = np.random.default_rng(2)
    turned = [carried_out(Truth(before), before, after, rng, Hands()).real.elevator.mechanical_rad for _ in range(3000)]
    shares = (np.array(turned) - before.elevator.mechanical_rad) / -0.01
    assert np.mean(shares < 0) == pytest.approx(0.007, abs=0.005)
    assert np.std(shares[shares > 0]) == pytest.approx(0.06, abs=0.01)
    idle = carried_out(Truth(before), before, after, rng, replace(EXACT, not_done=1.0)).real
    assert idle.items == before.items
    assert idle.elevator.clicks == 2, "clicks are the radio's: they are what they are"


def test_clicks_of_the_flight_are_in_the_model_too():
    before = model()
    landed = before.with_control(replace(before.elevator, clicks=before.elevator.clicks + 5))
    assert flown_with(Truth(before), before, landed).real.elevator.clicks == before.elevator.clicks + 5


def test_balances_are_misread_as_often_and_as_far_as_said():
    bench = model()
    mac = design_of(bench).aero.planform.mac_m
    bench = replace(bench, jig=replace(draw_truth(bench, np.random.default_rng(0), NONE).real.jig, sigma_m=0.0006))

    def errors(blunders: Blunders) -> np.ndarray:
        found = [
            balance_of(draw_truth(bench, np.random.default_rng(i), blunders).real).x_m - balance_of(bench).x_m
            for i in range(300)
        ]
        return np.abs(found) / mac

    assert (errors(NONE) < 0.02).all()
    far = errors(replace(NONE, misread=0.25, least=0.025, most=0.065))
    assert np.mean(far > 0.022) == pytest.approx(0.25, abs=0.07)
    assert far.max() < 0.08


def test_a_pack_put_back_elsewhere_stays_in_its_bay_for_one_sortie():
    truth = Truth(model())
    moved = pack_elsewhere(truth, np.random.default_rng(1), replace(NONE, elsewhere=1.0)).real.battery
    assert moved is not None
    assert truth.real.battery is not None
    assert moved.x_m != truth.real.battery.x_m
    assert pack_elsewhere(truth, np.random.default_rng(1), NONE) is truth


def test_one_loop_with_every_second_layout_goes_the_right_way():
    """One sortie each: a sign wrong in any room would drive them apart. The statistics are ``bench/closed_loop.py``."""
    first: dict[str, list[float]] = {"clicks": [], "roll_cruise": []}
    last: dict[str, list[float]] = {"clicks": [], "roll_cruise": []}
    for number in range(0, len(LAYOUTS), 2):
        out = trial(draw_case(number, seed=12, blunders=NONE), Method("estimator"), blunders=NONE, cap=2)
        for key in first:
            first[key].append(min(out.states[0].over[key], 9.0))
            last[key].append(min(out.states[-1].over[key], 9.0))
    for key in first:
        assert np.mean(last[key]) < 0.6 * np.mean(first[key]), key
