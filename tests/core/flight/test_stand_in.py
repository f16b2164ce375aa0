"""The stand-in: its own consistency with the bench where it must agree."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jinba.core.flight.faults import Faults, Nature
from jinba.core.flight.pilot import SimulatedModel, fly
from jinba.core.flight.plant import build_plant
from jinba.core.flight.trimming import steady_flight
from jinba.core.observe.situation import design_of, situation, trim_elevator_rad
from tests.builders import ZERO, model, with_margin


def test_trim_curve_of_the_stand_in_has_the_bench_neutral_point():
    """Perkins and Hage, 1949, ch. 5 (from memory): d(de)/dCL against balance is a line that is zero at the neutral point."""
    base = replace(model(), airframe=replace(model().airframe, motor=None))
    margins, slopes = (0.04, 0.09, 0.14), []
    for sm in margins:
        c = with_margin(base, sm)
        plant = build_plant([(c, Faults(), Nature(slipstream=0.0))])
        d = design_of(c)
        found = []
        for v in (d.cruise_speed_mps * 0.9, d.cruise_speed_mps * 1.2):
            s = steady_flight(plant, speed=np.array([v]), rudder=np.zeros(1))
            lift = situation(d, ZERO, speed_mps=v).lift
            found.append((lift, float(s.controls.elevator[0])))
        slopes.append((found[0][1] - found[1][1]) / (found[0][0] - found[1][0]))
    line = np.polyfit(margins, slopes, 1)
    assert -line[1] / line[0] == pytest.approx(0.0, abs=0.025), "margin at which trim does not change with speed"


def test_a_faultless_stand_in_trims_where_the_bench_says():
    c = model()
    d = design_of(c)
    plant = build_plant([(c, Faults(), Nature(slipstream=0.0))])
    s = steady_flight(plant, speed=plant.cruise_speed, rudder=np.zeros(1))
    assert s.converged.all()
    expected = trim_elevator_rad(situation(d, ZERO, speed_mps=d.cruise_speed_mps))
    assert float(s.controls.elevator[0]) == pytest.approx(expected, abs=np.radians(0.6))


def test_the_same_seed_flies_the_same_sortie_and_another_seed_another():
    m = SimulatedModel(model("twin_boom_pusher"), Faults(static_margin=-0.03, lateral_cg=0.006), Nature())
    cards = ("F3", "F7")
    assert fly([m], cards, seed=4) == fly([m], cards, seed=4)
    assert fly([m], cards, seed=4) != fly([m], cards, seed=5)


def test_a_model_far_behind_its_neutral_point_cannot_be_left_alone():
    c = with_margin(model("high_wing"), -0.06)
    records = fly([SimulatedModel(c, Faults(), Nature())], ("F2",), seed=1)[0]
    assert records[0].left_alone is False
