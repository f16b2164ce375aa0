"""A value with its standard deviation, and linear propagation."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass


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
