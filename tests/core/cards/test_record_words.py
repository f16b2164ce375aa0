"""What was said of a card, in words: a nought is none, not "none in 0 clicks"."""

from __future__ import annotations

import pytest

from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.cards.record_words import record_words
from jinba.core.frames import Response


@pytest.mark.parametrize(
    ("reading", "said"),
    [
        (Reading("roll_clicks", none=True, number=0), "none"),
        (Reading("roll_clicks", none=True), "none"),
        (Reading("roll_clicks", number=1, direction=Response.ROLL_LEFT), "1 click left wing down"),
        (Reading("bank_time_first", none=True, number=12.0), "none in 12 s"),
    ],
)
def test_a_measure_is_one_sentence_with_its_direction(reading, said):
    (words,) = record_words(CardRecord("F3", Outcome.DONE, (reading,), left_alone=True))
    assert words.split(": ", 1)[1] == said
