"""Causes ranked, with the evidence for and against in a pilot's words, and what would tell the rest apart."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from jinba.core.diagnose.update import Belief
from jinba.core.observe.measures import Datum, strength
from jinba.core.observe.parameters import OF_THE_PILOT, PARAMETERS, Array, P, prior_means
from jinba.core.spoken import plus_minus

NOT_SEPARATED = 0.75
"""Posterior over prior sigma above which the flights say little about an unknown."""

A_FAULT = 1.5
"""Bench's own sigmas from which on an unknown is a fault, and not what any bench and builder leave: common practice, no source."""

TWINS = 0.7
"""Correlation from which on two unknowns explain each other and the flights do not tell them apart: common practice, no source."""

_DRAWS = 4000


@dataclass(frozen=True, slots=True)
class Evidence:
    """One logged measure and how it bears on a cause: ``pull`` > 0 speaks for it, < 0 against it."""

    card_id: str
    words: str
    pull: float


@dataclass(frozen=True, slots=True)
class Cause:
    """An unknown with what the flights say: value and sigma before and after (in ``unit``), strength and evidence.

    ``words``: its size; which way stands in the verdict.

    ``strength`` = |mean| / prior sigma; ``chance``: that it is a fault, and the largest of all [-], None from versions that did not say;
    ``twin``: key of the unknown that it is not told apart from, empty where there is none; ``separated``: the flights have narrowed it
    enough to act on.
    """

    key: str
    name: str
    verdict: str
    words: str
    unit: str
    value: float
    sigma: float
    prior_sigma: float
    strength: float
    separated: bool
    evidence: tuple[Evidence, ...]
    tell_apart: str
    chance: float | None = None
    twin: str = ""

    @property
    def twin_name(self) -> str:
        """The name of its twin, empty where there is none."""
        return next((i.name for i in PARAMETERS.values() if i.key == self.twin), "")

    @property
    def positive(self) -> bool:
        """Whether the unknown lies on the positive side of what the bench says."""
        return any(info.key == self.key and info.positive == self.verdict for info in PARAMETERS.values())


_TELL_APART: dict[P, str] = {
    P.STATIC_MARGIN: "Fly F13 (second trim speed) or F12 (dive); F14 where inverted flight is usual.",
    P.PITCH_MOMENT: "Known once the balance is: fly F13 or F12, and read where the elevator rests (A3).",
    P.THRUST_DOWN: "Fly F5: power up and power off at the same speed.",
    P.THRUST_RIGHT: "Fly F5 and watch the yaw in the first second.",
    P.LATERAL_CG: "Fly F7 (slow, hands off) against F3 (cruise): a heavy wing grows when slow, a twist fades. Or hang it on two points.",
    P.TWIST: "Fly F7 against F3, or measure incidence at both tips with a gauge.",
    P.YAW_OFFSET: "Fly F4 going away.",
    P.LN_ELEVATOR: "Measure throws again; fly F14 after the balance is known.",
    P.LN_TORQUE: "Fly F5 and watch the roll.",
    P.LN_SPEED: "Fly F32, the speed course, both ways.",
    P.LN_CL_MAX: "Fly F8 with telemetry.",
    P.LN_AILERON: "Measure the aileron throws again.",
    P.LN_WORDS: "Give numbers beside words: seconds of a dive (F12), clicks that hold full power (F5).",
}


def causes(prior: Belief, data: tuple[Datum, ...], posterior: Belief) -> tuple[Cause, ...]:
    """Return the causes, the likeliest to be the largest fault first, each with the measures that speak most for and against it.

    What their chances leave to one is that nothing is out by more than a bench leaves: not explained by any of them.
    """
    pulls = posterior.pulls / prior.sigma
    chances = largest_fault(prior, posterior)
    of_model = [p for p in P if p not in OF_THE_PILOT]
    ranked = [replace(_cause(p, prior, data, posterior, pulls), chance=float(chances[p])) for p in of_model]
    found = tuple(sorted(ranked, key=lambda c: (-(c.chance or 0.0), -c.strength)))
    return tuple(replace(c, twin=_twin(c, posterior)) for c in found)


def largest_fault(prior: Belief, posterior: Belief) -> Array:
    """Return for each unknown the chance that it is a fault and the largest of all, in sigmas of the bench, shape (COUNT,) [-].

    Monte Carlo over the posterior with one beginning, 4,000 draws: to 1 % at one sigma. What is so of every model is no fault of this
    one. Derived here (docs/methods/estimator.md).
    """
    rng = np.random.default_rng(0)
    # Drawn by the factor of what each is over its own sigma, so that no unit makes it singular.
    scale = posterior.sigma
    factor = np.linalg.cholesky(posterior.covariance / np.outer(scale, scale) + 1e-9 * np.eye(len(scale)))
    drawn = posterior.mean + scale * (rng.standard_normal((_DRAWS, len(scale))) @ factor.T)
    away = np.abs(drawn - prior_means()) / prior.sigma
    away[:, list(OF_THE_PILOT)] = 0.0
    largest = away.argmax(axis=1)
    is_fault = away.max(axis=1) > A_FAULT
    return np.bincount(largest[is_fault], minlength=len(scale)) / _DRAWS


_TOLD_OF_WORDS = 0.9


def words_of_the_pilot(prior: Belief, posterior: Belief) -> str:
    """Return how strongly the pilot says what he sees, in a sentence; empty while the flights have told nothing of it.

    Derived here (docs/methods/estimator.md).
    """
    p = P.LN_WORDS
    sigma = float(posterior.sigma[p])
    # What an earlier version computed knows nothing of it.
    if not 0.0 < sigma <= _TOLD_OF_WORDS * float(prior.sigma[p]):
        return ""
    times = strength(posterior.mean)
    stronger, spread = 100.0 * (times - 1.0), 100.0 * times * math.expm1(sigma)
    way = "as strong as" if abs(stronger) < _AS_MOST else "stronger than" if stronger > 0.0 else "weaker than"
    size = "" if abs(stronger) < _AS_MOST else f"{abs(stronger):.0f} % "
    return f"Your words are {size}{way} most people's, ±{spread:.0f} %, by the numbers beside them: counted in."


_AS_MOST = 5.0


def _twin(cause: Cause, posterior: Belief) -> str:
    """Return the key of the unknown that one is least told apart from, empty where all are."""
    i = next(int(p) for p in P if PARAMETERS[p].key == cause.key)
    together = np.abs(posterior.covariance[i] / (posterior.sigma[i] * posterior.sigma))
    together[[i, *OF_THE_PILOT]] = 0.0
    j = int(together.argmax())
    return PARAMETERS[P(j)].key if together[j] >= TWINS else ""


def _cause(p: P, prior: Belief, data: tuple[Datum, ...], posterior: Belief, pulls: Array) -> Cause:
    scale = PARAMETERS[p].scale
    # What is so of every model is no cause of this one.
    mean = float(posterior.mean[p] - prior_means()[p])
    sigma, before = float(posterior.sigma[p]), float(prior.sigma[p])
    sign = 1.0 if mean >= 0 else -1.0
    # Four are what a person reads; weaker ones change nothing in the order.
    ranked = sorted(range(len(data)), key=lambda i: -abs(pulls[i, p]))[:4]
    return _in_words(
        p,
        positive=mean >= 0,
        value=abs(mean) * scale,
        sigma=sigma * scale,
        prior_sigma=before * scale,
        strength=abs(mean) / before,
        separated=sigma / before <= NOT_SEPARATED and abs(mean) > sigma,
        evidence=tuple(
            Evidence(data[i].card_id, data[i].evidence, float(sign * pulls[i, p]))
            for i in ranked
            if abs(pulls[i, p]) > 0.01
        ),
    )


def cause_from(
    key: str,
    *,
    positive: bool,
    value: float,
    sigma: float,
    prior_sigma: float,
    strength: float,
    separated: bool,
    evidence: tuple[Evidence, ...],
    chance: float | None = None,
    twin: str = "",
) -> Cause | None:
    """Return a cause of stored numbers in today's words; None when nobody knows the key any more.

    ``value``, ``sigma`` in the unit of the cause, ``strength`` and ``chance`` [-].
    """
    known = next((p for p in P if PARAMETERS[p].key == key), None)
    if known is None:
        return None
    found = _in_words(
        known,
        positive=positive,
        value=value,
        sigma=sigma,
        prior_sigma=prior_sigma,
        strength=strength,
        separated=separated,
        evidence=evidence,
    )
    return replace(found, chance=chance, twin=twin)


def _in_words(
    p: P,
    *,
    positive: bool,
    value: float,
    sigma: float,
    prior_sigma: float,
    strength: float,
    separated: bool,
    evidence: tuple[Evidence, ...],
) -> Cause:
    info = PARAMETERS[p]
    return Cause(
        key=info.key,
        name=info.name,
        verdict=info.positive if positive else info.negative,
        words=plus_minus(abs(value), sigma, info.unit, 3 if info.unit == "Cm" else 1),
        unit=info.unit,
        value=value,
        sigma=sigma,
        prior_sigma=prior_sigma,
        strength=strength,
        separated=separated,
        evidence=evidence,
        tell_apart=_TELL_APART[p],
    )
