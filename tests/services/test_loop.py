"""The use cases without the web: what Today says at each station, what stays stale, what a failure leaves behind."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from dataclasses import replace

import pytest
from sqlalchemy import func, select, update
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, sessionmaker

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import CardRecord, Conditions, GearState, Outcome, Reading
from jinba.core.configuration import Configuration
from jinba.core.correct.composed import Choices
from jinba.core.errors import JinbaError, RefusedError
from jinba.core.frames import Axis, Response
from jinba.core.spoken import spoken
from jinba.formats.codec import from_json, to_json
from jinba.persistence.database import make_engine, reading, unit_of_work
from jinba.persistence.orm import GatePassRow, ModelRow, PackRow, PredictionRow, RecordRow, SetupRow
from jinba.services import archive, bench, debrief, fly, ledger, log_cards, plan, rework, sister, stand_in
from jinba.services.demo import load_demo
from jinba.services.history import history
from jinba.services.today import today
from tests.states import TARN, TARN_ORDER, TARN_SORTIE, close_gates, new_model, next_sortie


@pytest.fixture
def session(database_url: str) -> Iterator[Session]:
    """Yield a session whose work is thrown away at the end."""
    with sessionmaker(make_engine(database_url))() as s:
        yield s
        s.rollback()


def station(session: Session, model_id: uuid.UUID) -> tuple[str, str]:
    now = today(history(session, model_id))
    return now.station, now.button


def save(session: Session, model_id: uuid.UUID, setup: Configuration) -> None:
    version = history(session, model_id).version
    bench.save_setup(session, model_id, base_version=version, setup=setup, words="")


def scree(session: Session) -> uuid.UUID:
    return session.scalars(select(ModelRow.id).where(ModelRow.name == "Scree")).one()


def with_pack_moved(setup: Configuration, dx_m: float) -> Configuration:
    pack = setup.battery
    assert pack is not None
    return replace(setup, items=tuple(replace(i, x_m=i.x_m + dx_m) if i.key == pack.key else i for i in setup.items))


def test_today_follows_the_model_round_the_loop(session):
    model_id = new_model(session)
    assert station(session, model_id) == ("plan", "Open the plan for sortie 1")
    sortie_id = next_sortie(session, model_id)
    assert station(session, model_id) == ("fly", "Fly sortie 1")
    lift_off = CardRecord("F1", Outcome.DONE, (Reading("lift_off", choice="holds"),))
    log_cards.log_card(session, sortie_id, record_id=uuid.uuid4(), record=lift_off)
    assert station(session, model_id) == ("fly", "Go on with sortie 1")
    stand_in.stand_in_flies(session, sortie_id)
    assert station(session, model_id)[0] in ("rework", "debrief")


def test_after_the_rework_today_asks_for_its_proofs_and_then_for_the_next_sortie(flown):
    order = history(flown, TARN).order
    assert order is not None
    assert order.open == len(order.actions) > 1
    assert station(flown, TARN) == ("rework", "Finish the work order")
    for i, action in enumerate(order.actions):
        read = {"reading": "hung: level"} if action.expected is None else {"number": action.expected.value}
        rework.prove(flown, TARN_ORDER, index=i, **read)
    assert station(flown, TARN) == ("plan", "Open the plan for sortie 2")
    with pytest.raises(RefusedError, match="already decided"):
        rework.accept(flown, TARN, order_id=uuid.uuid4(), choices=Choices())


def test_the_score_is_that_of_what_was_said_before_the_flight(session):
    """What was predicted is kept apart from what is computed later: a prediction five sigma off scores as such."""
    model_id = new_model(session)
    sortie_id = next_sortie(session, model_id)
    session.execute(
        update(PredictionRow)
        .where(PredictionRow.sortie_id == sortie_id)
        .values(value=PredictionRow.value + 5 * PredictionRow.sigma)
    )
    said = {p.key: p.value for p in session.scalars(select(PredictionRow).where(PredictionRow.sortie_id == sortie_id))}
    stand_in.stand_in_flies(session, sortie_id)
    told = debrief.debrief(session, sortie_id)
    assert {t.key: t.value for t in told.before} == said
    scored = {s.key: s.predicted for s in told.score}
    assert scored.items() <= said.items()
    assert {"pitch_trim", "roll_cruise"} <= scored.keys() < said.keys(), "what was flown, and no more"
    assert all(abs(s.sigmas) > 1 for s in told.score), "five sigma off is no hit"
    board = ledger.board(session, model_id)
    assert board.within_one_sigma == 0.0
    assert [(c.number, c.sortie_numbers) for c in board.configurations] == [(1, (1,))]


def test_what_a_change_made_stale_is_flown_again_and_then_is_not(session):
    model_id = new_model(session)
    stand_in.stand_in_flies(session, next_sortie(session, model_id))
    known = history(session, model_id)
    assert known.stale == frozenset()
    save(session, model_id, with_pack_moved(known.setup, -0.01))
    after = history(session, model_id)
    assert after.configuration.number == 2
    assert known.setup.battery is not None
    assert [spoken(w) for w in after.configuration.change_words] == [f"{known.setup.battery.name} moved 10 mm forward"]
    assert {"F1", "F2", "B7"} <= after.stale
    stand_in.stand_in_flies(session, next_sortie(session, model_id))
    assert not {"F1", "F2", "B7"} & history(session, model_id).stale


def test_what_the_rework_says_becomes_stale_is_stale_in_the_plan(flown):
    """Clicks given in flight and taken back on the bench are a change, though both setups have none in the radio."""
    known = history(flown, TARN)
    assert known.last_flight is not None
    flown_clicks, now = (tuple(c.control(a).clicks for a in Axis) for c in (known.last_flight.state, known.setup))
    assert flown_clicks != now, "clicked in the air, taken back on the bench"
    assert all(known.last_flight.setup.control(a).clicks == 0 for a in Axis)
    opened = set(known.configuration.opened_cards)
    assert {"F2", "F3", "F4"} <= opened
    assert opened & set(known.results) == known.stale, "every card that was done and is named, and no other"


def test_clicks_that_stand_in_the_radio_go_over_into_the_next_configuration(flown):
    """A bench edit after a flight starts from what stands in the radio, unless it sets that axis itself."""
    model_id = scree(flown)
    known = history(flown, model_id)
    assert known.last_flight is not None
    held = known.last_flight.state.elevator.clicks
    assert held != 0
    save(flown, model_id, with_pack_moved(known.setup, -0.01))
    assert history(flown, model_id).setup.elevator.clicks == held
    assert not any("trim" in w for w in history(flown, model_id).configuration.change_words)


def test_corrections_of_a_record_are_appended_and_the_last_one_counts(session):
    model_id = new_model(session)
    sortie_id = next_sortie(session, model_id)
    for choice in ("rears", "holds"):
        record = CardRecord("F1", Outcome.DONE, (Reading("lift_off", choice=choice),))
        log_cards.log_card(session, sortie_id, record_id=uuid.uuid4(), record=record)
    fly.land(session, sortie_id)
    sortie = fly.get_sortie(session, sortie_id)
    assert len(sortie.entries) == 2
    assert [c.record.readings[0].choice for c in sortie.counted] == ["holds"]


def test_a_landed_log_is_corrected_visibly_and_everything_after_it_is_computed_anew(flown):
    model_id = scree(flown)
    first, second = history(flown, model_id).landed
    before = [debrief.debrief(flown, s.id) for s in (first, second)]
    sortie = fly.get_sortie(flown, first.id)
    entry = next(e for e in sortie.entries if e.record.card_id == "F2" and e.counts)
    other = Response.NOSE_DOWN if entry.record.readings[0].direction is Response.NOSE_UP else Response.NOSE_UP
    readings = (replace(entry.record.readings[0], number=12.0, direction=other), *entry.record.readings[1:])
    corrected = replace(entry.record, readings=readings, note="the other way: misread")
    new_id = uuid.uuid4()
    log_cards.log_card(flown, first.id, record_id=new_id, record=corrected, replaces=entry.id)
    log = {e.id: e for e in fly.get_sortie(flown, first.id).entries}
    assert (log[entry.id].replaced, log[entry.id].counts, log[entry.id].record) == (True, False, entry.record)
    assert (log[new_id].replaces, log[new_id].counts) == (entry.id, True)
    after = [debrief.debrief(flown, s.id) for s in (first, second)]
    for then, now in zip(before, after, strict=True):
        assert now.after != then.after
        assert [e.static_margin for e in now.earlier] == [then.after[0].value], "what was said before stays beside it"
    with pytest.raises(RefusedError, match="already corrected"):
        log_cards.log_card(flown, first.id, record_id=uuid.uuid4(), record=corrected, replaces=entry.id)
    with pytest.raises(RefusedError, match="replaces an entry of F2"):
        log_cards.log_card(flown, second.id, record_id=uuid.uuid4(), record=corrected, replaces=new_id)


def test_reading_a_page_writes_nothing(flown_url):
    """Every reading use case runs in a transaction that the database itself holds to reading."""
    engine = make_engine(flown_url)
    with reading(sessionmaker(engine)) as session:
        debrief.debrief(session, TARN_SORTIE)
        ledger.board(session, TARN)
        archive.export_model(session, TARN)
        with pytest.raises(Exception, match="read-only transaction"):
            new_model(session)
    engine.dispose()


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


def test_the_demo_loads_once_and_goes_out_and_in_with_its_history(flown):
    assert load_demo(flown) is False
    model_id = scree(flown)
    known = history(flown, model_id)
    assert len(known.landed) == 2, "in the middle of its programme: two flown sorties"
    assert today(known).worst is not None, "Today opens on one worrying tendency"
    name, project = archive.export_model(flown, model_id)
    assert name == "scree.jinba.zip"
    copy = archive.import_model(flown, archive.read_project(archive.write_project(project)))
    assert copy.name == "Scree (2)"
    twin = history(flown, copy.id)
    assert twin.setup == known.setup
    assert twin.standings.keys() == known.standings.keys()
    assert (twin.stale, twin.fresh, twin.results) == (known.stale, known.fresh, known.results)
    for mine, theirs in zip(known.landed, twin.landed, strict=True):
        a, b = (fly.get_sortie(flown, s.id) for s in (mine, theirs))
        assert [c.record for c in a.counted] == [c.record for c in b.counted]
        one, other = debrief.debrief(flown, mine.id), debrief.debrief(flown, theirs.id)
        assert replace(one, headline="") == replace(other, headline="")
    flown.get_one(ModelRow, model_id).read_only = True
    with pytest.raises(RefusedError, match="read-only"):
        bench.undo(flown, model_id, version=known.version)
    assert today(history(flown, model_id)).station == "bench"


def test_a_record_comes_back_from_its_rows_as_it_went_in(session):
    model_id = new_model(session)
    sortie_id = next_sortie(session, model_id)
    conditions = Conditions(throttle=0.5, flap=0.0, gear=GearState.DOWN, wind_mps=3.0, gust_mps=4.5, pack="red 3")
    readings = (
        Reading("pitch_clicks", number=3.0, direction=Response.NOSE_UP, entered="3 clicks"),
        Reading("left_over", choice="holds"),
        Reading("time_to_20_deg", number=5.0, none=True),
    )
    record = CardRecord("F2", Outcome.DONE, readings, True, note="gusty ½ way", conditions=conditions)
    log_cards.log_card(session, sortie_id, record_id=uuid.uuid4(), record=record)
    assert [c.record for c in fly.get_sortie(session, sortie_id).counted] == [record]
    assert from_json(CardRecord, to_json(record)) == record
    assert [p.name for p in session.scalars(select(PackRow))] == ["red 3"], "the pack is a thing of its own"


def test_a_setup_is_stored_once_and_the_database_keeps_it_from_being_changed(session):
    model_id = new_model(session)
    setup = history(session, model_id).setup
    count = session.scalar(select(func.count()).select_from(SetupRow))
    for dx_m in (0.01, 0.0, 0.01, 0.0):
        save(session, model_id, with_pack_moved(setup, dx_m))
    assert session.scalar(select(func.count()).select_from(SetupRow)) == count + 1
    with pytest.raises(IntegrityError, match="a setup is never changed"):
        session.execute(update(SetupRow).values(schema_version=2))


def test_undo_deletes_nothing_and_a_number_is_never_used_again(session):
    model_id = new_model(session)
    setup = history(session, model_id).setup
    a, b, c = (with_pack_moved(setup, dx_m) for dx_m in (0.01, 0.02, 0.03))
    for edit in (a, b):
        save(session, model_id, edit)
    version = history(session, model_id).version
    assert bench.undo(session, model_id, version=version).setup == a
    with pytest.raises(bench.StaleVersionError):
        bench.undo(session, model_id, version=version)
    save(session, model_id, c)
    known = bench.undo(session, model_id, version=history(session, model_id).version)
    assert known.setup == a
    assert bench.redo(session, model_id, version=known.version).setup == c, (
        "redo follows the newest edit made from here"
    )
    project = archive.export_model(session, model_id)[1]
    revisions = project.configurations[0].revisions
    assert [(r.number, r.parent) for r in revisions] == [(1, None), (2, 1), (3, 2), (4, 2)]
    assert project.setups[revisions[2].setup].body == b, "the edit that was undone is still there"


def test_a_sortie_says_what_it_was_let_go_on(session):
    model_id = new_model(session)
    sortie_id = next_sortie(session, model_id)
    passes = session.scalars(select(GatePassRow).where(GatePassRow.sortie_id == sortie_id)).all()
    assert {p.card_id for p in passes} == {"B1", "B2", "B4", "B5", "B6", "B7", "G1", "G2", "G7"}
    assert all(session.get_one(RecordRow, p.record_id).outcome == "passed" for p in passes)


def test_a_clock_set_back_hides_no_failed_gate(session):
    """The order of the log is the database's own, whatever the clock said when an entry arrived."""
    model_id = new_model(session)
    close_gates(session, model_id)
    session.execute(update(RecordRow).values(recorded_at=RecordRow.recorded_at + func.make_interval(0, 0, 0, 0, 1)))
    failed = CardRecord("G1", Outcome.FAILED, (Reading(CARDS["G1"].captures[0].key, choice="no"),))
    plan.log_ground_card(session, model_id, record_id=uuid.uuid4(), record=failed)
    assert plan.next_programme(history(session, model_id))[0].gates == ("G1",)


def test_a_sister_starts_with_the_airframe_and_the_lessons_and_nothing_of_the_one_model(flown):
    model_id = scree(flown)
    known = history(flown, model_id)
    sister_id = uuid.uuid4()
    for _ in range(2):
        sister.make_sister(flown, model_id, sister_id=sister_id, name="Talus")
    twin = history(flown, sister_id)
    assert twin.setup.airframe == known.setup.airframe
    assert (twin.setup.jig, twin.landed) == (None, ())
    assert all(c.clicks == 0 and c.sub_trim_rad == 0 for c in (twin.setup.elevator, twin.setup.aileron))
    assert twin.setup.elevator.mechanical_rad == pytest.approx(
        known.setup.elevator.mechanical_rad + known.setup.elevator.sub_trim_rad
    )
    story = twin.model.story
    assert "Sister of Scree, from its configuration 2. After 2 sorties its static margin was" in story
    assert "Found: " in story or "as the bench had said" in story
    sister.make_sister(flown, sister_id, sister_id=(third := uuid.uuid4()), name="Third")
    assert "there are no lessons" in history(flown, third).model.story
