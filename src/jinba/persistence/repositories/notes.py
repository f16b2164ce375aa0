"""Notes of what was noticed, with their photo and their voice."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Sequence
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from jinba.persistence.orm import AttachmentContentRow, AttachmentRow, DeviceRow, NoteRow
from jinba.persistence.repositories.models import NotFoundError


class Notes:
    """Reads notes and what hangs on them."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def get(self, note_id: uuid.UUID) -> NoteRow:
        """Return a note, also one that was taken back. Raises: NotFoundError."""
        row = self.session.scalar(select(NoteRow).where(NoteRow.id == note_id))
        if row is None:
            raise NotFoundError("This note is not here.", note=str(note_id))
        return row

    def of_model(self, model_id: uuid.UUID) -> Sequence[Any]:
        """Return (NoteRow, device_name) of a model that were not taken back, in the order of the log."""
        return self._listed(NoteRow.model_id == model_id)

    def of_sortie(self, sortie_id: uuid.UUID) -> Sequence[Any]:
        """Return (NoteRow, device_name) of a sortie that were not taken back, in the order of the log."""
        return self._listed(NoteRow.sortie_id == sortie_id)

    def _listed(self, condition: Any) -> Sequence[Any]:
        query = select(NoteRow, DeviceRow.name.label("device_name")).outerjoin(DeviceRow)
        return self.session.execute(
            query.where(condition, NoteRow.taken_back_at.is_(None)).order_by(NoteRow.order)
        ).all()

    def attached(self, note_ids: Iterable[uuid.UUID]) -> dict[tuple[uuid.UUID, str], AttachmentRow]:
        """Return what hangs on notes, by note and kind."""
        rows = self.session.scalars(select(AttachmentRow).where(AttachmentRow.note_id.in_(tuple(note_ids))))
        return {(r.note_id, r.kind): r for r in rows if r.note_id is not None and r.taken_back_at is None}

    def voice_bytes(self, model_id: uuid.UUID) -> int:
        """Return how much the voice notes of a model take."""
        of_model = (AttachmentRow.model_id == model_id, AttachmentRow.kind == "voice")
        query = select(func.sum(AttachmentRow.bytes)).where(*of_model, AttachmentRow.taken_back_at.is_(None))
        return int(self.session.scalar(query) or 0)

    def content(self, attachment_id: uuid.UUID, kind: str) -> tuple[bytes, str]:
        """Return the bytes of an attachment and their media type. Raises: NotFoundError, also for one that was taken back."""
        row = self.session.scalar(
            select(AttachmentRow).where(AttachmentRow.id == attachment_id, AttachmentRow.kind == kind)
        )
        kept = None if row is None else self.session.get(AttachmentContentRow, attachment_id)
        if row is None or kept is None:
            raise NotFoundError("This is not here, or it was taken back.", attachment=str(attachment_id))
        return kept.content, row.media_type

    def forget(self, attachment: AttachmentRow) -> None:
        """Let the bytes of an attachment go."""
        kept = self.session.get(AttachmentContentRow, attachment.id)
        if kept is not None:
            self.session.delete(kept)
