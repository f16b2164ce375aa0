"""What was read before a lock was held is read again: a rival may have written in between."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import pytest
from sqlalchemy.orm import Session, sessionmaker

from jinba.core.airframe.guesses import guessed_by_silhouette
from jinba.core.errors import RefusedError
from jinba.core.observe.parameters import P
from jinba.persistence.database import make_engine, reading, unit_of_work
from jinba.persistence.repositories import Orders
from jinba.services import rework
from jinba.services.bench import save_setup, taught
from jinba.services.history import history
from tests.states import TARN, TARN_ORDER


@pytest.fixture
def late(flown_url: str) -> Iterator[Session]:
    """Yield a session that has read the order before somebody else took it back."""
    engine = make_engine(flown_url)
    sessions = sessionmaker(engine)
    with sessions() as session:
        # Held, or the session forgets it and reads it anew by itself.
        row = Orders(session).get(TARN_ORDER)
        assert row.taken_back_at is None
        with unit_of_work(sessions) as rival:
            rework.take_back(rival, TARN_ORDER)
        yield session
        assert row.taken_back_at is not None
    engine.dispose()


def test_taking_back_what_a_rival_took_back_in_between_is_taking_it_back_once(late):
    """Found by the race on a busy machine: nineteen of twenty were told that the order had been flown on."""
    assert rework.take_back(late, TARN_ORDER).order is None


def test_nothing_is_proved_of_an_order_that_a_rival_took_back_in_between(late):
    with pytest.raises(RefusedError, match="taken back"):
        rework.prove(late, TARN_ORDER, index=0, reading="done")


@pytest.mark.parametrize("read", [history, taught])
def test_what_is_known_is_read_once_while_nothing_is_written_and_anew_as_soon_as_something_is(flown_url, read):
    engine = make_engine(flown_url)
    sessions = sessionmaker(engine)

    def known():
        with reading(sessions) as session:
            return read(session, TARN)

    # Another worker's writes on the same server make another moment, too: some two in a row lie between them.
    assert any(known() is known() for _ in range(200))
    first = known()
    with unit_of_work(sessions) as writer:
        assert read(writer, TARN) is not first, "who may write reads for himself"
        rework.take_back(writer, TARN_ORDER)
    assert known() is not first
    engine.dispose()


def test_a_what_if_is_computed_under_what_is_known_by_now(flown_url):
    """Somebody owns up that nothing was measured, between two moves of a pointer: the next answer is less sure."""
    engine = make_engine(flown_url)
    sessions = sessionmaker(engine)

    def margin_sigma():
        with reading(sessions) as session:
            return taught(session, TARN).belief.sigma[P.STATIC_MARGIN]

    before = margin_sigma()
    with unit_of_work(sessions) as writer:
        known = history(writer, TARN)
        unsure = replace(known.setup, guessed=guessed_by_silhouette(known.setup.airframe))
        save_setup(writer, TARN, base_version=known.version, setup=unsure, words="nobody measured it")
    assert margin_sigma() > 1.2 * before
    engine.dispose()


def test_what_is_not_committed_is_not_known(flown_url):
    engine = make_engine(flown_url)
    sessions = sessionmaker(engine)

    def known():
        with reading(sessions) as session:
            return history(session, TARN)

    first = known()
    with unit_of_work(sessions) as writer:
        assert history(writer, TARN) is not first, "who may write reads for himself"
        rework.take_back(writer, TARN_ORDER)
        writer.flush()
        assert known().order is not None, "what is not committed is not seen"
    assert known().order is None
    engine.dispose()


def test_a_moment_that_began_before_a_commit_keeps_what_it_saw_and_gives_it_to_no_later_one(flown_url):
    engine = make_engine(flown_url)
    sessions = sessionmaker(engine)
    with reading(sessions) as early:
        before = history(early, TARN)
        with unit_of_work(sessions) as writer:
            rework.take_back(writer, TARN_ORDER)
        with reading(sessions) as later:
            assert history(later, TARN).order is None
        assert history(early, TARN).order is not None
        assert history(early, TARN) == before
    with reading(sessions) as last:
        assert history(last, TARN).order is None
    engine.dispose()
