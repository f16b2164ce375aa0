"""Packs through the API: what is written on them, which one flies, what flights took from them, and the minutes that come of it."""

from __future__ import annotations

import pytest

from tests.api.steps import V1, close_gates, create, new_id, ok, plan_sortie

LABEL = {"name": "Fell 1", "chemistry": "lipo", "cells": 3, "capacity_c": 3.6 * 2200, "rating_per_h": 30.0}


def keep(client, **more):
    """The packs of all tests lie on one shelf: each has a name of its own."""
    pack_id = new_id()
    return ok(client.put(f"{V1}/packs/{pack_id}", json={**LABEL, "name": f"Fell {pack_id[:8]}", **more}))


def fit(client, model, pack, **more):
    return client.put(f"{V1}/models/{model['id']}/pack", json={"pack_id": pack["id"], **more})


def pack_now(client, pack):
    return next(p for p in ok(client.get(f"{V1}/packs")) if p["id"] == pack["id"])


def after(client, sortie, minutes, volts, pack=""):
    readings = [{"key": "minutes", "number": minutes}, {"key": "volts", "number": volts}]
    record = {"card_id": "A1", "outcome": "done", "readings": readings, "conditions": {"pack": pack}}
    ok(client.post(f"{V1}/sorties/{sortie}/records", json={"id": new_id(), "record": record}))


def fly(client, model, *, minutes=5.0, volts=3.84):
    sortie = plan_sortie(client, model["id"])
    after(client, sortie, minutes, volts)
    ok(client.post(f"{V1}/sorties/{sortie}/land"))
    return sortie


def real_model(client, name="Hause"):
    body = {"id": new_id(), "name": name, "silhouette": "low_wing", "span_m": 1.2}
    return ok(client.post(f"{V1}/models", json=body), 201)


def test_a_pack_is_kept_by_its_name_and_another_one_cannot_take_it(client):
    pack = keep(client, name="Fell 1")
    assert pack["most_a"] == pytest.approx(66.0)
    assert pack["full_v"] == pytest.approx(12.6)
    again = ok(client.put(f"{V1}/packs/{pack['id']}", json={**LABEL, "name": " Fell 1 ", "mass_kg": 0.19}))
    assert (again["name"], again["pack"]["mass_kg"]) == ("Fell 1", 0.19)
    taken = client.put(f"{V1}/packs/{new_id()}", json=LABEL)
    assert taken.status_code == 409
    assert "already called Fell 1" in taken.json()["title"]
    assert [p["id"] for p in ok(client.get(f"{V1}/packs")) if p["name"] == "Fell 1"] == [pack["id"]]


@pytest.mark.parametrize(
    ("wrong", "says"),
    [({"capacity_c": 2.2}, "mAh"), ({"rating_per_h": 3000.0}, "before the C"), ({"cells": 0}, "cells")],
)
def test_what_no_pack_has_is_refused_in_the_pilots_words(client, wrong, says):
    pack = keep(client)
    refused = client.put(f"{V1}/packs/{pack['id']}", json={**LABEL, "name": pack["name"], **wrong})
    assert refused.status_code == 422
    assert says in refused.text
    assert pack_now(client, pack) == pack


def test_the_minutes_of_the_plan_count_from_the_pack_and_its_volts(client):
    model, pack = real_model(client), keep(client)
    guess = ok(client.get(f"{V1}/models/{model['id']}/plan"))
    assert guess["endurance"]["pack"] == ""
    whole = ok(fit(client, model, pack, volts=12.54))
    one = ok(fit(client, model, pack, volts=4.18))
    assert one["endurance"] == whole["endurance"], "volts of a cell and of the pack are the same reading"
    low = ok(fit(client, model, pack, volts=11.4))
    assert low["programme"]["safe_minutes"] == low["endurance"]["safe_minutes"] < 0.6 * one["endurance"]["safe_minutes"]
    assert low["programme"]["minutes"] <= guess["programme"]["minutes"]
    assert "minutes" in {s["code"] for s in low["stops"]}, "not even take-off, practice and landing fit"
    assert ok(client.get(f"{V1}/models/{model['id']}/next-sortie"))["safe_minutes"] == low["endurance"]["safe_minutes"]


def test_volts_of_another_pack_are_refused_and_what_stood_stays(client):
    model, pack = real_model(client), keep(client)
    ok(fit(client, model, pack, volts=12.54))
    refused = fit(client, model, pack, volts=16.6)
    assert refused.status_code == 422
    assert "number of cells" in refused.json()["title"]
    assert ok(client.get(f"{V1}/models/{model['id']}/plan"))["fitted"]["cell_v"] == pytest.approx(4.18)


def test_what_stops_is_overridden_with_a_reason_only(client):
    model, pack = create(client), keep(client)
    ok(fit(client, model, pack, volts=10.5))
    plan = close_gates(client, model["id"])
    stops = {s["code"] for s in plan["stops"]}
    assert {"pack_empty", "minutes"} <= stops
    body = {"id": new_id(), "card_ids": plan["programme"]["flight"]}
    refused = client.post(f"{V1}/models/{model['id']}/sorties", json=body)
    assert refused.status_code == 409
    reasons = dict.fromkeys(stops, "on the bench, no propeller")
    ok(client.post(f"{V1}/models/{model['id']}/sorties", json={**body, "reasons": reasons}), 201)
    sortie = ok(client.get(f"{V1}/sorties/{body['id']}"))
    assert (sortie["pack"], sortie["safe_minutes"]) == (pack["name"], 0.0)
    assert "pack_empty" in {a["code"] for a in sortie["against"]}


def test_flights_teach_what_the_model_draws_and_the_pack_holds(client):
    model, pack = real_model(client), keep(client)
    before = ok(fit(client, model, pack, volts=12.54))["endurance"]
    sortie = fly(client, model)
    plan = ok(client.get(f"{V1}/models/{model['id']}/plan"))
    assert plan["fitted"] is None, "what was named has flown: the next pack is named anew"
    ok(client.put(f"{V1}/sorties/{sortie}/put-back", json={"charge_c": 3.6 * 1100}))
    told = pack_now(client, pack)
    (line,) = told["flights"]
    assert (line["model"], line["sortie"], line["minutes"], line["put_back_c"]) == ("Hause", 1, 5.0, 3.6 * 1100)
    assert told["told_by"] == 1
    now = ok(fit(client, model, pack, volts=12.54))["endurance"]
    assert now["flights"] == 1
    assert now["sigma"] / now["minutes"] < before["sigma"] / before["minutes"]
    # 1,100 mAh in five minutes: 2,090 mAh from 98 % down to a quarter last 6.9; the propeller still has a say.
    assert now["minutes"] == pytest.approx(6.9, abs=1.0)


def test_a_slipped_digit_is_shown_and_mended(client):
    model, pack = real_model(client), keep(client)
    ok(fit(client, model, pack, volts=12.54))
    sortie = fly(client, model)
    too_much = client.put(f"{V1}/sorties/{sortie}/put-back", json={"charge_c": 3.6 * 11_000})
    assert too_much.status_code == 422
    assert "slipped digit" in too_much.json()["title"]
    ok(client.put(f"{V1}/sorties/{sortie}/put-back", json={"charge_c": 3.6 * 110}))
    assert pack_now(client, pack)["flights"][0]["disagrees"]
    plan = ok(fit(client, model, pack, volts=12.54))
    assert "pack_disagrees" in {f["code"] for f in plan["endurance"]["findings"]}
    assert plan["endurance"]["flights"] == 0
    ok(client.put(f"{V1}/sorties/{sortie}/put-back", json={"charge_c": None}))
    assert not pack_now(client, pack)["flights"][0]["disagrees"]


def test_another_pack_flown_than_planned_has_the_flight_and_not_the_volts_of_the_other(client):
    model, planned, flown = real_model(client), keep(client), keep(client)
    ok(fit(client, model, planned, volts=12.54))
    sortie = plan_sortie(client, model["id"])
    after(client, sortie, 5.0, 11.5, pack=flown["name"])
    ok(client.post(f"{V1}/sorties/{sortie}/land"))
    assert pack_now(client, planned)["flights"] == []
    (line,) = pack_now(client, flown)["flights"]
    assert (line["before_v"], line["after_v"]) == (None, pytest.approx(11.5 / 3))


def test_a_pack_known_by_name_alone_is_described_and_not_flown_before(client):
    model = real_model(client)
    sortie = plan_sortie(client, model["id"])
    after(client, sortie, 5.0, 99.0, pack="Old red")
    ok(client.post(f"{V1}/sorties/{sortie}/land"))
    (pack,) = (p for p in ok(client.get(f"{V1}/packs")) if p["name"] == "Old red")
    assert pack["pack"] is None
    refused = fit(client, model, pack)
    assert refused.status_code == 409
    assert "only the name is known" in refused.json()["title"]
    described = ok(client.put(f"{V1}/packs/{pack['id']}", json={**LABEL, "name": "Old red"}))
    (line,) = described["flights"]
    assert (line["odd_volts"], line["after_v"]) == (99.0, None), "no pack of three cells shows 99 V"


def test_a_pack_named_anew_flies_the_sortie_that_is_open(client):
    model, first, second = real_model(client), keep(client), keep(client, capacity_c=3.6 * 900)
    ok(fit(client, model, first, volts=12.54))
    sortie = plan_sortie(client, model["id"])
    planned = ok(client.get(f"{V1}/sorties/{sortie}"))["safe_minutes"]
    ok(fit(client, model, second, volts=12.5))
    begun = ok(client.get(f"{V1}/sorties/{sortie}"))
    assert begun["pack"] == second["name"]
    assert begun["safe_minutes"] < planned


def test_a_pack_that_was_put_away_flies_no_more_and_keeps_its_history(client):
    model, pack = real_model(client), keep(client)
    ok(fit(client, model, pack, volts=12.54))
    label = {**LABEL, "name": pack["name"], "put_away": True}
    assert ok(client.put(f"{V1}/packs/{pack['id']}", json=label))["put_away"]
    assert ok(client.get(f"{V1}/models/{model['id']}/plan"))["fitted"] is None
    assert "put away" in fit(client, model, pack).json()["title"]
    ok(client.put(f"{V1}/packs/{pack['id']}", json={**label, "put_away": False}))
    assert ok(client.get(f"{V1}/models/{model['id']}/plan"))["fitted"]["cell_v"] == pytest.approx(4.18)


def test_volts_that_are_logged_after_the_landing_belong_to_the_flight_that_landed(client):
    model, pack = real_model(client), keep(client)
    sortie = plan_sortie(client, model["id"])
    ok(client.post(f"{V1}/sorties/{sortie}/land"))
    readings = [{"key": "minutes", "number": 5.0}, {"key": "volts", "number": 11.5}]
    record = {"card_id": "A1", "outcome": "done", "readings": readings, "conditions": {"pack": pack["name"]}}
    ok(client.post(f"{V1}/models/{model['id']}/ground-cards", json={"id": new_id(), "record": record}))
    (line,) = pack_now(client, pack)["flights"]
    assert (line["sortie"], line["minutes"], line["after_v"]) == (1, 5.0, pytest.approx(11.5 / 3))


def test_a_rehearsal_tells_a_real_model_nothing(client):
    rehearsal, real, pack = create(client, silhouette="low_wing", span_m=1.2), real_model(client), keep(client)
    ok(fit(client, rehearsal, pack, volts=12.54))
    fly(client, rehearsal, minutes=5.0, volts=3.84)
    shown = pack_now(client, pack)
    assert shown["flights"][0]["rehearsal"]
    assert shown["told_by"] == 0
    assert ok(fit(client, real, pack, volts=12.54))["endurance"]["flights"] == 0
    assert ok(fit(client, rehearsal, pack, volts=12.54))["endurance"]["flights"] == 1


def test_flights_from_before_are_typed_taken_out_and_put_back(client):
    pack, flight = keep(client), new_id()
    url = f"{V1}/packs/{pack['id']}/flights/{flight}"
    typed = {"minutes": 6.0, "flown_on": "2026-04-11", "before_v": 12.54, "after_v": 11.5, "put_back_c": 3.6 * 1150}
    for _ in range(2):
        (line,) = ok(client.put(url, json=typed))["flights"]
    assert (line["before_v"], line["model_id"]) == (pytest.approx(4.18), None)
    nothing = client.put(f"{V1}/packs/{pack['id']}/flights/{new_id()}", json={"minutes": 6.0})
    assert nothing.status_code == 409
    swapped = client.put(url, json={**typed, "before_v": 11.5, "after_v": 12.54})
    assert "swapped" in swapped.json()["title"]
    assert ok(client.delete(url))["flights"] == []
    assert ok(client.delete(url))["flights"] == []
    assert len(ok(client.put(url, json=typed))["flights"]) == 1
    other = keep(client)
    assert client.put(f"{V1}/packs/{other['id']}/flights/{flight}", json=typed).status_code == 409


def test_the_history_of_a_pack_goes_with_the_project_file_and_what_is_known_here_stays(client):
    model, pack = real_model(client), keep(client, mass_kg=0.19)
    ok(fit(client, model, pack, volts=12.54))
    sortie = fly(client, model)
    ok(client.put(f"{V1}/sorties/{sortie}/put-back", json={"charge_c": 3.6 * 1100}))
    data = client.get(f"{V1}/models/{model['id']}/archive").content
    ok(client.put(f"{V1}/packs/{pack['id']}", json={**LABEL, "name": pack["name"], "capacity_c": 3.6 * 2400}))
    headers = {"content-type": "application/zip"}
    ok(client.post(f"{V1}/archives", content=data, headers=headers), 201)
    now = pack_now(client, pack)
    assert now["pack"]["capacity_c"] == pytest.approx(3.6 * 2400)
    assert [(f["minutes"], f["put_back_c"]) for f in now["flights"]] == [(5.0, 3.6 * 1100)] * 2
