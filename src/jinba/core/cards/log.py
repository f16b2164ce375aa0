"""The log: entries in the order of the database, which of them counts, and where two devices disagree."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import groupby

from jinba.core.cards.model import CardRecord, Confidence, Outcome

ALARM = {Outcome.FAILED: 5, Outcome.ABORTED: 4}
"""Outcomes that are never outvoted: the higher the rank, the more cautious it is to believe it."""


@dataclass(frozen=True, slots=True)
class Entry:
    """One record as it was logged.

    ``order``: its place in the log, drawn by the database. ``seen``: the newest place its writer knew of when it was made,
    None when it was written straight to the database. ``epoch``: 2 n - 1 in sortie n, 2 n on the ground after n landings.
    ``replaces``: the entry it corrects; ``chosen``: the place in the log at which a person chose it.
    """

    id: str
    order: int
    epoch: int
    record: CardRecord
    device: str = ""
    seen: int | None = None
    replaces: str | None = None
    chosen: int | None = None

    def knew(self, other: Entry) -> bool:
        """Return whether this entry was made by somebody who knew of another one, so that it stands in its place."""
        if self.order <= other.order:
            return False
        return self.seen is None or self.seen >= other.order or self.device == other.device


@dataclass(frozen=True, slots=True)
class Counted:
    """The entry of a card that counts, and those of other devices that say something else."""

    entry: Entry
    rivals: tuple[Entry, ...] = ()

    @property
    def record(self) -> CardRecord:
        """The record to go by. Where devices disagree about what they saw, it is doubtful at best."""
        if not self.rivals:
            return self.entry.record
        return replace(self.entry.record, confidence=Confidence.DOUBTFUL)


def caution(record: CardRecord) -> int:
    """Return how cautious it is to believe a record: failed, aborted, could not be left alone, a "no", then the rest."""
    if record.outcome in ALARM:
        return ALARM[record.outcome]
    if record.left_alone is False:
        return 3
    return 2 if any(r.choice == "no" for r in record.readings) else 1 if record.outcome is not Outcome.SKIPPED else 0


def counting(entries: Iterable[Entry]) -> Counted:
    """Return which of the entries of one card counts.

    A correction stands for what it replaces; an entry whose writer knew of another stands for that one too. What is left
    was logged by several devices without knowing of each other: a person's choice settles it, until then the more cautious
    entry counts and the others are shown beside it. Derived here. Raises: ValueError without entries.
    """
    alive = _alive(entries)
    heads = _heads(alive)
    counted = max(heads, key=lambda e: (caution(e.record), e.order))
    chosen = max((e for e in heads if e.chosen is not None), key=lambda e: e.chosen or 0, default=None)
    if chosen is not None and all(e.order < (chosen.chosen or 0) for e in heads):
        return Counted(chosen)
    said = replace(counted.record, note="")
    return Counted(counted, tuple(e for e in heads if replace(e.record, note="") != said))


def _heads(alive: Sequence[Entry]) -> list[Entry]:
    """Return the entries that no later one knew of, see :meth:`Entry.knew`, in one walk back through the log."""
    unknown: set[str] = set()
    newest_seen, devices, all_known = 0, set[str](), False
    for order, at_once in groupby(sorted(alive, key=lambda e: -e.order), key=lambda e: e.order):
        together = list(at_once)
        if not all_known:
            unknown |= {e.id for e in together if newest_seen < order and e.device not in devices}
        all_known = all_known or any(e.seen is None for e in together)
        newest_seen = max([newest_seen, *(e.seen for e in together if e.seen is not None)])
        devices |= {e.device for e in together}
    return [e for e in alive if e.id in unknown]


def _alive(entries: Iterable[Entry]) -> Sequence[Entry]:
    everything = list(entries)
    replaced = {e.replaces for e in everything if e.replaces is not None}
    by_id = {e.id: e for e in everything}
    # A correction has the place, the device and the knowledge of the entry it corrects: it is that entry, said again.
    return [_in_place(e, by_id) for e in everything if e.id not in replaced]


def _in_place(entry: Entry, by_id: dict[str, Entry]) -> Entry:
    root = entry
    while root.replaces is not None and root.replaces in by_id:
        root = by_id[root.replaces]
    return entry if root is entry else replace(entry, order=root.order, device=root.device, seen=root.seen)


def newest(entries: Iterable[Entry]) -> dict[str, Counted]:
    """Return what counts of each card over a model's whole log: the newest epoch in which it was done decides."""
    by_card: dict[str, list[Entry]] = {}
    for entry in entries:
        by_card.setdefault(entry.record.card_id, []).append(entry)
    found = {}
    for card_id, of_card in by_card.items():
        last = max(e.epoch for e in of_card)
        found[card_id] = counting(e for e in of_card if e.epoch == last)
    return found


def said(entries: Iterable[Entry]) -> tuple[Entry, ...]:
    """Return everything that was said and not corrected since, in its place of the log: of incidents each one counts."""
    return tuple(_alive(entries))


def of_sortie(entries: Iterable[Entry]) -> tuple[Counted, ...]:
    """Return what counts of each card of one sortie, in the order in which the cards were first logged."""
    by_card: dict[str, list[Entry]] = {}
    for entry in sorted(entries, key=lambda e: e.order):
        by_card.setdefault(entry.record.card_id, []).append(entry)
    return tuple(counting(of_card) for of_card in by_card.values())
