"""What a telemetry link tells while a card is flown."""

from __future__ import annotations

import uuid
from typing import Annotated

from fastapi import APIRouter, Query

from jinba.api.deps import DbDep
from jinba.api.schemas.telemetry import TelemetryView

router = APIRouter(prefix="/api/v1", tags=["sorties"])

LONGEST_S = 3600.0
"""A card that is watched for longer has been forgotten [s]."""


@router.get("/sorties/{sortie_id}/telemetry", operation_id="getTelemetry")
def telemetry(
    sortie_id: uuid.UUID,
    db: DbDep,
    card_id: Annotated[str, Query(max_length=8)],
    seconds: Annotated[float, Query(ge=0.0, le=LONGEST_S)] = LONGEST_S,
) -> TelemetryView:
    """Return what the link tells of a card so many seconds after it was begun, and which of its measures that gives."""
    # Loaded when it is wanted: the compiler behind the simulated flight takes a second.
    from jinba.services import telemetry as link

    # The first look at a rehearsal draws what is wrong with its model, and keeps it.
    return TelemetryView.model_validate(db.write(lambda s: link.told(s, sortie_id, card_id, seconds)))
