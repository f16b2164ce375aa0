"""Numbers out of reason are asked again, with what was probably meant; anything that flies as a model is let through."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest

from jinba.core.bench.reason import out_of_reason
from jinba.core.errors import GeometryError
from jinba.core.observe.situation import design_of
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


def put(record, path, value):
    head, *rest = path
    if isinstance(head, int):
        return tuple(put(part, rest, value) if i == head else part for i, part in enumerate(record))
    return replace(record, **{head: put(getattr(record, head), rest, value) if rest else value})


WING, TAIL = ["airframe", "surfaces", 0], ["airframe", "surfaces", 1]
SLIPS = [
    # A digit.
    ([*WING, "incidence_rad"], math.radians(18.0), "incidence of the root: 18.0°? Did you mean 1.8°?"),
    ([*WING, "sections", 1, "twist_rad"], math.radians(-20.0), "right wash-out: 20.0°? Did you mean 2.0°?"),
    ([*WING, "sections", 1, "z_offset_m"], 0.5, "rise of the tip: 500 mm? Did you mean 50 mm?"),
    ([*WING, "sections", 1, "x_offset_m"], 2.0, "leading edge behind the root's: 2000 mm? Did you mean 200 mm?"),
    ([*TAIL, "z_m"], 0.6, "height above the datum line: 600 mm? Did you mean 60 mm?"),
    ([*TAIL, "x_m"], 0.08, "80 mm behind the wing's root leading edge? Did you mean 800 mm behind it?"),
    (["airframe", "body", "width_m"], 1.0, "Greatest width of the body: 1000 mm? Did you mean 100 mm?"),
    (["airframe", "fin", "height_m"], 1.5, "Fin height: 1500 mm? Did you mean 150 mm?"),
    (["airframe", "motor", "tilt_down_rad"], math.radians(15.0), "Motor tilt down: 15.0°? Did you mean 1.5°?"),
    (["items", 1, "mass_kg"], 4.6, "Battery, mass: 4600 g? Did you mean 460 g?"),
    # A unit.
    (["airframe", "motor", "propeller_diameter_m"], 2.54, "Propeller diameter: 2540 mm? Did you mean 254 mm?"),
    (
        ["items", 1, "x_m"],
        -13.0,
        "Battery, station: 13000 mm ahead of the datum? Did you mean 13 mm ahead of the datum?",
    ),
    # A side, or a sign.
    ([*TAIL, "x_m"], -0.8, "800 mm ahead of the wing's root leading edge? Did you mean 800 mm behind it?"),
    (["items", 1, "x_m"], 1.2, "Battery, station: 1200 mm behind the datum? Did you mean 120 mm behind the datum?"),
    (
        ["items", 1, "y_m"],
        0.3,
        "balances 60 mm right of its centre line: Battery stands 300 mm right. Has a side or a digit slipped?",
    ),
    (
        ["items", 1, "y_m"],
        -0.3,
        "balances 60 mm left of its centre line: Battery stands 300 mm left. Has a side or a digit slipped?",
    ),
]


@pytest.mark.parametrize(("path", "value", "words"), SLIPS, ids=lambda x: x if isinstance(x, str) else "")
def test_a_slip_of_a_digit_a_unit_or_a_side_is_caught_with_what_was_meant(path, value, words):
    c = put(model("high_wing", span_m=1.5), path, value)
    said = [s for s in out_of_reason(c) if words in spoken(s.words)]
    assert len(said) == 1
    assert said[0].stops


def test_the_wing_is_asked_for_alone_where_it_is_the_wing_that_slipped():
    c = put(model("high_wing", span_m=1.5), [*WING, "sections", 1, "y_m"], 0.075)
    (said,) = out_of_reason(c)
    assert "150 mm from tip to tip" in spoken(said.words)


@pytest.mark.parametrize(
    ("field", "value", "words"),
    [
        ("chord_m", 2.1, "2100 mm at the tip, more than three times as long. Did you mean 210 mm at the tip?"),
        ("y_m", 0.0065, "13 mm from tip to tip and"),
    ],
)
def test_a_shape_that_cannot_be_computed_is_refused_by_its_measures(field, value, words):
    """Found by review: half a span of 6.5 mm was answered with a lift coefficient."""
    c = put(model("high_wing", span_m=1.5), [*WING, "sections", 1, field], value)
    with pytest.raises(GeometryError) as refused:
        design_of(c)
    assert words in str(refused.value)
    assert "coefficient" not in str(refused.value)
