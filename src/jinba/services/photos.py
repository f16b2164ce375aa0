"""Photos of what went wrong and of work that was done: added, looked at, taken back."""

from __future__ import annotations

import uuid
from dataclasses import dataclass
from datetime import UTC, datetime
from hashlib import sha256

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from jinba.core.cards.incident import INCIDENT
from jinba.core.errors import RefusedError, check_text
from jinba.formats.photo import MOST, Photo
from jinba.persistence.once import once
from jinba.persistence.orm import AttachmentContentRow, AttachmentRow, ModelRow, RecordRow
from jinba.persistence.repositories import Models, Orders
from jinba.persistence.repositories.models import NotFoundError


@dataclass(frozen=True, slots=True)
class PhotoLine:
    """A photo that is there: of which incident's record, or of which action of which work order; size in pixels."""

    id: uuid.UUID
    record_id: uuid.UUID | None
    work_order_id: uuid.UUID | None
    position: int | None
    caption: str
    width: int
    height: int
    added_at: datetime


@dataclass(frozen=True, slots=True)
class Of:
    """What a photo shows: an incident, by its record, or an action, by its order and place."""

    record_id: uuid.UUID | None = None
    work_order_id: uuid.UUID | None = None
    position: int | None = None


def add_photo(
    session: Session, model_id: uuid.UUID, *, photo_id: uuid.UUID, photo: Photo, of: Of, caption: str = ""
) -> tuple[PhotoLine, ...]:
    """Add a photo and return all of the model; adding the same twice is adding it once.

    Raises: RefusedError for what is not there, a model that is read-only, or one that has :data:`MOST`.
    """
    model = Models(session).lock(model_id)
    words = check_text("caption", caption.strip(), longest=120)
    asked = {
        "model": str(model_id),
        "record": str(of.record_id),
        "order": str(of.work_order_id),
        "position": of.position,
        "caption": words,
        "sha256": sha256(photo.jpeg).hexdigest(),
    }
    existing, request = once(session, AttachmentRow, photo_id, asked)
    if existing is not None:
        return photos_of(session, model_id)
    if model.read_only:
        raise RefusedError(f"{model.name} is kept read-only: it can be looked at, not changed.")
    check_room(session, model)
    seen = _checked(session, model_id, of)
    keep(session, model_id, photo, of=seen, caption=words, photo_id=photo_id, request=request)
    return photos_of(session, model_id)


def keep(
    session: Session,
    model_id: uuid.UUID,
    photo: Photo,
    *,
    of: Of,
    caption: str,
    photo_id: uuid.UUID,
    request: str | None = None,
    added_at: datetime | None = None,
) -> None:
    """Write a photo that was read and checked."""
    row = AttachmentRow(
        id=photo_id,
        model_id=model_id,
        record_id=of.record_id,
        work_order_id=of.work_order_id,
        position=of.position,
        kind="photo",
        media_type="image/jpeg",
        bytes=len(photo.jpeg),
        width=photo.width,
        height=photo.height,
        caption=caption,
        content_hash=sha256(photo.jpeg).hexdigest(),
        request_hash=request,
    )
    if added_at is not None:
        row.added_at = added_at
    session.add(row)
    session.flush()
    session.add(AttachmentContentRow(attachment_id=photo_id, content=photo.jpeg))
    session.flush()


def check_room(session: Session, model: ModelRow) -> None:
    """Refuse a photo more than a model keeps, those of notes among them. Raises: RefusedError."""
    there = (AttachmentRow.model_id == model.id, AttachmentRow.kind == "photo", AttachmentRow.taken_back_at.is_(None))
    if (session.scalar(select(func.count()).select_from(AttachmentRow).where(*there)) or 0) >= MOST:
        raise RefusedError(f"{model.name} has {MOST} photos. Take one back before you add another.")


def photos_of(session: Session, model_id: uuid.UUID) -> tuple[PhotoLine, ...]:
    """Return the photos of a model, oldest first; those taken back and those of notes are not among them. Raises: NotFoundError without the model."""
    Models(session).get(model_id)
    query = select(AttachmentRow).where(AttachmentRow.model_id == model_id, AttachmentRow.taken_back_at.is_(None))
    query = query.where(AttachmentRow.kind == "photo", AttachmentRow.note_id.is_(None))
    rows = session.scalars(query.order_by(AttachmentRow.order)).all()
    return tuple(
        PhotoLine(r.id, r.record_id, r.work_order_id, r.position, r.caption, r.width, r.height, r.added_at)
        for r in rows
    )


def jpeg_of(session: Session, photo_id: uuid.UUID) -> bytes:
    """Return the bytes of a photo. Raises: NotFoundError, also for one that was taken back."""
    row = session.get(AttachmentRow, photo_id)
    content = None if row is None else session.get(AttachmentContentRow, photo_id)
    if row is None or content is None:
        raise NotFoundError("This photo is not here.", photo=str(photo_id))
    return content.content


def take_back(session: Session, photo_id: uuid.UUID) -> tuple[PhotoLine, ...]:
    """Take a photo back and return those that are left; its bytes go, that it was there stays. Twice is once."""
    row = session.get(AttachmentRow, photo_id)
    if row is None:
        raise NotFoundError("This photo is not here.", photo=str(photo_id))
    Models(session).lock(row.model_id)
    session.refresh(row)
    if row.taken_back_at is None:
        row.taken_back_at = datetime.now(UTC)
        content = session.get(AttachmentContentRow, photo_id)
        if content is not None:
            session.delete(content)
        session.flush()
    return photos_of(session, row.model_id)


def _checked(session: Session, model_id: uuid.UUID, of: Of) -> Of:
    """Return what a photo shows, an incident by the record that first told of it. Raises: RefusedError."""
    if (of.record_id is None) == (of.work_order_id is None):
        raise RefusedError("Say of what the photo is: an incident, or an action of a work order.")
    if of.record_id is not None:
        row = session.get(RecordRow, of.record_id)
        if row is None or row.model_id != model_id or row.card_id != INCIDENT:
            raise RefusedError("This incident is not in the log of this model. Load the page again.")
        return Of(record_id=first_told(session, row).id)
    assert of.work_order_id is not None
    order = Orders(session).get(of.work_order_id)
    places = {a.position for a in Orders(session).actions(order.id)}
    if order.model_id != model_id or of.position not in places:
        raise RefusedError("This action is not in the work order. Load the page again.")
    return of


def first_told(session: Session, row: RecordRow) -> RecordRow:
    """Return the record that a correction, and what that corrects, began with: what hangs on it stays with every correction."""
    while row.replaces_id is not None:
        before = session.get(RecordRow, row.replaces_id)
        if before is None:
            break
        row = before
    return row
