"""A propeller's stream: against the momentum theory of a reference library, by hand, and in words for what it does to the nose."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from aerosandbox.library.propulsion_propeller import propeller_shaft_power_from_thrust
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.airframe.parts import Airframe
from jinba.core.observe.in_stream import Moments, StreamSums, stream_sums
from jinba.core.observe.parameters import P, prior_means
from jinba.core.observe.situation import design_of, situation, trim_elevator_rad
from jinba.core.power.propulsion import power_of
from jinba.core.power.slipstream import MIXED, STREAM_OVER_DISK, disk_area_m2, share_in_stream, speed_gain
from tests.builders import model


@given(st.floats(0.5, 60.0), st.floats(3.0, 40.0), st.floats(0.01, 0.3))
def test_a_stream_is_as_fast_as_the_momentum_theory_of_a_reference_library_has_it(thrust, speed, disk):
    """aerosandbox (PyPI): ideal power P = T (V + w/2), w the gain far behind; ours leaves the share :data:`MIXED` of it."""
    power = propeller_shaft_power_from_thrust(thrust, disk, speed, 1.225, propeller_coefficient_of_performance=1.0)
    far_behind = 2.0 * (power / thrust - speed)
    gain = speed_gain(thrust, speed_mps=speed, density_kg_m3=1.225, disk_area_m2=disk)
    assert gain == pytest.approx(MIXED * far_behind / speed, rel=1e-6)


def test_without_thrust_nothing_is_blown_on():
    assert speed_gain(0.0, speed_mps=12.0, density_kg_m3=1.2, disk_area_m2=0.05) == 0.0
    assert speed_gain(-2.0, speed_mps=12.0, density_kg_m3=1.2, disk_area_m2=0.05) == 0.0, "a windmilling propeller"
    glider = design_of(model("sailplane")).stream
    assert (glider.control, glider.disk_area_m2) == (0.0, 0.0)


def tailed(**more: float) -> Airframe:
    a = model().airframe
    assert a.motor is not None
    return replace(a, motor=replace(a.motor, **more))


def test_a_tail_of_one_chord_lies_in_the_stream_by_its_width():
    """0.9 x 0.30 m of a tail of 0.40 m and one chord: two thirds of it, 0.27/0.40; off by more than its radius nothing of it."""
    a = tailed()
    tail = a.pitch_surface
    assert tail is not None
    assert a.motor is not None
    flat = replace(tail, z_m=0.0, sections=tuple(replace(s, chord_m=0.1, z_offset_m=0.0) for s in tail.sections))
    width = 2.0 * flat.half_span_m
    ahead = replace(a, motor=replace(a.motor, x_m=-0.2, z_m=0.0, propeller_diameter_m=0.5 * width))
    assert share_in_stream(flat, ahead) == pytest.approx(0.5 * STREAM_OVER_DISK, abs=0.03)
    assert share_in_stream(flat, replace(ahead, motor=replace(ahead.motor, z_m=0.5 * width))) == 0.0
    behind = replace(ahead, motor=replace(ahead.motor, x_m=flat.x_m + 1.0))
    assert share_in_stream(flat, behind) == 0.0, "a pusher blows on nothing that lies ahead of it"
    assert disk_area_m2(ahead) == pytest.approx(0.25 * np.pi * (0.5 * width) ** 2)


SUMS = StreamSums(0.02, -0.01, 0.4, -0.04, 0.02, -0.8, 0.5, 0.1, 4.8, 0.05)


@given(st.floats(0.0, 1.5), st.floats(-0.2, 0.2), st.floats(-1.0, 1.2))
def test_the_moments_in_the_stream_are_those_summed_at_the_incidence_that_carries_the_model(gain, none, lift):
    """By hand, surface by surface: the incidence for a lift first, then what is blown on at that incidence, squared and straight."""
    free = Moments(none, 0.1, 0.02)
    squared = (1.0 + gain) ** 2 - 1.0
    base = SUMS.cl_zero + squared * SUMS.lift_set + gain * SUMS.lift_base
    alpha = (lift - base) / (SUMS.slope + gain * SUMS.lift_slope)
    unblown = SUMS.cl_zero + SUMS.slope * alpha
    by_hand = free.none - free.margin * unblown + free.square * unblown**2
    by_hand += squared * SUMS.moment_set + gain * (SUMS.moment_base + SUMS.moment_slope * alpha)
    found = SUMS.moments(gain, free)
    assert found.none - found.margin * lift + found.square * lift**2 == pytest.approx(by_hand, abs=1e-9)


def test_a_tail_in_the_stream_steadies_and_its_elevator_grows_stronger():
    """Common practice, no source: under power a tractor's tail is worth more, so is its elevator; a canard's pusher blows on neither."""
    x = prior_means()
    for key, blown in (("low_wing", True), ("v_tail", True), ("canard", False)):
        d = design_of(model(key))
        idle, full = (situation(d, x, speed_mps=d.cruise_speed_mps, throttle=t) for t in ("idle", "full"))
        assert (full.static_margin >= idle.static_margin) if blown else (full.static_margin == idle.static_margin), key
        assert (full.pitch_control > 1.02 * idle.pitch_control) is blown, key


def test_more_thrust_stands_still_than_flies_and_a_fast_model_has_least():
    a = model().airframe
    still, cruise, fast = (power_of(a).full_n(v) for v in (0.0, 1.0, 1.6))
    assert still > cruise > fast > 0.0
    assert still == pytest.approx(a.motor.static_thrust_n), "standing it pulls what was weighed"
    assert power_of(a).full_n(9.0) > 0.0


def test_the_stream_is_in_what_holds_the_model_level():
    """The same model with its propeller raised out of the tail's way holds level with another elevator: the stream counts in a trim."""
    d = design_of(model("low_wing"))
    x = prior_means()
    assert x[P.STATIC_MARGIN] == 0.0
    blown = trim_elevator_rad(situation(d, x, speed_mps=d.cruise_speed_mps))
    dry = trim_elevator_rad(situation(replace(d, stream=StreamSums()), x, speed_mps=d.cruise_speed_mps))
    assert blown != pytest.approx(dry, abs=1e-4)
    assert stream_sums(d.configuration.airframe, d.aero, x_cg_m=d.balance.x_m) == d.stream
