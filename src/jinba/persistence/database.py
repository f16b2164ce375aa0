"""Engine, session and migrations."""

from __future__ import annotations

from collections.abc import Hashable, Iterator
from contextlib import contextmanager

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, text
from sqlalchemy.orm import Session, sessionmaker

MOST_CONNECTIONS = 40
"""As many as the web server has threads: a request never waits for a connection, and one is held only while reading or writing."""

LOCK_WAIT_MS = 15_000
"""Longest wait for another writer of the same model before the request is refused as busy."""


def make_engine(url: str) -> Engine:
    """Return an engine for a database URL; connections are checked before use, and made anew when the server was away."""
    return create_engine(
        url,
        pool_pre_ping=True,
        pool_size=10,
        max_overflow=MOST_CONNECTIONS - 10,
        pool_timeout=5,
        hide_parameters=True,
        connect_args={"connect_timeout": 5},
    )


@contextmanager
def unit_of_work(factory: sessionmaker[Session]) -> Iterator[Session]:
    """Yield a session in one transaction: committed at the end, rolled back when anything is raised."""
    with factory() as session, session.begin():
        session.execute(text(f"SET LOCAL lock_timeout = {LOCK_WAIT_MS}"))
        yield session


@contextmanager
def reading(factory: sessionmaker[Session]) -> Iterator[Session]:
    """Yield a session that sees one moment of the database and writes nothing; its connection is given back at the end."""
    with factory() as session, session.begin():
        session.execute(text("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY"))
        session.info[_READS] = True
        yield session


_READS = "reads one moment"
_MOMENT = text("SELECT pg_current_snapshot()::text, current_database(), pg_postmaster_start_time()")


def moment_of(session: Session) -> Hashable | None:
    """Return a name of what a reading session sees: two sessions of one name see the same rows. None for one that may write.

    A snapshot lists which transactions it sees; every commit makes another one (PostgreSQL documentation, "Snapshot Synchronization
    Functions").
    """
    if not session.info.get(_READS):
        return None
    return tuple(session.execute(_MOMENT).one())


def alembic_config(url: str) -> Config:
    """Return the Alembic configuration of this package, set in code."""
    config = Config()
    config.set_main_option("script_location", "jinba.persistence:migrations")
    config.set_main_option("sqlalchemy.url", url.replace("%", "%%"))
    return config


def upgrade(url: str, revision: str = "head") -> None:
    """Bring a database to a revision."""
    command.upgrade(alembic_config(url), revision)


def check(url: str) -> None:
    """Raise when tables and migrations disagree."""
    command.check(alembic_config(url))
