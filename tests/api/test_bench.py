"""What to move, readings, layouts and sisters through the API."""

from __future__ import annotations

import pytest

from tests.api.steps import V1, create, fly_and_rework, new_id, ok

LAYOUTS = {"canard": "foreplane", "flying_wing": "elevons", "v_tail": "v_tail", "tandem": "tail", "triplane": "tail"}


@pytest.mark.parametrize(("silhouette", "layout"), LAYOUTS.items())
def test_every_layout_goes_once_round_the_loop_with_its_own_words(client, silhouette, layout):
    model = create(client, silhouette, silhouette, 1.5)
    assert model["pitch_control"] == layout
    plan = ok(client.get(f"{V1}/models/{model['id']}/plan"))
    words = ok(client.get(f"{V1}/directions", params={"layout": layout}))["responses"]["nose_up"]["surface"]
    b4 = next(c for c in plan["cards"] if c["id"] == "B4")
    assert f"Stick back: {words}." in b4["steps"]
    after = fly_and_rework(client, model["id"])
    assert after["configuration"] == 2
    said = " ".join(a["words"] + a["surface_words"] for a in after["work_order"]["actions"])
    assert layout not in ("foreplane", "elevons") or "elevator" not in said.lower(), said


def test_arrangements_are_proposals_and_store_nothing(client):
    model = create(client, "Mover")
    path = f"{V1}/models/{model['id']}"
    found = ok(client.post(f"{path}/arrangements", json={}))
    assert found["target_words"] == "the maiden balance point"
    target = found["now_x_m"] - 0.006
    best = ok(client.post(f"{path}/arrangements", json={"target_x_m": target}))["proposals"][0]
    assert abs(best["x_cg_m"] - target) < 0.0021
    assert ok(client.get(path))["revision"] == model["revision"]
    saved = ok(client.put(f"{path}/setup", json={"base_revision": model["revision"], "setup": best["setup"]}))
    bench = ok(client.get(f"{path}/bench"))["answer"]
    assert bench["x_cg_m"] == pytest.approx(best["x_cg_m"], abs=1e-9)
    assert saved["can_undo"]


@pytest.mark.parametrize(
    ("body", "word"),
    [
        ({"target_x_m": "far"}, "target_x_m"),
        ({"target_x_m": 99}, "target_x_m"),
        ({"tolerance_m": 0}, "tolerance_m"),
        ({"surprise": 1}, "surprise"),
    ],
)
def test_bad_targets_are_named(client, body, word):
    model = create(client, "Refused")
    answer = client.post(f"{V1}/models/{model['id']}/arrangements", json=body)
    assert answer.status_code == 422
    assert any(word in v["pointer"] for v in answer.json()["violations"])


def test_the_stateless_solver_and_the_models_own_say_the_same(client):
    model = create(client, "Twice")
    body = {"target_x_m": 0.07, "level": True}
    own = ok(client.post(f"{V1}/models/{model['id']}/arrangements", json=body))
    free = ok(client.post(f"{V1}/compute/arrangements", json={"configuration": model["setup"], **body}))
    assert free["proposals"] == own["proposals"]
    many = dict(model["setup"]["items"][0], bay_m=[0.0, 0.3], kind="part")
    crowd = [dict(many, key=f"k{i}", name=f"Part {i}", mass_kg=0.01) for i in range(45)]
    setup = {**model["setup"], "items": model["setup"]["items"] + crowd}
    refused = client.post(f"{V1}/compute/arrangements", json={"configuration": setup})
    assert refused.status_code == 422
    assert "at most 40" in refused.json()["title"]


def test_readings_mean_a_station_and_bad_ones_are_refused(client):
    model = create(client, "Weighed", "flying_wing")
    wing = model["setup"]["airframe"]["surfaces"][0]
    here = ok(client.post(f"{V1}/compute/weighing", json={"wing": wing, "span": {"behind_le_m": 0.04, "y_m": 0.1}}))
    further = ok(client.post(f"{V1}/compute/weighing", json={"wing": wing, "span": {"behind_le_m": 0.04, "y_m": 0.4}}))
    assert further["x_m"] > here["x_m"] + 0.05
    for body in (
        {},
        {"supports": [{"name": "one", "mass_kg": 1, "x_m": 0}]},
        {"wing": wing, "span": {"behind_le_m": 9, "y_m": 0}},
    ):
        assert client.post(f"{V1}/compute/weighing", json=body).status_code == 422


def test_surfaces_in_one_place_are_refused_by_name_and_nothing_is_saved(client):
    model = create(client, "Clash")
    setup = model["setup"]
    wing = setup["airframe"]["surfaces"][0]
    setup["airframe"]["surfaces"].append({**wing, "key": "ghost"})
    answer = client.put(f"{V1}/models/{model['id']}/setup", json={"base_revision": 1, "setup": setup})
    assert answer.status_code == 422
    assert "run through each other" in answer.json()["title"] + answer.json()["detail"]
    assert ok(client.get(f"{V1}/models/{model['id']}"))["revision"] == 1


def test_a_sister_is_made_once_and_named(client):
    model = create(client, "First")
    body = {"id": new_id(), "name": "Second"}
    path = f"{V1}/models/{model['id']}/sisters"
    one, again = ok(client.post(path, json=body), 201), ok(client.post(path, json=body), 201)
    assert one["id"] == again["id"] == body["id"]
    assert one["setup"]["airframe"] == model["setup"]["airframe"]
    assert client.post(path, json={"id": new_id(), "name": ""}).status_code == 422
    assert client.post(f"{V1}/models/{new_id()}/sisters", json={"id": new_id(), "name": "x"}).status_code == 404


def test_a_behaviour_that_is_asked_for_is_what_bench_rails_and_schools_are_about(client):
    model = create(client, "Asker")
    path = f"{V1}/models/{model['id']}"
    by_class = ok(client.get(f"{path}/bench"))["answer"]
    wish = {"behaviour": "push", "amount": 0.2, "word": ""}

    def asked(**setup):
        body = {"base_revision": ok(client.get(path))["revision"], "setup": {**model["setup"], **setup}}
        return client.put(f"{path}/setup", json=body)

    refused = asked(wish=wish, flown_inverted=False)
    assert refused.status_code == 422
    assert "say that you fly it so" in refused.json()["title"]
    far = asked(wish={**wish, "amount": 0.9}, flown_inverted=True)
    assert far.status_code == 422
    assert "say 0 to 40 % of full stick" in far.json()["title"]
    assert ok(client.get(path))["revision"] == model["revision"], "what was refused has changed something"

    ok(asked(wish=wish, flown_inverted=True))
    found = ok(client.get(f"{path}/bench"))["answer"]
    assert found["goal"]["words"] == "20 % push held inverted"
    assert found["band_m"] != by_class["band_m"]
    school = next(s for s in found["schools"] if s["key"] == "target")
    assert school["name"] == "For 20 % push held inverted"
    rail = next(t for t in found["tendencies"] if t["key"] == "asked_push")
    assert rail["low"] < 20.0 < rail["high"]
    assert found["risk"] == by_class["risk"], "a wish is no margin"
    whole = client.get(f"{path}/archive").content
    taken = ok(client.post(f"{V1}/archives", content=whole), 201)
    assert ok(client.get(f"{V1}/models/{taken['id']}"))["setup"]["wish"] == wish
