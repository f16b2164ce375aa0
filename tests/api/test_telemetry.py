"""Telemetry through the API: a link to a rehearsal, what it gives of a card, and what becomes of that."""

from __future__ import annotations

import uuid

import pytest

from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.formats.codec import to_json
from jinba.persistence.content import content_hash
from jinba.persistence.orm import RecordRow
from tests.api.steps import V1, close_gates, create, new_id, ok, plan_sortie
from tests.api.test_packs import fit, keep, pack_now
from tests.states import TARN


@pytest.fixture
def rehearsed(client):
    """A rehearsal with a named pack and an open sortie."""
    model = create(client, f"Wether {new_id()[:6]}")
    pack = keep(client)
    ok(fit(client, model, pack, volts=12.6))
    return model, pack, plan_sortie(client, model["id"])


def told(client, sortie, card, seconds=None):
    more = {} if seconds is None else {"seconds": seconds}
    return client.get(f"{V1}/sorties/{sortie}/telemetry", params={"card_id": card, **more})


def fly(client, sortie):
    """Take-off and pitch trim, logged as flown."""
    trimmed = [{"key": "pitch_clicks", "none": True, "number": 0}, {"key": "left_over", "choice": "holds"}]
    for record in (
        {"card_id": "F1", "outcome": "done", "readings": [{"key": "lift_off", "choice": "holds"}]},
        {"card_id": "F2", "outcome": "done", "readings": trimmed, "left_alone": True},
    ):
        ok(client.post(f"{V1}/sorties/{sortie}/records", json={"id": new_id(), "record": record}))


def test_a_link_tells_more_and_more_until_the_card_is_flown(client, rehearsed):
    sortie = rehearsed[2]
    early, later, whole = (ok(told(client, sortie, "F8", s)) for s in (1.0, 3.0, 3600.0))
    assert early["source"] == "stand-in"
    assert early["seconds"] <= 1.0 < later["seconds"] <= 3.0 < whole["seconds"] == whole["lasts"]
    assert (early["ended"], whole["ended"]) == (False, True)
    assert {r["key"] for r in whole["taken"]} == {"height_lost", "entry_speed"}
    assert all(r["telemetry"] for r in whole["taken"])
    assert later["taken"] == [], "half of a card is not the card"
    assert 9.0 < early["now"]["volts"] < 12.6
    assert ok(told(client, sortie, "F8")) == whole, "told again, it is the same flight"


def test_a_card_that_was_not_planned_is_told_too_and_one_that_tells_nothing_gives_nothing(client, rehearsed):
    sortie = rehearsed[2]
    assert {r["key"] for r in ok(told(client, sortie, "F7"))["taken"]} == {"bank_time"}, "it was not planned"
    assert ok(told(client, sortie, "F1"))["taken"] == []


def test_a_real_model_has_no_link_and_is_told_to_go_on_by_eye(client):
    body = {"id": new_id(), "name": f"Hogg {new_id()[:6]}", "silhouette": "low_wing", "span_m": 1.2}
    model = ok(client.post(f"{V1}/models", json=body), 201)
    sortie = plan_sortie(client, model["id"])
    answer = told(client, sortie, "F1")
    assert answer.status_code == 409
    assert "by eye and watch" in answer.json()["title"]


def test_what_nobody_can_be_told_is_refused(client, rehearsed):
    sortie = rehearsed[2]
    assert told(client, sortie, "F99").status_code in (404, 422)
    assert told(client, new_id(), "F8").status_code == 404
    assert told(client, sortie, "F8", -1.0).status_code == 422
    assert told(client, sortie, "F8", "nan").status_code == 422


def test_what_was_taken_from_the_link_stays_marked_and_is_said_so(client, rehearsed):
    model, _, sortie = rehearsed
    taken = ok(told(client, sortie, "F8"))["taken"]
    by_eye = [{"key": "wing", "choice": "left"}, {"key": "sharpness", "choice": "drops"}]
    record = {"card_id": "F8", "outcome": "done", "readings": [*by_eye, *taken], "note": "its stall was in question"}
    ok(client.post(f"{V1}/sorties/{sortie}/records", json={"id": new_id(), "record": record}))
    kept = next(r for r in ok(client.get(f"{V1}/sorties/{sortie}"))["records"] if r["card_id"] == "F8")
    assert {r["key"]: r["telemetry"] for r in kept["readings"]} == {
        "wing": False,
        "sharpness": False,
        "height_lost": True,
        "entry_speed": True,
    }
    ok(client.post(f"{V1}/sorties/{sortie}/land"))
    assert client.get(f"{V1}/sorties/{sortie}").text.count(", from telemetry") == 2
    file = client.get(f"{V1}/models/{model['id']}/archive").content
    again = ok(client.post(f"{V1}/archives", content=file, headers={"Content-Type": "application/zip"}), 201)
    kept = ok(client.get(f"{V1}/sorties/{again['sorties'][-1]['id']}"))["records"]
    assert sum(r["telemetry"] for c in kept for r in c["readings"]) == 2, "a project file keeps the mark"


def test_the_motors_minutes_set_a_timer_that_runs_with_it(client, rehearsed):
    model, pack, sortie = rehearsed
    assert ok(told(client, sortie, "A1"))["taken"] == [], "before anything is logged as flown nothing was taken"
    fly(client, sortie)
    taken = {r["key"]: r for r in ok(told(client, sortie, "A1"))["taken"]}
    motor = taken["motor_minutes"]["number"]
    assert motor <= taken["minutes"]["number"]
    taken["minutes"] = {"key": "minutes", "number": motor / 0.4}
    record = {"card_id": "A1", "outcome": "done", "readings": list(taken.values())}
    ok(client.post(f"{V1}/sorties/{sortie}/records", json={"id": new_id(), "record": record}))
    ok(client.post(f"{V1}/sorties/{sortie}/land"))
    line = pack_now(client, pack)["flights"][-1]
    assert line["motor_minutes"] == motor
    assert line["full_a"] > line["cruise_a"] > 0.0
    ok(fit(client, model, pack, volts=12.6))
    endurance = close_gates(client, model["id"])["endurance"]
    assert 0.0 < endurance["motor_timer_minutes"] < endurance["timer_minutes"]
    assert any("40 % of a flight" in w for w in endurance["rests_on"])
    assert any("as measured in the air" in w for w in endurance["rests_on"])


def test_a_motor_that_ran_longer_than_the_flight_is_a_slip_and_said(client, rehearsed):
    model, pack, sortie = rehearsed
    readings = [{"key": k, "number": n} for k, n in (("minutes", 5.0), ("volts", 3.85), ("motor_minutes", 35.0))]
    record = {"card_id": "A1", "outcome": "done", "readings": readings}
    ok(client.post(f"{V1}/sorties/{sortie}/records", json={"id": new_id(), "record": record}))
    ok(client.post(f"{V1}/sorties/{sortie}/land"))
    ok(fit(client, model, pack, volts=12.6))
    endurance = close_gates(client, model["id"])["endurance"]
    assert any("35 of 5 minutes flown is a slip" in f["words"] for f in endurance["findings"])
    assert endurance["motor_timer_minutes"] is None


def test_the_stand_in_logs_of_its_pack_what_the_link_told(client, rehearsed):
    sortie = rehearsed[2]
    ok(client.post(f"{V1}/sorties/{sortie}/stand-in"))
    taken = {r["key"]: r["number"] for r in ok(told(client, sortie, "A1"))["taken"] if r["key"] != "minutes"}
    logged = next(r for r in ok(client.get(f"{V1}/sorties/{sortie}"))["records"] if r["card_id"] == "A1")
    said = {r["key"]: r["number"] for r in logged["readings"] if r["telemetry"]}
    assert said == taken


def test_a_phone_that_asks_again_after_an_upgrade_asks_for_the_same(flown_client):
    """What 0.16 hashed had no mark of telemetry: an entry whose answer was lost is taken for what it is."""
    sortie = plan_sortie(flown_client, str(TARN))
    record = {"card_id": "F1", "outcome": "done", "readings": [{"key": "lift_off", "choice": "holds"}]}
    body = {"id": new_id(), "record": record}
    ok(flown_client.post(f"{V1}/sorties/{sortie}/records", json=body))
    as_before = to_json(CardRecord("F1", Outcome.DONE, (Reading("lift_off", choice="holds"),)))
    for reading in as_before["readings"]:
        del reading["telemetry"]
    with flown_client.app.state.sessions() as session:
        row = session.get(RecordRow, uuid.UUID(body["id"]))
        assert row.request_hash == content_hash({"sortie": sortie, "record": as_before, "replaces": None})
    ok(flown_client.post(f"{V1}/sorties/{sortie}/records", json=body))
