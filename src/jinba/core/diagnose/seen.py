"""What has been seen in flight: which cards hold for the model as it stands, and which of them speak for or against its balance."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.incident import INCIDENT
from jinba.core.cards.masks import masked
from jinba.core.cards.model import CardRecord, Outcome, Phase
from jinba.core.cards.stale import stale_between
from jinba.core.configuration import Configuration
from jinba.core.diagnose.ordinary import NONE_ORDINARY, Ordinary, ordinary_of
from jinba.core.diagnose.sorties import LoggedSortie
from jinba.core.diagnose.speaks import (
    ENDED_BADLY,
    RISING,
    alarm,
    chosen,
    could_not,
    power_explains,
    speaks_nose_heavy,
    tail_heavy,
    why_broken_off,
)


@dataclass(frozen=True, slots=True)
class Logged:
    """The newest record of a card: in which sortie, and whether a change since then has made it stale."""

    record: CardRecord
    sortie: int
    stale: bool = False


@dataclass(frozen=True, slots=True)
class Seen:
    """``cards``: flown to their end in the model as it stands, ``records`` of every card begun in it. ``nose_heavy``,
    ``tail_heavy``: what speaks for either, newest first, each with the sortie it is from; a card that could not be flown to
    its end speaks only for tail-heavy. ``ever``: cards whose look was had in any setup, on a card of their own or on one that is
    flown anyway (:data:`LOOKED_AT_IN`). ``alarms``: those of ``tail_heavy`` that no thrust line and no error of a trim explains. ``borrowed``: those of ``cards``
    that were looked at on another card alone. ``cannot``: cards that the model as it stands does not let be flown to their end."""

    cards: frozenset[str] = frozenset()
    nose_heavy: tuple[tuple[int, str], ...] = ()
    tail_heavy: tuple[tuple[int, str], ...] = ()
    records: tuple[CardRecord, ...] = ()
    ever: frozenset[str] = frozenset()
    alarms: tuple[tuple[int, str], ...] = ()
    borrowed: frozenset[str] = frozenset()
    cannot: frozenset[str] = frozenset()

    def of(self, card_id: str) -> CardRecord | None:
        """The record of a card in the model as it stands, None when it was not begun."""
        return next((r for r in self.records if r.card_id == card_id), None)

    def less(self, stale: frozenset[str]) -> Seen:
        """Return what still holds of it when a change makes cards stale: what was seen of anything else stays seen."""
        with_carrier = {k for k, (c, _) in LOOKED_AT_IN.items() if c in stale and self.of(k) is None}
        return replace(
            self,
            cards=self.cards - stale - with_carrier,
            records=tuple(r for r in self.records if r.card_id not in stale),
            cannot=self.cannot - stale,
        )

    @property
    def refuses_aft(self) -> str:
        """Why the balance may not be moved aft, in words; empty when it may."""
        if not self.nose_heavy:
            return self.alarms[0][1] if self.alarms else "no card speaks for a nose-heavy model"
        if self.tail_heavy and self.tail_heavy[0][0] >= self.nose_heavy[0][0]:
            return self.tail_heavy[0][1]
        return ""


LOOKED_AT_IN = {"F7": ("F28", "roll_slow"), "F5": ("F28", "go_round")}
"""Cards whose look is also had on one that is flown anyway: which, and by which of its measures. Derived here."""


def looks_at(record: CardRecord) -> frozenset[str]:
    """Return the cards whose look a record has had: its own, and those it stands for."""
    if record.outcome is not Outcome.DONE:
        return frozenset()
    also = (
        k for k, (c, measure) in LOOKED_AT_IN.items() if c == record.card_id and record.reading(measure) is not None
    )
    return frozenset((record.card_id, *also))


NOTHING = Seen()


def seen_of(logged: Iterable[Logged], ordinary: Ordinary = NONE_ORDINARY) -> Seen:
    """Return what the newest records of the cards say together; what is ``ordinary`` does not speak for a nose-heavy model."""
    logged = [r for r in logged if _tells(r.record)]
    flights = [r for r in logged if not r.stale]
    flights.sort(key=lambda r: -r.sortie)
    # Full power that pulls the nose up is held down in the climb, whatever the balance is.
    by_power = any(
        r.record.outcome is Outcome.DONE and chosen(r.record, key) in RISING
        for r in flights
        for card, key in (("F5", "pitch_full"), ("F28", "go_round"))
        if r.record.card_id == card
    )
    told = [r for r in flights if not (by_power and power_explains(r.record))]
    happened = next((r for r in flights if r.record.card_id == INCIDENT), None)

    def after(r: Logged) -> CardRecord | None:
        return happened.record if happened is not None and happened.sortie == r.sortie else None

    cards = frozenset(c for r in flights for c in looks_at(r.record))
    return Seen(
        cards=cards,
        nose_heavy=tuple((r.sortie, w) for r in flights if (w := speaks_nose_heavy(r.record, ordinary, after(r)))),
        tail_heavy=tuple((r.sortie, w) for r in told if (w := tail_heavy(r.record, after(r)))),
        records=tuple(r.record for r in flights if r.record.outcome is not Outcome.SKIPPED),
        ever=frozenset(c for r in logged for c in looks_at(r.record)),
        alarms=tuple((r.sortie, w) for r in told if (w := alarm(r.record, after(r)))),
        borrowed=cards - {r.record.card_id for r in flights},
        cannot=frozenset(
            r.record.card_id
            for r in flights
            if r.record.outcome in ENDED_BADLY and why_broken_off(r.record, after(r)) != "outside"
        ),
    )


def _tells(record: CardRecord) -> bool:
    """Whether a record says something of the model; an alarm does, whatever flew it."""
    if record.card_id == INCIDENT:
        return True
    alarm = record.outcome in ENDED_BADLY or could_not(record)
    return CARDS[record.card_id].phase is Phase.FLIGHT and (alarm or not masked(record))


def seen_in(sorties: tuple[LoggedSortie, ...], present: Configuration) -> Seen:
    """Return what sorties show of the present configuration: the newest record of each card, stale where a change made it so."""
    newest: dict[str, Logged] = {}
    for number, sortie in enumerate(sorties, 1):
        old = frozenset() if sortie.configuration == present else stale_between(sortie.configuration, present)
        for record in sortie.records:
            newest[record.card_id] = Logged(record, number, record.card_id in old)
    return seen_of(newest.values(), ordinary_of(present))
