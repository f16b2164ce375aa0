"""Papers and tables: balance sheet and marking template as PDF and SVG, the day as iCalendar, items as CSV."""

from __future__ import annotations

import uuid
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Response
from pydantic import AwareDatetime

from jinba.api.deps import DbDep, IfMatch, UploadDep
from jinba.api.routes.models import detail
from jinba.api.schemas.models import ModelDetail
from jinba.api.units import UnitsDep
from jinba.formats.item_table import LARGEST_BYTES
from jinba.formats.paper import Sheet, to_pdf, to_svg
from jinba.services import papers

router = APIRouter(prefix="/api/v1", tags=["papers"])
Kind = Literal["pdf", "svg"]


def paper(sheet: Sheet, kind: Kind, file: str) -> Response:
    """Return a sheet as the kind of file asked for."""
    content = to_pdf(sheet) if kind == "pdf" else to_svg(sheet).encode()
    media = "application/pdf" if kind == "pdf" else "image/svg+xml"
    return Response(content, media_type=media, headers={"Content-Disposition": f'inline; filename="{file}.{kind}"'})


@router.get("/models/{model_id}/balance-sheet.{kind}", operation_id="balanceSheet", response_class=Response)
def balance_sheet(model_id: uuid.UUID, kind: Kind, db: DbDep, units: UnitsDep) -> Response:
    """Return the balance sheet on one page."""
    return paper(papers.sheet_of(db.history(model_id), units), kind, "balance-sheet")


@router.get("/models/{model_id}/marking-template.{kind}", operation_id="markingTemplate", response_class=Response)
def marking_template(
    model_id: uuid.UUID, kind: Kind, db: DbDep, units: UnitsDep, y_m: float | None = Query(None, ge=0, le=12)
) -> Response:
    """Return the marking template at one to one, for a distance from the centre line."""
    return paper(papers.template_of(db.history(model_id), units, y_m=y_m), kind, "marking-template")


@router.get("/models/{model_id}/sortie-cards.pdf", operation_id="sortieCards", response_class=Response)
def sortie_cards(model_id: uuid.UUID, db: DbDep, units: UnitsDep) -> Response:
    """Return the briefing and the cards of the sortie that is open, else of the next one, an A5 page each."""
    sheets = db.read(lambda s: papers.cards_of(s, model_id, units))
    headers = {"Content-Disposition": 'inline; filename="sortie-cards.pdf"'}
    return Response(to_pdf(*sheets), media_type="application/pdf", headers=headers)


@router.get("/models/{model_id}/day.ics", operation_id="fieldDay", response_class=Response)
def field_day(
    model_id: uuid.UUID,
    db: DbDep,
    units: UnitsDep,
    begins: AwareDatetime,
    hours: Annotated[float, Query(gt=0, le=24)] = 2.0,
) -> Response:
    """Return the day of the next sortie as iCalendar, from a moment on."""
    day = papers.day_of(db.history(model_id), begins=begins, hours=hours, units=units)
    headers = {"Content-Disposition": 'attachment; filename="field-day.ics"'}
    return Response(day, media_type="text/calendar; charset=utf-8", headers=headers)


@router.get("/models/{model_id}/items.csv", operation_id="itemsOut", response_class=Response)
def items_out(model_id: uuid.UUID, db: DbDep) -> Response:
    """Return the items as a table in grams and millimetres."""
    table = papers.items_out(db.history(model_id))
    headers = {"Content-Disposition": 'attachment; filename="items.csv"'}
    return Response(table, media_type="text/csv; charset=utf-8", headers=headers)


@router.put(
    "/models/{model_id}/items.csv",
    operation_id="itemsIn",
    max_body_size=LARGEST_BYTES,
    openapi_extra={"requestBody": {"content": {"text/csv": {"schema": {"type": "string"}}}, "required": True}},
)
def items_in(model_id: uuid.UUID, data: UploadDep, db: DbDep, version: IfMatch = None) -> ModelDetail:
    """Replace the items by those of a table; nothing is changed when it cannot be read."""
    return detail(db.write(lambda s: papers.items_in(s, model_id, data, version=version)))
