"""Readings against what the silhouette has: a slip is asked for by its own name, an honest reading never."""

from __future__ import annotations

import json
import math
from contextlib import suppress
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.airframe.guesses import guessed_by_silhouette
from jinba.core.airframe.measuring import measuring_steps
from jinba.core.airframe.taken import Reading, key_of, value_at
from jinba.core.bench.likeness import out_of_likeness
from jinba.core.bench.measured import Entered, take, with_origins
from jinba.core.bench.reason import out_of_reason
from jinba.core.configuration import Configuration
from jinba.core.errors import GeometryError, JinbaError
from jinba.core.silhouettes import SILHOUETTES
from jinba.core.spoken import spoken
from jinba.core.walks import shift_datum
from jinba.formats.codec import from_json, to_json
from tests.builders import model

ROOT, HEIGHT, FIN = "surfaces.0.sections.0.chord_m", "surfaces.0.z_m", "fin.x_m"


def guessed(key="high_wing", span_m=1.2):
    c = model(key, span_m=span_m)
    return replace(c, guessed=guessed_by_silhouette(c.airframe))


def value(c, key):
    return value_at(c.airframe, next(s.path for s in measuring_steps(c.airframe) if key_of(s.path) == key))


def doubts(c):
    return [spoken(s.words) for s in out_of_likeness(c)]


def slipped(c, key, times, real=1.0):
    return take(c, key, Reading(value(c, key) * real * times), on="")


LARGE = {"chord_m", "y_m", "length_m", "width_m", "height_m", "root_chord_m", "tip_chord_m", "propeller_diameter_m"}


@pytest.mark.parametrize("silhouette", SILHOUETTES)
@pytest.mark.parametrize("times", [10.0, 0.1, 25.4, 1 / 25.4], ids=["digit more", "digit less", "inches", "inch"])
def test_every_size_that_slipped_by_a_digit_or_a_unit_is_asked_for(silhouette, times):
    c, unasked = guessed(silhouette), []
    for step in measuring_steps(c.airframe):
        key = key_of(step.path)
        if str(step.path[-1]) not in LARGE or key not in c.guessed:
            continue
        # What is refused where it is typed was asked for as well.
        with suppress(JinbaError):
            if not out_of_reason(slipped(c, key, times, real=1.2)):
                unasked.append(key)
    assert unasked == []


@given(st.sampled_from(sorted(SILHOUETTES)), st.floats(0.25, 6.0), st.floats(0.4, 2.9), st.data())
def test_no_honest_reading_is_asked_for(silhouette, span_m, times, data):
    """A model that is up to three times its silhouette in a measure is another model, not a slip."""
    c = guessed(silhouette, span_m)
    key = data.draw(st.sampled_from(c.guessed))
    if value(c, key) is None:
        return
    with suppress(JinbaError):
        assert doubts(slipped(c, key, times)) == []


@pytest.mark.parametrize(
    ("key", "times", "words"),
    [
        (ROOT, 10.0, "Wing, chord, root: 1935 mm, where the silhouette has 194 mm? Did you mean 194 mm?"),
        (HEIGHT, -1.0, "Wing, height above the datum line: 54 mm below it, where the silhouette has 54 mm above it? Did you mean 54 mm above it?"),
        (FIN, -1.0, "Fin root leading edge, from the datum: 552 mm ahead of it, where the silhouette has 552 mm behind it? Did you mean 552 mm behind it?"),
        (FIN, 10.0, "Fin root leading edge, from the datum: 5516 mm behind it, where the silhouette has 552 mm behind it? Did you mean 552 mm behind it?"),
    ],
    ids=["a digit", "below for above", "ahead for behind", "a fin far behind"],
)  # fmt: skip
def test_what_was_meant_is_said_with_its_side_in_words(key, times, words):
    said = doubts(slipped(guessed(), key, times))
    assert said == [f"{words} Measure it again, or say why it is so."]


def test_the_measure_that_slipped_is_named_and_not_its_neighbour():
    """Found by trying: a root read ten times too short had the tip asked for, as ten times too long."""
    (said,) = out_of_reason(slipped(guessed(), ROOT, 0.1))
    assert said.stops
    assert said.about == ("wing", ROOT)


@pytest.mark.parametrize(
    ("silhouette", "key", "times", "meant"),
    [
        ("biplane", "surfaces.1.sections.0.chord_m", 0.1, "222 mm at the root"),
        ("biplane", "surfaces.1.sections.0.chord_m", 1 / 25.4, "222 mm at the root"),
        ("high_wing", "surfaces.1.sections.1.chord_m", 10.0, "108 mm at the tip"),
        ("high_wing", "surfaces.1.sections.1.chord_m", 25.4, "108 mm at the tip"),
    ],
)
def test_of_two_chords_that_do_not_fit_the_one_that_slipped_is_named(silhouette, key, times, meant):
    with pytest.raises(GeometryError, match=f"Did you mean {meant}"):
        out_of_reason(slipped(guessed(silhouette), key, times))


def test_a_second_reading_that_agrees_is_believed_and_another_takes_its_place():
    c = guessed()
    chord = value(c, ROOT)
    wrong = slipped(c, ROOT, 10.0)
    assert doubts(take(wrong, ROOT, Reading(10.0 * chord + 0.001), on="")) == [], "read anew to the same"
    mended = take(wrong, ROOT, Reading(1.1 * chord), on="")
    assert value(mended, ROOT) == pytest.approx(1.1 * chord)
    assert doubts(mended) == []
    assert mended.taken[0].count == 1
    still = take(wrong, ROOT, Reading(9.0 * chord), on="")
    assert len(doubts(still)) == 1, "otherwise, and as far off: asked anew"


def test_a_slip_of_one_half_or_of_a_second_reading_is_not_averaged_away():
    """Found by trying: left 2100 mm against right 210 mm was a chord of 1155 mm, known to a millimetre."""
    c = guessed()
    tip = "surfaces.0.sections.1.chord_m"
    chord = value(c, tip)
    right = take(c, tip, Reading(1.05 * chord), on="")
    for slip in (Reading(10.0 * chord, left=True, again=True), Reading(10.0 * chord, again=True)):
        wrong = take(right, tip, slip, on="")
        (said,) = out_of_likeness(wrong)
        assert said.stops
        assert ("left half" in said.words) is slip.left
        mended = take(wrong, tip, replace(slip, value=1.06 * chord), on="")
        assert doubts(mended) == []
        assert value(mended, tip) == pytest.approx(1.055 * chord), "the mean of the two that are left"
        believed = take(wrong, tip, slip, on="")
        assert doubts(believed) == [], "read twice to the same"
        assert believed.taken[0].count == 3


def test_a_reading_typed_over_itself_is_only_a_second_one_where_it_was_in_doubt():
    c = slipped(guessed(), ROOT, 1.0, real=1.1)
    corrected = take(c, ROOT, Reading(value(c, ROOT) + 0.001), on="")
    assert value(corrected, ROOT) == pytest.approx(value(c, ROOT) + 0.001), "corrected by a millimetre, not averaged"


def test_the_guess_is_remembered_in_a_field_over_another_datum_and_in_the_store():
    c = guessed()
    fin = replace(c.airframe.fin, x_m=10.0 * c.airframe.fin.x_m)
    typed = with_origins(c, replace(c, airframe=replace(c.airframe, fin=fin)), Entered())
    assert len(doubts(typed)) == 1
    again = with_origins(
        typed, replace(typed, airframe=replace(c.airframe, fin=replace(fin, x_m=0.99 * fin.x_m))), Entered()
    )
    assert len(doubts(again)) == 1, "typed anew, still far from it"
    for wrong in (typed, slipped(c, FIN, -1.0)):
        (said,) = doubts(shift_datum(wrong, -0.2, "nose"))
        assert "Did you mean 752 mm behind it?" in said, "552 mm behind the datum of then, said from that of now"
    assert len(doubts(from_json(Configuration, json.loads(json.dumps(to_json(typed)))))) == 1
    mended = with_origins(typed, c, Entered())
    assert doubts(mended) == []


def test_a_setup_kept_before_guesses_were_remembered_is_read_and_asked_nothing():
    body = json.loads(json.dumps(to_json(slipped(guessed(), FIN, -1.0))))
    for taken in body["taken"]:
        del taken["guess_off"]
    assert doubts(from_json(Configuration, body)) == []


def test_angles_are_asked_for_by_their_side():
    c = guessed()
    c = replace(c, airframe=replace(c.airframe, motor=replace(c.airframe.motor, tilt_down_rad=math.radians(3.0))))
    (said,) = doubts(slipped(c, "motor.tilt_down_rad", -1.0))
    assert said.startswith("Motor, tilt, forward end down: 3.0° up, where the silhouette has 3.0° down?")
