"""The log of a model: records with their readings, and the choices between entries of two devices."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Sequence
from typing import Any

from sqlalchemy import Select, func, select
from sqlalchemy.orm import Session

from jinba.persistence.orm import DeviceRow, PackRow, ReadingRow, RecordChoiceRow, RecordRow
from jinba.persistence.repositories.models import NotFoundError


class Log:
    """Records in the order of the log."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def _entries(self) -> Select[Any]:
        chosen = (
            select(func.max(RecordChoiceRow.order)).where(RecordChoiceRow.record_id == RecordRow.id).scalar_subquery()
        )
        return (
            select(RecordRow, chosen.label("chosen"), PackRow.name.label("pack"), DeviceRow.name.label("device_name"))
            .outerjoin(PackRow, PackRow.id == RecordRow.pack_id)
            .outerjoin(DeviceRow, DeviceRow.id == RecordRow.device_id)
        )

    def of_model(self, model_id: uuid.UUID) -> Sequence[Any]:
        """Return every record of a model in the order of the log, each with its choice, pack and device name."""
        query = self._entries().where(RecordRow.model_id == model_id).order_by(RecordRow.order)
        return self.session.execute(query).all()

    def of_sortie(self, sortie_id: uuid.UUID) -> Sequence[Any]:
        """Return the records of a sortie in the order of the log."""
        query = self._entries().where(RecordRow.sortie_id == sortie_id).order_by(RecordRow.order)
        return self.session.execute(query).all()

    def of_card(self, model_id: uuid.UUID, card_id: str) -> Sequence[Any]:
        """Return every record of one card of a model in the order of the log."""
        query = self._entries().where(RecordRow.model_id == model_id, RecordRow.card_id == card_id)
        return self.session.execute(query.order_by(RecordRow.order)).all()

    def of_ids(self, record_ids: Iterable[uuid.UUID]) -> Sequence[Any]:
        """Return some records in the order of the log."""
        query = self._entries().where(RecordRow.id.in_(list(record_ids))).order_by(RecordRow.order)
        return self.session.execute(query).all()

    def newest_epochs(self, model_id: uuid.UUID) -> Sequence[Any]:
        """Return of each card of a model the records of the newest epoch in which it was done."""
        ranked = (
            select(
                RecordRow.id,
                func.rank().over(partition_by=RecordRow.card_id, order_by=RecordRow.epoch.desc()).label("rank"),
            )
            .where(RecordRow.model_id == model_id)
            .subquery()
        )
        query = self._entries().join(ranked, ranked.c.id == RecordRow.id).where(ranked.c.rank == 1)
        return self.session.execute(query.order_by(RecordRow.order)).all()

    def get(self, record_id: uuid.UUID) -> RecordRow:
        """Return a record. Raises: NotFoundError."""
        row = self.session.get(RecordRow, record_id)
        if row is None:
            raise NotFoundError("This entry is not here.", record=str(record_id))
        return row

    def readings(self, record_ids: Iterable[uuid.UUID]) -> dict[uuid.UUID, list[ReadingRow]]:
        """Return the readings of records, in the order in which they were entered."""
        query = select(ReadingRow).where(ReadingRow.record_id.in_(list(record_ids)))
        found: dict[uuid.UUID, list[ReadingRow]] = {}
        for row in self.session.scalars(query.order_by(ReadingRow.record_id, ReadingRow.position)):
            found.setdefault(row.record_id, []).append(row)
        return found
