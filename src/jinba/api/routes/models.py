"""Shelf, bench and plan of a model."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Query, Response

from jinba.api.deps import DbDep, IfMatch, RequiredIfMatch, etag
from jinba.api.schemas.models import (
    ArrangeRequest,
    BenchView,
    IncidentLine,
    LogLine,
    LogRecord,
    ModelDetail,
    MoveDatum,
    NewModel,
    NewRehearsal,
    NewSister,
    NewSortie,
    Plan,
    PlanCost,
    ReadWind,
    RenameModel,
    SaveSetup,
    ShelfModel,
    SilhouetteInfo,
    SortieSummary,
    TakeMeasure,
    WrittenBy,
)
from jinba.api.schemas.models import WorkOrder as WorkOrderView
from jinba.core.airframe.layout import pitch_control_of
from jinba.core.airframe.taken import Reading
from jinba.core.bench.arrange import Arrangements
from jinba.core.bench.measured import Entered
from jinba.core.cards.catalogue import CARDS, card
from jinba.core.cards.incident import INCIDENT, PARTS
from jinba.core.configuration import Configuration
from jinba.core.errors import RefusedError
from jinba.core.history.model import History, WorkOrder
from jinba.core.observe.situation import design_of
from jinba.core.plan.heights import cards_for
from jinba.core.plan.programme import Wishes
from jinba.core.plan.stops import FIRM
from jinba.core.silhouettes import SILHOUETTES, silhouette_configuration
from jinba.services import bench, plan, shelf, sister, today
from jinba.services.log import LoggedEntry, Written

router = APIRouter(prefix="/api/v1", tags=["models"])

CardIds = Annotated[Sequence[Annotated[str, Query(max_length=10)]], Query(max_length=40)]


def work_order_view(order: WorkOrder) -> WorkOrderView:
    """Return a work order as the web shows it."""
    proofs = {str(i): proof for i, proof in enumerate(order.proofs) if proof is not None}
    return WorkOrderView(
        id=order.id, actions=list(order.actions), proofs=proofs, to_configuration=order.to_configuration
    )


def detail(known: History) -> ModelDetail:
    """Return a model as every place shows it."""
    return ModelDetail(
        id=known.model.id,
        name=known.model.name,
        story=known.model.story,
        read_only=known.model.read_only,
        rehearsal=known.model.rehearsal,
        configuration=known.configuration.number,
        change_words=list(known.configuration.change_words),
        revision=known.version,
        can_undo=known.can_undo,
        can_redo=known.can_redo,
        setup=known.setup,
        pitch_control=pitch_control_of(known.setup.airframe),
        today=today.today(known),
        sorties=[
            SortieSummary(
                id=s.id,
                number=s.number,
                status=s.status.value,
                alone=s.alone,
                simulated=s.simulated,
                card_ids=list(s.card_ids),
                configuration=s.configuration,
                landed_at=s.landed_at,
            )
            for s in known.sorties
        ],
        work_order=None if known.order is None else work_order_view(known.order),
        stale=sorted(known.stale),
        incidents=[
            IncidentLine(
                record_id=uuid.UUID(i.record),
                sortie=i.sortie,
                words=i.words,
                open=sorted(known.left_of(i)),
                open_titles=[CARDS[c].title for c in sorted(known.left_of(i))],
                damaged=list(i.parts),
                damaged_names=[PARTS[p] for p in i.parts],
            )
            for i in known.incidents
        ],
        incident_card=CARDS[INCIDENT],
        log_order=known.log_order,
    )


def tagged(response: Response, known: History) -> ModelDetail:
    """Return a model, with the version of its setup as the entity tag of the response."""
    response.headers["ETag"] = etag(known.version)
    return detail(known)


def created(response: Response, known: History, at: str = "") -> ModelDetail:
    """Return a model as the answer to something that was made: ``at`` this address, or the model's own."""
    response.headers["Location"] = at or f"/api/v1/models/{known.model.id}"
    return tagged(response, known)


def written_of(w: WrittenBy | None) -> Written:
    """Return who wrote an entry and when, its clock corrected by the offset measured now: arrival against sending."""
    if w is None:
        return Written()
    offset = (datetime.now(UTC) - w.sent_at).total_seconds()
    return Written(w.device, w.device_name, w.by, w.made_at, offset, w.seen)


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
def list_models(db: DbDep) -> list[ShelfModel]:
    """Return the shelf."""
    return [
        ShelfModel(
            id=m.id,
            name=m.name,
            story=m.story,
            read_only=m.read_only,
            rehearsal=m.rehearsal,
            put_away=m.put_away,
            airframe=m.setup.airframe,
        )
        for m in db.read(shelf.shelf)
    ]


@router.post("/models/{model_id}/put-away", operation_id="putAway", status_code=204)
def put_away(model_id: uuid.UUID, db: DbDep) -> None:
    """Put a model away: it leaves the shelf and loses nothing."""
    db.write(lambda s: shelf.put_away(s, model_id, away=True))


@router.post("/models/{model_id}/take-back", operation_id="takeBack", status_code=204)
def take_back(model_id: uuid.UUID, db: DbDep) -> None:
    """Take a model that was put away back on the shelf."""
    db.write(lambda s: shelf.put_away(s, model_id, away=False))


@router.delete("/models/{model_id}", operation_id="deleteModel", status_code=204)
def delete_model(model_id: uuid.UUID, db: DbDep, name: Annotated[str, Query(max_length=80)] = "") -> None:
    """Delete a model that was put away, for good; ``name`` says that this one is meant."""
    db.write(lambda s: shelf.delete(s, model_id, name=name))


@router.post("/models", operation_id="createModel", status_code=201)
def create_model(body: NewModel, db: DbDep, response: Response) -> ModelDetail:
    """Start a model from a silhouette; the same id and content twice is the same model, other content is refused."""
    silhouette_configuration(body.silhouette, span_m=body.span_m)
    db.write(
        lambda s: bench.create_model(
            s,
            model_id=body.id,
            name=body.name,
            silhouette=body.silhouette,
            span_m=body.span_m,
            rehearsal=body.rehearsal,
        )
    )
    return created(response, db.history(body.id))


@router.get("/models/{model_id}", operation_id="getModel")
def get_model(model_id: uuid.UUID, db: DbDep, response: Response) -> ModelDetail:
    """Return a model; the ETag is the version of its setup, for If-Match."""
    return tagged(response, db.history(model_id))


@router.patch("/models/{model_id}", operation_id="renameModel")
def rename_model(model_id: uuid.UUID, body: RenameModel, db: DbDep, response: Response) -> ModelDetail:
    """Call a model otherwise, and tell its story otherwise."""
    db.write(lambda s: shelf.rename(s, model_id, name=body.name, story=body.story))
    return tagged(response, db.history(model_id))


@router.post("/models/{model_id}/rehearsals", operation_id="rehearse", status_code=201)
def rehearse(model_id: uuid.UUID, body: NewRehearsal, db: DbDep, response: Response) -> ModelDetail:
    """Copy this model for a stand-in to fly; the same id twice is the same copy."""
    db.write(lambda s: sister.rehearse(s, model_id, copy_id=body.id))
    return created(response, db.history(body.id))


@router.post("/models/{model_id}/sisters", operation_id="makeSister", status_code=201)
def make_sister(model_id: uuid.UUID, body: NewSister, db: DbDep, response: Response) -> ModelDetail:
    """Start a sister model from this one's airframe and lessons; the same id twice is the same model."""
    db.write(lambda s: sister.make_sister(s, model_id, sister_id=body.id, name=body.name))
    return created(response, db.history(body.id))


def _bench_view(taught: bench.Taught, setup: Configuration) -> BenchView:
    answer = bench.answer_for(taught.belief, setup)
    return BenchView(answer=answer, flown_battery_x_m=list(taught.flown_battery_x_m))


@router.get("/models/{model_id}/bench", operation_id="getBench")
def get_bench(model_id: uuid.UUID, db: DbDep) -> BenchView:
    """Return the bench's numbers for the saved setup."""
    taught, setup = db.read(lambda s: (bench.taught(s, model_id), bench.present_setup(s, model_id)))
    return _bench_view(taught, setup)


@router.post("/models/{model_id}/what-if", operation_id="whatIf")
def what_if(model_id: uuid.UUID, setup: Configuration, db: DbDep) -> BenchView:
    """Return the bench's numbers for a setup that is not saved, with what the flights have taught."""
    return _bench_view(db.read(lambda s: bench.taught(s, model_id)), setup)


@router.post("/models/{model_id}/arrangements", operation_id="arrange")
def arrange(model_id: uuid.UUID, body: ArrangeRequest, db: DbDep) -> Arrangements:
    """Return the best few ways to move what is aboard, or to add ballast, to a balance point. Nothing is stored."""
    known = db.history(model_id)
    return bench.arrange(known, target_x_m=body.target_x_m, tolerance_m=body.tolerance_m, level=body.level)


@router.put("/models/{model_id}/setup", operation_id="saveSetup")
def save_setup(
    model_id: uuid.UUID, body: SaveSetup, db: DbDep, response: Response, version: IfMatch = None
) -> ModelDetail:
    """Save a bench edit; 409 (412 with If-Match) when somebody saved in between."""
    base = body.base_revision if version is None else version
    bench.check_setup(body.setup)
    known = db.write(
        lambda s: bench.save_setup(
            s,
            model_id,
            base_version=base,
            setup=body.setup,
            words=body.words,
            entered=Entered(body.how, body.scale, on=_today()),
        )
    )
    return tagged(response, known)


@router.post("/models/{model_id}/measures", operation_id="takeMeasure")
def take_measure(
    model_id: uuid.UUID, body: TakeMeasure, db: DbDep, response: Response, version: IfMatch = None
) -> ModelDetail:
    """Keep one reading of a measure: it stands alone, or is averaged with those there are."""
    base = body.base_revision if version is None else version
    reading = Reading(body.value, left=body.left, again=body.again, how=body.how, scale=body.scale)
    known = db.write(
        lambda s: bench.take_measure(s, model_id, base_version=base, key=body.key, reading=reading, on=_today())
    )
    return tagged(response, known)


def _today() -> str:
    return datetime.now(UTC).date().isoformat()


@router.post("/models/{model_id}/datum", operation_id="moveDatum")
def move_datum(
    model_id: uuid.UUID, body: MoveDatum, db: DbDep, response: Response, version: IfMatch = None
) -> ModelDetail:
    """Describe the model from another datum."""
    base = body.base_revision if version is None else version
    known = db.write(lambda s: bench.move_datum(s, model_id, base_version=base, dx_m=body.dx_m, words=body.words))
    return tagged(response, known)


@router.post("/models/{model_id}/undo", operation_id="undo")
def undo(model_id: uuid.UUID, db: DbDep, response: Response, version: RequiredIfMatch) -> ModelDetail:
    """Undo the last bench edit of a configuration that has not flown; If-Match says which, so that a retry undoes one."""
    return tagged(response, db.write(lambda s: bench.undo(s, model_id, version=version)))


@router.post("/models/{model_id}/redo", operation_id="redo")
def redo(model_id: uuid.UUID, db: DbDep, response: Response, version: RequiredIfMatch) -> ModelDetail:
    """Redo a bench edit."""
    return tagged(response, db.write(lambda s: bench.redo(s, model_id, version=version)))


@router.get("/models/{model_id}/plan", operation_id="getPlan")
def get_plan(model_id: uuid.UUID, db: DbDep, pin: CardIds = (), drop: CardIds = ()) -> Plan:
    """Return the programme for the next sortie and, where the wind was read, go / caution / no-go; the rest is packed around the cards
    that are pinned, and without those that are dropped."""
    wishes = Wishes(frozenset(card(k).id for k in pin), frozenset(card(k).id for k in drop))
    return plan_view(*db.read(lambda s: plan.with_contested(s, model_id)), wishes)


@router.get("/models/{model_id}/plan/cost", operation_id="getPlanCost")
def get_plan_cost(model_id: uuid.UUID, db: DbDep, cards: CardIds = ()) -> PlanCost:
    """Return what an order of cards takes and what it costs against the proposal, in sentences."""
    known = db.history(model_id)
    return PlanCost.model_validate(plan.cost(known, tuple(cards)))


@router.put("/models/{model_id}/wind", operation_id="readWind")
def read_wind(model_id: uuid.UUID, body: ReadWind, db: DbDep) -> Plan:
    """Keep the wind as it is read at the field now: its verdict stands for half an hour, and stops what it speaks against."""
    db.write(lambda s: plan.read_wind(s, model_id, body.wind))
    return plan_view(*db.read(lambda s: plan.with_contested(s, model_id)))


def plan_view(known: History, contested: list[LoggedEntry], wishes: Wishes | None = None) -> Plan:
    """Return the programme with what stops it, the wind's verdict and the minutes of the pack."""
    programme, verdict = plan.next_programme(known, wishes=wishes)
    there = plan.at_the_site(known, programme.minutes)
    stopped = plan.stops(
        known,
        minutes=programme.minutes,
        safe_minutes=programme.safe_minutes,
        verdict=verdict,
        card_ids=programme.flight,
    )
    return Plan(
        stops=list(stopped),
        programme=programme,
        cards=list(cards_for(known.setup).values()),
        wind=verdict,
        wind_read=known.wind,
        stall_speed_mps=design_of(known.setup).stall_speed_mps,
        firm=list(FIRM),
        endurance=known.endurance,
        fitted=known.powered.fitted,
        full_throttle_a=known.powered.full_throttle_a,
        site_id=known.site_id,
        site=known.site,
        light=there.light,
        at_the_site=list(there.findings),
        contested=[LogLine.model_validate(e) for e in contested],
    )


@router.post("/models/{model_id}/ground-cards", operation_id="logGroundCard")
def log_ground_card(model_id: uuid.UUID, body: LogRecord, db: DbDep, response: Response) -> ModelDetail:
    """Log a bench, ground or after-flight card; the same id and content twice is one record, other content is refused."""
    if body.replaces is not None:
        raise RefusedError("A card on the ground is not corrected but done again: log it anew. Nothing was changed.")
    written = written_of(body.written)
    db.write(lambda s: plan.log_ground_card(s, model_id, record_id=body.id, record=body.record, written=written))
    return tagged(response, db.history(model_id))


@router.post("/models/{model_id}/sorties", operation_id="planSortie", status_code=201)
def plan_sortie(model_id: uuid.UUID, body: NewSortie, db: DbDep, response: Response) -> ModelDetail:
    """Plan the next sortie, refused with the reason while gates are open; or take in one that has been flown without a plan."""
    db.write(
        lambda s: plan.plan_sortie(
            s,
            model_id,
            sortie_id=body.id,
            card_ids=tuple(body.card_ids),
            wind=body.wind,
            alone=body.alone,
            reasons=body.reasons,
            flown=body.flown,
            away=None if body.away is None else written_of(body.away),
        )
    )
    return created(response, db.history(model_id), at=f"/api/v1/sorties/{body.id}")
