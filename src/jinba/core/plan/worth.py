"""What flying cards is worth before they are flown: how likely every behaviour then ends in its band, from the belief alone."""

from __future__ import annotations

import math
from collections.abc import Collection, Iterable
from dataclasses import dataclass, field

import numpy as np
from scipy.special import ndtr

from jinba.core.airframe.twist import both_sides_measured
from jinba.core.configuration import Configuration
from jinba.core.diagnose.seen import Seen
from jinba.core.diagnose.shown import OWN_CARDS
from jinba.core.diagnose.tendencies import Judged, judged_by
from jinba.core.diagnose.together import A_CHANGE, WEIGHTS, joint_state
from jinba.core.diagnose.update import MEASURED_TWIST_SIGMA_RAD, POWER_STEPS, Belief, cut
from jinba.core.observe.measures import MEASURES, Measure, errors_of
from jinba.core.observe.parameters import COUNT, Array, P
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import Trims, design_of
from jinba.core.uncertainty import MISREAD_SIGMA

SEEN_AT_ALL = 0.08
"""What it is worth beside that to have seen a behaviour on a card of its own, as each must be before a model is handed over: common
practice, no source."""

READ_AGAIN, INCIDENCE = "read_again", "incidence"
"""Readings on the bench, beside the cards: the balance again, another way, and the incidence of both tips."""

_ALL_BUT = 0.95
_NODES, _SHARES = np.polynomial.hermite_e.hermegauss(9)
_SHARES = _SHARES / _SHARES.sum()
_STEP = 1e-3
_ONLY_WITH_INSTRUMENTS = frozenset({("F8", "entry_speed")})


@dataclass(frozen=True, slots=True)
class Decision:
    """A behaviour that is to be judged: how it moves with the unknowns and the errors (``slopes`` (state,)), what is expected of it,
    its wanted ``band``, all in its unit; ``seen``: on a card of its own, as the model stands."""

    key: str
    name: str
    slopes: Array
    value: float
    band: tuple[float, float]
    seen: bool


@dataclass(frozen=True, slots=True)
class Looks:
    """What a card would measure, to first order: ``slopes`` (measures, state), variances of their ``noise`` (measures,), and which are
    ``of_power`` (measures,): a word of a step of power moves no balance."""

    slopes: Array
    noise: Array
    of_power: Array


@dataclass(frozen=True, slots=True)
class Prospect:
    """What is believed, ``covariance`` (state, state), what has to be decided, and what each card, or a reading on the bench, would say
    of it."""

    covariance: Array
    decisions: tuple[Decision, ...]
    measured: dict[str, Looks]
    _known: dict[frozenset[str], dict[str, float]] = field(default_factory=dict, repr=False, compare=False)

    def chances(self, card_ids: Iterable[str]) -> dict[str, float]:
        """Return for each behaviour the chance that it lies in its band once the cards were flown and it was left, or corrected, by what
        they said [-].

        E max(p, c - k) over what they may say: p that it lies in its band as it is, c that it does once its mean was brought to the middle,
        k what a change costs (:data:`A_CHANGE`). Preposterior analysis: Raiffa and Schlaifer, Applied Statistical Decision Theory, 1961
        (from memory); Gaussian and to first order, derived here (docs/methods/next-card.md).
        """
        telling = frozenset(c for c in card_ids if c in self.measured)
        if telling not in self._known:
            after = self._after(sorted(telling))
            self._known[telling] = {d.key: self._chance(d, after) for d in self.decisions}
        return self._known[telling]

    def worth(self, card_ids: Collection[str]) -> float:
        """Return what it is worth to have flown cards: the weighed chances of all behaviours, and what was seen at all. [-]

        Derived here (docs/methods/next-card.md).
        """
        own = {d.key for d in self.decisions if d.seen or _own(d.key) & set(card_ids)}
        return sum(WEIGHTS[k] * (p + SEEN_AT_ALL * (k in own)) for k, p in self.chances(card_ids).items())

    def _after(self, card_ids: Iterable[str]) -> Array:
        looks = [self.measured[c] for c in card_ids if c in self.measured]
        if not looks:
            return self.covariance
        slopes, noise, of_power = (
            np.concatenate([getattr(k, f) for k in looks]) for f in ("slopes", "noise", "of_power")
        )
        heard = ~of_power.astype(bool)
        known = _narrowed(self.covariance, slopes[heard], noise[heard])
        if heard.all():
            return known
        return cut(_narrowed(known, slopes[~heard], noise[~heard]), float(known[P.STATIC_MARGIN, P.STATIC_MARGIN]))

    def _chance(self, d: Decision, after: Array) -> float:
        before, left = (float(d.slopes @ c @ d.slopes) for c in (self.covariance, after))
        spread, sigma = math.sqrt(max(before - left, 0.0)), math.sqrt(max(left, 1e-12))
        low, high = d.band
        means = d.value + spread * _NODES
        inside = ndtr((high - means) / sigma) - ndtr((low - means) / sigma)
        corrected = 2.0 * ndtr(0.5 * (high - low) / sigma) - 1.0
        return float(_SHARES @ np.maximum(inside, corrected - A_CHANGE))


def _narrowed(covariance: Array, slopes: Array, noise: Array) -> Array:
    across = covariance @ slopes.T
    return np.asarray(covariance - across @ np.linalg.solve(slopes @ across + np.diag(noise), across.T))


def _own(key: str) -> set[str]:
    return {c for c, _ in OWN_CARDS[key]}


def prospect(
    configuration: Configuration, belief: Belief, trims: Trims, seen: Seen, card_ids: Iterable[str]
) -> Prospect:
    """Return what cards would tell of a configuration, flown with the surfaces resting at ``trims`` [rad], under a belief.

    An error that a measure has already shown is known as well as the estimate left it; one that was never met has the whole width of
    its prior. Derived here (docs/methods/next-card.md).
    """
    design = design_of(configuration)
    moment = Moment(design, trims)
    of_card: dict[str, list[Measure]] = {}
    wanted = set(card_ids)
    for (card_id, key), measure in MEASURES.items():
        if card_id in wanted and (card_id, key) not in _ONLY_WITH_INSTRUMENTS:
            of_card.setdefault(card_id, []).append(measure.sized(design))
    judged = [j for j in judged_by(configuration, belief, moment) if j.key in WEIGHTS]
    all_errors = errors_of(design)
    widths = {e.key: all_errors[e.key].sigma for ms in of_card.values() for m in ms for e in m.errors}
    # What the closed form of a behaviour has missed is part of the behaviour, whether a card of it is at hand or not.
    widths |= {j.missed: all_errors[j.missed].sigma for j in judged if j.missed}
    covariance, errors = joint_state(belief, widths)
    places = {k: COUNT + i for i, k in enumerate(errors)}
    measured = {c: _looks(ms, belief, moment, places) for c, ms in of_card.items()}
    measured |= _on_the_bench(configuration, belief, covariance)
    return Prospect(covariance, tuple(_decision(j, places, seen) for j in judged), measured)


def _on_the_bench(configuration: Configuration, belief: Belief, covariance: Array) -> dict[str, Looks]:
    """Return what readings on the bench would say, where they were not taken: the balance again, and the incidence of both tips.

    Of the margin's variance the misreading has its chance times its square, and shares what the rest has to do with anything else:
    a second reading that agrees takes it away. Derived here (docs/methods/next-card.md).
    """
    found, size = {}, len(covariance)
    nothing = np.zeros(1)
    i = int(P.STATIC_MARGIN)
    misread = min(belief.misread * MISREAD_SIGMA**2 / float(covariance[i, i]), _ALL_BUT)
    if misread > 0.0 and configuration.jig is not None:
        # As much noise on a look at the whole margin as leaves of its variance what is no misreading.
        noise = float(covariance[i, i]) * (1.0 - misread) / misread
        found[READ_AGAIN] = Looks(np.eye(1, size, i), np.array([noise]), nothing)
    if not both_sides_measured(configuration.airframe.wing):
        twist = int(P.TWIST)
        found[INCIDENCE] = Looks(np.eye(1, size, twist), np.array([MEASURED_TWIST_SIGMA_RAD**2]), nothing)
    return found


def _looks(measures: list[Measure], belief: Belief, moment: Moment, places: dict[str, int]) -> Looks:
    slopes, noise = np.zeros((len(measures), COUNT + len(places))), np.zeros(len(measures))
    for i, m in enumerate(measures):
        base = m.said(belief.mean, moment)
        for j in range(COUNT):
            moved = belief.mean.copy()
            moved[j] += _STEP
            slopes[i, j] = (m.said(moved, moment) - base) / _STEP
        for e in m.errors:
            slopes[i, places[e.key]] = e.share
        # A word says no more than the width between its edges.
        width = 0.0 if m.scale is None else m.scale.typical_width
        noise[i] = m.sigma**2 + width**2 / 12.0
    return Looks(slopes, noise, np.array([m.key in POWER_STEPS for m in measures]))


def _decision(judged: Judged, places: dict[str, int], seen: Seen) -> Decision:
    slopes = np.zeros(COUNT + len(places))
    slopes[:COUNT] = judged.slopes
    if judged.missed in places:
        slopes[places[judged.missed]] = judged.share
    shown = any(c in seen.cards and (r := seen.of(c)) is not None and r.reading(m) for c, m in OWN_CARDS[judged.key])
    return Decision(judged.key, judged.name, slopes, judged.value, judged.band, shown)


def likelier(name: str, before: float, after: float) -> str:
    """Return in a sentence how much likelier a behaviour is right after the next rework; chances without and with a look [-]."""
    return f"{name}, right after the next rework: {100 * after:.0f} % likely, without it {100 * before:.0f} %."
