"""The next best card: what it is worth, how a sortie is packed, what is only proved, and what is better done first."""

from __future__ import annotations

from dataclasses import replace
from itertools import chain, combinations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.cards.stale import difference
from jinba.core.configuration import balance_of
from jinba.core.diagnose.seen import NOTHING, Logged, seen_of
from jinba.core.diagnose.sorties import LoggedSortie, belief_after
from jinba.core.diagnose.update import prior_of
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import design_of, resting_trims
from jinba.core.plan.cost import cost_of
from jinba.core.plan.first import before_a_change, first
from jinba.core.plan.minutes import LEG_MINUTES, LastSortie, minutes_of, proofs
from jinba.core.plan.order import FLYING_ORDER, looked_at
from jinba.core.plan.packing import Choice, pack
from jinba.core.plan.programme import Wishes, programme
from jinba.core.plan.states import CardState, states_of
from jinba.core.plan.worth import INCIDENCE, READ_AGAIN, Decision, Looks, Prospect, prospect
from jinba.core.power.propulsion import tilted_down
from tests.builders import model, with_margin

C = with_margin(model(), 0.09)
FLOWN = dict.fromkeys(("F1", "F2", "F3", "F4", "F28", "F29"), Outcome.DONE)
GATES = dict.fromkeys(("B1", "B2", "B4", "B5", "B6", "B7", "G1", "G2", "G7"), Outcome.PASSED)


def told(configuration=C, belief=None, seen=NOTHING) -> Prospect:
    belief = belief or prior_of(design_of(configuration))
    return prospect(configuration, belief, resting_trims(configuration), seen, FLYING_ORDER)


def planned(results=FLOWN, stale=(), number=2, **given):
    given = {"configuration": C} | given
    c = given.pop("configuration")
    fresh = frozenset({"G7"})
    return programme(c, results=GATES | results, stale=frozenset(stale), sorties_flown=number, fresh=fresh, **given)


def one_unknown(*, sigma: float, noise: float, band: float) -> Prospect:
    """One behaviour that is the margin itself, and one card that measures it."""
    size = max(P) + 1
    slopes = np.eye(1, size, int(P.STATIC_MARGIN))
    covariance = np.eye(size) * 1e-12
    covariance[0, 0] = sigma**2
    looks = Looks(slopes, np.array([noise**2]), np.zeros(1))
    margin = Decision("static_margin", "Balance", slopes[0], 0.0, (-band, band), seen=False)
    return Prospect(covariance, (margin,), {"F13": looks})


@pytest.mark.parametrize(("sigma", "noise", "band"), [(3.0, 2.0, 3.0), (4.0, 1.0, 3.0), (1.0, 1.0, 0.5)])
def test_a_chance_after_a_card_is_what_chance_itself_gives(sigma, noise, band):
    """Against drawing: a truth, what the card says of it, the mean it leaves, and the better of leaving and correcting."""
    found = one_unknown(sigma=sigma, noise=noise, band=band).chances(("F13",))["static_margin"]
    rng = np.random.default_rng(1)
    truth = sigma * rng.standard_normal(400_000)
    said = truth + noise * rng.standard_normal(truth.size)
    share = sigma**2 / (sigma**2 + noise**2)
    mean = share * said
    left = float(np.sqrt(share) * noise)
    draws = rng.standard_normal((200, 1)) * left + mean[None, :2000]
    inside = (np.abs(draws) < band).mean(axis=0)
    corrected = float((np.abs(left * rng.standard_normal(400_000)) < band).mean()) - 0.05
    assert found == pytest.approx(np.maximum(inside, corrected).mean(), abs=0.02)


def test_a_look_never_makes_anything_less_likely_and_a_repeated_one_tells_little():
    """More is known, never less (to what nine nodes tell); a card whose error has been met tells next to nothing when it is flown again."""
    looks = told()
    none = looks.chances(())
    for card in FLYING_ORDER:
        assert all(p >= none[k] - 0.01 for k, p in looks.chances((card,)).items()), card
    record = CardRecord("F7", Outcome.DONE, (Reading("stick_held", number=0.3), Reading("roll_slow", choice="level")))
    trims = CardRecord("F3", Outcome.DONE, (Reading("left_over", choice="level"),))
    belief = belief_after((LoggedSortie(C, (trims, record)),), configuration=C)
    again = told(belief=belief, seen=seen_of((Logged(record, 1), Logged(trims, 1))))
    gained = looks.worth(("F7",)) - looks.worth(())
    assert again.worth(("F7",)) - again.worth(()) < 0.3 * gained
    assert again.worth(("F5",)) - again.worth(()) > 0.5 * (looks.worth(("F5",)) - looks.worth(())), "F5 was not flown"


def test_the_joint_covariance_holds_the_unknowns_and_every_error_that_was_met():
    record = CardRecord("F3", Outcome.DONE, (Reading("left_over", choice="right"),))
    belief = belief_after((LoggedSortie(C, (record,)),), configuration=C)
    size = len(P) + len(belief.bias)
    assert belief.joint.shape == (size, size)
    assert belief.joint[: len(P), : len(P)] == pytest.approx(belief.covariance)
    assert np.linalg.eigvalsh(belief.joint).min() > -1e-12
    at = len(P) + list(belief.bias).index("roll_cruise")
    assert belief.joint[int(P.TWIST), at] < 0.0, (
        "twisted, or the closed form is wrong: the more of one, the less of the other"
    )


def test_power_moves_no_balance_when_it_is_weighed_either():
    assert told().chances(("F5",))["static_margin"] == pytest.approx(told().chances(())["static_margin"], abs=1e-9)
    assert told().chances(("F5",))["power_pitch"] > told().chances(())["power_pitch"] + 0.2


@given(
    st.lists(st.tuples(st.floats(0.3, 2.0), st.floats(-0.2, 1.0), st.booleans()), min_size=1, max_size=6),
    st.floats(0.0, 5.0),
    st.integers(0, 2),
    st.integers(0, 2**31),
)
def test_a_pack_is_the_best_of_all_that_fit(cards, minutes, bold, seed):
    """Against trying every subset."""
    rng = np.random.default_rng(seed)
    choices = {f"c{i}": Choice(m, w, b) for i, (m, w, b) in enumerate(cards)}
    together = {p: float(rng.uniform(-0.4, 0.1)) for p in combinations(choices, 2)}

    def worth(chosen) -> float:
        return sum(choices[c].worth for c in chosen) + sum(together[p] for p in combinations(sorted(chosen), 2))

    every = chain.from_iterable(combinations(choices, n) for n in range(len(choices) + 1))
    fits = [
        s for s in every if sum(choices[c].minutes for c in s) <= minutes and sum(choices[c].bold for c in s) <= bold
    ]
    found = pack(choices, together, minutes=minutes, bold=bold)
    assert sum(choices[c].minutes for c in found) <= minutes + 1e-6
    assert worth(found) == pytest.approx(max(worth(s) for s in fits), abs=1e-6)


def test_a_card_comes_with_what_it_needs_or_not_at_all():
    needs = {"a": Choice(1.0, 2.0, needs=("b",)), "b": Choice(1.0, -0.5)}
    assert pack(needs, {}, minutes=2.0, bold=2) == {"a", "b"}
    assert pack(needs, {}, minutes=1.0, bold=2) == frozenset()


def test_three_trims_are_one_leg_and_a_small_rework_only_asks_for_a_proof():
    assert minutes_of(("F2", "F3", "F4")) == LEG_MINUTES
    assert minutes_of(("F2",)) == CARDS["F2"].minutes
    assert minutes_of(("F1", "F2", "F3"), frozenset({"F2", "F3"})) == CARDS["F1"].minutes + 1.0
    flown = frozenset(FLOWN)
    pack_moved = replace(
        C, items=tuple(replace(i, x_m=i.x_m - 0.01) if i is C.battery else i for i in C.items), jig=None
    )
    here = replace(C, jig=None)
    assert proofs(LastSortie(here, flown), pack_moved) == {"F2", "F3", "F4"}
    assert proofs(LastSortie(here, frozenset({"F1"})), pack_moved) == frozenset(), "it was not trimmed then"
    assert proofs(None, here) == frozenset()
    far = replace(C, items=tuple(replace(i, x_m=i.x_m - 0.12) if i is C.battery else i for i in C.items), jig=None)
    assert abs(balance_of(far).x_m - balance_of(here).x_m) > 0.055 * design_of(C).aero.planform.mac_m
    assert proofs(LastSortie(here, flown), far) == frozenset(), "far from where it was trimmed"
    motor = replace(here, airframe=replace(C.airframe, motor=replace(C.airframe.motor, static_thrust_n=20.0)))
    assert proofs(LastSortie(here, flown), motor) == frozenset(), "another motor is no small rework"


def test_trims_that_are_proved_leave_room_for_a_card():
    """The frame and whole trims filled the pack: no F7, F12, F13 was ever proposed. Found by measuring."""
    last = LastSortie(C, frozenset(FLOWN))
    whole, proved = planned(stale=("F2", "F3")), planned(stale=("F2", "F3"), last=last)
    assert {c.card_id for c in proved.cards if c.proof} >= {"F2", "F3"}
    assert len(proved.flight) > len(whole.flight)
    assert proved.minutes <= proved.safe_minutes
    assert set(proved.flight) & {"F5", "F7", "F12", "F13"}


def test_an_approach_that_looked_at_slow_roll_stands_for_slow_flight_until_something_happens():
    approach = CardRecord(
        "F28", Outcome.DONE, (Reading("roll_slow", choice="level"), Reading("go_round", choice="holds"))
    )
    seen = seen_of((Logged(approach, 1),))
    assert {"F7", "F5"} <= seen.cards
    assert seen.borrowed == {"F7", "F5"}
    assert seen.less(frozenset({"F28"})).cards == frozenset(), "its carrier no longer holds"

    def states(results, opened=frozenset()):
        return states_of(C, results=results, stale=frozenset(), number=3, opened=opened)

    assert looked_at("F7", states(FLOWN), seen)
    assert not looked_at("F7", states(FLOWN, frozenset({"F7"})), seen), "an incident has opened it"
    assert not looked_at("F7", states(FLOWN | {"F7": Outcome.ABORTED}), seen), "it could not be flown"
    assert not looked_at("F7", states(FLOWN), seen_of((Logged(CardRecord("F28", Outcome.DONE), 1),)))
    trims = seen_of((Logged(CardRecord("F2", Outcome.DONE), 1),))
    assert not looked_at("F2", states({"F1": Outcome.DONE}), trims), (
        "flown before it was repaired: nothing stands for it"
    )


def test_what_the_pilot_pins_is_flown_and_what_he_drops_is_not_and_he_is_told_what_it_costs():
    free = planned()
    pinned = planned(wishes=Wishes(pinned=frozenset({"F8"})))
    assert "F8" in pinned.flight
    assert next(c.why for c in pinned.cards if c.card_id == "F8") == "You want it."
    assert "F7" in pinned.flight, "slow flight comes before a stall"
    without = planned(wishes=Wishes(dropped=frozenset(free.flight)))
    assert set(without.flight) & set(free.flight) == {"F1", "F29"}, "it takes off and lands"
    costs = cost_of(told(), ("F1", "F2", "F3", "F7", "F28", "F29"), ("F1", "F2", "F3", "F28", "F29"))
    assert costs[0].startswith("Roll, hands off when slow, right after the next rework:")
    assert cost_of(told(), ("F1", "F29"), ("F1", "F29")) == ()


def test_what_the_model_did_not_let_be_flown_is_not_planned_again_before_something_changes():
    """A balance card that power runs out for in every sortie would fill every sortie: another one tells as much."""
    waits = {"asked": (("F13", "F12"),), "results": FLOWN | {"F13": Outcome.ABORTED, "F7": Outcome.DONE}}
    tried = Logged(CardRecord("F13", Outcome.ABORTED), 2)
    trims = Logged(CardRecord("F2", Outcome.DONE, left_alone=True), 2)
    sun = CardRecord(
        "A6", Outcome.DONE, tuple(Reading(k, choice=c) for k, c in (("phase", "height"), ("because", "outside")))
    )
    after = {
        "the model": planned(seen=seen_of((tried, trims)), **waits).flight,
        "a change": planned(seen=seen_of((replace(tried, stale=True), trims)), **waits).flight,
        "the sun": planned(seen=seen_of((tried, trims, Logged(sun, 2))), **waits).flight,
    }
    assert ("F13" in after["the model"], "F12" in after["the model"]) == (False, True)
    assert "F13" in after["a change"]
    assert "F13" in after["the sun"]
    pinned = planned(seen=seen_of((tried, trims)), wishes=Wishes(pinned=frozenset({"F13"})), **waits)
    assert "F13" in pinned.flight, "the pilot may try it again"


def test_washers_are_proved_by_the_power_step():
    """A thrust line that was changed is flown again with F5, whatever a go-round would show."""
    c = with_margin(model("high_wing"), 0.12)
    tilted = replace(c, airframe=tilted_down(c.airframe, 0.03))
    done = FLOWN | dict.fromkeys(("F5", "F7", "F8", "F12", "F13", "F32"), Outcome.DONE)
    last = LastSortie(c, frozenset(("F2", "F3", "F4")))
    before = planned(results=done, configuration=c, last=last)
    after = planned(results=done, configuration=tilted, last=last, stale=difference(c, tilted).stale)
    assert "F5" in after.flight
    assert next(k for k in after.cards if k.card_id == "F5").why.startswith("Washers were put in")
    assert "F5" not in before.flight or "Washers" not in next(k for k in before.cards if k.card_id == "F5").why


def test_every_card_of_a_proposal_says_why():
    p = planned(number=3, asked=(("F13", "F12"),))
    why = {c.card_id: c.why for c in p.cards}
    assert all(why[k] for k in p.flight)
    assert "A change waits for it." in {why["F13"], why["F12"]}
    assert not any(w for k, w in why.items() if k not in p.flight)


def test_the_balance_is_asked_for_again_while_it_was_read_once_and_the_tips_while_nobody_measured_them():
    once = told()
    assert {READ_AGAIN, INCIDENCE} <= set(once.measured)
    assert [s.code for s in first(once, FLOWN)][:1] == [READ_AGAIN]
    read = replace(C, jig=replace(C.jig, again_m=C.jig.x_m))
    assert READ_AGAIN not in told(read).measured
    assert READ_AGAIN not in told(replace(C, jig=None)).measured, "never read is a stop, not a second reading"
    assert "without it" in first(once, FLOWN)[0].words


def test_a_second_pack_is_proposed_only_where_it_adds_much():
    offered = ("F1", "F2", "F7", "F12", "F13", "F29")
    assert "second_pack" in {s.code for s in before_a_change(told(), offered)}
    known = prior_of(design_of(C))
    known = replace(known, covariance=known.covariance * 0.05, misread=0.0)
    assert before_a_change(told(belief=known), offered) == ()


def test_a_state_that_is_not_for_this_model_is_never_a_choice():
    p = planned(configuration=model("sailplane"), number=4)
    assert {k.card_id for k in p.cards if k.state is CardState.NOT_FOR_THIS_MODEL}.isdisjoint(p.flight)
