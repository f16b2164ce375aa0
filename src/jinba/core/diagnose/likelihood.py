"""Log-likelihood of numbers and intervals seen through Gaussian noise, with score and curvature."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.special import log_ndtr

from jinba.core.observe.parameters import Array

_LOG_SQRT_2PI = 0.5 * np.log(2.0 * np.pi)


@dataclass(frozen=True, slots=True)
class Scores:
    """Of each datum: ``log`` likelihood, its first derivative ``slope`` and negative second derivative ``weight`` in the prediction,
    each (data,)."""

    log: Array
    slope: Array
    weight: Array


def scores_of(low: Array, high: Array, predicted: Array, sigma: Array) -> Scores:
    """Return the scores of "somewhere between low and high", either end open, or of plain numbers where both are one; all (data,), in
    the units of the predictions; ``sigma`` > 0.

    log[Phi((high - h)/s) - Phi((low - h)/s)], log-concave in h. Used for worded ratings (end classes are one-sided) and censored times.
    References: probit likelihood of interval-censored data, e.g. Tobin, Econometrica 26 (1958) (from memory).
    """
    z = (low - predicted) / sigma
    plain = low == high
    between = _between(low[~plain], high[~plain], predicted[~plain], sigma[~plain])
    log, slope, weight = -0.5 * z * z, z / sigma, 1.0 / sigma**2
    log[~plain], slope[~plain], weight[~plain] = between
    return Scores(log, slope, weight)


def _between(low: Array, high: Array, predicted: Array, sigma: Array) -> tuple[Array, Array, Array]:
    a, b = (low - predicted) / sigma, (high - predicted) / sigma
    # Work in the lower tail, where logarithms of the normal distribution stay accurate.
    mirrored = a + b > 0
    a, b = np.where(mirrored, -b, a), np.where(mirrored, -a, b)
    log_a, log_b = log_ndtr(a), log_ndtr(b)
    # log(Phi_b - Phi_a) from the logarithms: the plain difference is zero long before the evidence is.
    log_p = log_b + np.log1p(-np.exp(np.minimum(log_a - log_b, -1e-12)))
    ratio_a, ratio_b = (np.exp(-0.5 * end * end - log_p - _LOG_SQRT_2PI) for end in (a, b))
    # An open end has no density, and no infinite times nothing.
    a, b = np.where(np.isfinite(a), a, 0.0), np.where(np.isfinite(b), b, 0.0)
    slope = np.where(mirrored, -1.0, 1.0) * (ratio_a - ratio_b) / sigma
    # The exact curvature is never negative for this likelihood; rounding in the far tail can make it so.
    weight = np.maximum(0.0, (ratio_a - ratio_b) ** 2 - (a * ratio_a - b * ratio_b)) / sigma**2
    return log_p, slope, weight
