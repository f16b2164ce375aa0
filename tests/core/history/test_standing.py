"""Whether a result still holds: setups with the trims they were flown and landed with."""

from __future__ import annotations

from dataclasses import replace

from jinba.core.cards.log import Counted, Entry
from jinba.core.cards.model import CardRecord, Outcome
from jinba.core.configuration import Configuration
from jinba.core.history.standing import Now, standing
from tests.builders import model

PLAIN = model()
CLICKED = replace(PLAIN, elevator=replace(PLAIN.elevator, clicks=4))


def stale(card_id: str, basis: Configuration, now: Now, *, epoch: int) -> bool:
    return standing(card_id, Counted(Entry("e", 1, epoch, CardRecord(card_id, Outcome.DONE))), basis, now).stale


def test_clicks_given_in_flight_and_taken_back_on_the_bench_are_flown_again():
    """The setup before the flight and the one after the rework are equal; what was flown in between is not."""
    now = Now(setup=PLAIN, state=PLAIN, landed=CLICKED, landed_epoch=2, changed=True)
    assert stale("F2", CLICKED, now, epoch=1)
    assert stale("B6", PLAIN, now, epoch=0), "so is the radio's card, done before that flight"
    assert not stale("B6", PLAIN, now, epoch=2), "done again since, it holds"
    assert not stale("F8", CLICKED, now, epoch=1), "a stall does not mind"


def test_clicks_that_were_left_in_the_radio_hold_until_something_is_changed():
    now = Now(setup=PLAIN, state=CLICKED, landed=CLICKED, landed_epoch=2, changed=False)
    assert not stale("F2", CLICKED, now, epoch=1)
    assert not stale("B6", PLAIN, now, epoch=0)


def test_what_was_flown_with_other_clicks_is_stale_while_these_stand():
    now = Now(setup=PLAIN, state=CLICKED, landed=CLICKED, landed_epoch=4, changed=False)
    assert stale("F2", PLAIN, now, epoch=1)


def test_cards_of_every_sortie_are_never_stale_only_fresh_or_not():
    now = Now(setup=CLICKED, state=CLICKED, landed=PLAIN, landed_epoch=2, changed=True)
    for epoch, fresh in ((0, False), (1, False), (2, True)):
        found = standing("G7", Counted(Entry("e", 1, epoch, CardRecord("G7", Outcome.PASSED))), PLAIN, now)
        assert (found.stale, found.fresh) == (False, fresh)
