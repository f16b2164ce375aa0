"""Photos of incidents and of work that was done."""

from __future__ import annotations

import uuid
from typing import Annotated

from fastapi import APIRouter, Query, Response

from jinba.api.deps import DbDep, UploadDep
from jinba.formats.photo import LARGEST_BYTES, read_photo
from jinba.services import photos
from jinba.services.photos import Of, PhotoLine

router = APIRouter(prefix="/api/v1", tags=["photos"])

_IMAGE = {"schema": {"type": "string", "format": "binary"}}


@router.get("/models/{model_id}/photos", operation_id="listPhotos")
def list_photos(model_id: uuid.UUID, db: DbDep) -> list[PhotoLine]:
    """Return the photos of a model, oldest first."""
    return list(db.read(lambda s: photos.photos_of(s, model_id)))


@router.put(
    "/models/{model_id}/photos/{photo_id}",
    operation_id="addPhoto",
    max_body_size=LARGEST_BYTES,
    openapi_extra={"requestBody": {"content": {"image/*": _IMAGE}, "required": True}},
)
def add_photo(
    model_id: uuid.UUID,
    photo_id: uuid.UUID,
    data: UploadDep,
    db: DbDep,
    record_id: uuid.UUID | None = None,
    work_order_id: uuid.UUID | None = None,
    position: Annotated[int | None, Query(ge=0, le=100)] = None,
    caption: Annotated[str, Query(max_length=120)] = "",
) -> list[PhotoLine]:
    """Add a photo of an incident, or of an action of a work order; return all of the model."""
    # Made smaller before anything is locked for it.
    of, photo = Of(record_id, work_order_id, position), read_photo(data)
    return list(
        db.write(lambda s: photos.add_photo(s, model_id, photo_id=photo_id, photo=photo, of=of, caption=caption))
    )


@router.delete("/photos/{photo_id}", operation_id="takePhotoBack")
def take_photo_back(photo_id: uuid.UUID, db: DbDep) -> list[PhotoLine]:
    """Take a photo back; return those that are left."""
    return list(db.write(lambda s: photos.take_back(s, photo_id)))


@router.get(
    "/photos/{photo_id}/image",
    operation_id="photoImage",
    response_class=Response,
    responses={200: {"content": {"image/jpeg": _IMAGE}}},
)
def photo_image(photo_id: uuid.UUID, db: DbDep) -> Response:
    """Return a photo."""
    # Under its id a photo never changes: it may be kept, and is looked at offline.
    headers = {"Cache-Control": "private, max-age=31536000, immutable"}
    return Response(db.read(lambda s: photos.jpeg_of(s, photo_id)), media_type="image/jpeg", headers=headers)
