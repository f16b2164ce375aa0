"""Fleets of invented models of every layout, 0.6 to 2.8 m, with the bench as its owner measured it."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from jinba.core.airframe.parts import Section, Surface
from jinba.core.configuration import Configuration, JigReading, balance_of
from jinba.core.flight.piloting.aloft import Air
from jinba.core.flight.piloting.person import Person, draw_person
from jinba.core.flight.piloting.sortie import Truth
from jinba.core.flight.workshop import Blunders, draw_truth
from jinba.core.silhouettes import SILHOUETTES, settled, silhouette_configuration

LAYOUTS = tuple(k for k in SILHOUETTES if k != "triplane")
_JIG_SIGMA_M = 0.0025


@dataclass(frozen=True, slots=True)
class Case:
    """One model of a fleet: what its bench says, what it is, who flies it in which air."""

    layout: str
    bench: Configuration
    truth: Truth
    person: Person
    air: Air
    seed: int


def draw_case(
    number: int, *, seed: int, blunders: Blunders, gain_spread: float = 0.25, inverted_share: float = 0.45
) -> Case:
    """Return the case with a number of a fleet with a seed: the same model whatever is done with it."""
    rng = np.random.default_rng((seed, number))
    layout = LAYOUTS[number % len(LAYOUTS)]
    span = float(math.exp(rng.uniform(math.log(0.6), math.log(2.8))))
    c = silhouette_configuration(layout, span_m=span)
    surfaces = tuple(_altered(s, rng) for s in c.airframe.surfaces)
    loading = float(rng.uniform(0.8, 1.25))
    items = tuple(replace(i, mass_kg=round(i.mass_kg * loading, 4)) for i in c.items)
    c = replace(
        c,
        airframe=replace(c.airframe, surfaces=surfaces),
        items=items,
        flown_inverted=bool(rng.random() < inverted_share) and c.airframe.motor is not None,
    )
    c = settled(c)
    at = balance_of(c)
    c = replace(c, jig=JigReading(at.x_m, _JIG_SIGMA_M, at.mass.x_m))
    truth = draw_truth(c, rng, blunders)
    person = draw_person(rng, gain_spread=gain_spread)
    return Case(layout, c, truth, person, Air(float(rng.uniform(0.0, 4.5))), int(rng.integers(2**31)))


def _altered(s: Surface, rng: np.random.Generator) -> Surface:
    """Stretch a surface of a silhouette: chord and place a few per cent, tails somewhat more."""
    wing = s.role.value == "wing"
    chord = float(rng.uniform(0.94, 1.06) if wing else rng.uniform(0.88, 1.14))
    sections = tuple(Section(**{**_fields(q), "chord_m": q.chord_m * chord}) for q in s.sections)
    further = 0.0 if wing else float(rng.uniform(-0.06, 0.10)) * abs(s.x_m)
    return replace(s, sections=sections, x_m=s.x_m + further)


def _fields(q: Section) -> dict[str, float]:
    return {name: getattr(q, name) for name in q.__dataclass_fields__}
