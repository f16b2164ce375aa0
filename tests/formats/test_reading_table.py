"""The table of readings as a spreadsheet reads it. Outside check: the csv module of Python (RFC 4180, from memory)."""

from __future__ import annotations

import csv
import io
from datetime import UTC, datetime

from hypothesis import given
from hypothesis import strategies as st

from jinba.core.cards.model import CardRecord, Conditions, Outcome, Reading
from jinba.core.frames import Response
from jinba.formats.cells import cell_words
from jinba.formats.reading_table import LoggedRow, write_readings

AT = datetime(2031, 5, 1, 10, 30, tzinfo=UTC)


def rows(record: CardRecord, *, sortie: int | None = 2, counts: bool = True) -> list[dict[str, str]]:
    table = write_readings([LoggedRow(sortie, AT, record, counts, "Ana's phone")])
    return list(csv.DictReader(io.StringIO(table, newline="")))


def test_a_row_a_reading_with_its_direction_in_words_and_its_unit():
    readings = (
        Reading("pitch_clicks", number=3, direction=Response.NOSE_UP),
        Reading("left_over", choice="holds", telemetry=True),
    )
    flown = Conditions(throttle=0.5, wind_mps=3.25, pack="Red")
    clicks, left = rows(CardRecord("F2", Outcome.DONE, readings, left_alone=True, conditions=flown))
    assert (clicks["value"], clicks["unit"], clicks["direction"]) == ("3", "clicks", "nose up")
    assert (left["choice"], left["from_telemetry"], clicks["from_telemetry"]) == ("holds", "yes", "no")
    for row in (clicks, left):
        assert (row["sortie"], row["card"], row["throttle"], row["wind_mps"], row["pack"]) == (
            "2",
            "F2",
            "0.5",
            "3.25",
            "Red",
        )
        assert datetime.fromisoformat(row["time"]) == AT


def test_none_needed_is_a_nought_and_a_card_without_a_reading_is_still_there():
    (none,) = rows(CardRecord("F2", Outcome.DONE, (Reading("pitch_clicks", none=True),)))
    assert none["value"] == "0"
    (bare,) = rows(CardRecord("F8", Outcome.SKIPPED), sortie=None, counts=False)
    assert (bare["sortie"], bare["outcome"], bare["measure"], bare["value"], bare["counts"]) == (
        "",
        "skipped",
        "",
        "",
        "no",
    )


@given(st.text(st.characters(exclude_categories=["Cs", "Cc"]), max_size=40))
def test_words_come_back_as_they_were_and_no_spreadsheet_runs_them(note):
    (row,) = rows(CardRecord("F2", Outcome.DONE, note=note))
    assert cell_words(row["note"]) == note
    assert not row["note"].startswith(("=", "+", "-", "@"))
