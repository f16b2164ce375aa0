"""Two flights side by side."""

from __future__ import annotations

from dataclasses import replace

import pytest
from scipy.stats import norm

from jinba.core.diagnose.compared import compared
from jinba.core.diagnose.tendencies import tendencies
from jinba.core.diagnose.update import prior_of
from jinba.core.observe.situation import design_of, resting_trims
from tests.builders import model

C = model("low_wing")
ONE = tendencies(C, prior_of(design_of(C)), resting_trims(C))


def moved(key: str, by: float, sigma: float):
    return tuple(replace(t, value=t.value + by, sigma=sigma) if t.key == key else t for t in ONE)


@pytest.mark.parametrize(("sigmas", "differs"), [(1.9, False), (-1.9, False), (2.1, True), (-2.1, True)])
def test_a_difference_counts_from_two_of_its_own_sigmas(sigmas, differs):
    """Difference of two independent estimates, JCGM 100:2008, 5.1.2 (from memory): 3 and 4 make 5."""
    one = tuple(replace(t, sigma=3.0) if t.key == "roll_cruise" else t for t in ONE)
    found = {c.key: c for c in compared(one, moved("roll_cruise", 5.0 * sigmas, 4.0))}
    assert found["roll_cruise"].sigmas == pytest.approx(sigmas)
    assert found["roll_cruise"].differs is differs
    assert found["roll_cruise"].words.startswith("differs by" if differs else "the same")
    assert not found["yaw"].differs
    assert 2 * norm.cdf(-2.0) < 0.05, "of twenty that are alike at most one is called different"


def test_only_what_both_have_is_compared():
    assert [c.key for c in compared(ONE[:2], ONE[1:])] == [ONE[1].key]
    assert compared((), ONE) == ()
