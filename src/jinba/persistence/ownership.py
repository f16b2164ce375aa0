"""Whose rows a session sees: every query of a session that has an owner finds that owner's rows alone."""

from __future__ import annotations

import uuid
from functools import lru_cache

from sqlalchemy import event, select
from sqlalchemy.orm import ORMExecuteState, Session, with_loader_criteria
from sqlalchemy.orm.util import LoaderCriteriaOption

from jinba.persistence.orm import DeviceRow, ModelRow, PackFlightRow, PackRow, PairedDeviceRow, PairingCodeRow, SiteRow
from jinba.persistence.orm.base import Base

_OWNER = "owner"
_OWNED = (ModelRow, SiteRow, PackRow, PackFlightRow, DeviceRow, PairingCodeRow, PairedDeviceRow)


def see_only(session: Session, owner_id: uuid.UUID) -> None:
    """Let a session see the rows of one owner only, whatever is asked by whatever id."""
    session.info[_OWNER] = owner_id


def owner_of(session: Session) -> uuid.UUID | None:
    """Return whose rows a session sees, None where it sees all."""
    owner: uuid.UUID | None = session.info.get(_OWNER)
    return owner


@event.listens_for(Session, "do_orm_execute")
def _of_the_owner(state: ORMExecuteState) -> None:
    owner = state.session.info.get(_OWNER)
    if owner is not None and (state.is_select or state.is_update or state.is_delete):
        state.statement = state.statement.options(*_criteria(owner))


@lru_cache(maxsize=256)
def _criteria(owner_id: uuid.UUID) -> tuple[LoaderCriteriaOption, ...]:
    """Return the conditions: a model by its owner, what hangs on a model through it."""
    owned = select(ModelRow.__table__.c.id).where(ModelRow.__table__.c.owner_id == owner_id)
    hanging = [m.class_ for m in Base.registry.mappers if "model_id" in m.columns]
    return (
        *(with_loader_criteria(kind, kind.owner_id == owner_id) for kind in _OWNED),
        *(with_loader_criteria(kind, kind.model_id.in_(owned)) for kind in hanging),
    )
