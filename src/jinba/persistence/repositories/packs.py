"""Packs, the one that is to fly, and what flights took from them."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from typing import Any

from sqlalchemy import or_, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from jinba.persistence.orm import ModelRow, PackFittedRow, PackFlightRow, PackRow, SortieRow
from jinba.persistence.repositories.models import NotFoundError


class Packs:
    """The packs of a shelf."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def all(self) -> Sequence[PackRow]:
        """Return every pack by its name."""
        return self.session.scalars(select(PackRow).order_by(PackRow.name, PackRow.id)).all()

    def get(self, pack_id: uuid.UUID) -> PackRow:
        """Return a pack. Raises: NotFoundError."""
        found = self.session.scalars(select(PackRow).where(PackRow.id == pack_id)).first()
        if found is None:
            raise NotFoundError("This pack is not here.", pack=str(pack_id))
        return found

    def by_name(self, owner_id: uuid.UUID, name: str) -> PackRow:
        """Return a pack by the name written on it, noted on first use."""
        fresh = {"id": uuid.uuid4(), "owner_id": owner_id, "name": name}
        self.session.execute(insert(PackRow).values(**fresh).on_conflict_do_nothing())
        query = select(PackRow).where(PackRow.owner_id == owner_id, PackRow.name == name)
        return self.session.scalars(query).one()

    def take(self, owner_id: uuid.UUID, pack_id: uuid.UUID, name: str) -> PackRow | None:
        """Return the pack of an id, locked, made when it is new; None where another one has the name."""
        fresh = {"id": pack_id, "owner_id": owner_id, "name": name}
        self.session.execute(insert(PackRow).values(**fresh).on_conflict_do_nothing())
        named = select(PackRow.id).where(PackRow.owner_id == owner_id, PackRow.name == name, PackRow.id != pack_id)
        if self.session.scalars(named).first() is not None:
            return None
        return self.lock(pack_id)

    def lock(self, pack_id: uuid.UUID) -> PackRow:
        """Return a pack, locked to the end of the transaction. Raises: NotFoundError."""
        query = select(PackRow).where(PackRow.id == pack_id).with_for_update()
        row = self.session.scalars(query.execution_options(populate_existing=True)).first()
        if row is None:
            raise NotFoundError("This pack is not here.", pack=str(pack_id))
        return row

    def flight(self, flight_id: uuid.UUID) -> PackFlightRow | None:
        """Return a line of a pack's history, or None."""
        return self.session.scalars(select(PackFlightRow).where(PackFlightRow.id == flight_id)).first()

    def fitted(self, model_id: uuid.UUID) -> PackFittedRow | None:
        """Return the pack that was named last to fly a model, or None."""
        query = select(PackFittedRow).where(PackFittedRow.model_id == model_id)
        return self.session.scalars(query.order_by(PackFittedRow.id.desc()).limit(1)).first()

    def full_throttle_a(self, model_id: uuid.UUID) -> float | None:
        """Return the current at full throttle that was measured last on a model [A], or None."""
        query = select(PackFittedRow.full_throttle_a).where(
            PackFittedRow.model_id == model_id, PackFittedRow.full_throttle_a.is_not(None)
        )
        return self.session.scalars(query.order_by(PackFittedRow.id.desc()).limit(1)).first()

    def typed(self, pack_ids: Sequence[uuid.UUID]) -> Sequence[PackFlightRow]:
        """Return the flights of packs that were typed, and what was put back after sorties, in the order they came."""
        query = select(PackFlightRow).where(PackFlightRow.pack_id.in_(pack_ids))
        return self.session.scalars(query.order_by(PackFlightRow.created_at, PackFlightRow.id)).all()

    def put_back(self, sortie_id: uuid.UUID) -> PackFlightRow | None:
        """Return what was put back after a sortie, or None."""
        return self.session.scalars(select(PackFlightRow).where(PackFlightRow.sortie_id == sortie_id)).first()

    def sorties(self, model_id: uuid.UUID | None, pack_ids: Sequence[uuid.UUID]) -> Sequence[Any]:
        """Return landed sorties of a model, and of any model with one of these packs, in the order they landed: the row, the name of
        the model and whether it is a rehearsal, and what was put back."""
        query = (
            select(
                SortieRow,
                ModelRow.name.label("model_name"),
                ModelRow.rehearsal.label("rehearsal"),
                PackFlightRow.put_back_c,
            )
            .join(ModelRow, ModelRow.id == SortieRow.model_id)
            .outerjoin(PackFlightRow, PackFlightRow.sortie_id == SortieRow.id)
            .where(
                SortieRow.status == "landed",
                SortieRow.pack_id.is_not(None),
                or_(SortieRow.model_id == model_id, SortieRow.pack_id.in_(pack_ids)),
            )
            .order_by(SortieRow.landed_order)
        )
        return self.session.execute(query).all()
