"""What is believed of all behaviours at once: unknowns and errors of the closed forms together."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from scipy.stats import multivariate_normal

from jinba.core.configuration import Configuration
from jinba.core.diagnose.tendencies import judged_by
from jinba.core.diagnose.update import Belief
from jinba.core.observe.measures import errors_of
from jinba.core.observe.parameters import COUNT, Array
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import Trims, design_of

SET_BY_HAND = ("static_margin", "pitch_trim", "roll_cruise", "roll_slow", "power_pitch", "yaw")
"""The behaviours that are brought into their bands; the stall speed is what it is."""

WEIGHTS = {
    "static_margin": 3.0,
    "pitch_trim": 0.5,
    "roll_cruise": 1.0,
    "roll_slow": 1.0,
    "power_pitch": 1.0,
    "yaw": 0.5,
}
"""What it is worth to have each behaviour in its band: an unstable model is lost, a trim is found in flight anyway.
Common practice, no source."""

A_CHANGE = 0.05
"""What a change on the bench costs, as a chance: it is left where it is nearly as good. Common practice, no source."""

_LEAST_VARIANCE = 1e-9


def joint_state(belief: Belief, widths: Mapping[str, float]) -> tuple[Array, tuple[str, ...]]:
    """Return the covariance of unknowns and errors (state, state), and the keys of the errors in its order: those that were met first.

    ``widths``: prior sigmas of the errors that are wanted, each in its unit; one that was met is as well known as the flights left it.
    Derived here (docs/methods/next-card.md).
    """
    known = belief.covariance if belief.joint is None else belief.joint
    met = () if belief.joint is None else tuple(belief.bias)
    new = tuple(k for k in widths if k not in met)
    size = len(known) + len(new)
    covariance = np.zeros((size, size))
    covariance[: len(known), : len(known)] = known
    for i, key in enumerate(new, len(known)):
        covariance[i, i] = widths[key] ** 2
    return covariance, met + new


def all_in_band(configuration: Configuration, belief: Belief, trims: Trims) -> float:
    """Return the chance that every behaviour that is set by hand lies in its band at once [-], surfaces resting at ``trims`` [rad].

    Probability of a rectangle under the joint normal of the behaviours, to first order. References: A. Genz, Numerical Computation of
    Multivariate Normal Probabilities, J. Comp. Graph. Stat. 1 (1992), as scipy has it (from memory); derived here
    (docs/methods/estimator.md).
    """
    moment = Moment(design_of(configuration), trims)
    judged = [j for j in judged_by(configuration, belief, moment) if j.key in SET_BY_HAND]
    errors = errors_of(moment.design)
    covariance, keys = joint_state(belief, {j.missed: errors[j.missed].sigma for j in judged if j.missed})
    slopes = np.zeros((len(judged), len(covariance)))
    for row, j in zip(slopes, judged, strict=True):
        row[:COUNT] = j.slopes
        if j.missed:
            row[COUNT + keys.index(j.missed)] = j.share
    together = slopes @ covariance @ slopes.T + _LEAST_VARIANCE * np.eye(len(judged))
    low, high = (np.array([j.band[i] for j in judged]) for i in (0, 1))
    mean = np.array([j.value for j in judged])
    # Its own numbers are drawn: with one beginning the same belief has the same chance.
    chance = multivariate_normal.cdf(high, mean, together, lower_limit=low, rng=np.random.default_rng(0))
    return float(min(1.0, max(0.0, chance)))
