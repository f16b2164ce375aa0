"""Everything that was said of a model, in the order of the log: to be read in the ledger, and as a table."""

from __future__ import annotations

import uuid
from dataclasses import dataclass

from sqlalchemy.orm import Session

from jinba.core.cards.log import newest, of_sortie
from jinba.formats.reading_table import LoggedRow, write_readings
from jinba.persistence.repositories import Log, Models, Sorties
from jinba.services.log import LoggedEntry, entries_of, logged_of


@dataclass(frozen=True, slots=True)
class Said:
    """A logged card with the sortie it belongs to; None: the bench and the ground."""

    sortie_id: uuid.UUID | None
    sortie_number: int | None
    entry: LoggedEntry


def diary(session: Session, model_id: uuid.UUID) -> list[Said]:
    """Return everything that was logged of a model, the newest first, repeats and corrected entries included.

    Raises: NotFoundError.
    """
    Models(session).get(model_id)
    numbers = {s.id: s.number for s in Sorties(session).lines(model_id)}
    rows = Log(session).of_model(model_id)
    entries = entries_of(session, rows)
    by_sortie: dict[uuid.UUID | None, list[int]] = {}
    for i, row in enumerate(rows):
        by_sortie.setdefault(row.RecordRow.sortie_id, []).append(i)
    said: dict[int, Said] = {}
    for sortie_id, places in by_sortie.items():
        of_one = [entries[i] for i in places]
        # On bench and ground the newest epoch decides, as it does for the plan.
        counted = tuple(newest(of_one).values()) if sortie_id is None else of_sortie(of_one)
        logged = logged_of([rows[i] for i in places], of_one, counted)
        for i, entry in zip(places, logged, strict=True):
            said[i] = Said(sortie_id, None if sortie_id is None else numbers.get(sortie_id), entry)
    return [said[i] for i in sorted(said, reverse=True)]


def readings_table(session: Session, model_id: uuid.UUID) -> str:
    """Return every reading of a model as a table, in the order of the log. Raises: NotFoundError."""
    return write_readings(
        LoggedRow(
            sortie=s.sortie_number,
            time=s.entry.flown_at or s.entry.recorded_at,
            record=s.entry.record,
            counts=s.entry.counts,
            logged_by=s.entry.logged_by or s.entry.device_name,
        )
        for s in reversed(diary(session, model_id))
    )
