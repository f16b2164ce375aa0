"""Wind and what nobody planned, through the API: no-go survives, is overridden with a reason; what happened is logged."""

from __future__ import annotations

from sqlalchemy import create_engine, text

from jinba.services.archive import read_project
from tests.api.steps import V1, close_gates, create, new_id, ok, plan_sortie

WHY = "the only calm hour of the week, helper at the strip"
STORM = {"speed_mps": 9.0, "gust_mps": 11.0, "from_rad": 0.0, "strip_heading_rad": 0.0}
CALM = STORM | {"speed_mps": 1.0, "gust_mps": 2.0}
BARE = ["F1", "F2", "F3", "F28", "F29"]


def read(client, model_id, wind):
    return ok(client.put(f"{V1}/models/{model_id}/wind", json={"wind": wind}))


def plan_of(client, model_id):
    return ok(client.get(f"{V1}/models/{model_id}/plan"))


def fly(client, model_id, **more):
    body = {"id": new_id(), "card_ids": BARE, **more}
    return body["id"], client.post(f"{V1}/models/{model_id}/sorties", json=body)


def test_a_no_go_stands_on_every_screen_until_the_wind_is_read_again(client):
    wind_first, gates_first = create(client, "Wind first")["id"], create(client, "Gates first")["id"]
    close_gates(client, gates_first)
    for model in (wind_first, gates_first):
        read(client, model, STORM)
        close_gates(client, model)
        plan = plan_of(client, model)
        assert plan["wind"]["verdict"] == "no_go"
        assert [s["code"] for s in plan["stops"]] == ["wind"]
        assert "Not now: 11.0 m/s gusts" in ok(client.get(f"{V1}/models/{model}"))["today"]["sentence"]
        refused = fly(client, model)[1]
        assert (refused.status_code, refused.json()["context"]["stop"]) == (409, "wind")
        assert read(client, model, CALM)["stops"] == []
        assert fly(client, model)[1].status_code == 201


def test_a_windy_maiden_is_flown_against_advice_and_says_so(client):
    model = create(client, "Blowy")["id"]
    close_gates(client, model)
    read(client, model, STORM)
    sortie, answer = fly(client, model, reasons={"wind": WHY})
    ok(answer, 201)
    flown = ok(client.get(f"{V1}/sorties/{sortie}"))
    assert flown["wind"] == STORM, "the wind that was read is the sortie's"
    assert [(a["words"][:14], a["reason"]) for a in flown["against"]] == [("Wind: Not now:", WHY)]


def test_an_old_reading_says_nothing_and_is_said_to_be_old(client, database_url):
    model = create(client, "Yesterday")["id"]
    read(client, model, STORM)
    with create_engine(database_url).begin() as connection:
        connection.execute(text("UPDATE wind_reading SET read_at = read_at - interval '31 minutes'"))
    plan = plan_of(client, model)
    assert plan["wind"] is None
    assert plan["wind_read"]["wind"] == STORM
    assert plan["stops"] == []


def test_an_impossible_wind_is_refused_and_the_one_before_stays(client):
    model = create(client, "Gust")["id"]
    read(client, model, CALM)
    answer = client.put(f"{V1}/models/{model}/wind", json={"wind": CALM | {"gust_mps": 0.5}})
    assert answer.status_code == 422
    assert "at least the mean wind" in answer.json()["title"]
    assert plan_of(client, model)["wind_read"]["wind"] == CALM


def test_a_flight_that_nobody_planned_is_logged_with_what_stood_against_it(client):
    """Gates open, a bold card early, the order of its own: it happened."""
    model = create(client, "Could not wait")["id"]
    url = f"{V1}/models/{model}/sorties"
    for why in ("", "oh"):
        refused = client.post(url, json={"id": new_id(), "card_ids": ["F1", "F8"], "flown": why})
        assert refused.status_code == 409
    read(client, model, STORM)
    body = {"id": new_id(), "card_ids": ["F8", "F1"], "flown": "flown before I opened the laptop"}
    ok(client.post(url, json=body), 201)
    sortie = ok(client.get(f"{V1}/sorties/{body['id']}"))
    assert sortie["wind"] is None, "what blows now is not what it flew in"
    assert sortie["alone"]
    (against,) = sortie["against"]
    assert "Flown without a plan. Open gates: B1" in against["words"]
    record = {"card_id": "F1", "outcome": "done", "readings": [{"key": "lift_off", "choice": "holds"}]}
    ok(client.post(f"{V1}/sorties/{body['id']}/records", json={"id": new_id(), "record": record}))
    ok(client.post(f"{V1}/sorties/{body['id']}/land"))
    assert len(ok(client.get(f"{V1}/models/{model}"))["sorties"]) == 1


def test_a_card_that_was_not_planned_is_taken_with_a_line_of_reason(client):
    model = create(client, "Extra")["id"]
    close_gates(client, model)
    sortie, answer = fly(client, model)
    ok(answer, 201)
    before = ok(client.get(f"{V1}/sorties/{sortie}"))
    assert "F4" in [c["id"] for c in before["others"]]
    readings = [{"key": "yaw_clicks", "number": 0.0}, {"key": "left_over", "choice": "straight"}]
    record = {"card_id": "F4", "outcome": "done", "readings": readings}
    url = f"{V1}/sorties/{sortie}/records"
    refused = client.post(url, json={"id": new_id(), "record": record})
    assert refused.status_code == 409
    assert "was not planned" in refused.json()["title"]
    entry = {"id": new_id(), "record": record | {"note": "it crabbed, so I looked"}}
    for _ in range(2):
        after = ok(client.post(url, json=entry))
    flight = [c["id"] for c in after["cards"] if c["phase"] == "flight"]
    assert flight == ["F1", "F2", "F3", "F28", "F4", "F29"], "the landing stays last"
    assert "F4" not in [c["id"] for c in after["others"]]
    assert [r["card_id"] for r in after["records"]] == ["F4"]


def test_a_flight_record_keeps_the_wind_it_was_planned_in_unless_it_says_another(client):
    model = create(client, "Windward")["id"]
    read(client, model, CALM)
    sortie = plan_sortie(client, model)
    holds = [{"key": "lift_off", "choice": "holds"}]
    own, said = new_id(), new_id()
    ok(
        client.post(
            f"{V1}/sorties/{sortie}/records",
            json={"id": own, "record": {"card_id": "F1", "outcome": "done", "readings": holds}},
        )
    )
    other = {"card_id": "F1", "outcome": "done", "readings": holds, "conditions": {"wind_mps": 4.0, "gust_mps": 6.0}}
    ok(client.post(f"{V1}/sorties/{sortie}/records", json={"id": said, "record": other}))
    kept = {
        str(r.id): r.record.conditions for r in read_project(client.get(f"{V1}/models/{model}/archive").content).records
    }
    assert (kept[own].wind_mps, kept[own].gust_mps) == (CALM["speed_mps"], CALM["gust_mps"])
    assert (kept[said].wind_mps, kept[said].gust_mps) == (4.0, 6.0)
