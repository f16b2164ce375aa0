"""Engine, session and migrations."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine
from sqlalchemy.orm import Session, sessionmaker


def make_engine(url: str) -> Engine:
    """Return an engine for a database URL; connections are checked before use."""
    return create_engine(url, pool_pre_ping=True)


@contextmanager
def unit_of_work(factory: sessionmaker[Session]) -> Iterator[Session]:
    """Yield a session in one transaction: committed at the end, rolled back when anything is raised."""
    with factory() as session, session.begin():
        yield session


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
