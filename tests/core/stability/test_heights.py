"""What lies above or below the balance point: against the independent simulation, the closed form of the trade, and in words."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from bench.loop.judge import _swept
from jinba.core.flight.simulation.craft import craft_of
from jinba.core.observe.parameters import COUNT
from jinba.core.observe.situation import design_of, elevator_for_load_rad, load_factor, situation
from jinba.core.stability.aero import OSWALD_EFFICIENCY, aero_model
from jinba.core.stability.heights import height_moment
from tests.builders import model

TAILED = ("high_wing", "low_wing", "twin_boom_pusher", "sailplane", "v_tail", "biplane", "canard", "tandem")


@pytest.mark.parametrize("layout", TAILED)
def test_moment_and_margin_at_no_lift_and_how_they_bend_are_those_of_the_independent_flight(layout):
    """Fitted to a sweep of the simulation, power off: margin within 2.5 % MAC (4.4 before on a tandem), the bend within a third."""
    c = model(layout)
    d = design_of(c)
    lifts, moments = _swept(craft_of(c), d.cruise_speed_mps)
    attached = np.abs(lifts) < 1.0
    square, slope, _ = np.polyfit(lifts[attached], moments[attached], 2)
    assert d.static_margin == pytest.approx(-slope, abs=0.025)
    assert d.aero.cm_square == pytest.approx(square, rel=0.34, abs=0.006)


def test_a_wing_above_the_balance_point_bends_it_as_the_textbook_says():
    """dSM/dC_L = 2 (z/c)(1/a_w - 1/(pi A e)), a wing alone: pendulum stability, Perkins and Hage, 1949, ch. 5 (from memory)."""
    c = model("high_wing")
    wing = next(s for s in c.airframe.surfaces if s.role.value == "wing")
    alone = replace(c.airframe, surfaces=(wing,))
    aero = aero_model(alone)
    p = aero.planform
    level = height_moment(alone, aero, z_cg_m=wing.z_m).square
    for above in (-0.05, 0.05, 0.10):
        raised = height_moment(alone, aero, z_cg_m=wing.z_m - above).square - level
        slope = 1.0 / aero.lift_slope - 1.0 / (math.pi * p.aspect_ratio * OSWALD_EFFICIENCY)
        assert raised == pytest.approx(-above / p.mac_m * slope, rel=0.12)
        assert (raised < 0.0) is (above > 0.0), "a high wing steadies the more the slower it flies"


def test_the_elevator_that_holds_a_load_is_the_way_back_of_the_load_it_holds():
    d = design_of(model("high_wing"))
    s = situation(d, np.zeros(COUNT), speed_mps=d.cruise_speed_mps)
    for n in (0.2, 1.0, 2.5):
        held = elevator_for_load_rad(s, load=n, thrust_n=s.thrust_n)
        assert load_factor(s, elevator_rad=held, thrust_n=s.thrust_n) == pytest.approx(n, abs=1e-9)
