"""Something that has moved between two sorties: found from all that was flown, named by what it moves, and not said where nothing did."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy.stats import multivariate_normal

from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.diagnose.estimate import estimate_of
from jinba.core.diagnose.moved import MOVED_SHARE, chances_of, moved_unordered
from jinba.core.diagnose.sorties import LoggedSortie, data_by_record
from jinba.core.diagnose.update import gained_if_moved, prior_of
from jinba.core.frames import Response
from jinba.core.observe.measures import MEASURES, Datum
from jinba.core.observe.parameters import COUNT, P
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import design_of, resting_trims
from tests.builders import model, trimmed, with_margin

C = with_margin(model(), 0.10)
D = design_of(C)


def pitch(clicks: float, word: str = "holds") -> CardRecord:
    readings = (Reading("pitch_clicks", clicks, direction=Response.NOSE_UP), Reading("left_over", choice=word))
    return CardRecord("F2", Outcome.DONE, readings, left_alone=True)


def roll(word: str, wing: str, seconds: float) -> tuple[CardRecord, ...]:
    f3 = (Reading("left_over", choice=word), Reading("bank_wing", choice=wing), Reading("bank_time", seconds))
    return (CardRecord("F3", Outcome.DONE, f3), CardRecord("F7", Outcome.DONE, (Reading("roll_slow", choice=word),)))


def sorties(*flown: tuple[CardRecord, ...]) -> tuple[tuple[Datum, ...], ...]:
    c = C.with_control(replace(C.elevator, mechanical_rad=trimmed(C).elevator_rad))
    log = tuple(LoggedSortie(c, records, resting_trims(c)) for records in flown)
    return tuple(tuple(d for r in s for d in r) for s in data_by_record(log))


def said(*flown: tuple[CardRecord, ...]) -> str:
    return " ".join(s.words for s in moved_unordered(prior_of(D), sorties(*flown), D))


def test_the_odds_are_those_of_the_normal_distribution():
    """Plain numbers of a linear form, the wing's roll by twist and by a heavy wing: against scipy's density of both joint normals."""
    prior = prior_of(D)
    keep = [int(P.TWIST), int(P.LATERAL_CG)]
    covariance = np.diag([prior.covariance[i, i] if i in keep else 1e-12 for i in range(COUNT)])
    prior = replace(prior, covariance=covariance, misread=0.0)
    measure, moment = MEASURES["F3", "bank_time"].sized(D), Moment(D, trimmed(C))
    read = [1.8, 1.2, -0.4]
    before = tuple(Datum(measure, moment, r, r, 0.8, "F3", "") for r in read[:2])
    last = (Datum(measure, moment, read[2], read[2], 0.8, "F3", ""),)
    slope = np.zeros(COUNT)
    for i in keep:
        x = prior.mean.copy()
        x[i] += 1e-3
        slope[i] = (measure.predict(x, moment) - measure.predict(prior.mean, moment)) / 1e-3
    spread = float(slope @ covariance @ slope) + measure.bias**2
    together = np.full((3, 3), spread) + 0.8**2 * np.eye(3)
    moved = together.copy()
    sigma = 0.02
    moved[:2, :2] += (slope[P.TWIST] * sigma) ** 2
    mean = np.full(3, measure.predict(prior.mean, moment) + measure.expected)
    by_hand = multivariate_normal.logpdf(read, mean, moved) - multivariate_normal.logpdf(read, mean, together)
    found = gained_if_moved(prior, before + last, np.array([True, True, False]), {P.TWIST: sigma})
    # Huber weights would see an outlier where something has moved: here nothing lies two sigmas off.
    assert found[P.TWIST] == pytest.approx(by_hand, abs=0.05)


def test_nothing_is_said_of_one_sortie_or_of_two_alike():
    same = (pitch(2.0), *roll("level", "none", 9.0))
    assert chances_of(prior_of(D), sorties(same), D) == {}
    assert said(same, same) == ""
    assert sum(chances_of(prior_of(D), sorties(same, same), D).values()) < MOVED_SHARE


def test_a_model_that_rolled_level_and_now_rolls_right_has_something_moved_that_rolls_it():
    level, right = roll("level", "none", 9.0), roll("right_fast", "right", 1.2)
    found = said(level, level, right)
    assert "something has moved" in found
    assert "aileron clevises" in found
    assert said(level, right, right, right) == "", "it was so in the sortie before: nothing has moved since"


def test_the_estimate_says_it_as_a_squawk_that_stops_and_not_beside_the_clicks_that_say_so():
    level, right = roll("level", "none", 9.0), roll("right_fast", "right", 1.2)
    flown = tuple(LoggedSortie(C, r) for r in (level, level, right))
    squawk = next(s for s in estimate_of(flown, said=()).squawks if s.code == "moved_unordered")
    assert squawk.stops
    clicked = tuple(LoggedSortie(C, (pitch(c), *level)) for c in (2.0, 12.0))
    codes = [s.code for s in estimate_of(clicked, said=()).squawks]
    assert codes.count("trim_moved") == 1
    assert "moved_unordered" not in codes
