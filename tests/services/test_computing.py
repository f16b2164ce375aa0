"""What a change makes necessary is computed with no connection held, from the log that is committed with it."""

from __future__ import annotations

import uuid
from collections.abc import Iterator

import pytest
from sqlalchemy import Engine, select
from sqlalchemy.orm import sessionmaker

from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.persistence.database import make_engine, reading
from jinba.persistence.orm import ModelRow
from jinba.persistence.repositories import Estimates
from jinba.services import estimates, log_cards
from jinba.services.computing import ROUNDS, Computation, computed, written
from jinba.services.log import sortie_logs
from tests.states import TARN, TARN_SORTIE


@pytest.fixture
def engine(flown_url) -> Iterator[Engine]:
    engine = make_engine(flown_url)
    yield engine
    engine.dispose()


def late(session, millimetres: float):
    measured = (Reading("elevator_mm", number=millimetres), Reading("noted", choice="yes"))
    return log_cards.log_card(
        session, TARN_SORTIE, record_id=uuid.uuid4(), record=CardRecord("A3", Outcome.DONE, measured)
    )


def watched(monkeypatch, before) -> list[int]:
    """Run ``before`` at the begin of every estimation of a sortie; return the list that counts them."""
    runs: list[int] = []
    original = estimates.estimate_of

    def estimate(*args, **kwargs):
        runs.append(1)
        before(len(runs))
        return original(*args, **kwargs)

    monkeypatch.setattr(estimates, "estimate_of", estimate)
    return runs


def test_no_connection_is_held_and_no_row_is_locked_while_an_estimate_is_computed(engine, monkeypatch):
    sessions = sessionmaker(engine)
    taken: list[int] = []

    def look(_):
        taken.append(engine.pool.checkedout())
        with sessions() as s, s.begin():
            s.scalars(select(ModelRow).where(ModelRow.id == TARN).with_for_update(nowait=True)).one()

    runs = watched(monkeypatch, look)
    written(sessions, lambda s: late(s, 25.0))
    assert (taken, len(runs)) == ([0], 1), "computed once, between the two runs of the use case"
    with reading(sessions) as s:
        row = Estimates(s).of_sorties((TARN_SORTIE,))[TARN_SORTIE]
        assert [q.code for q in estimates.stored_squawks(s, row.id)] == ["surface_moved"]


def test_what_a_rival_commits_meanwhile_is_computed_in(engine, monkeypatch):
    """A second entry arrives while the first is being computed: the estimate stored last has both."""
    sessions = sessionmaker(engine)

    def rival(run: int) -> None:
        if run == 1:
            with sessions() as s, s.begin():
                late(s, 24.0)

    watched(monkeypatch, rival)
    written(sessions, lambda s: late(s, 25.0))
    with reading(sessions) as s:
        (log,) = sortie_logs(s, TARN)
        row = Estimates(s).of_sorties((TARN_SORTIE,))[TARN_SORTIE]
        assert sum(r.card_id == "A3" for r in log.looked_after) >= 2
        assert row.inputs_hash == estimates._inputs_hash([log], log.setup_hash)
        assert row.log_version == s.get_one(ModelRow, TARN).log_version


def test_a_use_case_that_never_ceases_to_ask_is_still_answered(engine):
    asked: list[int] = []

    def restless(session):
        asked.append(len(asked))
        return computed(session, TARN, [Computation(("round", len(asked)), lambda: len(asked))])

    assert written(sessionmaker(engine), restless) == [ROUNDS + 1]


def test_what_fails_while_it_is_computed_changes_nothing(engine, monkeypatch):
    sessions = sessionmaker(engine)

    def fail(_):
        raise ArithmeticError("diverged")

    with reading(sessions) as s:
        before = s.get_one(ModelRow, TARN).log_order
    watched(monkeypatch, fail)
    with pytest.raises(ArithmeticError, match="diverged"):
        written(sessions, lambda s: late(s, 25.0))
    with reading(sessions) as s:
        assert s.get_one(ModelRow, TARN).log_order == before
