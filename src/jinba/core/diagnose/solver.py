"""Where the posterior of the unknowns is greatest, and how wide it is there: Newton steps over the closed forms."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jinba.core.cards.incident import Aspect
from jinba.core.diagnose.likelihood import Scores, scores_of
from jinba.core.observe.measures import Datum, about
from jinba.core.observe.parameters import COUNT, Array

_MAX_STEPS = 25
_REWEIGHTINGS = 3
_OUTLIER_SIGMAS = 2.0
_HALVINGS = 8
_STANDS = 1e-3
"""Gain of logarithmic posterior [-] that one more step would bring below which a solution stands: a 22nd of a sigma, and that step is taken."""
_FELT = 1e-6
"""Sigmas that a datum moves by one sigma of an unknown below which it does not depend on it: what is less is rounding."""
_STEPS = np.array([1e-3, 5e-4, 2e-3, 2e-3, 1e-4, 1e-3, 2e-3, 5e-3, 5e-3, 2e-3, 5e-3, 5e-3, 5e-3])


@dataclass(frozen=True, slots=True)
class Solution:
    """Where the posterior is greatest: ``state`` is the unknowns (COUNT,) and then the persistent errors called ``keys``; ``weights`` (data,).

    ``slopes``: of each datum's prediction by the unknowns (COUNT,), by the datum's identity, and which of them can be at all. A solution
    with more data or another prior begins here, and need not find that out again.
    """

    state: Array
    keys: tuple[str, ...]
    weights: Array
    slopes: Mapping[int, tuple[Array, NDArray[np.bool_]]]


class Solver:
    """Newton steps with step halving; prediction and Jacobian by forward differences of the closed forms.

    ``mean`` (COUNT,) and ``covariance`` (COUNT, COUNT): before the data. ``near``: a solution that cannot be far.
    """

    def __init__(self, mean: Array, covariance: Array, data: tuple[Datum, ...], near: Solution | None = None) -> None:
        self.data = data
        errors = {e.key: e for d in data for e in reversed(d.errors)}
        self.keys = tuple(errors)
        self.size = COUNT + len(self.keys)
        self.prior_mean = np.concatenate([mean, [e.mean for e in errors.values()]])
        self.prior_precision = np.zeros((self.size, self.size))
        self.prior_precision[:COUNT, :COUNT] = np.linalg.inv(covariance)
        for i, key in enumerate(self.keys):
            # A bias has its own prior: the closed form may be wrong by this much, the same way on every sortie.
            self.prior_precision[COUNT + i, COUNT + i] = 1.0 / errors[key].sigma ** 2
        self.shares = np.zeros((len(data), self.size))
        for i, d in enumerate(data):
            for e in d.errors:
                self.shares[i, COUNT + self.keys.index(e.key)] = e.share
        self.low, self.high, self.sigma = (np.array([getattr(d, k) for d in data]) for k in ("low", "high", "sigma"))
        self.in_sigmas = np.sqrt(np.diag(covariance)) / self.sigma[:, None]
        self.jacobian = self.shares.copy()
        self.at: Array | None = None
        self.said: list[tuple[Array, Array]] = []
        # Whether the last solution was believed by slopes of its own.
        self.stood = False
        # Which slopes there can be, and of which data that has been seen at a solution, too: at a start that is straight and level
        # many are zero that are not where it ends.
        self.depends = np.ones((len(data), COUNT), dtype=bool)
        self.settled = np.zeros(len(data), dtype=bool)
        self.start = self.prior_mean.copy() if near is None else self._from(near)
        self.begun = near is not None

    def _from(self, near: Solution) -> Array:
        """Return where a solution nearby is, with the slopes there; those of new data are found."""
        found = dict(zip(near.keys, near.state[COUNT:], strict=True))
        errors = [found.get(k, m) for k, m in zip(self.keys, self.prior_mean[COUNT:], strict=True)]
        state = np.concatenate([near.state[:COUNT], errors])
        for i, d in enumerate(self.data):
            if id(d) in near.slopes:
                self.jacobian[i, :COUNT], self.depends[i] = near.slopes[id(d)]
                self.settled[i] = True
        new = self._sloped(state, self.predict(state), self.depends & ~self.settled[:, None])
        self.jacobian[~self.settled] = new[~self.settled]
        self.depends[~self.settled] = self._felt(new)[~self.settled]
        return state

    def predict(self, state: Array) -> Array:
        """Return what is predicted of the data (data,) at a state, each in its unit; the last few are kept, since a solution is asked
        several times. Derived here (docs/methods/estimator.md)."""
        for at, said in self.said:
            if np.array_equal(at, state):
                return said
        values = [d.measure.said(state[:COUNT], d.moment) for d in self.data]
        said = np.asarray(np.array(values) + self.shares @ state)
        self.said = [(state.copy(), said), *self.said[:2]]
        return said

    def slopes(self, state: Array, base: Array) -> Array:
        """Return the slopes (data, state) of the predictions, ``base`` at ``state``; those that cannot be are zero.
        Derived here (docs/methods/estimator.md)."""
        if self.at is not None and np.array_equal(state, self.at):
            return self.jacobian
        # A roll knows nothing of a tail's incidence: most slopes are zero, and are not asked for again.
        first = self.at is None and not self.settled.any()
        self.jacobian, self.at = self._sloped(state, base, self.depends), state.copy()
        if first:
            self.depends = self._felt(self.jacobian)
        return self.jacobian

    def _sloped(self, state: Array, base: Array, wanted: NDArray[np.bool_]) -> Array:
        result = self.shares.copy()
        for j in range(COUNT):
            # Forward differences: the closed forms are smooth, and one more prediction an unknown is all a Newton step costs.
            moved = state.copy()
            moved[j] += _STEPS[j]
            beside, unknowns = self.shares @ moved - base, moved[:COUNT]
            for i in np.flatnonzero(wanted[:, j]):
                d = self.data[i]
                result[i, j] = (d.measure.said(unknowns, d.moment) + beside[i]) / _STEPS[j]
        return result

    def _felt(self, slopes: Array) -> NDArray[np.bool_]:
        return np.asarray(np.abs(slopes[:, :COUNT]) * self.in_sigmas > _FELT)

    def _more_slopes(self, state: Array, predicted: Array) -> bool:
        """Look once, at a solution, for slopes that were zero where it began; true where there are any."""
        asked = ~self.depends & ~self.settled[:, None]
        self.settled[:] = True
        if not asked.any():
            return False
        more = self._sloped(state, predicted, asked) - self.shares
        found = self._felt(more)
        self.jacobian = self.slopes(state, predicted) + more
        self.depends |= found
        return bool(found.any())

    def scores(self, predicted: Array) -> Scores:
        """Return the scores of the data for predictions (data,). References: :func:`scores_of`."""
        return scores_of(self.low, self.high, predicted, self.sigma)

    def objective(self, state: Array, predicted: Array, weights: Array) -> float:
        """Return the logarithm of the posterior [-], up to a constant. References: Gelb (ed.), Applied Optimal Estimation, 1974, ch. 4
        (from memory)."""
        away = state - self.prior_mean
        # An impossible rating has a score of minus infinity; a floor keeps two such states comparable.
        logs = np.maximum(self.scores(predicted).log, -1e6)
        return float(-0.5 * away @ self.prior_precision @ away + weights @ logs)

    def solve(self, weights: Array, start: Array, *, surely: bool = True) -> Array:
        """Return the state of greatest posterior for weights (data,) of the data, from a state nearby; not ``surely``: as the slopes
        followed along the way have it, which will do for the weights. Derived here (docs/methods/estimator.md)."""
        state = start.copy()
        predicted = self.predict(state)
        best = self.objective(state, predicted, weights)
        fresh = not self.begun
        self.begun = True
        for _ in range(_MAX_STEPS):
            jacobian = self.slopes(state, predicted) if fresh else self.jacobian
            step, expected = self._newton_step(state, predicted, weights, jacobian)
            ends = expected <= _STANDS
            halvings = _HALVINGS if fresh and not ends else 1
            found = (
                None
                if ends and surely and not fresh
                else self._searched(state, step, weights, best, halvings=halvings, enough=0.75 * expected)
            )
            stands = fresh and (found is None or ends)
            more = stands and self._more_slopes(state, predicted)
            if found is not None:
                if not stands:
                    self._follow(found[0] - state, found[1] - predicted)
                gained = found[2] - best
                state, predicted, best = found
            self.stood = stands and not more
            if self.stood or (ends and not surely):
                break
            # Where a step gains much less than it should, or nothing, the slopes are taken anew.
            fresh = more or found is None or gained < 0.5 * expected
        return state

    def _follow(self, moved: Array, by: Array) -> None:
        """Bring the slopes along: each row is changed least, in sigmas of the unknowns, so that it gives what its datum did on a step.

        Reference: Schubert, "Modification of a quasi-Newton method for nonlinear equations with a sparse Jacobian", Mathematics of
        Computation 24 (1970) (from memory).
        """
        along = np.where(self.depends, moved[:COUNT] * np.diag(self.prior_precision)[:COUNT], 0.0)
        size = along @ moved[:COUNT]
        missed = by - self.jacobian @ moved
        self.jacobian = self.jacobian.copy()
        self.jacobian[:, :COUNT] += along * np.where(size > 0.0, missed / np.where(size > 0.0, size, 1.0), 0.0)[:, None]

    def solution(self) -> Solution:
        """Return the solution with the weights that it gives the data itself."""
        weights = np.ones(len(self.data))
        state = self.solve(weights, self.start, surely=False)
        for _ in range(_REWEIGHTINGS):
            less = self.huber_weights(state)
            if min(less.min(), weights.min()) >= 1.0:
                break
            weights = less
            state = self.solve(weights, state, surely=False)
        if not self.stood:
            state = self.solve(weights, state)
        rows = zip(self.data, self.jacobian[:, :COUNT], self.depends, strict=True)
        return Solution(state, self.keys, weights, {id(d): (row, can) for d, row, can in rows})

    def _searched(
        self, state: Array, step: Array, weights: Array, best: float, *, halvings: int, enough: float
    ) -> tuple[Array, Array, float] | None:
        """Return the state, prediction and objective a step away, or half of it, or half of that: the first that gains ``enough`` or where
        a further half gains no more; None where nothing is gained."""
        found, least = None, best + enough
        # Censored ratings have flat tails, and words are bent: a whole Newton step can overshoot, and come back with the next.
        for halving in range(halvings):
            trial = state + step * 0.5**halving
            trial_predicted = self.predict(trial)
            value = self.objective(trial, trial_predicted, weights)
            if value <= best:
                if found is not None:
                    break
                continue
            found, best = (trial, trial_predicted, value), value
            if value >= least:
                break
        return found

    def precision(self, scores: Scores, weights: Array, jacobian: Array) -> Array:
        """Return the inverse covariance (state, state) by Laplace. References: as :meth:`objective`."""
        # Curvature of the predictions is left out (Gauss-Newton): it stays positive definite, and the step is a descent.
        return np.asarray(self.prior_precision + jacobian.T @ ((weights * scores.weight)[:, None] * jacobian))

    def _newton_step(self, state: Array, predicted: Array, weights: Array, jacobian: Array) -> tuple[Array, float]:
        """Return a Newton step, and what it should gain of the logarithm of the posterior: half its decrement."""
        scores = self.scores(predicted)
        gradient = jacobian.T @ (weights * scores.slope) - self.prior_precision @ (state - self.prior_mean)
        step = np.asarray(np.linalg.solve(self.precision(scores, weights, jacobian), gradient))
        return step, 0.5 * float(gradient @ step)

    def huber_weights(self, state: Array) -> Array:
        """Return the weight of each datum (data,) [-]. References: Huber, Robust Statistics, 1981 (from memory)."""
        predicted = self.predict(state)
        z = np.maximum(np.maximum(self.low - predicted, predicted - self.high), 0.0) / self.sigma
        # What is far from the rest and about the nose may be the alarm: it is never thrown out. The balance may have been misread.
        z[[Aspect.PITCH in about(d.measure) for d in self.data]] = 0.0
        return np.where(z > _OUTLIER_SIGMAS, _OUTLIER_SIGMAS / np.maximum(z, 1e-9), 1.0)
