"""Writers at the field: wind, site, packs and their flights, devices that are let in."""

from __future__ import annotations

from typing import Any

from fastapi.testclient import TestClient

from tests.api.races.course import MODEL, Course, counts, post_all, together
from tests.api.steps import SITE, V1, new_id, ok, plan_sortie
from tests.states import TARN

race = Course()
LABEL = {"chemistry": "lipo", "cells": 3, "capacity_c": 7920.0}


@race("PUT /models/{model_id}/wind")
def a_wind(client, n, same):
    winds = [
        {"speed_mps": 2.0 + (0.0 if same else i / 10), "gust_mps": 9.0, "from_rad": 0.0, "strip_heading_rad": 0.0}
        for i in range(n)
    ]
    calls = [lambda w=w: client.put(f"{MODEL}/wind", json={"wind": w}) for w in winds]
    assert counts(together(calls)) == {200: n}
    assert ok(client.get(f"{MODEL}/plan"))["wind_read"]["wind"] in winds


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
