"""Roll rate, load factor, the authority floor and the schools of throw."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.bench.authority import (
    FLOOR_SHARE,
    floor_throw_rad,
    full_load_factor,
    full_roll_rate_rad_s,
    rate_authority,
    slow_pull_up,
    throw_for_load_factor,
    throw_schools,
)
from jinba.core.bench.controls import controls_answer
from jinba.core.bench.mix_values import mix_values
from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.configuration import ModelClass
from jinba.core.controls.fitting import Command
from jinba.core.controls.mixing import Mix
from jinba.core.controls.throws import RateStep
from jinba.core.frames import Axis, Response
from jinba.core.observe.situation import design_of
from jinba.core.spoken import spoken
from tests.builders import model, with_margin
from tests.reference.linkages import ROLL


@pytest.mark.parametrize(("cl_da", "cl_p", "degrees", "span", "speed", "wanted"), ROLL)
def test_steady_roll_rates_of_the_textbook(cl_da, cl_p, degrees, span, speed, wanted):
    d = design_of(model())
    planform = replace(d.aero.planform, span_m=span)
    known = replace(d, aero=replace(d.aero, planform=planform, cl_aileron=cl_da, cl_p=cl_p))
    assert math.degrees(full_roll_rate_rad_s(known, math.radians(degrees), speed_mps=speed)) == pytest.approx(wanted)


@pytest.mark.parametrize("margin", [0.05, 0.10, 0.15])
def test_elevator_per_g_is_the_manoeuvre_margin(margin):
    """d(elevator)/dn = CL (SM + D)/V_d: Etkin and Reid, 1996, ch. 3 (from memory), with our signs: up is less; SM that at the lift
    half way, SM - K CL (n1 + n2)."""
    c = model()
    # A propeller's stream would make its tail stronger: by hand there is none.
    d = design_of(with_margin(replace(c, airframe=replace(c.airframe, motor=None)), margin))
    v = d.cruise_speed_mps
    one, two = throw_for_load_factor(d, 1.2, speed_mps=v), throw_for_load_factor(d, 1.7, speed_mps=v)
    q = 0.5 * d.configuration.density_kg_m3 * v**2
    lift = d.balance.mass.mass_kg * 9.80665 / (q * d.aero.planform.area_m2)
    assert (two - one) / 0.5 == pytest.approx(
        lift * (d.static_margin - d.aero.cm_square * lift * 2.9 + d.damping) / d.aero.pitch_control, rel=0.02
    )


@given(n=st.floats(1.1, 2.2))
def test_a_load_factor_leads_back_to_its_throw(n):
    d = design_of(model())
    pulled, stalls = full_load_factor(
        d, throw_for_load_factor(d, n, speed_mps=d.cruise_speed_mps), speed_mps=d.cruise_speed_mps
    )
    assert pulled == pytest.approx(n, rel=1e-6)
    assert not stalls


def test_a_wing_never_pulls_more_than_it_can_and_says_so():
    d = design_of(model())
    n, stalls = full_load_factor(d, math.radians(40), speed_mps=d.cruise_speed_mps)
    assert stalls
    assert n == pytest.approx((d.cruise_speed_mps / d.stall_speed_mps) ** 2)


def test_the_fastest_dive_is_said_with_what_full_stick_pulls_there():
    d = design_of(model())
    fast = 1.8 * d.cruise_speed_mps
    found = rate_authority(d, model().control_setup, Axis.PITCH, RateStep("high", 1.0, 1.0), dive_mps=fast)
    assert found.load_factor is not None
    assert found.load_factor_dive is not None
    assert found.load_factor < found.load_factor_dive <= (fast / d.stall_speed_mps) ** 2 + 1e-9
    assert f"In the fastest dive, {fast:.0f} m/s, it pulls {found.load_factor_dive:.0f} g." in spoken(found.words)


def test_the_pull_out_height_is_that_of_the_integrated_path():
    """The closed form against dh = V sin(g) dt, dg = g0 (n - cos g)/V dt, stepped."""
    d = design_of(model())
    share, height = slow_pull_up(d, math.radians(15))
    v, n = 1.3 * d.stall_speed_mps, share * 1.69
    path, lost, dt = math.radians(45.0), 0.0, 1e-4
    while path > 0:
        lost += v * math.sin(path) * dt
        path -= 9.80665 * (n - math.cos(path)) / v * dt
    assert height == pytest.approx(lost, rel=2e-3)


def test_the_floor_divides_the_rates_that_pass_from_those_that_fail():
    d, setup = design_of(with_margin(model(), 0.14)), model().control_setup
    floor = floor_throw_rad(d)
    assert slow_pull_up(d, floor)[0] == pytest.approx(FLOOR_SHARE, abs=1e-6)
    low = rate_authority(d, setup, Axis.PITCH, RateStep("low", 0.08, 0.08))
    high = rate_authority(d, setup, Axis.PITCH, RateStep("high", 1.0, 1.0))
    assert low.floor_passed is False
    assert "Below the floor" in low.words
    assert high.floor_passed is True
    assert low.first_rad < floor < high.first_rad


@pytest.mark.parametrize("kind", list(ModelClass))
def test_the_schools_keep_to_the_floor_and_to_the_wing(kind):
    c = replace(model(), model_class=kind)
    d = design_of(c)
    found = {s.key: s for s in throw_schools(d, c.control_setup)}
    assert sum(s.usual for s in found.values()) == 1
    assert found["low"].pitch_rad >= floor_throw_rad(d) - 1e-9
    assert found["low"].pitch_rad <= found["no_stall"].pitch_rad + 1e-9
    assert full_load_factor(d, 0.999 * found["no_stall"].pitch_rad, speed_mps=d.cruise_speed_mps)[1] is False
    soft = found["soft"]
    assert (1 - soft.pitch_expo) * soft.pitch_rad == pytest.approx(
        max(found["low"].pitch_rad, 0.3 * soft.pitch_rad), rel=0.02
    )


def test_a_click_measured_otherwise_than_the_linkage_says_is_said():
    c = model()
    agrees = {a.axis: a.agrees for a in controls_answer(c).agreements}
    assert all(agrees.values())
    off = replace(c, elevator=replace(c.elevator, rad_per_click=1.5 * c.elevator.rad_per_click))
    found = next(a for a in controls_answer(replace(off, controls=c.control_setup)).agreements if a.axis is Axis.PITCH)
    assert not found.agrees
    assert "Measure again, or take the linkage's" in found.words


def done(card: str, *readings: Reading) -> CardRecord:
    return CardRecord(card, Outcome.DONE, readings)


def test_mix_values_by_hand():
    """High rate 100 %, expo 30 %: half stick is 0.7 x 0.5 + 0.3 x 0.125 = 0.3875 of the throw; at half flap 0.775 at full."""
    setup = model().control_setup
    flap = mix_values(setup, (done("F11", Reading("stick_half", number=0.5, direction=Response.NOSE_DOWN)),))[0]
    assert flap.mix.share == pytest.approx(0.775)
    assert 0.2 < flap.left_share < 0.25
    # Clicks: 4 x 6 us of 500 over half the throttle.
    clicks = Reading("clicks_full", number=4, direction=Response.NOSE_DOWN)
    power = mix_values(setup, (done("F5", clicks),))[0]
    assert power.mix.share == pytest.approx(4 * setup.radio.click_us / 500 / 0.5, abs=1e-3)
    assert "shim the motor first" in power.advice


def test_knife_edge_gives_a_mix_for_each_side():
    setup = model().control_setup
    record = done(
        "F21",
        Reading("rudder_right", number=1.0, direction=Response.YAW_RIGHT),
        Reading("pitch_right", number=0.2, direction=Response.NOSE_UP),
        Reading("roll_right", number=0.1, direction=Response.ROLL_LEFT),
        Reading("rudder_left", number=1.0, direction=Response.YAW_LEFT),
        Reading("pitch_left", number=0.2, direction=Response.NOSE_UP),
        Reading("roll_left", none=True),
    )
    found = {m.mix.target.value: m.mix for m in mix_values(setup, (record,))}
    pitch = found["pitch"]
    held = 0.7 * 0.2 + 0.3 * 0.2**3
    assert pitch.gives(np.array([1.0])) == pytest.approx([-held], abs=1e-3), "nose up with left rudder"
    assert pitch.gives(np.array([-1.0])) == pytest.approx([-held], abs=1e-3), "and with right rudder as well"
    roll = found["roll"]
    assert roll.gives(np.array([-1.0]))[0] < 0, "right rudder: roll to the left"
    assert roll.gives(np.array([1.0]))[0] == 0.0
    assert isinstance(pitch, Mix)


def test_differential_thrust_is_said_and_is_none_with_the_throttle_closed():
    c = model()
    setup = replace(c.control_setup, differential_thrust=0.3)
    words = controls_answer(replace(c, controls=setup)).mixes
    assert words == (
        "full left rudder at half throttle: left motor 35 %, right motor 65 %; with the throttle closed both stand still",
    )


def test_of_a_card_flown_again_the_latest_counts_and_nothing_held_asks_for_nothing():
    setup = model().control_setup
    first = done("F11", Reading("stick_half", number=0.5, direction=Response.NOSE_DOWN))
    again = done("F11", Reading("stick_half", number=0.2, direction=Response.NOSE_DOWN))
    found = mix_values(setup, (first, again))
    assert found == mix_values(setup, (again,))
    assert len(found) == 1
    assert mix_values(setup, (done("F5", Reading("clicks_full", number=0)),)) == ()


def test_a_card_that_was_not_flown_asks_for_nothing():
    setup = model().control_setup
    assert mix_values(setup, (CardRecord("F11", Outcome.SKIPPED), done("F5"), done("F21"))) == ()


def test_what_is_held_beside_a_mix_adds_to_it():
    """Found by review: 45 % set and 5 % held asked for 4 %; 5 % set and four clicks for 10 %."""
    setup = model().control_setup
    flown = replace(setup, mixes=(Mix(Command.FLAP, Command.PITCH, -0.45), Mix(Command.THROTTLE, Command.PITCH, 0.05)))
    back = done("F11", Reading("stick_full", number=0.05, direction=Response.NOSE_UP))
    (flap,) = mix_values(flown, (back,))
    held = 0.7 * 0.05 + 0.3 * 0.05**3
    assert flap.mix.share == pytest.approx(-0.45 - held, abs=1e-3)
    assert "besides the 45 % nose up that the mix gave" in flap.words
    clicks = done("F5", Reading("clicks_full", number=4, direction=Response.NOSE_DOWN))
    (power,) = mix_values(flown, (clicks,))
    assert power.mix.share == pytest.approx(0.05 + 4 * setup.radio.click_us / 500 / 0.5, abs=1e-3)


def test_a_mix_that_leaves_too_little_elevator_limits_the_flap_and_is_not_to_be_set():
    """Found by review: a command of 130 % was clipped and "set it"; 30 % of the elevator stays for the stick."""
    setup = model().control_setup
    (value,) = mix_values(setup, (done("F11", Reading("stick_half", number=0.75, direction=Response.NOSE_DOWN)),))
    assert value.command > 1.2
    assert not value.fits
    assert value.source_limit * value.command == pytest.approx(0.70, abs=0.01)
    assert f"Limit the flap to {100 * value.source_limit:.0f} %" in value.advice
    (small,) = mix_values(setup, (done("F11", Reading("stick_half", number=0.2, direction=Response.NOSE_DOWN)),))
    assert (small.fits, small.source_limit) == (True, 1.0)


def test_knife_edge_on_one_side_says_nothing_of_the_other_and_a_climb_asks_for_less_rudder():
    setup = model().control_setup
    flown = replace(setup, mixes=(Mix(Command.YAW, Command.PITCH, 0.10, 0.20),))
    record = done(
        "F21",
        Reading("height_right", choice="climbs"),
        Reading("rudder_right", number=1.0, direction=Response.YAW_RIGHT),
        Reading("pitch_right", number=0.2, direction=Response.NOSE_UP),
    )
    (value,) = mix_values(flown, (record,))
    held = 0.7 * 0.2 + 0.3 * 0.2**3
    assert value.mix.share == pytest.approx(0.10), "left rudder was not flown: as it was"
    assert value.mix.gives(np.array([-1.0])) == pytest.approx([-0.20 - held], abs=1e-3), "right rudder: more nose up"
    assert "The other side was not flown" in value.words
    assert "climbed with right rudder: less rudder there" in value.advice
