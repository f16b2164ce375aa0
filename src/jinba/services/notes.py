"""Notes: what is noticed on a flight, with a photo or a voice; gone through, or taken back."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from hashlib import sha256
from typing import Any

from sqlalchemy.orm import Session

from jinba.core.cards.catalogue import card
from jinba.core.cards.noticed import Note, note_words, noticed
from jinba.core.errors import RefusedError, check_text
from jinba.formats.photo import Photo
from jinba.formats.voice import MOST_NOTES, MOST_VOICE_BYTES, Voice
from jinba.persistence.once import ConflictError, once
from jinba.persistence.orm import AttachmentContentRow, AttachmentRow, ModelRow, NoteRow
from jinba.persistence.repositories import Models, Notes, Sorties
from jinba.services.log import Written
from jinba.services.photos import check_room

SHORTEST_FOUND = 3
LONGEST_WORDS = 500


@dataclass(frozen=True, slots=True)
class NoteLine:
    """A note as it is shown. ``said``: its one line; ``look``: what is to be looked at, where one tap said what it was; ``open``: nobody
    has gone through it."""

    id: uuid.UUID
    sortie_id: uuid.UUID | None
    card_id: str
    what: str
    words: str
    said: str
    look: str
    photo_id: uuid.UUID | None
    voice_id: uuid.UUID | None
    noted_by: str
    device_name: str
    made_at: datetime
    found: str
    open: bool


def note(
    session: Session,
    sortie_id: uuid.UUID,
    *,
    note_id: uuid.UUID,
    what: str = "",
    words: str = "",
    card_id: str = "",
    written: Written | None = None,
) -> None:
    """Keep what was noticed on a sortie; the same id and content twice is one note.

    A photo and a voice are added to it (:func:`attach`). Raises: UnknownKeyError, ConflictError, RefusedError for one too many.
    """
    written = written or Written()
    said = check_text("words", words.strip(), longest=LONGEST_WORDS)
    if what:
        noticed(what)
    if card_id:
        card(card_id)
    sorties, models = Sorties(session), Models(session)
    model = models.lock(sorties.model_of(sortie_id))
    request = {"sortie": str(sortie_id), "what": what, "words": said, "card": card_id}
    existing, asked = once(session, NoteRow, note_id, request)
    if existing is not None:
        return
    if len(Notes(session).of_model(model.id)) >= MOST_NOTES:
        raise RefusedError(f"{model.name} has {MOST_NOTES} notes. Take some back before another is added.")
    _keep_device(session, model, written)
    row = NoteRow(
        id=note_id,
        model_id=model.id,
        sortie_id=sortie_id,
        card_id=card_id,
        what=what,
        words=said,
        noted_by=written.by,
        device_id=written.device,
        request_hash=asked,
        made_at=written.flown_at,
    )
    session.add(row)
    session.flush()


def keep(session: Session, row: NoteRow, *things: Photo | Voice | None) -> None:
    """Write a note that was read and checked, with what hangs on it."""
    session.add(row)
    session.flush()
    for thing in things:
        if thing is not None:
            _write(session, row, thing)


def _keep_device(session: Session, model: ModelRow, written: Written) -> None:
    if written.device is not None:
        Models(session).device(
            model.owner_id, written.device, name=written.device_name, clock_offset_s=written.offset_s
        )


def attach(session: Session, sortie_id: uuid.UUID, note_id: uuid.UUID, thing: Photo | Voice) -> None:
    """Add the photo or the voice of a note; the same bytes twice is once, one that was taken back meanwhile is let go.

    Raises: NotFoundError, RefusedError for one too many, ConflictError for another of its kind.
    """
    notes = Notes(session)
    model = Models(session).lock(Sorties(session).model_of(sortie_id))
    row = notes.get(note_id)
    if row.sortie_id != sortie_id:
        raise RefusedError("This note belongs to another sortie. Load the page again.")
    if row.taken_back_at is not None:
        return
    kind, content, _ = _parts(thing)
    before = notes.attached((note_id,)).get((note_id, kind))
    asked = sha256(content).hexdigest()
    if before is not None:
        if before.content_hash != asked:
            raise ConflictError("This note has another one already. Note it anew; nothing was overwritten.")
        return
    if isinstance(thing, Photo):
        check_room(session, model)
    elif notes.voice_bytes(model.id) + len(content) > MOST_VOICE_BYTES:
        raise RefusedError(f"The voice notes of {model.name} take all the room there is for them. Take one back first.")
    _write(session, row, thing)


def _parts(thing: Photo | Voice) -> tuple[str, bytes, str]:
    return ("photo", thing.jpeg, "image/jpeg") if isinstance(thing, Photo) else ("voice", thing.sound, thing.media_type)


def _write(session: Session, row: NoteRow, thing: Photo | Voice) -> None:
    kind, content, media_type = _parts(thing)
    attachment = AttachmentRow(
        id=uuid.uuid4(),
        model_id=row.model_id,
        sortie_id=row.sortie_id,
        note_id=row.id,
        kind=kind,
        media_type=media_type,
        bytes=len(content),
        width=thing.width if isinstance(thing, Photo) else 0,
        height=thing.height if isinstance(thing, Photo) else 0,
        content_hash=sha256(content).hexdigest(),
    )
    session.add(attachment)
    session.flush()
    session.add(AttachmentContentRow(attachment_id=attachment.id, content=content))
    session.flush()


def go_through(session: Session, note_id: uuid.UUID, *, found: str) -> tuple[NoteLine, ...]:
    """Say what a note was when it was gone through, or open it again with no words; return the notes of the model.

    Raises: NotFoundError, RefusedError for words that say nothing, errors of the text.
    """
    notes = Notes(session)
    row = notes.get(note_id)
    Models(session).lock(row.model_id)
    session.refresh(row)
    words = check_text("found", found.strip(), longest=LONGEST_WORDS)
    if words and len(words) < SHORTEST_FOUND:
        raise RefusedError("Say in a few words what it was, or what was found.")
    row.found, row.looked_at = words, datetime.now(UTC) if words else None
    session.flush()
    return notes_of(session, row.model_id)


def take_back(session: Session, note_id: uuid.UUID) -> tuple[NoteLine, ...]:
    """Take a note back that was made by mistake; its photo and voice go. Twice is once. Returns the notes of the model."""
    notes = Notes(session)
    row = notes.get(note_id)
    Models(session).lock(row.model_id)
    session.refresh(row)
    if row.taken_back_at is None:
        row.taken_back_at = datetime.now(UTC)
        for attachment in notes.attached((note_id,)).values():
            attachment.taken_back_at = row.taken_back_at
            notes.forget(attachment)
        session.flush()
    return notes_of(session, row.model_id)


def notes_of(session: Session, model_id: uuid.UUID) -> tuple[NoteLine, ...]:
    """Return the notes of a model, oldest first. Raises: NotFoundError without the model."""
    Models(session).get(model_id)
    return _lines(session, Notes(session).of_model(model_id))


def notes_of_sortie(session: Session, sortie_id: uuid.UUID) -> tuple[NoteLine, ...]:
    """Return the notes of a sortie, oldest first."""
    return _lines(session, Notes(session).of_sortie(sortie_id))


def voice_of(session: Session, voice_id: uuid.UUID) -> tuple[bytes, str]:
    """Return the sound of a voice note and its media type. Raises: NotFoundError, also for one that was taken back."""
    return Notes(session).content(voice_id, "voice")


def content_of(session: Session, line: NoteLine) -> tuple[bytes | None, bytes | None]:
    """Return the bytes of a note's photo and of its voice, None for what it has not."""
    notes = Notes(session)
    photo = None if line.photo_id is None else notes.content(line.photo_id, "photo")[0]
    voice = None if line.voice_id is None else notes.content(line.voice_id, "voice")[0]
    return photo, voice


def as_noted(line: NoteLine) -> Note:
    """Return a note as the core reads it."""
    return Note(line.what, line.words, line.card_id, line.photo_id is not None, line.voice_id is not None, line.found)


def _lines(session: Session, rows: Sequence[Any]) -> tuple[NoteLine, ...]:
    attached = Notes(session).attached(r.NoteRow.id for r in rows) if rows else {}
    return tuple(_line(r.NoteRow, r.device_name or "", attached) for r in rows)


def _line(row: NoteRow, device_name: str, attached: dict[tuple[uuid.UUID, str], AttachmentRow]) -> NoteLine:
    photo, voice = attached.get((row.id, "photo")), attached.get((row.id, "voice"))
    as_core = Note(row.what, row.words, row.card_id, photo is not None, voice is not None, row.found)
    return NoteLine(
        id=row.id,
        sortie_id=row.sortie_id,
        card_id=row.card_id,
        what=row.what,
        words=row.words,
        said=note_words(as_core),
        look=noticed(row.what).look if row.what else "",
        photo_id=None if photo is None else photo.id,
        voice_id=None if voice is None else voice.id,
        noted_by=row.noted_by,
        device_name=device_name,
        made_at=row.made_at or row.noted_at,
        found=row.found,
        open=as_core.open,
    )
