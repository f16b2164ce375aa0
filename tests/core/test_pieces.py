"""Small pieces that everything leans on: propulsion, errors, text, uncertainty, codec."""

import math
from dataclasses import replace

import pytest
from pydantic import ValidationError

from jinba.core.configuration import Configuration, balance_of
from jinba.core.errors import JinbaError, OutOfRangeError, check_range, check_text
from jinba.core.frames import ThrustLine
from jinba.core.power.propulsion import full_thrust_n, torque_arm_m
from jinba.core.uncertainty import normal_cdf, root_sum_square
from jinba.formats.codec import from_json, to_json
from tests.builders import model


def test_torque_rolls_against_the_propeller():
    """A propeller clockwise from behind rolls the model to the left (reaction torque)."""
    frame = model().airframe
    assert frame.motor is not None
    other = replace(frame, motor=replace(frame.motor, turns_right=False))
    assert torque_arm_m(frame) < 0 < torque_arm_m(other)
    assert torque_arm_m(replace(frame, motor=None)) == full_thrust_n(replace(frame, motor=None)) == 0.0


@pytest.mark.parametrize("value", [math.nan, math.inf, -math.inf, -1.0, 11.0])
def test_ranges_refuse_everything_outside_and_name_it(value):
    with pytest.raises(OutOfRangeError) as e:
        check_range("height", value, unit="m", low=0.0, high=10.0)
    assert (e.value.context["name"], e.value.context["low"], e.value.context["high"]) == ("height", 0.0, 10.0)


@pytest.mark.parametrize("text", ["a\x00b", "bell\x07", "\x7f", "x" * 500])
def test_texts_without_control_characters_and_not_endless(text):
    with pytest.raises(JinbaError):
        check_text("name", text)
    assert check_text("name", "tab\tand\nnewline") == "tab\tand\nnewline"


def test_normal_distribution_and_root_sum_square():
    """Phi(1) = 0.8413447, Phi(-2.3263479) = 0.01: Abramowitz and Stegun, 1964, table 26.1."""
    assert normal_cdf(1.0) == pytest.approx(0.8413447461, abs=1e-9)
    assert normal_cdf(-2.3263478740) == pytest.approx(0.01, abs=1e-9)
    assert root_sum_square([3.0, 4.0]) == 5.0


@pytest.mark.parametrize("key", ["high_wing", "low_wing", "twin_boom_pusher", "sailplane"])
def test_a_configuration_survives_json_exactly(key):
    c = model(key)
    assert from_json(Configuration, to_json(c)) == c


def test_json_with_unknown_fields_or_infinities_is_refused():
    data = to_json(model())
    for broken in ({**data, "extra": 1}, {**data, "pack_minutes": math.inf}, {**data, "items": "many"}):
        with pytest.raises(ValidationError):
            from_json(Configuration, broken)


def test_a_glider_has_no_thrust_words_to_give_and_a_tractor_all_four():
    assert {t.value for t in ThrustLine} == {"down", "up", "right", "left"}
    assert balance_of(model("sailplane")).mass.mass_kg > 0.1
