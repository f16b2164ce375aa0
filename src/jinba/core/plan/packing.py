"""Packing cards into the safe minutes: what must be flown first, then what is worth most, by an integer programme."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp

_LITTLE = 1e-6


@dataclass(frozen=True, slots=True)
class Choice:
    """A card that may be flown: ``minutes`` it adds, what it is ``worth`` by itself [-], whether it is ``bold``, the cards it ``needs``
    of those that may be flown too."""

    minutes: float
    worth: float
    bold: bool = False
    needs: tuple[str, ...] = ()


def pack(
    choices: Mapping[str, Choice], together: Mapping[tuple[str, str], float], *, minutes: float, bold: int
) -> frozenset[str]:
    """Return the cards that are worth most together within so many minutes [min] and so many bold ones.

    ``together``: for two cards, what both are worth beyond the sum of each; what two cards tell alike is not counted twice. Pairs only:
    what three tell alike is. An integer linear programme, solved by branch and cut (HiGHS: Huangfu and Hall, Mathematical Programming
    Computation 10, 2018; from memory): maximise sum w_k x_k + sum v_ab z_ab, z_ab the product of two choices by its three linear bounds.
    Derived here (docs/methods/next-card.md).
    """
    cards = list(choices)
    if not cards:
        return frozenset()
    pairs = [(a, b) for a, b in combinations(cards, 2) if abs(together.get((a, b), 0.0)) > _LITTLE]
    size, at = len(cards) + len(pairs), {c: i for i, c in enumerate(cards)}
    gain = np.array([*(choices[c].worth for c in cards), *(together[p] for p in pairs)])
    rows: list[tuple[dict[int, float], float]] = [
        ({at[c]: choices[c].minutes for c in cards}, minutes),
        ({at[c]: float(choices[c].bold) for c in cards}, float(bold)),
    ]
    rows += [({at[c]: 1.0, at[n]: -1.0}, 0.0) for c in cards for n in choices[c].needs]
    for i, (a, b) in enumerate(pairs, len(cards)):
        rows += [({at[a]: 1.0, at[b]: 1.0, i: -1.0}, 1.0), ({i: 1.0, at[a]: -1.0}, 0.0), ({i: 1.0, at[b]: -1.0}, 0.0)]
    matrix = np.zeros((len(rows), size))
    for r, (row, _) in enumerate(rows):
        for column, value in row.items():
            matrix[r, column] = value
    found = milp(
        -gain,
        constraints=LinearConstraint(matrix, -np.inf, np.array([most for _, most in rows]) + 1e-9),
        integrality=np.ones(size),
        bounds=Bounds(0, 1),
    )
    return frozenset() if found.x is None else frozenset(c for c in cards if found.x[at[c]] > 0.5)
