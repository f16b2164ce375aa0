"""Shelf, bench and plan of a model."""

from __future__ import annotations

import uuid

from fastapi import APIRouter, Query

from jinba.api.deps import SessionDep
from jinba.api.schemas.models import (
    ArrangeRequest,
    BenchView,
    LogRecord,
    ModelDetail,
    MoveDatum,
    NewModel,
    NewSister,
    NewSortie,
    Plan,
    SaveSetup,
    ShelfModel,
    SilhouetteInfo,
    SortieSummary,
    WorkOrder,
)
from jinba.core.airframe.layout import pitch_control_of
from jinba.core.bench.arrange import Arrangements
from jinba.core.bench.controls import stopping_words
from jinba.core.cards.catalogue import cards_for
from jinba.core.configuration import Configuration
from jinba.core.observe.situation import design_of
from jinba.core.plan.weather import Wind
from jinba.core.silhouettes import SILHOUETTES, silhouette_configuration
from jinba.formats.codec import from_json
from jinba.persistence.orm import WorkOrderRow
from jinba.persistence.repositories import Models
from jinba.services import bench, controls, plan, sister, today
from jinba.services.history import History

router = APIRouter(prefix="/api/v1", tags=["models"])


def work_order_view(row: WorkOrderRow, known: History) -> WorkOrder:
    """Return a work order as the web shows it."""
    number = next(c.number for c in known.model.configurations if c.id == row.to_configuration_id)
    return WorkOrder.model_validate(
        {"id": row.id, "actions": row.actions, "proofs": row.proofs, "to_configuration": number}
    )


def detail(known: History) -> ModelDetail:
    """Return a model as every place shows it."""
    row = known.configuration_row
    current, newest = row.current_revision, max(r.number for r in row.revisions)
    flown = any(s.configuration_id == row.id for s in known.sorties)
    numbers = {c.id: c.number for c in known.model.configurations}
    return ModelDetail(
        id=known.model.id,
        name=known.model.name,
        story=known.model.story,
        read_only=known.model.read_only,
        configuration=row.number,
        change_words=row.change_words,
        revision=current,
        can_undo=current > 1 and not flown,
        can_redo=current < newest and not flown,
        setup=known.setup,
        pitch_control=pitch_control_of(known.setup.airframe),
        today=today.today(known),
        sorties=[
            SortieSummary(
                id=s.id,
                number=s.number,
                status=s.status,
                alone=s.alone,
                simulated=s.simulated,
                card_ids=s.card_ids,
                configuration=numbers[s.configuration_id],
                landed_at=s.landed_at,
            )
            for s in known.sorties
        ],
        work_order=work_order_view(known.work_orders[-1], known) if known.work_orders else None,
        stale=sorted(known.stale),
    )


@router.get("/silhouettes", operation_id="listSilhouettes")
def list_silhouettes() -> list[SilhouetteInfo]:
    """Return the starting shapes, each drawn at one metre span."""
    return [
        SilhouetteInfo(
            key=s.key, name=s.name, words=s.words, airframe=silhouette_configuration(s.key, span_m=1.0).airframe
        )
        for s in SILHOUETTES.values()
    ]


@router.get("/models", operation_id="listModels")
def list_models(session: SessionDep) -> list[ShelfModel]:
    """Return the shelf."""
    models = Models(session)
    return [
        ShelfModel(
            id=m.id, name=m.name, story=m.story, read_only=m.read_only, airframe=bench.first_setup(m, models).airframe
        )
        for m in bench.shelf(session)
    ]


@router.post("/models", operation_id="createModel", status_code=201)
def create_model(body: NewModel, session: SessionDep) -> ModelDetail:
    """Start a model from a silhouette; the same id twice is the same model."""
    bench.create_model(session, model_id=body.id, name=body.name, silhouette=body.silhouette, span_m=body.span_m)
    return detail(bench.history(session, body.id))


@router.get("/models/{model_id}", operation_id="getModel")
def get_model(model_id: uuid.UUID, session: SessionDep) -> ModelDetail:
    """Return a model."""
    return detail(bench.history(session, model_id))


@router.post("/models/{model_id}/sisters", operation_id="makeSister", status_code=201)
def make_sister(model_id: uuid.UUID, body: NewSister, session: SessionDep) -> ModelDetail:
    """Start a sister model from this one's airframe and lessons; the same id twice is the same model."""
    sister.make_sister(session, model_id, sister_id=body.id, name=body.name)
    return detail(bench.history(session, body.id))


@router.get("/models/{model_id}/bench", operation_id="getBench")
def get_bench(model_id: uuid.UUID, session: SessionDep) -> BenchView:
    """Return the bench's numbers for the saved setup."""
    known = bench.history(session, model_id)
    return BenchView(answer=bench.answer_for(known, known.setup), flown_battery_x_m=_flown_batteries(known))


@router.post("/models/{model_id}/what-if", operation_id="whatIf")
def what_if(model_id: uuid.UUID, setup: Configuration, session: SessionDep) -> BenchView:
    """Return the bench's numbers for a setup that is not saved, with what the flights have taught."""
    known = bench.history(session, model_id)
    return BenchView(answer=bench.answer_for(known, setup), flown_battery_x_m=_flown_batteries(known))


@router.post("/models/{model_id}/arrangements", operation_id="arrange")
def arrange(model_id: uuid.UUID, body: ArrangeRequest, session: SessionDep) -> Arrangements:
    """Return the best few ways to move what is aboard, or to add ballast, to a balance point. Nothing is stored."""
    known = bench.history(session, model_id)
    return bench.arrange(known, target_x_m=body.target_x_m, tolerance_m=body.tolerance_m, level=body.level)


def _flown_batteries(known: History) -> list[float]:
    flown = [from_json(Configuration, s.setup).battery for s in known.landed]
    return sorted({b.x_m for b in flown if b is not None})


@router.put("/models/{model_id}/setup", operation_id="saveSetup")
def save_setup(model_id: uuid.UUID, body: SaveSetup, session: SessionDep) -> ModelDetail:
    """Save a bench edit; 409 when somebody saved in between."""
    return detail(
        bench.save_setup(session, model_id, base_revision=body.base_revision, setup=body.setup, words=body.words)
    )


@router.post("/models/{model_id}/datum", operation_id="moveDatum")
def move_datum(model_id: uuid.UUID, body: MoveDatum, session: SessionDep) -> ModelDetail:
    """Describe the model from another datum."""
    return detail(
        bench.move_datum(session, model_id, base_revision=body.base_revision, dx_m=body.dx_m, words=body.words)
    )


@router.post("/models/{model_id}/undo", operation_id="undo")
def undo(model_id: uuid.UUID, session: SessionDep) -> ModelDetail:
    """Undo the last bench edit of a configuration that has not flown."""
    return detail(bench.step_revision(session, model_id, by=-1))


@router.post("/models/{model_id}/redo", operation_id="redo")
def redo(model_id: uuid.UUID, session: SessionDep) -> ModelDetail:
    """Redo a bench edit."""
    return detail(bench.step_revision(session, model_id, by=1))


@router.get("/models/{model_id}/plan", operation_id="getPlan")
def get_plan(
    model_id: uuid.UUID,
    session: SessionDep,
    wind_mps: float | None = Query(None, ge=0, le=60),
    gust_mps: float | None = Query(None, ge=0, le=70),
    from_rad: float = Query(0.0, ge=-7, le=7),
    strip_rad: float = Query(0.0, ge=-7, le=7),
) -> Plan:
    """Return the programme for the next sortie and, with a wind, go / caution / no-go."""
    known = bench.history(session, model_id)
    wind = None if wind_mps is None else Wind(wind_mps, wind_mps if gust_mps is None else gust_mps, from_rad, strip_rad)
    programme, verdict = plan.next_programme(known, wind=wind)
    return Plan(
        programme=programme,
        cards=list(cards_for(pitch_control_of(known.setup.airframe)).values()),
        wind=verdict,
        stall_speed_mps=design_of(known.setup).stall_speed_mps,
        controls=[*stopping_words(known.setup), *(s.words for s in controls.squawks_of(session, known))],
    )


@router.post("/models/{model_id}/ground-cards", operation_id="logGroundCard")
def log_ground_card(model_id: uuid.UUID, body: LogRecord, session: SessionDep) -> ModelDetail:
    """Log a bench, ground or after-flight card."""
    return detail(plan.log_ground_card(session, model_id, record_id=body.id, record=body.record))


@router.post("/models/{model_id}/sorties", operation_id="planSortie", status_code=201)
def plan_sortie(model_id: uuid.UUID, body: NewSortie, session: SessionDep) -> ModelDetail:
    """Plan the next sortie; refused with the reason while gates are open or the wind says no."""
    plan.plan_sortie(
        session, model_id, sortie_id=body.id, card_ids=tuple(body.card_ids), wind=body.wind, alone=body.alone
    )
    return detail(bench.history(session, model_id))
