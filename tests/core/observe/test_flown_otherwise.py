"""What was flown at another throttle is predicted for it; with flap that nobody described only which wing goes down counts."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.masks import SIDEWAYS, STEPS_ITSELF
from jinba.core.cards.model import CardRecord, Conditions, GearState, Outcome, Reading
from jinba.core.cards.record_words import record_words
from jinba.core.frames import Response
from jinba.core.observe.measures import MEASURES
from jinba.core.observe.parameters import COUNT
from jinba.core.observe.predictions import Moment
from jinba.core.observe.readings import data_of
from jinba.core.observe.situation import design_of, situation, thrust_at
from tests.builders import model, trimmed, with_margin

C = with_margin(model(), 0.09)
AT = Moment(design_of(C), trimmed(C))
ZERO = np.zeros(COUNT)


def high_motor(metres: float):
    """The motor on a pylon above (below, negative) the balance point, pulling straight ahead."""
    motor = C.airframe.motor
    z = design_of(C).balance.mass.z_m + metres
    moved = replace(motor, z_m=z, tilt_down_rad=0.0)
    return replace(C, airframe=replace(C.airframe, motor=moved))


def flown(card: str, *readings: Reading, **conditions) -> CardRecord:
    alone = True if CARDS[card].proof_of_trim else None
    return CardRecord(card, Outcome.DONE, readings, alone, conditions=Conditions(**conditions))


def predicted(record: CardRecord, key: str, c=C) -> float:
    at = Moment(design_of(c), trimmed(c))
    (found,) = [d for d in data_of(record, at) if d.measure.key == key]
    return float(found.measure.predict(ZERO, found.moment))


@pytest.mark.parametrize(("height", "way"), [(0.08, -1.0), (-0.08, 1.0)], ids=["above", "below"])
def test_full_power_from_a_motor_above_pushes_the_nose_down_and_from_below_pulls_it_up(height, way):
    """Trimmed at cruise and looked at under full power: the nose that goes is the thrust line's, no trim is out."""
    left = Reading("left_over", choice="holds")
    c = high_motor(height)
    cruise, full = (predicted(flown("F2", left, **lever), "pitch_left_over", c) for lever in ({}, {"throttle": 1.0}))
    assert way * (full - cruise) > 0.5


def test_a_glide_is_predicted_without_thrust_and_half_the_lever_gives_about_a_third_of_it():
    """Turns go with the lever and thrust with their square: 0.25; a straight line: 0.5. Common practice between, no source."""
    full = situation(AT.design, ZERO, speed_mps=14.0, throttle="full").thrust_n
    assert situation(AT.design, ZERO, speed_mps=14.0, throttle=0.0).thrust_n == 0.0
    assert situation(AT.design, ZERO, speed_mps=14.0, throttle=1.0).thrust_n == pytest.approx(full)
    assert situation(AT.design, ZERO, speed_mps=14.0, throttle=0.5).thrust_n == pytest.approx(0.354 * full, rel=0.01)
    assert thrust_at(10.0, 0.5) == pytest.approx(3.54, abs=0.01)


@pytest.mark.parametrize(
    ("card", "reading", "key"),
    [
        ("F1", Reading("stick_held", number=0.2, direction=Response.NOSE_UP), "climb_stick"),
        ("F3", Reading("left_over", choice="level"), "roll_left_over"),
        ("F4", Reading("left_over", choice="straight"), "yaw_left_over"),
        ("F12", Reading("dive", choice="eases"), "dive"),
        ("F15", Reading("line", choice="straight"), "up_line"),
        ("F29", Reading("stick_back", number=0.4, direction=Response.NOSE_UP), "touchdown_stick"),
    ],
)
def test_every_card_is_predicted_for_the_throttle_that_was_used(card, reading, key):
    # At full power from far above a dive is bent alike at any margin, and gives no data.
    c = high_motor(0.04)
    asked = {"full": 0.0, "idle": 1.0}.get(CARDS[card].throttle, 1.0)
    assert CARDS[card].throttle, "the console asks for it"
    assert predicted(flown(card, reading), key, c) != pytest.approx(
        predicted(flown(card, reading, throttle=asked), key, c), abs=1e-4
    )


def test_a_card_that_moves_the_throttle_itself_asks_for_none():
    for card_id in STEPS_ITSELF:
        assert CARDS[card_id].throttle == ""
    step = flown("F5", Reading("pitch_full", choice="rises"), throttle=1.0)
    assert {d.moment.throttle for d in data_of(step, AT)} == {None}


def test_a_stall_with_power_says_no_stall_speed_and_says_so():
    wing, speed = Reading("wing", choice="none"), Reading("entry_speed", number=8.0)
    idle, powered = flown("F8", wing, speed), flown("F8", wing, speed, throttle=0.5)
    assert {d.measure.key for d in data_of(idle, AT)} == {"stall_wing", "stall_speed"}
    assert {d.measure.key for d in data_of(powered, AT)} == {"stall_wing"}
    assert any("not that of a stall without power" in w for w in record_words(powered))
    assert not any("flown at" in w for w in record_words(idle))


SLOW = (
    Reading("stick_held", number=0.3, direction=Response.NOSE_UP),
    Reading("roll_slow", choice="left"),
    Reading("bank_wing", choice="left"),
    Reading("bank_time", number=4.0),
)


def test_slow_flight_with_flap_says_which_wing_is_heavy_where_nobody_described_the_flaps():
    clean, flapped = data_of(flown("F7", *SLOW), AT), data_of(flown("F7", *SLOW, flap=1.0), AT)
    assert {d.measure.key for d in clean} == {"slow_stick", "roll_slow", "roll_slow_timed"}
    assert {d.measure.key for d in flapped} == {"roll_slow", "roll_slow_timed"}
    by_key = {d.measure.key: d for d in clean}
    assert all(d.sigma == pytest.approx(2.0 * by_key[d.measure.key].sigma) for d in flapped)


def test_a_stall_with_flap_says_which_wing_goes_down_and_no_stall_speed():
    stalled = flown("F8", Reading("wing", choice="left"), Reading("entry_speed", number=8.0), flap=1.0)
    assert {d.measure.key for d in data_of(stalled, AT)} == {"stall_wing"}
    assert any("which wing goes down still counts" in w for w in record_words(stalled))


@pytest.mark.parametrize("card", [c for c in dict.fromkeys(k for k, _ in MEASURES) if c not in ("F7", "F8", "F28")])
def test_no_other_card_flown_with_flap_says_anything_of_the_clean_model(card):
    """A flapped landing is not a weak elevator."""
    readings = tuple(
        Reading(c.key, choice=c.options[0].key)
        if c.options
        else Reading(c.key, number=0.5, direction=c.directions[0] if c.directions else None)
        for c in CARDS[card].captures
    )
    assert data_of(flown(card, *readings), AT)
    assert data_of(flown(card, *readings, flap=0.5), AT) == ()


def test_what_counts_with_flap_is_asked_by_those_cards():
    asked = {c.key for k in ("F7", "F8") for c in CARDS[k].captures}
    assert set(SIDEWAYS) <= asked


@pytest.mark.parametrize(
    ("card", "gear", "key", "wider"),
    [
        ("F2", GearState.DOWN, "pitch_left_over", 2.0),
        ("F2", GearState.UP, "pitch_left_over", 1.0),
        ("F3", GearState.DOWN, "roll_left_over", 1.0),
        ("F29", GearState.UP, "touchdown_stick", 2.0),
        ("F29", GearState.DOWN, "touchdown_stick", 1.0),
    ],
)
def test_a_gear_that_hangs_where_it_should_not_leaves_the_nose_half_as_sure_and_the_wings_as_sure(
    card, gear, key, wider
):
    """Drag below the balance point lowers the nose (common practice, no source); it pulls both wings alike."""
    said = {"F2": Reading("left_over", choice="holds"), "F3": Reading("left_over", choice="level")}
    reading = said.get(card, Reading("stick_back", number=0.4, direction=Response.NOSE_UP))
    sigmas = []
    for at in ({}, {"gear": gear}):
        (found,) = [d for d in data_of(flown(card, reading, **at), AT) if d.measure.key == key]
        sigmas.append(found.sigma)
    assert sigmas[1] == pytest.approx(wider * sigmas[0])
    wanted = CARDS[card].gear_down is (gear is GearState.DOWN)
    assert any("with the gear" in w for w in record_words(flown(card, reading, gear=gear))) is not wanted


@pytest.mark.parametrize("card", ["F3", "F4"])
@pytest.mark.parametrize(
    ("both", "wind", "wider"),
    [("no", 4.0, 2.0), ("no", None, 2.0), ("no", 0.5, 1.0), ("yes", 4.0, 1.0), (None, 4.0, 1.0)],
)
def test_what_is_not_alike_with_the_wind_and_against_it_may_be_the_winds(card, both, wind, wider):
    """META-O05 of common practice: seen up and down wind it is real, on one heading only it points to wind; in a calm it is the model's."""
    left = Reading("left_over", choice="right")
    said = (left, *([] if both is None else [Reading("both_headings", choice=both)]))
    (plain,) = data_of(flown(card, left), AT)
    (found,) = data_of(flown(card, *said, wind_mps=wind), AT)
    assert found.sigma == pytest.approx(wider * plain.sigma)
