"""What a silhouette has guessed: counted, measured by entering it, and less sure until then."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.airframe.guesses import GUESS_SIGMA_MAC, all_measures, guess_sigma_m, still_guessed
from jinba.core.observe.situation import design_of
from jinba.core.plan.stops import balance_stop
from jinba.core.silhouettes import SILHOUETTES
from tests.builders import model


def longer(airframe, by_m):
    return replace(airframe, body=replace(airframe.body, length_m=airframe.body.length_m + by_m))


@pytest.mark.parametrize("key", SILHOUETTES)
def test_every_measure_has_a_name_of_its_own_and_what_is_entered_is_measured(key):
    airframe = model(key).airframe
    names = all_measures(airframe)
    assert len(set(names)) == len(names) > 15
    left = still_guessed(airframe, longer(airframe, 0.01), names)
    assert set(names) - set(left) == {"body.length_m"}
    assert still_guessed(airframe, airframe, names) == names, "nothing entered, nothing measured"
    assert still_guessed(airframe, airframe, ("gone.0.x_m",)) == ()


def test_a_surface_that_is_taken_away_takes_its_guesses_along():
    airframe = model("high_wing").airframe
    bare = replace(airframe, surfaces=airframe.surfaces[:1], fin=None)
    left = still_guessed(airframe, bare, all_measures(airframe))
    assert left
    assert not any(k.startswith(("surfaces.1", "fin")) for k in left)


@given(st.sets(st.sampled_from(all_measures(model().airframe))))
def test_less_guessed_is_never_less_sure(guessed):
    """Root sum square: each measure an equal share of the variance; all guessed is the whole sigma."""
    airframe = model().airframe
    some = guess_sigma_m(airframe, tuple(guessed), mac_m=1.0)
    assert 0.0 <= some <= GUESS_SIGMA_MAC + 1e-12
    for gone in guessed:
        assert guess_sigma_m(airframe, tuple(guessed - {gone}), mac_m=1.0) <= some


def test_a_silhouette_is_too_unsure_to_fly_and_its_measures_settle_it():
    c = model("high_wing")
    guessed = replace(c, guessed=all_measures(c.airframe))
    mac = design_of(c).aero.planform.mac_m
    sure, unsure = (design_of(x).aero.neutral_point for x in (c, guessed))
    assert unsure.sigma_total_m == pytest.approx(math.hypot(sure.sigma_total_m, GUESS_SIGMA_MAC * mac))
    assert unsure.x_m == sure.x_m
    stop = balance_stop(guessed, None)
    assert stop is not None
    assert "read the balance again, another way" in stop.words
    assert balance_stop(c, None) is None
