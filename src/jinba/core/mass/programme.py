"""A small builder for mixed-integer linear programmes, solved by an established solver."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import coo_array

Terms = list[tuple["Variable", float]]
_FEASIBLE = (0, 1)
"""Status codes of scipy.optimize.milp that may carry a solution: optimal, or the limit reached with one in hand."""


@dataclass(frozen=True, slots=True)
class Variable:
    """A variable of the programme, by its index."""

    index: int


@dataclass(frozen=True, slots=True)
class Solution:
    """Values of all variables and the cost of the objective."""

    values: NDArray[np.float64]
    cost: float

    def value(self, variable: Variable) -> float:
        """Return the value of a variable. Derived here (docs/methods/balance-solver.md)."""
        return float(self.values[variable.index])


class Program:
    """Variables with bounds, rows ``low <= sum c v <= high``, and a linear objective to be minimised."""

    def __init__(self) -> None:
        self._low: list[float] = []
        self._high: list[float] = []
        self._whole: list[int] = []
        self._rows: list[tuple[Terms, float, float]] = []

    def continuous(self, low: float, high: float) -> Variable:
        """Return a real variable between two bounds. Bounds in the unit of the variable."""
        return self._variable(low, high, 0)

    def integer(self, low: int, high: int) -> Variable:
        """Return a whole-number variable between two bounds."""
        return self._variable(low, high, 1)

    def binary(self) -> Variable:
        """Return a variable that is 0 or 1."""
        return self._variable(0, 1, 1)

    def _variable(self, low: float, high: float, whole: int) -> Variable:
        self._low.append(low)
        self._high.append(high)
        self._whole.append(whole)
        return Variable(len(self._low) - 1)

    def add(self, terms: Terms, low: float | None, high: float | None) -> None:
        """Add a row; None leaves that side open. Bounds in the unit of the row."""
        self._rows.append((terms, -np.inf if low is None else low, np.inf if high is None else high))

    def minimise(self, cost: Terms) -> Solution | None:
        """Return the best solution, or None when there is none.

        References: HiGHS branch and cut through scipy.optimize.milp.
        """
        c = np.zeros(len(self._low))
        for variable, coefficient in cost:
            c[variable.index] += coefficient
        result = milp(
            c,
            integrality=np.array(self._whole),
            bounds=Bounds(np.array(self._low), np.array(self._high)),
            constraints=self._constraints(),
            options={"time_limit": 5.0, "mip_rel_gap": 1e-4},
        )
        if result.status not in _FEASIBLE or result.x is None:
            return None
        return Solution(np.asarray(result.x, dtype=np.float64), float(result.fun))

    def _constraints(self) -> LinearConstraint:
        row = np.repeat(np.arange(len(self._rows)), [len(terms) for terms, _, _ in self._rows])
        column = [v.index for terms, _, _ in self._rows for v, _ in terms]
        values = [c for terms, _, _ in self._rows for _, c in terms]
        matrix = coo_array((values, (row, column)), shape=(len(self._rows), len(self._low))).tocsr()
        return LinearConstraint(
            matrix, np.array([low for _, low, _ in self._rows]), np.array([high for _, _, high in self._rows])
        )
