"""What an entry of the log says, in words."""

from __future__ import annotations

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.masks import flown_otherwise, masked
from jinba.core.cards.model import Capture, CaptureKind, CardRecord, Reading
from jinba.core.frames import words_for
from jinba.core.spoken import a_distance, an_amount


def record_words(record: CardRecord) -> tuple[str, ...]:
    """Return what was said of a card, one sentence a measure, without a sign; empty where nothing was measured."""
    card = CARDS.get(record.card_id)
    captures = {} if card is None else {c.key: c for c in card.captures}
    alone = ("could not be left alone",) if record.left_alone is False else ()
    note = (f'"{record.note}"',) if record.note else ()
    why = tuple(w for w in (masked(record), flown_otherwise(record)) if w)
    return (*alone, *(_reading(r, captures.get(r.key)) for r in record.readings), *why, *note)


def _reading(reading: Reading, capture: Capture | None) -> str:
    label = reading.key.replace("_", " ") if capture is None else capture.label
    if reading.choice is not None:
        options = {} if capture is None else {o.key: o.words for o in capture.options}
        return f"{label}: {options.get(reading.choice, reading.choice)}"
    amount = (
        "" if reading.number is None or (reading.none and reading.number == 0) else _amount(reading.number, capture)
    )
    by = ", from telemetry" if reading.telemetry else ""
    if reading.none:
        return f"{label}: none" + (f" in {amount}" if amount else "") + by
    way = "" if reading.direction is None else words_for(reading.direction).model
    return " ".join(part for part in (f"{label}:", amount, way) if part) + by


def _amount(number: float, capture: Capture | None) -> str:
    if capture is not None and capture.kind is CaptureKind.STICK:
        return f"{100 * number:.0f} % of full stick"
    unit = "" if capture is None else capture.unit
    if unit == "m":
        return a_distance(number)
    if unit in ("clicks", "") or (number == int(number) and unit not in ("m/s", "mm")):
        return f"{number:g} {'click' if unit == 'clicks' and number == 1 else unit}".rstrip()
    return an_amount(number, unit)
