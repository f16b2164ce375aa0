"""What stops a sortie through the API: in both orders, on every page, with the reason kept; prerequisites across sorties."""

from __future__ import annotations

import io
import json
import zipfile

from tests.api.steps import V1, close_gates, create, new_id, ok, step

WHY = "balance read twice, on fingers and on the jig"


def tail_heavy(client, model):
    """Move everything aboard so far aft that the balance point lies behind the neutral point."""
    setup = model["setup"]
    for item in setup["items"]:
        item["x_m"] += 0.06
        item["bay_m"] = None
    return ok(client.put(f"{V1}/models/{model['id']}/setup", json={"base_revision": model["revision"], "setup": setup}))


def plan_of(client, model_id):
    return ok(client.get(f"{V1}/models/{model_id}/plan"))


def asked(client, model_id, **more):
    body = {"id": new_id(), "card_ids": plan_of(client, model_id)["programme"]["flight"], **more}
    return client.post(f"{V1}/models/{model_id}/sorties", json=body)


def test_a_model_behind_its_neutral_point_is_not_ready_whatever_was_done_first(client):
    gates_first, setting_first = create(client, "Gates first"), create(client, "Setting first")
    close_gates(client, gates_first["id"])
    heavy = ok(client.get(f"{V1}/models/{gates_first['id']}"))
    for model in (heavy, setting_first):
        tail_heavy(client, model)
        close_gates(client, model["id"])
        (stop,) = plan_of(client, model["id"])["stops"]
        assert (stop["code"], stop["severity"]) == ("balance", "stop")
        assert "behind the neutral point, it will not fly" in stop["words"]
        assert stop["words"] in ok(client.get(f"{V1}/models/{model['id']}"))["today"]["sentence"]
        for reasons in ({}, {"balance": "ok"}, {"minutes": WHY}):
            refused = asked(client, model["id"], reasons=reasons)
            assert refused.status_code == 409
            assert "say why" in refused.json()["title"]
            assert refused.json()["context"]["stop"] == "balance"
    assert ok(client.get(f"{V1}/models/{setting_first['id']}"))["sorties"] == []


def test_a_reason_lets_one_sortie_go_and_stays_with_it(client):
    model = create(client, "Against advice")
    tail_heavy(client, model)
    close_gates(client, model["id"])
    assert asked(client, model["id"], reasons={"balance": WHY}).status_code == 201
    sortie = ok(client.get(f"{V1}/models/{model['id']}"))["sorties"][0]
    (against,) = ok(client.get(f"{V1}/sorties/{sortie['id']}"))["against"]
    assert against["reason"] == WHY
    assert "behind the neutral point" in against["words"]
    file = client.get(f"{V1}/models/{model['id']}/archive").content
    kept = json.loads(zipfile.ZipFile(io.BytesIO(file)).read("model.json"))["sorties"][0]["overrides"]
    assert [(o["code"], o["reason"]) for o in kept] == [("balance", WHY)]
    copied = ok(client.post(f"{V1}/archives", content=file, headers={"Content-Type": "application/zip"}), 201)
    again = ok(client.get(f"{V1}/models/{copied['id']}"))["sorties"][0]
    assert ok(client.get(f"{V1}/sorties/{again['id']}"))["against"] == [against]


def test_putting_the_pack_back_takes_the_stop_away(client):
    model = create(client, "Back again")
    tail_heavy(client, model)
    assert [s["code"] for s in plan_of(client, model["id"])["stops"]] == ["balance"]
    ok(step(client, model["id"], "undo"))
    assert plan_of(client, model["id"])["stops"] == []
    close_gates(client, model["id"])
    assert asked(client, model["id"]).status_code == 201


def test_a_sortie_longer_than_the_pack_is_refused_by_its_minutes(client):
    model = create(client, "Small pack")
    setup = model["setup"] | {"pack_minutes": 3.0}
    ok(client.put(f"{V1}/models/{model['id']}/setup", json={"base_revision": model["revision"], "setup": setup}))
    close_gates(client, model["id"])
    (stop,) = plan_of(client, model["id"])["stops"]
    assert stop["code"] == "minutes"
    assert "the pack gives 2.2 safely" in stop["words"] or "the pack gives 2.3 safely" in stop["words"]
    assert asked(client, model["id"]).status_code == 409
    ok(asked(client, model["id"], reasons={"minutes": "a fresh pack of nine minutes"}), 201)
