"""Directions of every control in words: surfaces, sticks, levers, washers, shims, mixes. A wrong one crashes a model."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from jinba.core.bench.controls import controls_answer
from jinba.core.bench.mix_values import mix_values, mix_words, stick_command
from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.configuration import Configuration
from jinba.core.controls.deflections import deflected, stick_commands
from jinba.core.controls.fitting import Command, ControlRole, surface_words
from jinba.core.controls.linkage import Linkage, motion
from jinba.core.controls.mixing import Mix
from jinba.core.controls.radio import RadioSheet
from jinba.core.controls.setup import ControlSetup, starting_setup
from jinba.core.controls.shims import Seat, mount_shim, seat_shim
from jinba.core.controls.stabiliser import Stabiliser
from jinba.core.correct import trims
from jinba.core.diagnose.update import prior_belief
from jinba.core.frames import (
    Axis,
    PitchControl,
    Response,
    ThrustLine,
    axis_of,
    stick_of,
    sticks_words,
    throttle_stick,
    words_for,
    words_for_pilot,
)
from jinba.core.observe.situation import resting_trims
from tests.builders import ALL_SEEN, model

# Layout, response -> every surface that moves, seen from behind the model.
SURFACES = [
    ("low_wing", Response.NOSE_UP, "elevator up"),
    ("low_wing", Response.NOSE_DOWN, "elevator down"),
    ("low_wing", Response.ROLL_RIGHT, "left aileron down, right aileron up"),
    ("low_wing", Response.ROLL_LEFT, "left aileron up, right aileron down"),
    ("low_wing", Response.YAW_RIGHT, "rudder right"),
    ("low_wing", Response.YAW_LEFT, "rudder left"),
    ("canard", Response.NOSE_UP, "foreplane down"),
    ("canard", Response.NOSE_DOWN, "foreplane up"),
    ("flying_wing", Response.NOSE_UP, "left elevon up, right elevon up"),
    ("flying_wing", Response.NOSE_DOWN, "left elevon down, right elevon down"),
    ("flying_wing", Response.ROLL_RIGHT, "left elevon down, right elevon up"),
    ("flying_wing", Response.ROLL_LEFT, "left elevon up, right elevon down"),
    ("v_tail", Response.NOSE_UP, "left tail surface up, right tail surface up"),
    ("v_tail", Response.NOSE_DOWN, "left tail surface down, right tail surface down"),
    ("v_tail", Response.YAW_RIGHT, "left tail surface up, right tail surface down"),
    ("v_tail", Response.YAW_LEFT, "left tail surface down, right tail surface up"),
]
STICK = {
    Response.NOSE_UP: (Axis.PITCH, +1.0),
    Response.NOSE_DOWN: (Axis.PITCH, -1.0),
    Response.ROLL_RIGHT: (Axis.ROLL, +1.0),
    Response.ROLL_LEFT: (Axis.ROLL, -1.0),
    Response.YAW_RIGHT: (Axis.YAW, +1.0),
    Response.YAW_LEFT: (Axis.YAW, -1.0),
}


def setup_of(c: Configuration) -> ControlSetup:
    return starting_setup(c.airframe, elevator=c.elevator, aileron=c.aileron, rudder=c.rudder)


@pytest.mark.parametrize(("key", "response", "words"), SURFACES)
@pytest.mark.parametrize("arm_up", [True, False], ids=["servo turns one way", "servo turns the other way"])
def test_the_surfaces_go_where_the_walk_says_whichever_way_the_servo_turns(key, response, words, arm_up):
    """Stick back or right is the positive stick; the deflections of rates, mixes and linkage must match the walk's words."""
    c = model(key)
    start = setup_of(c)
    setup = replace(
        start,
        fittings=tuple(replace(f, linkage=replace(f.linkage, arm_up=arm_up, arm_lean_rad=0.0)) for f in start.fittings),
    )
    step = next(s for s in controls_answer(replace(c, controls=setup)).walk if s.key == response.value)
    assert step.surface == words
    assert step.model == words_for(response).model
    axis, stick = STICK[response]
    moved = deflected(setup, stick_commands(setup, setup.phases[0], {axis: np.array([stick])}))
    seen = [surface_words(d.fitting.role, float(d.deflection_rad[0])) for d in moved if abs(d.deflection_rad[0]) > 1e-6]
    assert ", ".join(seen) == words


def test_an_inverted_v_tail_yaws_with_the_other_panel():
    c = model("v_tail")
    tail = c.airframe.pitch_surface
    hanging = replace(tail, sections=tuple(replace(s, z_offset_m=-s.z_offset_m) for s in tail.sections))
    airframe = replace(c.airframe, surfaces=tuple(hanging if s is tail else s for s in c.airframe.surfaces))
    walk = {s.key: s.surface for s in controls_answer(replace(c, airframe=airframe)).walk}
    assert walk["yaw_right"] == "left tail surface down, right tail surface up"
    assert walk["nose_up"] == "left tail surface up, right tail surface up"


def test_upright_or_inverted_the_surface_and_the_stick_are_the_same_in_the_models_axes():
    """Inverted, the canopy side is below: to raise the nose from the ground's view one pushes. The words are the model's."""
    assert words_for(Response.NOSE_DOWN).stick == "stick forward, away from you"
    assert words_for(Response.NOSE_DOWN).surface == "elevator trailing edge down"
    assert words_for(Response.ROLL_LEFT).model == "left wing down", "as seated in the cockpit, whatever the attitude"


# Mode -> stick of elevator, aileron, rudder, throttle. Common practice, no source.
MODES = [
    (1, "left", "right", "left", "right"),
    (2, "right", "right", "left", "left"),
    (3, "left", "left", "right", "right"),
    (4, "right", "left", "right", "left"),
]


@pytest.mark.parametrize(("mode", "elevator", "aileron", "rudder", "throttle"), MODES)
def test_the_four_stick_modes(mode, elevator, aileron, rudder, throttle):
    assert [stick_of(a, mode) for a in (Axis.PITCH, Axis.ROLL, Axis.YAW)] == [elevator, aileron, rudder]
    assert throttle_stick(mode) == throttle
    said = words_for_pilot(Response.NOSE_UP, PitchControl.TAIL, mode=mode)
    assert said.stick == f"{elevator} stick back, towards you"
    assert said.trim_lever == f"lever towards you, beside the {elevator} stick", "up trim: the lever towards the pilot"
    left, right = sticks_words(mode).split(". ")
    assert all(
        (name in (left if side == "left" else right))
        for name, side in zip(
            ("elevator", "aileron", "rudder", "throttle"), (elevator, aileron, rudder, throttle), strict=True
        )
    )


@pytest.mark.parametrize("response", list(Response))
def test_a_reversed_trim_lever_turns_the_lever_and_nothing_else(response):
    plain = words_for_pilot(response, PitchControl.TAIL, mode=2)
    other = words_for_pilot(response, PitchControl.TAIL, mode=2, levers_reversed=(axis_of(response).value,))
    assert (other.stick, other.surface, other.model) == (plain.stick, plain.surface, plain.model)
    assert other.trim_lever != plain.trim_lever


# Tilt, faces aft, arm ahead of the balance point -> bolts, response to power.
MOUNTS = [
    (ThrustLine.DOWN, False, +0.3, "upper", Response.NOSE_DOWN),
    (ThrustLine.UP, False, +0.3, "lower", Response.NOSE_UP),
    (ThrustLine.RIGHT, False, +0.3, "left", Response.YAW_RIGHT),
    (ThrustLine.LEFT, False, +0.3, "right", Response.YAW_LEFT),
    (ThrustLine.DOWN, True, -0.3, "lower", Response.NOSE_UP),
    (ThrustLine.UP, True, -0.3, "upper", Response.NOSE_DOWN),
    (ThrustLine.RIGHT, True, -0.3, "right", Response.YAW_LEFT),
    (ThrustLine.LEFT, True, -0.3, "left", Response.YAW_RIGHT),
    # A pod above the wing whose motor pulls ahead of the balance point, and one that pushes from just ahead of it.
    (ThrustLine.DOWN, False, +0.05, "upper", Response.NOSE_DOWN),
    (ThrustLine.DOWN, True, +0.05, "lower", Response.NOSE_DOWN),
]


@pytest.mark.parametrize(("tilt", "aft", "arm", "bolts", "effect"), MOUNTS)
def test_washers_go_under_the_bolts_that_tilt_the_axis_as_said(tilt, aft, arm, bolts, effect):
    """A washer pushes its edge of the mount away from the bulkhead: checked with the normal of the tilted mount."""
    s = mount_shim(tilt, angle_rad=0.03, spacing_m=0.025, propeller_faces_aft=aft, x_motor_ahead_of_cg_m=arm)
    assert s.where == f"under the {bolts} bolts"
    assert s.effect is effect
    outward = np.array([1.0 if aft else -1.0, 0.0])  # x aft, second axis up (or to the right wing)
    edge = np.array([0.0, 1.0 if bolts in ("upper", "right") else -1.0])
    along = edge + outward * 0.1  # from the far edge to the washer's edge, lifted off the bulkhead
    normal = np.array([-along[1], along[0]])
    forward = normal if normal[0] < 0 else -normal
    towards = 1.0 if tilt in (ThrustLine.UP, ThrustLine.RIGHT) else -1.0
    assert math.copysign(1.0, forward[1]) == towards


@pytest.mark.parametrize(
    ("seat", "more", "edge", "effect"),
    [
        (Seat.WING_ON_TOP, True, "leading", Response.NOSE_UP),
        (Seat.WING_ON_TOP, False, "trailing", Response.NOSE_DOWN),
        (Seat.WING_BELOW, True, "trailing", Response.NOSE_UP),
        (Seat.WING_BELOW, False, "leading", Response.NOSE_DOWN),
        (Seat.TAIL, True, "leading", Response.NOSE_DOWN),
        (Seat.TAIL, False, "trailing", Response.NOSE_UP),
        (Seat.TAIL_BELOW, True, "trailing", Response.NOSE_DOWN),
        (Seat.TAIL_BELOW, False, "leading", Response.NOSE_UP),
    ],
)
def test_shims_under_wing_and_tail_seats(seat, more, edge, effect):
    s = seat_shim(seat, raise_rad=0.02 if more else -0.02, spacing_m=0.14)
    assert s.where == f"at the {edge} edge"
    assert s.effect is effect
    assert ("more incidence" if more else "less incidence") in s.words


@pytest.mark.parametrize("response", [Response.NOSE_UP, Response.NOSE_DOWN])
def test_a_mix_gives_what_the_thumb_held(response):
    """Stick held back against the flap: the mix lifts the elevator, so that the thumb can rest."""
    setup = setup_of(model("low_wing"))
    record = CardRecord("F11", Outcome.DONE, (Reading("stick_half", number=0.4, direction=response),))
    found = mix_values(setup, (record,))[0]
    held = stick_command(setup, setup.phases[0], response, 0.4)
    assert found.mix.share * 0.5 == pytest.approx(held, abs=1e-3), "half the flap gives what was held at half"
    assert mix_words(found.mix).endswith(words_for(response).model)
    assert (found.mix.share < 0) is (response is Response.NOSE_UP), "nose up is a negative command"


def test_a_mix_is_said_for_both_ways_of_its_source():
    words = mix_words(Mix(Command.YAW, Command.ROLL, 0.1))
    assert words == "rudder stick left gives 10 % right wing down; rudder stick right gives 10 % left wing down"
    assert mix_words(Mix(Command.THROTTLE, Command.PITCH, 0.05)) == "full throttle gives 5 % nose down"


def test_a_longer_rod_lowers_the_trailing_edge_of_a_horn_above_and_lifts_it_below():
    for up, way in ((True, 1), (False, -1)):
        k = Linkage(horn_up=up, arm_up=up)
        longer = motion(k, np.zeros(1), rod_m=k.rod_m + 0.001).deflection_rad[0]
        assert math.copysign(1, longer) == way


def test_every_surface_has_words_both_ways():
    for role in ControlRole:
        down, up = surface_words(role, 0.1), surface_words(role, -0.1)
        assert down != up
        assert down.split()[-1] in ("down", "left")
        assert up.split()[-1] in ("up", "right")


@pytest.fixture
def wanting(monkeypatch):
    """Return a rework of a model whose flights want every surface so many clicks off where its linkage holds it."""

    def rework(c: Configuration, clicks: dict[Axis, float]):
        def wanted(configuration, belief, flown, axis, **_):
            control = configuration.control(axis)
            return control.mechanical_rad + clicks.get(axis, 0.0) * control.rad_per_click

        monkeypatch.setattr(trims, "needed_rest_rad", wanted)
        monkeypatch.setattr(trims, "in_band", lambda *_: False)
        return trims.set_trims(c, prior_belief(static_margin_sigma=0.02), resting_trims(c), ALL_SEEN)

    return rework


@pytest.mark.parametrize(("levers", "lever"), [((), "lever towards you"), (("pitch",), "lever away from you")])
def test_the_rework_names_the_lever_of_this_pilots_radio(levers, lever, wanting):
    c = model("low_wing")
    radio = RadioSheet(mode=1, levers_reversed=levers)
    _, (action,) = wanting(replace(c, controls=replace(setup_of(c), radio=radio)), {Axis.PITCH: -2.0})
    assert f"2 clicks nose up, {lever}, beside the left stick" in action.words


def test_with_a_controller_no_click_stays_in_the_radio(wanting):
    c = model("flying_wing")
    fitted = replace(c, controls=replace(setup_of(c), stabiliser=Stabiliser()))
    assert trims.clicks_to_leave(fitted) == 0
    assert trims.clicks_to_leave(replace(fitted, controls=replace(setup_of(c), threshold_clicks=2))) == 2
    after, actions = wanting(fitted, {Axis.PITCH: -3.0})
    assert (after.elevator.clicks, after.elevator.sub_trim_rad) == (0, 0.0)
    assert len(actions) == 2, "one order for each elevon"
    assert all("in the controller" in a.words for a in actions)
    assert after.controls is not None
    assert all(f.learned_us is not None for f in after.controls.fittings)


def test_elevons_that_both_want_get_one_order_each(wanting):
    """Pitch and roll share two clevises: one order a surface, its sum in words, and a proof that can be read."""
    c = model("flying_wing")
    after, actions = wanting(c, {Axis.PITCH: -10.0, Axis.ROLL: 8.0})
    left, right = actions
    # Up for pitch, down on the left for a roll to the right: left 2 clicks up, right 18 up.
    assert left.words.startswith("Centre the trims. Left elevon: ")
    assert "it goes up, for nose up and left wing down" in left.words
    assert "it goes up, for nose up and right wing down" in right.words
    assert left.amount < right.amount
    assert left.proof.startswith("All trims centred: left elevon up")
    assert right.proof.startswith("All trims centred: right elevon up")
    assert {after.elevator.clicks, after.aileron.clicks} == {0}
    assert after.elevator.resting_rad == pytest.approx(c.elevator.mechanical_rad - 10 * c.elevator.rad_per_click)
    assert after.aileron.resting_rad == pytest.approx(c.aileron.mechanical_rad + 8 * c.aileron.rad_per_click)


def test_few_clicks_of_one_axis_go_along_when_the_other_one_leaves_the_radio(wanting):
    """An elevon has one clevis: two clicks of roll cannot stay behind when the pitch is turned into it."""
    after, actions = wanting(model("flying_wing"), {Axis.PITCH: -10.0, Axis.ROLL: 2.0})
    assert after.aileron.clicks == 0
    assert [a.unit for a in actions] == ["turns", "turns"]
    tailed, on_the_tail = wanting(model("low_wing"), {Axis.PITCH: -10.0, Axis.ROLL: 2.0})
    assert tailed.aileron.clicks == 2, "ailerons share nothing with the elevator"
    assert {a.unit for a in on_the_tail} == {"turns", "clicks"}


def test_a_model_without_a_rudder_is_asked_for_none(wanting):
    _, actions = wanting(model("flying_wing"), {Axis.YAW: 12.0})
    assert actions == ()
