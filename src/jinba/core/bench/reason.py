"""Numbers out of reason are asked again: a slipped digit or unit, named with what was probably meant."""

from __future__ import annotations

import numpy as np

from jinba.core.airframe.parts import Airframe, Surface
from jinba.core.airframe.planform import planform_of
from jinba.core.bench.likeness import out_of_likeness
from jinba.core.bench.proportions import ask, out_of_proportion
from jinba.core.configuration import Configuration
from jinba.core.observe.situation import design_of
from jinba.core.said import Said, finding
from jinba.core.spoken import a_length, a_mass, a_speed

_SLIPS = (10.0, 0.1, 100.0, 0.01, 25.4, 1.0 / 25.4)
"""A digit too many or too few, centimetres or metres for millimetres, inches: what a slip multiplies by."""

_ALIKE = (0.4, 2.5)
"""Two chords of one surface that differ by less than this are alike: common practice, no source."""

_LONGEST_ROOT = 8.0
"""A root this much longer than the chord next to it is a delta's at most: common practice, no source."""

_CUBIC_KG_M3 = (0.5, 60.0)
"""Mass over area to the power of three halves of anything that flies as a model: 0.5 indoors to 60 jets (common practice)."""

_STALL_MPS = (1.5, 35.0)
_SLENDERNESS = (0.8, 45.0)
"""Span over mean chord of wings, a delta and a sailplane at the ends: common practice, no source."""


_FURTHEST_SPANS = 1.6
"""Spans of the wing further than which no surface stands from it: common practice, no source."""


_NOSE_BEHIND = 0.25
"""Of the root chord behind its leading edge: no body of a model with a tail begins further aft; common practice, no source."""


def out_of_reason(c: Configuration) -> tuple[Said, ...]:
    """Return what of a setup is out of reason, with what was probably meant; empty when all may be as entered.

    Common practice, no source: the limits lie far outside any usual model.
    """
    a = c.airframe
    unlike = tuple(out_of_likeness(c))
    # What is unlike the silhouette is known by its own name: the rest of the model need not ask for its part.
    named = {about for said in unlike for about in said.about}
    found = [said for s in a.surfaces for said in (*_chords(s), *_span(s))]
    if not any(said.about == (a.wing.key,) for said in found):
        # Else nothing is in proportion: the wing is the measure of all.
        places = [said for s in a.surfaces for said in _place(a, s)]
        found += [*_body(a), *places, *out_of_proportion(c), *_mass(c)]
    return (*unlike, *(said for said in found if named.isdisjoint(said.about)))


def _chords(s: Surface) -> list[Said]:
    """Return the chords that are too long for their neighbours: too long looks safer, and is the dangerous slip."""
    found = []
    for i, section in enumerate(s.sections):
        others = [o.chord_m for k, o in enumerate(s.sections) if k != i and o.chord_m > 0.0]
        if not others:
            continue
        near = others[int(np.argmin(np.abs(np.array(others) - section.chord_m)))]
        if section.chord_m / near <= (_LONGEST_ROOT if i == 0 else _ALIKE[1]):
            continue
        meant = _meant(section.chord_m, (_ALIKE[0] * near, _ALIKE[1] * near))
        place = "root" if i == 0 else "tip" if i == len(s.sections) - 1 else f"chord {i + 1}"
        found.append(
            ask(
                f"{s.key}, chord at the {place}",
                a_length(section.chord_m),
                "" if meant is None else a_length(meant),
                s.key,
            )
        )
    return found


def _span(s: Surface) -> list[Said]:
    p = planform_of(s)
    slender = p.span_m / p.mac_m
    if _SLENDERNESS[0] <= slender <= _SLENDERNESS[1]:
        return []
    words = f"{s.key}: {a_length(p.span_m)} from tip to tip and {a_length(p.mac_m)} of chord. Measure both again: has a digit or a unit slipped?"
    return [finding("reason", words, s.key, stops=True)]


def _body(a: Airframe) -> list[Said]:
    """Return a body that does not reach its wing, or with a tail behind begins behind its wing's front: a lost minus, or another slip."""
    body, root = a.body, a.wing.sections[0]
    if body is None:
        return []
    ahead, behind = a.wing.x_m, a.wing.x_m + root.chord_m

    tailed = a.pitch_surface is not None and a.pitch_surface.x_m > behind
    furthest_aft = ahead + _NOSE_BEHIND * root.chord_m if tailed else behind

    def reaches(nose_m: float) -> bool:
        return nose_m < furthest_aft and nose_m + body.length_m > ahead

    if reaches(body.nose_x_m):
        return []
    tried = (-body.nose_x_m, *(body.nose_x_m / slip for slip in _SLIPS))
    meant = next((nose for nose in tried if reaches(nose)), None)
    words = "" if meant is None else _from_wing(meant - ahead)
    return [ask("nose of the body", _from_wing(body.nose_x_m - ahead), words, "body")]


def _place(a: Airframe, s: Surface) -> list[Said]:
    """Return a surface that stands too far from the wing for any model."""
    span = planform_of(a.wing).span_m
    away = s.x_m - a.wing.x_m
    if abs(away) <= _FURTHEST_SPANS * span:
        return []
    meant = _meant(away, (-span, -0.1 * span) if away < 0.0 else (0.1 * span, span))
    return [ask(f"{s.key}, root leading edge", _from_wing(away), "" if meant is None else _from_wing(meant), s.key)]


def _from_wing(away_m: float) -> str:
    return f"{a_length(abs(away_m))} {'behind' if away_m >= 0.0 else 'ahead of'} the wing's root leading edge"


def _mass(c: Configuration) -> list[Said]:
    design = design_of(c)
    mass, area = design.balance.mass.mass_kg, design.aero.planform.area_m2
    low, high = (limit * area**1.5 for limit in _CUBIC_KG_M3)
    if not low <= mass <= high:
        meant = _meant(mass, (low, high))
        return [ask("mass, ready to fly", a_mass(mass), "" if meant is None else a_mass(meant), "mass")]
    if not _STALL_MPS[0] <= design.stall_speed_mps <= _STALL_MPS[1]:
        words = f"It would stall at {a_speed(design.stall_speed_mps, 1)}: no model does. Measure area and mass again."
        return [finding("reason", words, "stall", stops=True)]
    return []


def _meant(value: float, fits: tuple[float, float]) -> float | None:
    """Return what a slip made of this value, None where no slip explains it. All in one unit."""
    return next((value / slip for slip in _SLIPS if fits[0] <= value / slip <= fits[1]), None)
