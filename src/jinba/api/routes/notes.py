"""Notes: what is noticed on a flight, with a photo or a voice."""

from __future__ import annotations

import uuid
from typing import Annotated

from fastapi import APIRouter, Path, Response

from jinba.api.deps import DbDep, UploadDep
from jinba.api.routes.models import written_of
from jinba.api.routes.sorties import sortie_view
from jinba.api.schemas.models import GoneThrough, NewNote, SortieDetail
from jinba.formats import photo, voice
from jinba.services import notes
from jinba.services.notes import NoteLine

router = APIRouter(prefix="/api/v1", tags=["notes"])

_BINARY = {"schema": {"type": "string", "format": "binary"}}
SortieId = Annotated[uuid.UUID, Path()]


@router.get("/models/{model_id}/notes", operation_id="listNotes")
def list_notes(model_id: uuid.UUID, db: DbDep) -> list[NoteLine]:
    """Return what was noticed on the flights of a model, oldest first."""
    return list(db.read(lambda s: notes.notes_of(s, model_id)))


@router.post("/sorties/{sortie_id}/notes", operation_id="noteIt")
def note_it(sortie_id: SortieId, body: NewNote, db: DbDep) -> SortieDetail:
    """Keep what was noticed on a sortie; the same id and content twice is one note."""
    written = written_of(body.written)
    db.write(
        lambda s: notes.note(
            s,
            sortie_id,
            note_id=body.id,
            what=body.what,
            words=body.words,
            card_id=body.card_id,
            written=written,
        )
    )
    return sortie_view(db, sortie_id)


@router.put(
    "/sorties/{sortie_id}/notes/photo",
    operation_id="addNotePhoto",
    max_body_size=photo.LARGEST_BYTES,
    openapi_extra={"requestBody": {"content": {"image/*": _BINARY}, "required": True}},
)
def add_photo(sortie_id: SortieId, note_id: uuid.UUID, data: UploadDep, db: DbDep) -> SortieDetail:
    """Add the photo of a note; the same twice is one."""
    taken = photo.read_photo(data)
    db.write(lambda s: notes.attach(s, sortie_id, note_id, taken))
    return sortie_view(db, sortie_id)


@router.put(
    "/sorties/{sortie_id}/notes/voice",
    operation_id="addNoteVoice",
    max_body_size=voice.LARGEST_BYTES,
    openapi_extra={"requestBody": {"content": {"audio/*": _BINARY}, "required": True}},
)
def add_voice(sortie_id: SortieId, note_id: uuid.UUID, data: UploadDep, db: DbDep) -> SortieDetail:
    """Add the voice of a note; the same twice is one."""
    spoken = voice.read_voice(data)
    db.write(lambda s: notes.attach(s, sortie_id, note_id, spoken))
    return sortie_view(db, sortie_id)


@router.get(
    "/voices/{voice_id}/sound",
    operation_id="voiceSound",
    response_class=Response,
    responses={200: {"content": {"audio/webm": _BINARY, "audio/ogg": _BINARY, "audio/mp4": _BINARY}}},
)
def sound(voice_id: uuid.UUID, db: DbDep) -> Response:
    """Return a voice note."""
    content, media_type = db.read(lambda s: notes.voice_of(s, voice_id))
    # Under its id it never changes: it may be kept, and is listened to offline.
    headers = {"Cache-Control": "private, max-age=31536000, immutable"}
    return Response(content, media_type=media_type, headers=headers)


@router.post("/notes/{note_id}/found", operation_id="goThroughNote")
def go_through(note_id: uuid.UUID, body: GoneThrough, db: DbDep) -> list[NoteLine]:
    """Say what a note was; with no words it is open again. Return the notes of the model."""
    return list(db.write(lambda s: notes.go_through(s, note_id, found=body.found)))


@router.delete("/notes/{note_id}", operation_id="takeNoteBack")
def take_back(note_id: uuid.UUID, db: DbDep) -> list[NoteLine]:
    """Take a note back; its photo and voice go. Return those of the model that are left."""
    return list(db.write(lambda s: notes.take_back(s, note_id)))
