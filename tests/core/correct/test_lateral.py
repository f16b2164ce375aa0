"""Ballast in a tip, washers behind a motor, clicks as they were flown: amounts by the sum of moments."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest

from jinba.core.airframe.parts import Drive
from jinba.core.airframe.planform import chord_at
from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.configuration import BallastStation, BallastStock, balance_of
from jinba.core.controls.fitting import ControlRole
from jinba.core.controls.stabiliser import Device, Stabiliser
from jinba.core.correct.actions import ActionKind
from jinba.core.correct.balance import correct_balance
from jinba.core.correct.compose import as_flown, compose
from jinba.core.correct.composed import Choices
from jinba.core.correct.lateral import correct_lateral
from jinba.core.correct.thrust import correct_thrust_line
from jinba.core.correct.trims import needed_rest_rad, set_trims
from jinba.core.diagnose.tendencies import ROLL_LIMIT_DEG_S
from jinba.core.frames import Axis, response_of_deflection, words_for
from jinba.core.mass.items import ItemKind
from jinba.core.observe import predictions
from jinba.core.observe.parameters import PARAMETERS, P
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import Trims, design_of
from jinba.core.power.propulsion import tilted_down
from jinba.core.spoken import spoken
from tests.builders import ALL_SEEN, model, read_twice, trimmed, with_margin
from tests.core.correct.test_compose import NO_ERRORS, knowing

HALF_A_PIECE_KG = 0.00251


@pytest.mark.parametrize(("offset", "side"), [(+0.012, -1.0), (-0.012, +1.0)])
def test_tip_ballast_sits_in_the_light_tip_and_balances_half_of_what_was_found(offset, side):
    """m arm = M y / 2: half of the moment of the found offset, to the piece at hand; never beyond the tip."""
    c = with_margin(model(), 0.09)
    span = 2.0 * c.airframe.wing.half_span_m
    after = compose(c, knowing(LATERAL_CG=offset), trimmed(c), ALL_SEEN).configuration
    added = next(i for i in after.items if i.key.startswith("tip-"))
    assert math.copysign(1.0, added.y_m) == side
    assert 0.45 * span <= abs(added.y_m) <= 0.5 * span
    moment = balance_of(c).mass.mass_kg * abs(offset) * span
    assert added.mass_kg * abs(added.y_m) == pytest.approx(0.5 * moment, abs=HALF_A_PIECE_KG * span / 2)


@pytest.mark.parametrize("raised", [0.08, 0.06, -0.05])
def test_washers_tilt_by_half_degrees_and_the_setup_by_just_as_much(raised):
    c = with_margin(model(), 0.09)
    motor = c.airframe.motor
    assert motor is not None
    off_line = replace(c, airframe=replace(c.airframe, motor=replace(motor, z_m=motor.z_m + raised)))
    found = compose(off_line, knowing(), trimmed(off_line), ALL_SEEN)
    shim = next(a for a in found.actions if a.kind is ActionKind.THRUST_LINE)
    assert 0.5 <= shim.amount <= 3.0
    assert (2.0 * shim.amount) % 1.0 == 0.0
    after = found.configuration.airframe.motor
    assert after is not None
    turned = math.degrees(after.tilt_down_rad - motor.tilt_down_rad)
    assert turned == pytest.approx(math.copysign(shim.amount, turned), abs=1e-9)
    assert (turned > 0) is (raised < 0), "thrust below the balance point pitches the nose up: the forward end goes down"


@pytest.mark.parametrize("clicks", [-7, 0, 5])
def test_clicks_as_flown_are_what_stands_beyond_mechanics_and_sub_trim(clicks):
    c = model()
    set_up = {"mechanical_rad": -0.012, "sub_trim_rad": 0.021}
    c = replace(c, elevator=replace(c.elevator, **set_up), aileron=replace(c.aileron, **set_up))
    rest = -0.012 + 0.021 + clicks * c.elevator.rad_per_click
    landed = as_flown(c, Trims(rest, rest, 0.0))
    assert [landed.control(a).clicks for a in Axis] == [clicks, clicks, 0]
    assert landed.elevator.resting_rad == pytest.approx(rest)


@pytest.mark.parametrize("off", [1, -3, 0])
def test_few_clicks_stay_in_the_radio_counted_from_what_linkage_and_sub_trim_hold(off):
    """What it must hold is found by the sum alone: linkage + sub-trim + clicks is where it rests, to half a click."""
    c, belief = with_margin(model(), 0.09), knowing()
    click, needed = c.elevator.rad_per_click, needed_rest_rad(c, belief, trimmed(c), Axis.PITCH)
    held = replace(c.elevator, mechanical_rad=needed - 2.0 * click, sub_trim_rad=click)
    c = c.with_control(held)
    after, actions = set_trims(c, belief, Trims(needed + off * click, 0.0, 0.0), ALL_SEEN)
    assert after.elevator.clicks == 1
    assert after.elevator.resting_rad == pytest.approx(needed, abs=0.5 * click)
    orders = [a for a in actions if a.kind is ActionKind.ELEVATOR]
    assert [a.amount for a in orders] == ([abs(off)] if off else [])
    for order in orders:
        way = "nose up" if off > 0 else "nose down"
        assert f"{abs(off)} click{'' if abs(off) == 1 else 's'} {way}" in order.words, "it flew too far the other way"
        assert "Trim reads 1 click " in order.proof


@pytest.mark.parametrize("twist", [0.008, -0.008])
def test_roll_left_at_slow_speed_moves_the_aileron_a_little_that_way(twist):
    """A weight and a twist that cancel at cruise do not when slow; the rest lies between the two, next to cruise."""
    c = with_margin(model(), 0.09)
    design, trims = design_of(c), trimmed(c)

    def level(rate) -> float:
        span = [trims.moved(Axis.ROLL, a) for a in (-0.1, 0.1)]
        low, high = (rate(belief.mean, Moment(design, t)) for t in span)
        return -0.1 - low * 0.2 / (high - low)

    belief = knowing(TWIST=twist, LATERAL_CG=0.004 if twist > 0 else -0.004)
    cruise, slow = level(predictions.roll_rate_cruise), level(predictions.roll_rate_slow)
    share = (needed_rest_rad(c, belief, trims, Axis.ROLL) - cruise) / (slow - cruise)
    assert 0.05 < share < 0.4


def test_what_the_bench_knows_to_be_off_the_centre_line_is_balanced_too():
    """y of the items and what the flights found add up: m arm = M (y_items + y_found), to the piece."""
    c = with_margin(model(), 0.09)
    span = 2.0 * c.airframe.wing.half_span_m
    aside = replace(c, items=tuple(replace(i, y_m=0.01) if i.kind is ItemKind.BATTERY else i for i in c.items))
    known = balance_of(aside).mass.y_m
    assert known > 0.001
    after = compose(aside, knowing(LATERAL_CG=0.012), trimmed(aside), ALL_SEEN)
    added = next(i for i in after.configuration.items if i.key.startswith("tip-"))
    mass = balance_of(c).mass.mass_kg
    moment = mass * (known + 0.012 * span)
    assert added.mass_kg * abs(added.y_m) == pytest.approx(0.5 * moment, abs=HALF_A_PIECE_KG * span / 2)
    order = next(a for a in after.actions if a.kind is ActionKind.TIP_BALLAST)
    assert order.amount == pytest.approx(1000.0 * added.mass_kg)
    assert "left wing tip" in order.words, "it balances to the right: the left tip is light"


@pytest.mark.parametrize(("share", "ordered"), [(0.99, False), (0.90, True)])
def test_washers_wait_until_something_was_flown_under_power(share, ordered):
    c = with_margin(model(), 0.09)
    c = replace(c, airframe=replace(c.airframe, motor=replace(c.airframe.motor, z_m=c.airframe.motor.z_m + 0.06)))
    belief = knowing()
    covariance = belief.covariance.copy()
    covariance[P.THRUST_DOWN, P.THRUST_DOWN] = (share * PARAMETERS[P.THRUST_DOWN].sigma) ** 2
    found = compose(c, replace(belief, covariance=covariance), trimmed(c), ALL_SEEN)
    assert (ActionKind.THRUST_LINE in [a.kind for a in found.actions]) is ordered


@pytest.mark.parametrize(("raised", "bias"), [(0.03, -3.0), (0.0, 3.5), (0.0, 4.0), (-0.01, 2.0)])
def test_washers_bring_full_power_back_to_where_it_pitches_little_and_say_how_thick_they_are(raised, bias):
    """t = spacing tan(tilt) (geometry); what the flights say beyond the closed form is taken out as well."""
    c = with_margin(model(), 0.09)
    motor = replace(c.airframe.motor, z_m=c.airframe.motor.z_m + raised, bolt_spacing_m=0.032)
    c = replace(c, airframe=replace(c.airframe, motor=motor))
    belief = replace(knowing(), covariance=1e-3 * knowing().covariance, bias=NO_ERRORS | {"pitch_full": bias})

    def left(after) -> float:
        at = Moment(design_of(after), trimmed(c))
        return predictions.pitch_rate_power(belief.mean, at, "full") + predictions.power_share(at) * bias

    after, (order,), _ = correct_thrust_line(c, belief, trimmed(c), ALL_SEEN)
    step = abs(left(tilted(c, 0.5)) - left(c))
    assert abs(left(after)) < 0.6 * step or order.amount == 3.0, "to the half degree that hands can do"
    thick = 32.0 * math.tan(math.radians(order.amount))
    rows = "upper" if "end down" in order.words else "lower"
    assert f"{thick:.1f} mm of washers under the {rows} bolts, bolt rows 32 mm apart" in spoken(order.words)


def tilted(c, degrees: float):
    return replace(c, airframe=tilted_down(c.airframe, math.radians(degrees)))


@pytest.mark.parametrize("bias", [-4.0, 4.0])
@pytest.mark.parametrize(
    ("axis", "key"), [(Axis.PITCH, "pitch_left_over"), (Axis.ROLL, "roll_cruise"), (Axis.YAW, "yaw_left_over")]
)
def test_a_surface_rests_where_prediction_and_what_it_missed_cancel(axis, key, bias):
    """What flew beyond the closed form is part of the sum: at the resting place nothing is left over."""
    c = with_margin(model(), 0.09)
    belief = knowing()
    # Roll is shared with slow flight: the same miss at both, then.
    misses = {key: bias, "roll_slow": bias} if axis is Axis.ROLL else {key: bias}
    belief = replace(belief, bias=misses)
    rest = needed_rest_rad(c, belief, trimmed(c), axis)
    moment = Moment(design_of(c), trimmed(c).moved(axis, rest))
    predict = {
        Axis.PITCH: predictions.trim_left_cruise,
        Axis.ROLL: predictions.roll_rate_cruise,
        Axis.YAW: predictions.crab_cruise,
    }[axis]
    assert predict(belief.mean, moment) + bias == pytest.approx(0.0, abs=1e-3 if axis is not Axis.ROLL else 0.6)


def test_no_surface_is_sent_beyond_twenty_degrees():
    c = with_margin(model(), 0.09)
    assert needed_rest_rad(c, replace(knowing(), bias={"yaw_left_over": 400.0}), trimmed(c), Axis.YAW) in (-0.35, 0.35)


@pytest.mark.parametrize(("bias", "grows"), [(4.0, True), (-4.0, False)])
def test_what_slow_flight_showed_beyond_the_closed_form_decides_whether_a_wing_grows_heavy(bias, grows):
    """The closed form says a little under the limit, right wing down: seen still more, lead; seen the other way, none."""
    c = with_margin(model(), 0.09)
    trims, belief = trimmed(c), knowing(LATERAL_CG=0.004)
    rest = needed_rest_rad(c, belief, trims, Axis.ROLL)
    carried = trims.moved(Axis.ROLL, rest)
    slow = predictions.roll_rate_slow(belief.mean, Moment(design_of(c), carried))
    # The ailerons carry it as far as the closed form alone comes to just under the limit.
    just = replace(belief, bias={"roll_slow": 0.9 * ROLL_LIMIT_DEG_S - slow})
    assert correct_lateral(c, just, carried, ALL_SEEN)[1] is None
    seen = replace(belief, bias={"roll_slow": 0.9 * ROLL_LIMIT_DEG_S - slow + 0.2 * bias})
    assert (correct_lateral(c, seen, carried, ALL_SEEN)[1] is not None) is grows


@pytest.mark.parametrize("clicks", [-1, 0, 1])
def test_a_controller_is_left_no_click_at_all(clicks):
    """A trimmed neutral is a command to it: one click goes into the linkage, none is left alone."""
    c = with_margin(model(), 0.09)
    stabiliser = Stabiliser(device=Device.CONTROLLER)
    c = replace(c, controls=replace(c.control_setup, stabiliser=stabiliser))
    needed = needed_rest_rad(c, knowing(), trimmed(c), Axis.PITCH)
    click = c.elevator.rad_per_click
    c = c.with_control(replace(c.elevator, mechanical_rad=needed - clicks * click, sub_trim_rad=0.0))
    after, actions = set_trims(c, knowing(), Trims(needed, trimmed(c).aileron_rad, trimmed(c).rudder_rad), ALL_SEEN)
    assert after.elevator.clicks == 0
    assert any(a.kind is ActionKind.ELEVATOR for a in actions) is (clicks != 0)


@pytest.mark.parametrize("key", ["low_wing", "twin_boom_pusher"])
def test_washers_go_behind_the_motor_that_is_there(key):
    c = with_margin(model(key), 0.09)
    for aside_m, said in ((0.0, "Tilt the motor:"), (0.2, "Tilt every motor:")):
        motor = replace(c.airframe.motor, y_m=aside_m, z_m=c.airframe.motor.z_m + 0.08)
        off_line = replace(c, airframe=replace(c.airframe, motor=motor))
        _, (order,), _ = correct_thrust_line(off_line, knowing(), trimmed(off_line), ALL_SEEN)
        assert said in order.words


@pytest.mark.parametrize(
    ("drive", "rows"), [(None, "lower"), (Drive.PUSHER, "lower"), (Drive.TRACTOR, "upper"), (Drive.FAN, None)]
)
def test_a_pushers_washers_go_under_the_other_bolts_and_a_fan_has_none(drive, rows):
    """Forward end down on a motor that faces aft: the washer lifts the lower edge. A pod behind the balance may still pull."""
    c = with_margin(model("twin_boom_pusher"), 0.09)
    motor = replace(c.airframe.motor, z_m=c.airframe.motor.z_m + 0.08, drive=drive)
    c = replace(c, airframe=replace(c.airframe, motor=motor))
    _, orders, _ = correct_thrust_line(c, knowing(), trimmed(c), ALL_SEEN)
    found = [w for o in orders for w in ("upper", "lower") if f"washers under the {w} bolts" in o.words]
    assert found == ([] if rows is None else [rows])
    assert all("forward end down" in o.words for o in orders), "thrust above the balance pitches a pusher's nose down"


@pytest.mark.parametrize(("swings", "way"), [(6.0, "left"), (-6.0, "right")])
def test_side_thrust_only_where_a_power_step_was_seen_to_swing_the_nose(swings, way):
    """Its nose goes right with full power: the forward end goes left, for a tractor; without that word nothing is tilted."""
    c = with_margin(model(), 0.09)
    belief = replace(knowing(), covariance=1e-3 * knowing().covariance, bias={"yaw_full": swings})
    word = CardRecord("F5", Outcome.DONE, (Reading("yaw_full", choice="right" if swings > 0 else "left"),))
    for records, expected in (((), []), ((word,), [way])):
        after, orders, _ = correct_thrust_line(c, belief, trimmed(c), replace(ALL_SEEN, records=records))
        sideways = [w for o in orders for w in ("left", "right") if f"forward end {w} " in o.words]
        assert sideways == expected
    assert math.copysign(1.0, after.airframe.motor.tilt_right_rad) == (1.0 if way == "right" else -1.0)
    assert f"washers under the {'left' if way == 'right' else 'right'} bolts" in orders[-1].words


def test_a_struck_axis_stays_as_it_flew_with_its_clicks():
    c = with_margin(model(), 0.09)
    flown = trimmed(c).moved(Axis.PITCH, trimmed(c).elevator_rad + 9 * c.elevator.rad_per_click)
    whole, struck = (compose(c, knowing(), flown, ALL_SEEN, Choices(leave=leave)) for leave in ((), (Axis.PITCH,)))
    assert ActionKind.ELEVATOR in [a.kind for a in whole.actions]
    assert ActionKind.ELEVATOR not in [a.kind for a in struck.actions]
    left = struck.configuration.elevator
    assert (left.mechanical_rad, left.sub_trim_rad) == (c.elevator.mechanical_rad, c.elevator.sub_trim_rad)
    assert left.resting_rad == pytest.approx(flown.elevator_rad, abs=0.5 * left.rad_per_click)


def test_no_place_in_the_light_wing_is_said_and_nothing_is_ordered():
    c = with_margin(model(), 0.09)
    c = replace(c, ballast=BallastStock((0.005,), 6, (BallastStation("nose", -0.2),)))
    found = compose(c, knowing(LATERAL_CG=0.006), trimmed(c), ALL_SEEN)
    assert ActionKind.TIP_BALLAST not in [a.kind for a in found.actions]
    assert any("has no place there" in h.words for h in found.held_back)


@pytest.mark.parametrize(("span_m", "piece_g"), [(1.5, 5), (0.8, 1)])
def test_lead_comes_in_pieces_that_a_kitchen_scale_shows(span_m, piece_g):
    """Five grams on a model of more than a kilogram, one on a lighter one: common practice, no source."""
    c = read_twice(with_margin(model(span_m=span_m), 0.09))
    assert (balance_of(c).mass.mass_kg > 1.0) is (piece_g == 5)
    bare = replace(c, items=tuple(replace(i, bay_m=(i.x_m, i.x_m)) if i is c.battery else i for i in c.items))
    masses = []
    for off in (-0.10, -0.105, -0.11, -0.115):
        found = correct_balance(bare, knowing(STATIC_MARGIN=off), ALL_SEEN)
        masses += [round(1000.0 * i.mass_kg, 6) for i in found.configuration.items if i.kind is ItemKind.BALLAST]
    assert len(masses) == 4
    assert all(m % piece_g == 0.0 for m in masses)
    assert {m % 5 for m in masses} != {0.0} or piece_g == 5


def test_a_controller_counts_the_sub_trim_as_no_click():
    """What the linkage and the sub-trim hold is where it stands; only what the lever adds would be a command."""
    c = with_margin(model(), 0.09)
    c = replace(c, controls=replace(c.control_setup, stabiliser=Stabiliser(device=Device.CONTROLLER)))
    needed, click = needed_rest_rad(c, knowing(), trimmed(c), Axis.PITCH), c.elevator.rad_per_click
    held = replace(c.elevator, mechanical_rad=needed - 4.0 * click, sub_trim_rad=4.0 * click)
    flown = Trims(needed, trimmed(c).aileron_rad, trimmed(c).rudder_rad)
    _, actions = set_trims(c.with_control(held), knowing(), flown, ALL_SEEN)
    assert not any(a.kind is ActionKind.ELEVATOR for a in actions)


@pytest.mark.parametrize(("word", "way"), [(-8.0, "nose right"), (8.0, "nose left")])
def test_without_ailerons_a_wing_that_drops_is_carried_by_the_rudder_the_other_way(word, way):
    """It rolls left hands off: right rudder, by what its dihedral makes of it; and no aileron is spoken of."""
    c = with_margin(model("sailplane"), 0.10)
    setup = c.control_setup
    kept = tuple(f for f in setup.fittings if f.role in (ControlRole.ELEVATOR, ControlRole.RUDDER))
    c = replace(c, controls=replace(setup, fittings=kept))
    belief = replace(knowing(), bias={"roll_cruise": word, "roll_slow": word})
    found = compose(c, belief, trimmed(c), ALL_SEEN)
    (order,) = (a for a in found.actions if a.kind in (ActionKind.RUDDER, ActionKind.AILERON))
    assert order.kind is ActionKind.RUDDER
    rest = found.configuration.rudder.resting_rad - trimmed(c).rudder_rad
    assert words_for(response_of_deflection(Axis.YAW, rest)).model == way
    after = trimmed(c).moved(Axis.YAW, found.configuration.rudder.resting_rad)
    level = predictions.roll_rate_cruise(belief.mean, Moment(design_of(c), after)) + word
    assert abs(level) < abs(word)


@pytest.mark.parametrize("key", ["low_wing", "flying_wing"])
@pytest.mark.parametrize("way", [1.0, -1.0])
def test_what_flew_with_absurd_trim_is_reworked_within_reach_and_never_crashes(key, way):
    """Found by the closed loop: an elevator flown at 35 degrees went to its clevis as it was, beyond what a setup may say."""
    c = with_margin(model(key), 0.09)
    neutral = way * 0.34
    c = c.with_control(replace(c.elevator, mechanical_rad=neutral))
    flown = trimmed(c).moved(Axis.PITCH, neutral + way * 0.28)
    for seen in (ALL_SEEN, replace(ALL_SEEN, cards=frozenset())):
        found = compose(c, replace(knowing(), bias={"pitch_left_over": -way * 80.0}), flown, seen)
        assert abs(found.configuration.elevator.resting_rad) <= 0.36
    found = compose(c, knowing(), flown, ALL_SEEN, Choices(leave=(Axis.PITCH,)))
    assert not [a for a in found.actions if a.kind in (ActionKind.ELEVATOR, ActionKind.ELEVON)]


@pytest.mark.parametrize("key", ["low_wing", "flying_wing"])
def test_ballast_in_a_tip_lies_within_its_chord_and_its_pull_fore_and_aft_is_counted(key):
    """On a swept wing the tip lies behind the balance: m x + m_b x_b over both; a tip that nobody named is as far forward as it goes."""
    c = with_margin(model(key), 0.11)
    after = compose(
        c, knowing(LATERAL_CG=0.016), trimmed(c), ALL_SEEN, Choices(battery_m=0.0, use_ballast=False)
    ).configuration
    added = next(i for i in after.items if i.key.startswith("tip-"))
    before, wing = balance_of(c), c.airframe.wing
    leading, chord = chord_at(wing, abs(added.y_m))
    assert leading - 1e-9 <= added.x_m <= leading + chord + 1e-9
    assert added.x_m == pytest.approx(before.x_m) or added.x_m > before.x_m
    moved = (before.mass.mass_kg * before.x_m + added.mass_kg * added.x_m) / (before.mass.mass_kg + added.mass_kg)
    assert balance_of(after).x_m == pytest.approx(moved, abs=1e-6)
