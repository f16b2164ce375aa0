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
from jinba.formats.codec import to_json
from jinba.persistence.once import once
from jinba.persistence.orm import ModelRow, RecordRow, SortieRow, WeatherRow
from jinba.persistence.repositories import Log, Models, Sorties
from jinba.services.energy import flown_with
from jinba.services.estimates import log_changed
from jinba.services.log import Written, write_entry
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
    card(record.card_id)
    logging = _Logging.of(session, sortie_id)
    if logging.take(NewEntry(record_id, record, written or Written(), replaces)):
        logging.computed_anew()
    return logging.sortie


def log_cards(session: Session, sortie_id: uuid.UUID, entries: Sequence[NewEntry]) -> list[JinbaError | None]:
    """Append what waited on a device, in its order, each as :func:`log_card` does it; return of each why it was not taken.

    What is refused leaves the others as they are. A landed sortie is computed anew once, with all of them.
    """
    logging = _Logging.of(session, sortie_id)
    fates: list[JinbaError | None] = []
    any_new = False
    for entry in entries:
        try:
            with session.begin_nested():
                card(entry.record.card_id)
                any_new |= logging.take(entry)
            fates.append(None)
        except JinbaError as refused:
            fates.append(refused)
    if any_new:
        logging.computed_anew()
    return fates


@dataclass(frozen=True, slots=True)
class _Logging:
    """A sortie of a locked model that is being logged, with what every entry of it is checked against."""

    session: Session
    model: ModelRow
    sortie: SortieRow
    cards: dict[str, Card]
    weather: WeatherRow | None

    @classmethod
    def of(cls, session: Session, sortie_id: uuid.UUID) -> _Logging:
        sorties = Sorties(session)
        model = Models(session).lock(sorties.model_of(sortie_id))
        sortie = sorties.get(sortie_id)
        cards = cards_of(setup_of(session, sortie.setup_hash))
        return cls(session, model, sortie, cards, sorties.weather(sortie_id))

    def take(self, new: NewEntry) -> bool:
        """Append one entry; false where it is here already."""
        session, sortie, record = self.session, self.sortie, new.record
        check_record(self.cards[record.card_id], record)
        request = {
            "sortie": str(sortie.id),
            "record": to_json(record),
            "replaces": None if new.replaces is None else str(new.replaces),
        }
        existing, asked = once(session, RecordRow, new.id, request)
        if existing is not None:
            return False
        _check_place(session, sortie, record, new.written, new.replaces)
        entry = write_entry(
            session,
            self.model,
            _in_its_wind(record, self.weather),
            record_id=new.id,
            request_hash=asked,
            configuration_id=sortie.configuration_id,
            sortie_id=sortie.id,
            epoch=2 * sortie.number - 1,
            setup_hash=sortie.setup_hash,
            written=new.written,
            replaces=new.replaces,
        )
        if record.card_id == AFTER_FLIGHT:
            flown_with(session, sortie, entry.pack_id)
        if sortie.status == "planned":
            sortie.status = "flying"
        if card(record.card_id).phase is Phase.FLIGHT and record.card_id not in Sorties(session).cards(sortie.id):
            Sorties(session).add_flown(sortie.id, record.card_id)
        session.flush()
        return True

    def computed_anew(self) -> None:
        """Compute again what a landed sortie taught."""
        if self.sortie.status == "landed":
            log_changed(self.session, self.model, since=self.sortie.number)


def _in_its_wind(record: CardRecord, weather: WeatherRow | None) -> CardRecord:
    """Return a flight record with the wind the sortie was planned in, where nobody said another one."""
    flown = record.conditions
    if weather is None or flown.wind_mps is not None or card(record.card_id).phase is not Phase.FLIGHT:
        return record
    return replace(record, conditions=replace(flown, wind_mps=weather.wind_mps, gust_mps=weather.gust_mps))


def _check_place(
    session: Session, sortie: SortieRow, record: CardRecord, written: Written, replaces: uuid.UUID | None
) -> None:
    flight = card(record.card_id).phase is Phase.FLIGHT
    unplanned = flight and record.card_id not in Sorties(session).cards(sortie.id)
    if unplanned and len(record.note.strip()) < SHORTEST_REASON:
        raise RefusedError(
            f"{record.card_id} was not planned for this sortie. Say in a few words in its note why it was flown."
        )
    if sortie.status == "called_off":
        raise RefusedError(f"Sortie {sortie.number} was called off. Plan it again, then log it there.")
    if replaces is not None:
        _check_correction(session, sortie, record, replaces)
        return
    late = written.seen is not None and sortie.landed_order is not None and written.seen < sortie.landed_order
    if sortie.status == "landed" and flight and not sortie.alone and not late:
        raise RefusedError(
            "This sortie has landed. Correct an entry in its debrief, plan the next one, or log from memory by flying alone."
        )


def _check_correction(session: Session, sortie: SortieRow, record: CardRecord, replaces: uuid.UUID) -> None:
    corrected = Log(session).get(replaces)
    if corrected.sortie_id != sortie.id or corrected.card_id != record.card_id:
        raise RefusedError(
            f"A correction of {record.card_id} replaces an entry of {record.card_id} in the same sortie."
        )
    newer = next((r for r in Log(session).of_sortie(sortie.id) if r.RecordRow.replaces_id == replaces), None)
    if newer is not None:
        raise RefusedError("This entry was already corrected. Load the page again and correct the newer one.")
