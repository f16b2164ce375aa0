"""Flying, debrief, rework, ledger, project files."""

from __future__ import annotations

import uuid
from typing import Annotated
from urllib.parse import quote

from fastapi import APIRouter, Depends, Query, Request, Response
from pydantic import BaseModel

from jinba.api.deps import DbDep, UploadDep
from jinba.api.problems import Problem, problem_of
from jinba.api.routes.compute import direction_table
from jinba.api.routes.models import created, detail, tagged, work_order_view, written_of
from jinba.api.schemas.models import (
    AcceptRework,
    Against,
    ChosenBy,
    LogLine,
    LogRecord,
    LogRecords,
    ModelDetail,
    Proof,
    Rework,
    SortieDetail,
    WorkOrder,
)
from jinba.core.airframe.layout import pitch_control_of
from jinba.core.cards.emergency import Emergency, emergencies_for
from jinba.core.cards.fitted import directions_of, flown_with
from jinba.core.cards.incident import INCIDENT, PHASE_OF
from jinba.core.cards.model import Card, Phase
from jinba.core.cards.noticed import noticed_by
from jinba.core.cards.proof import as_proof
from jinba.core.configuration import Configuration
from jinba.core.correct.composed import Choices
from jinba.core.correct.ways import WayThere
from jinba.core.frames import Axis
from jinba.core.plan.heights import cards_for
from jinba.core.plan.states import not_on
from jinba.formats.archive import LARGEST_BYTES
from jinba.services import archive, debrief, fly, ledger, log_cards, plan, rework
from jinba.services.history import history
from jinba.services.log_cards import NewEntry

router = APIRouter(prefix="/api/v1", tags=["sorties"])


class Logged(BaseModel):
    """A sortie after several entries, None while more follow; ``refused``: by its id what was not taken, and why."""

    sortie: SortieDetail | None
    refused: dict[uuid.UUID, Problem]


def _can_fly(card: Card, setup: Configuration) -> bool:
    powered = not card.powered or setup.airframe.motor is not None
    return card.phase is Phase.FLIGHT and powered and not not_on(card, setup)


def _view(sortie: fly.Sortie) -> SortieDetail:
    cards = cards_for(sortie.setup)
    after = [c.id for c in cards.values() if c.phase is Phase.AFTER and c.id != INCIDENT]
    return SortieDetail(
        id=sortie.id,
        model_id=sortie.model_id,
        model_name=sortie.model_name,
        flown_with=flown_with(sortie.setup),
        airframe=sortie.setup.airframe,
        directions=direction_table(directions_of(sortie.setup), pitch_control_of(sortie.setup.airframe)),
        number=sortie.number,
        status=sortie.status,
        alone=sortie.alone,
        simulated=sortie.simulated,
        cards=[
            as_proof(cards[c]) if c in sortie.proved else cards[c] for c in [*sortie.card_ids, *after] if c in cards
        ],
        others=[c for c in cards.values() if c.id not in sortie.card_ids and _can_fly(c, sortie.setup)],
        records=[c.entry.record for c in sortie.counted],
        wind=sortie.wind,
        safe_minutes=sortie.safe_minutes,
        pack=sortie.pack,
        started_at=sortie.started_at,
        log=[LogLine.model_validate(e) for e in sortie.entries],
        log_order=sortie.seen,
        radio=sortie.radio,
        incident=cards[INCIDENT],
        phases={c: PHASE_OF.get(c, "height") for c in cards if cards[c].phase is Phase.FLIGHT},
        against=[Against(code=c, words=w, reason=r) for c, w, r in sortie.against],
        notes=list(sortie.notes),
        noticed=list(noticed_by(sortie.setup)),
    )


def sortie_view(db: DbDep, sortie_id: uuid.UUID) -> SortieDetail:
    """Return a sortie as it is shown."""
    return _view(db.read(lambda s: fly.get_sortie(s, sortie_id)))


@router.get("/models/{model_id}/next-sortie", operation_id="getNextSortie")
def get_next_sortie(model_id: uuid.UUID, db: DbDep) -> SortieDetail:
    """Return the sortie that would begin now, nothing stored: a device keeps it and can begin one where no program answers."""
    return _view(fly.next_sortie(db.history(model_id)))


@router.get("/models/{model_id}/emergencies", operation_id="listEmergencies")
def list_emergencies(model_id: uuid.UUID, db: DbDep) -> list[Emergency]:
    """Return what to do when it goes wrong in the air, in the words of this model and of the pilot's own sticks."""
    return list(emergencies_for(db.history(model_id).setup))


@router.get("/sorties/{sortie_id}", operation_id="getSortie")
def get_sortie(sortie_id: uuid.UUID, db: DbDep) -> SortieDetail:
    """Return a sortie with its cards and what is logged."""
    return sortie_view(db, sortie_id)


@router.post("/sorties/{sortie_id}/records", operation_id="logCard")
def log_card(sortie_id: uuid.UUID, body: LogRecord, db: DbDep) -> SortieDetail:
    """Append a record, also a late one or a correction of a landed sortie; the same id and content twice is one record."""
    new = _entry(body)
    db.write(
        lambda s: log_cards.log_card(
            s, sortie_id, record_id=new.id, record=new.record, written=new.written, replaces=new.replaces
        )
    )
    return sortie_view(db, sortie_id)


@router.post("/sorties/{sortie_id}/log", operation_id="logCards")
def log_many(sortie_id: uuid.UUID, body: LogRecords, db: DbDep, request: Request) -> Logged:
    """Append what waited on a device, in its order: each is taken or refused by itself, as it would be alone."""
    entries = [_entry(e) for e in body.entries]
    fates = db.write(lambda s: log_cards.log_cards(s, sortie_id, entries))
    return Logged(
        sortie=None if body.more else sortie_view(db, sortie_id),
        refused={e.id: problem_of(f, request.url.path) for e, f in zip(entries, fates, strict=True) if f is not None},
    )


def _entry(body: LogRecord) -> NewEntry:
    return NewEntry(body.id, body.record, written_of(body.written), body.replaces)


@router.post("/records/{record_id}/choose", operation_id="chooseRecord")
def choose_record(record_id: uuid.UUID, body: ChosenBy, db: DbDep, response: Response) -> ModelDetail:
    """Let an entry count where two devices said different things; the other one stays in the log."""
    return tagged(response, db.write(lambda s: history(s, fly.choose(s, record_id, by=body.by))))


@router.post("/sorties/{sortie_id}/stand-in", operation_id="standInFlies")
def fly_by_stand_in(sortie_id: uuid.UUID, db: DbDep) -> SortieDetail:
    """Let the simulated model fly what is not logged yet, and land."""
    # Loaded when it is wanted: the compiler behind it takes a second, and no other page waits for that.
    from jinba.services import stand_in

    db.write(lambda s: stand_in.stand_in_flies(s, sortie_id))
    return sortie_view(db, sortie_id)


@router.post("/sorties/{sortie_id}/land", operation_id="landSortie")
def land(sortie_id: uuid.UUID, db: DbDep) -> SortieDetail:
    """End a sortie."""
    db.write(lambda s: fly.land(s, sortie_id))
    return sortie_view(db, sortie_id)


@router.post("/sorties/{sortie_id}/reopen", operation_id="reopenSortie")
def reopen(sortie_id: uuid.UUID, db: DbDep) -> SortieDetail:
    """Open a sortie again that had not landed, while nothing rests on its landing."""
    db.write(lambda s: fly.reopen(s, sortie_id))
    return sortie_view(db, sortie_id)


@router.post("/sorties/{sortie_id}/call-off", operation_id="callOffSortie")
def call_off(sortie_id: uuid.UUID, db: DbDep) -> SortieDetail:
    """Take back a planned sortie of which nothing is logged."""
    db.write(lambda s: plan.call_off(s, sortie_id))
    return sortie_view(db, sortie_id)


@router.get("/sorties/{sortie_id}/debrief", operation_id="getDebrief")
def get_debrief(sortie_id: uuid.UUID, db: DbDep) -> debrief.Debrief:
    """Return what a landed sortie means."""
    return db.read(lambda s: debrief.debrief(s, sortie_id))


def _choices(
    battery_m: float | None = Query(None, ge=-5, le=5),
    use_ballast: bool = True,
    use_tip_ballast: bool = True,
    use_thrust_line: bool = True,
    leave: Annotated[tuple[Axis, ...], Query(max_length=3)] = (),
    use_level: bool = True,
    use_rudder_rate: bool = True,
) -> Choices:
    return Choices(battery_m, use_ballast, use_tip_ballast, use_thrust_line, leave, use_level, use_rudder_rate)


ChoicesDep = Annotated[Choices, Depends(_choices)]


@router.get("/models/{model_id}/rework", operation_id="getRework")
def get_rework(model_id: uuid.UUID, db: DbDep, choices: ChoicesDep) -> Rework:
    """Return the composed correction for the pilot's choices, with the predicted outcome."""
    known = db.history(model_id)
    c = rework.with_decision(known, rework.propose(known, choices))
    decided = None if known.decided is None else work_order_view(known.decided)
    return Rework.of(c, flown=rework.flown_setup(known), decided=decided, first=rework.better_first(known))


@router.get("/models/{model_id}/rework/ways", operation_id="getWays")
def get_ways(model_id: uuid.UUID, db: DbDep, choices: ChoicesDep) -> tuple[WayThere, ...]:
    """Return two to four ways side by side: as composed, otherwise arranged, more throw, left as it landed."""
    return rework.other_ways(db.history(model_id), choices)


@router.post("/models/{model_id}/rework", operation_id="acceptRework", status_code=201)
def accept_rework(model_id: uuid.UUID, body: AcceptRework, db: DbDep, response: Response) -> ModelDetail:
    """Accept the correction: next configuration and work order."""
    db.write(lambda s: rework.accept(s, model_id, order_id=body.id, choices=body.choices))
    return created(response, db.history(model_id))


@router.post("/work-orders/{order_id}/proofs", operation_id="proveAction")
def prove(order_id: uuid.UUID, body: Proof, db: DbDep) -> WorkOrder:
    """Tick one action with the reading that proves it, or take a tick back."""
    if body.taken_back:
        return work_order_view(db.write(lambda s: rework.take_back_proof(s, order_id, index=body.index)))
    return work_order_view(
        db.write(
            lambda s: rework.prove(
                s,
                order_id,
                index=body.index,
                reading=body.reading,
                number=body.number,
                differently=body.differently,
            )
        )
    )


@router.delete("/work-orders/{order_id}", operation_id="takeBackOrder")
def take_back_order(order_id: uuid.UUID, db: DbDep) -> ModelDetail:
    """Take a work order back that nobody has flown on: the bench is again as it landed."""
    return detail(db.write(lambda s: rework.take_back(s, order_id)))


@router.get("/models/{model_id}/board", operation_id="getBoard")
def get_board(model_id: uuid.UUID, db: DbDep) -> ledger.Board:
    """Return the convergence board."""
    return db.read(lambda s: ledger.board(s, model_id))


@router.get("/models/{model_id}/archive", operation_id="exportModel", response_class=Response)
def export_model(model_id: uuid.UUID, db: DbDep) -> Response:
    """Return the project file of a model with its whole history."""
    name, project = db.read(lambda s: archive.export_model(s, model_id))
    data = archive.write_project(project)
    # Twice: any script for those who read RFC 6266, plain letters for the rest.
    plain = name.encode("ascii", "replace").decode().replace("?", "_").replace('"', "_")
    offered = f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name)}"
    return Response(data, media_type="application/zip", headers={"Content-Disposition": offered})


@router.post(
    "/archives",
    operation_id="importModel",
    max_body_size=LARGEST_BYTES,
    status_code=201,
    openapi_extra={
        "requestBody": {
            "content": {"application/zip": {"schema": {"type": "string", "format": "binary"}}},
            "required": True,
        }
    },
)
def import_model(data: UploadDep, db: DbDep, response: Response) -> ModelDetail:
    """Add a model from a project file. A bad one gives a clear error and changes nothing."""
    project = archive.read_project(data)
    return created(response, db.write(lambda s: history(s, archive.import_model(s, project).id)))
