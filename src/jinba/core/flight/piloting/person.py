"""One pilot: how strongly he sees things, where his words begin, how his hands and his attention err."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

PITCH_EDGES = (-7.0, -1.7, 1.7, 7.0)
ROLL_EDGES = (-10.0, -2.2, 2.2, 10.0)
DIVE_EDGES = (-1.5, 2.0, 6.5, 13.0)
UP_LINE_EDGES = (-9.0, 1.0, 11.0, 23.0)
YAW_EDGES = (-5.5, -1.8, 1.8, 5.5)
"""Where the words of most people begin: "holds" is less than a couple of degrees a second, a nose that goes fast covers its
own length in a moment. [deg/s; yaw: deg] For a trainer of :data:`LIKE_A_TRAINER`. Common practice, no source; set here without
looking at what the estimator assumes."""

LIKE_A_TRAINER = (14.0, 1.5)
"""Cruise speed [m/s] and span [m] of what most people learned their words on: common practice, no source."""


@dataclass(frozen=True, slots=True)
class Person:
    """A pilot. ``gain``: what he says over what there is; ``edges``: each edge of his words over that of most people;
    ``blur``: scatter of a rating, in widths of a word; ``reaction_s`` and its scatter; ``slips``: share of left and right
    taken for each other; ``misses``: share of what he forgets to look at; ``speed``: speeds he flies over those the card
    asks for, and their scatter; ``feel``: scatter of a stick, of full stick; ``clicks``: scatter of a trim, in clicks."""

    gain: float = 1.0
    edges: tuple[float, float, float, float] = (1.0, 1.0, 1.0, 1.0)
    blur: float = 0.0
    reaction_s: float = 0.2
    unsteady_s: float = 0.0
    slips: float = 0.0
    misses: float = 0.0
    speed: float = 1.0
    unsteady_speed: float = 0.0
    feel: float = 0.0
    clicks: float = 0.0
    by_size: float = 1.0


PERFECT = Person()
"""He sees what there is and says it in the words of most people."""


def draw_person(rng: np.random.Generator, *, gain_spread: float = 0.25) -> Person:
    """Return a pilot as they come. ``gain_spread``: of what he says over what there is, in its logarithm, without unit.

    25 % of gain, 12 % of each edge, a third of a word, a quarter of a second, 1.5 % slips, 5 % of speed: common practice, no
    source. Words go with size by 0.8, give or take 0.25: nobody has measured it; a guess of ours.
    """
    z = rng.standard_normal(6)
    return Person(
        gain=math.exp(gain_spread * z[0]),
        edges=tuple(float(v) for v in np.exp(0.12 * z[1:5])),  # type: ignore[arg-type]
        blur=0.3,
        reaction_s=float(rng.uniform(0.18, 0.35)),
        unsteady_s=0.12,
        slips=0.015,
        misses=0.03,
        speed=math.exp(0.05 * z[5]),
        unsteady_speed=0.02,
        feel=0.04,
        clicks=0.8,
        # A stream of its own: whoever draws more after this draws the same as before.
        by_size=max(0.0, 0.8 + 0.25 * float(rng.spawn(1)[0].standard_normal())),
    )


class Eyes:
    """What a person sees and says, with the scatter of one flight."""

    def __init__(self, person: Person, rng: np.random.Generator) -> None:
        self.person = person
        self.rng = rng
        self._path = self._roll = 1.0

    def looks_at(self, *, cruise_mps: float, span_m: float) -> None:
        """Take the measure of a model: a slow one may bend its path faster, a small one roll faster, and mean the same."""
        speed, span = cruise_mps / LIKE_A_TRAINER[0], span_m / LIKE_A_TRAINER[1]
        self._path, self._roll = speed**-self.person.by_size, (speed / span) ** self.person.by_size

    def path_word(self, rate_deg_s: float, edges: tuple[float, ...]) -> int:
        """Return which of his words a rate of path or nose falls into. [deg/s] Derived here."""
        return self.word(rate_deg_s / self._path, edges)

    def roll_word(self, rate_deg_s: float) -> int:
        """Return which of his words a roll falls into. [deg/s] Derived here."""
        return self.word(rate_deg_s / self._roll, ROLL_EDGES)

    def noise(self, sigma: float) -> float:
        """Return a normal error of a standard deviation, in its unit. Derived here."""
        return sigma * float(self.rng.standard_normal())

    def word(self, value: float, edges: tuple[float, ...]) -> int:
        """Return which of his words a value falls into, in the unit of the edges. Derived here."""
        width = (edges[-1] - edges[0]) / (len(edges) - 1)
        seen = self.person.gain * value + self.noise(self.person.blur * width)
        own = [e * f for e, f in zip(edges, self.person.edges, strict=True)]
        return sum(1 for e in own if seen >= e)

    def watch(self, seconds: float) -> float:
        """Return what his stopwatch shows [s]: two presses. Derived here."""
        return max(seconds + self.noise(math.sqrt(2.0) * self.person.unsteady_s), 0.2)

    def slips(self) -> bool:
        """Return whether he takes left for right this time."""
        return bool(self.rng.random() < self.person.slips)

    def misses(self) -> bool:
        """Return whether he forgot to look."""
        return bool(self.rng.random() < self.person.misses)

    def speed(self, wanted_mps: float) -> float:
        """Return the speed he flies [m/s] for one that is wanted. Derived here."""
        return wanted_mps * self.person.speed * math.exp(self.noise(self.person.unsteady_speed))
