"""Alembic environment: online migrations only."""

from __future__ import annotations

from alembic import context
from sqlalchemy import create_engine

from jinba.persistence.orm import Base


def _run() -> None:
    url = context.config.get_main_option("sqlalchemy.url")
    assert url is not None
    engine = create_engine(url)
    with engine.connect() as connection:
        context.configure(connection=connection, target_metadata=Base.metadata, compare_server_default=False)
        with context.begin_transaction():
            context.run_migrations()
    engine.dispose()


_run()
