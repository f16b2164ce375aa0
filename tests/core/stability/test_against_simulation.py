"""The bench's derivatives against a simulation that shares no formula with them, layout by layout.

The simulation itself is held against full-size aeroplanes in ``tests/core/flight``; sections and tails are its middle of the
published spread, so what is compared is the sum of everything: to a third, body and fin to a half.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jinba.core.airframe.layout import panel_dihedral_rad
from jinba.core.airframe.planform import planform_of
from jinba.core.configuration import Configuration
from jinba.core.flight.simulation.craft import craft_of
from jinba.core.flight.simulation.spread import Spread, Wrong
from jinba.core.flight.simulation.steady import flying, settled_loads
from jinba.core.observe.situation import design_of
from jinba.core.stability.body import body_width_m
from jinba.core.stability.lattice import coarser, panels_for
from tests.builders import model

LAYOUTS = ("low_wing", "high_wing", "twin_boom_pusher", "v_tail", "canard", "flying_wing", "tandem", "delta")
SPEED = 14.0


def differences(c: Configuration, spread: Spread | None = None, wrong: Wrong | None = None):
    """Coefficients about the balance point: (lift, roll, pitch, yaw) as a function of motion and surfaces, power off."""
    craft = craft_of(c, spread or Spread(elevator=1.0, aileron=1.0, rudder=1.0), wrong)
    pressure = 0.5 * craft.density * SPEED**2 * craft.area

    def at(
        alpha: float = 0.05, beta: float = 0.0, p: float = 0.0, q: float = 0.0, surfaces=(0.0, 0.0, 0.0)
    ) -> np.ndarray:
        state = flying(speed_mps=SPEED, alpha=alpha, beta=beta)
        state[10], state[11] = p, q
        force, moment = settled_loads(craft, state, np.array([*surfaces, 0.0]), 0.0, np.zeros(len(craft.row)))
        return np.array([-force[2], moment[0] / craft.span, moment[1] / craft.chord, moment[2] / craft.span]) / pressure

    return craft, at


@pytest.mark.parametrize("key", LAYOUTS)
def test_lift_roll_and_pitch_are_those_of_the_simulation(key):
    c = model(key)
    aero = design_of(c).aero
    craft, at = differences(c)
    base = at()
    rolling = (at(p=0.3) - base)[1] / (0.3 * craft.span / 2 / SPEED)
    aileron = (at(surfaces=(0.0, 0.03, 0.0)) - base)[1] / 0.03
    pitch = -(at(surfaces=(0.03, 0.0, 0.0)) - base)[2] / 0.03
    assert (at(alpha=0.07) - base)[0] / 0.02 == pytest.approx(aero.lift_slope, rel=0.15)
    assert rolling == pytest.approx(aero.cl_p, rel=0.25)
    assert abs(aileron) == pytest.approx(abs(aero.cl_aileron), rel=0.40)
    assert pitch == pytest.approx(aero.pitch_control, rel=0.40)
    assert pitch > 0, "positive is nose down, for every layout"


@pytest.mark.parametrize("key", LAYOUTS)
def test_a_twist_rolls_as_in_the_simulation(key):
    """Right tip washed out, left washed in: down on the right."""
    c = model(key)
    aero = design_of(c).aero
    twisted = differences(c, wrong=Wrong(twist_rad=0.02))[1]()
    straight = differences(c)[1]()
    assert (twisted - straight)[1] / 0.02 == pytest.approx(aero.cl_twist, rel=0.3)


@pytest.mark.parametrize("key", [k for k in LAYOUTS if k not in ("flying_wing", "delta")])
def test_a_pitching_model_is_damped_as_in_the_simulation(key):
    """About the balance point; the bench's is about the neutral point, a margin's square apart."""
    c = model(key)
    aero = design_of(c).aero
    craft, at = differences(c)
    damping = (at(q=0.3) - at())[2] / (0.3 * craft.chord / 2 / SPEED)
    assert damping == pytest.approx(aero.cm_q, rel=0.45)


@pytest.mark.parametrize("key", ["low_wing", "high_wing", "v_tail", "sailplane"])
def test_a_slipping_model_rolls_away_and_turns_into_the_wind(key):
    c = model(key)
    aero = design_of(c).aero
    _, at = differences(c)
    slip = (at(beta=0.03) - at()) / 0.03
    assert slip[1] < 0
    assert aero.cl_beta < 0
    # The bench leaves out what a wing above or below its body adds.
    assert 0.4 < slip[1] / aero.cl_beta < 2.5
    assert slip[3] > 0
    assert slip[3] == pytest.approx(aero.cn_beta, rel=0.7)
    yaw = (at(surfaces=(0.0, 0.0, 0.05)) - at())[3] / 0.05
    assert abs(yaw) == pytest.approx(abs(aero.cn_rudder), rel=0.5)
    assert yaw < 0, "positive is nose left"


def test_more_dihedral_of_a_v_tail_gives_yaw_for_pitch():
    """cos^2 and sin^2 of the panels' dihedral share lift and side force (Purser and Campbell, NACA TR-823, 1945, from memory)."""
    c = model("v_tail")
    tail = c.airframe.pitch_surface
    assert tail is not None
    tip = tail.sections[-1]

    def with_rise(rise_m: float):
        raised = replace(tail, sections=(*tail.sections[:-1], replace(tip, z_offset_m=rise_m)))
        return replace(c, airframe=replace(c.airframe, surfaces=(c.airframe.wing, raised)))

    flat, steep = with_rise(0.7 * tip.y_m), with_rise(1.0 * tip.y_m)
    assert panel_dihedral_rad(steep.airframe.surfaces[1]) > panel_dihedral_rad(flat.airframe.surfaces[1])
    one, other = (design_of(k).aero for k in (flat, steep))
    assert other.cn_beta > one.cn_beta
    assert other.neutral_point.x_m < one.neutral_point.x_m


def test_the_coarse_grid_is_half_the_strips_and_two_thirds_of_the_rows():
    for surfaces in (1, 2, 3, 4):
        strips, rows = panels_for(surfaces)
        assert coarser((strips, rows)) == (strips // 2, max(2, (2 * rows) // 3))


def test_a_body_is_as_wide_as_it_is_drawn():
    """Round at the nose, full from a third on, a quarter at the tail; a pod with booms stays wide."""
    body = model("low_wing").airframe.body
    full = body.width_m
    assert [round(body_width_m(body, f) / full, 2) for f in (0.0, 0.12, 0.3, 0.45, 0.55, 1.0)] == [
        0.35,
        0.85,
        1.0,
        1.0,
        1.0,
        0.25,
    ]
    assert body_width_m(replace(body, boom_y_m=0.2), 1.0) / full == pytest.approx(0.75)


def test_every_wetted_part_adds_its_friction():
    """c_f on wetted area (handbook order): wings twice and a little, a round body pi times its side view, shared over the wing."""
    c = model("low_wing")
    plain = design_of(c).aero
    area = plain.planform.area_m2
    body = c.airframe.body
    longer = replace(c, airframe=replace(c.airframe, body=replace(body, length_m=1.2 * body.length_m)))
    added = 0.2 * body.length_m * 0.5 * (body.width_m + body.height_m)
    gained = design_of(longer).aero.cd_zero - plain.cd_zero
    assert 0.006 * 2.0 * added / area < gained < 0.012 * 3.5 * added / area
    tail = c.airframe.surfaces[1]
    wide = replace(tail, sections=tuple(replace(s, chord_m=1.3 * s.chord_m) for s in tail.sections))
    more = replace(c, airframe=replace(c.airframe, surfaces=(c.airframe.wing, wide)))
    added = 0.3 * planform_of(tail).area_m2
    assert 0.006 * 2.0 * added / area < design_of(more).aero.cd_zero - plain.cd_zero < 0.012 * 2.2 * added / area
