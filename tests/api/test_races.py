"""Every writing route, asked at the same moment by two clients with the same content, and by four with content of their own.

Nothing acknowledged is lost, nothing is doubled, no answer is an error of ours.
"""

from __future__ import annotations

import threading
import uuid
from collections import Counter
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

import pytest
from fastapi.testclient import TestClient

from jinba.services.archive import read_project
from tests.api.steps import SITE, V1, close_gates, create, new_id, ok, plan_sortie, step
from tests.pictures import picture
from tests.states import TARN, TARN_ORDER

MODEL = f"{V1}/models/{TARN}"
SITE_PASSED = [{"key": k, "choice": "yes"} for k in ("site", "people", "thunder", "fit")]
Call = Callable[[], Any]


def together(calls: list[Call]) -> list[Any]:
    """Make all calls at the same moment; return their answers in order."""
    start = threading.Barrier(len(calls))

    def one(call: Call) -> Any:
        start.wait()
        return call()

    with ThreadPoolExecutor(len(calls)) as pool:
        return list(pool.map(one, calls))


def counts(answers: list[Any]) -> Counter[int]:
    found = Counter(a.status_code for a in answers)
    assert not [s for s in found if s >= 500], [a.text for a in answers if a.status_code >= 500]
    return found


@dataclass(frozen=True)
class Race:
    """``run`` (client, how many, same content?) makes the state, races, and checks what must be true afterwards."""

    route: str
    run: Callable[[TestClient, int, bool], None]


RACES: list[Race] = []


def race(route: str) -> Callable[[Callable[[TestClient, int, bool], None]], Callable[[TestClient, int, bool], None]]:
    def add(run: Callable[[TestClient, int, bool], None]) -> Callable[[TestClient, int, bool], None]:
        RACES.append(Race(route, run))
        return run

    return add


def post_all(client: TestClient, url: str, bodies: list[Any], **more: Any) -> Counter[int]:
    return counts(together([lambda b=b: client.post(url, json=b, **more) for b in bodies]))


def named(n: int, same: bool, body: dict[str, Any], key: str, values: Callable[[int], Any]) -> list[dict[str, Any]]:
    """Return n requests under one id: all alike, or each asking for something else."""
    identity = new_id()
    return [{"id": identity, **body, key: values(0 if same else i)} for i in range(n)]


def expect_one_or_all(found: Counter[int], n: int, same: bool, good: int) -> None:
    assert found == ({good: n} if same else {good: 1, 409: n - 1})


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
    assert len(kept["off"]) == 1, "a reading that was sent twice counts once"


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


def gate(note: str = "") -> dict[str, Any]:
    return {"card_id": "G7", "outcome": "passed", "readings": SITE_PASSED, "note": note}


@race("POST /models/{model_id}/ground-cards")
def a_ground_card(client, n, same):
    bodies = named(n, same, {}, "record", lambda i: gate(f"look {i}"))
    expect_one_or_all(post_all(client, f"{MODEL}/ground-cards", bodies), n, same, 200)
    fresh = [{"id": new_id(), "record": gate(f"again {i}")} for i in range(n)]
    assert post_all(client, f"{MODEL}/ground-cards", fresh) == {200: n}
    assert logged(client, "G7") >= n + 1


def logged(client: TestClient, card_id: str) -> int:
    """Return how many entries of a card the project file of Tarn holds."""
    project = read_project(client.get(f"{MODEL}/archive").content)
    return sum(r.record.card_id == card_id for r in project.records)


def planned(client: TestClient) -> dict[str, Any]:
    plan = close_gates(client, str(TARN))
    reasons = {s["code"]: "a rehearsal of the tests" for s in plan["stops"]}
    return {"card_ids": plan["programme"]["flight"], "reasons": reasons}


@race("POST /models/{model_id}/sorties")
def a_sortie(client, n, same):
    body = planned(client)
    bodies = [{"id": new_id(), **body}] * n if same else [{"id": new_id(), **body} for _ in range(n)]
    expect_one_or_all(post_all(client, f"{MODEL}/sorties", bodies), n, same, 201)
    assert [s["number"] for s in ok(client.get(MODEL))["sorties"]] == [1, 2]


def lift_off(choice: str = "holds") -> dict[str, Any]:
    return {"card_id": "F1", "outcome": "done", "readings": [{"key": "lift_off", "choice": choice}]}


@race("POST /sorties/{sortie_id}/records")
def a_record(client, n, same):
    sortie_id = plan_sortie(client, str(TARN))
    url = f"{V1}/sorties/{sortie_id}/records"
    bodies = named(n, same, {}, "record", lambda i: {**lift_off(), "note": str(i)})
    expect_one_or_all(post_all(client, url, bodies), n, same, 200)
    assert post_all(client, url, [{"id": new_id(), "record": lift_off("rises")} for _ in range(n)]) == {200: n}
    assert len(ok(client.get(f"{V1}/sorties/{sortie_id}"))["log"]) == n + 1
    elsewhere = {
        "id": bodies[0]["id"],
        "record": {"card_id": "G7", "outcome": "passed", "readings": SITE_PASSED},
    }
    assert client.post(f"{MODEL}/ground-cards", json=elsewhere).status_code == 409, "an id names one thing only"


@race("POST /sorties/{sortie_id}/log")
def many_records(client, n, same):
    sortie_id = plan_sortie(client, str(TARN))
    url = f"{V1}/sorties/{sortie_id}/log"
    each = [[new_id(), new_id()]] * n if same else [[new_id(), new_id()] for _ in range(n)]
    bodies = [{"entries": [{"id": i, "record": lift_off()} for i in ids]} for ids in each]
    answers = together([lambda b=b: client.post(url, json=b) for b in bodies])
    assert counts(answers) == {200: n}
    assert not any(a.json()["refused"] for a in answers)
    assert len(ok(client.get(f"{V1}/sorties/{sortie_id}"))["log"]) == (2 if same else 2 * n)


@race("POST /sorties/{sortie_id}/notes")
def a_note(client, n, same):
    url = f"{V1}/sorties/{plan_sortie(client, str(TARN))}/notes"
    bodies = named(n, same, {"what": "flutter"}, "words", str)
    expect_one_or_all(post_all(client, url, bodies), n, same, 200)
    assert len(ok(client.get(f"{MODEL}/notes"))) == 1


def a_noted(client) -> tuple[str, str]:
    sortie_id, note_id = plan_sortie(client, str(TARN)), new_id()
    ok(client.post(f"{V1}/sorties/{sortie_id}/notes", json={"id": note_id, "what": "loose"}))
    return f"{V1}/sorties/{sortie_id}/notes", note_id


def attached(client, n, same, kind: str, things: list[bytes]):
    url, note_id = a_noted(client)
    puts = [lambda d=d: client.put(f"{url}/{kind}", params={"note_id": note_id}, content=d) for d in things]
    expect_one_or_all(counts(together(puts)), n, same, 200)
    assert ok(client.get(f"{MODEL}/notes"))[0][f"{kind}_id"] is not None


@race("PUT /sorties/{sortie_id}/notes/photo")
def a_photo_of_a_note(client, n, same):
    attached(client, n, same, "photo", [picture(colour=f"#{0 if same else 12 * i:02x}4080") for i in range(n)])


@race("PUT /sorties/{sortie_id}/notes/voice")
def a_voice_of_a_note(client, n, same):
    attached(client, n, same, "voice", [b"OggS" + bytes([0 if same else i]) for i in range(n)])


@race("POST /notes/{note_id}/found")
def a_note_gone_through(client, n, same):
    _, note_id = a_noted(client)
    bodies = [{"found": "a screw" if same else f"screw {i}"} for i in range(n)]
    assert post_all(client, f"{V1}/notes/{note_id}/found", bodies) == {200: n}
    assert not ok(client.get(f"{MODEL}/notes"))[0]["open"]


@race("DELETE /notes/{note_id}")
def a_note_taken_back(client, n, same):
    _, note_id = a_noted(client)
    assert counts(together([lambda: client.delete(f"{V1}/notes/{note_id}")] * n)) == {200: n}
    assert ok(client.get(f"{MODEL}/notes")) == []


@race("POST /records/{record_id}/choose")
def a_choice(client, n, same):
    sortie_id = plan_sortie(client, str(TARN))
    entries = [{"id": new_id(), "record": lift_off(c)} for c in ("holds", "rises")]
    for entry in entries:
        ok(client.post(f"{V1}/sorties/{sortie_id}/records", json=entry))
    ids = [entries[0 if same else i % 2]["id"] for i in range(n)]
    assert counts(together([lambda i=i: client.post(f"{V1}/records/{i}/choose", json={}) for i in ids])) == {200: n}


@race("POST /sorties/{sortie_id}/land")
def a_landing(client, n, same):
    sortie_id = plan_sortie(client, str(TARN))
    entry = {"id": new_id(), "record": lift_off()}
    late = f"{V1}/sorties/{sortie_id}/records"
    calls = [lambda: client.post(f"{V1}/sorties/{sortie_id}/land")] * n
    if not same:
        calls = [*calls[1:], lambda: client.post(late, json={**entry, "written": written_by("phone", seen=0)})]
    assert counts(together(calls)) == {200: n}
    after = ok(client.get(f"{V1}/sorties/{sortie_id}"))
    assert (after["status"], len(after["log"])) == ("landed", 0 if same else 1)
    found = ok(client.get(f"{V1}/sorties/{sortie_id}/debrief"))
    assert (found["data_count"] > 0) is not same, "a late entry is in the debrief whichever came first"


def written_by(name: str, *, seen: int | None, at: str = "2026-05-01T10:00:00Z") -> dict[str, Any]:
    device = str(uuid.uuid5(uuid.NAMESPACE_OID, name))
    return {"device": device, "device_name": name, "made_at": at, "sent_at": at, "seen": seen}


@race("POST /sorties/{sortie_id}/stand-in")
def a_simulated_flight(client, n, same):
    if n > 2:
        n = 4  # each that comes too late still looks at the sortie; four at once show the same as twenty
    sortie_id = plan_sortie(client, str(TARN))
    other = "stand-in" if same else "land"
    calls = [lambda w=w: client.post(f"{V1}/sorties/{sortie_id}/{w}") for w in ["stand-in"] + [other] * (n - 1)]
    found = counts(together(calls))
    assert found[200] >= 1
    cards = Counter(e["record"]["card_id"] for e in ok(client.get(f"{V1}/sorties/{sortie_id}"))["log"])
    assert set(cards.values()) <= {1}


@race("POST /sorties/{sortie_id}/reopen")
def a_landing_taken_back(client, n, same):
    del same
    sortie_id = plan_sortie(client, str(TARN))
    ok(client.post(f"{V1}/sorties/{sortie_id}/land"))
    assert counts(together([lambda: client.post(f"{V1}/sorties/{sortie_id}/reopen")] * n)) == {200: n}
    assert ok(client.get(f"{V1}/sorties/{sortie_id}"))["status"] == "flying"


@race("POST /sorties/{sortie_id}/call-off")
def a_call_off(client, n, same):
    sortie_id = plan_sortie(client, str(TARN))
    url = f"{V1}/sorties/{sortie_id}"
    calls = [lambda: client.post(f"{url}/call-off")] * n
    if same:
        assert counts(together(calls)) == {200: n}
        assert ok(client.get(url))["status"] == "called_off"
        return
    answers = together([*calls[1:], lambda: client.post(f"{url}/records", json={"id": new_id(), "record": lift_off()})])
    after, kept = ok(client.get(url)), answers[-1].status_code == 200
    counts(answers)
    assert (after["status"], len(after["log"])) == (("flying", 1) if kept else ("called_off", 0))


@race("PUT /models/{model_id}/wind")
def a_wind(client, n, same):
    winds = [
        {"speed_mps": 2.0 + (0.0 if same else i / 10), "gust_mps": 9.0, "from_rad": 0.0, "strip_heading_rad": 0.0}
        for i in range(n)
    ]
    calls = [lambda w=w: client.put(f"{MODEL}/wind", json={"wind": w}) for w in winds]
    assert counts(together(calls)) == {200: n}
    assert ok(client.get(f"{MODEL}/plan"))["wind_read"]["wind"] in winds


LABEL = {"chemistry": "lipo", "cells": 3, "capacity_c": 7920.0}


def a_described_pack(client: TestClient) -> str:
    identity = new_id()
    ok(client.put(f"{V1}/packs/{identity}", json={**LABEL, "name": f"Fell {identity[:8]}"}))
    return identity


def packs_flights(client: TestClient, pack: str) -> list[dict[str, Any]]:
    return next(p for p in ok(client.get(f"{V1}/packs")) if p["id"] == pack)["flights"]


@race("PUT /packs/{pack_id}")
def a_pack(client, n, same):
    """Of packs that take one name at once one has it."""
    name, identity = f"Fell {new_id()[:8]}", new_id()
    calls = [
        lambda i=i: client.put(f"{V1}/packs/{identity if same else new_id()}", json={**LABEL, "name": name})
        for i in range(n)
    ]
    assert counts(together(calls)) == ({200: n} if same else {200: 1, 409: n - 1})
    assert [p["name"] for p in ok(client.get(f"{V1}/packs"))].count(name) == 1


@race("PUT /sites/{site_id}")
def a_site(client, n, same):
    name, identity = f"Meadow {new_id()[:8]}", new_id()
    body = {"name": name, "latitude_deg": 47.0, "longitude_deg": 11.0}
    calls = [lambda: client.put(f"{V1}/sites/{identity if same else new_id()}", json=body)] * n
    assert counts(together(calls)) == ({200: n} if same else {200: 1, 409: n - 1})
    assert [s["site"]["name"] for s in ok(client.get(f"{V1}/sites"))].count(name) == 1


@race("PUT /models/{model_id}/site")
def a_site_chosen(client, n, same):
    ids = [new_id() for _ in range(1 if same else n)]
    for i in ids:
        ok(client.put(f"{V1}/sites/{i}", json={"name": f"Meadow {i[:8]}", "latitude_deg": 47.0, "longitude_deg": 11.0}))
    again = [ids[k % len(ids)] for k in range(n)]
    assert counts(together([lambda i=i: client.put(f"{MODEL}/site", json={"site_id": i}) for i in again])) == {200: n}
    assert ok(client.get(f"{MODEL}/plan"))["site_id"] in ids


@race("PUT /models/{model_id}/pack")
def a_pack_fitted(client, n, same):
    pack = a_described_pack(client)
    volts = [4.1 if same else 4.0 + i / 100 for i in range(n)]
    calls = [lambda v=v: client.put(f"{MODEL}/pack", json={"pack_id": pack, "volts": v}) for v in volts]
    assert counts(together(calls)) == {200: n}
    assert ok(client.get(f"{MODEL}/plan"))["fitted"]["cell_v"] in volts


@race("PUT /packs/{pack_id}/flights/{flight_id}")
def a_typed_flight(client, n, same):
    pack, identity = a_described_pack(client), new_id()
    minutes = [6.0 if same else 6.0 + i / 10 for i in range(n)]
    url = f"{V1}/packs/{pack}/flights/{identity}"
    bodies = [{"minutes": m, "after_v": 3.8, "put_back_c": 3600.0} for m in minutes]
    assert counts(together([lambda b=b: client.put(url, json=b) for b in bodies])) == {200: n}
    (kept,) = packs_flights(client, pack)
    assert kept["minutes"] in minutes


@race("DELETE /packs/{pack_id}/flights/{flight_id}")
def a_typed_flight_taken_out(client, n, same):
    del same
    pack, identity = a_described_pack(client), new_id()
    url = f"{V1}/packs/{pack}/flights/{identity}"
    ok(client.put(url, json={"minutes": 6.0, "after_v": 3.8, "put_back_c": 3600.0}))
    assert counts(together([lambda: client.delete(url)] * n)) == {200: n}
    assert packs_flights(client, pack) == []


@race("PUT /sorties/{sortie_id}/put-back")
def a_charge_put_back(client, n, same):
    pack = a_described_pack(client)
    ok(client.put(f"{MODEL}/pack", json={"pack_id": pack, "volts": 4.1}))
    sortie_id = plan_sortie(client, str(TARN))
    ok(client.post(f"{V1}/sorties/{sortie_id}/land"))
    charges = [3600.0 if same else 3600.0 + i for i in range(n)]
    url = f"{V1}/sorties/{sortie_id}/put-back"
    assert counts(together([lambda c=c: client.put(url, json={"charge_c": c}) for c in charges])) == {200: n}
    (kept,) = packs_flights(client, pack)
    assert kept["put_back_c"] in charges


@race("POST /models/{model_id}/rework")
def a_rework(client, n, same):
    sortie_id = plan_sortie(client, str(TARN))
    ok(client.post(f"{V1}/sorties/{sortie_id}/land"))
    bodies = [{"id": new_id()}] * n if same else [{"id": new_id()} for _ in range(n)]
    expect_one_or_all(post_all(client, f"{MODEL}/rework", bodies), n, same, 201)
    after = ok(client.get(MODEL))
    assert (after["configuration"], after["work_order"]["id"]) == (3, after["work_order"]["id"])


@race("POST /work-orders/{order_id}/proofs")
def a_proof(client, n, same):
    url = f"{V1}/work-orders/{TARN_ORDER}/proofs"
    actions = ok(client.get(MODEL))["work_order"]["actions"]
    measured = [i for i, a in enumerate(actions) if a["expected"] and a["expected"]["tolerance"] > 0.0]
    places = [measured[0 if same else i % len(measured)] for i in range(n)]
    offs = [0.0 if same else 1e-5 * i for i in range(n)]
    bodies = [
        {"index": p, "number": actions[p]["expected"]["value"] + off} for p, off in zip(places, offs, strict=True)
    ]
    assert post_all(client, url, bodies) == {200: n}
    proofs = ok(client.get(MODEL))["work_order"]["proofs"]
    assert set(proofs) == {str(b["index"]) for b in bodies}, "every action ticked at the same moment stays ticked"
    kept = read_project(client.get(f"{MODEL}/archive").content).work_orders[0].proofs
    assert {(p.action, p.number) for p in kept} == {(b["index"], b["number"]) for b in bodies}
    assert len(kept) == (1 if same else n)


@race("DELETE /work-orders/{order_id}")
def an_order(client, n, same):
    url, before = f"{V1}/work-orders/{TARN_ORDER}", ok(client.get(MODEL))["revision"]
    assert counts(together([lambda: client.delete(url)] * n)) == {200: n}
    after = ok(client.get(MODEL))
    assert after["work_order"] is None
    assert after["revision"] == before + 1, "taken back once, however many asked"


@race("POST /models/{model_id}/sign-offs")
def a_signing_off(client, n, same):
    sortie_id = plan_sortie(client, str(TARN))
    ok(client.post(f"{V1}/sorties/{sortie_id}/land"))
    body = {"id": new_id(), "signed_by": "me", "remark": "handed over as it is"}
    bodies = [body] * n if same else [body | {"id": new_id(), "remark": f"handed over, {i} times"} for i in range(n)]
    assert post_all(client, f"{MODEL}/sign-offs", bodies) == {201: n}
    held = ok(client.get(f"{MODEL}/hand-over"))["signed_off"]
    assert held["remark"] in [b["remark"] for b in bodies]
    assert len(read_project(client.get(f"{MODEL}/archive").content).sign_offs) == (1 if same else n)


@race("DELETE /sign-offs/{sign_off_id}")
def a_signing_off_taken_back(client, n, same):
    sortie_id = plan_sortie(client, str(TARN))
    ok(client.post(f"{V1}/sorties/{sortie_id}/land"))
    ids = [new_id() for _ in range(1 if same else n)]
    for i in ids:
        ok(client.post(f"{MODEL}/sign-offs", json={"id": i, "signed_by": "me", "remark": "handed over as it is"}), 201)
    again = [ids[k % len(ids)] for k in range(n)]
    calls = [lambda i=i: client.delete(f"{V1}/sign-offs/{i}") for i in again]
    assert counts(together(calls)) == {200: n}
    assert ok(client.get(f"{MODEL}/hand-over"))["signed_off"] is None


@race("PUT /models/{model_id}/photos/{photo_id}")
def a_photo(client, n, same):
    record, identity = new_id(), new_id()
    said = [{"key": "phase", "choice": "landing"}, {"key": "ground", "choice": "hard"}]
    body = {"id": record, "record": {"card_id": "A6", "outcome": "done", "readings": said}}
    ok(client.post(f"{MODEL}/ground-cards", json=body))
    data = [picture(colour=f"#{0 if same else 12 * i:02x}4080") for i in range(n)]
    put = [lambda d=d: client.put(f"{MODEL}/photos/{identity}", params={"record_id": record}, content=d) for d in data]
    expect_one_or_all(counts(together(put)), n, same, 200)
    assert len(ok(client.get(f"{MODEL}/photos"))) == 1


@race("DELETE /photos/{photo_id}")
def a_photo_taken_back(client, n, same):
    del same
    identity = new_id()
    put = client.put(
        f"{MODEL}/photos/{identity}", params={"work_order_id": str(TARN_ORDER), "position": 0}, content=picture()
    )
    ok(put)
    assert counts(together([lambda: client.delete(f"{V1}/photos/{identity}")] * n)) == {200: n}
    assert ok(client.get(f"{MODEL}/photos")) == []


def codes(client: TestClient, n: int) -> list[str]:
    client.app.state.site = SITE
    answers = together([lambda: client.post(f"{V1}/field/codes", json={})] * n)
    assert counts(answers) == {200: n}
    return [a.json()["code"] for a in answers]


@race("POST /field/codes")
def a_code_that_pairs(client, n, same):
    del same
    assert len(set(codes(client, n))) == n


@race("POST /field/paired-devices")
def a_device_let_in(client, n, same):
    """One code lets one device in, whoever comes first; four codes let four in."""
    shown = codes(client, 1) * n if same else codes(client, n)
    bodies = [{"code": c, "name": f"phone {i}"} for i, c in enumerate(shown)]
    found = post_all(client, f"{V1}/field/paired-devices", bodies)
    assert found == ({200: 1, 403: n - 1} if same else {200: n})
    assert len(ok(client.get(f"{V1}/field/paired-devices"))) == found[200]


@race("DELETE /field/paired-devices/{device_id}")
def a_device_forgotten(client, n, same):
    del same
    body = {"code": codes(client, 1)[0], "name": "phone"}
    device = ok(client.post(f"{V1}/field/paired-devices", json=body))["device"]["id"]
    assert counts(together([lambda: client.delete(f"{V1}/field/paired-devices/{device}")] * n)) == {200: n}
    assert ok(client.get(f"{V1}/field/paired-devices")) == []


@race("POST /archives")
def an_archive(client, n, same):
    before = {m["name"] for m in ok(client.get(f"{V1}/models"))}
    files = [client.get(f"{MODEL}/archive").content, client.get(f"{V1}/models/{edited(client, 1)}/archive").content]
    n = min(n, 4)
    send = [files[0 if same else i % 2] for i in range(n)]
    headers = {"content-type": "application/zip"}
    answers = together([lambda d=d: client.post(f"{V1}/archives", content=d, headers=headers) for d in send])
    assert counts(answers) == {201: n}
    names = [a.json()["name"] for a in answers]
    assert len(set(names) - before) == n, "each is a model of its own, under a name of its own"


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


@pytest.mark.parametrize(("n", "same"), [(2, True), (4, False)], ids=["two, the same", "four, each its own"])
@pytest.mark.parametrize("it", RACES, ids=lambda r: r.route)
def test_writers_at_the_same_moment(flown_client, it, n, same):
    it.run(flown_client, n, same)


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


NOTHING_STORED = {
    *("what-if", "arrangements", "holes", "square-arm/{role}", "rate-for", "level-reference", "reversal"),
    *("devices", "wing-mount", "scales"),
}


def test_no_writing_route_is_left_out(client):
    paths = client.app.openapi()["paths"]
    writing = {
        f"{method.upper()} {path.removeprefix(V1)}"
        for path, operations in paths.items()
        for method in operations
        if method in ("post", "put", "patch", "delete")
        and "/compute/" not in path
        and path.removeprefix(f"{V1}/models/{{model_id}}/") not in NOTHING_STORED
    }
    assert writing == {r.route for r in RACES}
