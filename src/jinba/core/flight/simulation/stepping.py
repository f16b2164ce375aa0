"""How finely a model's motion has to be taken: the lighter it is for its wing, the quicker its roll and pitch are damped."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

_QUICK, _QUICKEST = 30.0, 45.0
"""Damping [1/s] from which a step of ten milliseconds is taken in two and in four, found by halving it (docs/methods/simulation.md)."""


def substeps(*, inverse: Array, force_per_speed: Array, place: Array, up: Array) -> int:
    """Return into how many equal parts the step of a run is divided: 1, 2 or 4.

    ``inverse`` (3, 3) of the inertia [1/(kg m2)], ``force_per_speed`` (n) what a strip's lift gains by air through it
    [N s/m], ``place`` and ``up`` (n, 3) its quarter chord [m] and normal. Derived here.
    """
    fastest = damping_per_s(inverse=inverse, force_per_speed=force_per_speed, place=place, up=up)
    return 4 if fastest > _QUICKEST else 2 if fastest > _QUICK else 1


def damping_per_s(*, inverse: Array, force_per_speed: Array, place: Array, up: Array) -> float:
    """Return the quickest decay of a rotation that the strips damp, wash left out. [1/s] Arguments as in :func:`substeps`.

    The rate of decay is the largest eigenvalue of J^-1 sum f (r x n)(r x n)^T. Derived here.
    """
    arms = np.cross(place, up)
    return float(np.linalg.eigvals(inverse @ (arms.T * force_per_speed @ arms)).real.max())
