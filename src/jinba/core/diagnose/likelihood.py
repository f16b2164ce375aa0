"""Log-likelihood of a number or an interval seen through Gaussian noise, with score and curvature."""

from __future__ import annotations

import math
from dataclasses import dataclass

from scipy.special import log_ndtr

_SQRT_2PI = math.sqrt(2.0 * math.pi)


@dataclass(frozen=True, slots=True)
class Score:
    """``log`` likelihood, its first derivative ``slope`` and negative second derivative ``weight`` in the prediction."""

    log: float
    slope: float
    weight: float


def gaussian_score(value: float, prediction: float, sigma: float) -> Score:
    """Return the score of a plain number; units cancel in ``log``. ``sigma`` > 0."""
    z = (value - prediction) / sigma
    return Score(-0.5 * z * z, z / sigma, 1.0 / (sigma * sigma))


def interval_score(low: float, high: float, prediction: float, sigma: float) -> Score:
    """Return the score of "somewhere between low and high", either end open; log-concave in the prediction.

    log[Phi((high - h)/s) - Phi((low - h)/s)]. Used for worded ratings (end classes are one-sided) and censored times.
    References: probit likelihood of interval-censored data, e.g. Tobin, Econometrica 26 (1958) (from memory).
    """
    a, b = (low - prediction) / sigma, (high - prediction) / sigma
    if a + b > 0 and math.isfinite(a):
        # Work in the lower tail, where logarithms of the normal distribution stay accurate.
        mirrored = interval_score(-high, -low, -prediction, sigma)
        return Score(mirrored.log, -mirrored.slope, mirrored.weight)
    log_b = float(log_ndtr(b)) if math.isfinite(b) else 0.0
    log_a = float(log_ndtr(a)) if math.isfinite(a) else -math.inf
    # log(Phi_b - Phi_a) from the logarithms: the plain difference is zero long before the evidence is.
    log_p = log_b + math.log1p(-math.exp(min(log_a - log_b, -1e-12))) if math.isfinite(log_a) else log_b
    ratio_a = _density_over(a, log_p)
    ratio_b = _density_over(b, log_p)
    slope = (ratio_a - ratio_b) / sigma
    a_term = a * ratio_a if math.isfinite(a) else 0.0
    b_term = b * ratio_b if math.isfinite(b) else 0.0
    # The exact curvature is never negative for this likelihood; rounding in the far tail can make it so.
    weight = max(0.0, (ratio_a - ratio_b) ** 2 - (a_term - b_term)) / (sigma * sigma)
    return Score(log_p, slope, weight)


def _density_over(z: float, log_p: float) -> float:
    if not math.isfinite(z):
        return 0.0
    return math.exp(-0.5 * z * z - log_p) / _SQRT_2PI
