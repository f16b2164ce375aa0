"""The end of a test programme: criteria, signing off, the hand-over sheet."""

from __future__ import annotations

import uuid

from fastapi import APIRouter, Response

from jinba.api.deps import DbDep
from jinba.api.routes.models import created, detail
from jinba.api.routes.papers import Kind, paper
from jinba.api.schemas.models import ModelDetail, NewSignOff
from jinba.api.units import UnitsDep
from jinba.services import papers
from jinba.services import sign_off as service
from jinba.services.sign_off import HandOver

router = APIRouter(prefix="/api/v1", tags=["sign-off"])


@router.get("/models/{model_id}/hand-over", operation_id="getHandOver")
def get_hand_over(model_id: uuid.UUID, db: DbDep) -> HandOver:
    """Return what has to be so before the model is handed over, and whether it was."""
    return service.hand_over(db.history(model_id))


@router.post("/models/{model_id}/sign-offs", operation_id="signOff", status_code=201)
def sign_off(model_id: uuid.UUID, body: NewSignOff, db: DbDep, response: Response) -> ModelDetail:
    """Hand the model over as it landed; what is missing needs a reason. The same id and content twice is one."""
    known = db.write(
        lambda s: service.sign_off(s, model_id, sign_off_id=body.id, by=body.signed_by, remark=body.remark)
    )
    return created(response, known, at=f"/api/v1/models/{model_id}/hand-over")


@router.delete("/sign-offs/{sign_off_id}", operation_id="takeBackSignOff")
def take_back(sign_off_id: uuid.UUID, db: DbDep) -> ModelDetail:
    """Take a signing off back; twice is once."""
    return detail(db.write(lambda s: service.take_back(s, sign_off_id)))


@router.get("/models/{model_id}/hand-over.{kind}", operation_id="handOverSheet", response_class=Response)
def hand_over_sheet(model_id: uuid.UUID, kind: Kind, db: DbDep, units: UnitsDep) -> Response:
    """Return the hand-over sheet on one page."""
    return paper(db.read(lambda s: papers.hand_over_of(s, model_id, units)), kind, "hand-over-sheet")
