"""Gaussian update of the unknowns from logged measures, with persistent model bias and one-sided data."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from jinba.core.airframe.twist import INCIDENCE_SIGMA_RAD, both_sides_measured
from jinba.core.diagnose.likelihood import Score, gaussian_score, interval_score
from jinba.core.observe.measures import Datum
from jinba.core.observe.parameters import COUNT, Array, P, prior_sigmas
from jinba.core.observe.situation import Design

METHOD_VERSION = "map-8"
"""Stored with every estimate. A change that moves any number gets a new name; "map-1" moved its numbers without one."""

MEASURED_TWIST_SIGMA_RAD = INCIDENCE_SIGMA_RAD * math.sqrt(2.0)
"""Half the difference of two tips, each against its root, each reading with the meter's sigma: sqrt(4)/2, and as much
again for what chords between the measured ones may hide. Derived here. [rad]"""

STATIC_MARGIN_INFLATION = 1.0
STATIC_MARGIN_FLOOR = 0.010
_MAX_STEPS = 25
_REWEIGHTINGS = 3
_OUTLIER_SIGMAS = 2.0
_STEPS = np.array([1e-3, 5e-4, 2e-3, 2e-3, 1e-4, 1e-3, 2e-3, 5e-3, 5e-3, 2e-3, 5e-3, 5e-3])


@dataclass(frozen=True, slots=True)
class Belief:
    """What is believed of the unknowns: ``mean`` (COUNT,), ``covariance`` (COUNT, COUNT), bias means by measure key.

    ``pulls`` (data, COUNT): how far each mean would move back without that datum, to first order.
    """

    mean: Array
    covariance: Array
    bias: dict[str, float]
    pulls: Array

    @property
    def sigma(self) -> Array:
        """Standard deviations of the unknowns, shape (COUNT,). By definition: derived here."""
        return np.asarray(np.sqrt(np.diag(self.covariance)))


def prior_of(design: Design) -> Belief:
    """Return the belief before any flight of a configuration: its own balance sigmas, and its twist where measured."""
    across = design.configuration.across
    measured = both_sides_measured(design.configuration.airframe.wing)
    return prior_belief(
        static_margin_sigma=design.static_margin_sigma,
        twist_rad=design.aero.measured_twist_rad if measured else None,
        lateral_sigma=None if across is None else across.sigma_m / design.aero.planform.span_m,
    )


def prior_belief(
    *, static_margin_sigma: float, twist_rad: float | None = None, lateral_sigma: float | None = None
) -> Belief:
    """Return the belief before any flight: zero mean, sigmas of :func:`prior_sigmas`.

    ``twist_rad``: the linear twist measured on both halves, right tip washed out [rad]; it then has the sigma of the
    incidence meter. ``lateral_sigma``: of a lateral balance that was read [of the span]. None when not measured.
    """
    sigmas = prior_sigmas(static_margin_sigma=static_margin_sigma)
    mean = np.zeros(COUNT)
    if twist_rad is not None:
        mean[P.TWIST], sigmas[P.TWIST] = twist_rad, MEASURED_TWIST_SIGMA_RAD
    if lateral_sigma is not None:
        sigmas[P.LATERAL_CG] = min(lateral_sigma, float(sigmas[P.LATERAL_CG]))
    return Belief(mean, np.diag(sigmas**2), {}, np.zeros((0, COUNT)))


def update(prior: Belief, data: tuple[Datum, ...]) -> Belief:
    """Return the belief after all logged data, by a maximum a-posteriori Newton solution with Laplace covariance.

    The state is the unknowns plus one persistent bias per kind of measure: the closed forms err the same way each
    sortie, and without these terms sigma would shrink falsely. Data more than two sigmas from what the others say are
    given less weight (Huber), reweighted up to three times. The static margin's sigma is floored at 1 % MAC.

    What a step of power says (:data:`POWER_STEPS`) never moves the static margin: it is read given what everything else says of it
    (a cut of the joint density), so that the error of one does not become a move of the battery.

    Validity: the unknowns stay within the range in which the closed forms hold. References: maximum a-posteriori
    estimation, e.g. Gelb (ed.), Applied Optimal Estimation, 1974, ch. 4; Huber, Robust Statistics, 1981; cut models, Plummer,
    Statistics and Computing 25 (2015) (all from memory); docs/methods/estimator.md.
    """
    if not data:
        return prior
    solved, heard = _solved(prior, data), np.array([d.measure.key not in POWER_STEPS for d in data])
    if heard.all():
        return _widen_static_margin(solved)
    of_margin = tuple(d for d, h in zip(data, heard, strict=True) if h)
    without = _solved(prior, of_margin) if of_margin else prior
    return _widen_static_margin(_cut(solved, without, heard))


POWER_STEPS = frozenset({"pitch_full", "clicks_full", "pitch_idle", "go_round"})
"""Measures of a step of power. Thrust line, slipstream and speed all take part in what the nose then does, and a word of it moves no
battery by itself: common practice, no source."""


def _solved(prior: Belief, data: tuple[Datum, ...]) -> Belief:
    solver = _Solver(prior, data)
    state = solver.solve(np.ones(len(data)), np.zeros(solver.size))
    weights = solver.huber_weights(state)
    for _ in range(_REWEIGHTINGS):
        if weights.min() >= 1.0:
            break
        state = solver.solve(weights, state)
        weights = solver.huber_weights(state)
    return solver.belief(state, weights)


def _cut(joint: Belief, without: Belief, heard: NDArray[np.bool_]) -> Belief:
    """Return a joint belief with the static margin as it is believed without some of the data; the rest follows by regression.

    m' = m + S_m/S_mm (m_w - m_m), S' = S + S_m S_m^T (S_w - S_mm)/S_mm^2. ``heard`` (data,): which data ``without`` has. Derived here.
    """
    i = int(P.STATIC_MARGIN)
    variance, known = float(joint.covariance[i, i]), float(without.covariance[i, i])
    along = joint.covariance[:, i] / variance
    pulls = joint.pulls.copy()
    pulls[:, i] = 0.0
    pulls[heard, i] = without.pulls[:, i]
    return replace(
        joint,
        mean=joint.mean + along * (without.mean[i] - joint.mean[i]),
        covariance=joint.covariance + np.outer(along, along) * (known - variance),
        pulls=pulls,
    )


class _Solver:
    """Newton steps with step halving; prediction and Jacobian by forward differences of the closed forms."""

    def __init__(self, prior: Belief, data: tuple[Datum, ...]) -> None:
        self.data = data
        self.keys = tuple(dict.fromkeys(d.measure.bias_key for d in data))
        self.size = COUNT + len(self.keys)
        self.prior_mean = np.concatenate([prior.mean, np.zeros(len(self.keys))])
        bias_sigma = {d.measure.bias_key: d.measure.bias for d in data}
        self.prior_precision = np.zeros((self.size, self.size))
        self.prior_precision[:COUNT, :COUNT] = np.linalg.inv(prior.covariance)
        for i, key in enumerate(self.keys):
            # A bias has its own prior: the closed form may be wrong by this much, the same way on every sortie.
            self.prior_precision[COUNT + i, COUNT + i] = 1.0 / bias_sigma[key] ** 2
        self.bias_index = np.array([COUNT + self.keys.index(d.measure.bias_key) for d in data])

    def predict(self, state: Array) -> Array:
        values = [d.measure.predict(state[:COUNT], d.moment) for d in self.data]
        return np.asarray(np.array(values) + state[self.bias_index])

    def jacobian(self, state: Array, base: Array) -> Array:
        result = np.zeros((len(self.data), self.size))
        for j in range(COUNT):
            # Forward differences: the closed forms are smooth, and one more prediction an unknown is all a Newton step costs.
            moved = state.copy()
            moved[j] += _STEPS[j]
            result[:, j] = (self.predict(moved) - base) / _STEPS[j]
        result[np.arange(len(self.data)), self.bias_index] = 1.0
        return result

    def scores(self, predicted: Array) -> list[Score]:
        return [_score(d, float(h)) for d, h in zip(self.data, predicted, strict=True)]

    def objective(self, state: Array, predicted: Array, weights: Array) -> float:
        away = state - self.prior_mean
        # An impossible rating has a score of minus infinity; a floor keeps two such states comparable.
        logs = np.array([s.log for s in self.scores(predicted)])
        return float(-0.5 * away @ self.prior_precision @ away + weights @ np.maximum(logs, -1e6))

    def solve(self, weights: Array, start: Array) -> Array:
        state = self.prior_mean.copy() if not start.any() else start.copy()
        predicted = self.predict(state)
        best = self.objective(state, predicted, weights)
        for _ in range(_MAX_STEPS):
            step = self._newton_step(state, predicted, weights)
            # Censored ratings have flat tails: a whole Newton step can overshoot, half of it hardly ever.
            for halving in range(8):
                trial = state + step * 0.5**halving
                trial_predicted = self.predict(trial)
                value = self.objective(trial, trial_predicted, weights)
                if value >= best - 1e-12:
                    break
            else:
                return state
            gained, state, predicted, best = value - best, trial, trial_predicted, value
            if gained < 1e-4:
                break
        return state

    def _newton_step(self, state: Array, predicted: Array, weights: Array) -> Array:
        jacobian = self.jacobian(state, predicted)
        scores = self.scores(predicted)
        slope = weights * np.array([s.slope for s in scores])
        weight = weights * np.array([s.weight for s in scores])
        gradient = jacobian.T @ slope - self.prior_precision @ (state - self.prior_mean)
        # Curvature of the predictions is left out (Gauss-Newton): it stays positive definite, and the step is a descent.
        hessian = self.prior_precision + jacobian.T @ (weight[:, None] * jacobian)
        return np.asarray(np.linalg.solve(hessian, gradient))

    def huber_weights(self, state: Array) -> Array:
        predicted = self.predict(state)
        z = np.array([_distance(d, float(h)) for d, h in zip(self.data, predicted, strict=True)])
        return np.where(z > _OUTLIER_SIGMAS, _OUTLIER_SIGMAS / np.maximum(z, 1e-9), 1.0)

    def belief(self, state: Array, weights: Array) -> Belief:
        predicted = self.predict(state)
        jacobian = self.jacobian(state, predicted)
        scores = self.scores(predicted)
        weight = weights * np.array([s.weight for s in scores])
        whole = np.linalg.inv(self.prior_precision + jacobian.T @ (weight[:, None] * jacobian))
        bias = {k: float(state[COUNT + i]) for i, k in enumerate(self.keys)}
        # Dropping a datum removes its score from a zero gradient: the maximum moves by the covariance times that score.
        slopes = weights * np.array([s.slope for s in scores])
        pulls = ((slopes[:, None] * jacobian) @ whole)[:, :COUNT]
        return Belief(state[:COUNT].copy(), whole[:COUNT, :COUNT], bias, pulls)


@dataclass(frozen=True, slots=True)
class Linear:
    """The closed forms to first order: ``jacobian`` (data, state), predictions ``at_prior`` (data,), intervals ``low``, ``high`` and
    ``sigma`` of the data, ``prior_mean`` and ``prior_covariance`` of the state, which is the unknowns and a persistent error for
    each kind of measure."""

    jacobian: Array
    at_prior: Array
    low: Array
    high: Array
    sigma: Array
    prior_mean: Array
    prior_covariance: Array


def linear_at(prior: Belief, belief: Belief, data: tuple[Datum, ...]) -> Linear:
    """Return the closed forms of data to first order at a belief. Derived here (docs/methods/estimator.md)."""
    solver = _Solver(prior, data)
    state = np.concatenate([belief.mean, [belief.bias.get(k, 0.0) for k in solver.keys]])
    predicted = solver.predict(state)
    jacobian = solver.jacobian(state, predicted)
    return Linear(
        jacobian,
        predicted + jacobian @ (solver.prior_mean - state),
        np.array([d.low for d in data]),
        np.array([d.high for d in data]),
        np.array([d.sigma for d in data]),
        solver.prior_mean,
        np.asarray(np.linalg.inv(solver.prior_precision), dtype=np.float64),
    )


def _score(datum: Datum, predicted: float) -> Score:
    if datum.low == datum.high:
        return gaussian_score(datum.low, predicted, datum.sigma)
    return interval_score(datum.low, datum.high, predicted, datum.sigma)


def _distance(datum: Datum, predicted: float) -> float:
    outside = max(datum.low - predicted, predicted - datum.high, 0.0)
    return outside / datum.sigma


def _widen_static_margin(belief: Belief) -> Belief:
    i = int(P.STATIC_MARGIN)
    sigma = float(np.sqrt(belief.covariance[i, i]))
    factor = max(STATIC_MARGIN_INFLATION * sigma, STATIC_MARGIN_FLOOR) / sigma
    scale = np.ones(COUNT)
    scale[i] = factor
    return replace(belief, covariance=belief.covariance * np.outer(scale, scale))
