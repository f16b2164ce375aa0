"""Busy or without its database the program says so with 503 and when to come again, in words, and nothing runs dry."""

from __future__ import annotations

import threading
from concurrent.futures import ThreadPoolExecutor
from types import SimpleNamespace

from fastapi.testclient import TestClient
from sqlalchemy.exc import IntegrityError
from starlette.applications import Starlette
from starlette.responses import PlainTextResponse
from starlette.routing import Route

from jinba.api.app import create_app
from jinba.api.middleware import Admission
from jinba.services import shelf
from tests.api.steps import V1
from tests.conftest import OWN
from tests.states import TARN


def test_sixty_pages_at_once_are_all_answered(flown_client):
    with ThreadPoolExecutor(60) as pool:
        found = list(pool.map(lambda _: flown_client.get(f"{V1}/models/{TARN}").status_code, range(60)))
    assert found == [200] * 60


def test_without_its_database_every_page_says_try_again_soon_never_an_error_of_ours():
    app = create_app("postgresql+psycopg://x:x@127.0.0.1:1/x")
    with TestClient(app, raise_server_exceptions=False, base_url=OWN) as client:
        for answer in (client.get(f"{V1}/models"), client.post(f"{V1}/sorties/{TARN}/land")):
            assert (answer.status_code, answer.headers["retry-after"]) == (503, "2")
            assert answer.headers["content-type"] == "application/problem+json"
            assert "Nothing was saved; it is tried again" in answer.json()["title"]


def test_a_collision_the_code_did_not_foresee_is_a_conflict_in_words(client, monkeypatch):
    class Refusal(Exception):
        diag = SimpleNamespace(constraint_name="ix_sortie_one_open")

    def collide(_):
        raise IntegrityError("INSERT", {}, Refusal())

    monkeypatch.setattr(shelf, "shelf", collide)
    answer = client.get(f"{V1}/models")
    assert (answer.status_code, answer.json()["code"]) == (409, "conflict")
    assert answer.json()["title"].startswith("Another sortie of this model is already open.")


def test_more_at_once_than_can_be_served_are_asked_to_come_again_and_the_count_goes_down():
    inside, let_go = threading.Event(), threading.Event()

    def page(_):
        inside.set()
        let_go.wait(10)
        return PlainTextResponse("done")

    inner = Starlette(routes=[Route("/", page)])
    with TestClient(Admission(inner, most=1)) as client, ThreadPoolExecutor(1) as pool:
        first = pool.submit(client.get, "/")
        assert inside.wait(10)
        assert client.get("/").status_code == 503
        let_go.set()
        assert first.result().text == "done"
        assert client.get("/").text == "done"


def test_no_answer_of_the_api_is_kept_by_a_browser(client):
    for path in ("/models", "/models/none", "/silhouettes"):
        assert client.get(f"{V1}{path}").headers["cache-control"] == "no-store"
