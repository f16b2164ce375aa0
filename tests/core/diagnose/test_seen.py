"""What a record speaks for: nose-heavy, tail-heavy or neither, in a pilot's words; what is newest, and what no longer holds."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jinba.core.cards.log import Counted, Entry
from jinba.core.cards.masks import masked
from jinba.core.cards.model import CardRecord, Conditions, Outcome, Reading
from jinba.core.cards.record_words import record_words
from jinba.core.configuration import balance_of
from jinba.core.controls.switches import FlightMode
from jinba.core.diagnose.seen import Logged, Seen, seen_in, seen_of
from jinba.core.diagnose.sorties import (
    LoggedSortie,
    belief_after,
    carried,
    clicks_standing,
    radio_stands,
    sortie_data,
    trims_at_landing,
    trims_at_release,
)
from jinba.core.frames import Axis, Response
from jinba.core.history.model import Standing
from jinba.core.observe.parameters import ELEVATOR_LOST, P
from jinba.core.observe.situation import resting_trims
from tests.builders import model, with_margin

UP, DOWN = Response.NOSE_UP, Response.NOSE_DOWN


def held(card: str, key: str, amount: float, way: Response) -> CardRecord:
    return CardRecord(card, Outcome.DONE, (Reading(key, number=amount, direction=way),), left_alone=True)


def said(card: str, key: str, choice: str) -> CardRecord:
    return CardRecord(card, Outcome.DONE, (Reading(key, choice=choice),), left_alone=True)


NEITHER, NOSE, TAIL = "neither", "nose-heavy", "tail-heavy"


def broken_off(card: str, because: str, phase: str, **more: str) -> Seen:
    """A card that was broken off in sortie 1, and what is said of it."""
    given = {"phase": phase, "ground": "clear", "because": because} | more
    happened = CardRecord("A6", Outcome.DONE, tuple(Reading(k, choice=c) for k, c in given.items() if c))
    return seen_of([Logged(CardRecord(card, Outcome.ABORTED), 1), Logged(happened, 1)])


@pytest.mark.parametrize(
    ("because", "phase", "more", "speaks"),
    [
        ("", "take_off", {}, TAIL),
        ("model", "take_off", {}, TAIL),
        ("stick_back", "take_off", {}, NOSE),
        ("stick_back", "slow", {}, NOSE),
        ("stick_back", "take_off", {"nose": "rears"}, TAIL),
        ("stick_back", "take_off", {"ground": "hit"}, TAIL),
        ("stick_forward", "take_off", {}, TAIL),
        ("power", "take_off", {}, NEITHER),
        ("outside", "take_off", {}, NEITHER),
        ("outside", "landing", {}, TAIL),
    ],
)
def test_a_take_off_that_was_broken_off_is_an_alarm_until_it_is_said_why(because, phase, more, speaks):
    """Common practice, no source: who has the stick fully back and still does not fly has no tail-heavy model."""
    found = broken_off("F1", because, phase, **more)
    assert (bool(found.nose_heavy), bool(found.tail_heavy)) == (speaks is NOSE, speaks is TAIL)
    assert bool(found.alarms) is (speaks is TAIL)
    assert ("F1" in found.cannot) is (because != "outside" or phase != "take_off")


def test_a_stick_held_forward_is_an_alarm_whatever_reason_is_tapped_beside_it():
    for because in ("stick_back", "outside", "power", "model"):
        said = (("phase", "take_off"), ("ground", "clear"), ("because", because))
        readings = (*(Reading(k, choice=c) for k, c in said), Reading("stick_held", number=0.4, direction=DOWN))
        happened = CardRecord("A6", Outcome.DONE, readings)
        found = seen_of([Logged(CardRecord("F1", Outcome.ABORTED), 1), Logged(happened, 1)])
        assert not found.nose_heavy, because
        assert {words.split()[0] for _, words in found.alarms} == {"F1", "A6:"}, because


def test_a_reason_explains_its_own_sortie_and_never_what_the_card_itself_says():
    back = broken_off("F1", "stick_back", "take_off").of("A6")
    assert back is not None
    for record, sortie in (
        (CardRecord("F1", Outcome.ABORTED), 2),
        (CardRecord("F1", Outcome.ABORTED, (Reading("lift_off", choice="rears"),)), 1),
        (CardRecord("F1", Outcome.ABORTED, (Reading("stick_held", number=0.4, direction=DOWN),)), 1),
        (CardRecord("F2", Outcome.ABORTED, left_alone=False), 1),
    ):
        assert seen_of([Logged(record, sortie), Logged(back, 1)]).alarms


def test_a_stick_at_its_end_says_what_was_held_but_not_where_a_wing_pitches_the_model():
    """A foreplane, elevons or a tandem's rear wing may have stalled: more stick gives no more lift there."""
    happened = broken_off("F1", "stick_back", "take_off").of("A6")
    assert happened is not None
    for layout, counts in (("low_wing", True), ("canard", False), ("flying_wing", False)):
        c = model(layout)
        flown = LoggedSortie(c, (CardRecord("F1", Outcome.ABORTED), happened))
        assert [d.measure.key for d in sortie_data(flown)] == (["climb_stick"] if counts else [])
        assert bool(seen_in((flown,), c).nose_heavy) is counts
        assert not seen_in((flown,), c).alarms
    both = (CardRecord("F1", Outcome.ABORTED, (Reading("stick_held", number=1.0, direction=UP),)), happened)
    assert len(sortie_data(LoggedSortie(model("low_wing"), both))) == 1, "nothing counts twice"


@pytest.mark.parametrize(
    ("record", "speaks"),
    [
        (said("F12", "dive", "rears_out"), NOSE),
        (said("F12", "dive", "pulls_out"), NOSE),
        (said("F12", "dive", "eases"), NEITHER),
        (said("F12", "dive", "tucks"), TAIL),
        (held("F13", "clicks_fast", 3, DOWN), NOSE),
        (held("F13", "clicks_fast", 3, UP), TAIL),
        (held("F13", "clicks_fast", 1, UP), NEITHER),
        (said("F13", "left_over", "rises"), NOSE),
        (said("F13", "left_over", "drops"), TAIL),
        (held("F14", "stick_held", 0.3, DOWN), NOSE),
        (held("F14", "stick_held", 0.1, DOWN), NEITHER),
        (held("F14", "stick_held", 0.2, UP), TAIL),
        (said("F15", "line", "bends"), NOSE),
        (held("F1", "stick_held", 0.5, DOWN), TAIL),
        (held("F1", "stick_held", 0.5, UP), NEITHER),
        (held("F7", "stick_held", 0.15, DOWN), TAIL),
        (held("F7", "stick_held", 0.3, UP), NEITHER),
        (held("F29", "stick_back", 0.2, DOWN), TAIL),
        (CardRecord("F1", Outcome.ABORTED), TAIL),
        (CardRecord("F29", Outcome.FAILED), TAIL),
        (CardRecord("F8", Outcome.ABORTED), NEITHER),
        (CardRecord("F2", Outcome.DONE, (Reading("left_over", choice="drops"),), left_alone=False), TAIL),
        (CardRecord("F12", Outcome.DONE, (Reading("dive", choice="rears_out"),), left_alone=False), TAIL),
    ],
)
def test_a_record_speaks_for_one_side_or_for_neither(record, speaks):
    """Common practice, no source; one that could not be left alone, or a take-off broken off, never speaks for nose-heavy."""
    found = seen_of([Logged(record, 1)])
    assert (bool(found.nose_heavy), bool(found.tail_heavy)) == (speaks is NOSE, speaks is TAIL)
    assert all(words.startswith(record.card_id) for _, words in (*found.nose_heavy, *found.tail_heavy))
    assert (record.card_id in found.cards) is (record.outcome is Outcome.DONE)


def test_the_newest_word_decides_and_on_the_same_flight_the_warning():
    pulls, forward = said("F12", "dive", "rears_out"), held("F7", "stick_held", 0.2, DOWN)
    assert seen_of([Logged(pulls, 2), Logged(forward, 1)]).refuses_aft == ""
    assert seen_of([Logged(pulls, 2), Logged(forward, 2)]).refuses_aft == "F7: stick was held forward"
    assert seen_of([Logged(pulls, 1), Logged(forward, 2)]).refuses_aft == "F7: stick was held forward"
    assert seen_of([Logged(pulls, 1, stale=True)]) == Seen(ever=frozenset({"F12"})), "stale: it was flown once"
    assert "no card speaks" in Seen().refuses_aft


def test_what_was_seen_before_the_pack_was_moved_speaks_of_another_model():
    c = with_margin(model(), 0.09)
    pack = c.battery
    moved = replace(c, items=tuple(replace(i, x_m=i.x_m - 0.03) if i is pack else i for i in c.items))
    assert balance_of(moved).x_m < balance_of(c).x_m - 0.002
    dive, roll = said("F12", "dive", "rears_out"), said("F3", "left_over", "level")
    before = LoggedSortie(c, (dive, roll))
    assert seen_in((before,), c).cards == {"F12", "F3"}
    after = seen_in((before, LoggedSortie(moved, (CardRecord("F1", Outcome.DONE),))), moved)
    assert after.cards == {"F1", "F3"}, "a moved pack leaves the roll trim as it was"
    assert after.nose_heavy == ()


def test_what_was_tapped_before_a_card_was_broken_off_counts():
    """Readings of a card that was aborted are data like any others, its clicks stand in the radio; a skipped one says nothing."""
    c = with_margin(model(), 0.09)
    clicks, rears = Reading("pitch_clicks", number=3, direction=DOWN), Reading("left_over", choice="rears")
    done, aborted, skipped = (
        LoggedSortie(c, (CardRecord("F2", o, (clicks, rears), left_alone=True),))
        for o in (Outcome.DONE, Outcome.ABORTED, Outcome.SKIPPED)
    )
    assert [d.evidence for d in sortie_data(aborted)] == [d.evidence for d in sortie_data(done)] != []
    assert sortie_data(skipped) == ()
    assert trims_at_landing(aborted) == trims_at_landing(done) != trims_at_landing(skipped)


def flight(c, clicks: int, way: Response, *cards: CardRecord) -> LoggedSortie:
    trim = (Reading("pitch_clicks", number=clicks, direction=way), Reading("left_over", choice="holds"))
    return LoggedSortie(c, (CardRecord("F2", Outcome.DONE, trim, left_alone=True), *cards))


def test_trims_stand_in_the_radio_from_landing_to_the_next_release():
    """Six clicks up in the first flight and none in the second is a model that flies well with six, not one whose elevator is
    weak; another setup says itself where its trims stand."""
    c = with_margin(model(), 0.09)
    first, second = flight(c, 6, UP), flight(c, 0, UP)
    done = carried((first, second))
    assert trims_at_release(done[0]) == resting_trims(c)
    assert trims_at_release(done[1]) == trims_at_landing(first)
    assert clicks_standing(c, trims_at_landing(done[1]), Axis.PITCH) == -6, "up is negative"
    twice, once = belief_after((first, second), configuration=c), belief_after((first,), configuration=c)
    assert twice.mean == pytest.approx(once.mean, abs=0.02)
    assert abs(twice.mean[P.LN_ELEVATOR] - ELEVATOR_LOST) < 0.08
    more = carried((first, flight(c, 2, DOWN)))
    assert radio_stands(c, trims_at_release(more[1])) == {
        "F2": "The radio stands at 6 clicks nose up from before. Count only what you give now."
    }
    assert clicks_standing(c, trims_at_landing(more[1]), Axis.PITCH) == -4
    other = replace(c, pack_minutes=c.pack_minutes + 1.0)
    assert trims_at_release(carried((first, flight(other, 0, UP)))[1]) == resting_trims(other)
    assert radio_stands(c, resting_trims(c)) == {}


LEVELLED = Conditions(mode=FlightMode.SELF_LEVEL)


@pytest.mark.parametrize(
    ("conditions", "counts"),
    [
        (Conditions(), True),
        (Conditions(mode=FlightMode.PASS_THROUGH, flap=0.0), True),
        (Conditions(mode=FlightMode.RATE), False),
        (LEVELLED, False),
        (Conditions(flap=0.5), False),
        (Conditions(throttle=0.0), True),
    ],
)
def test_a_stabilised_dive_says_nothing_of_the_balance(conditions, counts):
    c = model()
    dive = CardRecord("F12", Outcome.DONE, (Reading("dive", choice="rears_out"),), True, conditions=conditions)
    sortie = LoggedSortie(c, (dive,))
    seen = seen_in((sortie,), c)
    assert bool(sortie_data(sortie)) is counts
    assert bool(seen.nose_heavy) is counts
    assert ("F12" in seen.cards) is counts
    assert (masked(dive) == "") is counts
    assert any("says nothing" in w for w in record_words(dive)) is not counts
    standing = Standing(Counted(Entry("e", 1, 1, dive)), False, False)
    assert (standing.outcome is Outcome.DONE) is counts, "masked, it still has to be flown"


def test_an_alarm_counts_whatever_flew_it_and_a_card_about_the_stabiliser_is_not_masked_by_it():
    c = model()
    lost = CardRecord("F2", Outcome.ABORTED, (), False, conditions=LEVELLED)
    assert seen_in((LoggedSortie(c, (lost,)),), c).tail_heavy
    assert masked(CardRecord("F25", Outcome.DONE, conditions=LEVELLED)) == ""
    assert masked(CardRecord("B7", Outcome.PASSED, conditions=LEVELLED)) == ""


def test_clicks_given_under_a_stabiliser_stand_in_the_radio_all_the_same():
    c = model()
    given = Reading("pitch_clicks", number=4.0, direction=Response.NOSE_UP)
    trimmed_so = CardRecord("F2", Outcome.DONE, (given,), True, conditions=LEVELLED)
    landed = trims_at_landing(LoggedSortie(c, (trimmed_so,)))
    assert landed.elevator_rad == pytest.approx(c.elevator.resting_rad - 4.0 * c.elevator.rad_per_click)


@pytest.mark.parametrize(
    ("stick", "power", "alarmed"), [(0.2, "rises", False), (0.2, "holds", True), (0.35, "rears", True)]
)
def test_a_climb_held_down_a_little_is_explained_by_power_that_pulls_the_nose_up_and_by_nothing_else(
    stick, power, alarmed
):
    """Stick forward: the pilot pushes, the elevator goes down, against a nose that rises."""
    climb, go_round = held("F1", "stick_held", stick, DOWN), said("F28", "go_round", power)
    seen = seen_of([Logged(climb, 1), Logged(go_round, 1)])
    assert bool(seen.alarms) is alarmed
    assert bool(seen.tail_heavy) is alarmed
    slow = seen_of([Logged(held("F7", "stick_held", stick, DOWN), 1), Logged(go_round, 1)])
    assert slow.alarms, "in slow flight no power explains it"
