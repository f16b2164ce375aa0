"""Sections, outlines, readings on all axes, wing mount, scales and the bench's work order through the API."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import aerosandbox as asb
import pytest

from tests.api.steps import V1, assert_no_number_breaks, create, new_id, ok, step

DATABASE = Path(asb.__file__).parent / "geometry/airfoil/airfoil_database"


def save(client, model: dict, **part) -> dict:
    body = {"base_revision": model["revision"], "setup": {**model["setup"], **part}}
    return ok(client.put(f"{V1}/models/{model['id']}/setup", json=body))


def bench(client, model: dict) -> dict:
    return ok(client.get(f"{V1}/models/{model['id']}/bench"))["answer"]


def with_wing(model: dict, **part) -> dict:
    surfaces = model["setup"]["airframe"]["surfaces"]
    return {**model["setup"]["airframe"], "surfaces": [{**surfaces[0], **part}, *surfaces[1:]]}


def test_a_section_file_becomes_the_wing_s_section_and_is_kept(client):
    model = create(client, "Sectioned")
    data = (DATABASE / "s1223.dat").read_bytes()
    foil = ok(client.post(f"{V1}/compute/section", params={"file_name": "s1223.dat"}, content=data))
    before = bench(client, model)
    saved = save(client, model, airframe=with_wing(model, foil=foil))
    assert saved["setup"]["airframe"]["surfaces"][0]["foil"]["name"] == foil["name"]
    stall = {n["key"]: n["value"] for n in bench(client, saved)["numbers"]}["stall_speed"]
    assert stall < {n["key"]: n["value"] for n in before["numbers"]}["stall_speed"]


def test_the_library_comes_as_sections_ready_to_use(client):
    found = ok(client.get(f"{V1}/sections"))
    assert {s["family"] for s in found} == {"symmetrical", "semi_symmetrical", "flat_bottom", "reflexed"}
    model = create(client, "Librarian")
    assert save(client, model, airframe=with_wing(model, foil=found[0]["foil"]))["revision"] == 2


@pytest.mark.parametrize(
    ("path", "body", "words"),
    [
        ("outline", {"table": "0 0 250\nwide"}, "Row 2"),
        ("outline", {"table": "0 0 250\n100 0 240\x07"}, "control character"),
        ("ellipse", {"half_span_m": -1, "root_chord_m": 0.2}, "half span"),
        ("lateral", {"tip_mass_kg": -1, "tip": "left", "half_span_m": 0.7, "mass_kg": 2}, "mass on the tip"),
        ("lateral", {"tip_mass_kg": 0.1, "tip": "upper", "half_span_m": 0.7, "mass_kg": 2}, "tip"),
        ("height", {"x_cg_m": 0.1, "x_hang_m": 0.1, "z_hang_m": 0, "lean_to_canopy_rad": 0}, "hook"),
        ("swing", {"mass_kg": 2, "period_s": 0.1, "arm_m": 1.2}, "No body swings that fast"),
        ("swing", {"mass_kg": 2, "period_s": 2}, "arm"),
    ],
)
def test_bad_measures_are_refused_in_words(client, path, body, words):
    answer = client.post(f"{V1}/compute/{path}", json=body)
    assert answer.status_code == 422
    assert answer.headers["content-type"] == "application/problem+json"
    assert words in answer.text


@pytest.mark.parametrize("data", [b"", b"\xff\xfe\x00", b"nan nan\n" * 40, b"1 0\n" * 3000])
def test_bad_section_files_are_refused(client, data):
    answer = client.post(f"{V1}/compute/section", content=data)
    assert (answer.status_code, answer.json()["code"]) == (422, "bad-airfoil-file")


def test_a_mass_on_the_left_tip_says_the_right_wing_is_heavy(client):
    """META-O05: a balance to the right of the centre line rolls right and is levelled by mass on the left."""
    body = {"tip_mass_kg": 0.012, "tip": "left", "half_span_m": 0.75, "mass_kg": 2.4}
    found = ok(client.post(f"{V1}/compute/lateral", json=body))
    assert found["value_m"] == pytest.approx(0.00375)
    assert "The right wing is heavy" in found["words"]
    assert "inside the left tip" in found["words"]
    other = ok(client.post(f"{V1}/compute/lateral", json=body | {"tip": "right"}))
    assert other["value_m"] == pytest.approx(-0.00375)


def test_a_reading_across_is_kept_and_shown_in_the_prediction(client):
    model = create(client, "Crosswise")
    answer = bench(client, model)
    across = {"value_m": 0.006, "sigma_m": 0.0008, "items_m": answer["items_y_cg_m"], "how": "mass on a tip"}
    saved = save(client, model, across=across)
    after = bench(client, saved)
    assert after["y_cg_m"] == pytest.approx(0.006)
    slow = {t["key"]: t for t in after["tendencies"]}["roll_slow"]
    assert "right wing down" in slow["words"]
    assert slow["verdict"] == "not known yet: fly F7 or F28", "nothing was flown"


@pytest.mark.parametrize("places", [[(-0.2, 0), (0.5, 0)], [(-0.2, 0), (0.12, -0.2), (0.12, 0.2)]])
def test_the_simulated_scales_read_back_the_model_that_stands_on_them(client, places):
    model = create(client, f"Weighed {len(places)}")
    answer = bench(client, model)
    body = {"places": [{"name": f"scale {i}", "x_m": x, "y_m": y} for i, (x, y) in enumerate(places)]}
    read = ok(client.post(f"{V1}/models/{model['id']}/scales", json=body))
    assert read["simulated"]
    supports = [{**p, "mass_kg": m} for p, m in zip(body["places"], read["masses_kg"], strict=True)]
    found = ok(client.post(f"{V1}/compute/weighing", json={"supports": supports}))
    assert found["x_m"] == pytest.approx(answer["x_cg_m"], abs=4 * found["sigma_m"])
    again = ok(client.post(f"{V1}/models/{model['id']}/scales", json=body))
    assert again == read, "the same model on the same scales reads the same"


def test_scales_in_a_line_are_refused(client):
    model = create(client, "In line")
    body = {"places": [{"name": "a", "x_m": 0.1}, {"name": "b", "x_m": 0.1}]}
    assert client.post(f"{V1}/models/{model['id']}/scales", json=body).status_code == 422


def test_where_to_mount_the_wing(client):
    model = create(client, "Loose")
    body = {"bare_mass_kg": 1.2, "bare_x_m": 0.05, "wing_mass_kg": 0.5, "wing_x_m": 0.11}
    found = ok(client.post(f"{V1}/models/{model['id']}/wing-mount", json=body))
    assert "Mount the wing with its root leading edge" in found["words"]
    bad = client.post(f"{V1}/models/{model['id']}/wing-mount", json=body | {"bare_mass_kg": 0})
    assert (bad.status_code, bad.json()["context"]["name"]) == (422, "mass of the bare fuselage")


def test_measuring_steps_lead_to_values_that_are_there(client):
    """Every path of every step points into the airframe; the left half may not have been measured yet."""
    for silhouette in ("low_wing", "canard", "delta"):
        airframe = create(client, silhouette, silhouette, 1.2)["setup"]["airframe"]
        steps = ok(client.post(f"{V1}/compute/measuring-steps", json=airframe))
        assert len(steps) > 12
        for measuring in steps:
            here = airframe
            for key in measuring["path"]:
                here = here[key]
            assert isinstance(here, float) or measuring["path"][-1] == "left_twist_rad"


def test_a_work_order_is_done_read_and_undone_with_the_setup(client):
    model = create(client, "Ordered")
    path = f"{V1}/models/{model['id']}"
    target = bench(client, model)["x_cg_m"] - 0.006
    setup = ok(client.post(f"{path}/arrangements", json={"target_x_m": target}))["proposals"][0]["setup"]
    taken = save(client, model, **setup)
    assert "to do" in bench(client, taken)["order"]["words"]
    order = setup["order"]
    done = order | {"steps": [s | {"done": True} for s in order["steps"]], "reading_m": order["expected_m"] + 0.02}
    read = save(client, taken, order=done)
    assert "further aft than computed" in bench(client, read)["order"]["words"]
    ok(step(client, model["id"], "undo"))
    back = ok(step(client, model["id"], "undo"))
    assert back["setup"].get("order") is None


def test_setups_stored_before_these_fields_existed_are_read(client):
    """What was saved without nacelles, gear, twist of the left half and readings still opens, with nothing changed."""
    model = create(client, "Older")
    setup = {k: v for k, v in model["setup"].items() if k not in ("across", "height", "swung", "order")}
    airframe = {k: v for k, v in setup["airframe"].items() if k not in ("nacelles", "further_motors", "gear")}
    body = {"base_revision": model["revision"], "setup": setup | {"airframe": airframe}, "words": "as of old"}
    assert ok(client.put(f"{V1}/models/{model['id']}/setup", json=body))["setup"] == model["setup"]


MEASURES: tuple[tuple[str, dict[str, Any]], ...] = (
    ("compute/ellipse", {"half_span_m": 0.7, "root_chord_m": 0.2, "straight_at": 0.2, "tip_rise_m": 0.0}),
    ("compute/outline", {"table": "0 0 200\n500 0 100", "millimetres_per_unit": 1.0}),
    ("compute/lateral", {"tip_mass_kg": 0.01, "tip": "left", "half_span_m": 0.7, "mass_kg": 2.0}),
    ("compute/height", {"x_cg_m": 0.1, "x_hang_m": 0.8, "z_hang_m": 0.0, "lean_to_canopy_rad": 0.0}),
    ("compute/swing", {"mass_kg": 2.0, "period_s": 2.0, "spacing_m": 0.5, "length_m": 1.5}),
    ("compute/swing", {"mass_kg": 2.0, "period_s": 2.4, "arm_m": 1.0}),
    ("models/{id}/wing-mount", {"bare_mass_kg": 1.1, "bare_x_m": 0.06, "wing_mass_kg": 0.5, "wing_x_m": 0.1}),
    ("models/{id}/scales", {"places": [{"name": "a", "x_m": -0.1, "y_m": 0.0}, {"name": "b", "x_m": 0.5, "y_m": 0.0}]}),
)


@pytest.mark.parametrize(("path", "body"), MEASURES, ids=[f"{p}-{i}" for i, (p, _) in enumerate(MEASURES)])
def test_no_number_whatever_breaks_a_measure(client, path, body):
    """NaN, infinities, overflow, text and nothing in the place of each number: answered or refused, never an error of ours."""
    url = f"{V1}/{path.replace('{id}', create(client, 'Odd')['id'])}"
    assert_no_number_breaks(client, url, body)


def test_a_new_model_is_led_to_measuring_and_a_rehearsal_is_not(client):
    """Found by review: a new model was sent to the plan with its silhouette's guesses unmarked."""
    body = {"id": new_id(), "name": "Guessed", "silhouette": "low_wing", "span_m": 1.5}
    model = ok(client.post(f"{V1}/models", json=body), 201)
    url, total = f"{V1}/models/{model['id']}", len(model["setup"]["guessed"]) + 1
    assert total > 20
    assert f"silhouette so far: 1 of {total} measures" in model["today"]["sentence"], "the span was asked for"
    assert model["today"]["target"].startswith("bench")

    setup = model["setup"]
    setup["airframe"]["body"]["length_m"] += 0.02
    put = {"base_revision": model["revision"], "setup": setup}
    entered = ok(client.put(f"{url}/setup", json=put))
    assert set(setup["guessed"]) - set(entered["setup"]["guessed"]) == {"body.length_m"}
    moved = ok(client.post(f"{url}/datum", json={"base_revision": entered["revision"], "dx_m": 0.1, "words": "nose"}))
    assert moved["setup"]["guessed"] == entered["setup"]["guessed"], "another datum measures nothing"
    put = {"base_revision": moved["revision"], "setup": moved["setup"] | {"guessed": []}}
    sure = ok(client.put(f"{url}/setup", json=put))
    assert "silhouette so far" not in sure["today"]["sentence"]
    rehearsal = ok(client.post(f"{V1}/models", json=body | {"id": new_id(), "name": "Try", "rehearsal": True}), 201)
    assert rehearsal["setup"]["guessed"] == []


def test_readings_are_averaged_kept_and_undone(client):
    body = {"id": new_id(), "name": "Read", "silhouette": "high_wing", "span_m": 1.3}
    model = ok(client.post(f"{V1}/models", json=body), 201)
    url, tip = f"{V1}/models/{model['id']}", "surfaces.0.sections.1.chord_m"

    def read(model, value, **part):
        return ok(
            client.post(f"{url}/measures", json={"base_revision": model["revision"], "key": tip, "value": value} | part)
        )

    before = ok(client.get(f"{url}/bench"))["answer"]["origins"]
    once = read(model, 0.2)
    assert once["setup"]["airframe"]["surfaces"][0]["sections"][1]["chord_m"] == 0.2
    assert tip not in once["setup"]["guessed"]
    both = read(read(once, 0.202, again=True), 0.215, left=True, again=True)
    assert both["setup"]["airframe"]["surfaces"][0]["sections"][1]["chord_m"] == pytest.approx(0.208)
    origins = ok(client.get(f"{url}/bench"))["answer"]["origins"]
    assert origins["measured"] == before["measured"] + 1
    (found,) = [m for m in origins["measures"] if m["key"] == tip]
    assert (found["count"], found["origin"]) == (3, "measured")
    assert "rolls it right" in origins["findings"][0]["words"], "the longer left half lifts more"
    undone = ok(client.post(f"{url}/undo", headers={"If-Match": f'"setup-{both["revision"]}"'}))
    assert undone["setup"]["airframe"]["surfaces"][0]["sections"][1]["chord_m"] == pytest.approx(0.201)
    drawn = undone["setup"]
    drawn["airframe"]["surfaces"][0]["sections"][1]["chord_m"] = 0.19
    put = {"base_revision": undone["revision"], "setup": drawn, "how": None}
    assert tip in ok(client.put(f"{url}/setup", json=put))["setup"]["guessed"], "what is only drawn is a guess"


def test_a_reading_of_no_such_measure_or_of_no_sense_is_refused_and_nothing_is_lost(client):
    model = create(client, "Refused")
    url = f"{V1}/models/{model['id']}"
    for part, words in (
        ({"key": "surfaces.7.x_m"}, "no such measure"),
        ({"value": -2.0}, "length"),
        ({"value": 9e9}, "12000 mm"),
    ):
        body = {"base_revision": model["revision"], "key": "body.length_m", "value": 1.0} | part
        answer = client.post(f"{url}/measures", json=body)
        assert answer.status_code == 422
        assert words in answer.json()["title"]
    assert ok(client.get(url))["setup"] == model["setup"]
