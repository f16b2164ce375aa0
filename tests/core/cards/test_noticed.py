"""What is noticed and stands on no card stops the next flight until somebody has gone through it."""

from __future__ import annotations

import pytest

from jinba.core.cards.noticed import NOTICED, Note, note_words, noted_stops, noticed, noticed_by
from jinba.core.errors import UnknownKeyError
from jinba.core.silhouettes import silhouette_configuration


@pytest.mark.parametrize("thing", NOTICED, ids=lambda n: n.key)
def test_each_tap_stops_the_next_flight_and_says_where_to_look_until_something_is_found(thing):
    (stop,) = noted_stops([Note(what=thing.key, card_id="F8")])
    assert stop.stops
    assert stop.words.startswith(f"Noted on F8: {thing.words}. {thing.look}")
    assert noted_stops([Note(what=thing.key, found="a screw, tightened")]) == ()


def test_what_can_only_be_looked_at_or_listened_to_waits_for_somebody_and_words_alone_do_not():
    heard, seen = noted_stops([Note(voice=True, card_id="F2"), Note(photo=True), Note(words="a fine evening")])
    assert "a voice note. Nobody has gone through it: listen to it" in heard.words
    assert "a photo. Nobody has gone through it: look at it" in seen.words
    assert note_words(Note(words="a fine evening", photo=True)) == "a fine evening"


def test_a_note_whose_photo_or_voice_has_not_come_is_not_known_and_stops_as_well():
    (stop,) = noted_stops([Note(card_id="F8")])
    assert "neither photo nor voice has come" in stop.words
    assert "ask who noted it" in stop.words
    assert noted_stops([Note(found="asked him: a lens cap")]) == ()


def test_what_two_devices_noted_alike_is_said_once_with_the_cards_and_how_often():
    stops = noted_stops([Note("flutter", card_id="F8"), Note("late", card_id="F8"), Note("flutter", card_id="F12")])
    assert [s.words.split(":")[0] for s in stops] == ["Noted on F8, F12, 2 times", "Noted on F8"]


def test_nothing_of_a_motor_is_offered_where_there_is_none():
    def keys(silhouette):
        return {n.key for n in noticed_by(silhouette_configuration(silhouette, span_m=2.0))}

    assert keys("sailplane") == {"flutter", "late", "loose", "smoke"}
    assert keys("low_wing") == {n.key for n in NOTICED}
    with pytest.raises(UnknownKeyError):
        noticed("gremlins")
