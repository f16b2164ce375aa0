"""A model that its rudder rolls: turned and let go, and given as much rudder as it can bear."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import CardRecord, Outcome, Reading, check_record
from jinba.core.controls.fitting import ControlRole
from jinba.core.correct.actions import ActionKind
from jinba.core.correct.compose import compose
from jinba.core.correct.composed import Choices
from jinba.core.diagnose.seen import seen_in
from jinba.core.diagnose.sorties import LoggedSortie, all_data, belief_after
from jinba.core.flight.piloting.sortie import Truth, fly_sortie
from jinba.core.flight.simulation.spread import Wrong
from jinba.core.frames import Axis
from jinba.core.observe.parameters import P
from jinba.core.plan.order import refusal
from jinba.core.plan.programme import programme
from jinba.core.plan.states import CardState
from tests.builders import model, trimmed, with_margin


def three_channel(key: str = "high_wing"):
    c = with_margin(model(key), 0.10)
    kept = tuple(f for f in c.control_setup.fittings if f.role in (ControlRole.ELEVATOR, ControlRole.RUDDER))
    return replace(c, controls=replace(c.control_setup, fittings=kept))


C = three_channel()


def turned(left: str = "out", right: str = "out", full: str = "fine") -> CardRecord:
    words = {"turn_left": left, "turn_right": right, "full_rudder": full}
    record = CardRecord("F34", Outcome.DONE, tuple(Reading(k, choice=v) for k, v in words.items()))
    check_record(CARDS["F34"], record)
    return record


def reworked(record: CardRecord, c=C, **choices):
    sorties = (LoggedSortie(c, (record,)),)
    belief = belief_after(sorties, configuration=c)
    return compose(c, belief, trimmed(c), seen_in(sorties, c), Choices(**choices))


def the_rate(found):
    return [a for a in found.actions if a.kind is ActionKind.RUDDER_RATE]


def test_only_a_model_that_its_rudder_rolls_turns_and_is_let_go():
    states = {s.card_id: s for s in programme(C, results={}, stale=frozenset(), sorties_flown=0).cards}
    assert states["F34"].state is CardState.OPEN
    for other in (model("high_wing"), model("flying_wing")):
        (found,) = [
            s for s in programme(other, results={}, stale=frozenset(), sorties_flown=0).cards if s.card_id == "F34"
        ]
        assert (found.state, found.reason) == (CardState.NOT_FOR_THIS_MODEL, "rolls by its ailerons")
        order = ("F1", "F2", "F3", "F34", "F28", "F29")
        why = refusal(order, configuration=other, sortie_number=1, results={}, stale=frozenset())
        assert why is not None
        assert "F34" in why
    assert "F34" in programme(replace(C, pack_minutes=14.0), results={}, stale=frozenset(), sorties_flown=0).flight


@pytest.mark.parametrize(("full", "way", "share"), [("much", "less", 0.65), ("little", "more", 1.0)])
def test_full_rudder_that_rolls_it_in_is_cut_by_a_third_and_one_that_hardly_turns_it_is_raised(full, way, share):
    c = C
    if full == "little":
        low = tuple(
            replace(r, steps=tuple(replace(s, first=0.75, second=0.75) for s in r.steps)) if r.axis is Axis.YAW else r
            for r in c.control_setup.rates
        )
        c = replace(c, controls=replace(c.control_setup, rates=low))
    found = reworked(turned(full=full), c)
    (order,) = the_rate(found)
    assert way in order.words
    high, low = found.configuration.control_setup.rates_of(Axis.YAW).steps
    assert (high.first, high.second) == pytest.approx((share, share))
    assert low.first <= high.first
    assert f"to {100 * share:.0f} %" in order.words
    assert {"B5", "F34"} <= found.difference.stale, "the throw is measured again, the turn flown again"


def test_cut_again_and_again_the_low_rate_stays_below_the_high_one_and_it_ends():
    """Whichever rate was flown gets less: one that is cut alone would soon lie below the low one, which was flown."""
    c, seen = C, []
    for _ in range(8):
        found = reworked(turned(full="much"), c)
        if not the_rate(found):
            break
        c = found.configuration
        high, low = c.control_setup.rates_of(Axis.YAW).steps
        seen.append((high.first, low.first))
    assert seen[0] == pytest.approx((0.65, 0.40))
    assert all(low <= high for high, low in seen)
    assert seen[-1] == pytest.approx((0.25, 0.25))
    assert any("as low as it is steered with" in h.words for h in found.held_back)


def test_as_wanted_nothing_is_ordered_and_an_order_can_be_struck():
    assert not the_rate(reworked(turned(full="fine")))
    assert the_rate(reworked(turned(full="much")))
    assert not the_rate(reworked(turned(full="much"), use_rudder_rate=False))


def test_a_rate_at_its_end_says_what_else_gives_more():
    found = reworked(turned(full="little"))
    assert not the_rate(found)
    (held,) = [h for h in found.held_back if h.kind is ActionKind.RUDDER_RATE]
    assert "outer hole on the servo" in held.opens_with


def test_a_spiral_to_both_sides_is_said_and_no_trim_is_promised_for_it():
    found = reworked(turned("in", "in"))
    (held,) = [h for h in found.held_back if h.kind is ActionKind.RUDDER_RATE]
    assert "Never let go of it in a turn" in held.words
    assert "dihedral" in held.opens_with
    assert not [h for h in reworked(turned("in", "out")).held_back if h.kind is ActionKind.RUDDER_RATE]


@pytest.mark.parametrize(
    ("left", "right", "side"), [("out", "in", 1.0), ("in", "out", -1.0), ("stays", "in", 1.0), ("in", "stays", -1.0)]
)
def test_further_in_to_one_side_and_out_of_the_other_is_a_roll_to_that_side(left, right, side):
    """Right wing down is positive: into a right bank and out of a left one is to the right."""
    (datum,) = all_data((LoggedSortie(C, (turned(left, right),)),))
    assert side * (datum.low if side > 0 else datum.high) > 0.0
    belief = belief_after((LoggedSortie(C, (turned(left, right),)),), configuration=C)
    assert side * (belief.mean[P.LATERAL_CG] - 0.3 * belief.mean[P.TWIST]) > 0.0


@pytest.mark.parametrize("both", ["in", "stays", "out"])
def test_alike_to_both_sides_it_tends_to_neither(both):
    (datum,) = all_data((LoggedSortie(C, (turned(both, both),)),))
    assert datum.low == pytest.approx(-datum.high)
    assert math.isfinite(datum.high)


@pytest.mark.parametrize(("right_m", "more"), [(0.02, "turn_right"), (-0.02, "turn_left")])
def test_a_simulated_pilot_sees_the_heavy_wing_go_further_in(right_m, more):
    """In the independent simulation: weight to the right, and from a right bank it goes further in than from a left one."""
    rank = {"out": 0, "stays": 1, "in": 2}
    c = three_channel()
    record = fly_sortie(Truth(c, wrong=Wrong(cg_right_m=right_m)), ("F34",), seed=1).records[0]
    said = {r.key: rank[r.choice] for r in record.readings if r.key.startswith("turn")}
    other = "turn_left" if more == "turn_right" else "turn_right"
    assert said[more] > said[other]
    assert np.isfinite(list(said.values())).all()
