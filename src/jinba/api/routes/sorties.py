"""Flying, debrief, rework, ledger, project files."""

from __future__ import annotations

import uuid

from fastapi import APIRouter, Query, Request, Response
from starlette.concurrency import run_in_threadpool

from jinba.api.deps import SessionDep
from jinba.api.routes.models import detail, work_order_view
from jinba.api.schemas.models import AcceptRework, LogRecord, ModelDetail, Proof, Rework, SortieDetail, WorkOrder
from jinba.core.airframe.layout import pitch_control_of
from jinba.core.cards.catalogue import cards_for
from jinba.core.cards.model import CardRecord
from jinba.core.configuration import Configuration
from jinba.core.correct.compose import Choices
from jinba.core.plan.weather import Wind
from jinba.formats.archive import LARGEST_BYTES, ArchiveError
from jinba.formats.codec import from_json
from jinba.persistence.database import unit_of_work
from jinba.services import archive, bench, debrief, fly, ledger, rework

router = APIRouter(prefix="/api/v1", tags=["sorties"])


def _sortie(session: SessionDep, sortie_id: uuid.UUID) -> SortieDetail:
    row, records = fly.get_sortie(session, sortie_id)
    cards = cards_for(pitch_control_of(from_json(Configuration, row.setup).airframe))
    after = [c for c in cards if c.startswith("A")]
    return SortieDetail(
        id=row.id,
        model_id=row.model_id,
        number=row.number,
        status=row.status,
        alone=row.alone,
        simulated=row.simulated,
        cards=[cards[c] for c in [*row.card_ids, *after] if c in cards],
        records=[from_json(CardRecord, r.record) for r in records],
        wind=None if row.wind is None else from_json(Wind, row.wind),
        pack_minutes=from_json(Configuration, row.setup).pack_minutes,
        started_at=records[0].recorded_at if records else row.created_at,
    )


@router.get("/sorties/{sortie_id}", operation_id="getSortie")
def get_sortie(sortie_id: uuid.UUID, session: SessionDep) -> SortieDetail:
    """Return a sortie with its cards and what is logged."""
    return _sortie(session, sortie_id)


@router.post("/sorties/{sortie_id}/records", operation_id="logCard")
def log_card(sortie_id: uuid.UUID, body: LogRecord, session: SessionDep) -> SortieDetail:
    """Append a record; the same id twice is one record."""
    fly.log_card(session, sortie_id, record_id=body.id, record=body.record)
    return _sortie(session, sortie_id)


@router.post("/sorties/{sortie_id}/stand-in", operation_id="standInFlies")
def stand_in(sortie_id: uuid.UUID, session: SessionDep) -> SortieDetail:
    """Let the simulated model fly what is not logged yet, and land."""
    fly.stand_in_flies(session, sortie_id)
    return _sortie(session, sortie_id)


@router.post("/sorties/{sortie_id}/land", operation_id="landSortie")
def land(sortie_id: uuid.UUID, session: SessionDep) -> SortieDetail:
    """End a sortie."""
    fly.land(session, sortie_id)
    return _sortie(session, sortie_id)


@router.get("/sorties/{sortie_id}/debrief", operation_id="getDebrief")
def get_debrief(sortie_id: uuid.UUID, session: SessionDep) -> debrief.Debrief:
    """Return what a landed sortie means."""
    return debrief.debrief(session, sortie_id)


@router.get("/models/{model_id}/rework", operation_id="getRework")
def get_rework(
    model_id: uuid.UUID,
    session: SessionDep,
    battery_m: float | None = Query(None, ge=-5, le=5),
    use_ballast: bool = True,
    use_tip_ballast: bool = True,
    use_thrust_line: bool = True,
) -> Rework:
    """Return the composed correction for the pilot's choices, with the predicted outcome."""
    known = bench.history(session, model_id)
    c = rework.propose(known, Choices(battery_m, use_ballast, use_tip_ballast, use_thrust_line))
    c, decided = rework.with_decision(known, c), rework.decided_order(known)
    return Rework(
        actions=list(c.actions),
        held_back=list(c.held_back),
        setup=c.configuration,
        flown_setup=rework.flown_setup(known),
        now=list(c.now),
        predicted=list(c.predicted),
        change_words=list(c.difference.words),
        stale=sorted(c.difference.stale),
        wanted_margin=c.wanted_margin,
        shortfall_m=c.shortfall_m,
        decided=None if decided is None else work_order_view(decided, known),
    )


@router.post("/models/{model_id}/rework", operation_id="acceptRework", status_code=201)
def accept_rework(model_id: uuid.UUID, body: AcceptRework, session: SessionDep) -> ModelDetail:
    """Accept the correction: next configuration and work order."""
    rework.accept(session, model_id, order_id=body.id, choices=body.choices)
    return detail(bench.history(session, model_id))


@router.post("/work-orders/{order_id}/proofs", operation_id="proveAction")
def prove(order_id: uuid.UUID, body: Proof, session: SessionDep) -> WorkOrder:
    """Tick one action with the reading that proves it."""
    row = rework.prove(session, order_id, index=body.index, reading=body.reading)
    return work_order_view(row, bench.history(session, row.model_id))


@router.get("/models/{model_id}/board", operation_id="getBoard")
def get_board(model_id: uuid.UUID, session: SessionDep) -> ledger.Board:
    """Return the convergence board."""
    return ledger.board(bench.history(session, model_id))


@router.get("/models/{model_id}/archive", operation_id="exportModel", response_class=Response)
def export_model(model_id: uuid.UUID, session: SessionDep) -> Response:
    """Return the project file of a model with its whole history."""
    name, data = archive.export_model(session, model_id)
    return Response(
        data, media_type="application/zip", headers={"Content-Disposition": f'attachment; filename="{name}"'}
    )


@router.post(
    "/archives",
    operation_id="importModel",
    status_code=201,
    openapi_extra={
        "requestBody": {
            "content": {"application/zip": {"schema": {"type": "string", "format": "binary"}}},
            "required": True,
        }
    },
)
async def import_model(request: Request) -> ModelDetail:
    """Add a model from a project file. A bad one gives a clear error and changes nothing."""
    data = bytearray()
    async for part in request.stream():
        data += part
        if len(data) > LARGEST_BYTES:
            raise ArchiveError("This file is larger than 20 MB; a project file never is.")
    return await run_in_threadpool(_import, request, bytes(data))


def _import(request: Request, data: bytes) -> ModelDetail:
    with unit_of_work(request.app.state.sessions) as session:
        model = archive.import_model(session, data)
        return detail(bench.history(session, model.id))
