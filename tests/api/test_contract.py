"""What is generated must be current: OpenAPI, client, migrations, nomenclature, demo."""

from __future__ import annotations

import json
from pathlib import Path

from sqlalchemy.orm import sessionmaker

from jinba.core.symbols import SYMBOLS
from jinba.persistence.database import check, make_engine, unit_of_work, upgrade
from jinba.services import bench, demo, ledger, today
from jinba.services.debrief import debrief

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
    assert "examples" in json.dumps(live["paths"]["/api/v1/compute/balance"])


def test_generated_client_names_every_path():
    schema = (ROOT / "web" / "src" / "api" / "schema.d.ts").read_text()
    for path in json.loads((ROOT / "web" / "openapi.json").read_text())["paths"]:
        assert f'"{path}"' in schema


def test_tables_and_migrations_agree(database_url):
    upgrade(database_url)
    check(database_url)


def test_nomenclature_page_is_generated_from_the_symbols():
    page = (ROOT / "docs" / "nomenclature.md").read_text()
    for s in SYMBOLS:
        assert f"| {s.symbol} | `{s.name}` | {s.unit} | {s.sign} | {s.meaning} |" in page


def test_demo_data_load_once_and_stand_in_the_middle_of_the_programme(database_url):
    factory = sessionmaker(make_engine(database_url))
    with unit_of_work(factory) as session:
        assert demo.load_demo(session)
        assert not demo.load_demo(session)
        names = {m.name: m for m in bench.shelf(session)}
        assert {"Scree", "Gentian", "Larkspur"} <= set(names)
        known = bench.history(session, names["Scree"].id)
        assert len(known.landed) == 2
        assert today.today(known).worst is not None
        assert today.today(known).station == "rework"
        result = debrief(session, known.landed[-1].id)
        assert result.data_count > 10
        assert len(ledger.board(known).columns) == 2
        assert today.today(bench.history(session, names["Gentian"].id)).station == "bench"
