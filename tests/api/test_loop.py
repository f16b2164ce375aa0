"""Once and twice round the loop through the API; retries, undo, conflicts, refusals; real input."""

from __future__ import annotations

import math

from jinba.core.mass.items import sum_items
from tests.api.steps import V1, close_gates, create, fly_and_rework, new_id, ok, plan_sortie, step
from tests.reference.full_size import full_size_items


def test_twice_round_the_loop(client):
    model = create(client, "Tarn")
    model_id, setup = model["id"], model["setup"]
    # Built crooked: it flies with more trim than the radio may keep, so that there is something to rework.
    setup["elevator"]["mechanical_rad"] += 0.08
    ok(client.put(f"{V1}/models/{model_id}/setup", json={"base_revision": model["revision"], "setup": setup}))
    after = fly_and_rework(client, model_id)
    assert after["configuration"] == 2
    assert after["work_order"]["actions"]
    assert after["stale"]
    decided = ok(client.get(f"{V1}/models/{model_id}/rework"))
    assert decided["decided"]["id"] == after["work_order"]["id"]
    assert decided["setup"] == after["setup"], "once decided, the sheet shows what was accepted, not a new proposal"
    assert decided["flown_setup"] != decided["setup"]
    for i, action in enumerate(after["work_order"]["actions"]):
        read = action["expected"] and action["expected"]["value"]
        proof = {"index": i, "reading": action["proof"], "number": read}
        ok(client.post(f"{V1}/work-orders/{after['work_order']['id']}/proofs", json=proof))
    again = fly_and_rework(client, model_id)
    assert again["configuration"] == 3
    board = ok(client.get(f"{V1}/models/{model_id}/board"))
    assert [c["sortie_number"] for c in board["columns"]] == [1, 2]
    assert 0 <= board["within_one_sigma"] <= 1
    second = board["columns"][1]
    assert second["change_words"]
    spread = {t["key"]: t["sigma"] for t in second["found"]}
    first = {t["key"]: t["sigma"] for t in board["columns"][0]["predicted"]}
    assert spread["roll_cruise"] < 0.5 * first["roll_cruise"], "two sorties must have taught something about roll"


def test_a_full_size_aeroplane_from_the_reference_package_goes_round_the_loop(client):
    """Mass properties of c172p read from jsbsim's data, entered through the API and carried once round."""
    items, weight_lb, cg_in = full_size_items("c172p")
    model = create(client, "Full size", "high_wing", 8.0)
    setup = model["setup"]
    scale = 10.91 / 8.0
    for s in setup["airframe"]["surfaces"]:
        s["x_m"] = s["x_m"] * scale
        s["z_m"] = s["z_m"] * scale
        s["sections"] = [
            {
                **q,
                "y_m": min(q["y_m"] * scale, 12),
                "x_offset_m": q["x_offset_m"] * scale,
                "chord_m": q["chord_m"] * scale,
                "z_offset_m": q["z_offset_m"] * scale,
            }
            for q in s["sections"]
        ]
    total = sum_items(items)
    shift = total.x_m - 0.40
    setup["items"] = [
        {
            "key": i.key,
            "name": i.name,
            "mass_kg": i.mass_kg,
            "x_m": i.x_m - shift,
            "y_m": i.y_m,
            "z_m": 0.0,
            "kind": "airframe" if i.key == "empty" else "part",
        }
        for i in items
    ]
    setup["airframe"]["motor"] = {
        **setup["airframe"]["motor"],
        "static_thrust_n": 2500.0,
        "propeller_diameter_m": 1.9,
        "x_m": -1.6,
        "z_m": 0.0,
    }
    saved = ok(
        client.put(f"{V1}/models/{model['id']}/setup", json={"base_revision": model["revision"], "setup": setup})
    )
    bench = ok(client.get(f"{V1}/models/{model['id']}/bench"))["answer"]
    mass = next(n for n in bench["numbers"] if n["key"] == "mass")["value"]
    assert math.isclose(mass / 0.45359237, weight_lb, rel_tol=1e-5)
    assert math.isclose((bench["x_cg_m"] + shift) / 0.0254, cg_in[0], abs_tol=1e-3)
    assert math.isclose(bench["y_cg_m"] / 0.0254, cg_in[1], abs_tol=1e-3)
    assert saved["configuration"] == 1
    assert fly_and_rework(client, model["id"])["configuration"] == 2


def test_undo_and_redo_walk_the_bench_edits_and_a_flown_configuration_is_locked(client):
    model = create(client, "Undo")
    setup = model["setup"]
    setup["pack_minutes"] = 11.0
    edited = ok(client.put(f"{V1}/models/{model['id']}/setup", json={"base_revision": 1, "setup": setup}))
    assert (edited["revision"], edited["can_undo"], edited["setup"]["pack_minutes"]) == (2, True, 11.0)
    undone = ok(step(client, model["id"], "undo"))
    assert undone["setup"]["pack_minutes"] == model["setup"]["pack_minutes"] or undone["can_redo"]
    assert ok(step(client, model["id"], "redo"))["setup"]["pack_minutes"] == 11.0
    plan_sortie(client, model["id"])
    refused = step(client, model["id"], "undo")
    assert refused.status_code == 409
    assert "has been flown" in refused.json()["title"]
    setup["pack_minutes"] = 12.0
    now = ok(client.get(f"{V1}/models/{model['id']}"))["revision"]
    assert now == 4, "it rises with undo and redo as well"
    after = ok(client.put(f"{V1}/models/{model['id']}/setup", json={"base_revision": now, "setup": setup}))
    assert after["configuration"] == 2, "an edit after a flight begins the next configuration"


def test_an_edit_on_an_old_revision_is_a_conflict_and_changes_nothing(client):
    model = create(client, "Conflict")
    setup = model["setup"]
    setup["pack_minutes"] = 5.0
    ok(client.put(f"{V1}/models/{model['id']}/setup", json={"base_revision": 1, "setup": setup}))
    setup["pack_minutes"] = 6.0
    late = client.put(f"{V1}/models/{model['id']}/setup", json={"base_revision": 1, "setup": setup})
    assert late.status_code == 409
    assert late.json()["code"] == "stale-version"
    assert ok(client.get(f"{V1}/models/{model['id']}"))["setup"]["pack_minutes"] == 5.0


def test_retried_writes_are_one_write(client):
    model_id = create(client, "Retry")["id"]
    body = {"id": model_id, "name": "Retry", "silhouette": "low_wing", "span_m": 1.5, "rehearsal": True}
    assert ok(client.post(f"{V1}/models", json=body), 201)["id"] == model_id
    sortie_id = plan_sortie(client, model_id)
    record = {
        "id": new_id(),
        "record": {"card_id": "F1", "outcome": "done", "readings": [{"key": "lift_off", "choice": "holds"}]},
    }
    ok(client.post(f"{V1}/sorties/{sortie_id}/records", json=record))
    assert len(ok(client.post(f"{V1}/sorties/{sortie_id}/records", json=record))["records"]) == 1
    correction = {
        "id": new_id(),
        "record": {"card_id": "F1", "outcome": "done", "readings": [{"key": "lift_off", "choice": "rises"}]},
    }
    after = ok(client.post(f"{V1}/sorties/{sortie_id}/records", json=correction))
    assert [(e["record"]["readings"][0]["choice"], e["counts"]) for e in after["log"]] == [
        ("holds", False),
        ("rises", True),
    ], "repeats are kept, the last one counts"
    assert len(after["records"]) == 1
    assert ok(client.post(f"{V1}/sorties/{sortie_id}/land"))["status"] == "landed"
    assert ok(client.post(f"{V1}/sorties/{sortie_id}/land"))["status"] == "landed"


def test_open_gates_a_no_go_wind_and_a_failed_direction_check_refuse_the_sortie(client):
    model_id = create(client, "Gates")["id"]
    body = {"id": new_id(), "card_ids": ["F1", "F2", "F3", "F28", "F29"]}
    refused = client.post(f"{V1}/models/{model_id}/sorties", json=body)
    assert refused.status_code == 409
    assert refused.json()["context"]["gates"] == ["B1", "B2", "B4", "B5", "B6", "B7", "G1", "G2", "G7"]
    close_gates(client, model_id)
    storm = {**body, "wind": {"speed_mps": 12.0, "gust_mps": 15.0, "from_rad": 0.0, "strip_heading_rad": 0.0}}
    blown = client.post(f"{V1}/models/{model_id}/sorties", json=storm).json()
    assert "Not now" in blown["title"]
    assert blown["context"]["stop"] == "wind"
    failed = {
        "id": new_id(),
        "record": {"card_id": "B4", "outcome": "failed", "readings": [{"key": "elevator", "choice": "no"}]},
    }
    ok(client.post(f"{V1}/models/{model_id}/ground-cards", json=failed))
    assert ok(client.get(f"{V1}/models/{model_id}/plan"))["programme"]["gates"] == ["B4"]
    assert client.post(f"{V1}/models/{model_id}/sorties", json=body).status_code == 409


def test_another_datum_is_the_same_model(client):
    model = create(client, "Datum")
    before = ok(client.get(f"{V1}/models/{model['id']}/bench"))["answer"]
    ok(
        client.post(
            f"{V1}/models/{model['id']}/datum",
            json={"base_revision": 1, "dx_m": model["setup"]["airframe"]["body"]["nose_x_m"], "words": "nose"},
        )
    )
    after = ok(client.get(f"{V1}/models/{model['id']}/bench"))["answer"]
    assert math.isclose(before["static_margin"], after["static_margin"], abs_tol=1e-9)
    assert after["x_cg_m"] > before["x_cg_m"]


def test_stateless_computation_gives_the_same_numbers_as_the_bench(client):
    model = create(client, "Stateless")
    stored = ok(client.get(f"{V1}/models/{model['id']}/bench"))["answer"]
    free = ok(client.post(f"{V1}/compute/balance", json=model["setup"]))
    assert math.isclose(free["static_margin"], stored["static_margin"], abs_tol=1e-12)
    height = {"z_cg_m": stored["items_z_cg_m"]}
    geometry = ok(client.post(f"{V1}/compute/geometry", json=model["setup"]["airframe"], params=height))
    for bad in ("nan", "inf", "1e9", "high"):
        refused = client.post(f"{V1}/compute/geometry", json=model["setup"]["airframe"], params={"z_cg_m": bad})
        assert refused.status_code == 422, bad
    assert math.isclose(geometry["neutral_point"]["x_m"], stored["x_np_m"], abs_tol=1e-12)
    records = [
        {
            "card_id": "F14",
            "outcome": "done",
            "left_alone": True,
            "readings": [{"key": "stick_held", "number": 0.9, "direction": "nose_down"}],
        }
    ]
    sorties = [{"configuration": model["setup"], "records": records}]
    found = ok(client.post(f"{V1}/compute/debrief", json={"sorties": sorties}))
    assert next(c for c in found["causes"] if c["key"] == "static_margin")["evidence"]
    correction = ok(client.post(f"{V1}/compute/corrections", json={"sorties": sorties}))
    assert any(a["kind"] == "move_battery" and "aft" in a["words"] for a in correction["actions"])
    verdict = ok(
        client.post(
            f"{V1}/compute/wind",
            json={"wind": {"speed_mps": 2, "gust_mps": 3, "from_rad": 0, "strip_heading_rad": 0}, "stall_speed_mps": 9},
        )
    )
    assert verdict["verdict"] == "go"


def test_whatever_is_made_says_where_it_is(client):
    """RFC 9110, 10.2.2: the Location of a 201 is the address of what was made."""
    body = {"id": new_id(), "name": "Sorrel", "silhouette": "low_wing", "span_m": 1.4, "rehearsal": True}
    made = client.post(f"{V1}/models", json=body)
    model = made.json()["id"]
    url = f"{V1}/models/{model}"
    answers = [made, client.post(f"{url}/sisters", json={"id": new_id(), "name": "Dock"})]
    answers.append(client.post(f"{url}/rehearsals", json={"id": new_id()}))
    cards = close_gates(client, model)["programme"]["flight"]
    sortie = new_id()
    answers.append(client.post(f"{url}/sorties", json={"id": sortie, "card_ids": cards}))
    ok(client.post(f"{V1}/sorties/{sortie}/stand-in"))
    signed = {"id": new_id(), "signed_by": "me", "remark": "handed over as it is"}
    answers.append(client.post(f"{url}/sign-offs", json=signed))
    answers.append(client.post(f"{url}/rework", json={"id": new_id()}))
    answers.append(client.post(f"{V1}/archives", content=client.get(f"{url}/archive").content))
    assert [a.status_code for a in answers] == [201] * 7
    for a in answers:
        assert client.get(a.headers["location"]).status_code == 200
    operations = client.app.openapi()["paths"]
    making = [(p, m) for p, found in operations.items() for m, o in found.items() if "201" in o["responses"]]
    assert len(making) == len(answers), "every route that makes something is tried here"


def test_a_sortie_that_had_not_landed_goes_on_and_is_computed_anew(client):
    model = create(client, "Crag")["id"]
    sortie = plan_sortie(client, model)
    choice = [{"key": "lift_off", "choice": "rises"}]
    log = {"id": new_id(), "record": {"card_id": "F1", "outcome": "done", "readings": choice}}
    ok(client.post(f"{V1}/sorties/{sortie}/records", json=log))
    ok(client.post(f"{V1}/sorties/{sortie}/land"))
    assert ok(client.get(f"{V1}/models/{model}"))["today"]["station"] != "fly"
    for _ in range(2):
        assert ok(client.post(f"{V1}/sorties/{sortie}/reopen"))["status"] == "flying"
    known = ok(client.get(f"{V1}/models/{model}"))
    assert (known["today"]["station"], known["sorties"][0]["landed_at"]) == ("fly", None)
    more = {"id": new_id(), "record": {"card_id": "F29", "outcome": "skipped"}}
    ok(client.post(f"{V1}/sorties/{sortie}/records", json=more))
    ok(client.post(f"{V1}/sorties/{sortie}/land"))
    debrief = ok(client.get(f"{V1}/sorties/{sortie}/debrief"))
    assert debrief["sortie_number"] == 1
    assert {r["card_id"] for r in ok(client.get(f"{V1}/sorties/{sortie}"))["records"]} == {"F1", "F29"}
    ok(client.post(f"{V1}/models/{model}/rework", json={"id": new_id()}), 201)
    built_on = client.post(f"{V1}/sorties/{sortie}/reopen")
    assert built_on.status_code == 409
    assert "Correct its entries" in built_on.json()["title"]


def test_a_stand_in_flies_rehearsals_and_never_a_real_model(client):
    """One tap filled the log of a real model once: now it is refused, and a copy flown leaves no trace in the original."""
    body = {"id": new_id(), "name": "Bracken", "silhouette": "low_wing", "span_m": 1.4}
    real = ok(client.post(f"{V1}/models", json=body), 201)
    assert real["rehearsal"] is False
    sortie = plan_sortie(client, real["id"])
    refused = client.post(f"{V1}/sorties/{sortie}/stand-in")
    assert refused.status_code == 409
    assert "Bracken is a real model" in refused.json()["title"]
    assert "rehearsal copy" in refused.json()["title"]
    assert ok(client.get(f"{V1}/sorties/{sortie}"))["log"] == []
    before = client.get(f"{V1}/models/{real['id']}").text
    copy = ok(client.post(f"{V1}/models/{real['id']}/rehearsals", json={"id": new_id()}), 201)
    assert copy["rehearsal"] is True
    assert copy["setup"] == real["setup"]
    fly_and_rework(client, copy["id"])
    assert client.get(f"{V1}/models/{real['id']}").text == before
    shelf = {m["name"]: m["rehearsal"] for m in ok(client.get(f"{V1}/models"))}
    assert (shelf["Bracken"], shelf["Bracken, rehearsal"]) == (False, True)
    paper = client.get(f"{V1}/models/{copy['id']}/setup-sheet.svg")
    sheet = client.get(f"{V1}/models/{copy['id']}/balance-sheet.svg")
    assert all("REHEARSAL: no real flight" in answer.text for answer in (paper, sheet))
