"""Incidents: what they re-open, what they say, and what they count for."""

from __future__ import annotations

import pytest

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.incident import INCIDENT, PARTS, Incident, changed_by, in_words, incident_of
from jinba.core.cards.model import CardRecord, Outcome, Phase, Reading, check_record
from jinba.core.correct.actions import ActionKind
from jinba.core.correct.compose import compose
from jinba.core.diagnose.estimate import estimate_of, headline
from jinba.core.diagnose.seen import seen_in
from jinba.core.diagnose.sorties import REPAIRED, LoggedSortie, all_data, sortie_data
from jinba.core.frames import Response
from jinba.core.plan.order import refusal
from jinba.core.plan.programme import programme
from jinba.core.plan.states import CardState, Since
from tests.builders import model

WHOLE = dict.fromkeys(PARTS, "whole")
LOST = {"phase": "take_off", "ground": "hit", "nose": "rears", "dropped": "left"}


def happened(*, stick: float | None = None, **choices: str) -> CardRecord:
    held = [] if stick is None else [Reading("stick_held", number=stick, direction=Response.NOSE_DOWN)]
    record = CardRecord(INCIDENT, Outcome.DONE, (*(Reading(k, choice=v) for k, v in choices.items()), *held))
    check_record(CARDS[INCIDENT], record)
    return record


def of(**choices: str) -> Incident:
    return incident_of(happened(**choices), epoch=3, order=10)


@pytest.mark.parametrize(
    ("choices", "opens", "as_new"),
    [
        ({"ground": "clear"}, set(), False),
        ({"ground": "hard"} | WHOLE, {"B1", "B2"}, False),
        ({"ground": "hard", "linkage": "damaged"}, {"B1", "B2", "B4", "B5"}, False),
        ({"ground": "clear", "motor": "damaged"}, {"B1", "G2"}, False),
        ({"ground": "clear", "electronics": "damaged"}, {"B4", "B6", "B7", "B11", "G1", "G2"}, False),
        ({"ground": "hard", "wing": "damaged"}, {"B1", "B2", "B3", "B4", "B7"}, True),
        ({"ground": "hit"} | WHOLE, {"B1", "B2"}, True),
    ],
)
def test_exactly_what_was_touched_is_gone_over_again(choices, opens, as_new):
    """Common practice, no source: structure, incidence of both sides, linkage, fail-safe, balance, propeller."""
    found = of(phase="landing", **choices)
    assert (found.opens, found.as_new) == (frozenset(opens), as_new)


def test_what_hit_the_ground_and_was_not_looked_at_counts_as_touched():
    every = {c.id for c in CARDS.values() if c.phase in (Phase.BENCH, Phase.GROUND)} - {"G7"}
    assert of(phase="take_off", ground="hit").opens == every
    all_but_one = WHOLE | {"linkage": "damaged"}
    assert of(phase="take_off", ground="hit", **all_but_one).opens == {"B1", "B2", "B4", "B5"}


def test_an_incident_in_words():
    said = in_words(happened(**LOST, wing="damaged", gear="damaged"))
    assert said == ("it hit the ground at take-off; it reared; the left wing dropped; damaged: wing, landing gear")


def test_a_rearing_take_off_that_is_lost_is_evidence_of_a_tail_heavy_model_and_forbids_any_move_aft():
    """Found by review: reared, 60 % forward stick, crashed; it debriefed as "where it should be", with the pack going aft."""
    c = model("high_wing", span_m=1.0)
    broken = CardRecord("F1", Outcome.ABORTED)
    sortie = LoggedSortie(c, (broken, happened(stick=0.6, **LOST)))
    found = estimate_of((sortie,), said=())
    assert {d.card_id for d in sortie_data(sortie)} == {INCIDENT}
    assert found.belief.mean[0] < -0.005, "the margin is believed smaller than before"
    said = headline(
        "Tarn", found.after, data_count=found.data_count, broken_off=("F1",), happened=(in_words(sortie.records[1]),)
    )
    assert said.startswith("Tarn: it hit the ground at take-off; it reared")
    assert "where it should be" not in said
    seen = seen_in((sortie,), c)
    assert seen.refuses_aft
    change = compose(c, found.belief, found.landed, seen)
    assert [a.kind for a in change.actions][:1] == [ActionKind.MOVE_BATTERY]
    assert "forward" in change.actions[0].words


def test_what_the_card_has_said_already_does_not_count_twice():
    c = model()
    first = (Reading("lift_off", choice="rears"), Reading("stick_held", number=0.6, direction=Response.NOSE_DOWN))
    card = CardRecord("F1", Outcome.ABORTED, first)
    alone = sortie_data(LoggedSortie(c, (card,)))
    both = sortie_data(LoggedSortie(c, (card, happened(stick=0.6, **LOST))))
    assert [(d.card_id, d.evidence) for d in both] == [(d.card_id, d.evidence) for d in alone]
    slow = sortie_data(LoggedSortie(c, (card, happened(stick=0.6, **(LOST | {"phase": "slow"})))))
    assert {d.measure.key for d in slow if d.card_id == INCIDENT} == {"slow_stick", "stall_wing"}


def test_what_was_seen_before_a_repair_is_known_half_as_well_and_the_lost_flight_counts_until_the_next():
    c = model()
    good = LoggedSortie(c, (CardRecord("F1", Outcome.DONE, (Reading("lift_off", choice="holds"),)),))
    lost = LoggedSortie(c, (happened(**LOST),))
    (before,), (bad,) = sortie_data(good), [d for d in sortie_data(lost) if d.measure.key == "lift_off"]
    assert [d.sigma for d in all_data((good, lost))][:2] == [REPAIRED * before.sigma, bad.sigma]
    assert [d.sigma for d in all_data((good, lost, good)) if d.measure.key == "lift_off"] == [
        REPAIRED * before.sigma,
        REPAIRED * bad.sigma,
        before.sigma,
    ]


@pytest.mark.parametrize(
    ("parts", "ground", "doubted"),
    [
        ({"motor": "damaged"}, "hard", {"power"}),
        ({"tail": "damaged"}, "hard", {"pitch", "yaw"}),
        ({"wing": "damaged"}, "hard", {"pitch", "roll", "speed"}),
        ({"gear": "damaged"}, "hard", set()),
        ({}, "hard", set()),
        ({}, "hit", {"pitch", "roll", "yaw"}),
        ({"motor": "damaged"}, "hit", {"pitch", "roll", "yaw", "power"}),
    ],
)
def test_only_what_was_touched_is_known_less_well_afterwards(parts, ground, doubted):
    """A new propeller says nothing against a roll that was seen before; one that hit the ground may have shifted any trim."""
    record = happened(**({"phase": "landing", "ground": ground} | WHOLE | parts))
    assert changed_by(record) == doubted
    c = model()
    flown = (
        CardRecord("F2", Outcome.DONE, (Reading("left_over", choice="holds"),), True),
        CardRecord("F3", Outcome.DONE, (Reading("left_over", choice="level"),)),
        CardRecord("F4", Outcome.DONE, (Reading("left_over", choice="straight"),)),
        CardRecord("F5", Outcome.DONE, (Reading("yaw_full", choice="straight"),)),
        CardRecord("F8", Outcome.DONE, (Reading("entry_speed", number=9.0),)),
    )
    before = LoggedSortie(c, flown)
    lost, again = LoggedSortie(c, (record,)), LoggedSortie(c, (CardRecord("F1", Outcome.DONE),))
    old, new = sortie_data(before), all_data((before, lost, again))
    about_ = {"F2": {"pitch"}, "F3": {"roll"}, "F4": {"yaw"}, "F5": {"yaw", "power"}, "F8": {"speed"}}
    for was, now in zip(old, new, strict=False):
        doubt = REPAIRED if about_[was.card_id] & doubted else 1.0
        assert now.sigma == pytest.approx(doubt * was.sigma), was.card_id


def test_a_part_nobody_looked_at_after_it_hit_the_ground_counts_as_touched():
    assert "power" in changed_by(happened(**{"phase": "landing", "ground": "hit"}))


def test_after_it_the_model_is_flown_as_a_new_one():
    """No stall, no dive, gates open again, whatever was flown before; the sortie keeps its number."""
    flown = {c.id: Outcome.DONE if c.phase is Phase.FLIGHT else Outcome.PASSED for c in CARDS.values()}
    again = Since(frozenset({"B1", "B3", *(k for k in flown if k.startswith("F"))}), 0)
    plan = programme(model(), results=flown, stale=frozenset(), sorties_flown=4, fresh=frozenset({"G7"}), since=again)
    states = {c.card_id: c for c in plan.cards}
    assert plan.sortie_number == 5
    assert plan.gates == ("B1", "B3")
    assert {"F1", "F2", "F3", "F29"} <= set(plan.flight)
    assert states["F12"].state is CardState.LATER
    assert "incident" in states["B1"].reason
    assert "first flight after an incident" in plan.note
    bold = ("F1", "F2", "F12", "F29")
    refused = refusal(bold, configuration=model(), sortie_number=5, results=flown, stale=frozenset(), since=again)
    assert "from sortie 2" in (refused or "")
    assert refusal(bold, configuration=model(), sortie_number=5, results=flown, stale=frozenset()) is None


def test_incidence_is_a_gate_only_after_something_was_damaged():
    plan = programme(model(), results={}, stale=frozenset(), sorties_flown=0)
    assert "B3" not in plan.gates
    states = {c.card_id: c.state for c in plan.cards}
    assert states["B3"] is states[INCIDENT] is CardState.NOT_FOR_THIS_MODEL


@pytest.mark.parametrize(
    ("choices", "refuses"), [({}, ""), ({"ground": "hit"}, "hit the ground"), ({"nose": "rises"}, "reared")]
)
def test_only_what_was_lost_or_reared_forbids_a_move_aft(choices, refuses):
    flight = (CardRecord("F12", Outcome.DONE, (Reading("dive", choice="rears_out"),), left_alone=True),)
    record = happened(**({"phase": "landing", "ground": "clear"} | choices))
    seen = seen_in((LoggedSortie(model(), (*flight, record)),), model())
    assert (refuses in seen.refuses_aft) if refuses else seen.refuses_aft == ""
