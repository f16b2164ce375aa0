"""Databases of earlier versions are brought up with their data kept."""

from __future__ import annotations

import json
import uuid

import psycopg
from sqlalchemy import create_engine, text
from sqlalchemy.orm import sessionmaker

from jinba.cli import postgres
from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.formats.codec import to_json
from jinba.persistence.database import make_engine, unit_of_work, upgrade
from jinba.services import bench
from tests.builders import model


def test_a_database_of_the_first_version_keeps_its_models_and_records(server):
    name = f"t_{uuid.uuid4().hex[:12]}"
    with psycopg.connect(server.url("postgres").replace("+psycopg", ""), autocommit=True) as c:
        c.execute(f'CREATE DATABASE "{name}"')
    url = server.url(name)
    upgrade(url, "0001")
    model_id, configuration_id = uuid.uuid4(), uuid.uuid4()
    record = CardRecord("B2", Outcome.PASSED, (Reading("fair", choice="yes"),))
    rows = {
        "owner": {"id": uuid.uuid4(), "name": "pilot"},
        "setup": to_json(model()),
        "record": to_json(record),
    }
    with create_engine(url).begin() as c:
        c.execute(text("INSERT INTO owner (id, name) VALUES (:id, :name)"), rows["owner"])
        c.execute(
            text("INSERT INTO model (id, owner_id, name, story, read_only) VALUES (:id, :owner, 'Old', '', false)"),
            {"id": model_id, "owner": rows["owner"]["id"]},
        )
        c.execute(
            text(
                "INSERT INTO configuration (id, model_id, number, change_words, stale_cards, current_revision) "
                "VALUES (:id, :model, 1, '[]', '[]', 1)"
            ),
            {"id": configuration_id, "model": model_id},
        )
        c.execute(
            text(
                "INSERT INTO revision (id, configuration_id, number, words, setup) VALUES (:id, :c, 1, 'old', CAST(:s AS jsonb))"
            ),
            {"id": uuid.uuid4(), "c": configuration_id, "s": json.dumps(rows["setup"])},
        )
        c.execute(
            text(
                "INSERT INTO record (id, model_id, configuration_id, card_id, record) "
                "VALUES (:id, :m, :c, 'B2', CAST(:r AS jsonb))"
            ),
            {"id": uuid.uuid4(), "m": model_id, "c": configuration_id, "r": json.dumps(rows["record"])},
        )
    upgrade(url)
    with unit_of_work(sessionmaker(make_engine(url))) as session:
        known = bench.history(session, model_id)
        assert known.setup == model()
        assert known.results == {"B2": Outcome.PASSED}
        assert known.stale == frozenset(), "a card without its setup counts as done, as it did before"
    postgres.drop_database(server, name)
