"""Work orders with their actions and proofs."""

from __future__ import annotations

import uuid
from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from jinba.persistence.orm import ProofRow, SignOffRow, WorkOrderActionRow, WorkOrderRow
from jinba.persistence.repositories.models import NotFoundError


class Orders:
    """Work orders of models."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def of_model(self, model_id: uuid.UUID) -> Sequence[WorkOrderRow]:
        """Return the work orders of a model, oldest first."""
        query = select(WorkOrderRow).where(WorkOrderRow.model_id == model_id)
        return self.session.scalars(query.order_by(WorkOrderRow.order)).all()

    def newest(self, model_id: uuid.UUID) -> WorkOrderRow | None:
        """Return the newest work order of a model that was not taken back, or None."""
        query = select(WorkOrderRow).where(WorkOrderRow.model_id == model_id, WorkOrderRow.taken_back_at.is_(None))
        return self.session.scalars(query.order_by(WorkOrderRow.order.desc()).limit(1)).first()

    def get(self, order_id: uuid.UUID) -> WorkOrderRow:
        """Return a work order. Raises: NotFoundError."""
        row = self.session.get(WorkOrderRow, order_id)
        if row is None:
            raise NotFoundError("This work order is not here.", work_order=str(order_id))
        return row

    def actions(self, order_id: uuid.UUID) -> Sequence[WorkOrderActionRow]:
        """Return the actions of a work order in the order of work."""
        query = select(WorkOrderActionRow).where(WorkOrderActionRow.work_order_id == order_id)
        return self.session.scalars(query.order_by(WorkOrderActionRow.position)).all()

    def proofs(self, order_id: uuid.UUID) -> Sequence[ProofRow]:
        """Return every proof of a work order in the order of entry."""
        query = select(ProofRow).where(ProofRow.work_order_id == order_id)
        return self.session.scalars(query.order_by(ProofRow.order)).all()

    def sign_offs(self, model_id: uuid.UUID) -> Sequence[SignOffRow]:
        """Return every time a model was signed off, oldest first, those taken back included."""
        query = select(SignOffRow).where(SignOffRow.model_id == model_id)
        return self.session.scalars(query.order_by(SignOffRow.order)).all()

    def sign_off(self, sign_off_id: uuid.UUID) -> SignOffRow:
        """Return one signing off. Raises: NotFoundError."""
        row = self.session.get(SignOffRow, sign_off_id)
        if row is None:
            raise NotFoundError("This was never signed off here.", sign_off=str(sign_off_id))
        return row
