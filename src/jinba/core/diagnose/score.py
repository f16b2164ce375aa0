"""Scoring a prediction: how far the outcome lay from it, in its own sigmas, in words."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.diagnose.tendencies import Tendency


@dataclass(frozen=True, slots=True)
class PredictionScore:
    """One behaviour: predicted and found (value, sigma, unit), the distance in sigmas, whether it lay within one."""

    key: str
    name: str
    unit: str
    predicted: float
    predicted_sigma: float
    found: float
    found_sigma: float
    sigmas: float
    within_one_sigma: bool
    words: str


def score_prediction(predicted: tuple[Tendency, ...], found: tuple[Tendency, ...]) -> tuple[PredictionScore, ...]:
    """Return the score of each behaviour predicted before a flight against what the flight showed.

    z = (found - predicted) / sqrt(sigma_predicted^2 - sigma_found^2) is standard normal for an honest update, because the
    posterior mean moves with exactly the variance that the update removed; floored where the flight taught little.
    References: law of total variance; derived here (docs/methods/estimator.md).
    """
    by_key = {t.key: t for t in found}
    return tuple(_score(p, by_key[p.key]) for p in predicted if p.key in by_key)


def _score(p: Tendency, f: Tendency) -> PredictionScore:
    removed = max(p.sigma**2 - f.sigma**2, (0.25 * p.sigma) ** 2) ** 0.5
    return scored(p, f, (f.value - p.value) / removed)


def scored(p: Tendency, f: Tendency, z: float) -> PredictionScore:
    """Return the score of a behaviour that lay ``z`` sigmas from what was said of it, in words. ``z`` [-]."""
    within = abs(z) <= 1.0
    words = (
        "as predicted"
        if within
        else "within two sigma"
        if abs(z) <= 2.0
        else "a surprise: look for what the bench does not know"
    )
    return PredictionScore(p.key, p.name, p.unit, p.value, p.sigma, f.value, f.sigma, z, within, words)
