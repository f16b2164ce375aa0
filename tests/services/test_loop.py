"""The use cases without the web: what Today says at each station, what stays stale, what a failure leaves behind."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from dataclasses import replace

import pytest
from sqlalchemy import func, select
from sqlalchemy.orm import Session, sessionmaker

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import CaptureKind, CardRecord, Outcome, Reading
from jinba.core.correct.compose import Choices
from jinba.core.errors import JinbaError, RefusedError
from jinba.formats.codec import from_json, to_json
from jinba.persistence.database import make_engine, unit_of_work
from jinba.persistence.orm import ModelRow, RecordRow, SortieRow
from jinba.services import archive, bench, debrief, fly, ledger, plan, rework, sister
from jinba.services.demo import load_demo
from jinba.services.today import today


@pytest.fixture
def session(database_url: str) -> Iterator[Session]:
    """Yield a session whose work is thrown away at the end."""
    with sessionmaker(make_engine(database_url))() as s:
        yield s
        s.rollback()


def new_model(session: Session, name: str = "Tarn") -> uuid.UUID:
    model_id = uuid.uuid4()
    bench.create_model(session, model_id=model_id, name=name, silhouette="low_wing", span_m=1.5)
    return model_id


def close_gates(session: Session, model_id: uuid.UUID) -> None:
    programme, _ = plan.next_programme(bench.history(session, model_id))
    for gate in programme.gates:
        answers = tuple(Reading(c.key, choice="yes") for c in CARDS[gate].captures if c.kind is CaptureKind.YES_NO)
        plan.log_ground_card(
            session, model_id, record_id=uuid.uuid4(), record=CardRecord(gate, Outcome.PASSED, answers)
        )


def next_sortie(session: Session, model_id: uuid.UUID) -> SortieRow:
    close_gates(session, model_id)
    programme, _ = plan.next_programme(bench.history(session, model_id))
    return plan.plan_sortie(
        session, model_id, sortie_id=uuid.uuid4(), card_ids=programme.flight, wind=None, alone=False
    )


def station(session: Session, model_id: uuid.UUID) -> tuple[str, str]:
    now = today(bench.history(session, model_id))
    return now.station, now.button


def test_today_follows_the_model_round_the_loop(session):
    model_id = new_model(session)
    assert station(session, model_id) == ("plan", "Open the plan for sortie 1")
    sortie = next_sortie(session, model_id)
    assert station(session, model_id) == ("fly", "Fly sortie 1")
    lift_off = CardRecord("F1", Outcome.DONE, (Reading("lift_off", choice="holds"),))
    fly.log_card(session, sortie.id, record_id=uuid.uuid4(), record=lift_off)
    assert station(session, model_id) == ("fly", "Go on with sortie 1")
    fly.stand_in_flies(session, sortie.id)
    assert station(session, model_id)[0] in ("rework", "debrief")
    order = rework.accept(session, model_id, order_id=uuid.uuid4(), choices=Choices())
    if order.actions:
        assert station(session, model_id) == ("rework", "Finish the work order")
    for i in range(len(order.actions)):
        rework.prove(session, order.id, index=i, reading="done")
    assert station(session, model_id) == ("plan", "Open the plan for sortie 2")
    with pytest.raises(RefusedError, match="already decided"):
        rework.accept(session, model_id, order_id=uuid.uuid4(), choices=Choices())


def test_the_score_is_that_of_what_was_said_before_the_flight(session):
    """A stored prediction stays what it was, whatever the methods say later."""
    model_id = new_model(session)
    sortie = next_sortie(session, model_id)
    fly.stand_in_flies(session, sortie.id)
    as_said = debrief.debrief(session, sortie.id)
    shifted = [{**t, "value": t["value"] + 5 * t["sigma"]} for t in sortie.predicted]
    sortie.predicted = shifted
    session.flush()
    later = debrief.debrief(session, sortie.id)
    for said, told, score in zip(as_said.before, later.before, later.score, strict=True):
        assert told.value == pytest.approx(said.value + 5 * said.sigma)
        assert score.predicted == pytest.approx(told.value)
    board = ledger.board(bench.history(session, model_id))
    assert board.within_one_sigma == 0.0, "five sigma off is no hit"
    assert [c.number for c in board.configurations] == [1]
    assert board.configurations[0].sortie_numbers == (1,)


def test_what_a_change_made_stale_is_flown_again_and_then_is_not(session):
    model_id = new_model(session)
    sortie = next_sortie(session, model_id)
    fly.stand_in_flies(session, sortie.id)
    known = bench.history(session, model_id)
    assert known.stale == frozenset()
    pack = known.setup.battery
    assert pack is not None
    moved = replace(
        known.setup, items=tuple(replace(i, x_m=i.x_m - 0.01) if i.key == pack.key else i for i in known.setup.items)
    )
    after = bench.save_setup(
        session, model_id, base_revision=known.configuration_row.current_revision, setup=moved, words=""
    )
    assert after.configuration_row.number == 2
    assert after.configuration_row.change_words == [f"{pack.name} moved 10 mm forward"]
    assert {"F1", "F2", "B7"} <= after.stale
    again = next_sortie(session, model_id)
    fly.stand_in_flies(session, again.id)
    assert not {"F1", "F2", "B7"} & bench.history(session, model_id).stale


def test_corrections_of_a_record_are_appended_and_the_last_one_counts(session):
    model_id = new_model(session)
    sortie = next_sortie(session, model_id)
    for choice in ("rears", "holds"):
        record = CardRecord("F1", Outcome.DONE, (Reading("lift_off", choice=choice),))
        fly.log_card(session, sortie.id, record_id=uuid.uuid4(), record=record)
    fly.land(session, sortie.id)
    stored = session.scalars(select(RecordRow).where(RecordRow.sortie_id == sortie.id)).all()
    assert len(stored) == 2
    counted = bench.history(session, model_id).logged[-1].records
    assert [r.reading("lift_off").choice for r in counted if r.card_id == "F1"] == ["holds"]


def test_a_failure_in_the_middle_leaves_nothing_behind(database_url):
    factory = sessionmaker(make_engine(database_url))

    def make_two_and_fail() -> None:
        with unit_of_work(factory) as s:
            new_model(s, "Half done")
            bench.create_model(s, model_id=uuid.uuid4(), name="  ", silhouette="low_wing", span_m=1.5)

    with pytest.raises(JinbaError, match="name"):
        make_two_and_fail()
    with factory() as s:
        assert s.scalar(select(func.count()).select_from(ModelRow).where(ModelRow.name == "Half done")) == 0


def test_the_demo_loads_once_and_goes_out_and_in_with_its_history(session):
    assert load_demo(session) is True
    assert load_demo(session) is False
    scree = session.scalars(select(ModelRow).where(ModelRow.name == "Scree")).one()
    known = bench.history(session, scree.id)
    assert len(known.landed) == 2, "in the middle of its programme: two flown sorties"
    assert today(known).worst is not None, "Today opens on one worrying tendency"
    name, data = archive.export_model(session, scree.id)
    assert name == "scree.jinba.zip"
    copy = archive.import_model(session, data)
    assert copy.name == "Scree (2)"
    twin = bench.history(session, copy.id)
    assert twin.setup == known.setup
    assert [s.records for s in twin.logged] == [s.records for s in known.logged]
    for mine, theirs in zip(known.landed, twin.landed, strict=True):
        assert mine.predicted == theirs.predicted
        assert debrief.debrief_of(known, mine).after == debrief.debrief_of(twin, theirs).after
    scree.read_only = True
    with pytest.raises(RefusedError, match="read-only"):
        bench.step_revision(session, scree.id, by=-1)
    assert today(bench.history(session, scree.id)).station == "bench"


def test_records_come_back_from_the_database_as_they_went_in(session):
    record = CardRecord("F7", Outcome.DONE, (Reading("stick_held", number=0.3),), note="gusty ½ way")
    assert from_json(CardRecord, to_json(record)) == record


def test_a_sister_starts_with_the_airframe_and_the_lessons_and_nothing_of_the_one_model(session):
    load_demo(session)
    scree = session.scalars(select(ModelRow).where(ModelRow.name == "Scree")).one()
    known = bench.history(session, scree.id)
    sister_id = uuid.uuid4()
    row = sister.make_sister(session, scree.id, sister_id=sister_id, name="Talus")
    assert sister.make_sister(session, scree.id, sister_id=sister_id, name="Talus").id == row.id
    twin = bench.history(session, sister_id)
    assert twin.setup.airframe == known.setup.airframe
    assert (twin.setup.jig, twin.landed) == (None, ())
    assert all(c.clicks == 0 and c.sub_trim_rad == 0 for c in (twin.setup.elevator, twin.setup.aileron))
    assert twin.setup.elevator.mechanical_rad == pytest.approx(
        known.setup.elevator.mechanical_rad + known.setup.elevator.sub_trim_rad
    )
    assert "Sister of Scree, from its configuration 2. After 2 sorties its static margin was" in row.story
    assert "Found: " in row.story or "as the bench had said" in row.story
    untried = sister.make_sister(session, sister_id, sister_id=uuid.uuid4(), name="Third")
    assert "there are no lessons" in untried.story
