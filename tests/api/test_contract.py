"""What is generated must be current: OpenAPI, client, migrations, nomenclature, demo."""

from __future__ import annotations

import json
from pathlib import Path

from sqlalchemy.orm import sessionmaker

from jinba.formats.nomenclature import nomenclature_page
from jinba.persistence.database import check, make_engine, unit_of_work, upgrade
from jinba.services import demo, ledger, shelf, today
from jinba.services.debrief import debrief
from jinba.services.history import history

ROOT = Path(__file__).resolve().parents[2]


def test_openapi_file_is_current_and_documents_problems(client):
    live = client.app.openapi()
    assert json.loads((ROOT / "web" / "openapi.json").read_text()) == live, (
        "run: python -m jinba.cli.main openapi web/openapi.json, then npm run client"
    )
    for path, operations in live["paths"].items():
        for method, operation in operations.items():
            assert operation["operationId"], f"{method} {path} has no operation id"
            assert "application/problem+json" in operation["responses"]["default"]["content"]


def test_every_worked_example_of_the_computations_can_be_sent_as_it_stands(client):
    """What the OpenAPI page shows is what a script may copy: each example is posted and must be answered."""
    for path, operations in client.app.openapi()["paths"].items():
        if not path.startswith("/api/v1/compute/"):
            continue
        ((kind, body),) = operations["post"]["requestBody"]["content"].items()
        assert body.get("examples"), f"{path} has no worked example"
        for name, example in body["examples"].items():
            sent = {"json": example["value"]} if kind == "application/json" else {"content": example["value"]}
            answer = client.post(path, **sent)
            assert answer.status_code == 200, f"{path}, {name}: {answer.text}"


def test_generated_client_names_every_path():
    schema = (ROOT / "web" / "src" / "api" / "schema.d.ts").read_text()
    for path in json.loads((ROOT / "web" / "openapi.json").read_text())["paths"]:
        assert f'"{path}"' in schema


def test_tables_and_migrations_agree(database_url):
    upgrade(database_url)
    check(database_url)


def test_nomenclature_page_is_generated_from_the_symbols():
    assert (ROOT / "docs" / "nomenclature.md").read_text() == nomenclature_page(), (
        "run: python -m jinba.cli.main nomenclature docs/nomenclature.md"
    )


def test_demo_data_load_once_and_stand_in_the_middle_of_the_programme(database_url):
    factory = sessionmaker(make_engine(database_url))
    with unit_of_work(factory) as session:
        assert demo.load_demo(session)
        assert not demo.load_demo(session)
        names = {m.name: m for m in shelf.shelf(session)}
        assert {"Scree", "Gentian", "Larkspur"} <= set(names)
        known = history(session, names["Scree"].id)
        assert len(known.landed) == 2
        assert today.today(known).worst is not None
        assert today.today(known).station == "rework"
        result = debrief(session, known.landed[-1].id)
        assert result.data_count > 10
        assert len(ledger.board(session, names["Scree"].id).columns) == 2
        assert today.today(history(session, names["Gentian"].id)).station == "plan"
