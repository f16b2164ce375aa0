"""Steps round the loop through the API, as any script would take them."""

from __future__ import annotations

import json
import uuid
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Any

from fastapi import FastAPI
from fastapi.testclient import TestClient

from jinba.api.field import Site
from jinba.persistence.database import unit_of_work
from tests import states

V1 = "/api/v1"
SITE = Site(
    "jinba-test.local", 8471, b"der", "AA:BB", datetime(2031, 1, 1, tzinfo=UTC), lambda: frozenset({"192.168.7.5"})
)
"""A field door that nobody has to open: where it would be, and what would vouch for it."""


def new_id() -> str:
    return str(uuid.uuid4())


def ok(response: Any, status: int = 200) -> Any:
    assert response.status_code == status, response.text
    return response.json()


def create(client: TestClient, name: str = "Tarn", silhouette: str = "low_wing", span_m: float = 1.5) -> dict[str, Any]:
    """A model that a stand-in may fly."""
    body = {"id": new_id(), "name": name, "silhouette": silhouette, "span_m": span_m, "rehearsal": True}
    return ok(client.post(f"{V1}/models", json=body), 201)


def step(client: TestClient, model_id: str, way: str) -> Any:
    """Undo or redo from the version that the server has now."""
    version = client.get(f"{V1}/models/{model_id}").headers["etag"]
    return client.post(f"{V1}/models/{model_id}/{way}", headers={"If-Match": version})


def close_gates(client: TestClient, model_id: str) -> dict[str, Any]:
    """Close every gate and return the plan; in the program's own process all in one go, which is what most tests want of them."""
    if isinstance(client, TestClient) and isinstance(client.app, FastAPI):
        with unit_of_work(client.app.state.sessions) as session:
            states.close_gates(session, uuid.UUID(model_id))
        return ok(client.get(f"{V1}/models/{model_id}/plan"))
    plan = ok(client.get(f"{V1}/models/{model_id}/plan"))
    cards = {c["id"]: c for c in plan["cards"]}
    for gate in plan["programme"]["gates"]:
        readings = [{"key": c["key"], "choice": "yes"} for c in cards[gate]["captures"] if c["kind"] == "yes_no"]
        ok(
            client.post(
                f"{V1}/models/{model_id}/ground-cards",
                json={"id": new_id(), "record": {"card_id": gate, "outcome": "passed", "readings": readings}},
            )
        )
    return ok(client.get(f"{V1}/models/{model_id}/plan"))


def plan_sortie(client: TestClient, model_id: str, **more: Any) -> str:
    plan = close_gates(client, model_id)
    sortie_id = new_id()
    ok(
        client.post(
            f"{V1}/models/{model_id}/sorties",
            json={
                "id": sortie_id,
                "card_ids": plan["programme"]["flight"],
                "reasons": {s["code"]: "a rehearsal of the tests" for s in plan["stops"]},
                **more,
            },
        ),
        201,
    )
    return sortie_id


def fly_and_rework(client: TestClient, model_id: str) -> dict[str, Any]:
    sortie_id = plan_sortie(client, model_id)
    ok(client.post(f"{V1}/sorties/{sortie_id}/stand-in"))
    ok(client.get(f"{V1}/sorties/{sortie_id}/debrief"))
    return ok(client.post(f"{V1}/models/{model_id}/rework", json={"id": new_id()}), 201)


def figures(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Yield the path of every number in a body."""
    if isinstance(value, float):
        yield path
    elif isinstance(value, dict | list):
        for key, part in value.items() if isinstance(value, dict) else enumerate(value):
            yield from figures(part, (*path, key))


def with_text(body: dict[str, Any], path: tuple[Any, ...], text: str) -> str:
    """Return the body as JSON with one number written as that text."""
    copy = json.loads(json.dumps(body))
    here = copy
    for key in path[:-1]:
        here = here[key]
    here[path[-1]] = "@"
    return json.dumps(copy).replace('"@"', text)


def assert_no_number_breaks(client: TestClient, url: str, body: dict[str, Any]) -> None:
    """NaN, infinities, overflow, text and nothing in the place of each number: answered or refused, never an error of ours."""
    ok(client.post(url, json=body))
    for place in figures(body):
        for text in ("NaN", "Infinity", "-Infinity", "1e999", "1e300", "-1e300", "0", "null", '"x"'):
            answer = client.post(
                url, content=with_text(body, place, text), headers={"content-type": "application/json"}
            )
            assert answer.status_code in (200, 422), f"{place} = {text}: {answer.text}"
            if answer.status_code == 200:
                assert "NaN" not in answer.text
