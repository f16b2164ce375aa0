"""The catalogue as data: build-up from safe to bold, words that can be spoken, stale rules that name real cards."""

from __future__ import annotations

import pytest

from jinba.core.cards.catalogue import CARDS, card, cards_for
from jinba.core.cards.model import CaptureKind, Phase
from jinba.core.cards.stale import EVERY_SORTIE, STALE, Change
from jinba.core.errors import UnknownKeyError
from jinba.core.frames import PitchControl, axis_of
from jinba.core.observe.measures import MEASURES


def test_risk_grows_from_the_bench_to_the_air_and_never_jumps_by_more_than_a_step():
    """Build-up: never more than one step above what has been passed (common practice, no source)."""
    for c in CARDS.values():
        if c.phase in (Phase.BENCH, Phase.AFTER):
            assert c.risk == 0, c.id
        needed = [CARDS[n].risk for n in c.needs if n.startswith("F")]
        if needed:
            assert c.risk <= max(needed) + 1, c.id


@pytest.mark.parametrize("c", CARDS.values(), ids=lambda c: c.id)
def test_every_card_can_be_read_aloud_by_a_helper(c):
    assert c.title[0].isupper()
    assert all(s.endswith((".", "?", "!")) for s in c.steps), c.steps
    assert all(len(s) <= 110 for s in c.steps), "one breath a step"
    assert not any(sign in " ".join(c.steps) for sign in ("+", "−")), "directions are words"
    keys = [k.key for k in c.captures]
    assert len(set(keys)) == len(keys)


@pytest.mark.parametrize("c", CARDS.values(), ids=lambda c: c.id)
def test_what_is_captured_can_be_answered(c):
    for k in c.captures:
        if k.kind in (CaptureKind.RATING, CaptureKind.CHOICE, CaptureKind.YES_NO):
            assert len(k.options) >= 2
            assert len({o.key for o in k.options}) == len(k.options)
        if k.kind is CaptureKind.RATING:
            assert len(k.options) == 5
        if k.directions:
            one, other = k.directions
            assert axis_of(one) is axis_of(other)
            assert one is not other
        if k.as_seated:
            assert [o.key for o in k.options] == ["left", "none", "right"]
            assert "as seated in the cockpit" in k.label


def test_a_spoken_direction_asks_for_the_hand_to_stay_off_the_propeller():
    for c in CARDS.values():
        if c.phase is Phase.BENCH and c.id in ("B2", "B4"):
            assert any("Propeller off" in x for x in c.cautions)
    flight = [c for c in CARDS.values() if c.phase is Phase.FLIGHT and c.risk >= 3]
    assert flight
    assert all(any("m." in x or "High" in x or "height" in x.lower() for x in c.cautions) for c in flight)


def test_every_measure_of_the_estimator_belongs_to_a_capture_or_a_reading_of_its_card():
    derived = {("F3", "bank_time"), ("F32", "speed")}
    for card_id, key in MEASURES:
        captured = {k.key for k in card(card_id).captures}
        assert key in captured or (card_id, key) in derived, (card_id, key)


@pytest.mark.parametrize("change", Change)
def test_every_kind_of_change_reopens_real_cards(change):
    assert STALE[change]
    assert STALE[change] <= CARDS.keys()


def test_what_each_sortie_asks_anew_is_weather_and_the_look_afterwards():
    assert {"G7", "A1", "A2", "A3"} == EVERY_SORTIE


def test_a_layout_changes_the_direction_check_and_nothing_else():
    for layout in PitchControl:
        changed = {k for k, c in cards_for(layout).items() if c != CARDS[k]}
        assert changed <= {"B4"}
    with pytest.raises(UnknownKeyError, match="no card 'F99'"):
        card("F99")
