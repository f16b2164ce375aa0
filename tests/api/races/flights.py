"""Writers of a flight: gates, the log, notes, landing, and what is taken back."""

from __future__ import annotations

import uuid
from collections import Counter
from typing import Any

from fastapi.testclient import TestClient

from jinba.services.archive import read_project
from tests.api.races.course import MODEL, Course, counts, expect_one_or_all, named, post_all, together
from tests.api.steps import V1, close_gates, new_id, ok, plan_sortie
from tests.pictures import picture
from tests.states import TARN

race = Course()
SITE_PASSED = [{"key": k, "choice": "yes"} for k in ("site", "people", "thunder", "fit")]


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
