"""Trim moved out of the radio: nothing moves in the air, both ways, per surface, and what the device forbids."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.bench.controls import controls_answer, trim_offsets
from jinba.core.bench.trim_transfer import transfer
from jinba.core.cards.stale import Change, difference
from jinba.core.configuration import Configuration
from jinba.core.controls.fitting import ControlRole
from jinba.core.controls.linkage import Drive, turned_rad, turns_for
from jinba.core.controls.stabiliser import Stabiliser
from jinba.core.controls.transfer import Way, nearest_half_turns
from jinba.core.controls.trim import deflection_for, pulses_for, surface_rest_rad
from jinba.core.errors import JinbaError, RefusedError
from jinba.core.frames import Axis
from jinba.core.spoken import spoken
from tests.builders import model


def with_clicks(key: str, **clicks: int) -> Configuration:
    c = model(key)
    c = replace(c, controls=c.control_setup)
    for name, count in clicks.items():
        c = replace(c, **{name: replace(getattr(c, name), clicks=count)})
    return c


@pytest.mark.parametrize("way", [Way.CLEVIS, Way.SUB_TRIM])
@pytest.mark.parametrize("key", ["low_wing", "flying_wing", "v_tail", "canard"])
def test_every_surface_stays_where_it_flew(key, way):
    c = with_clicks(key, elevator=-6, aileron=5)
    after = transfer(c, way).configuration
    for axis in Axis:
        assert after.control(axis).resting_rad == pytest.approx(c.control(axis).resting_rad, abs=1e-12)
        assert after.control(axis).clicks == 0
    moved = any(abs(after.control(a).mechanical_rad - c.control(a).mechanical_rad) > 1e-6 for a in Axis)
    assert moved is (way is Way.CLEVIS)


def test_six_clicks_of_up_elevator_by_hand():
    """6 x 0.25 = 1.5 degrees up; M2 on a 12 mm horn is 1.91 degrees a turn: one turn in, 0.41 degrees are left for sub-trim."""
    c = with_clicks("low_wing", elevator=-6)
    row = next(s for s in controls_answer(c).surfaces if s.role == "elevator")
    assert row.half_turns == -2
    assert math.degrees(row.turned_rad) == pytest.approx(-1.91, abs=0.02)
    assert "screw in (shorter rod) the clevis by 1 turn: it goes up, for nose up" in row.clevis
    moved = transfer(c, Way.CLEVIS)
    stands = f"{1000 * c.elevator.chord_m * 2 * math.sin(abs(c.elevator.resting_rad) / 2):.1f} mm"
    assert c.elevator.mechanical_rad < 0, "it was up a little before"
    assert f"All trims centred: elevator up {stands}" in spoken(" ".join(moved.to_find))
    assert moved.configuration.controls is not None
    assert moved.configuration.controls.to_find[:2] == ("Propeller off.", "Centre all trims.")
    changed = difference(c, moved.configuration)
    assert Change.ELEVATOR in changed.changes
    assert {"B2", "B4"} <= changed.stale, "all centred is proved at the bench before the next flight"


@given(rest=st.floats(-0.14, 0.14), half_turns=st.integers(-8, 8))
def test_turns_and_pulses_go_there_and_back(rest, half_turns):
    f = model("low_wing").control_setup.fittings[2]
    assert deflection_for(f, pulses_for(f, rest)) == pytest.approx(rest, abs=1e-9)
    exact = turned_rad(f.linkage, 0.5 * half_turns)
    assert turns_for(f.linkage, exact) == pytest.approx(0.5 * half_turns, abs=1e-9)
    assert nearest_half_turns(f, 0.0, exact) == half_turns


def test_the_two_tasks_of_an_elevon_add_on_one_surface_and_cancel_on_the_other():
    c = with_clicks("flying_wing", elevator=-4, aileron=4)
    rows = {s.role: s for s in controls_answer(c).surfaces}
    assert rows["left_elevon"].in_radio_rad == pytest.approx(0.0, abs=1e-9), (
        "up for pitch, down for a roll to the right"
    )
    assert rows["right_elevon"].in_radio_rad == pytest.approx(-8 * c.elevator.rad_per_click)
    offsets = trim_offsets(c)
    right = next(f for f in c.control_setup.fittings if f.role is ControlRole.RIGHT_ELEVON)
    assert surface_rest_rad(right, offsets) == pytest.approx(rows["right_elevon"].in_radio_rad)


def test_moving_one_axis_of_an_elevon_leaves_the_other_where_it_was():
    c = with_clicks("flying_wing", elevator=-5, aileron=3)
    after = transfer(c, Way.CLEVIS, axes=(Axis.PITCH,)).configuration
    for axis in Axis:
        assert after.control(axis).resting_rad == pytest.approx(c.control(axis).resting_rad, abs=1e-12)
    assert (after.elevator.clicks, after.aileron.clicks) == (0, 3)


def test_a_controller_forbids_radio_trims_and_takes_them_as_midpoints():
    c = with_clicks("flying_wing", elevator=-6)
    assert c.controls is not None
    fitted = replace(c, controls=replace(c.controls, stabiliser=Stabiliser()))
    with pytest.raises(RefusedError, match="standing command"):
        transfer(fitted, Way.SUB_TRIM)
    with pytest.raises(RefusedError, match="No flight controller"):
        transfer(c, Way.MIDPOINT)
    learned = transfer(fitted, Way.MIDPOINT).configuration
    assert learned.controls is not None
    for f in learned.controls.fittings:
        assert f.learned_us is not None
        assert deflection_for(f, f.learned_us - 1500.0) == pytest.approx(-6 * c.elevator.rad_per_click, abs=1e-9)
    assert learned.elevator.resting_rad == pytest.approx(fitted.elevator.resting_rad)
    assert (learned.elevator.clicks, learned.elevator.sub_trim_rad) == (0, 0.0)
    words = controls_answer(learned).midpoints
    assert len(words) == 2
    assert all("µs" in w and "mm at" in spoken(w) for w in words), (
        "its trims are microseconds and millimetres, not clicks"
    )


def test_what_cannot_be_moved_is_said():
    with pytest.raises(JinbaError, match="nothing to move"):
        transfer(model("low_wing"), Way.CLEVIS)
    c = with_clicks("low_wing", elevator=-6)
    assert c.controls is not None
    direct = tuple(
        replace(f, linkage=replace(f.linkage, drive=Drive.DIRECT)) if f.role is ControlRole.ELEVATOR else f
        for f in c.controls.fittings
    )
    found = transfer(replace(c, controls=replace(c.controls, fittings=direct)), Way.CLEVIS)
    assert any("no clevis" in s for s in found.steps)
    assert found.configuration.elevator.resting_rad == pytest.approx(c.elevator.resting_rad), "all of it to sub-trim"


def test_more_than_the_threshold_is_to_be_moved_and_few_may_stay():
    """Common practice, no source: more than several clicks, taken as four, are moved out of the radio."""
    rows = {t.axis: t for t in controls_answer(with_clicks("low_wing", elevator=-6, aileron=4)).ledger}
    assert rows[Axis.PITCH].beyond
    assert not rows[Axis.ROLL].beyond
    assert "6 clicks nose up: elevator trailing edge up; lever towards you" in rows[Axis.PITCH].words
