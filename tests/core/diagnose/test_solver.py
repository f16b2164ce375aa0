"""Where the estimate ends: no way leads higher, its slopes are those of the closed forms, and it does not matter where it began."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy.optimize import approx_fprime, minimize

from jinba.core.diagnose.solver import Solver
from jinba.core.diagnose.sorties import LoggedSortie, all_data
from jinba.core.diagnose.update import POWER_STEPS, prior_of
from jinba.core.flight.piloting.sortie import Truth, fly_sortie
from jinba.core.flight.workshop import draw_twin
from jinba.core.observe.parameters import COUNT, P
from jinba.core.observe.situation import design_of
from tests.builders import model, with_margin

C = with_margin(model(), 0.10)
CARDS = ("F1", "F2", "F3", "F4", "F5", "F7", "F13", "F28", "F29")


@pytest.fixture(scope="module", params=[1, 2, 3])
def flown(request):
    """Two sorties of a model built crooked in its own way, in the independent simulation."""
    twin = draw_twin(C, np.random.default_rng(request.param))
    truth = Truth(C, twin.spread, twin.wrong)
    sorties = tuple(LoggedSortie(C, fly_sortie(truth, CARDS, seed=10 * request.param + i).records) for i in range(2))
    return prior_of(design_of(C)), all_data(sorties)


def solved(prior, data, near=None):
    solver = Solver(prior.mean, prior.covariance, data, near)
    return solver, solver.solution()


def test_no_way_leads_higher_than_where_it_ends(flown):
    """Outside check: the simplex and the quasi-Newton search of SciPy, begun there, gain less than a twentieth of a sigma would."""
    solver, found = solved(*flown)
    spread = np.sqrt(
        np.diag(
            np.linalg.inv(solver.precision(solver.scores(solver.predict(found.state)), found.weights, solver.jacobian))
        )
    )

    def below(steps: np.ndarray) -> float:
        state = found.state + spread * steps
        return -solver.objective(state, solver.predict(state), found.weights)

    for method in ("Powell", "BFGS"):
        best = minimize(below, np.zeros(solver.size), method=method, options={"maxiter": 40})
        assert below(np.zeros(solver.size)) - best.fun < 2e-3


def test_its_slopes_are_those_of_the_closed_forms(flown):
    solver, found = solved(*flown)
    unknowns, errors = found.state[:COUNT], found.state[COUNT:]
    there = approx_fprime(unknowns, lambda x: solver.predict(np.concatenate([x, errors])), 1e-6)
    by_sigma = flown[0].sigma / solver.sigma[:, None]
    # A slope is told to a fifth of what would move its datum by one of its own sigmas.
    assert np.abs((solver.jacobian[:, :COUNT] - there) * by_sigma).max() < 0.2


def test_it_ends_at_the_same_place_from_a_solution_with_less(flown):
    prior, data = flown
    less = tuple(d for d in data if d.measure.key not in POWER_STEPS)
    assert 0 < len(less) < len(data)
    _, near = solved(prior, less)
    solver, apart = solved(prior, data)
    _, along = solved(prior, data, near)
    joint = np.linalg.inv(solver.precision(solver.scores(solver.predict(apart.state)), apart.weights, solver.jacobian))
    assert np.abs((along.state - apart.state) / np.sqrt(np.diag(joint))).max() < 0.1


def test_a_slope_that_was_none_at_the_start_is_found_where_it_ends(flown):
    """A term of two unknowns that are nothing at first: straight and level, neither moves it."""
    prior, data = flown
    pair = [P.TWIST, P.YAW_OFFSET]
    measure = replace(
        data[0].measure, key="both", predict=lambda x, m: 4000.0 * x[P.TWIST] * x[P.YAW_OFFSET], scale=None, noise=1.0
    )
    both = replace(data[0], measure=measure, low=0.0, high=0.0, sigma=1.0)
    begun = Solver(prior.mean, prior.covariance, (*data, both))
    assert not begun.slopes(begun.start, begun.predict(begun.start))[-1, pair].any()
    solver, found = solved(prior, (*data, both))
    expected = 4000.0 * found.state[pair[::-1]]
    assert np.abs(expected).max() > 5.0, "nothing appears: this would prove nothing"
    assert solver.jacobian[-1, pair] == pytest.approx(expected, rel=0.2, abs=2.0)
