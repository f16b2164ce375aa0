"""Everything that was logged of a model: to be read, as a table, sortie by sortie, and two of them side by side."""

from __future__ import annotations

import uuid
from dataclasses import fields

from fastapi import APIRouter, Response

from jinba.api.deps import DbDep
from jinba.api.schemas.models import Diary, DiaryLine
from jinba.core.cards.catalogue import CARDS
from jinba.services import diary, retold

router = APIRouter(prefix="/api/v1", tags=["ledger"])


@router.get("/models/{model_id}/diary", operation_id="getDiary")
def get_diary(model_id: uuid.UUID, db: DbDep) -> Diary:
    """Return everything that was logged of a model, the newest first."""
    return Diary(lines=[_line(s) for s in db.read(lambda s: diary.diary(s, model_id))])


def _line(said: diary.Said) -> DiaryLine:
    entry, card_id = said.entry, said.entry.record.card_id
    return DiaryLine(
        **{f.name: getattr(entry, f.name) for f in fields(entry)},
        sortie_id=said.sortie_id,
        sortie_number=said.sortie_number,
        title=CARDS[card_id].title if card_id in CARDS else "",
    )


@router.get("/models/{model_id}/readings.csv", operation_id="readingsOut", response_class=Response)
def readings_out(model_id: uuid.UUID, db: DbDep) -> Response:
    """Return every reading of a model as a table, in the units of the cards."""
    table = db.read(lambda s: diary.readings_table(s, model_id))
    headers = {"Content-Disposition": 'attachment; filename="readings.csv"'}
    return Response(table, media_type="text/csv; charset=utf-8", headers=headers)


@router.get("/models/{model_id}/retold", operation_id="getRetold")
def get_retold(model_id: uuid.UUID, db: DbDep) -> tuple[retold.Retold, ...]:
    """Return what each landed sortie was flown with and in, its trims as it landed and what it showed, oldest first."""
    return db.read(lambda s: retold.retold(s, model_id))


@router.get("/sorties/{sortie_id}/beside/{other_id}", operation_id="compareSorties")
def compare_sorties(sortie_id: uuid.UUID, other_id: uuid.UUID, db: DbDep) -> retold.Comparison:
    """Return two landed sorties side by side, of one model or of two."""
    return db.read(lambda s: retold.compare(s, sortie_id, other_id))
