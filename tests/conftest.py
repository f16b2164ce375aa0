"""One PostgreSQL server per run, shared by the workers; migrated and flown templates; a database cloned where it is needed."""

from __future__ import annotations

import os
import tempfile
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import psycopg
import pytest
from fastapi.testclient import TestClient
from hypothesis import settings as hypothesis_settings
from sqlalchemy import Engine, event, make_url
from sqlalchemy.orm import Session, sessionmaker

from jinba.api.app import create_app
from jinba.cli import postgres
from jinba.persistence.database import make_engine, unit_of_work, upgrade
from jinba.services import stand_in
from tests.states import fly_template

# Speed belongs to bench/: a busy machine must not fail a property. The same commit gives the same verdict every time;
# JINBA_PROPERTIES=explore looks for new cases, many of them.
hypothesis_settings.register_profile("same", deadline=None, derandomize=True)
hypothesis_settings.register_profile("explore", deadline=None, max_examples=3000)
hypothesis_settings.load_profile(os.environ.get("JINBA_PROPERTIES", "same"))

_ADDRESS = "JINBA_TEST_SERVER"
OWN = "http://127.0.0.1"
"""The program's own address: it answers under no other name."""

_running: list[tuple[tempfile.TemporaryDirectory[str], postgres.Server]] = []


def pytest_configure(config: pytest.Config) -> None:
    """Start the server once, before any worker; workers find it by the environment."""
    pytest.register_assert_rewrite("tests.api.races")
    if hasattr(config, "workerinput") or config.option.collectonly:
        return
    folder = tempfile.TemporaryDirectory(prefix="jinba-test-")
    Path(folder.name).chmod(0o755)
    server = postgres.start(Path(folder.name) / "pg", fast=True)
    _running.append((folder, server))
    os.environ[_ADDRESS] = f"{server.port} {server.password} {server.data}"


SLOWEST = (
    "test_races",
    "test_kills",
    "test_build",
    "test_serving",
    "test_fuzz",
    "test_stranger",
    "test_damaged",
    "test_away",
    "test_controls",
    "test_field",
    "test_demo",
)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Start the files that take longest first: a file is what a worker takes, and two workers should end together."""
    rank = {name: i for i, name in enumerate(SLOWEST)}
    items.sort(key=lambda i: len(SLOWEST) if "core" in i.path.parts else rank.get(i.path.stem, len(SLOWEST)))


def pytest_unconfigure(config: pytest.Config) -> None:
    """Stop the server of this run."""
    for folder, server in _running:
        postgres.stop(server)
        folder.cleanup()
    _running.clear()


@pytest.fixture(scope="session", autouse=True)
def same_chances() -> Iterator[None]:
    """Every rehearsal has the same faults and the same gusts: its identity is random, and so would be what it flies."""
    if os.environ.get("JINBA_PROPERTIES") == "explore":
        yield
        return
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(stand_in, "seed_of", lambda _: 20261128)
        yield


@pytest.fixture(scope="session")
def server() -> postgres.Server:
    port, password, data = os.environ[_ADDRESS].split(" ", 2)
    return postgres.Server(Path(data), int(port), password)


@contextmanager
def _alone(server: postgres.Server) -> Iterator[psycopg.Connection]:
    """Yield a connection while no other worker makes a template."""
    with psycopg.connect(server.url("postgres").replace("+psycopg", ""), autocommit=True) as c:
        c.execute("SELECT pg_advisory_lock(1)")
        yield c


def _template(server: postgres.Server, name: str, fill) -> str:
    with _alone(server) as c:
        if c.execute("SELECT 1 FROM pg_database WHERE datname = %s", (name,)).fetchone() is None:
            draft = f"draft_{name}"
            c.execute(f'CREATE DATABASE "{draft}"')
            fill(server.url(draft))
            c.execute(f'ALTER DATABASE "{draft}" RENAME TO "{name}"')
    return name


def _fill_flown(url: str) -> None:
    upgrade(url)
    engine = make_engine(url)
    with unit_of_work(sessionmaker(engine)) as session:
        fly_template(session)
    engine.dispose()


@contextmanager
def cloned(server: postgres.Server, template: str) -> Iterator[str]:
    """Yield the address of a database cloned from a template."""
    name = f"t_{uuid.uuid4().hex[:12]}"
    with _alone(server) as c:
        c.execute(f'CREATE DATABASE "{name}" TEMPLATE "{template}"')
    yield server.url(name)
    postgres.drop_database(server, name)


@pytest.fixture(scope="session")
def empty_template(server: postgres.Server) -> str:
    return _template(server, "template_jinba", upgrade)


@pytest.fixture(scope="session")
def flown_template(server: postgres.Server) -> str:
    """The demo, and Tarn: flown once, its rework accepted (tests/states.py)."""
    return _template(server, "template_flown", _fill_flown)


@pytest.fixture(scope="module")
def database_url(server: postgres.Server, empty_template: str) -> Iterator[str]:
    with cloned(server, empty_template) as url:
        yield url


@pytest.fixture
def flown_url(server: postgres.Server, flown_template: str) -> Iterator[str]:
    with cloned(server, flown_template) as url:
        yield url


class OneApplication:
    """The application of a worker: what it has learnt of its own queries holds for every database that a test gives it.

    Made anew for each test it would compile every query again, a third of a second each time.
    """

    def __init__(self, server: postgres.Server) -> None:
        self.app = create_app(server.url("postgres"))
        self.engine: Engine = self.app.state.sessions.kw["bind"]
        self.url = make_url(server.url("postgres"))
        event.listen(self.engine, "do_connect", self._connect)

    def _connect(self, _dialect: object, _record: object, _given: object, wanted: dict[str, Any]) -> None:
        wanted["dbname"] = self.url.database

    @contextmanager
    def at(self, url: str) -> Iterator[OneApplication]:
        """Let it work on one database."""
        self.url = make_url(url)
        self.engine.dispose()
        yield self
        self.engine.dispose()


@pytest.fixture(scope="session")
def application(server: postgres.Server) -> OneApplication:
    return OneApplication(server)


@pytest.fixture
def flown(application: OneApplication, flown_url: str) -> Iterator[Session]:
    """Yield a session on the flown template."""
    with application.at(flown_url), sessionmaker(application.engine)() as session:
        yield session


@pytest.fixture(scope="module")
def client(database_url: str) -> Iterator[TestClient]:
    with TestClient(create_app(database_url), raise_server_exceptions=False, base_url=OWN) as c:
        yield c


@pytest.fixture
def flown_client(application: OneApplication, flown_url: str) -> Iterator[TestClient]:
    """Yield the API on a database of its own, with the demo and Tarn."""
    with application.at(flown_url), TestClient(application.app, raise_server_exceptions=False, base_url=OWN) as c:
        yield c
