"""Writers of a model: made, doubled, named, put away, deleted; its setup, its tables, its measures."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from fastapi.testclient import TestClient

from tests.api.races.course import MODEL, Course, counts, expect_one_or_all, named, post_all, together
from tests.api.steps import V1, create, new_id, ok, step
from tests.states import TARN

race = Course()


@race("POST /models")
def a_model(client, n, same):
    before = len(ok(client.get(f"{V1}/models")))
    bodies = named(n, same, {"silhouette": "low_wing", "span_m": 1.2}, "name", lambda i: f"Beck {i}")
    expect_one_or_all(post_all(client, f"{V1}/models", bodies), n, same, 201)
    assert len(ok(client.get(f"{V1}/models"))) == before + 1


@race("POST /models/{model_id}/sisters")
def a_sister(client, n, same):
    before = len(ok(client.get(f"{V1}/models")))
    expect_one_or_all(
        post_all(client, f"{MODEL}/sisters", named(n, same, {}, "name", lambda i: f"Ghyll {i}")), n, same, 201
    )
    assert len(ok(client.get(f"{V1}/models"))) == before + 1


@race("POST /models/{model_id}/rehearsals")
def a_rehearsal(client, n, same):
    models = [str(TARN)] * n if same else [create(client, f"Sike {i}")["id"] for i in range(n)]
    before = len(ok(client.get(f"{V1}/models")))
    body = {"id": new_id()}
    found = counts(together([lambda m=m: client.post(f"{V1}/models/{m}/rehearsals", json=body) for m in models]))
    expect_one_or_all(found, n, same, 201)
    assert len(ok(client.get(f"{V1}/models"))) == before + 1


@race("PUT /models/{model_id}/setup")
def a_setup(client, n, same):
    model = ok(client.get(MODEL))
    # None of them what is there: saving what is there changes nothing, and is no conflict.
    minutes = [9.0 + (0 if same else i) / 4 for i in range(n)]
    bodies = [
        {"base_revision": model["revision"], "setup": {**model["setup"], "pack_minutes": m}, "words": f"{m}"}
        for m in minutes
    ]
    answers = together([lambda b=b: client.put(f"{MODEL}/setup", json=b) for b in bodies])
    assert counts(answers) == {200: 1, 409: n - 1}
    kept = ok(client.get(MODEL))
    assert kept["setup"]["pack_minutes"] == next(
        a.json()["setup"]["pack_minutes"] for a in answers if a.status_code == 200
    )
    assert kept["revision"] == model["revision"] + 1


@race("POST /models/{model_id}/datum")
def a_datum(client, n, same):
    model = ok(client.get(MODEL))
    nose = model["setup"]["airframe"]["body"]["nose_x_m"]
    shifts = [0.1 + (0 if same else i) / 100 for i in range(n)]
    bodies = [{"base_revision": model["revision"], "dx_m": dx, "words": "nose"} for dx in shifts]
    answers = together([lambda b=b: client.post(f"{MODEL}/datum", json=b) for b in bodies])
    assert counts(answers) == {200: 1, 409: n - 1}
    done = shifts[[a.status_code for a in answers].index(200)]
    assert ok(client.get(MODEL))["setup"]["airframe"]["body"]["nose_x_m"] == pytest.approx(nose - done)


@race("POST /models/{model_id}/measures")
def a_reading(client, n, same):
    model = ok(client.get(MODEL))
    lengths = [1.2 + (0 if same else i) / 1000 for i in range(n)]
    body = {"base_revision": model["revision"], "key": "body.length_m", "again": True}
    answers = together([lambda v=v: client.post(f"{MODEL}/measures", json=body | {"value": v}) for v in lengths])
    assert counts(answers) == {200: 1, 409: n - 1}
    (kept,) = [t for t in ok(client.get(MODEL))["setup"]["taken"] if t["key"] == "body.length_m"]
    assert len(kept["off"]) == 2, "what stood there counts as one; a reading that was sent twice counts once"


def edited(client: TestClient, times: int) -> str:
    """Return a model with so many edits, each adding a minute."""
    model = create(client, "Rigg")
    for i in range(times):
        setup = {**model["setup"], "pack_minutes": 10.0 + i}
        body = {"base_revision": model["revision"], "setup": setup}
        model = ok(client.put(f"{V1}/models/{model['id']}/setup", json=body))
    return str(model["id"])


@race("POST /models/{model_id}/undo")
def an_undo(client, n, same):
    model_id = edited(client, 3)
    walk(client, n, same, model_id, "undo", 11.0)


@race("POST /models/{model_id}/redo")
def a_redo(client, n, same):
    model_id = edited(client, 3)
    for _ in range(2):
        ok(step(client, model_id, "undo"))
    walk(client, n, same, model_id, "redo", 11.0)


def walk(client: TestClient, n: int, same: bool, model_id: str, way: str, minutes: float) -> None:
    """One step is one step, however often it is asked for; the other way at the same moment is not done as well."""
    tag = client.get(f"{V1}/models/{model_id}").headers["etag"]
    other = {"undo": "redo", "redo": "undo"}[way]
    ways = [way if same or i % 2 == 0 else other for i in range(n)]
    answers = together(
        [lambda w=w: client.post(f"{V1}/models/{model_id}/{w}", headers={"If-Match": tag}) for w in ways]
    )
    found = counts(answers)
    assert found[200] == 1 or (not same and found[200] == 0)
    if same:
        assert found == {200: 1, 412: n - 1}
        assert ok(client.get(f"{V1}/models/{model_id}"))["setup"]["pack_minutes"] == minutes


@race("PUT /models/{model_id}/items.csv")
def an_item_table(client, n, same):
    tables(client, n, same, f"{MODEL}/items.csv", lambda text, i: text.replace("Battery", f"Battery {i}"))


@race("PUT /models/{model_id}/throws.csv")
def a_throw_table(client, n, same):
    tables(client, n, same, f"{MODEL}/throws.csv", lambda text, i: text)


def tables(client: TestClient, n: int, same: bool, url: str, change: Callable[[str, int], str]) -> None:
    reply = client.get(url)
    tag = client.get(MODEL).headers["etag"]
    headers = {"content-type": "text/csv", "If-Match": tag}
    texts = [change(reply.text, 1 if same else 1 + i) for i in range(n)]
    answers = together([lambda t=t: client.put(url, content=t.encode(), headers=headers) for t in texts])
    found = counts(answers)
    assert found[200] >= 1
    assert found[200] + found[412] == n
    assert ok(client.get(MODEL))["setup"] == next(a.json()["setup"] for a in answers if a.status_code == 200)


@race("POST /models/{model_id}/trim-transfer")
def a_transfer_of_trim(client, n, same):
    model = create(client, "Scar")
    for name in ("elevator", "aileron"):
        model["setup"][name]["clicks"] = 6
    body = {"base_revision": 1, "setup": model["setup"]}
    model = ok(client.put(f"{V1}/models/{model['id']}/setup", json=body))
    ways = ["clevis" if same or i % 2 == 0 else "sub_trim" for i in range(n)]
    bodies = [{"base_revision": model["revision"], "way": w} for w in ways]
    assert post_all(client, f"{V1}/models/{model['id']}/trim-transfer", bodies) == {200: 1, 409: n - 1}


@race("POST /models/{model_id}/put-away")
def a_model_put_away(client, n, same):
    """The same: everybody puts it away; different: every second one takes it back, and it stands or not, whole."""
    ways = ["put-away" if same or i % 2 == 0 else "take-back" for i in range(n)]
    assert counts(together([lambda w=w: client.post(f"{MODEL}/{w}") for w in ways])) == {204: n}
    (tarn,) = (m for m in ok(client.get(f"{V1}/models")) if m["id"] == str(TARN))
    assert tarn["put_away"] in ((True,) if same else (True, False))
    assert ok(client.get(MODEL))["name"] == "Tarn"


@race("POST /models/{model_id}/take-back")
def a_model_taken_back(client, n, same):
    client.post(f"{MODEL}/put-away")
    calls = [lambda: client.post(f"{MODEL}/take-back")] * (n if same else n // 2)
    calls += [] if same else [lambda: client.get(MODEL)] * (n - n // 2)
    assert sum(counts(together(calls)).values()) == n
    (tarn,) = (m for m in ok(client.get(f"{V1}/models")) if m["id"] == str(TARN))
    assert tarn["put_away"] is False


@race("PATCH /models/{model_id}")
def a_name(client, n, same):
    names = [f"Tarn {0 if same else i}" for i in range(n)]
    answers = together([lambda name=name: client.patch(MODEL, json={"name": name}) for name in names])
    assert counts(answers) == {200: n}, "the last one stands, none is lost on the way"
    assert ok(client.get(MODEL))["name"] in names


@race("DELETE /models/{model_id}")
def a_model_deleted(client, n, same):
    """One deletes it, the others find it gone; whoever writes to it meanwhile is done before or hears that it is gone."""
    client.post(f"{MODEL}/put-away")
    calls = [lambda: client.delete(MODEL, params={"name": "Tarn"})] * (n if same else n // 2)
    calls += [] if same else [lambda: client.post(f"{MODEL}/take-back")] * (n - n // 2)
    found = counts(together(calls))
    assert found[204] >= 1
    assert set(found) <= ({204, 404} if same else {204, 404, 409}), "409: it was taken back in between"
    assert client.get(MODEL).status_code in ((404,) if same else (404, 200))
