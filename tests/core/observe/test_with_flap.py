"""Slow flight, approach and landing with flap are predicted for it, against a flight that shares no formula with it."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.masks import FLOWN_WITH_FLAP, masked
from jinba.core.cards.model import CardRecord, Conditions, Outcome, Reading
from jinba.core.cards.record_words import record_words
from jinba.core.configuration import Configuration
from jinba.core.controls.fitting import Command, ControlRole
from jinba.core.controls.mixing import Mix
from jinba.core.flight.simulation.craft import craft_of
from jinba.core.flight.simulation.steady import steady
from jinba.core.frames import Axis, Response
from jinba.core.observe.parameters import COUNT
from jinba.core.observe.predictions import Moment, touchdown_stick
from jinba.core.observe.readings import data_of
from jinba.core.observe.situation import design_of, resting_trims, situation, trim_elevator_rad
from jinba.core.observe.with_flap import flaps_down, with_flap
from jinba.core.stability.flap import working_angle_rad
from tests.builders import model

ZERO = np.zeros(COUNT)
BACK = Reading("stick_back", number=0.5, direction=Response.NOSE_UP)


def flapped(key: str = "high_wing") -> Configuration:
    """A model with a quarter-chord flap between body and ailerons."""
    c = model(key)
    wing, setup = c.airframe.wing, c.control_setup
    span, chord = (wing.control_inner - 0.1) * wing.half_span_m, 0.25 * wing.sections[0].chord_m
    sides = ((ControlRole.LEFT_FLAP, 7), (ControlRole.RIGHT_FLAP, 8))
    flaps = (replace(setup.fittings[0], role=r, channel=n, span_m=span, chord_m=chord) for r, n in sides)
    return replace(c, controls=replace(setup, fittings=(*setup.fittings, *flaps)))


def landed(*, flap: float | None = None) -> CardRecord:
    return CardRecord("F29", Outcome.DONE, (BACK,), conditions=Conditions(flap=flap))


def moment(c: Configuration) -> Moment:
    return Moment(design_of(c), resting_trims(c))


@pytest.mark.parametrize(
    "key", ["high_wing", "low_wing", "twin_boom_pusher", "sailplane", "v_tail", "canard", "tandem"]
)
@pytest.mark.parametrize("share", [0.5, 1.0])
def test_the_elevator_that_flap_takes_is_that_of_the_independent_flight(key, share):
    """Power off at 1.3 stall speeds, clean and flapped: the same way round, and within two fifths."""
    c = flapped(key)
    at, down = moment(c), flaps_down(c, share)
    there = with_flap(at, share)
    speed = 1.3 * at.design.stall_speed_mps
    clean, flap = (trim_elevator_rad(situation(m.design, ZERO, speed_mps=speed, throttle="idle")) for m in (at, there))
    craft = craft_of(c)
    truly = [
        steady(craft, speed_mps=speed, throttle=0.0, flap_rad=angle).surfaces[0]
        for angle in (0.0, down.flaps[0].angle_rad)
    ]
    assert flap - clean == pytest.approx(truly[1] - truly[0], rel=0.4)


def test_flap_on_a_tailed_model_lifts_the_nose_and_on_a_flying_wing_drops_it():
    """Handbook: the wake of a flap presses the tail down, which outweighs the flap's own moment; without a tail that is left."""
    for key, nose in (("high_wing", +1.0), ("flying_wing", -1.0)):
        c = flapped(key)
        at = moment(c)
        assert nose * (with_flap(at, 1.0).design.aero.cm_zero - at.design.aero.cm_zero) > 0.005


def test_flap_lowers_the_stall_speed_and_more_of_it_never_raises_it():
    at = moment(flapped())
    speeds = [at.design.stall_speed_mps, *(with_flap(at, s).design.stall_speed_mps for s in (0.3, 0.6, 1.0))]
    assert speeds == sorted(speeds, reverse=True)
    assert 0.85 < speeds[-1] / speeds[0] < 0.98


@pytest.mark.parametrize(("deg", "share"), [(10, 1.0), (20, 0.80), (40, 0.54)])
def test_a_plain_flap_works_less_at_a_large_angle(deg, share):
    """DATCOM, 1978, fig. 6.1.1.1-40, a quarter chord (from memory)."""
    assert working_angle_rad(math.radians(-deg)) == pytest.approx(-math.radians(deg * share))


def test_a_landing_with_flap_is_data_of_the_flapped_model_and_no_weak_elevator():
    c = flapped()
    at = moment(c)
    (clean,), (flap,) = data_of(landed(), at), data_of(landed(flap=1.0), at)
    asked = [d.measure.predict(ZERO, d.moment) for d in (clean, flap)]
    # The flap lifts the nose: it takes less back stick, and the same stick as clean would mean less than it does.
    assert asked[1] < asked[0] - 0.05
    assert asked[1] == pytest.approx(touchdown_stick(ZERO, with_flap(at, 1.0)))
    assert flap.sigma == pytest.approx(2.0 * clean.sigma)
    assert flap.measure.bias > clean.measure.bias
    assert flap.measure.bias_key != clean.measure.bias_key, "what the flap does wrong is not what the clean model does"


def test_a_mix_that_holds_the_flap_is_in_the_prediction():
    """Down elevator with the flap takes away the nose that the flap lifts: more back stick at touchdown."""
    c = flapped()
    mixed = replace(c, controls=replace(c.controls, mixes=(Mix(Command.FLAP, Command.PITCH, 0.2),)))
    assert flaps_down(mixed, 1.0).elevator_rad == pytest.approx(0.2 * mixed.throw_rad(Axis.PITCH), rel=0.1)
    plain, helped = (touchdown_stick(ZERO, with_flap(moment(m), 1.0)) for m in (c, mixed))
    assert helped == pytest.approx(plain + 0.2, abs=0.03)


def test_where_no_flaps_are_described_a_landing_with_flap_says_nothing_of_the_elevator():
    assert data_of(landed(flap=1.0), moment(model("high_wing"))) == ()


@pytest.mark.parametrize("card", FLOWN_WITH_FLAP)
def test_what_is_predicted_for_flap_is_said_and_not_refused(card):
    record = CardRecord(card, Outcome.DONE, conditions=Conditions(flap=0.5))
    assert masked(record) == ""
    assert any("flown with 50 % flap: it counts" in w for w in record_words(record))
    assert CARDS[card].with_flap
