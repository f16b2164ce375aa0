"""Everything that was logged of a model: in the ledger and as a table."""

from __future__ import annotations

import csv
import io

import pytest

from tests.api.steps import V1, create, new_id, ok, plan_sortie

CLICKS = {"key": "left_over", "choice": "holds"}


def clicks(number: int, way: str) -> dict:
    readings = [{"key": "pitch_clicks", "number": number, "direction": way}, CLICKS]
    return {"card_id": "F2", "outcome": "done", "readings": readings, "left_alone": True, "note": "=into the sun"}


@pytest.fixture
def logged(client):
    """A rehearsal with its gates closed and a trim that was said wrongly, then corrected."""
    model = create(client, f"Dunlin {new_id()[:6]}")["id"]
    sortie = plan_sortie(client, model)
    wrong = new_id()
    ok(client.post(f"{V1}/sorties/{sortie}/records", json={"id": wrong, "record": clicks(2, "nose_down")}))
    body = {"id": new_id(), "record": clicks(2, "nose_up"), "replaces": wrong}
    ok(client.post(f"{V1}/sorties/{sortie}/records", json=body))
    return model, wrong, body["id"]


def test_it_holds_what_was_corrected_beside_what_counts_the_newest_first(client, logged):
    model, wrong, right = logged
    lines = ok(client.get(f"{V1}/models/{model}/diary"))["lines"]
    newest, before = lines[:2]
    assert (newest["id"], newest["counts"], newest["replaces"]) == (right, True, wrong)
    assert (before["id"], before["counts"], before["replaced"]) == (wrong, False, True)
    assert newest["title"] == "Pitch trim at cruise"
    assert (newest["sortie_number"], "2 clicks nose up" in newest["said"][0]) == (1, True)
    ground = [line for line in lines if line["sortie_number"] is None]
    assert ground, "the gates stand in it, too"
    assert {line["sortie_id"] for line in ground} == {None}


def test_the_table_has_the_same_and_runs_nothing(client, logged):
    model, _, _ = logged
    answer = client.get(f"{V1}/models/{model}/readings.csv")
    assert answer.headers["content-type"] == "text/csv; charset=utf-8"
    rows = [r for r in csv.DictReader(io.StringIO(answer.text, newline="")) if r["measure"] == "pitch_clicks"]
    assert [(r["direction"], r["counts"], r["value"]) for r in rows] == [
        ("nose down", "no", "2"),
        ("nose up", "yes", "2"),
    ]
    assert {r["note"] for r in rows} == {"'=into the sun"}


def on_the_ground(client, model, record, *, device=None):
    at = "2031-05-01T10:00:00Z"
    known = {} if device is None else {"written": {"device": device, "made_at": at, "sent_at": at, "seen": 0}}
    ok(client.post(f"{V1}/models/{model}/ground-cards", json={"id": new_id(), "record": record, **known}))


def test_a_gate_counts_as_the_plan_has_it_whatever_another_device_said_before_the_landing(client):
    model = create(client, f"Dunlin {new_id()[:6]}")["id"]
    sortie = plan_sortie(client, model)
    for outcome, after in (("failed", False), ("passed", True)):
        if after:
            ok(client.post(f"{V1}/sorties/{sortie}/stand-in"))
        ranged = [{"key": "range", "choice": "yes" if after else "no"}]
        on_the_ground(client, model, {"card_id": "G1", "outcome": outcome, "readings": ranged}, device=new_id())
    lines = [
        line for line in ok(client.get(f"{V1}/models/{model}/diary"))["lines"] if line["record"]["card_id"] == "G1"
    ]
    assert [(x["record"]["outcome"], x["counts"], x["contested"]) for x in lines[:2]] == [
        ("passed", True, False),
        ("failed", False, False),
    ]


def test_of_what_went_wrong_each_one_counts(client):
    model = create(client, f"Dunlin {new_id()[:6]}")["id"]
    for part in ("handling", "stored"):
        readings = [{"key": "phase", "choice": "standing"}, {"key": "ground", "choice": "clear"}]
        on_the_ground(
            client, model, {"card_id": "A6", "outcome": "done", "readings": readings, "note": f"{part} damage"}
        )
    lines = ok(client.get(f"{V1}/models/{model}/diary"))["lines"]
    assert [line["counts"] for line in lines if line["record"]["card_id"] == "A6"] == [True, True]


@pytest.mark.parametrize("what", ["diary", "readings.csv"])
def test_a_model_that_is_not_there_is_not_found(client, what):
    assert client.get(f"{V1}/models/{new_id()}/{what}").status_code == 404
