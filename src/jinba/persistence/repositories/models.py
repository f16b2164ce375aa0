"""Models with their configurations and revisions."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import delete, func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from jinba.core.errors import UnknownKeyError
from jinba.persistence.orm import LOG_ORDER, ConfigurationRow, DeviceRow, ModelRow, OwnerRow, RevisionRow

_ONE_OWNER = uuid.UUID("00000000-0000-4000-8000-000000000001")


class NotFoundError(UnknownKeyError):
    """A record that does not exist (or belongs to somebody else)."""

    code = "not-found"


@dataclass(frozen=True, slots=True)
class ShelfLine:
    """A model on the shelf with the hash of its present setup."""

    id: uuid.UUID
    name: str
    story: str
    read_only: bool
    rehearsal: bool
    put_away: bool
    setup_hash: str


class Models:
    """Models with their configurations and revisions."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def owner_id(self) -> uuid.UUID:
        """Return the only owner, made on first use; two first uses at once make one."""
        owner = self.only_owner()
        self.session.execute(insert(OwnerRow).values(id=owner, name="me").on_conflict_do_nothing())
        return owner

    def only_owner(self) -> uuid.UUID:
        """Return the id of the only owner, also before there is one."""
        found = self.session.scalars(select(OwnerRow.id).order_by(OwnerRow.id).limit(1)).first()
        return _ONE_OWNER if found is None else found

    def shelf(self) -> list[ShelfLine]:
        """Return all models, oldest first."""
        newest = (
            select(ConfigurationRow.model_id, func.max(ConfigurationRow.number).label("number"))
            .group_by(ConfigurationRow.model_id)
            .subquery()
        )
        query = (
            select(
                ModelRow.id,
                ModelRow.name,
                ModelRow.story,
                ModelRow.read_only,
                ModelRow.rehearsal,
                ModelRow.put_away_at.is_not(None),
                RevisionRow.setup_hash,
            )
            .join(newest, newest.c.model_id == ModelRow.id)
            .join(
                ConfigurationRow,
                (ConfigurationRow.model_id == ModelRow.id) & (ConfigurationRow.number == newest.c.number),
            )
            .join(RevisionRow, RevisionRow.id == ConfigurationRow.current_revision_id)
            .order_by(ModelRow.created_at, ModelRow.id)
        )
        return [ShelfLine(*row) for row in self.session.execute(query)]

    def ids(self) -> Sequence[uuid.UUID]:
        """Return the ids of all models, oldest first."""
        return self.session.scalars(select(ModelRow.id).order_by(ModelRow.created_at)).all()

    def get(self, model_id: uuid.UUID) -> ModelRow:
        """Return a model. Raises: NotFoundError."""
        return self._found(self.session.get(ModelRow, model_id), model_id)

    def lock(self, model_id: uuid.UUID) -> ModelRow:
        """Return a model, locked to the end of the transaction: the first thing every writing use case does.

        Whoever writes to the same model waits here, then sees what the one before has written. Raises: NotFoundError.
        """
        query = select(ModelRow).where(ModelRow.id == model_id).with_for_update()
        row = self.session.scalars(query.execution_options(populate_existing=True)).first()
        return self._found(row, model_id)

    def delete(self, model_id: uuid.UUID) -> None:
        """Delete a model; everything that hangs on it goes with it. Its setups stay: another model may have the same."""
        self.session.execute(delete(ModelRow).where(ModelRow.id == model_id))
        self.session.expire_all()

    def _found(self, row: ModelRow | None, model_id: uuid.UUID) -> ModelRow:
        if row is None:
            raise NotFoundError(
                "This model is not here. It may have been deleted; go back to the shelf.", model=str(model_id)
            )
        return row

    def names(self, owner_id: uuid.UUID) -> set[str]:
        """Return the names on the shelf of an owner, who is locked: nobody takes a free one meanwhile."""
        self.session.execute(select(OwnerRow.id).where(OwnerRow.id == owner_id).with_for_update())
        return set(self.session.scalars(select(ModelRow.name)))

    def configurations(self, model_id: uuid.UUID) -> Sequence[ConfigurationRow]:
        """Return all configurations, oldest first."""
        query = select(ConfigurationRow).where(ConfigurationRow.model_id == model_id).order_by(ConfigurationRow.number)
        return self.session.scalars(query).all()

    def present_hash(self, model_id: uuid.UUID) -> str:
        """Return the hash of the setup a model has now."""
        query = (
            select(RevisionRow.setup_hash)
            .join(ConfigurationRow, ConfigurationRow.current_revision_id == RevisionRow.id)
            .where(ConfigurationRow.model_id == model_id)
        )
        return self.session.scalars(query.order_by(ConfigurationRow.number.desc()).limit(1)).one()

    def revision(self, revision_id: uuid.UUID) -> RevisionRow:
        """Return a revision by its id."""
        return self.session.scalars(select(RevisionRow).where(RevisionRow.id == revision_id)).one()

    def revisions(self, configuration_id: uuid.UUID) -> Sequence[RevisionRow]:
        """Return every revision of a configuration that was ever saved, in the order of saving."""
        query = select(RevisionRow).where(RevisionRow.configuration_id == configuration_id)
        return self.session.scalars(query.order_by(RevisionRow.number)).all()

    def next_of(self, revision_id: uuid.UUID) -> RevisionRow | None:
        """Return the revision that a redo leads to: the newest one made from this, None when there is none."""
        query = select(RevisionRow).where(RevisionRow.parent_id == revision_id).order_by(RevisionRow.number.desc())
        return self.session.scalars(query.limit(1)).first()

    def next_number(self, configuration_id: uuid.UUID) -> int:
        """Return the number of the next revision of a configuration; a number is never used again."""
        query = select(func.max(RevisionRow.number)).where(RevisionRow.configuration_id == configuration_id)
        return (self.session.scalar(query) or 0) + 1

    def draw_order(self) -> int:
        """Return the next place in the order of the log."""
        return int(self.session.execute(select(LOG_ORDER.next_value())).scalar_one())

    def draw_orders(self, count: int) -> list[int]:
        """Return so many next places in the order of the log, rising."""
        drawn = select(LOG_ORDER.next_value()).select_from(func.generate_series(1, count).table_valued("n"))
        return sorted(int(n) for n in self.session.scalars(drawn))

    def device(self, owner_id: uuid.UUID, device_id: uuid.UUID, *, name: str, clock_offset_s: float) -> None:
        """Note a device and how far its clock is off, as measured at this exchange."""
        values = {"id": device_id, "owner_id": owner_id, "name": name, "clock_offset_s": clock_offset_s}
        changed = {"name": name, "clock_offset_s": clock_offset_s}
        query = insert(DeviceRow).values(**values).on_conflict_do_update(index_elements=["id"], set_=changed)
        self.session.execute(query)
