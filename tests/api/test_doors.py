"""The doors: foreign names and pages, what every answer says, bodies that are too large or too slow, other people's models."""

from __future__ import annotations

import asyncio
import re
import socket
import time
import urllib.request
import uuid
from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import select
from sqlalchemy.orm import sessionmaker

from bench.fuzz import serving
from jinba.api import doors
from jinba.api.app import create_app
from jinba.api.doors import SAID_OF_EVERY_ANSWER, Bodies, Doors
from jinba.persistence.database import make_engine
from jinba.persistence.orm import ModelRow, OwnerRow
from tests.api.steps import V1, create, ok
from tests.conftest import OWN
from tests.states import TARN, TARN_ORDER, TARN_SORTIE

UNSAFE = {"post", "put", "patch", "delete"}


def operations(client: TestClient, *, unsafe: bool) -> Iterator[tuple[str, str]]:
    """Yield method and path of every operation, ids filled in with Tarn's."""
    ids = {"model_id": TARN, "sortie_id": TARN_SORTIE, "order_id": TARN_ORDER, "record_id": uuid.uuid4(), "kind": "pdf"}
    for path, found in client.get("/api/openapi.json").json()["paths"].items():
        for method in found:
            if (method in UNSAFE) is unsafe:
                yield method, re.sub(r"{(\w+)}", lambda m: str(ids.get(m[1], "elevator")), path)


def test_under_a_foreign_name_nothing_is_read_or_changed(flown_client):
    for host in ("evil.example", "evil.example:8470", "127.0.0.1.evil.example", "", "2130706433"):
        for method, path in (("GET", f"{V1}/models"), ("POST", f"{V1}/sorties/{TARN_SORTIE}/land"), ("GET", "/")):
            answer = flown_client.request(method, path, headers={"Host": host})
            assert (answer.status_code, answer.json()["code"]) == (421, "foreign-host"), host
    for host in ("127.0.0.1:8470", "localhost", "[::1]:8470"):
        assert flown_client.get(f"{V1}/models", headers={"Host": host}).status_code == 200


@pytest.mark.parametrize(
    "said",
    [
        {"Origin": "http://evil.example"},
        {"Origin": "null"},
        {"Origin": "http://127.0.0.1:9999"},
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
    ],
)
def test_no_other_page_changes_anything_on_any_route(flown_client, said):
    before = ok(flown_client.get(f"{V1}/models/{TARN}"))
    routes = list(operations(flown_client, unsafe=True))
    assert len(routes) > 25
    for method, path in routes:
        answer = flown_client.request(method, path, headers=said, content=b"{}")
        assert (answer.status_code, answer.json()["code"]) == (403, "foreign-origin"), (method, path)
    assert ok(flown_client.get(f"{V1}/models/{TARN}")) == before


def test_the_programs_own_page_and_programs_without_a_page_are_let_in(client):
    for said in ({"Origin": OWN}, {"Sec-Fetch-Site": "same-origin"}, {}):
        body = {"id": str(uuid.uuid4()), "name": "Sedge", "silhouette": "low_wing", "span_m": 1.0}
        made = client.post(f"{V1}/models", json=body, headers=said)
        assert made.status_code == 201
        assert client.get(made.headers["location"]).status_code == 200


def test_every_answer_says_what_a_browser_may_do_with_it(client, database_url, tmp_path):
    (tmp_path / "index.html").write_text("<!doctype html>")
    (tmp_path / "assets").mkdir()
    (tmp_path / "assets" / "a.js").write_text("1")
    with TestClient(create_app(database_url, web_dist=tmp_path), base_url=OWN) as served:
        answers = [served.get(p) for p in ("/", "/m/x/bench", "/assets/a.js", "/api/docs", f"{V1}/models")]
        assert [a.status_code for a in answers] == [200] * 5
        answers += [served.get(p) for p in ("/assets/gone.js", "/assets/../index.htm", "/api/none", "/%00")]
        assert {a.status_code for a in answers[5:]} <= {200, 404}
        assert answers[5].status_code == 404, "a page of yesterday's program must hear that its part is gone"
        model = uuid.uuid4()
        first = {
            path: served.get(path).headers.get("Link", "")
            for path in (f"/m/{model}/plan", f"/m/{model}", "/m/x/bench", "/", "/new")
        }
        assert [f"<{V1}/models/{model}>" in named for named in first.values()] == [True, True, False, False, False]
        answers += [served.get("/", headers={"Host": "evil.example"}), served.post(f"{V1}/models", content=b"{")]
        for a in answers:
            assert SAID_OF_EVERY_ANSWER.items() <= dict(a.headers).items() or all(
                a.headers[k] == v for k, v in SAID_OF_EVERY_ANSWER.items()
            )
    policy = SAID_OF_EVERY_ANSWER["Content-Security-Policy"]
    assert "unsafe" not in policy
    assert "frame-ancestors 'none'" in policy


def test_the_documentation_needs_no_other_machine_and_names_every_operation(client):
    page = client.get("/api/docs").text
    assert "<script" not in page
    assert "http://" not in page.replace(OWN, "")
    assert "https://" not in page
    for path in client.get("/api/openapi.json").json()["paths"]:
        assert path in page


def test_each_route_says_how_large_a_body_it_takes(client):
    model = create(client, "Rush")["id"]
    routes = {
        f"{V1}/models/{model}/items.csv": ("put", 200_000),
        f"{V1}/models/{model}/throws.csv": ("put", 50_000),
        f"{V1}/compute/section": ("post", 200_000),
        f"{V1}/archives": ("post", 20_000_000),
        f"{V1}/models": ("post", 512_000),
        f"{V1}/models/{model}/what-if": ("post", 512_000),
    }

    def parts(size: int) -> Iterator[bytes]:
        for _ in range(size // 50_000 + 1):
            yield b"x" * 50_000

    for path, (method, most) in routes.items():
        for content in (b"x" * (most + 1), parts(most), b"x" * 50_000_000):
            answer = client.request(method, path, content=content)
            assert (answer.status_code, answer.json()["code"]) == (413, "too-large"), path
            assert "Nothing was changed" in answer.json()["title"]
        assert client.request(method, path, content=b"x" * (most - 1)).status_code != 413


@pytest.fixture
def served(database_url) -> Iterator[int]:
    """Yield the port of a program that answers on a real socket."""
    with serving(database_url) as address:
        yield int(address.rsplit(":", 1)[1])


def test_slow_and_broken_clients_tie_up_nothing(served, monkeypatch):
    """More of them than requests are let in at once: the page is answered, and they are given up."""
    monkeypatch.setattr(doors, "PATIENCE_S", 1.5)
    head = f"POST {V1}/models HTTP/1.1\r\nHost: 127.0.0.1:{served}\r\nContent-Length: 90\r\n\r\n{{".encode()
    slow = [socket.create_connection(("127.0.0.1", served)) for _ in range(230)]
    for s in slow:
        s.sendall(head)
    for s in slow[:10]:
        s.close()
    begun = time.monotonic()
    opener = urllib.request.build_opener(urllib.request.ProxyHandler({}))
    with opener.open(f"http://127.0.0.1:{served}{V1}/models", timeout=10) as answer:
        assert answer.status == 200
    assert time.monotonic() - begun < 1.5, "answered while they still send"
    slow[-1].settimeout(10)
    said = b"".join(iter(lambda: slow[-1].recv(4000), b""))
    assert b" 408 " in said
    assert b"send it again" in said
    for s in slow:
        s.close()


def test_a_body_at_the_pace_of_a_poor_link_is_taken(monkeypatch):
    """A tenth of a second of patience, and a body that takes three at more than the slowest pace allowed."""
    monkeypatch.setattr(doors, "PATIENCE_S", 0.1)
    monkeypatch.setattr(doors, "SLOWEST_BYTES_PER_S", 5_000.0)
    seen: list[bytes] = []

    async def app(scope: Any, receive: Any, send: Any) -> None:
        seen.append((await receive())["body"])

    async def drive() -> None:
        left = [b"x" * 600] * 4

        async def receive() -> dict[str, Any]:
            await asyncio.sleep(0.05)
            part = left.pop()
            return {"type": "http.request", "body": part, "more_body": bool(left)}

        scope = {"type": "http", "method": "POST", "path": "/", "headers": [], "query_string": b"", "server": ("x", 1)}
        await Bodies(app)(scope, receive, None)  # type: ignore[arg-type]

    asyncio.run(drive())
    assert seen == [b"x" * 2400]


def test_nobody_elses_model_is_found_by_any_id(flown_url):
    """Tarn given to somebody else: not on the shelf, and no route knows it, its sortie or its order."""
    engine = make_engine(flown_url)
    with sessionmaker(engine)() as s, s.begin():
        other = OwnerRow(id=uuid.UUID("ffffffff-0000-4000-8000-000000000009"), name="somebody else")
        s.add(other)
        s.flush()
        s.scalars(select(ModelRow).where(ModelRow.id == TARN)).one().owner_id = other.id
    engine.dispose()
    with TestClient(create_app(flown_url), raise_server_exceptions=False, base_url=OWN) as client:
        assert [m["name"] for m in ok(client.get(f"{V1}/models"))].count("Tarn") == 0
        for unsafe in (True, False):
            for method, path in operations(client, unsafe=unsafe):
                its = any(str(i) in path for i in (TARN, TARN_SORTIE, TARN_ORDER))
                answer = client.request(method, path, json=BODIES.get(path.rsplit("/", 1)[-1], {}))
                assert not its or answer.status_code in (404, 422, 428), (method, path, answer.status_code)
        for path in (f"models/{TARN}", f"models/{TARN}/board", f"models/{TARN}/archive", f"sorties/{TARN_SORTIE}"):
            assert client.get(f"{V1}/{path}").status_code == 404
        assert client.post(f"{V1}/sorties/{TARN_SORTIE}/land").status_code == 404
        proof = {"index": 0, "reading": "done"}
        assert client.post(f"{V1}/work-orders/{TARN_ORDER}/proofs", json=proof).status_code == 404


BODIES: dict[str, Any] = {"proofs": {"index": 0, "reading": "done"}}


def test_a_name_that_is_not_one_of_the_hosts_given_is_not_let_in():
    async def app(scope: Any, receive: Any, send: Any) -> None:
        raise AssertionError("never reached")

    client = TestClient(Doors(app, hosts=("field.local",)), base_url=OWN)
    assert client.get("/").status_code == 421
