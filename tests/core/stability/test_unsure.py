"""How unsure guesses and readings make the neutral point, and what is worth measuring next."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.airframe.guesses import all_measures, guessed_by_silhouette
from jinba.core.airframe.planform import planform_of
from jinba.core.airframe.taken import Reading, Readings, key_of, step_of, value_at, with_value
from jinba.core.bench.measured import take
from jinba.core.bench.origins import Origin, origins_of
from jinba.core.observe.situation import design_of
from jinba.core.plan.stops import balance_stop
from jinba.core.spoken import spoken
from jinba.core.stability.neutral_point import quick_neutral_point_m, tail_volume_neutral_point_m
from jinba.core.stability.unsure import guess_sigma_m, guess_sigmas_m, reading_sigmas_m, slopes
from tests.builders import model

HIGH = model("high_wing").airframe
BARE = replace(HIGH, body=replace(HIGH.body, width_m=0.01, height_m=0.01))


@pytest.mark.parametrize("key", ["surfaces.1.x_m", "surfaces.1.sections.1.y_m", "surfaces.0.sections.1.y_m"])
def test_slopes_agree_with_the_closed_form_of_the_tail_volume(key):
    """Against h_n = h_ac + V_H (a_t/a)(1 - de/da): another method, Etkin and Reid, 1996, ch. 2 (from memory). Its spread is wide."""
    path, step = step_of(BARE, key).path, 0.004
    ends = [tail_volume_neutral_point_m(with_value(BARE, path, value_at(BARE, path) + d)) for d in (-step, step)]
    closed = (ends[1] - ends[0]) / (2 * step)
    assert slopes(BARE)[key] == pytest.approx(closed, rel=0.35)


@pytest.mark.parametrize("key", ["high_wing", "sailplane", "flying_wing"])
def test_the_sigma_is_what_a_hundred_models_like_the_silhouette_scatter(key):
    """By drawing: every guessed measure a tenth of its size away, each by itself, through the lattice."""
    airframe = model(key).airframe
    each = guess_sigmas_m(airframe)
    rng = np.random.default_rng(4)
    found = []
    for _ in range(100):
        other = airframe
        for measure, sigma in each.items():
            slope = abs(slopes(airframe)[measure])
            if slope > 1e-6:
                path = step_of(airframe, measure).path
                other = with_value(other, path, value_at(airframe, path) + rng.normal() * sigma / slope)
        found.append(quick_neutral_point_m(other))
    assert np.std(found) == pytest.approx(guess_sigma_m(airframe, all_measures(airframe)), rel=0.2)


@pytest.mark.parametrize("key", ["high_wing", "low_wing", "sailplane", "v_tail"])
def test_a_tailed_silhouette_is_a_twentieth_of_its_chord_unsure(key):
    """Proportions of models of one kind differ by a tenth: common practice, no source."""
    airframe = model(key).airframe
    share = guess_sigma_m(airframe, guessed_by_silhouette(airframe)) / planform_of(airframe.wing).mac_m
    assert 0.04 < share < 0.065


@given(st.sets(st.sampled_from(all_measures(HIGH))))
def test_less_guessed_is_never_less_sure(guessed):
    some = guess_sigma_m(HIGH, tuple(guessed))
    for gone in guessed:
        assert guess_sigma_m(HIGH, tuple(guessed - {gone})) <= some + 1e-15


def test_a_silhouette_is_too_unsure_to_fly_and_its_measures_settle_it():
    c = model("high_wing")
    guessed = replace(c, guessed=all_measures(c.airframe))
    sure, unsure = (design_of(x).aero.neutral_point for x in (c, guessed))
    expected = math.hypot(sure.sigma_total_m, guess_sigma_m(c.airframe, guessed.guessed))
    assert unsure.sigma_total_m == pytest.approx(expected)
    assert unsure.x_m == sure.x_m
    stop = balance_stop(guessed, None)
    assert stop is not None
    assert "read the balance again, another way" in stop.words
    assert balance_stop(c, None) is None


def test_readings_count_by_their_own_sigma():
    key = "surfaces.1.x_m"
    once, four = (Readings(key, (0.0,) * n) for n in (1, 4))
    far, near = (reading_sigmas_m(HIGH, (t,))[key] for t in (once, four))
    assert far == pytest.approx(2 * near)
    assert far == pytest.approx(slopes(HIGH)[key] * once.sigma(HIGH.surfaces[1].x_m, angle=False))


def test_the_next_measure_is_the_one_that_helps_most_until_none_does():
    c = model("high_wing")
    c = replace(c, guessed=guessed_by_silhouette(c.airframe))
    named = []
    while (found := origins_of(design_of(c))).next_key not in (None, "balance"):
        key = found.next_key
        best = max(guess_sigmas_m(c.airframe).get(k, 0.0) for k in c.guessed)
        assert guess_sigmas_m(c.airframe)[key] == best
        named.append(key)
        before = design_of(c).static_margin_sigma
        c = take(c, key, Reading(value_at(c.airframe, step_of(c.airframe, key).path)), on="2026-11-29")
        assert design_of(c).static_margin_sigma < before
    assert named[:2] == ["surfaces.1.sections.1.y_m", "surfaces.1.x_m"], "the tail: its span, then its distance"
    assert found.measured == 1 + len(named)
    assert found.next is not None
    assert "balance point" in found.next.words, "then where it balances is what is least sure"


def test_a_delta_hangs_on_its_sweep():
    c = model("delta")
    said = origins_of(design_of(replace(c, guessed=guessed_by_silhouette(c.airframe)))).next
    assert said is not None
    assert "leading edge behind the root's" in said.words
    assert "It halves the doubt" in said.words


def test_each_origin_is_in_words_and_halves_that_differ_say_which_way_it_rolls():
    c = model("high_wing")
    tip = "surfaces.0.sections.1.chord_m"
    chord = value_at(c.airframe, step_of(c.airframe, tip).path)
    c = replace(c, guessed=("surfaces.1.x_m",))
    c = take(c, tip, Reading(chord), on="2026-11-29")
    c = take(c, tip, Reading(chord + 0.008, left=True, again=True), on="2026-11-29")
    found = origins_of(design_of(c))
    of = {m.key: m for m in found.measures}
    assert (of["surfaces.1.x_m"].origin, of["surfaces.1.x_m"].words) == (Origin.GUESSED, "guessed by the silhouette")
    assert spoken(of[tip].words) == "measured by ruler, 2 readings, ± 0.7 mm"
    (said,) = found.findings
    assert "left chord: 8.0 mm longer than the right one: the left half lifts more, and rolls it right" in spoken(
        said.words
    )
    mirrored = take(c, tip, Reading(chord - 0.008, left=True), on="2026-11-29")
    mirrored = take(mirrored, tip, Reading(chord, again=True), on="2026-11-29")
    (said,) = origins_of(design_of(mirrored)).findings
    assert "8.0 mm shorter than the right one: the right half lifts more, and rolls it left" in spoken(said.words)
    assert key_of(step_of(c.airframe, tip).path) in said.about
