"""Bad input: every error in one shape, never a 500, nothing changed."""

from __future__ import annotations

import io
import json
import re
import zipfile

import pytest

from tests.api.steps import V1, create, fly_and_rework, new_id, ok


def problem(response, status: int) -> dict:
    assert response.status_code == status, response.text
    assert response.headers["content-type"].startswith("application/problem+json")
    body = response.json()
    assert {"type", "title", "status", "code", "instance", "violations", "context"} <= set(body)
    assert len(body["title"]) > 10
    return body


@pytest.fixture(scope="module")
def model(client):
    return create(client, "Bad input")


def broken(model, path: list, value) -> bytes:
    setup = json.loads(json.dumps(model["setup"]))
    target = setup
    for key in path[:-1]:
        target = target[key]
    target[path[-1]] = value
    return json.dumps({"base_revision": 1, "setup": setup}).encode()


BAD = [
    (["items", 0, "mass_kg"], -1.0, "mass"),
    (["items", 0, "mass_kg"], float("nan"), ""),
    (["items", 0, "x_m"], 1e300, "station"),
    (["items", 0, "name"], "bad\u0000name", "control character"),
    (["airframe", "surfaces", 0, "sections", 0, "chord_m"], 0.0, ""),
    (["airframe", "surfaces", 0, "sections", 1, "y_m"], -0.5, "centre line"),
    (["airframe", "surfaces"], [], "no wing"),
    (["airframe", "body", "length_m"], 0.0, "body length"),
    (["elevator", "horn_arm_m"], 0.0, "horn arm"),
    (["elevator", "throw_rad"], 9.0, "throw"),
    (["model_class"], "spaceship", ""),
    (["unknown"], 1, ""),
    (["items"], [], "mass"),
    (["jig"], {"x_m": 0.1, "sigma_m": -1, "items_x_m": 0.1}, "jig"),
]


@pytest.mark.parametrize(("path", "value", "word"), BAD, ids=lambda v: str(v)[:40])
def test_bad_setups_are_named_and_nothing_is_saved(client, model, path, value, word):
    r = client.put(
        f"{V1}/models/{model['id']}/setup",
        content=broken(model, path, value),
        headers={"content-type": "application/json"},
    )
    body = problem(r, 422)
    assert word in json.dumps(body)
    assert ok(client.get(f"{V1}/models/{model['id']}"))["revision"] == 1


@pytest.mark.parametrize(
    ("method", "path", "content", "status"),
    [
        ("GET", "/models/00000000-0000-0000-0000-000000000000", None, 404),
        ("GET", "/models/not-an-id", None, 422),
        ("GET", "/nothing", None, 404),
        ("DELETE", "/models", None, 405),
        ("POST", "/models", b"{", 422),
        ("POST", "/models", b'{"id": 1e999}', 422),
        ("POST", "/models", b"\xff\xfe", 422),
        ("POST", "/compute/balance", b"[]", 422),
        ("POST", "/compute/debrief", b'{"sorties": []}', 422),
        ("PUT", "/models/00000000-0000-0000-0000-000000000000/wind", b'{"wind": {"speed_mps": NaN}}', 422),
    ],
)
def test_every_error_has_the_one_shape(client, method, path, content, status):
    r = client.request(method, V1 + path, content=content, headers={"content-type": "application/json"})
    problem(r, status)


def test_records_that_do_not_fit_are_refused(client, model):
    body = {
        "id": new_id(),
        "record": {"card_id": "B4", "outcome": "passed", "readings": [{"key": "wings", "choice": "yes"}]},
    }
    assert "no measure" in problem(client.post(f"{V1}/models/{model['id']}/ground-cards", json=body), 422)["title"]
    flight = {"id": new_id(), "record": {"card_id": "F2", "outcome": "done", "readings": []}}
    assert "flight card" in problem(client.post(f"{V1}/models/{model['id']}/ground-cards", json=flight), 409)["title"]


def test_nothing_can_be_corrected_before_a_flight(client, model):
    assert "Nothing has been flown" in problem(client.get(f"{V1}/models/{model['id']}/rework"), 409)["title"]


def archive(**members: str | bytes) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as z:
        for name, data in members.items():
            z.writestr(name.replace("__", "."), data)
    return buffer.getvalue()


def test_export_and_import_keep_the_whole_history(client):
    model = create(client, "Archive")
    fly_and_rework(client, model["id"])
    data = client.get(f"{V1}/models/{model['id']}/archive").content
    copy = ok(client.post(f"{V1}/archives", content=data, headers={"content-type": "application/zip"}), 201)
    assert copy["name"] == "Archive (2)"
    a, b = (ok(client.get(f"{V1}/models/{i}/board")) for i in (model["id"], copy["id"]))
    assert [[t["value"] for t in c["found"]] for c in a["columns"]] == [
        [t["value"] for t in c["found"]] for c in b["columns"]
    ]
    again = ok(client.get(f"{V1}/models/{copy['id']}"))
    assert again["configuration"] == 2
    assert again["work_order"]["actions"] == ok(client.get(f"{V1}/models/{model['id']}"))["work_order"]["actions"]
    schema = json.loads(zipfile.ZipFile(io.BytesIO(data)).read("model.schema.json"))
    assert schema["title"] == "ProjectFile"


def test_bad_project_files_say_what_is_wrong_and_change_nothing(client):
    good = client.get(f"{V1}/models/{create(client, 'Source')['id']}/archive").content
    manifest = zipfile.ZipFile(io.BytesIO(good)).read("manifest.json")
    text = json.loads(zipfile.ZipFile(io.BytesIO(good)).read("model.json"))
    nan = {**text, "configurations": [{**text["configurations"][0], "current_revision": 9}]}
    unknown = {**text, "surprise": 1}
    cases = [
        (b"", "not a zip"),
        (b"PK\x03\x04 rubbish", "not a zip"),
        (archive(readme__txt="hello"), "missing"),
        (archive(manifest__json="[]", model__json="{}"), "not an object"),
        (archive(manifest__json="nonsense", model__json="{}"), "not JSON"),
        (archive(manifest__json='{"format": "other"}', model__json="{}"), "does not say so"),
        (archive(manifest__json='{"format": "jinba-project", "version": 99}', model__json="{}"), "version 99"),
        (archive(manifest__json=manifest, model__json="{}"), "damaged at"),
        (archive(manifest__json=manifest, model__json=json.dumps(nan)), "revision that is not in the file"),
        (archive(manifest__json=manifest, model__json=json.dumps(unknown)), "surprise"),
    ]
    before = len(ok(client.get(f"{V1}/models")))
    for data, word in cases:
        body = problem(client.post(f"{V1}/archives", content=data, headers={"content-type": "application/zip"}), 422)
        assert word in body["title"], body["title"]
    assert len(ok(client.get(f"{V1}/models"))) == before


BAD_ENTRIES = [
    ({"span_m": -1.3}, "Span: it must be more than 0 mm."),
    ({"span_m": "wide"}, "Span: this is no number."),
    ({"span_m": None}, "Span: this is no number."),
    ({"name": ""}, "Name: it is empty; fill it in."),
    ({"name": "x" * 80}, "Name: at most 60 characters are kept; shorten it."),
    ({"id": "mine"}, "Id: there is nothing at this address."),
    ({"colour": "red"}, "Colour: this version knows nothing of it."),
    ({"": 1}, "The entry: this version knows nothing of it."),
    ({"_m": 1}, "The entry: this version knows nothing of it."),
    ({"span_m": 400.0}, "span is 400000 mm; it must be between 200 mm and 8000 mm. Did you mean 400 mm?"),
]


@pytest.mark.parametrize(("part", "words"), BAD_ENTRIES, ids=lambda x: x if isinstance(x, str) else "")
def test_a_wrong_entry_is_said_as_a_pilot_reads_it(client, part, words):
    """Found by review: "Input should be a valid UUID", twice."""
    body = {"id": new_id(), "name": "Wrong", "silhouette": "high_wing", "span_m": 1.3} | part
    title = problem(client.post(f"{V1}/models", json=body), 422)["title"]
    assert words in title
    assert not re.search("Input should|UUID|valid|pydantic", title)


def test_an_address_of_nothing_says_where_to_go(client):
    title = problem(client.get(f"{V1}/models/mine"), 422)["title"]
    assert title == "Model id: there is nothing at this address. Open it from the shelf."
