"""A value with its standard deviation, and linear propagation."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

from jinba.core.constants import ONE_SIDED_95_PERCENT, ONE_SIDED_99_PERCENT


@dataclass(frozen=True, slots=True)
class Estimate:
    """A value with one standard deviation, both in the unit of the field that holds it."""

    value: float
    sigma: float


@dataclass(frozen=True, slots=True)
class Input:
    """One input that a computed value used, as shown when the value is opened: name, value in words, where it is from."""

    name: str
    words: str
    source: str = ""


@dataclass(frozen=True, slots=True)
class Reason:
    """Why a computed value is what it is: method, formula, source and the inputs used."""

    method: str
    formula: str
    source: str
    inputs: tuple[Input, ...] = ()


def root_sum_square(sigmas: Iterable[float]) -> float:
    """Return the standard deviation of a sum of independent errors; unit of the inputs.

    References: propagation of uncertainty, JCGM 100:2008 (GUM) eq. 10 with unit sensitivities.
    """
    return math.sqrt(sum(s * s for s in sigmas))


def normal_cdf(z: float) -> float:
    """Return the standard normal distribution function at ``z`` [-].

    References: Abramowitz and Stegun, Handbook of Mathematical Functions, 1964, eq. 7.1.1 and 26.2.29.
    """
    return 0.5 * math.erfc(-z / math.sqrt(2.0))


MISREAD_SHARE, MISREAD_SIGMA = 0.2, 0.05
"""Share of balances that are read wrongly, and how far then, of the mean chord: wrong datum, a digit, a forgotten item, the pack
elsewhere. Common practice, no source."""

MOST_RISK = 0.05
"""Chance of a margin below the class minimum beyond which nothing takes off without a reason, and that no correction aims beyond."""


def with_misreading(sigma: float, misread: float) -> float:
    """Return a standard deviation with the chance that a balance was misread in it; ``sigma``, and what is returned, of the mean chord
    [-], ``misread`` the chance [-].

    Second moment of (1 - p) N(0, s^2) + p N(0, s^2 + t^2). Derived here (docs/methods/maiden-balance.md).
    """
    return math.sqrt(sigma * sigma + misread * MISREAD_SIGMA**2)


def safe_distance(sigma: float, misread: float) -> float:
    """Return how far a margin is kept over the least for a first flight [of the mean chord]: a chance of 1 % by the core of what is known
    (``sigma``, of the mean chord), and of :data:`MOST_RISK` with a misread balance in it (``misread``, its chance [-]).

    Derived here (docs/methods/maiden-balance.md).
    """
    return max(ONE_SIDED_99_PERCENT * sigma, ONE_SIDED_95_PERCENT * with_misreading(sigma, misread))
