"""Measurement models against handbook formulas and their own special cases."""

import math
from dataclasses import replace

import numpy as np
import pytest

from jinba.core.cards.catalogue import CARDS, card
from jinba.core.cards.model import CaptureKind, CardRecord, Outcome, Reading, check_record
from jinba.core.errors import JinbaError, OutOfRangeError, UnknownKeyError
from jinba.core.frames import Axis, Response
from jinba.core.observe import predictions
from jinba.core.observe.measures import MEASURES
from jinba.core.observe.parameters import COUNT, P
from jinba.core.observe.path import release
from jinba.core.observe.predictions import Moment
from jinba.core.observe.readings import data_of
from jinba.core.observe.situation import design_of, load_factor, roll_rate_rad_s, situation, trim_elevator_rad
from tests.builders import ZERO, model, trimmed, with_margin


def motorless(margin: float):
    c = with_margin(model(), margin)
    return replace(c, airframe=replace(c.airframe, motor=None))


def test_inverted_push_is_two_margin_lift_over_control():
    """de_inverted - de_upright = 2 SM CL / V_d at the same speed (derived in docs/methods/master-equation.md)."""
    c = motorless(0.10)
    d, t = design_of(c), trimmed(c)
    s = situation(d, ZERO, speed_mps=d.cruise_speed_mps)
    expected = 2 * 0.10 * s.lift / s.pitch_control / c.elevator.throw_rad
    assert predictions.inverted_push(ZERO, Moment(d, t)) == pytest.approx(expected, rel=1e-6)


def flat(c):
    """What the bench knows of a model whose surfaces all lie at the height of its balance point."""
    d = design_of(c)
    return replace(d, aero=replace(d.aero, cm_square=0.0))


def test_at_the_neutral_point_a_released_dive_keeps_its_line():
    """SM = 0 and nothing above or below the balance point: straight at any speed, without a motor; ahead of it the dive is eased out,
    behind it steepens."""
    rates = [
        predictions.dive_rate(ZERO, Moment(flat(c), trimmed(c)))
        for c in (motorless(-0.02), motorless(0.0), motorless(0.08))
    ]
    assert rates[0] < -0.2
    assert rates[1] == pytest.approx(0.0, abs=0.05)
    assert rates[2] > 1.0


def test_two_trim_speeds_give_the_margin():
    """SM = -V_d (de1 - de2)/(CL1 - CL2) less what a wing above or below the balance point adds, K (CL1 + CL2): Perkins and Hage, 1949,
    ch. 5 (from memory), recovered from our trim solution."""
    c = motorless(0.11)
    d = design_of(c)
    slow, fast = (situation(d, ZERO, speed_mps=v) for v in (10.0, 16.0))
    change = trim_elevator_rad(slow) - trim_elevator_rad(fast)
    height = d.aero.cm_square * (slow.lift + fast.lift)
    assert -slow.pitch_control * change / (slow.lift - fast.lift) + height == pytest.approx(0.11, abs=1e-9)


def test_released_level_and_trimmed_it_stays_level():
    c = model()
    d, t = design_of(c), trimmed(c)
    s = situation(d, ZERO, speed_mps=d.cruise_speed_mps)
    run = release(s, elevator_rad=t.elevator_rad, thrust_n=s.thrust_n, path_rad=0.0)
    assert math.degrees(run.mean_rate_rad_s) == pytest.approx(0.0, abs=0.3)
    assert predictions.pitch_rate_cruise(ZERO, Moment(d, t)) == pytest.approx(0.0, abs=1e-6)


def test_steady_roll_is_the_handbook_ratio():
    """p b/2V = (C_l,da / |C_lp|) da: Perkins and Hage; Nelson, 1998, sec. 5.3 (from memory)."""
    c = motorless(0.1)
    d = design_of(c)
    s = situation(d, ZERO, speed_mps=15.0)
    p = roll_rate_rad_s(s, replace(trimmed(c), aileron_rad=math.radians(5)), thrust_n=0.0)
    assert p * d.aero.planform.span_m / 30.0 == pytest.approx(
        d.aero.cl_aileron / -d.aero.cl_p * math.radians(5), rel=1e-6
    )


def test_a_heavy_wing_fades_with_speed_squared_a_twist_does_not():
    """Aileron that holds a sideways balance: W y/(q S b C_lda), a quarter at double speed (moment equilibrium)."""
    c = motorless(0.1)
    d = design_of(c)
    ratio = []
    for v in (12.0, 24.0):
        s = situation(d, ZERO, speed_mps=v)
        ratio.append(s.lift * 0.006 / d.aero.cl_aileron)
    assert ratio[1] / ratio[0] == pytest.approx(0.25)


def test_every_rated_measure_has_one_option_more_than_its_scale_has_edges():
    rated = {place: m.scale for place, m in MEASURES.items() if m.scale is not None}
    assert len(rated) > 5
    for (card_id, key), scale in rated.items():
        assert len(card(card_id).capture(key).options) == len(scale.edges) + 1
        middles = [(max(lo, -99) + min(hi, 99)) / 2 for lo, hi in map(scale.interval, range(len(scale.edges) + 1))]
        assert [scale.classify(v) for v in middles] == list(range(len(middles)))


def test_catalogue_is_sound():
    """Needs exist and are no bolder than the card plus a step; every flight card tells something and warns of height."""
    for c in CARDS.values():
        assert all(n in CARDS for n in c.needs)
        assert all(CARDS[n].risk <= c.risk for n in c.needs)
        assert c.steps
        assert c.phase != "flight" or (c.tells and c.minutes > 0 and c.cautions), c.id
        assert c.phase != "bench" or any("ropeller" in x or "Pack" in x for x in c.cautions), c.id
        for k in c.captures:
            assert (k.kind in (CaptureKind.COUNT, CaptureKind.STICK)) == bool(k.directions)


def test_records_that_do_not_fit_their_card_are_refused_by_name():
    f2 = card("F2")
    with pytest.raises(UnknownKeyError, match="no measure called 'height'"):
        check_record(f2, CardRecord("F2", Outcome.DONE, (Reading("height", number=3),)))
    with pytest.raises(JinbaError, match="Elevator clicks in all"):
        check_record(f2, CardRecord("F2", Outcome.DONE, (Reading("left_over", choice="holds"),), left_alone=True))
    with pytest.raises(JinbaError, match="say which way"):
        check_record(
            f2,
            CardRecord(
                "F2",
                Outcome.DONE,
                (Reading("pitch_clicks", number=3), Reading("left_over", choice="holds")),
                left_alone=True,
            ),
        )
    with pytest.raises(OutOfRangeError, match="clicks"):
        check_record(
            f2,
            CardRecord(
                "F2", Outcome.DONE, (Reading("pitch_clicks", number=300, direction=Response.NOSE_UP),), left_alone=True
            ),
        )
    with pytest.raises(JinbaError, match="left alone"):
        check_record(
            f2,
            CardRecord(
                "F2", Outcome.DONE, (Reading("pitch_clicks", number=0, none=True), Reading("left_over", choice="holds"))
            ),
        )
    check_record(f2, CardRecord("F2", Outcome.DONE, (), left_alone=False))


def _timed(card_id: str, key: str, seconds: float, choice: str, rated: str):
    c = motorless(0.10)
    record = CardRecord(
        card_id, Outcome.DONE, (Reading(rated, choice=choice), Reading(key, number=seconds)), left_alone=True
    )
    data = data_of(record, Moment(design_of(c), trimmed(c)))
    return [d for d in data if d.measure.key.endswith("_timed")]


def test_the_seconds_to_level_are_those_of_the_released_path():
    """The same release, read two ways: the time at which it crosses level, and 35 degrees over that time."""
    c = motorless(0.10)
    d = design_of(c)
    s = situation(d, ZERO, speed_mps=d.cruise_speed_mps)
    run = release(
        s,
        elevator_rad=trimmed(c).elevator_rad,
        thrust_n=s.thrust_n,
        path_rad=predictions.DIVE_PATH_RAD,
        speed_ratio=1.12,
        window_s=8.0,
    )
    assert run.time_to_level_s is not None
    (datum,) = _timed("F12", "time_to_level", run.time_to_level_s, "pulls_out", "dive")
    assert datum.low == pytest.approx(35.0 / run.time_to_level_s)
    assert datum.measure.predict(ZERO, datum.moment) == pytest.approx(datum.low, rel=0.03)


@pytest.mark.parametrize(("choice", "sign"), [("rears", 1), ("rises", 1), ("sinks", -1), ("drops", -1)])
def test_a_timed_nose_has_the_sign_of_the_word(choice: str, sign: int):
    (datum,) = _timed("F2", "time_to_20_deg", 4.0, choice, "left_over")
    assert datum.low == pytest.approx(sign * 5.0)
    low, high = MEASURES["F2", "left_over"].scale.interval(["drops", "sinks", "holds", "rises", "rears"].index(choice))
    assert low * sign > 0 or high * sign > 0, "word and number agree"


def test_a_nose_that_takes_for_ever_says_only_slowly():
    assert _timed("F2", "time_to_20_deg", 5.0, "holds", "left_over") == [], "no word for the way it went"
    c = motorless(0.10)
    record = CardRecord(
        "F2",
        Outcome.DONE,
        (Reading("left_over", choice="holds"), Reading("time_to_20_deg", number=12.0, none=True)),
        left_alone=True,
    )
    slow = [d for d in data_of(record, Moment(design_of(c), trimmed(c))) if "20 degrees" in d.evidence]
    assert (slow[0].low, slow[0].high) == pytest.approx((-20 / 6, 20 / 6))


@pytest.mark.parametrize(("name", "value", "way"), [("THRUST_RIGHT", 0.05, "right"), ("THRUST_RIGHT", -0.05, "left")])
def test_a_thrust_axis_that_points_aside_turns_the_nose_there_at_full_power(name, value, way):
    c = model()
    d, t = design_of(c), trimmed(c)
    straight = predictions.crab_full_power(ZERO, Moment(d, t))
    x = ZERO.copy()
    x[P[name]] = value
    turned = predictions.crab_full_power(x, Moment(d, t)) - straight
    assert abs(turned) > 0.05
    assert (turned > 0) is (way == "right")


def test_a_model_that_flies_faster_than_thought_needs_less_lift():
    """L = C_L q S = W: ten per cent faster, 1/1.21 of the lift coefficient; the speed of a measure is the true one."""
    c = model()
    d = design_of(c)
    faster = ZERO.copy()
    faster[P.LN_SPEED] = math.log(1.1)
    slow, fast = (situation(d, x, speed_mps=d.cruise_speed_mps) for x in (ZERO, faster))
    assert fast.speed_mps == pytest.approx(1.1 * slow.speed_mps)
    assert fast.lift == pytest.approx(slow.lift / 1.21)


@pytest.mark.parametrize("margin", [0.03, 0.09, 0.18])
def test_what_is_out_of_trim_is_counted_in_elevator_whatever_the_margin(margin):
    """The clicks that would make it hold: so far from its trim, down is nose down; at the bench's own margin it is the rate."""
    c = motorless(0.09)
    d, t = design_of(c), trimmed(c)
    x = ZERO.copy()
    x[P.STATIC_MARGIN] = margin - 0.09
    s = situation(d, x, speed_mps=d.cruise_speed_mps)
    holds = replace(t, elevator_rad=trim_elevator_rad(s))
    one = predictions.trim_left_cruise(x, Moment(d, replace(holds, elevator_rad=holds.elevator_rad - 0.01)))
    two = predictions.trim_left_cruise(x, Moment(d, replace(holds, elevator_rad=holds.elevator_rad - 0.02)))
    assert predictions.trim_left_cruise(x, Moment(d, holds)) == pytest.approx(0.0, abs=1e-9)
    assert one > 0.5, "resting further up, the nose rises"
    assert two == pytest.approx(2.0 * one)
    here = Moment(d, replace(t, elevator_rad=t.elevator_rad - 0.01))
    assert one == pytest.approx(predictions.pitch_rate_cruise(ZERO, here), rel=0.02)


def test_a_nose_heavy_model_wants_down_when_faster_and_more_of_it_the_more_it_is():
    """de1 - de2 = -SM (CL1 - CL2)/V_d: Perkins and Hage, 1949, ch. 5 (from memory); one line, without a turning point."""
    c = motorless(0.09)
    d, t = flat(c), trimmed(c)
    found = []
    for margin in (-0.06, -0.02, 0.0, 0.05, 0.10, 0.20):
        x = ZERO.copy()
        x[P.STATIC_MARGIN] = margin - 0.09
        level, fast = (situation(d, x, speed_mps=k * d.cruise_speed_mps) for k in (1.0, 1.33))
        rest = replace(t, elevator_rad=trim_elevator_rad(level))
        found.append(predictions.trim_left_fast(x, Moment(d, rest)))
        expected = margin * (level.lift - fast.lift) / d.aero.pitch_control
        down = trim_elevator_rad(fast) - rest.elevator_rad
        assert down == pytest.approx(expected, abs=1e-9)
    assert found == sorted(found)
    assert found[2] == pytest.approx(0.0, abs=1e-9)
    assert found[1] < 0.0 < found[3]


def test_the_climb_is_held_by_what_trim_leaves_at_full_power():
    """Stick = (rest - trim)/throw at 1.4 times the stall and full throttle; behind the neutral point it is held forward."""
    held = {}
    for margin in (-0.03, 0.09):
        c = with_margin(model(), margin)
        d, t = design_of(c), trimmed(c)
        s = situation(d, ZERO, speed_mps=1.4 * d.stall_speed_mps, throttle="full")
        held[margin] = predictions.climb_stick(ZERO, Moment(d, t))
        assert held[margin] == pytest.approx((t.elevator_rad - trim_elevator_rad(s)) / d.elevator_throw_rad)
    slow = {
        m: predictions.climb_stick(ZERO, Moment(design_of(c), trimmed(c))) for m in (-0.03, 0.09) if (c := motorless(m))
    }
    assert slow[-0.03] < slow[0.09], "with no stream on its elevator"
    c = motorless(0.09)
    s = situation(design_of(c), ZERO, speed_mps=1.25 * design_of(c).stall_speed_mps)
    back = (trimmed(c).elevator_rad - trim_elevator_rad(s)) / c.throw_rad(Axis.PITCH)
    assert predictions.slow_stick(ZERO, Moment(design_of(c), trimmed(c))) == pytest.approx(back, rel=1e-6)
    assert back > 0.02, "slow, it is held back"


@pytest.mark.parametrize("above", [-0.05, 0.05])
def test_push_inverted_holds_a_load_of_minus_one_wherever_the_thrust_line_lies(above):
    """At the stick that is said the hands-off equation gives -1 g upside down, thrust and all."""
    c = with_margin(model(), 0.09)
    c = replace(c, airframe=replace(c.airframe, motor=replace(c.airframe.motor, z_m=c.airframe.motor.z_m + above)))
    d, t = design_of(c), trimmed(c)
    s = situation(d, ZERO, speed_mps=d.cruise_speed_mps)
    elevator = t.elevator_rad + predictions.inverted_push(ZERO, Moment(d, t)) * d.elevator_throw_rad
    found = load_factor(s, elevator_rad=elevator, thrust_n=s.thrust_n, gravity=-1.0)
    assert found == pytest.approx(-1.0, abs=0.05)


def test_seconds_to_twenty_degrees_are_read_in_degrees_a_second_of_the_flown_path():
    c = motorless(0.09)
    d, t = design_of(c), trimmed(c)
    off = Moment(d, replace(t, elevator_rad=t.elevator_rad - 0.02))
    steady = predictions.pitch_rate_cruise(ZERO, off)
    assert 0.4 * steady < predictions.pitch_rate_left(ZERO, off, seconds=1.0) < 1.05 * steady


def test_a_raised_nose_lets_the_thrust_carry_part_of_the_weight():
    """T/W sin(alpha), alpha = (n C_L - C_L0)/a; none where the wing lifts all of it at no incidence. By definition."""
    design = design_of(model())
    s = situation(design, np.zeros(COUNT), speed_mps=0.6 * design.cruise_speed_mps)
    weight = design.balance.mass.mass_kg * 9.80665
    alpha = (s.lift - design.aero.cl_zero) / design.aero.lift_slope
    assert alpha > 0.02
    assert s.thrust_load(0.5 * weight, 1.0) == pytest.approx(0.5 * math.sin(alpha), rel=1e-6)
    assert s.thrust_load(0.5 * weight, design.aero.cl_zero / s.lift) == pytest.approx(0.0, abs=1e-9)
    assert s.thrust_load(0.5 * weight, 2.0) > s.thrust_load(0.5 * weight, 1.0)


@pytest.mark.parametrize("faster", [-0.1, 0.0, 0.15])
def test_the_speed_course_reads_the_speed_it_flies_at(faster):
    c = with_margin(model(), 0.09)
    x = ZERO.copy()
    x[P.LN_SPEED] = faster
    moment = Moment(design_of(c), trimmed(c))
    wanted = design_of(c).cruise_speed_mps * math.exp(faster)
    assert predictions.cruise_speed(x, moment) == pytest.approx(wanted)


@pytest.mark.parametrize("key", ["low_wing", "high_wing", "v_tail", "canard", "flying_wing", "biplane"])
def test_a_degree_of_elevator_and_three_of_down_thrust_move_a_path_by_some_degrees_a_second(key):
    """Three to thirteen degrees a second for one of elevator, one to eight for three of tilt: common practice, no source."""
    c = with_margin(model(key), 0.09)
    design, trims, x = design_of(c), trimmed(c), ZERO.copy()
    tilted = ZERO.copy()
    tilted[P.THRUST_DOWN] = math.radians(3.0)
    up = Moment(design, trims.moved(Axis.PITCH, trims.elevator_rad - math.radians(1.0)))
    as_flown = Moment(design, trims)
    for rate in (predictions.pitch_rate_lift_off, predictions.up_line_rate):
        assert 3.0 < rate(x, up) - rate(x, as_flown) < 14.0
    for rate in (lambda v, m: predictions.pitch_rate_power(v, m, "full"), predictions.pitch_rate_go_round):
        moved = rate(tilted, as_flown) - rate(x, as_flown)
        assert 1.0 < abs(moved) < 9.0
        ahead = design.balance.x_m > c.airframe.motor.x_m
        assert (moved < 0.0) is ahead, "down-thrust ahead of the balance point lowers the nose, behind it raises it"


def test_the_thrust_arm_is_measured_from_the_balance_points_height():
    """A motor raised with everything aboard has the arm it had; raised alone it gains just that."""
    c = with_margin(model(), 0.09)
    motor = c.airframe.motor

    def arm(raised_m, aboard_m):
        a = replace(c.airframe, motor=replace(motor, z_m=motor.z_m + raised_m))
        items = tuple(replace(i, z_m=i.z_m + aboard_m) for i in c.items)
        design = design_of(replace(c, airframe=a, items=items))
        return situation(design, ZERO, speed_mps=design.cruise_speed_mps).thrust_arm_m

    assert arm(0.03, 0.0) - arm(0.0, 0.0) == pytest.approx(0.03, rel=0.02)
    assert arm(0.03, 0.03) == pytest.approx(arm(0.0, 0.0), abs=1e-6)
