"""One PostgreSQL server per run, one migrated template, a database per module that needs one."""

from __future__ import annotations

import os
import tempfile
import uuid
from collections.abc import Iterator
from pathlib import Path

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import psycopg
import pytest
from fastapi.testclient import TestClient
from hypothesis import settings as hypothesis_settings

from jinba.api.app import create_app
from jinba.cli import postgres
from jinba.persistence.database import upgrade

# Speed belongs to bench/: a busy machine must not fail a property. The same commit gives the same verdict every time;
# JINBA_PROPERTIES=explore looks for new cases, many of them.
hypothesis_settings.register_profile("same", deadline=None, derandomize=True)
hypothesis_settings.register_profile("explore", deadline=None, max_examples=3000)
hypothesis_settings.load_profile(os.environ.get("JINBA_PROPERTIES", "same"))


@pytest.fixture(scope="session")
def server() -> Iterator[postgres.Server]:
    with tempfile.TemporaryDirectory(prefix="jinba-test-") as folder:
        Path(folder).chmod(0o755)
        running = postgres.start(Path(folder) / "pg", fast=True)
        postgres.ensure_database(running, "template_jinba")
        upgrade(running.url("template_jinba"))
        yield running
        postgres.stop(running)


@pytest.fixture(scope="module")
def database_url(server: postgres.Server) -> Iterator[str]:
    name = f"t_{uuid.uuid4().hex[:12]}"
    with psycopg.connect(server.url("postgres").replace("+psycopg", ""), autocommit=True) as c:
        c.execute(f'CREATE DATABASE "{name}" TEMPLATE template_jinba')
    yield server.url(name)
    postgres.drop_database(server, name)


@pytest.fixture(scope="module")
def client(database_url: str) -> Iterator[TestClient]:
    with TestClient(create_app(database_url), raise_server_exceptions=False) as c:
        yield c
