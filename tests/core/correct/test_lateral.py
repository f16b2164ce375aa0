"""Ballast in a tip, washers behind a motor, clicks as they were flown: amounts by the sum of moments."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest

from jinba.core.configuration import balance_of
from jinba.core.correct.actions import ActionKind
from jinba.core.correct.compose import as_flown, compose
from jinba.core.frames import Axis
from jinba.core.observe.situation import Trims
from tests.builders import model, trimmed, with_margin
from tests.core.correct.test_compose import knowing


@pytest.mark.parametrize(("offset", "side"), [(+0.006, -1.0), (-0.006, +1.0)])
def test_tip_ballast_sits_in_the_light_tip_and_balances_what_was_found(offset, side):
    """m arm = M y: the moment of the found offset, to the piece that hands can add; never beyond the tip."""
    c = with_margin(model(), 0.09)
    span = 2.0 * c.airframe.wing.half_span_m
    after = compose(c, knowing(LATERAL_CG=offset), trimmed(c)).configuration
    added = next(i for i in after.items if i.key.startswith("tip-"))
    assert math.copysign(1.0, added.y_m) == side
    assert 0.45 * span <= abs(added.y_m) <= 0.5 * span
    moment = balance_of(c).mass.mass_kg * abs(offset) * span
    assert added.mass_kg * abs(added.y_m) == pytest.approx(moment, abs=0.0011 * span / 2)


@pytest.mark.parametrize("raised", [0.06, 0.04, -0.05])
def test_washers_tilt_by_half_degrees_and_the_setup_by_just_as_much(raised):
    c = with_margin(model(), 0.09)
    motor = c.airframe.motor
    assert motor is not None
    off_line = replace(c, airframe=replace(c.airframe, motor=replace(motor, z_m=motor.z_m + raised)))
    found = compose(off_line, knowing(), trimmed(off_line))
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
