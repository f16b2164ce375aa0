"""Two devices and late entries: what each knew decides, clocks do not; nothing made before the landing is turned away."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

import pytest

from tests.api.steps import V1, create, new_id, ok, plan_sortie
from tests.states import TARN

MODEL = f"{V1}/models/{TARN}"


def entry(
    card_id: str, device: str, *, seen: int, made_at: str = "2026-05-01T10:00:00Z", **record: Any
) -> dict[str, Any]:
    return {
        "id": new_id(),
        "version": 2,
        "record": {"card_id": card_id, "outcome": "done", **record},
        "written": {
            "device": str(uuid.uuid5(uuid.NAMESPACE_OID, device)),
            "device_name": device,
            "by": "helper",
            "made_at": made_at,
            "sent_at": "2026-05-01T10:05:00Z",
            "seen": seen,
        },
    }


def lift_off(choice: str) -> dict[str, Any]:
    return {"readings": [{"key": "lift_off", "choice": choice}]}


@pytest.fixture
def sortie(flown_client) -> dict[str, Any]:
    return ok(flown_client.get(f"{V1}/sorties/{plan_sortie(flown_client, str(TARN))}"))


def test_a_card_made_before_the_landing_is_taken_after_it_and_the_sortie_computed_anew(flown_client, sortie):
    url = f"{V1}/sorties/{sortie['id']}"
    ok(flown_client.post(f"{url}/land"))
    before = ok(flown_client.get(f"{url}/debrief"))
    late = entry("F1", "phone", seen=sortie["log_order"], **lift_off("rears"))
    after_record = ok(flown_client.post(f"{url}/records", json=late))
    assert [r["card_id"] for r in after_record["records"]] == ["F1"]
    after = ok(flown_client.get(f"{url}/debrief"))
    assert after["data_count"] > before["data_count"] == 0
    assert len(after["earlier"]) == 1
    knowing = entry("F3", "phone", seen=after_record["log_order"], outcome="aborted")
    refused = flown_client.post(f"{url}/records", json=knowing)
    assert (refused.status_code, "has landed" in refused.json()["title"]) == (409, True)


def test_what_two_devices_say_stands_side_by_side_until_a_person_chooses(flown_client, sortie):
    url = f"{V1}/sorties/{sortie['id']}"
    phone = entry("F1", "phone", seen=sortie["log_order"], outcome="aborted", note="swerved")
    laptop = entry("F1", "laptop", seen=sortie["log_order"], **lift_off("holds"))
    for e in (phone, laptop):
        found = ok(flown_client.post(f"{url}/records", json=e))
    assert [r["outcome"] for r in found["records"]] == ["aborted"], "the more cautious one counts"
    assert {(e["device_name"], e["contested"], e["counts"]) for e in found["log"]} == {
        ("phone", True, True),
        ("laptop", True, False),
    }
    assert [e["id"] for e in ok(flown_client.get(f"{MODEL}/plan"))["contested"]] == [phone["id"], laptop["id"]]
    ok(flown_client.post(f"{V1}/records/{laptop['id']}/choose", json={"by": "pilot"}))
    assert ok(flown_client.get(f"{MODEL}/plan"))["contested"] == []
    assert [r["outcome"] for r in ok(flown_client.get(url))["records"]] == ["done"]
    assert len(ok(flown_client.get(url))["log"]) == 2


def test_a_gate_of_which_two_devices_disagree_stays_open_until_a_person_chooses_in_the_plan(client):
    """A ground card has no sortie and no debrief: both entries stand in the plan, the failed one counts."""
    model = f"{V1}/models/{create(client, 'Gorse')['id']}"
    seen = ok(client.get(model))["log_order"]
    (gate, *_) = ok(client.get(f"{model}/plan"))["programme"]["gates"]
    passed = entry(gate, "phone", seen=seen, outcome="passed", readings=[{"key": "sound", "choice": "yes"}])
    failed = entry(gate, "laptop", seen=seen, outcome="failed", note="it slips")
    for e in (passed, failed):
        ok(client.post(f"{model}/ground-cards", json=e))
    plan = ok(client.get(f"{model}/plan"))
    assert {(e["device_name"], e["counts"], e["record"]["note"]) for e in plan["contested"]} == {
        ("phone", False, ""),
        ("laptop", True, "it slips"),
    }
    assert gate in plan["programme"]["gates"]
    ok(client.post(f"{V1}/records/{passed['id']}/choose", json={"by": "pilot"}))
    plan = ok(client.get(f"{model}/plan"))
    assert plan["contested"] == []
    assert gate not in plan["programme"]["gates"]


def test_a_devices_clock_is_corrected_by_the_offset_measured_when_it_sent(flown_client, sortie):
    """Made five minutes before it was sent: flown five minutes before it arrived, whatever year the device believes in."""
    url = f"{V1}/sorties/{sortie['id']}/records"
    (line,) = ok(flown_client.post(url, json=entry("F1", "phone", seen=0, **lift_off("holds"))))["log"]
    flown, arrived = (datetime.fromisoformat(line[k]) for k in ("flown_at", "recorded_at"))
    assert (arrived - flown).total_seconds() == pytest.approx(300.0, abs=5.0)


def test_the_same_record_with_other_content_or_to_another_sortie_is_refused_and_stored_nowhere(flown_client, sortie):
    url = f"{V1}/sorties/{sortie['id']}"
    first = {"id": new_id(), "record": {"card_id": "F1", "outcome": "done", **lift_off("holds")}}
    ok(flown_client.post(f"{url}/records", json=first))
    other = {**first, "record": {**first["record"], **lift_off("rears")}}
    for where, body in ((url, other), (f"{V1}/sorties/7a000000-0000-4000-8000-000000000002", first)):
        answer = flown_client.post(f"{where}/records", json=body)
        assert (answer.status_code, answer.json()["code"]) == (409, "conflict")
    assert len(ok(flown_client.get(url))["log"]) == 1


def test_a_sortie_with_records_cannot_be_planned_away_an_empty_one_can(flown_client, sortie):
    url = f"{V1}/sorties/{sortie['id']}"
    assert ok(flown_client.post(f"{url}/call-off"))["status"] == "called_off"
    refused = flown_client.post(f"{url}/records", json=entry("F1", "phone", seen=0, **lift_off("holds")))
    assert "called off" in refused.json()["title"]
    again = plan_sortie(flown_client, str(TARN))
    ok(flown_client.post(f"{V1}/sorties/{again}/records", json=entry("F1", "phone", seen=0, **lift_off("holds"))))
    refused = flown_client.post(f"{V1}/sorties/{again}/call-off")
    assert (refused.status_code, "already logged" in refused.json()["title"]) == (409, True)
    numbers = [(s["number"], s["status"]) for s in ok(flown_client.get(MODEL))["sorties"]]
    assert numbers == [(1, "landed"), (2, "called_off"), (2, "flying")], "a number that was called off is free again"


def test_versions_of_a_setup_are_conditions_of_a_change(flown_client):
    model = ok(flown_client.get(MODEL))
    tag = flown_client.get(MODEL).headers["etag"]
    assert flown_client.post(f"{MODEL}/undo").status_code == 428
    body = {"base_revision": model["revision"], "setup": {**model["setup"], "pack_minutes": 6.0}}
    saved = flown_client.put(f"{MODEL}/setup", json=body, headers={"If-Match": tag})
    assert saved.headers["etag"] != tag
    for stale in (tag, '"setup-0"', "nonsense"):
        late = flown_client.put(f"{MODEL}/setup", json=body, headers={"If-Match": stale})
        assert (late.status_code, late.json()["code"]) == (412, "stale-version")
    assert (
        ok(flown_client.post(f"{MODEL}/undo", headers={"If-Match": saved.headers["etag"]}))["setup"] == model["setup"]
    )


def test_what_waited_on_a_device_is_taken_together_each_entry_as_it_would_be_alone(flown_client, sortie):
    url = f"{V1}/sorties/{sortie['id']}"
    wrong = entry("F1", "phone", seen=0, readings=[{"key": "lift_off", "choice": "sideways"}])
    entries = [
        entry("F1", "phone", seen=0, **lift_off("holds")),
        wrong,
        entry("F1", "phone", seen=0, **lift_off("rises")),
    ]
    first = ok(flown_client.post(f"{url}/log", json={"entries": entries}))
    assert list(first["refused"]) == [wrong["id"]]
    assert "sideways" in str(first["refused"][wrong["id"]]["title"])
    assert [e["id"] for e in first["sortie"]["log"]] == [entries[0]["id"], entries[2]["id"]], (
        "in its order, the rest kept"
    )
    again = ok(flown_client.post(f"{url}/log", json={"entries": entries}))
    assert [e["id"] for e in again["sortie"]["log"]] == [entries[0]["id"], entries[2]["id"]], "sent twice is once"
    ok(flown_client.post(f"{url}/land"))
    late = [entry("F3", "phone", seen=0, outcome="aborted"), entry("F1", "phone", seen=2**40, **lift_off("rears"))]
    after = ok(flown_client.post(f"{url}/log", json={"entries": late}))
    assert list(after["refused"]) == [late[1]["id"]], "made before the landing: taken; knowing of it: not"
    assert ok(flown_client.get(f"{url}/debrief"))["earlier"], "computed anew"
    assert flown_client.post(f"{url}/log", json={"entries": []}).status_code == 422
