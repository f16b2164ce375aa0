"""Writing under contention: one way to lock a model, one way to make a thing with a client-made id exactly once."""

from __future__ import annotations

import uuid
from collections.abc import Collection
from typing import Any, TypeVar

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import array
from sqlalchemy.orm import Session

from jinba.core.errors import JinbaError
from jinba.persistence.content import content_hash
from jinba.persistence.orm import AttachmentRow, ModelRow, NoteRow, RecordRow, SignOffRow, SortieRow, WorkOrderRow

Named = TypeVar("Named", AttachmentRow, ModelRow, NoteRow, RecordRow, SignOffRow, SortieRow, WorkOrderRow)


class ConflictError(JinbaError):
    """Somebody wrote in between, or a name is taken; nothing was overwritten."""

    code = "conflict"


def once(session: Session, kind: type[Named], identity: uuid.UUID, request: Any) -> tuple[Named | None, str]:
    """Return (row, hash of the request): the row this id has already named, or None when it is free.

    ``request``: everything the client asked for, as plain JSON. The id is locked to the end of the transaction, so that of
    requests sent at the same time one makes the thing and the others find it made. A row of an earlier version has no
    request to compare. Raises: ConflictError when the id names something that was asked for otherwise.
    """
    row = named(session, kind, (identity,)).get(identity)
    return row, asked_before(row, identity, request)


def named(session: Session, kind: type[Named], identities: Collection[uuid.UUID]) -> dict[uuid.UUID, Named]:
    """Return the rows that ids have already named. The ids are locked to the end of the transaction, in one order for everybody."""
    ids = sorted(str(i) for i in set(identities))
    each = func.unnest(array(ids)).column_valued("identity")
    turns = select(each).order_by(each).subquery()
    session.execute(select(func.pg_advisory_xact_lock(func.hashtextextended(turns.c.identity, 0))))
    query = select(kind).where(kind.id.in_(identities)).execution_options(populate_existing=True)
    return {row.id: row for row in session.scalars(query)}


def asked_before(row: Named | None, identity: uuid.UUID, request: Any) -> str:
    """Return the hash of a request for what an id names. Raises: ConflictError when it names something that was asked for otherwise."""
    asked = content_hash(request)
    if row is not None and row.request_hash not in (None, asked):
        raise ConflictError(
            "This id already names something else. Load the page again and enter it once more; nothing was overwritten.",
            id=str(identity),
        )
    return asked
