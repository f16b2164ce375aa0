"""The ledger: sorties retold, two of them side by side, other names."""

from __future__ import annotations

from typing import Any

import pytest

from tests.api.steps import V1, create, fly_and_rework, new_id, ok


def flown(client: Any, name: str) -> tuple[str, dict[str, Any]]:
    """A rehearsal that has flown once, with bench work ordered after it, and its sortie as it is retold."""
    model = create(client, name)["id"]
    fly_and_rework(client, model)
    (told,) = ok(client.get(f"{V1}/models/{model}/retold"))
    return model, told


def test_a_sortie_is_retold_with_its_trims_what_it_showed_and_the_work_after_it(client):
    model, told = flown(client, "Twite")
    (landed,) = [s for s in ok(client.get(f"{V1}/models/{model}"))["sorties"] if s["status"] == "landed"]
    assert (told["number"], told["sortie_id"]) == (landed["number"], landed["id"])
    assert any("elevator" in w for w in told["trims"])
    assert "behind the" in told["balance"] or "ahead of the" in told["balance"]
    assert told["cards"][0] == "Take-off and climb to height", "by its title"
    assert {b["key"] for b in told["behaviours"]} >= {"static_margin", "roll_cruise"}
    assert told["work"]
    assert all(w.endswith("Not proved yet.") for w in told["work"])


def test_two_flights_side_by_side_say_what_differs_and_what_was_set_otherwise(client):
    (_, one), (_, other) = flown(client, "Pipit"), flown(client, "Wheatear")
    found = ok(client.get(f"{V1}/sorties/{one['sortie_id']}/beside/{other['sortie_id']}"))
    assert found["one"]["sortie_id"] == one["sortie_id"]
    assert "Wheatear" in found["other"]["model"]
    assert {b["key"] for b in found["behaviours"]} >= {"static_margin", "pitch_trim"}
    for b in found["behaviours"]:
        assert b["differs"] == (abs(b["sigmas"]) >= 2.0)
        assert b["words"].startswith("differs by" if b["differs"] else "the same")
    trimmed_alike = (one["clicks"], one["balance"]) == (other["clicks"], other["balance"])
    assert trimmed_alike or found["set_otherwise"], "what is trimmed otherwise is said"


def test_what_cannot_be_compared_says_so(client):
    _, told = flown(client, "Dunnock")
    sortie = told["sortie_id"]
    same = client.get(f"{V1}/sorties/{sortie}/beside/{sortie}")
    assert same.status_code == 422
    assert "same one twice" in same.json()["title"]
    assert client.get(f"{V1}/sorties/{sortie}/beside/{new_id()}").status_code == 404


def test_a_model_is_called_otherwise_and_back(client):
    model = create(client, "Hedge")
    url = f"{V1}/models/{model['id']}"
    renamed = ok(client.patch(url, json={"name": "  Hedgerow ", "story": "Built twice."}))
    assert (renamed["name"], renamed["story"]) == ("Hedgerow", "Built twice.")
    assert renamed["revision"] == model["revision"], "the setup is the same"
    assert ok(client.patch(url, json={"name": "Hedge"}))["story"] == "Built twice.", "what is not said stays"
    for name, words in (("   ", "Give the model a name"), ("x" * 61, "at most 60"), ("a\x00b", "control character")):
        answer = client.patch(url, json={"name": name})
        assert answer.status_code == 422
        assert words in answer.json()["title"]
    assert ok(client.get(url))["name"] == "Hedge"


@pytest.mark.parametrize("word", ["What is still open", "Limits it was tested in"])
def test_the_hand_over_sheet_says_what_is_open(client, word):
    model, _ = flown(client, f"Siskin {word[:4]}")
    sheet = client.get(f"{V1}/models/{model}/hand-over.svg")
    assert word in sheet.text
