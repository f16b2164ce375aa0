"""Causes ranked, with the evidence for and against in a pilot's words, and what would tell the rest apart."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.diagnose.update import Belief
from jinba.core.observe.measures import Datum
from jinba.core.observe.parameters import PARAMETERS, Array, P, prior_means
from jinba.core.spoken import plus_minus

NOT_SEPARATED = 0.75
"""Posterior over prior sigma above which the flights say little about an unknown."""


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

    ``strength`` = |mean| / prior sigma; ``separated``: the flights have narrowed it enough to act on.
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
}


def causes(prior: Belief, data: tuple[Datum, ...], posterior: Belief) -> tuple[Cause, ...]:
    """Return the causes, strongest first, each with the measures that speak most for and against it."""
    pulls = posterior.pulls / prior.sigma
    ranked = [_cause(p, prior, data, posterior, pulls) for p in P]
    return tuple(sorted(ranked, key=lambda c: -c.strength))


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
) -> Cause | None:
    """Return a cause of stored numbers in today's words; None when nobody knows the key any more.

    ``value``, ``sigma`` in the unit of the cause, ``strength`` [-].
    """
    known = next((p for p in P if PARAMETERS[p].key == key), None)
    if known is None:
        return None
    return _in_words(
        known,
        positive=positive,
        value=value,
        sigma=sigma,
        prior_sigma=prior_sigma,
        strength=strength,
        separated=separated,
        evidence=evidence,
    )


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
