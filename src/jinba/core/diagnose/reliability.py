"""Whether what was said to be likely came true as often: stated chances against what was seen."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import pairwise

from jinba.core.diagnose.score import PredictionScore
from jinba.core.diagnose.tendencies import Tendency

EDGES = (0.0, 0.2, 0.4, 0.6, 0.8, 1.0)
_95_PERCENT = 1.96


@dataclass(frozen=True, slots=True)
class Kept:
    """Predictions that were said to be ``low`` to ``high`` likely: how many, what was ``said`` in the mean, how many ``came_true``, and the
    95 % interval of their share, ``least`` to ``most``. All chances [-]."""

    low: float
    high: float
    count: int
    said: float
    came_true: int
    least: float
    most: float

    @property
    def honest(self) -> bool:
        """Whether what was said lies in the interval of what came true. By definition."""
        return self.least <= self.said <= self.most


def kept(pairs: Iterable[tuple[float, bool]]) -> tuple[Kept, ...]:
    """Return stated chances [-] against what came true, by fifths; fifths of which nothing was said are left out.

    References: reliability diagram, e.g. Murphy and Winkler, Applied Statistics 26 (1977) (from memory).
    """
    said = list(pairs)
    found = []
    for low, high in pairwise(EDGES):
        these = [(p, so) for p, so in said if low <= p < high or (high == 1.0 and p >= 1.0)]
        if these:
            hits = sum(so for _, so in these)
            least, most = interval(hits, len(these))
            found.append(Kept(low, high, len(these), sum(p for p, _ in these) / len(these), hits, least, most))
    return tuple(found)


def interval(hits: int, of: int) -> tuple[float, float]:
    """Return the 95 % interval of a share [-] of which so many came true. References: Wilson, J. Am. Stat. Assoc. 22 (1927) (from memory)."""
    z, share = _95_PERCENT, hits / of
    middle = (share + z * z / (2.0 * of)) / (1.0 + z * z / of)
    half = z * math.sqrt(share * (1.0 - share) / of + z * z / (4.0 * of * of)) / (1.0 + z * z / of)
    return max(middle - half, 0.0), min(middle + half, 1.0)


def said_and_seen(
    predicted: tuple[Tendency, ...], flown: tuple[Tendency, ...], score: tuple[PredictionScore, ...]
) -> list[tuple[float, bool]]:
    """Return for every behaviour that a sortie has scored how likely it was said to lie in its band [-], and whether it did as flown.

    Derived here.
    """
    before, after = ({t.key: t for t in side} for side in (predicted, flown))
    keys = [s.key for s in score if s.key in before and s.key in after]
    return [(before[k].chance, after[k].low <= after[k].value <= after[k].high) for k in keys]
