"""What is stored is what is computed: estimates read back against the core, entries through their rows, changes and their reach."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import func, select
from sqlalchemy.orm import Session, sessionmaker

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import Capture, CaptureKind, CardRecord, Conditions, Confidence, GearState, Outcome, Reading
from jinba.core.configuration import JigReading
from jinba.core.controls.switches import FlightMode
from jinba.core.diagnose.estimate import estimate_of
from jinba.core.diagnose.sorties import belief_after, trims_at_landing
from jinba.core.diagnose.update import METHOD_VERSION
from jinba.persistence.database import make_engine
from jinba.persistence.orm import EstimateRow, ModelRow, SortieTrimRow
from jinba.persistence.repositories import Estimates, Log, Sorties
from jinba.services import bench, debrief, estimates, fly, log_cards
from jinba.services.history import history
from jinba.services.log import entries_of, sortie_logs
from tests.conftest import cloned
from tests.states import TARN, TARN_SORTIE, new_model, next_sortie


@pytest.fixture(scope="module")
def session(server, flown_template) -> Iterator[Session]:
    with cloned(server, flown_template) as url:
        engine = make_engine(url)
        with sessionmaker(engine)() as s:
            yield s
            s.rollback()
        engine.dispose()


def scree(session: Session) -> uuid.UUID:
    return session.scalars(select(ModelRow.id).where(ModelRow.name == "Scree")).one()


def test_the_stored_estimate_is_what_the_core_computes_from_the_stored_log(session):
    """Belief, behaviours, causes and score of both sorties of the demo: rows against a computation from scratch."""
    model_id = scree(session)
    logs = sortie_logs(session, model_id)
    assert len(logs) == 2
    for i, log in enumerate(logs):
        said = estimates.rails(Sorties(session).predictions((log.id,))[log.id])
        expected = estimate_of(tuple(s.logged for s in logs[: i + 1]), said=said)
        row = Estimates(session).of_sorties((log.id,))[log.id]
        np.testing.assert_array_equal(row.mean, expected.belief.mean)
        np.testing.assert_array_equal(
            np.reshape(row.covariance, expected.belief.covariance.shape), expected.belief.covariance
        )
        assert Estimates(session).biases(row.id) == expected.belief.bias
        told = debrief.debrief(session, log.id)
        assert (told.before, told.flown, told.after) == (expected.before, expected.flown, expected.after)
        assert told.causes == expected.causes
        assert told.score == expected.score
        assert (told.data_count, told.method) == (expected.data_count, expected.method)
        assert Sorties(session).trims((log.id,))[log.id] == trims_at_landing(log.logged)


def test_the_present_belief_is_that_of_the_present_setup(session):
    known = history(session, TARN)
    assert known.belief is not None
    logs = sortie_logs(session, TARN)
    expected = belief_after(tuple(s.logged for s in logs), configuration=known.setup)
    np.testing.assert_allclose(known.belief.mean, expected.mean, rtol=1e-12)
    np.testing.assert_allclose(known.belief.covariance, expected.covariance, rtol=1e-12)


def save(session: Session, model_id: uuid.UUID, **parts) -> None:
    known = history(session, model_id)
    setup = replace(known.setup, **parts)
    bench.save_setup(session, model_id, base_version=known.version, setup=setup, words="tried")


def test_a_belief_is_copied_only_where_the_prior_is_the_very_same(session, monkeypatch):
    model_id = scree(session)
    before = history(session, model_id)
    computed = []

    def counted(*args, **kwargs):
        computed.append(1)
        return belief_after(*args, **kwargs)

    monkeypatch.setattr(estimates, "belief_after", counted)
    items = tuple(replace(i, x_m=i.x_m - 0.005) if i.key == "battery" else i for i in before.setup.items)
    save(session, model_id, items=items)
    slid = history(session, model_id)
    assert slid.belief is not None
    assert before.belief is not None
    np.testing.assert_array_equal(slid.belief.mean, before.belief.mean)
    assert computed == [], "sliding a pack changes where it balances, not how well that is known"
    balance = slid.setup.jig
    assert balance is not None
    save(session, model_id, jig=JigReading(balance.x_m, 0.2 * balance.sigma_m, balance.items_x_m))
    sharper = history(session, model_id)
    assert computed == [1]
    assert sharper.belief is not None
    logs = tuple(s.logged for s in sortie_logs(session, model_id))
    expected = belief_after(logs, configuration=sharper.setup)
    np.testing.assert_allclose(sharper.belief.mean, expected.mean, rtol=1e-9)
    assert not np.allclose(sharper.belief.mean, slid.belief.mean), "a better reading is another prior"


def test_an_estimate_says_what_it_was_computed_from(session):
    row = Estimates(session).of_sorties((TARN_SORTIE,))[TARN_SORTIE]
    assert (row.method, len(row.inputs_hash), row.log_version) == (METHOD_VERSION, 64, 1)
    log_cards.log_card(
        session,
        TARN_SORTIE,
        record_id=uuid.uuid4(),
        record=CardRecord("A3", Outcome.DONE, (Reading("elevator_mm", number=25.0), Reading("noted", choice="yes"))),
    )
    after = Estimates(session).of_sorties((TARN_SORTIE,))[TARN_SORTIE]
    assert after.inputs_hash != row.inputs_hash
    assert after.log_version == 2
    squawks = estimates.stored_squawks(session, after.id)
    assert [s.code for s in squawks] == ["surface_moved"], "a surface that rests elsewhere is to be looked at"
    assert history(session, TARN).last_flight.squawks == squawks
    assert estimates.stored_squawks(session, row.id) == (), "what was said before stays as it was"


def test_only_the_sorties_from_the_changed_one_on_are_computed_anew(session):
    model_id = scree(session)
    first, second = history(session, model_id).landed

    def counts() -> dict[int, int]:
        return {s.number: len(Estimates(session).every(s.id)) for s in (first, second)}

    before = counts()
    entry = next(e for e in fly.get_sortie(session, second.id).entries if e.record.card_id == "F1" and e.counts)
    corrected = replace(entry.record, note="seen from the other side")
    log_cards.log_card(session, second.id, record_id=uuid.uuid4(), record=corrected, replaces=entry.id)
    assert counts() == {1: before[1], 2: before[2] + 1}


def test_the_trims_at_release_and_at_landing_of_each_sortie_are_kept_with_their_clicks(session):
    rows = session.scalars(select(SortieTrimRow).where(SortieTrimRow.sortie_id == TARN_SORTIE)).all()
    assert {(r.moment, r.axis) for r in rows} == {
        (m, a) for m in ("release", "landing") for a in ("pitch", "roll", "yaw")
    }
    release = {r.axis: r.clicks for r in rows if r.moment == "release"}
    assert release == {"pitch": 0, "roll": 0, "yaw": 0}
    assert any(r.clicks for r in rows if r.moment == "landing")


def answers(capture: Capture) -> st.SearchStrategy[Reading]:
    """Return readings that fit a measure of a card."""
    if capture.options:
        return st.builds(Reading, st.just(capture.key), choice=st.sampled_from([o.key for o in capture.options]))
    numbers = st.floats(0.0, min(capture.highest, 60.0), allow_nan=False)
    entered = st.text(st.characters(exclude_categories=["Cs", "Cc"]), max_size=20)
    if capture.directions:
        way = st.sampled_from(capture.directions)
        return st.builds(Reading, st.just(capture.key), number=numbers, direction=way, entered=entered)
    return st.builds(Reading, st.just(capture.key), number=numbers, none=st.booleans(), entered=entered)


def share() -> st.SearchStrategy[float | None]:
    return st.none() | st.floats(0.0, 1.0, allow_nan=False)


def speed() -> st.SearchStrategy[float | None]:
    return st.none() | st.floats(0.0, 60.0, allow_nan=False)


CONDITIONS = st.builds(
    Conditions,
    throttle=share(),
    flap=share(),
    gear=st.none() | st.sampled_from(list(GearState)),
    mode=st.none() | st.sampled_from(list(FlightMode)),
    wind_mps=speed(),
    gust_mps=speed(),
    pack=st.sampled_from(["", "red 1", "blau 2½"]),
)


@st.composite
def records(draw) -> CardRecord:
    card = CARDS[draw(st.sampled_from(["F1", "F2", "F3", "F28", "F29", "A1", "A3"]))]
    readings = tuple(draw(answers(c)) for c in card.captures if c.kind is not CaptureKind.LEVEL)
    return CardRecord(
        card.id,
        Outcome.DONE,
        readings,
        left_alone=True if card.proof_of_trim else None,
        confidence=draw(st.sampled_from(list(Confidence))),
        from_memory=draw(st.booleans()),
        note=draw(st.text(st.characters(exclude_categories=["Cs", "Cc"]), max_size=60)),
        conditions=draw(CONDITIONS),
    )


@pytest.fixture(scope="module")
def open_sortie(session) -> uuid.UUID:
    return next_sortie(session, new_model(session, "Rowan"))


@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(record=records())
def test_any_record_comes_back_from_its_rows_as_it_went_in(session, open_sortie, record):
    identity = uuid.uuid4()
    log_cards.log_card(session, open_sortie, record_id=identity, record=record)
    kept = [e for e in entries_of(session, Log(session).of_sortie(open_sortie)) if e.id == str(identity)]
    assert [e.record for e in kept] == [record]


def test_nothing_stored_is_ever_changed_by_reading(session):
    count = session.scalar(select(func.count()).select_from(EstimateRow))
    for s in history(session, scree(session)).landed:
        debrief.debrief(session, s.id)
    assert session.scalar(select(func.count()).select_from(EstimateRow)) == count
