"""Queries, one class per noun. They take a session, return rows, and know nothing of the web."""

from __future__ import annotations

import uuid
from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from jinba.core.errors import UnknownKeyError
from jinba.persistence.orm import (
    AnalysisRow,
    ConfigurationRow,
    ModelRow,
    OwnerRow,
    RecordRow,
    RevisionRow,
    SortieRow,
    WorkOrderRow,
)


class NotFoundError(UnknownKeyError):
    """A record that does not exist (or belongs to somebody else)."""

    code = "not-found"


class Models:
    """Models with their configurations and revisions."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def owner(self) -> OwnerRow:
        """Return the only owner, made on first use."""
        row = self.session.scalars(select(OwnerRow).limit(1)).first()
        if row is None:
            row = OwnerRow(id=uuid.uuid4(), name="me")
            self.session.add(row)
            self.session.flush()
        return row

    def all(self) -> Sequence[ModelRow]:
        """Return all models, oldest first."""
        return self.session.scalars(select(ModelRow).order_by(ModelRow.created_at)).all()

    def get(self, model_id: uuid.UUID) -> ModelRow:
        """Return a model. Raises: NotFoundError."""
        row = self.session.get(ModelRow, model_id)
        if row is None:
            raise NotFoundError(
                "This model is not here. It may have been deleted; go back to the shelf.", model=str(model_id)
            )
        return row

    def configuration(self, model_id: uuid.UUID) -> ConfigurationRow:
        """Return the newest configuration of a model."""
        query = (
            select(ConfigurationRow)
            .where(ConfigurationRow.model_id == model_id)
            .order_by(ConfigurationRow.number.desc())
        )
        row = self.session.scalars(query.limit(1)).first()
        if row is None:
            raise NotFoundError("This model has no configuration.", model=str(model_id))
        return row

    def configurations(self, model_id: uuid.UUID) -> Sequence[ConfigurationRow]:
        """Return all configurations, oldest first."""
        return self.session.scalars(
            select(ConfigurationRow).where(ConfigurationRow.model_id == model_id).order_by(ConfigurationRow.number)
        ).all()

    def revision(self, configuration: ConfigurationRow, number: int | None = None) -> RevisionRow:
        """Return a revision of a configuration, the current one by default."""
        wanted = configuration.current_revision if number is None else number
        query = select(RevisionRow).where(
            RevisionRow.configuration_id == configuration.id, RevisionRow.number == wanted
        )
        row = self.session.scalars(query).first()
        if row is None:
            raise NotFoundError("There is nothing further in this direction to undo or redo.", revision=wanted)
        return row

    def drop_after(self, configuration: ConfigurationRow) -> None:
        """Forget revisions beyond the current one: an edit after undo starts a new line."""
        query = select(RevisionRow).where(
            RevisionRow.configuration_id == configuration.id, RevisionRow.number > configuration.current_revision
        )
        for row in self.session.scalars(query):
            self.session.delete(row)
        self.session.flush()


class Sorties:
    """Sorties, their records, analyses and work orders."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def of_model(self, model_id: uuid.UUID) -> Sequence[SortieRow]:
        """Return the sorties of a model in order."""
        return self.session.scalars(
            select(SortieRow).where(SortieRow.model_id == model_id).order_by(SortieRow.number)
        ).all()

    def get(self, sortie_id: uuid.UUID) -> SortieRow:
        """Return a sortie. Raises: NotFoundError."""
        row = self.session.get(SortieRow, sortie_id)
        if row is None:
            raise NotFoundError("This sortie is not here.", sortie=str(sortie_id))
        return row

    def records(self, sortie_id: uuid.UUID) -> Sequence[RecordRow]:
        """Return the records of a sortie in the order they were logged."""
        return self.session.scalars(
            select(RecordRow).where(RecordRow.sortie_id == sortie_id).order_by(RecordRow.recorded_at)
        ).all()

    def record(self, record_id: uuid.UUID) -> RecordRow | None:
        """Return a record by its client-made id, or None."""
        return self.session.get(RecordRow, record_id)

    def records_of_model(self, model_id: uuid.UUID) -> Sequence[RecordRow]:
        """Return every record of a model in the order of logging."""
        return self.session.scalars(
            select(RecordRow).where(RecordRow.model_id == model_id).order_by(RecordRow.recorded_at)
        ).all()

    def analysis(self, sortie_id: uuid.UUID) -> AnalysisRow | None:
        """Return the stored debrief of a sortie, or None."""
        return self.session.scalars(select(AnalysisRow).where(AnalysisRow.sortie_id == sortie_id)).first()

    def work_orders(self, model_id: uuid.UUID) -> Sequence[WorkOrderRow]:
        """Return the work orders of a model, oldest first."""
        return self.session.scalars(
            select(WorkOrderRow).where(WorkOrderRow.model_id == model_id).order_by(WorkOrderRow.created_at)
        ).all()

    def work_order(self, order_id: uuid.UUID) -> WorkOrderRow:
        """Return a work order. Raises: NotFoundError."""
        row = self.session.get(WorkOrderRow, order_id)
        if row is None:
            raise NotFoundError("This work order is not here.", work_order=str(order_id))
        return row
