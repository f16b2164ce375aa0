"""Two flights side by side: which behaviours differ by more than both are known to, in words."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from jinba.core.diagnose.tendencies import Tendency
from jinba.core.spoken import an_amount

_APART = 2.0
"""Sigmas of the difference from which two flights are said to differ: one of twenty alike ones does. Derived here."""


@dataclass(frozen=True, slots=True)
class Compared:
    """One behaviour of two flights: what each was said to do, how far the other lies from the one in sigmas [-], and whether that is more
    than both are known to."""

    key: str
    name: str
    one: str
    other: str
    sigmas: float
    differs: bool
    words: str


def compared(one: Sequence[Tendency], other: Sequence[Tendency]) -> tuple[Compared, ...]:
    """Return the behaviours that two flights have in common, side by side.

    z = (other - one)/sqrt(s_one^2 + s_other^2): flights of one model share what is known, so that the true sigma is smaller and
    fewer are called different than might be. References: difference of two independent estimates, JCGM 100:2008, 5.1.2 (from memory).
    """
    of = {t.key: t for t in other}
    return tuple(_pair(t, of[t.key]) for t in one if t.key in of)


def _pair(one: Tendency, other: Tendency) -> Compared:
    sigma = math.hypot(one.sigma, other.sigma)
    z = (other.value - one.value) / sigma if sigma > 0.0 else 0.0
    differs = abs(z) >= _APART
    apart = an_amount(abs(other.value - one.value), one.unit)
    words = (
        f"differs by {apart}: {one.verdict} in the one, {other.verdict} in the other"
        if differs
        else "the same, as well as both are known"
    )
    return Compared(one.key, one.name, one.words, other.words, z, differs, words)
