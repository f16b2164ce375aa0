"""Everything that was logged of a model as a comma-separated table: one row a reading."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import CaptureKind, CardRecord, Reading
from jinba.core.frames import words_for
from jinba.formats.cells import words_cell

COLUMNS = (
    "sortie",
    "time",
    "card",
    "title",
    "outcome",
    "counts",
    "measure",
    "value",
    "unit",
    "direction",
    "choice",
    "from_telemetry",
    "throttle",
    "flap",
    "gear",
    "stabiliser",
    "wind_mps",
    "gust_mps",
    "pack",
    "confidence",
    "from_memory",
    "logged_by",
    "note",
)


@dataclass(frozen=True, slots=True)
class LoggedRow:
    """A logged card: ``sortie`` it belongs to (None: bench and ground), when it was flown, who logged it, whether it counts."""

    sortie: int | None
    time: datetime
    record: CardRecord
    counts: bool
    logged_by: str


def write_readings(rows: Iterable[LoggedRow]) -> str:
    """Return the readings as a table with a header row, in the units of the cards; a card without a reading has a row of its own."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for row in rows:
        for reading in row.record.readings or (None,):
            writer.writerow(_cells(row, reading))
    return out.getvalue()


def _cells(row: LoggedRow, reading: Reading | None) -> tuple[str, ...]:
    record, flown = row.record, row.record.conditions
    return (
        "" if row.sortie is None else str(row.sortie),
        row.time.isoformat(),
        record.card_id,
        CARDS[record.card_id].title if record.card_id in CARDS else "",
        record.outcome.value,
        _yes(row.counts),
        *_measured(record.card_id, reading),
        _figure(flown.throttle),
        _figure(flown.flap),
        "" if flown.gear is None else flown.gear.value,
        "" if flown.mode is None else flown.mode.value,
        _figure(flown.wind_mps),
        _figure(flown.gust_mps),
        words_cell(flown.pack),
        record.confidence.value,
        _yes(record.from_memory),
        words_cell(row.logged_by),
        words_cell(record.note),
    )


def _measured(card_id: str, reading: Reading | None) -> tuple[str, ...]:
    """Return measure, value, unit, direction, choice and whether a link told it; of a stick the value is the share of full."""
    if reading is None:
        return ("",) * 6
    captures = CARDS[card_id].captures if card_id in CARDS else ()
    capture = next((c for c in captures if c.key == reading.key), None)
    stick = capture is not None and capture.kind is CaptureKind.STICK
    unit = "" if capture is None or reading.number is None else "of full stick" if stick else capture.unit
    nothing = reading.none and reading.number is None
    return (
        reading.key,
        "0" if nothing else _figure(reading.number),
        unit,
        "" if reading.direction is None else words_for(reading.direction).model,
        reading.choice or "",
        _yes(reading.telemetry),
    )


def _figure(number: float | None) -> str:
    return "" if number is None else f"{number:.12g}"


def _yes(said: bool) -> str:
    return "yes" if said else "no"
