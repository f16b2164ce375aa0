"""The next card through the API: why each is flown, what another order costs, pins and drops, proofs of trims, what comes first."""

from __future__ import annotations

from tests.api.steps import V1, close_gates, create, fly_and_rework, new_id, ok, plan_sortie


def test_every_card_says_why_and_another_order_says_what_it_costs(client):
    model = create(client)["id"]
    plan = close_gates(client, model)["programme"]
    why = {c["card_id"]: c["why"] for c in plan["cards"]}
    assert all(why[k] for k in plan["flight"])
    url = f"{V1}/models/{model}/plan/cost"
    same = ok(client.get(url, params={"cards": plan["flight"]}))
    assert (same["minutes"], same["costs"], same["refused"]) == (plan["minutes"], [], "")
    fewer = ok(client.get(url, params={"cards": ["F1", "F2", "F28", "F29"]}))
    assert fewer["minutes"] < plan["minutes"]
    assert any("as proposed" in words for words in fewer["costs"])
    assert "F1 comes first" in ok(client.get(url, params={"cards": ["F29", "F1"]}))["refused"]
    assert "F28 needs F3" in ok(client.get(url, params={"cards": ["F1", "F2", "F28", "F29"]}))["refused"]


def test_pins_and_drops_are_packed_around_and_a_card_that_is_none_is_refused(client):
    model = create(client)["id"]
    url = f"{V1}/models/{model}/plan"
    free = close_gates(client, model)["programme"]["flight"]
    out = next(k for k in free if k not in ("F1", "F2", "F3", "F28", "F29"))
    wished = ok(client.get(url, params={"pin": ["F7"], "drop": [out]}))["programme"]["flight"]
    assert "F7" in wished
    assert out not in wished
    assert ok(client.get(url))["programme"]["flight"] == free, "a wish is kept by nobody but who wishes it"
    for params in ({"pin": ["F99"]}, {"drop": ["x"]}):
        assert client.get(url, params=params).status_code == 422, params
    assert client.get(f"{url}/cost", params={"cards": ["F99"]}).status_code == 422


def test_what_was_trimmed_and_a_little_reworked_is_flown_as_a_proof_and_stays_one(client):
    model = create(client)["id"]
    fly_and_rework(client, model)
    plan = close_gates(client, model)
    proofs = {c["card_id"] for c in plan["programme"]["cards"] if c["proof"]}
    assert proofs, "the stand-in was trimmed, and the rework was small"
    sortie = plan_sortie(client, model)
    cards = {c["id"]: c for c in ok(client.get(f"{V1}/sorties/{sortie}"))["cards"]}
    for card in proofs & cards.keys():
        assert cards[card]["title"].endswith(": proof")
        assert cards[card]["minutes"] == 0.5
    again = ok(client.post(f"{V1}/archives", content=client.get(f"{V1}/models/{model}/archive").content), 201)
    copied = ok(client.get(f"{V1}/models/{again['id']}"))["sorties"][-1]["id"]
    assert {c["title"] for c in ok(client.get(f"{V1}/sorties/{copied}"))["cards"]} == {
        c["title"] for c in cards.values()
    }


def test_the_balance_is_asked_for_again_on_the_plan_and_before_a_change(client):
    model = create(client)["id"]
    state = ok(client.get(f"{V1}/models/{model}"))
    x = ok(client.get(f"{V1}/models/{model}/bench"))["answer"]["x_cg_m"]
    setup = state["setup"] | {"jig": {"x_m": x, "sigma_m": 0.002, "items_x_m": x}}
    body = {"base_revision": state["revision"], "setup": setup, "words": "jig"}
    ok(client.put(f"{V1}/models/{model}/setup", json=body))
    first = ok(client.get(f"{V1}/models/{model}/plan"))["programme"]["first"]
    assert "read_again" in {s["code"] for s in first}
    sortie = plan_sortie(client, model)
    ok(client.post(f"{V1}/sorties/{sortie}/stand-in"))
    assert "read_again" in {s["code"] for s in ok(client.get(f"{V1}/models/{model}/rework"))["first"]}
    ok(client.post(f"{V1}/models/{model}/rework", json={"id": new_id()}), 201)
    assert ok(client.get(f"{V1}/models/{model}/rework"))["first"] == [], "decided: nothing comes first any more"


def test_lead_waits_for_another_reading_and_comes_with_it(client):
    """One reading, flights that speak tail-heavy, a pack that cannot go forward: no lead before the balance was read again; with a
    reading that agrees the order is computed anew, with lead in it."""
    model = create(client, "Held")["id"]

    def reread(words, **jig):
        state = ok(client.get(f"{V1}/models/{model}"))
        items = [i | {"bay_m": [i["x_m"], i["x_m"]]} if i.get("bay_m") else i for i in state["setup"]["items"]]
        setup = state["setup"] | {"items": items, "jig": (state["setup"]["jig"] or {}) | jig}
        body = {"base_revision": state["revision"], "setup": setup, "words": words}
        return ok(client.put(f"{V1}/models/{model}/setup", json=body))

    x = ok(client.get(f"{V1}/models/{model}/bench"))["answer"]["x_cg_m"]
    reread("jig", x_m=x, sigma_m=0.002, items_x_m=x)
    sortie = plan_sortie(client, model)
    for card, readings, alone in (
        ("F1", [("lift_off", "rears")], None),
        ("F2", [("left_over", "rears")], False),
        ("F12", [("dive", "tucks")], False),
    ):
        record = {"card_id": card, "outcome": "done", "readings": [{"key": k, "choice": c} for k, c in readings]}
        body = {"id": new_id(), "record": record | {"left_alone": alone, "note": "to see how it balances"}}
        ok(client.post(f"{V1}/sorties/{sortie}/records", json=body))
    ok(client.post(f"{V1}/sorties/{sortie}/land"))
    held = ok(client.get(f"{V1}/models/{model}/rework"))
    (waits,) = [h for h in held["held_back"] if h["reading"]]
    assert "more tail-heavy" in waits["words"]
    assert "ballast" not in {a["kind"] for a in held["actions"]}
    reread("read again", again_m=x + 0.0005)
    opened = ok(client.get(f"{V1}/models/{model}/rework"))
    assert not any(h["reading"] for h in opened["held_back"])
    assert "ballast" in {a["kind"] for a in opened["actions"]}
