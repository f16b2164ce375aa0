"""What a model does under a belief: a closed form and what it misses, with sigma and slopes."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from jinba.core.diagnose.update import Belief
from jinba.core.observe import predictions
from jinba.core.observe.measures import errors_of
from jinba.core.observe.parameters import COUNT, Array
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import Design

_STEP = 1e-4


def behaviour(
    predict: Callable[[Array, Moment], float], missed: str, belief: Belief, moment: Moment, *, times: float = 1.0
) -> tuple[float, float, Array]:
    """Return (value, sigma, slopes) of what a model does under a belief: the closed form, and what it misses.

    All in the unit of the prediction. ``missed``: key of the error that belongs to it, empty for none, in a unit that is so many
    ``times`` that of the prediction. References: derived here (docs/methods/estimator.md).
    """
    slopes, share = slopes_of(predict, moment, belief), times * share_of(missed, moment)
    value = float(predict(belief.mean, moment)) + (share * belief.missed(missed, moment.design) if missed else 0.0)
    return value, sigma_of(slopes, missed, share, belief, moment.design), slopes


def sigma_of(slopes: Array, missed: str, share: float, belief: Belief, design: Design) -> float:
    """Return one sigma of what moves with the unknowns by ``slopes`` (COUNT,) and with a ``share`` of an error, in the unit of both.

    The error is a part of the behaviour: known as well as the estimate left it, together with the unknowns, or with the whole width of
    its prior where no flight has met it. References: JCGM 100:2008, eq. 13; derived here (docs/methods/estimator.md).
    """
    variance = float(slopes @ belief.covariance @ slopes)
    if missed in belief.bias:
        # An error that is given without a joint covariance is known for certain.
        if belief.joint is not None:
            i = COUNT + list(belief.bias).index(missed)
            variance += float(2.0 * share * slopes @ belief.joint[:COUNT, i] + share**2 * belief.joint[i, i])
    elif missed:
        variance += (share * errors_of(design)[missed].sigma) ** 2
    return math.sqrt(max(variance, 0.0))


def slopes_of(predict: Callable[[Array, Moment], float], moment: Moment, belief: Belief) -> Array:
    """Return how a prediction moves with each unknown (COUNT,), in its unit, by central differences at the belief. Derived here."""
    slopes = np.zeros(COUNT)
    for j in range(COUNT):
        up, down = belief.mean.copy(), belief.mean.copy()
        up[j] += _STEP
        down[j] -= _STEP
        slopes[j] = (predict(up, moment) - predict(down, moment)) / (2.0 * _STEP)
    return slopes


def share_of(missed: str, moment: Moment) -> float:
    """Return how much of the persistent error of a measure is in the behaviour it belongs to [-]. Derived here."""
    return predictions.power_share(moment) if missed == "pitch_full" else 1.0
