"""What hands were off at a change: where it counts, which way it goes in the belief, and that nothing is lost that was not touched."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.configuration import Configuration
from jinba.core.diagnose.rigging import PLACED_M, SET_RAD, before_orders, unsure_by
from jinba.core.diagnose.sorties import LoggedSortie, all_data, belief_after
from jinba.core.diagnose.update import prior_of, update
from jinba.core.frames import Axis
from jinba.core.mass.items import Item, ItemKind
from jinba.core.observe.parameters import COUNT, P
from jinba.core.observe.situation import design_of
from jinba.core.power.propulsion import tilted_down
from tests.builders import model

C = model(span_m=1.2)


def turned(c: Configuration, axis: Axis, rad: float) -> Configuration:
    control = c.control(axis)
    return c.with_control(replace(control, mechanical_rad=control.mechanical_rad + rad))


def clicked(c: Configuration, clicks: int) -> Configuration:
    return c.with_control(replace(c.elevator, clicks=c.elevator.clicks + clicks))


def level(word: str = "holds") -> CardRecord:
    return CardRecord("F2", Outcome.DONE, (Reading("left_over", choice=word),), left_alone=True)


def test_what_was_not_touched_is_as_sure_as_before():
    """Clicks are counted, a reading is no change, and a tail that was not set stays where it was."""
    assert unsure_by(C, C) == {}
    assert unsure_by(C, clicked(C, 3)) == {}
    assert unsure_by(C, replace(C, pack_minutes=9.0)) == {}
    assert set(unsure_by(C, turned(C, Axis.PITCH, 0.01))) == {P.PITCH_MOMENT}
    assert set(unsure_by(C, turned(C, Axis.ROLL, 0.01))) == {P.TWIST}
    assert set(unsure_by(C, turned(C, Axis.YAW, 0.01))) == {P.YAW_OFFSET}


def test_each_hand_is_off_by_a_third_of_a_degree_and_a_millimetre_and_a_half():
    """Common practice, no source: 0.3 degrees at the elevator pitch V_d times that; 20 g placed to 1.5 mm on a kilogramme move the
    balance by 0.03 mm."""
    assert (math.degrees(SET_RAD), PLACED_M) == (pytest.approx(0.3), 0.0015)
    d = design_of(C)
    set_by_hand = unsure_by(C, turned(C, Axis.PITCH, 0.02))[P.PITCH_MOMENT]
    assert set_by_hand == pytest.approx(d.aero.pitch_control * math.radians(0.3))
    lead = Item("lead", "Lead", 0.02, 0.0, kind=ItemKind.BALLAST)
    with_lead = replace(C, items=(*C.items, lead))
    share = 0.02 / design_of(with_lead).balance.mass.mass_kg
    assert unsure_by(C, with_lead) == {
        P.STATIC_MARGIN: pytest.approx(share * 0.0015 / design_of(with_lead).aero.planform.mac_m)
    }
    shims = unsure_by(C, replace(C, airframe=tilted_down(C.airframe, 0.02)))
    assert shims == {P.THRUST_DOWN: SET_RAD, P.THRUST_RIGHT: SET_RAD}


def test_an_old_flight_says_less_of_what_was_set_since_and_as_much_of_the_rest():
    after = turned(C, Axis.PITCH, 0.02)
    sorties = (LoggedSortie(C, (level(),)),)
    same, since = belief_after(sorties, configuration=C), belief_after(sorties, configuration=after)
    assert since.sigma[P.PITCH_MOMENT] > 1.01 * same.sigma[P.PITCH_MOMENT], "set anew, it is less sure"
    assert since.sigma[P.LATERAL_CG] == pytest.approx(same.sigma[P.LATERAL_CG]), "a wing nobody touched is not"
    assert since.covariance.shape == (COUNT, COUNT)
    assert not any("rigging" in k for k in since.bias), "what hands were off is asked of nobody again"


def test_more_changes_leave_less_of_an_old_flight():
    """A random walk: after n changes the old flight's own part has n times the variance of one."""
    datum = next(d for d in all_data((LoggedSortie(C, (level(),)),)) if d.measure.key == "pitch_left_over")
    sigmas = []
    for n in (0, 1, 4):
        orders = {str(i): {P.PITCH_MOMENT: 0.01} for i in range(n)}
        sigmas.append(float(update(prior_of(design_of(C)), before_orders((datum,), orders)).sigma[P.PITCH_MOMENT]))
    assert sigmas[0] < sigmas[1] < sigmas[2]
    assert sigmas[2] <= float(prior_of(design_of(C)).sigma[P.PITCH_MOMENT]) + 1e-9


def test_the_last_flight_counts_as_flown_and_the_one_before_it_as_changed_since():
    after = turned(C, Axis.PITCH, 0.02)
    data = all_data((LoggedSortie(C, (level(),)), LoggedSortie(after, (level(),))))
    first, last = (np.array([len(d.rigging) for d in data if d.measure.key == "pitch_left_over"])[i] for i in (0, -1))
    assert (first, last) == (1, 0)
    before = all_data((LoggedSortie(C, (level(),)), LoggedSortie(after, (level(),))), turned(after, Axis.PITCH, 0.02))
    assert [len(d.rigging) for d in before if d.measure.key == "pitch_left_over"] == [2, 1], (
        "and once more for the present"
    )
