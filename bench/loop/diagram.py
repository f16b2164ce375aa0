"""What was said to be likely against how often it was so, as a drawing for the page of figures."""

from __future__ import annotations

import itertools
from collections.abc import Iterable

import numpy as np
from scipy.special import ndtri

from bench.loop.report import early_promises
from bench.loop.trial import Trial
from jinba.core.diagnose.reliability import interval

_SIDE, _EDGE = 360.0, 40.0
_LEVELS = (0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.68, 0.8, 0.9, 0.95)
_BINS = (0.0, 0.05, 0.1, 0.2, 0.3, 0.5, 1.0001)

Point = tuple[float, int, int]
"""What was said [-], how often it was so, and of how many."""


def covered(trials: Iterable[Trial]) -> list[Point]:
    """Return for stated intervals of the margin, from narrow to wide, how many of all sorties they hold."""
    z = np.array([abs(b.true_margin - b.margin) / b.sigma for t in trials for b in t.believed])
    return [(p, int((z < ndtri(0.5 + 0.5 * p)).sum()), len(z)) for p in _LEVELS]


def promised(trials: Iterable[Trial]) -> list[Point]:
    """Return for each bin of the chance that all behaviours lie in their bands how often they did, after the first few reworks."""
    said = early_promises(trials)
    rows = [[(p, so) for p, so in said if low <= p < high] for low, high in itertools.pairwise(_BINS)]
    return [(float(np.mean([p for p, _ in r])), sum(so for _, so in r), len(r)) for r in rows if r]


def svg(trials: list[Trial]) -> str:
    """Return the drawing: said along the bottom, so up the side, each with its 95 % interval, and the line where both are one."""
    size = _SIDE + 2.0 * _EDGE
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {size:.0f} {size:.0f}" font-family="sans-serif" font-size="12">',
        f'<rect width="{size:.0f}" height="{size:.0f}" fill="#fff"/>',
        f'<path d="M{_x(0):.0f} {_y(0):.0f}H{_x(1):.0f}M{_x(0):.0f} {_y(0):.0f}V{_y(1):.0f}" stroke="#222"/>',
        f'<path d="M{_x(0):.0f} {_y(0):.0f}L{_x(1):.0f} {_y(1):.0f}" stroke="#999" stroke-dasharray="5 4"/>',
    ]
    parts.append(f'<text x="{_x(0.5):.0f}" y="{_y(0) + 34:.0f}" text-anchor="middle">said to be likely</text>')
    parts.append(f'<text x="{_x(0) + 8:.0f}" y="{_y(1) + 4:.0f}">so</text>')
    for tick in (0.0, 0.2, 0.4, 0.6, 0.8, 1.0):
        parts.append(f'<text x="{_x(tick):.0f}" y="{_y(0) + 18:.0f}" text-anchor="middle">{tick:.1f}</text>')
        parts.append(f'<text x="{_x(0) - 8:.0f}" y="{_y(tick) + 4:.0f}" text-anchor="end">{tick:.1f}</text>')
    for point in covered(trials):
        parts.append(_bar(point))
        x, y = _at(point)
        parts.append(f'<path d="M{x - 5:.1f} {y - 5:.1f}l10 10m0 -10l-10 10" stroke="#222" stroke-width="2"/>')
    for point in promised(trials):
        parts.append(_bar(point))
        x, y = _at(point)
        parts.append(f'<circle cx="{x:.1f}" cy="{y:.1f}" r="5" fill="#fff" stroke="#222" stroke-width="2"/>')
    return "\n".join([*parts, "</svg>", ""])


def _x(share: float) -> float:
    return _EDGE + _SIDE * share


def _y(share: float) -> float:
    return _EDGE + _SIDE * (1.0 - share)


def _at(point: Point) -> tuple[float, float]:
    said, hits, of = point
    return _x(said), _y(hits / of)


def _bar(point: Point) -> str:
    said, hits, of = point
    low, high = interval(hits, of)
    return f'<path d="M{_x(said):.1f} {_y(low):.1f}V{_y(high):.1f}" stroke="#777"/>'
