"""The cards of a sortie on paper: a briefing and one A5 page a card, to be read at arm's length in the sun."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from jinba.core.cards.emergency import Emergency
from jinba.core.cards.model import Capture, CaptureKind, Card
from jinba.core.frames import DirectionWords
from jinba.core.spoken import METRIC, Units, spoken
from jinba.formats.paper import Sheet
from jinba.formats.typefaces import fitted

A5 = (148.0, 210.0)
_LEFT, _TOP, _FOOT = 12.0, 18.0, 200.0
_WIDE = A5[0] - 2 * _LEFT
_SIZES = (6.2, 5.6, 5.0, 4.5, 4.0)
"""Heights of a step's letters [mm], the largest that fits: 4 mm is read at arm's length (common practice, no source)."""

_LEADING = 1.28
_LOOK_OUT = "Propeller clear of hands and people. Everyone behind you. Local law and the site's rules come first."


@dataclass(frozen=True, slots=True)
class Briefing:
    """What stands on the first page: ``minutes`` of ``safe_minutes``, the wind in a sentence, what it is flown against."""

    model: str
    sortie: int
    minutes: float
    safe_minutes: float
    pack: str
    wind: str = ""
    against: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class _Row:
    """A paragraph: its words, its letters' height over a step's, and the room before it in lines."""

    words: str
    share: float = 1.0
    bold: bool = False
    before: float = 0.0


def sortie_cards(
    briefing: Briefing,
    cards: Sequence[Card],
    emergencies: Sequence[Emergency],
    directions: dict[str, DirectionWords],
    *,
    units: Units = METRIC,
) -> tuple[Sheet, ...]:
    """Return the briefing and a page for each card; ``directions``: every response in the words of this model's pilot."""
    first = _page(f"{briefing.model}: sortie {briefing.sortie}", _briefed(briefing, cards, emergencies), units)
    pages = [_page(f"{c.id} {c.title}", _card_rows(c, directions), units) for c in cards]
    return (first, *pages)


def _briefed(briefing: Briefing, cards: Sequence[Card], emergencies: Sequence[Emergency]) -> Iterator[_Row]:
    yield _Row(
        f"{briefing.minutes:.1f} of {briefing.safe_minutes:.1f} safe minutes{f', pack {briefing.pack}' if briefing.pack else ''}",
        bold=True,
    )
    if briefing.wind:
        yield _Row(briefing.wind)
    for words in briefing.against:
        yield _Row(f"Flown against: {words}", bold=True)
    for card in cards:
        yield _Row(f"{card.id}  {card.title}", before=0.15)
    yield _Row("If it goes wrong", bold=True, before=0.6)
    for e in emergencies:
        yield _Row(f"{e.title}: {e.steps[0]}", share=0.8, before=0.1)
    yield _Row(_LOOK_OUT, share=0.7, before=0.6)
    yield _Row("Go or not is said by the program on the day, not by this paper.", share=0.7)


def _card_rows(card: Card, directions: dict[str, DirectionWords]) -> Iterator[_Row]:
    if card.condition:
        yield _Row(card.condition, bold=True)
    for i, step in enumerate(card.steps, 1):
        yield _Row(f"{i}  {step}", before=0.25)
    for words in (*card.cautions, *((card.abort_when,) if card.abort_when else ())):
        yield _Row(f"! {words}", bold=True, share=0.9, before=0.25)
    if card.proof_of_trim:
        ticks = f"{_tick('yes')}   {_tick('could not be left alone')}"
        yield _Row(f"Hands off and level just before?   {ticks}", share=0.75, before=0.5)
    for capture in card.captures:
        if capture.kind is not CaptureKind.PART:
            yield _Row(_asked(capture, directions), share=0.75, before=0.3)


def _tick(words: str) -> str:
    """Return an answer with its box; it is not broken over two lines."""
    return f"[ ] {words}".replace(" ", "\u00a0")


def _asked(capture: Capture, directions: dict[str, DirectionWords]) -> str:
    """Return a measure with its answers to tick, or a line to write on."""
    label = capture.label if capture.required else f"{capture.label} (if you saw it)"
    if capture.options:
        return f"{label}:  " + "   ".join(_tick(o.words) for o in capture.options)
    ways = [directions[r.value] for r in capture.directions if r.value in directions]
    if capture.kind is CaptureKind.COUNT:
        return f"{label}:  ____ " + " / ".join(w.model for w in ways)
    if capture.kind is CaptureKind.STICK:
        return f"{label}:  ____ %  " + "   ".join(_tick(w.stick) for w in ways)
    return f"{label}:  ______ {'s' if capture.kind is CaptureKind.TIMED else capture.unit}"


def _page(title: str, rows: Iterator[_Row], units: Units) -> Sheet:
    paragraphs = list(rows)
    for size in _SIZES:
        sheet, bottom = _set(title, paragraphs, size, units)
        if bottom <= _FOOT:
            return sheet
    return sheet


def _set(title: str, rows: Sequence[_Row], size: float, units: Units) -> tuple[Sheet, float]:
    """Return the page set in letters of a height [mm], and where it ends [mm from the top]."""
    sheet, y = Sheet(A5[0], A5[1], title, units), _TOP
    for line in fitted(spoken(title, units), 8.0, _WIDE, bold=True):
        sheet.text(_LEFT, y, line, size=8.0, bold=True)
        y += 8.0 * _LEADING
    sheet.line((_LEFT, y - 6.0), (A5[0] - _LEFT, y - 6.0), width=0.4)
    y += 2.0
    for row in rows:
        height = size * row.share
        y += row.before * size
        for line in fitted(spoken(row.words, units), height, _WIDE, bold=row.bold):
            sheet.text(_LEFT, y, line, size=height, bold=row.bold)
            y += height * _LEADING
    return sheet, y
