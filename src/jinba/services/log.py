"""The log: rows to entries and back, the logged sorties of a model, and the one way to write an entry."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from sqlalchemy.orm import Session

from jinba.core.cards.incident import INCIDENT
from jinba.core.cards.log import Counted, Entry, of_sortie, said
from jinba.core.cards.model import CardRecord, Conditions, Confidence, GearState, Outcome, Reading
from jinba.core.controls.switches import FlightMode
from jinba.core.diagnose.sorties import LoggedSortie
from jinba.core.frames import Response
from jinba.formats.codec import to_json
from jinba.formats.upgrade import ENTRY_VERSION
from jinba.persistence.orm import ModelRow, ReadingRow, RecordRow
from jinba.persistence.repositories import Log, Models, Packs, Sorties
from jinba.services.setups import setups_of


@dataclass(frozen=True, slots=True)
class Written:
    """Who wrote an entry, when by the device's own clock, and the newest place in the log it knew of.

    ``offset_s``: what to add to the device's clock, measured when the entry was sent. [s]
    """

    device: uuid.UUID | None = None
    device_name: str = ""
    by: str = ""
    made_at: datetime | None = None
    offset_s: float = 0.0
    seen: int | None = None

    @property
    def flown_at(self) -> datetime | None:
        """When it was made, by the database's clock."""
        return None if self.made_at is None else self.made_at + timedelta(seconds=self.offset_s)


@dataclass(frozen=True, slots=True)
class LoggedEntry:
    """An entry with what a person wants to know of it: who logged it on which device, when flown, when it arrived.

    ``contested``: another device said otherwise, not knowing of it, and nobody has chosen yet.
    """

    id: uuid.UUID
    record: CardRecord
    counts: bool
    replaced: bool
    replaces: uuid.UUID | None
    contested: bool
    logged_by: str
    device: uuid.UUID | None
    device_name: str
    flown_at: datetime | None
    recorded_at: datetime


@dataclass(frozen=True, slots=True)
class ToWrite:
    """A checked entry on its way into the log: what was asked for (``request_hash``) and where it belongs."""

    id: uuid.UUID
    record: CardRecord
    request_hash: str | None
    configuration_id: uuid.UUID
    sortie_id: uuid.UUID | None
    epoch: int
    setup_hash: str
    written: Written
    replaces: uuid.UUID | None = None


def write_entries(session: Session, model: ModelRow, entries: Sequence[ToWrite]) -> list[RecordRow]:
    """Append records to the log of a locked model, in their order."""
    models = Models(session)
    for w in {e.written.device: e.written for e in entries}.values():
        if w.device is not None:
            models.device(model.owner_id, w.device, name=w.device_name, clock_offset_s=w.offset_s)
    packs = {n: Packs(session).by_name(model.owner_id, n).id for n in {e.record.conditions.pack for e in entries} if n}
    rows = [
        _record_row(model, e, order, packs) for e, order in zip(entries, models.draw_orders(len(entries)), strict=True)
    ]
    session.add_all(rows)
    session.flush()
    session.add_all(_reading_row(e.id, i, r) for e in entries for i, r in enumerate(e.record.readings))
    if rows:
        model.log_order = rows[-1].order
    session.flush()
    return rows


def write_entry(session: Session, model: ModelRow, entry: ToWrite) -> RecordRow:
    """Append one record to the log of a locked model."""
    return write_entries(session, model, (entry,))[0]


def as_asked(record: CardRecord) -> Any:
    """Return a record as the request that asked for it: what versions before did not know of is left out where it says nothing.

    A phone that asks again after an upgrade asks for the same.
    """
    asked = to_json(record)
    for reading in asked["readings"]:
        if not reading["telemetry"]:
            del reading["telemetry"]
    return asked


def _record_row(model: ModelRow, new: ToWrite, order: int, packs: Mapping[str, uuid.UUID]) -> RecordRow:
    record, written, c = new.record, new.written, new.record.conditions
    return RecordRow(
        id=new.id,
        order=order,
        model_id=model.id,
        configuration_id=new.configuration_id,
        sortie_id=new.sortie_id,
        epoch=new.epoch,
        card_id=record.card_id,
        outcome=record.outcome.value,
        left_alone=record.left_alone,
        confidence=record.confidence.value,
        from_memory=record.from_memory,
        note=record.note,
        setup_hash=new.setup_hash,
        replaces_id=new.replaces,
        throttle=c.throttle,
        flap=c.flap,
        gear=None if c.gear is None else c.gear.value,
        stabiliser_mode=None if c.mode is None else c.mode.value,
        wind_mps=c.wind_mps,
        gust_mps=c.gust_mps,
        pack_id=packs.get(c.pack),
        device_id=written.device,
        logged_by=written.by,
        seen_order=written.seen,
        schema_version=ENTRY_VERSION,
        request_hash=new.request_hash,
        made_at=written.made_at,
        flown_at=written.flown_at,
    )


def _reading_row(record_id: uuid.UUID, position: int, r: Reading) -> ReadingRow:
    return ReadingRow(
        record_id=record_id,
        position=position,
        measure=r.key,
        number=r.number,
        choice=r.choice,
        direction=None if r.direction is None else r.direction.value,
        nothing=r.none,
        as_entered=r.entered,
        telemetry=r.telemetry,
    )


def entries_of(session: Session, rows: Sequence[Any], *, with_readings: bool = True) -> list[Entry]:
    """Return the entries of rows of the log; without readings where only outcomes matter."""
    readings = Log(session).readings(r.RecordRow.id for r in rows) if with_readings and rows else {}
    return [_entry(r, readings.get(r.RecordRow.id, [])) for r in rows]


def _entry(row: Any, readings: Iterable[ReadingRow]) -> Entry:
    r: RecordRow = row.RecordRow
    conditions = Conditions(
        throttle=r.throttle,
        flap=r.flap,
        gear=None if r.gear is None else GearState(r.gear),
        mode=None if r.stabiliser_mode is None else FlightMode(r.stabiliser_mode),
        wind_mps=r.wind_mps,
        gust_mps=r.gust_mps,
        pack=row.pack or "",
    )
    record = CardRecord(
        card_id=r.card_id,
        outcome=Outcome(r.outcome),
        readings=tuple(_reading(x) for x in readings),
        left_alone=r.left_alone,
        confidence=Confidence(r.confidence),
        from_memory=r.from_memory,
        note=r.note,
        conditions=conditions,
    )
    return Entry(
        id=str(r.id),
        order=r.order,
        epoch=r.epoch,
        record=record,
        device="" if r.device_id is None else str(r.device_id),
        seen=r.seen_order,
        replaces=None if r.replaces_id is None else str(r.replaces_id),
        chosen=row.chosen,
    )


def _reading(row: ReadingRow) -> Reading:
    direction = None if row.direction is None else Response(row.direction)
    return Reading(row.measure, row.number, row.choice, direction, row.nothing, row.as_entered, row.telemetry)


def logged_entries(session: Session, sortie_id: uuid.UUID) -> tuple[list[LoggedEntry], tuple[Counted, ...]]:
    """Return every entry of a sortie in the order of the log, and of each card what counts."""
    rows = Log(session).of_sortie(sortie_id)
    entries = entries_of(session, rows)
    counted = of_sortie(entries)
    return logged_of(rows, entries, counted), counted


def rival_entries(session: Session, counted: Iterable[Counted]) -> list[LoggedEntry]:
    """Return the entries of cards of which two devices say different things, in the order of the log."""
    contested = [c for c in counted if c.rivals]
    entries = [e for c in contested for e in (c.entry, *c.rivals)]
    if not entries:
        return []
    rows = Log(session).of_ids(uuid.UUID(e.id) for e in entries)
    by_id = {e.id: e for e in entries}
    return logged_of(rows, [by_id[str(r.RecordRow.id)] for r in rows], contested)


def logged_of(rows: Sequence[Any], entries: Sequence[Entry], counted: Sequence[Counted]) -> list[LoggedEntry]:
    """Return entries of rows of the log as a person wants to see them; ``counted``: what counts of each of their cards.

    Of incidents each one counts that was not corrected.
    """
    counts = {c.entry.id for c in counted} | {e.id for e in said(entries) if e.record.card_id == INCIDENT}
    rivals = {e.id for c in counted if c.rivals for e in (c.entry, *c.rivals)}
    replaced = {e.replaces for e in entries}
    return [
        LoggedEntry(
            id=r.RecordRow.id,
            record=e.record,
            counts=e.id in counts,
            replaced=e.id in replaced,
            replaces=r.RecordRow.replaces_id,
            contested=e.id in rivals,
            logged_by=r.RecordRow.logged_by,
            device=r.RecordRow.device_id,
            device_name=r.device_name or "",
            flown_at=r.RecordRow.flown_at,
            recorded_at=r.RecordRow.recorded_at,
        )
        for r, e in zip(rows, entries, strict=True)
    ]


@dataclass(frozen=True, slots=True)
class SortieLog:
    """A landed sortie as it is computed from: what counts, and everything said in it and after it, repeats included."""

    id: uuid.UUID
    number: int
    setup_hash: str
    logged: LoggedSortie
    looked_after: tuple[CardRecord, ...]
    counted_ids: tuple[str, ...]
    looked_ids: tuple[str, ...]


def sortie_logs(session: Session, model_id: uuid.UUID) -> list[SortieLog]:
    """Return the landed sorties of a model with what counts of their logs, in the order of flying."""
    landed = Sorties(session).landed(model_id)
    setups = setups_of(session, (s.setup_hash for s in landed))
    by_sortie: dict[uuid.UUID, list[Entry]] = {}
    on_ground: dict[int, list[Entry]] = {}
    rows = Log(session).of_model(model_id)
    for row, entry in zip(rows, entries_of(session, rows), strict=True):
        if row.RecordRow.sortie_id is not None:
            by_sortie.setdefault(row.RecordRow.sortie_id, []).append(entry)
        else:
            on_ground.setdefault(entry.epoch // 2, []).append(entry)
    found = []
    for s in landed:
        entries = by_sortie.get(s.id, [])
        replaced = {e.replaces for e in entries}
        counted = of_sortie(entries)
        happened = said(e for e in on_ground.get(s.number, []) if e.record.card_id == INCIDENT)
        records = (*(c.record for c in counted), *(e.record for e in happened))
        logged = LoggedSortie(setups[s.setup_hash], records)
        looked = (*(e for e in entries if e.id not in replaced), *on_ground.get(s.number, []))
        ids = tuple(f"{c.entry.id}:{len(c.rivals)}" for c in counted)
        found.append(
            SortieLog(
                s.id, s.number, s.setup_hash, logged, tuple(e.record for e in looked), ids, tuple(e.id for e in looked)
            )
        )
    return found
