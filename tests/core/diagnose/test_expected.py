"""How many clicks a flight is foretold to ask for: those that take the predicted rate away, in the words of the model's response."""

from __future__ import annotations

import re

import numpy as np
import pytest

from jinba.core.diagnose.sorties import expected_clicks
from jinba.core.frames import Axis
from jinba.core.observe import predictions
from jinba.core.observe.parameters import P
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import design_of
from tests.builders import model, trimmed, with_margin


@pytest.mark.parametrize("key", ["low_wing", "canard", "flying_wing"])
@pytest.mark.parametrize(("rate", "way", "sign"), [(6.0, "nose down", 1.0), (-6.0, "nose up", -1.0)])
def test_it_rises_by_itself_and_asks_for_clicks_down_and_those_take_it_away(key, rate, way, sign):
    c = with_margin(model(key), 0.10)
    rests = trimmed(c)
    said = re.fullmatch(rf"Predicted: about (\d+) clicks {way}\.", expected_clicks(c, rests, rate))
    assert said is not None
    given = rests.moved(Axis.PITCH, rests.elevator_rad + sign * int(said[1]) * c.elevator.rad_per_click)
    design, unknown = design_of(c), np.zeros(len(P))
    gained = predictions.trim_left_cruise(unknown, Moment(design, given)) - predictions.trim_left_cruise(
        unknown, Moment(design, rests)
    )
    click = abs(gained) / int(said[1])
    assert gained == pytest.approx(-rate, abs=0.6 * click)


def test_a_click_is_not_foretold():
    c = with_margin(model(), 0.10)
    assert expected_clicks(c, trimmed(c), 0.05) == ""
