"""Logging cards in a sortie: one, or all that waited on a device; what may go where."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from sqlalchemy.orm import Session

from jinba.core.cards.catalogue import card
from jinba.core.cards.fitted import cards_of
from jinba.core.cards.model import Card, CardRecord, Phase, check_record
from jinba.core.errors import JinbaError, RefusedError
from jinba.core.plan.stops import SHORTEST_REASON
from jinba.persistence.once import asked_before, named
from jinba.persistence.orm import ModelRow, RecordRow, SortieRow, WeatherRow
from jinba.persistence.repositories import Log, Models, Sorties
from jinba.services.energy import flown_with
from jinba.services.estimates import log_changed
from jinba.services.log import ToWrite, Written, as_asked, write_entries
from jinba.services.packs import AFTER_FLIGHT
from jinba.services.setups import setup_of


@dataclass(frozen=True, slots=True)
class NewEntry:
    """A logged card as it arrives: its client-made id, who wrote it, and the entry it corrects (``replaces``)."""

    id: uuid.UUID
    record: CardRecord
    written: Written = field(default_factory=Written)
    replaces: uuid.UUID | None = None


def log_card(
    session: Session,
    sortie_id: uuid.UUID,
    *,
    record_id: uuid.UUID,
    record: CardRecord,
    written: Written | None = None,
    replaces: uuid.UUID | None = None,
) -> SortieRow:
    """Append a record to a sortie; the same client-made id and content twice is one record, so a retry is harmless.

    After the landing an entry is taken when its writer did not know of it (it was made before, and arrives late), when it
    corrects another (``replaces``), or when the sortie was flown alone and is logged from memory; the sortie is then computed
    anew. A card that was flown and not planned is taken with a line of reason in its note, and stands in the sortie's list from
    then on. Raises: RefusedError when that reason is missing or it comes after the landing; ConflictError when the id
    names something else; errors of the record.
    """
    entry = NewEntry(record_id, record, written or Written(), replaces)
    logging = _Logging.of(session, sortie_id, (entry,))
    logging.take(entry)
    logging.write()
    return logging.sortie


def log_cards(session: Session, sortie_id: uuid.UUID, entries: Sequence[NewEntry]) -> list[JinbaError | None]:
    """Append what waited on a device, in its order, each as :func:`log_card` does it; return of each why it was not taken.

    What is refused leaves the others as they are. A landed sortie is computed anew once, with all of them.
    """
    logging = _Logging.of(session, sortie_id, entries)
    fates: list[JinbaError | None] = []
    for entry in entries:
        try:
            logging.take(entry)
            fates.append(None)
        except JinbaError as refused:
            fates.append(refused)
    logging.write()
    return fates


@dataclass(slots=True)
class _Logging:
    """A sortie of a locked model that is being logged, with what every entry of it is checked against; what is taken is written together."""

    session: Session
    model: ModelRow
    sortie: SortieRow
    cards: dict[str, Card]
    listed: set[str]
    weather: WeatherRow | None
    there: dict[uuid.UUID, RecordRow]
    taken: dict[uuid.UUID, ToWrite] = field(default_factory=dict)
    any_new: bool = False

    @classmethod
    def of(cls, session: Session, sortie_id: uuid.UUID, entries: Sequence[NewEntry]) -> _Logging:
        sorties = Sorties(session)
        model = Models(session).lock(sorties.model_of(sortie_id))
        sortie = sorties.get(sortie_id)
        cards = cards_of(setup_of(session, sortie.setup_hash))
        there = named(session, RecordRow, [e.id for e in entries])
        return cls(session, model, sortie, cards, set(sorties.cards(sortie_id)), sorties.weather(sortie_id), there)

    def take(self, new: NewEntry) -> None:
        """Take one entry that fits; one that is here already is taken as that. Nothing is taken of one that raises."""
        record = new.record
        card(record.card_id)
        check_record(self.cards[record.card_id], record)
        request = {
            "sortie": str(self.sortie.id),
            "record": as_asked(record),
            "replaces": None if new.replaces is None else str(new.replaces),
        }
        if new.replaces is not None or new.id in self.taken:
            # What it speaks of may have come a moment ago.
            self._write_taken()
        asked = asked_before(self.there.get(new.id), new.id, request)
        if new.id in self.there:
            return
        self._check_place(new)
        self.taken[new.id] = ToWrite(
            id=new.id,
            record=_in_its_wind(record, self.weather),
            request_hash=asked,
            configuration_id=self.sortie.configuration_id,
            sortie_id=self.sortie.id,
            epoch=2 * self.sortie.number - 1,
            setup_hash=self.sortie.setup_hash,
            written=new.written,
            replaces=new.replaces,
        )
        if card(record.card_id).phase is Phase.FLIGHT and record.card_id not in self.listed:
            Sorties(self.session).add_flown(self.sortie.id, record.card_id)
            self.listed.add(record.card_id)

    def write(self) -> None:
        """Write what was taken, and compute again what a landed sortie taught."""
        self._write_taken()
        if self.any_new and self.sortie.status == "landed":
            log_changed(self.session, self.model, since=self.sortie.number)

    def _write_taken(self) -> None:
        for entry in write_entries(self.session, self.model, tuple(self.taken.values())):
            self.any_new = True
            self.there[entry.id] = entry
            if entry.card_id == AFTER_FLIGHT:
                flown_with(self.session, self.sortie, entry.pack_id)
            if self.sortie.status == "planned":
                self.sortie.status = "flying"
        self.taken.clear()
        self.session.flush()

    def _check_place(self, new: NewEntry) -> None:
        sortie, record = self.sortie, new.record
        flight = card(record.card_id).phase is Phase.FLIGHT
        if flight and record.card_id not in self.listed and len(record.note.strip()) < SHORTEST_REASON:
            raise RefusedError(
                f"{record.card_id} was not planned for this sortie. Say in a few words in its note why it was flown."
            )
        if sortie.status == "called_off":
            raise RefusedError(f"Sortie {sortie.number} was called off. Plan it again, then log it there.")
        if new.replaces is not None:
            _check_correction(self.session, sortie, record, new.replaces)
            return
        seen = new.written.seen
        late = seen is not None and sortie.landed_order is not None and seen < sortie.landed_order
        if sortie.status == "landed" and flight and not sortie.alone and not late:
            raise RefusedError(
                "This sortie has landed. Correct an entry in its debrief, plan the next one, or log from memory by flying alone."
            )


def _in_its_wind(record: CardRecord, weather: WeatherRow | None) -> CardRecord:
    """Return a flight record with the wind the sortie was planned in, where nobody said another one."""
    flown = record.conditions
    if weather is None or flown.wind_mps is not None or card(record.card_id).phase is not Phase.FLIGHT:
        return record
    return replace(record, conditions=replace(flown, wind_mps=weather.wind_mps, gust_mps=weather.gust_mps))


def _check_correction(session: Session, sortie: SortieRow, record: CardRecord, replaces: uuid.UUID) -> None:
    corrected = Log(session).get(replaces)
    if corrected.sortie_id != sortie.id or corrected.card_id != record.card_id:
        raise RefusedError(
            f"A correction of {record.card_id} replaces an entry of {record.card_id} in the same sortie."
        )
    newer = next((r for r in Log(session).of_sortie(sortie.id) if r.RecordRow.replaces_id == replaces), None)
    if newer is not None:
        raise RefusedError("This entry was already corrected. Load the page again and correct the newer one.")
