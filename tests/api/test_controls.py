"""The controls desk through the API: set up, moved, proved, printed, and refused in words."""

from __future__ import annotations

import copy
import io
from typing import Any

import pytest
from pypdf import PdfReader

from jinba.formats.codec import to_json
from tests.api.steps import V1, assert_no_number_breaks, close_gates, create, figures, fly_and_rework, ok, step
from tests.builders import model as builder_model


def desk(client, model: dict[str, Any]) -> dict[str, Any]:
    return ok(client.get(f"{V1}/models/{model['id']}/controls"))


def save(client, model: dict[str, Any], **part: Any) -> dict[str, Any]:
    body = {"base_revision": model["revision"], "setup": {**model["setup"], **part}}
    return ok(client.put(f"{V1}/models/{model['id']}/setup", json=body))


def with_controls(client, name: str = "Rigged", silhouette: str = "low_wing", **part: Any) -> dict[str, Any]:
    model = create(client, name, silhouette)
    return save(client, model, controls={**desk(client, model)["answer"]["setup"], **part})


def test_a_model_starts_with_a_set_up_that_is_kept_as_it_is_edited(client):
    model = create(client, "Fresh")
    first = desk(client, model)
    assert first["answer"]["started"]
    controls = copy.deepcopy(first["answer"]["setup"])
    controls["fittings"][0]["linkage"]["arm_m"] = 0.007
    saved = save(client, model, controls=controls)
    answer = desk(client, saved)["answer"]
    assert not answer["started"]
    assert answer["setup"] == controls
    assert answer["fittings"][0]["travel"]["up_m"] > first["answer"]["fittings"][0]["travel"]["up_m"]
    back = ok(step(client, model["id"], "undo"))
    assert back["setup"].get("controls") is None


@pytest.mark.parametrize(
    ("place", "value", "words"),
    [
        (("fittings", 0, "linkage", "horn_m"), 0.0, "horn"),
        (("fittings", 0, "end_point_up"), 2.0, "end point up"),
        (("rates", 0, "steps", 0, "first"), 2.0, "high rate"),
        (("rates", 0, "steps", 0, "expo"), 3.0, "expo"),
        (("radio", "mode"), 7, "stick mode"),
        (("radio", "fail_safe", 0, "pulse_us"), 2500.0, "fail-safe pulse"),
        (("threshold_clicks",), -1, "clicks that may stay"),
        (("fittings", 0, "servo", "torque_nm"), -1.0, "servo torque"),
    ],
)
def test_a_set_up_that_cannot_be_is_refused_by_name_and_nothing_is_lost(client, place, value, words):
    model = with_controls(client)
    controls = copy.deepcopy(model["setup"]["controls"])
    here = controls
    for key in place[:-1]:
        here = here[key]
    here[place[-1]] = value
    body = {"base_revision": model["revision"], "setup": {**model["setup"], "controls": controls}}
    answer = client.put(f"{V1}/models/{model['id']}/setup", json=body)
    assert answer.status_code == 422
    assert words in answer.text
    assert ok(client.get(f"{V1}/models/{model['id']}"))["setup"] == model["setup"]


def test_a_switch_used_twice_is_refused_and_two_jobs_are_found(client):
    model = with_controls(client)
    radio = model["setup"]["controls"]["radio"]
    a = {
        "name": "A",
        "side": "left",
        "place": 1,
        "positions": 2,
        "jobs": ["motor_cut", "flaps"],
        "modes": [],
        "momentary": False,
    }
    twice = {**radio, "switches": [a, {**a, "place": 2}]}
    body = {
        "base_revision": model["revision"],
        "setup": {**model["setup"], "controls": {**model["setup"]["controls"], "radio": twice}},
    }
    refused = client.put(f"{V1}/models/{model['id']}/setup", json=body)
    assert (refused.status_code, "used twice" in refused.text) == (422, True)
    saved = save(client, model, controls={**model["setup"]["controls"], "radio": {**radio, "switches": [a]}})
    assert "two_jobs" in {f["code"] for f in desk(client, saved)["answer"]["radio"]}


def test_six_clicks_go_to_the_clevis_and_open_the_neutrals_again(client):
    model = with_controls(client, "Mover")
    close_gates(client, model["id"])
    trimmed = save(client, model, elevator={**model["setup"]["elevator"], "clicks": -6})
    before = desk(client, trimmed)
    assert next(p for p in before["proofs"] if p["card_id"] == "B2")["state"] == "passed"
    body = {"base_revision": trimmed["revision"], "way": "clevis"}
    moved = ok(client.post(f"{V1}/models/{model['id']}/trim-transfer", json=body))
    assert moved["steps"][0] == "Propeller off."
    assert moved["model"]["setup"]["elevator"]["clicks"] == 0
    after = desk(client, moved["model"])
    assert "All trims centred" in " ".join(after["answer"]["setup"]["to_find"])
    # One configuration, not yet flown: the gates that prove the neutrals stand open again once it is re-read against them.
    stale = client.post(f"{V1}/models/{model['id']}/trim-transfer", json=body)
    assert stale.status_code in (409, 422)
    empty = {"base_revision": moved["model"]["revision"], "way": "sub_trim", "axes": ["pitch"]}
    sub = client.post(f"{V1}/models/{model['id']}/trim-transfer", json=empty)
    assert sub.status_code == 200, "what the half turns left is sub-trim and may be set down as such"


def test_a_flown_models_trims_belong_to_their_flight(client):
    model = create(client, "Flyer")
    fly_and_rework(client, model["id"])
    view = desk(client, model)
    assert {t["sortie"] for t in view["sortie_trims"]} == {1}
    assert {t["configuration"] for t in view["sortie_trims"]} == {1}
    trial = {"first": 1, "changed": 1, "again": 1, "card_id": "F2"}
    refused = client.post(f"{V1}/models/{model['id']}/reversal", json=trial)
    assert (refused.status_code, "Nothing was changed" in refused.text) == (422, True)
    missing = client.post(f"{V1}/models/{model['id']}/reversal", json={**trial, "changed": 9})
    assert "Sortie 9 has not landed" in missing.text


def test_an_edit_of_the_fail_safe_opens_its_proof_and_its_card(client):
    model = with_controls(client, "Safe")
    controls = copy.deepcopy(model["setup"]["controls"])
    controls["radio"]["fail_safe"][0]["proved_on"] = "2026-05-02"
    proved = save(client, model, controls=controls)
    assert proved["setup"]["controls"]["radio"]["fail_safe"][0]["proved_on"] == "2026-05-02"
    fly_and_rework(client, model["id"])
    flown = ok(client.get(f"{V1}/models/{model['id']}"))
    edited = copy.deepcopy(flown["setup"]["controls"])
    edited["radio"]["fail_safe"][0]["pulse_us"] = 1100.0
    saved = save(client, flown, controls=edited)
    assert saved["setup"]["controls"]["radio"]["fail_safe"][0]["proved_on"] == ""
    assert "G2" in saved["stale"]


def test_a_controller_brings_its_cards_and_forbids_radio_trims(client):
    model = create(client, "Pilotless", "flying_wing")
    setup = desk(client, model)["answer"]["setup"]
    fitted = save(
        client,
        model,
        controls={**setup, "stabiliser": {"device": "controller"}},
        elevator={**model["setup"]["elevator"], "clicks": -3},
    )
    gates = ok(client.get(f"{V1}/models/{model['id']}/plan"))["programme"]["gates"]
    assert "B11" in gates
    view = desk(client, fitted)
    assert "standing command" in view["answer"]["trim_warning"]
    refused = client.post(
        f"{V1}/models/{model['id']}/trim-transfer", json={"base_revision": fitted["revision"], "way": "sub_trim"}
    )
    assert (refused.status_code, refused.json()["code"]) == (409, "refused")
    read = ok(client.post(f"{V1}/models/{model['id']}/devices", json={"write_sheet": True}))
    assert read["sheet_written"]
    assert all("flies that as a command" in w for w in read["words"])
    assert {m["role"] for m in read["midpoints"]} == {"left_elevon", "right_elevon"}
    level = ok(client.post(f"{V1}/models/{model['id']}/level-reference", json={"height_m": 6, "seconds": 20}))
    assert "Lower the level reference" in level["words"]


def test_holes_are_searched_and_bad_ones_named(client):
    model = with_controls(client, "Holes")
    url = f"{V1}/models/{model['id']}/holes"
    body = {"role": "elevator", "arm_holes_m": [0.008, 0.01], "horn_holes_m": [0.012, 0.016], "wanted_m": 0.012}
    found = ok(client.post(url, json=body))
    assert len(found) == 4
    assert found[0]["reaches"]
    assert client.post(url, json={**body, "arm_holes_m": []}).status_code == 422
    assert "no left flap" in client.post(url, json={**body, "role": "left_flap"}).text
    assert ok(client.post(f"{V1}/models/{model['id']}/square-arm/elevator")) != 0.0
    assert client.post(f"{V1}/models/{model['id']}/square-arm/kite").status_code == 422


def test_a_throw_read_by_the_ruler_becomes_its_rate(client):
    model = with_controls(client, "Ruler")
    url = f"{V1}/models/{model['id']}/rate-for"
    found = ok(client.post(url, json={"axis": "pitch", "straight_m": 0.009, "first": True}))
    controls = copy.deepcopy(model["setup"]["controls"])
    pitch = next(r for r in controls["rates"] if r["axis"] == "pitch")
    pitch["steps"][0]["first"] = found["share"]
    saved = save(client, model, controls=controls)
    shown = next(r for r in desk(client, saved)["answer"]["rates"] if (r["axis"], r["rate"]) == ("pitch", "high"))
    assert shown["first_m"] == pytest.approx(0.009, abs=5e-5)
    assert (shown["first_way"], shown["second_way"]) == ("nose up", "nose down")
    assert found["square_m"] < found["straight_m"]
    far = client.post(url, json={"axis": "pitch", "straight_m": 0.06})
    assert (far.status_code, far.json()["code"], "This linkage gives" in far.text) == (422, "unreachable-target", True)
    wing = create(client, "Wing", "flying_wing")
    assert (
        "Nothing moves yaw"
        in client.post(f"{V1}/models/{wing['id']}/rate-for", json={"axis": "yaw", "straight_m": 0.01}).text
    )


def test_a_gate_passed_before_an_edit_is_open_again(client):
    model = with_controls(client, "Reopened")
    close_gates(client, model["id"])
    assert desk(client, model)["proofs"][0] == {"card_id": "B2", "state": "passed"}
    longer = copy.deepcopy(model["setup"]["controls"])
    longer["fittings"][2]["linkage"]["horn_m"] = 0.015
    edited = save(client, model, controls=longer)
    assert {"B2", "B4", "B5"} <= set(edited["stale"])
    gates = ok(client.get(f"{V1}/models/{model['id']}/plan"))["programme"]["gates"]
    assert {"B2", "B4", "B5"} <= set(gates)
    undone = ok(step(client, model["id"], "undo"))
    assert not {"B2", "B4", "B5"} & set(undone["stale"]), "put back as it was: what was proved stands"


def test_the_sheet_is_one_page_and_throws_go_out_and_in(client):
    model = with_controls(client, "Sheet")
    path = f"{V1}/models/{model['id']}"
    pdf = client.get(f"{path}/setup-sheet.pdf")
    assert (pdf.headers["content-type"], len(PdfReader(io.BytesIO(pdf.content)).pages)) == ("application/pdf", 1)
    assert "Sheet" in client.get(f"{path}/setup-sheet.svg").text
    assert client.get(f"{path}/setup-sheet.csv").text.startswith("model,Sheet")
    table = client.get(f"{path}/throws.csv").text
    halved = table.replace("pitch,low", "pitch,maiden")
    read = ok(client.put(f"{path}/throws.csv", content=halved, headers={"content-type": "text/csv"}))
    assert [s["name"] for s in read["setup"]["controls"]["rates"][0]["steps"]] == ["high", "maiden"]
    bad = client.put(f"{path}/throws.csv", content="axis\npitch\n")
    assert (bad.status_code, bad.json()["code"]) == (422, "bad-throw-table")
    assert ok(client.get(path))["setup"] == read["setup"]


def test_a_project_file_carries_the_controls_and_what_was_proved_on_which_setup(client):
    model = with_controls(client, "Carried")
    close_gates(client, model["id"])
    data = client.get(f"{V1}/models/{model['id']}/archive").content
    copied = ok(client.post(f"{V1}/archives", content=data), 201)
    assert copied["setup"]["controls"] == model["setup"]["controls"]
    assert not {"B2", "B5"} & set(copied["stale"])
    longer = copy.deepcopy(copied["setup"]["controls"])
    longer["fittings"][2]["linkage"]["arm_m"] = 0.007
    assert {"B2", "B5"} <= set(save(client, copied, controls=longer)["stale"])


def test_directions_are_those_of_the_pilots_radio(client):
    one = ok(client.get(f"{V1}/directions", params={"layout": "tail", "mode": 1}))["responses"]["nose_up"]
    assert one["stick"] == "left stick back, towards you"
    other = ok(client.get(f"{V1}/directions", params={"layout": "tail", "mode": 2, "levers": "pitch"}))["responses"][
        "nose_up"
    ]
    assert other["trim_lever"].startswith("lever away from you")
    assert client.get(f"{V1}/directions", params={"mode": 5}).status_code == 422


_FITTING = {
    "role": "elevator",
    "channel": 2,
    "chord_m": 0.045,
    "span_m": 0.4,
    "linkage": {"arm_m": 0.01, "horn_m": 0.014, "distance_m": 0.1},
}
NUMBERS: tuple[tuple[str, dict[str, Any]], ...] = (
    ("compute/linkage", {"fitting": _FITTING, "section_chord_m": 0.15, "speed_mps": 28.0, "density_kg_m3": 1.2}),
    ("compute/shim", {"tilt": "down", "angle_rad": 0.03, "spacing_m": 0.025, "x_motor_ahead_of_cg_m": 0.3}),
    ("compute/shim", {"seat": "tail", "angle_rad": 0.03, "spacing_m": 0.1}),
    ("models/{id}/holes", {"role": "elevator", "arm_holes_m": [0.01], "horn_holes_m": [0.014], "wanted_m": 0.01}),
    ("models/{id}/level-reference", {"height_m": 5.0, "seconds": 20.0}),
    ("models/{id}/rate-for", {"axis": "roll", "straight_m": 0.008}),
)


@pytest.mark.parametrize(("path", "body"), NUMBERS, ids=[f"{p}-{i}" for i, (p, _) in enumerate(NUMBERS)])
def test_no_number_whatever_breaks_the_controls(client, path, body):
    url = f"{V1}/{path.replace('{id}', create(client, 'Odd')['id'])}"
    assert_no_number_breaks(client, url, body)


def test_no_number_whatever_breaks_a_whole_set_up(client):
    """Each number of a control set-up replaced by what is no measure: refused in words, or answered, never an error of ours."""
    c = builder_model("flying_wing")
    body = to_json(c) | {"controls": to_json(c.control_setup)}
    for place in figures(body["controls"]):
        for value in (1e300, 0.0):
            odd = copy.deepcopy(body)
            here = odd["controls"]
            for key in place[:-1]:
                here = here[key]
            here[place[-1]] = value
            answer = client.post(f"{V1}/compute/controls", json=odd)
            assert answer.status_code in (200, 422), f"{place} = {value}: {answer.text[:300]}"
