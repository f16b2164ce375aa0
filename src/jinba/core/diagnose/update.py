"""Gaussian update of the unknowns from logged measures, with persistent model bias and one-sided data."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from jinba.core.airframe.layout import control_surface_of, pitch_control_of
from jinba.core.airframe.twist import INCIDENCE_SIGMA_RAD, both_sides_measured
from jinba.core.diagnose.rigging import RIGGING
from jinba.core.diagnose.solver import Solution, Solver
from jinba.core.frames import PitchControl
from jinba.core.observe.measures import Datum, errors_of
from jinba.core.observe.parameters import COUNT, Array, P, prior_means, prior_sigmas
from jinba.core.observe.situation import Design
from jinba.core.stability.aero import REAL_FLAP_FACTOR
from jinba.core.stability.sections import flap_effectiveness
from jinba.core.uncertainty import MISREAD_SIGMA, with_misreading

METHOD_VERSION = "map-14"
"""Stored with every estimate. A change that moves any number gets a new name; "map-1" moved its numbers without one."""

MEASURED_TWIST_SIGMA_RAD = INCIDENCE_SIGMA_RAD * math.sqrt(2.0)
"""Half the difference of two tips, each against its root, each reading with the meter's sigma: sqrt(4)/2, and as much
again for what chords between the measured ones may hide. Derived here. [rad]"""

STATED_OVER_SOLVED = 1.15
"""How much wider the margin is stated than it is solved: errors of several cards go together in ways that one sigma a card does not know.
By the cover of stated intervals in the independent simulation (docs/benchmarks.md)."""

STATIC_MARGIN_FLOOR = 0.010


@dataclass(frozen=True, slots=True)
class Belief:
    """What is believed of the unknowns: ``mean`` (COUNT,), ``covariance`` (COUNT, COUNT), bias means by measure key.

    ``pulls`` (data, COUNT): how far each mean would move back without that datum, to first order. ``misread``: chance that the balance
    was read wrongly [-]; zero where it was read again and agreed. ``joint`` (COUNT + n, COUNT + n): covariance of the unknowns and the
    n errors of ``bias``, in its order, which is what a next card is judged by; None before any flight.
    """

    mean: Array
    covariance: Array
    bias: dict[str, float]
    pulls: Array
    misread: float = 0.0
    joint: Array | None = None

    @property
    def sigma(self) -> Array:
        """Standard deviations of the unknowns, shape (COUNT,). By definition: derived here."""
        return np.asarray(np.sqrt(np.diag(self.covariance)))

    def missed(self, key: str, design: Design) -> float:
        """Return what the closed form of a measure misses, in its unit: as the flights left it, or as its family misses in the mean.

        Derived here (docs/methods/estimator.md).
        """
        return self.bias[key] if key in self.bias else errors_of(design)[key].mean


def prior_of(design: Design) -> Belief:
    """Return the belief before any flight of a configuration: its own balance sigmas, and its twist where measured."""
    across = design.configuration.across
    measured = both_sides_measured(design.configuration.airframe.wing)
    return prior_belief(
        static_margin_sigma=design.static_margin_sigma,
        twist_rad=design.aero.measured_twist_rad if measured else None,
        lateral_sigma=None if across is None else across.sigma_m / design.aero.planform.span_m,
        pitch_moment_sigma=pitch_moment_sigma(design),
        misread=design.balance.misread,
    )


_TAIL_SET_RAD, _ELEVONS_SET_RAD = math.radians(0.85), math.radians(0.45)
"""How well the angle between wing and tail is known that was measured: an incidence meter on both (0.3 degrees each), the seat of the
wing (0.5), the zero lift of the section (0.35), the linkage (0.3). Without a tail: the sections' and the linkage's. Common practice,
no source."""


def pitch_moment_sigma(design: Design) -> float:
    """Return how well the moment without lift is known [-]: what the pitch surface as a whole does for the angle it is set by.

    sigma = V_d/(tau 0.85) times the angle. Derived here (docs/methods/estimator.md).
    """
    airframe = design.configuration.airframe
    whole = abs(design.aero.pitch_control) / (
        flap_effectiveness(control_surface_of(airframe).hinge_fraction) * REAL_FLAP_FACTOR
    )
    angle = _ELEVONS_SET_RAD if pitch_control_of(airframe) is PitchControl.ELEVONS else _TAIL_SET_RAD
    return whole * angle


def prior_belief(
    *,
    static_margin_sigma: float,
    twist_rad: float | None = None,
    lateral_sigma: float | None = None,
    pitch_moment_sigma: float | None = None,
    misread: float = 0.0,
) -> Belief:
    """Return the belief before any flight: means of :func:`prior_means`, sigmas of :func:`prior_sigmas`.

    ``twist_rad``: the linear twist measured on both halves, right tip washed out [rad]; it then has the sigma of the
    incidence meter. ``lateral_sigma``: of a lateral balance that was read [of the span]; ``pitch_moment_sigma``: of the moment
    without lift, where the model is known [-]; ``misread``: the chance that the balance was read wrongly [-], which is in the sigma of the
    margin from then on. None when not measured.
    """
    sigmas = prior_sigmas(static_margin_sigma=with_misreading(static_margin_sigma, misread))
    mean = prior_means()
    if twist_rad is not None:
        mean[P.TWIST], sigmas[P.TWIST] = twist_rad, MEASURED_TWIST_SIGMA_RAD
    if lateral_sigma is not None:
        sigmas[P.LATERAL_CG] = min(lateral_sigma, float(sigmas[P.LATERAL_CG]))
    if pitch_moment_sigma is not None:
        sigmas[P.PITCH_MOMENT] = pitch_moment_sigma
    return Belief(mean, np.diag(sigmas**2), {}, np.zeros((0, COUNT)), misread)


def update(prior: Belief, data: tuple[Datum, ...]) -> Belief:
    """Return the belief after all logged data, by a maximum a-posteriori Newton solution with Laplace covariance.

    The state is the unknowns plus one persistent bias per kind of measure: the closed forms err the same way each
    sortie, and without these terms sigma would shrink falsely. Data of roll, yaw and speed more than two
    sigmas from what the others say are given less weight (Huber), reweighted up to three times; what is said of the nose never is: there
    the balance may have been misread, which has a chance of its own. The static margin is stated 1.15 times as wide as solved, up to what was known before, and
    floored at 1 % MAC.

    What a step of power says (:data:`POWER_STEPS`) never moves the static margin: it is read given what everything else says of it
    (a cut of the joint density), so that the error of one does not become a move of the battery.

    Validity: the unknowns stay within the range in which the closed forms hold. References: maximum a-posteriori
    estimation, e.g. Gelb (ed.), Applied Optimal Estimation, 1974, ch. 4; Huber, Robust Statistics, 1981; cut models, Plummer,
    Statistics and Computing 25 (2015) (all from memory); docs/methods/estimator.md.
    """
    if not data:
        return prior
    heard = np.array([d.measure.key not in POWER_STEPS for d in data])
    well, *misread = _as_read(prior)
    first = _given(well, data, heard)
    if not misread:
        return _stated(first.belief, prior)
    return _stated(_mixed(prior.misread, first, _given(misread[0], data, heard, first)), prior)


@dataclass(frozen=True, slots=True)
class _Given:
    """A belief after data, the logarithm of the evidence for its prior, and the solutions with all data and ``without`` the steps of
    power: where the next solution starts."""

    belief: Belief
    evidence: float
    whole: Solution
    without: Solution


def _as_read(prior: Belief) -> tuple[Belief, ...]:
    """Return the beliefs before any flight if the balance was read well, and if it was misread; one where no reading can be."""
    if not prior.misread:
        return (prior,)
    i = int(P.STATIC_MARGIN)
    core, wide = prior.covariance.copy(), prior.covariance.copy()
    core[i, i] -= prior.misread * MISREAD_SIGMA**2
    wide[i, i] = core[i, i] + MISREAD_SIGMA**2
    return replace(prior, covariance=core), replace(prior, covariance=wide)


def _given(prior: Belief, data: tuple[Datum, ...], heard: NDArray[np.bool_], near: _Given | None = None) -> _Given:
    """Return what is believed after the data, a step of power cut off the margin. ``near``: a solution that cannot be far."""
    of_margin = tuple(d for d, h in zip(data, heard, strict=True) if h)
    if not of_margin:
        solved, _, whole = _solved(prior, data, None if near is None else near.whole)
        return _Given(_cut(solved, prior, heard), 0.0, whole, whole)
    without, evidence, first = _solved(prior, of_margin, None if near is None else near.without)
    if heard.all():
        return _Given(without, evidence, first, first)
    solved, _, whole = _solved(prior, data, first if near is None else near.whole)
    return _Given(_cut(solved, without, heard), evidence, whole, first)


def _mixed(share: float, well: _Given, misread: _Given) -> Belief:
    """Return one Gaussian with the mean and the spread of the beliefs with and without a misread balance, each by its evidence.

    p = e w/(e w + 1 - w), w the ``share`` before the flights [-], e the ratio of evidences. Mixture of two Gaussians by its moments; derived here (docs/methods/estimator.md).
    """
    odds = share / (1.0 - share) * math.exp(min(50.0, misread.evidence - well.evidence))
    p = odds / (1.0 + odds)
    a, b = well.belief, misread.belief
    apart = _state_of(b) - _state_of(a)
    joint = (1.0 - p) * _joint_of(a) + p * _joint_of(b) + p * (1.0 - p) * np.outer(apart, apart)
    return _belief(_state_of(a) + p * apart, joint, tuple(a.bias), a.pulls + p * (b.pulls - a.pulls), p)


def _state_of(belief: Belief) -> Array:
    return np.concatenate([belief.mean, list(belief.bias.values())])


def _joint_of(belief: Belief) -> Array:
    return belief.covariance if belief.joint is None else belief.joint


def _belief(state: Array, joint: Array, errors: tuple[str, ...], pulls: Array, misread: float = 0.0) -> Belief:
    bias = {k: float(v) for k, v in zip(errors, state[COUNT:], strict=True)}
    return Belief(state[:COUNT].copy(), joint[:COUNT, :COUNT].copy(), bias, pulls, misread, joint)


POWER_STEPS = frozenset({"pitch_full", "clicks_full", "pitch_idle", "go_round"})
"""Measures of a step of power. Thrust line, slipstream and speed all take part in what the nose then does, and a word of it moves no
battery by itself: common practice, no source."""


def _solved(prior: Belief, data: tuple[Datum, ...], near: Solution | None = None) -> tuple[Belief, float, Solution]:
    """Return the belief, the logarithm of the evidence for the prior by Laplace, up to what all priors share, and the solution."""
    solver = Solver(prior.mean, prior.covariance, data, near)
    solution = solver.solution()
    belief, evidence = _believed(solver, solution)
    return belief, evidence, solution


def _believed(solver: Solver, solution: Solution) -> tuple[Belief, float]:
    """Return the belief of a solution, and the logarithm of the evidence by Laplace: the height of the peak and its width."""
    state, weights = solution.state, solution.weights
    predicted = solver.predict(state)
    jacobian, scores = solver.jacobian, solver.scores(predicted)
    precision = solver.precision(scores, weights, jacobian)
    whole: Array = np.asarray(np.linalg.inv(precision), dtype=np.float64)
    # Dropping a datum removes its score from a zero gradient: the maximum moves by the covariance times that score.
    pulls = (((weights * scores.slope)[:, None] * jacobian) @ whole)[:, :COUNT]
    narrowed = float(np.linalg.slogdet(solver.prior_precision)[1] - np.linalg.slogdet(precision)[1])
    evidence = solver.objective(state, predicted, weights) + 0.5 * narrowed
    # What hands were off at a change is in the sigmas of what is left: nobody asks for it again.
    kept = [*range(COUNT), *(COUNT + i for i, k in enumerate(solver.keys) if not k.startswith(RIGGING))]
    keys = tuple(k for k in solver.keys if not k.startswith(RIGGING))
    return _belief(state[kept], whole[np.ix_(kept, kept)], keys, pulls), evidence


def gained_if_moved(
    prior: Belief, data: tuple[Datum, ...], before: NDArray[np.bool_], sizes: Mapping[P, float]
) -> dict[P, float]:
    """Return for each unknown by how much likelier data are, in the logarithm of the evidence [-], if it has moved by an unknown amount
    after those that came ``before`` (data,). ``sizes``: one sigma of such a move, in the unit of the unknown.

    One more state e with its own prior, to first order about the solution without it: g its score, h its precision with all else solved
    for; g^2/(2 (1/s^2 + h)) - ln(1 + s^2 h)/2, which is exact for plain numbers of linear forms. Score test and Laplace's evidence, e.g.
    MacKay, Neural Computation 4 (1992), sec. 2.4 (from memory); derived here (docs/methods/estimator.md).
    """
    solver = Solver(prior.mean, prior.covariance, data)
    solution = solver.solution()
    state, weights = solution.state, solution.weights
    predicted = solver.predict(state)
    jacobian, scores = solver.jacobian, solver.scores(predicted)
    weight, score = weights * scores.weight, weights * scores.slope
    precision = solver.precision(scores, weights, jacobian)
    found = {}
    for p, size in sizes.items():
        moved = np.where(before, -jacobian[:, p], 0.0)
        across = jacobian.T @ (weight * moved)
        known = max(float(moved @ (weight * moved) - across @ np.linalg.solve(precision, across)), 0.0)
        found[p] = 0.5 * float(moved @ score) ** 2 / (1.0 / size**2 + known) - 0.5 * math.log1p(size**2 * known)
    return found


def _cut(joint: Belief, without: Belief, heard: NDArray[np.bool_]) -> Belief:
    """Return a joint belief with the static margin as it is believed without some of the data; the rest follows by regression.

    m' = m + S_m/S_mm (m_w - m_m), S' = S + S_m S_m^T (S_w - S_mm)/S_mm^2. ``heard`` (data,): which data ``without`` has. Derived here.
    """
    i, whole = int(P.STATIC_MARGIN), _joint_of(joint)
    known, along = float(without.covariance[i, i]), whole[:, i] / whole[i, i]
    pulls = joint.pulls.copy()
    pulls[:, i] = 0.0
    pulls[heard, i] = without.pulls[:, i]
    state = _state_of(joint) + along * (without.mean[i] - joint.mean[i])
    return _belief(state, cut(whole, known), tuple(joint.bias), pulls)


def cut(covariance: Array, known: float) -> Array:
    """Return a covariance (state, state) with the static margin's variance as it is ``known`` without some data [-]; the rest by regression.

    S' = S + S_m S_m^T (known - S_mm)/S_mm^2. Derived here.
    """
    i = int(P.STATIC_MARGIN)
    along = covariance[:, i] / covariance[i, i]
    return np.asarray(covariance + np.outer(along, along) * (known - covariance[i, i]))


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
    solver = Solver(prior.mean, prior.covariance, data)
    state = np.concatenate(
        [belief.mean, [belief.bias.get(k, m) for k, m in zip(solver.keys, solver.prior_mean[COUNT:], strict=True)]]
    )
    predicted = solver.predict(state)
    jacobian = solver.slopes(state, predicted)
    return Linear(
        jacobian,
        predicted + jacobian @ (solver.prior_mean - state),
        solver.low,
        solver.high,
        solver.sigma,
        solver.prior_mean,
        np.asarray(np.linalg.inv(solver.prior_precision), dtype=np.float64),
    )


def _stated(belief: Belief, prior: Belief) -> Belief:
    """Return a belief with the margin as sure as it is stated: less than it is solved, never less than before the flights."""
    i = int(P.STATIC_MARGIN)
    solved, before = float(belief.sigma[i]), float(prior.sigma[i])
    stated = max(min(STATED_OVER_SOLVED * solved, max(before, solved)), STATIC_MARGIN_FLOOR)
    joint = _joint_of(belief)
    scale = np.ones(len(joint))
    scale[i] = stated / solved
    return _belief(_state_of(belief), joint * np.outer(scale, scale), tuple(belief.bias), belief.pulls, belief.misread)
