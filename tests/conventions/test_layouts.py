"""Direction words of every layout, from first principles: a trailing edge that goes down lifts, and where it lifts decides."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from jinba.core.airframe.layout import (
    control_surface_of,
    lifting_area_m2,
    lifting_surfaces,
    panel_dihedral_rad,
    pitch_control_of,
)
from jinba.core.airframe.planform import planform_of
from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.ground_cards import direction_card, stabiliser_card
from jinba.core.controls.transfer import AxisRest, Way, orders
from jinba.core.frames import Axis, PitchControl, Response, words_for
from jinba.core.observe.predictions import Moment, crab_cruise, pitch_rate_cruise
from jinba.core.observe.situation import design_of
from jinba.core.silhouettes import SILHOUETTES
from tests.builders import ZERO, model, trimmed
from tests.flown import released

LAYOUT = {
    "canard": PitchControl.FOREPLANE,
    "flying_wing": PitchControl.ELEVONS,
    "delta": PitchControl.ELEVONS,
    "v_tail": PitchControl.V_TAIL,
}


def inverted_v() -> object:
    """Return the V-tail with its tail upside down, hung from above."""
    c = model("v_tail")
    wing, tail = c.airframe.surfaces
    flipped = tuple(replace(s, z_offset_m=-s.z_offset_m) for s in tail.sections)
    return replace(c, airframe=replace(c.airframe, surfaces=(wing, replace(tail, sections=flipped, z_m=0.5))))


@pytest.mark.parametrize("key", SILHOUETTES)
def test_every_silhouette_has_its_layout(key):
    assert pitch_control_of(model(key).airframe) is LAYOUT.get(key, PitchControl.TAIL)


@pytest.mark.parametrize("key", SILHOUETTES)
@pytest.mark.parametrize(("response", "turns_up"), [(Response.NOSE_UP, True), (Response.NOSE_DOWN, False)])
def test_the_pitch_words_follow_from_lift_and_arm(key, response, turns_up):
    """Trailing edge down: lift up there. Lift ahead of the balance point raises the nose, behind it lowers the nose."""
    c = model(key)
    layout = pitch_control_of(c.airframe)
    words = words_for(response, layout).surface
    lifts_up = 1.0 if "trailing edge down" in words else -1.0
    surface = control_surface_of(c.airframe)
    # An elevon works at the rear of the outer wing; a tail or foreplane anywhere on its chord.
    y = 0.5 * (surface.control_inner + surface.control_outer) * surface.half_span_m
    chord = np.interp(y, [s.y_m for s in surface.sections], [s.chord_m for s in surface.sections])
    lead = surface.x_m + np.interp(y, [s.y_m for s in surface.sections], [s.x_offset_m for s in surface.sections])
    station = lead + (surface.hinge_fraction if layout is PitchControl.ELEVONS else 0.25) * chord
    nose_up = bool(lifts_up * (design_of(c).balance.x_m - station) > 0)
    assert nose_up is turns_up, f"{key}: {words}"


@pytest.mark.parametrize("c", [model("v_tail"), inverted_v()], ids=["V", "inverted V"])
@pytest.mark.parametrize(("response", "to_the_right"), [(Response.YAW_RIGHT, True), (Response.YAW_LEFT, False)])
def test_the_yaw_words_of_a_v_tail_follow_from_the_panels_normals(c, response, to_the_right):
    """Trailing edge down pushes a panel along its upper normal (-sin G, cos G); a push to the left behind swings the nose right."""
    layout = pitch_control_of(c.airframe)
    words = words_for(response, layout).surface
    right_down = "right tail surface down" in words
    assert right_down is ("left tail surface up" in words), "the two panels move against each other"
    dihedral = panel_dihedral_rad(c.airframe.surfaces[1])
    side = (1.0 if right_down else -1.0) * -math.sin(dihedral)
    assert (side < 0) is to_the_right
    assert "rudder" not in words


@pytest.mark.parametrize("key", SILHOUETTES)
def test_estimator_and_stand_in_both_pitch_down_for_the_nose_down_sense(key):
    c = model(key)
    d, t = design_of(c), trimmed(c)
    assert d.aero.pitch_control > 0
    level = pitch_rate_cruise(ZERO, Moment(d, t))
    assert pitch_rate_cruise(ZERO, Moment(d, replace(t, elevator_rad=t.elevator_rad + 0.02))) < level - 0.5
    assert released(c, pitch=0.03)[0] < released(c)[0] - 0.5
    assert released(c, roll=0.03)[1] > released(c)[1] + 2.0, "right aileron or elevon up: right wing down"


def test_a_v_tail_holds_its_nose_into_the_wind_and_steers():
    c = model("v_tail")
    d, t = design_of(c), trimmed(c)
    assert c.airframe.fin is None
    assert d.aero.cn_beta > 0.02, "weathercock stable without a fin"
    moved = crab_cruise(ZERO, Moment(d, replace(t, rudder_rad=0.1)))
    assert moved < crab_cruise(ZERO, Moment(d, t)) - 0.5, "positive: the nose goes left"


@pytest.mark.parametrize("layout", PitchControl)
def test_the_direction_check_asks_for_what_this_layout_does(layout):
    """A canard that is asked for an elevator going up would be passed with its control reversed."""
    b4 = direction_card(layout)
    asked = " ".join([*b4.steps, *(c.label for c in b4.captures)])
    for response in (Response.NOSE_UP, Response.ROLL_RIGHT, Response.YAW_RIGHT):
        assert words_for(response, layout).surface in asked
    assert ("Stick back: foreplane trailing edge down" in asked) is (layout is PitchControl.FOREPLANE)
    assert (CARDS["B4"] == b4) is (layout is PitchControl.TAIL)


@pytest.mark.parametrize("layout", PitchControl)
def test_a_stabiliser_is_asked_to_work_against_every_tilt_in_this_layouts_words(layout):
    """Nose tilted down is answered by what raises it: of a canard the foreplane goes down, and an all-moving one leads with its
    front edge up; a card that asked for an elevator going up would pass a stabiliser that flies it into the ground."""
    asked = " ".join(stabiliser_card(layout).steps)
    assert f"nose down: {words_for(Response.NOSE_UP, layout).surface}" in asked
    assert f"roll it right: {words_for(Response.ROLL_LEFT, layout).surface}" in asked
    assert ("nose down: foreplane trailing edge down" in asked) is (layout is PitchControl.FOREPLANE)
    whole = " ".join(stabiliser_card(layout, all_moving=True).steps)
    assert ("leading edge up" in whole) is (layout is PitchControl.FOREPLANE)
    assert ("leading edge down" in whole) is (layout is not PitchControl.FOREPLANE)
    assert "swing the nose right" not in " ".join(stabiliser_card(layout, frozenset({Axis.PITCH, Axis.ROLL})).steps)


@pytest.mark.parametrize(
    ("key", "axis", "rest", "says"),
    [
        ("canard", Axis.PITCH, +0.06, ("Foreplane", "it goes up, for nose down")),
        ("canard", Axis.PITCH, -0.06, ("Foreplane", "it goes down, for nose up")),
        ("flying_wing", Axis.PITCH, -0.06, ("Left elevon", "it goes up, for nose up and left wing down")),
        ("flying_wing", Axis.PITCH, -0.06, ("Right elevon", "it goes up, for nose up and right wing down")),
        ("flying_wing", Axis.ROLL, +0.06, ("Right elevon", "it goes up, for nose up and right wing down")),
        ("v_tail", Axis.PITCH, +0.06, ("Left tail surface", "it goes down, for nose down and nose left")),
        ("v_tail", Axis.YAW, +0.06, ("Right tail surface", "it goes up, for nose up and nose left")),
    ],
)
def test_clevis_instructions_name_the_surfaces_of_the_layout(key, axis, rest, says):
    c = model(key)
    neutral = {a: AxisRest(0.0, 0.0, 0.0) for a in Axis}
    found = orders(c.control_setup, neutral, {axis: rest}, Way.CLEVIS, inverted_v=False)
    assert any(o.clevis.startswith(says[0]) and says[1] in o.clevis for o in found), [o.clevis for o in found]


def test_what_carries_the_weight():
    """Loading counts every wing, a foreplane and a rear wing, but no ordinary tail."""
    for key, carried in (("low_wing", 1), ("biplane", 2), ("triplane", 3), ("canard", 2), ("tandem", 2), ("delta", 1)):
        airframe = model(key).airframe
        assert len(lifting_surfaces(airframe)) == carried, key
        assert lifting_area_m2(airframe) == pytest.approx(
            sum(planform_of(s).area_m2 for s in lifting_surfaces(airframe))
        )
    low, bi = design_of(model("low_wing")), design_of(model("biplane"))
    assert bi.aero.cl_max > 1.6 * low.aero.cl_max, "two wings lift nearly twice as much on the area of one"
