"""The state most tests start from, flown once per run: the demo, and Tarn, built crooked, with one sortie and its rework accepted."""

from __future__ import annotations

import uuid

from sqlalchemy.orm import Session

from jinba.core.cards.fitted import cards_of
from jinba.core.correct.composed import Choices
from jinba.core.flight.simulation.spread import Spread, Twin, Wrong
from jinba.formats.codec import to_json
from jinba.persistence.orm import ModelRow
from jinba.services import bench, plan, rework, stand_in
from jinba.services.demo import load_demo, passed_record
from jinba.services.history import history

TARN = uuid.UUID("7a000000-0000-4000-8000-000000000001")
TARN_SORTIE = uuid.UUID("7a000000-0000-4000-8000-000000000002")
TARN_ORDER = uuid.UUID("7a000000-0000-4000-8000-000000000003")


def new_model(session: Session, name: str = "Fell", *, model_id: uuid.UUID | None = None) -> uuid.UUID:
    identity = model_id or uuid.uuid4()
    bench.create_model(session, model_id=identity, name=name, silhouette="low_wing", span_m=1.5, rehearsal=True)
    return identity


def close_gates(session: Session, model_id: uuid.UUID) -> None:
    known = history(session, model_id)
    cards = cards_of(known.setup)
    for gate in plan.next_programme(known)[0].gates:
        plan.log_ground_card(session, model_id, record_id=uuid.uuid4(), record=passed_record(cards[gate]))


def next_sortie(session: Session, model_id: uuid.UUID, *, sortie_id: uuid.UUID | None = None) -> uuid.UUID:
    close_gates(session, model_id)
    known = history(session, model_id)
    programme, _ = plan.next_programme(known)
    stops = plan.stops(known, minutes=programme.minutes, safe_minutes=programme.safe_minutes)
    reasons = {s.code: "a rehearsal of the tests" for s in stops}
    identity = sortie_id or uuid.uuid4()
    plan.plan_sortie(
        session, model_id, sortie_id=identity, card_ids=programme.flight, wind=None, alone=False, reasons=reasons
    )
    return identity


def fly_template(session: Session) -> None:
    load_demo(session)
    new_model(session, "Tarn", model_id=TARN)
    twin = Twin(Spread(), Wrong(tail_incidence_rad=-0.035, twist_rad=0.02))
    session.get_one(ModelRow, TARN).stand_in = {"spread": to_json(twin.spread), "wrong": to_json(twin.wrong)}
    next_sortie(session, TARN, sortie_id=TARN_SORTIE)
    stand_in.stand_in_flies(session, TARN_SORTIE)
    rework.accept(session, TARN, order_id=TARN_ORDER, choices=Choices())
