"""Work orders through the API: wrong twice and right, done differently, ticks and orders taken back."""

from __future__ import annotations

import pytest

from tests.api.steps import V1, create, new_id, ok, plan_sortie


@pytest.fixture
def ordered(client):
    """A model with a work order that moves its pack: the model, the order, the place of that action in it."""
    model = create(client, "Petrel")
    setup = model["setup"]
    for item in setup["items"]:
        item["x_m"] += 0.045
        item["bay_m"] = None if item["bay_m"] is None else [b - 0.1 for b in item["bay_m"]]
        if item["bay_m"] is not None:
            item["bay_m"][1] = item["x_m"] + 0.01
    ok(client.put(f"{V1}/models/{model['id']}/setup", json={"base_revision": model["revision"], "setup": setup}))
    sortie = plan_sortie(client, model["id"])
    ok(client.post(f"{V1}/sorties/{sortie}/land"))
    made = ok(client.post(f"{V1}/models/{model['id']}/rework", json={"id": new_id()}), 201)
    order = made["work_order"]
    index = next(i for i, a in enumerate(order["actions"]) if a["kind"] in ("move_battery", "ballast"))
    return made, order, index


def prove(client, order, index, **body):
    return client.post(f"{V1}/work-orders/{order['id']}/proofs", json={"index": index, **body})


def balance_of(client, model):
    return ok(client.get(f"{V1}/models/{model['id']}/bench"))["answer"]["x_cg_m"]


def test_wrong_twice_and_then_right(client, ordered):
    model, order, index = ordered
    expected = order["actions"][index]["expected"]
    assert prove(client, order, index, reading="done").status_code == 409, "a tick is no reading"
    for wrong in (expected["value"] + 0.015, -expected["value"], 995.0):
        refused = prove(client, order, index, number=wrong)
        assert refused.status_code == 409
        assert refused.json()["title"].startswith("Ordered:")
    assert "work_order" in [s["code"] for s in ok(client.get(f"{V1}/models/{model['id']}/plan"))["stops"]]
    right = expected["value"] + 0.0008
    proved = ok(prove(client, order, index, number=right))
    assert str(index) in proved["proofs"]
    assert balance_of(client, model) == pytest.approx(right), "the bench has read it"
    again = ok(prove(client, order, index, number=right))
    assert again["proofs"] == proved["proofs"]


def test_done_differently_is_computed_with_what_was_really_done(client, ordered):
    model, order, index = ordered
    read = order["actions"][index]["expected"]["value"] + 0.010
    before = ok(client.get(f"{V1}/models/{model['id']}/rework"))["predicted"][0]["value"]
    proved = ok(prove(client, order, index, number=read, differently=True))
    assert proved["proofs"][str(index)].startswith("done differently")
    assert balance_of(client, model) == pytest.approx(read)
    after = ok(client.get(f"{V1}/models/{model['id']}/rework"))["predicted"][0]["value"]
    assert after < before - 1.0, "further aft than ordered: less margin"


def test_a_tick_is_taken_back_and_the_reading_stays_in_the_file(client, ordered):
    model, order, index = ordered
    value = order["actions"][index]["expected"]["value"]
    ok(prove(client, order, index, number=value))
    for _ in range(2):
        opened = ok(prove(client, order, index, taken_back=True))
        assert str(index) not in opened["proofs"]
    ok(prove(client, order, index, number=value))
    file = client.get(f"{V1}/models/{model['id']}/archive").content
    copied = ok(client.post(f"{V1}/archives", content=file, headers={"Content-Type": "application/zip"}), 201)
    assert ok(client.get(f"{V1}/models/{copied['id']}"))["work_order"]["proofs"].keys() == {str(index)}


def test_an_order_is_taken_back_and_another_one_decided(client, ordered):
    model, order, index = ordered
    before = ok(client.get(f"{V1}/models/{model['id']}/rework"))["flown_setup"]
    ok(prove(client, order, index, number=order["actions"][index]["expected"]["value"]))
    for _ in range(2):
        found = ok(client.delete(f"{V1}/work-orders/{order['id']}"))
        assert found["work_order"] is None
    assert [i["x_m"] for i in found["setup"]["items"]] == [i["x_m"] for i in before["items"]]
    assert prove(client, order, index, number=0.1).status_code == 409
    again = ok(client.post(f"{V1}/models/{model['id']}/rework", json={"id": new_id()}), 201)
    assert again["work_order"]["id"] != order["id"]
    assert [a["words"] for a in again["work_order"]["actions"]] == [a["words"] for a in order["actions"]]


def test_an_order_that_was_flown_on_stays(client, ordered):
    model, order, _ = ordered
    plan_sortie(client, model["id"])
    assert client.delete(f"{V1}/work-orders/{order['id']}").status_code == 409
