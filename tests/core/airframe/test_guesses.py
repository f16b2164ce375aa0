"""What a silhouette has guessed: counted, measured by entering it, followed when parts come and go."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jinba.core.airframe.guesses import all_measures, guessed_by_silhouette, measure_before
from jinba.core.airframe.taken import How
from jinba.core.bench.measured import Entered, with_origins
from jinba.core.silhouettes import SILHOUETTES
from jinba.core.walks import shift_datum
from tests.builders import model


def longer(c, by_m=0.01):
    body = c.airframe.body
    return replace(c, airframe=replace(c.airframe, body=replace(body, length_m=body.length_m + by_m)))


def started(key="high_wing"):
    c = model(key)
    return replace(c, guessed=guessed_by_silhouette(c.airframe))


BY_RULER = Entered(How.MODEL, 1.0, "2026-11-29")


@pytest.mark.parametrize("key", SILHOUETTES)
def test_all_is_guessed_but_the_span_and_what_is_entered_is_read(key):
    c = started(key)
    names = all_measures(c.airframe)
    assert len(set(names)) == len(names) > 15
    (span,) = set(names) - set(c.guessed)
    assert span.endswith(".y_m")
    after = with_origins(c, longer(c), BY_RULER)
    assert set(c.guessed) - set(after.guessed) == {"body.length_m"}
    assert [(t.key, t.off, t.on) for t in after.taken] == [("body.length_m", (0.0,), "2026-11-29")]
    assert with_origins(c, c, BY_RULER) == c, "nothing entered, nothing measured"


def test_what_is_drawn_is_a_guess_and_what_is_confirmed_is_read():
    c = replace(started(), guessed=("fin.x_m",))
    drawn = with_origins(c, longer(c), Entered(None))
    assert set(drawn.guessed) == {"fin.x_m", "body.length_m"}
    assert drawn.taken == ()
    confirmed = with_origins(c, replace(c, guessed=()), BY_RULER)
    assert confirmed.guessed == ()
    assert [t.key for t in confirmed.taken] == ["fin.x_m"]


def test_a_part_that_is_taken_away_takes_its_guesses_along_and_those_after_it_keep_theirs():
    c = with_origins(started("biplane"), longer(started("biplane")), BY_RULER)
    second = c.airframe.surfaces[2]
    chord = replace(second, sections=(replace(second.sections[0], chord_m=0.2), *second.sections[1:]))
    c = with_origins(c, replace(c, airframe=replace(c.airframe, surfaces=(*c.airframe.surfaces[:2], chord))), BY_RULER)
    gone = replace(c.airframe, surfaces=(c.airframe.surfaces[0], chord), fin=None)
    after = with_origins(c, replace(c, airframe=gone), BY_RULER)
    assert {t.key for t in after.taken} == {"body.length_m", "surfaces.1.sections.0.chord_m"}
    assert not any(k.startswith(("surfaces.2", "fin")) for k in after.guessed)
    assert "surfaces.1.sections.0.chord_m" not in after.guessed
    assert "surfaces.1.x_m" in after.guessed


def test_a_new_chord_is_a_guess_and_its_neighbours_stay_what_they_were():
    c = replace(model("high_wing"), guessed=())
    root, tip = c.airframe.wing.sections[0], c.airframe.wing.sections[-1]
    new = replace(root, y_m=0.4 * tip.y_m, chord_m=0.9 * root.chord_m)
    surfaces = tuple(replace(s, sections=(root, new, tip)) if s is c.airframe.wing else s for s in c.airframe.surfaces)
    after = with_origins(c, replace(c, airframe=replace(c.airframe, surfaces=surfaces)), BY_RULER)
    assert after.guessed
    assert all(key.startswith("surfaces.0.sections.1.") for key in after.guessed)
    assert measure_before(c.airframe, after.airframe)["surfaces.0.sections.2.y_m"] == (
        "surfaces",
        0,
        "sections",
        1,
        "y_m",
    )


def test_another_datum_and_what_the_program_computes():
    c = with_origins(started(), longer(started()), BY_RULER)
    moved = shift_datum(c, 0.1, "nose")
    kept = tuple(replace(t, datum_x_m=-0.1) for t in c.taken)
    assert with_origins(c, moved, None).taken == kept, (
        "readings are kept as differences, and know where they were read from"
    )
    by_rework = with_origins(c, longer(c, 0.02), None)
    assert by_rework.taken == (), "a measure that is otherwise now was not read"
