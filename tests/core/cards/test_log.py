"""Which entry counts: corrections, retakes, two devices that do not know of each other; alarms are never outvoted."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from jinba.core.cards.log import Entry, _heads, caution, counting, newest, of_sortie
from jinba.core.cards.model import CardRecord, Confidence, Outcome, Reading

PASSED = CardRecord("G1", Outcome.PASSED)
FAILED = CardRecord("G1", Outcome.FAILED)
PHONE, LAPTOP = "phone", "laptop"


def entry(order: int, record: CardRecord = PASSED, *, device: str = PHONE, seen: int | None = None, **more) -> Entry:
    return Entry(f"e{order}", order, more.pop("epoch", 0), record, device, seen, **more)


def test_the_later_entry_of_one_device_counts():
    assert counting([entry(1, FAILED), entry(2, PASSED)]).entry.order == 2
    assert counting([entry(2, PASSED), entry(1, FAILED)]).entry.order == 2, "in whatever order they are read"


def test_who_knew_of_an_entry_stands_in_its_place():
    later = entry(2, PASSED, device=LAPTOP, seen=1)
    assert counting([entry(1, FAILED), later]).entry.record is PASSED


def test_of_two_that_did_not_know_of_each_other_the_failed_one_counts_and_both_are_shown():
    """Delivered in either order, a failed gate is not hidden by a pass of somebody who had not seen it."""
    for first, second in ((FAILED, PASSED), (PASSED, FAILED)):
        found = counting([entry(5, first, device=LAPTOP, seen=2), entry(6, second, device=PHONE, seen=2)])
        assert found.entry.record.outcome is Outcome.FAILED
        assert [r.record.outcome for r in found.rivals] == [Outcome.PASSED]


def test_a_persons_choice_settles_it_until_something_new_is_said():
    rivals = [entry(5, FAILED, device=LAPTOP, seen=2), entry(6, PASSED, device=PHONE, seen=2, chosen=7)]
    assert counting(rivals).entry.record is PASSED
    assert counting(rivals).rivals == ()
    third = entry(8, FAILED, device="tablet", seen=2)
    assert counting([*rivals, third]).entry.record is FAILED, "a choice does not reach what came after it"


def test_rivals_that_agree_are_no_rivals():
    assert counting([entry(5, PASSED, device=LAPTOP, seen=2), entry(6, PASSED, seen=2)]).rivals == ()


def test_where_devices_disagree_about_a_reading_it_is_doubtful():
    up, down = (CardRecord("F1", Outcome.DONE, (Reading("lift_off", choice=c),)) for c in ("rises", "sinks"))
    found = counting([entry(5, up, device=LAPTOP, seen=2), entry(6, down, seen=2)])
    assert found.record.confidence is Confidence.DOUBTFUL
    assert found.entry.record.confidence is Confidence.FAIR


def test_a_correction_stands_in_the_place_of_what_it_corrects():
    """Corrected hours later, an early entry does not outrank a retake that its writer knew of."""
    first, retake = entry(1, PASSED), entry(2, FAILED)
    corrected = entry(9, replace(PASSED, note="misread"), device=LAPTOP, seen=8, replaces="e1")
    assert counting([first, retake, corrected]).entry is retake
    assert counting([first, corrected]).entry.record.note == "misread"


def test_over_the_whole_log_the_newest_epoch_decides_not_the_last_arrival():
    """A late entry or a correction of sortie 1 does not become the state of a card flown again in sortie 2."""
    flown_again = entry(5, PASSED, epoch=3)
    late = entry(9, FAILED, epoch=1)
    assert newest([flown_again, late])["G1"].entry is flown_again


def test_cards_of_a_sortie_keep_the_order_of_flying():
    a, b = (CardRecord(c, Outcome.DONE) for c in ("F2", "F1"))
    found = of_sortie([entry(3, b), entry(1, a), entry(4, a)])
    assert [(c.entry.record.card_id, c.entry.order) for c in found] == [("F2", 4), ("F1", 3)]


@given(
    st.lists(
        st.tuples(st.sampled_from(list(Outcome)), st.sampled_from([PHONE, LAPTOP, "tablet"]), st.integers(0, 3)),
        min_size=1,
        max_size=7,
    )
)
def test_nothing_unanswered_is_more_alarming_than_what_counts(log):
    """Whatever was logged: no entry that nobody knew of when they wrote later is more cautious than the one that counts."""
    entries = [
        entry(i + 1, CardRecord("G1", outcome), device=device, seen=max(0, i - behind))
        for i, (outcome, device, behind) in enumerate(log)
    ]
    found = counting(entries)
    unanswered = [e for e in entries if not any(o.knew(e) for o in entries)]
    assert caution(found.entry.record) == max(caution(e.record) for e in unanswered)
    assert entries[-1] in unanswered


@given(
    st.lists(
        st.tuples(st.sampled_from(("", LAPTOP, PHONE)), st.none() | st.integers(0, 30)),
        min_size=1,
        max_size=25,
        unique=True,
    )
)
def test_what_nobody_later_knew_of_is_the_same_by_one_walk_as_by_asking_everyone(written):
    entries = [
        Entry(str(i), i, 1, PASSED, device=device, seen=None if seen is None else min(seen, i - 1))
        for i, (device, seen) in enumerate(written, start=1)
    ]
    asked = [e for e in entries if not any(o.knew(e) for o in entries)]
    assert _heads(entries) == asked
    assert counting(entries).entry in asked
