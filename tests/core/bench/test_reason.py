"""Numbers out of reason are asked again, with what was probably meant; anything that flies as a model is let through."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jinba.core.bench.reason import out_of_reason
from jinba.core.silhouettes import SILHOUETTES
from jinba.core.spoken import spoken
from tests.builders import model


def with_chord(c, at: int, times: float):
    wing = c.airframe.wing
    sections = tuple(replace(s, chord_m=s.chord_m * times) if i == at else s for i, s in enumerate(wing.sections))
    surfaces = tuple(replace(s, sections=sections) if s is wing else s for s in c.airframe.surfaces)
    return replace(c, airframe=replace(c.airframe, surfaces=surfaces))


@pytest.mark.parametrize("key", SILHOUETTES)
@pytest.mark.parametrize("span_m", [0.25, 0.8, 1.5, 3.0, 6.0])
def test_every_silhouette_of_any_size_is_in_reason(key, span_m):
    assert out_of_reason(model(key, span_m=span_m)) == ()


@pytest.mark.parametrize("slip", [10.0, 25.4])
def test_a_slipped_chord_is_named_with_what_was_meant(slip):
    """Found by review: a chord of 2100 mm for 210 looked safer, and nobody asked."""
    c = model("high_wing")
    root = 1000.0 * c.airframe.wing.sections[0].chord_m
    said = [spoken(s.words) for s in out_of_reason(with_chord(c, 0, slip))]
    assert any(f"Wing, chord at the root: {slip * root:.0f} mm?" in w for w in said)
    assert slip != 10.0 or any(f"Did you mean {root:.0f} mm?" in w for w in said)
    assert all(s.stops for s in out_of_reason(with_chord(c, 0, slip)))


@pytest.mark.parametrize(("times", "asked"), [(30.0, True), (0.01, True), (1.3, False), (0.8, False)])
def test_a_mass_that_no_model_has_is_asked_again(times, asked):
    c = model("low_wing")
    heavy = replace(c, items=tuple(replace(i, mass_kg=times * i.mass_kg) for i in c.items))
    assert bool(out_of_reason(heavy)) is asked


def test_a_pointed_tip_is_a_shape_and_no_slip():
    c = model("sailplane")
    assert out_of_reason(with_chord(c, len(c.airframe.wing.sections) - 1, 0.3)) == ()


def test_a_body_on_the_wrong_side_of_its_wing_is_asked_again_with_the_side_that_was_meant():
    """Typed without its minus sign the nose lies behind the tail; the numbers hardly show it."""
    c = model("high_wing")
    nose = c.airframe.body.nose_x_m
    wrong = replace(c, airframe=replace(c.airframe, body=replace(c.airframe.body, nose_x_m=abs(nose))))
    (said,) = out_of_reason(wrong)
    mm = 1000 * abs(nose - c.airframe.wing.x_m)
    assert spoken(said.words).startswith("Nose of the body:")
    assert "behind the wing's root leading edge?" in spoken(said.words)
    assert f"Did you mean {mm:.0f} mm" in spoken(said.words)
    assert said.stops


def test_a_tail_ten_times_too_far_back_is_asked_again():
    c = model("high_wing")
    tail = c.airframe.pitch_surface
    far = replace(tail, x_m=10.0 * tail.x_m)
    surfaces = tuple(far if s is tail else s for s in c.airframe.surfaces)
    (said,) = out_of_reason(replace(c, airframe=replace(c.airframe, surfaces=surfaces)))
    assert f"Did you mean {1000 * (tail.x_m - c.airframe.wing.x_m):.0f} mm behind" in spoken(said.words)
