"""Sites through the API: what is typed of them, what they allow, and the day as a calendar."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import icalendar
import pytest

from tests.api.steps import V1, close_gates, create, new_id, ok

MEADOW = {"latitude_deg": 47.05, "longitude_deg": 11.05}


def keep(client, **more):
    site_id = new_id()
    return ok(client.put(f"{V1}/sites/{site_id}", json={"name": f"Meadow {site_id[:8]}", **MEADOW, **more}))


def at(client, model, site):
    return ok(client.put(f"{V1}/models/{model['id']}/site", json={"site_id": site["id"]}))


def test_a_site_has_a_name_of_its_own_and_lies_on_earth(client):
    site = keep(client, rules="nobody over the barns")
    name = site["site"]["name"]
    taken = client.put(f"{V1}/sites/{new_id()}", json={"name": name, **MEADOW})
    assert taken.status_code == 409
    nowhere = client.put(f"{V1}/sites/{site['id']}", json={"name": name, "latitude_deg": 4705.0, "longitude_deg": 11.0})
    assert nowhere.status_code == 422
    assert "latitude" in nowhere.json()["title"]
    kept = next(s for s in ok(client.get(f"{V1}/sites")) if s["id"] == site["id"])
    assert kept["site"]["rules"] == "nobody over the barns"


def test_a_height_limit_keeps_bold_cards_out_of_the_proposal_and_stops_whoever_takes_them_in(client):
    model = create(client)
    close_gates(client, model["id"])
    low = at(client, model, keep(client, height_limit_m=30.0))
    assert not {"F8", "F12"} & set(low["programme"]["flight"])
    body = {"id": new_id(), "card_ids": ["F1", "F8", "F29"]}
    refused = client.post(f"{V1}/models/{model['id']}/sorties", json=body)
    assert refused.status_code == 409


def test_the_light_is_that_of_the_site_and_gone_with_it(client):
    model = create(client)
    plan = at(client, model, keep(client, elevation_m=1480.0, heading_rad=4.19))
    day = plan["light"]["day"]
    assert day["sunrise"] < day["sunset"] < day["dusk"]
    assert "site_elevation" in {f["code"] for f in plan["at_the_site"]}
    nowhere = ok(client.put(f"{V1}/models/{model['id']}/site", json={"site_id": None}))
    assert (nowhere["light"], nowhere["site"]) == (None, None)
    assert client.put(f"{V1}/models/{model['id']}/site", json={"site_id": new_id()}).status_code == 404


def test_the_light_of_the_hour_it_is_logged_is_not_that_of_a_flight_that_is_over(client):
    """At midnight by the sun's clock on the equator it is dark; twelve hours before it was noon."""
    now = datetime.now(UTC)
    east = (-15.0 * (now.hour + now.minute / 60) + 180.0) % 360.0 - 180.0
    dark = keep(client, latitude_deg=0.0, longitude_deg=east)
    for more in ("flown", "away"):
        body = {"id": new_id(), "name": f"Night {more}", "silhouette": "low_wing", "span_m": 1.2}
        model = ok(client.post(f"{V1}/models", json=body), 201)
        assert "dark" in {s["code"] for s in at(client, model, dark)["stops"]}
        noon = (now - timedelta(hours=12)).isoformat()
        written = {
            "device": new_id(),
            "device_name": "phone",
            "by": "me",
            "made_at": noon,
            "sent_at": now.isoformat(),
            "seen": 0,
        }
        how = {"flown": "flown at noon, logged at night"} if more == "flown" else {"away": written}
        sortie = {"id": new_id(), "card_ids": ["F1", "F29"], "reasons": {}, **how}
        ok(client.post(f"{V1}/models/{model['id']}/sorties", json=sortie), 201)
        against = ok(client.get(f"{V1}/sorties/{sortie['id']}"))["against"]
        assert against
        assert not any("dark" in f"{a['code']} {a['words']}" for a in against)


def test_thunder_and_a_pilot_who_is_not_fit_keep_the_gate_open_and_wet_grass_is_told(client):
    model = create(client)
    yes = [{"key": k, "choice": "yes"} for k in ("site", "people", "thunder")]

    def look(fit, ground):
        readings = [*yes, {"key": "fit", "choice": fit}, {"key": "ground", "choice": ground}]
        record = {"card_id": "G7", "outcome": "passed" if fit == "yes" else "failed", "readings": readings}
        ok(client.post(f"{V1}/models/{model['id']}/ground-cards", json={"id": new_id(), "record": record}))
        return ok(client.get(f"{V1}/models/{model['id']}/plan"))

    assert "G7" in look("no", "good")["programme"]["gates"]
    plan = look("yes", "wet")
    assert "G7" not in plan["programme"]["gates"]
    assert [f["code"] for f in plan["at_the_site"]] == ["ground"]
    assert look("yes", "good")["at_the_site"] == []


def test_the_day_is_a_calendar_that_any_reader_of_the_standard_takes(client):
    """RFC 5545: lines of at most 75 octets end with CRLF; read back by icalendar."""
    model = create(client, "Hause")
    at(client, model, keep(client, rules="nobody over the barns"))
    url = f"{V1}/models/{model['id']}/day.ics"
    answer = client.get(url, params={"begins": "2026-06-21T16:00:00+02:00", "hours": 3})
    assert answer.headers["content-type"].startswith("text/calendar")
    lines = answer.content.split(b"\r\n")
    assert max(len(line) for line in lines) <= 75
    assert b"\n" not in b"".join(lines)
    (event,) = icalendar.Calendar.from_ical(answer.content).walk("VEVENT")
    assert event["DTSTART"].dt == datetime.fromisoformat("2026-06-21T14:00:00+00:00")
    assert (event["DTEND"].dt - event["DTSTART"].dt).total_seconds() == 3 * 3600
    assert "REHEARSAL" in event["SUMMARY"]
    assert "nobody over the barns" in event["DESCRIPTION"]
    assert "Still open before it flies: B1" in event["DESCRIPTION"]
    assert event["GEO"].to_ical() == "47.05;11.05"
    again = client.get(url, params={"begins": "2026-06-22T16:00:00+02:00"})
    (moved,) = icalendar.Calendar.from_ical(again.content).walk("VEVENT")
    assert moved["UID"] == event["UID"], "the same sortie on another day moves, it is not doubled"


@pytest.mark.parametrize("begins", ["2026-06-21T16:00:00", "soon", "9999-01-01T00:00:00+00:00"])
def test_a_day_without_a_zone_or_of_no_year_is_refused(client, begins):
    model = create(client)
    at(client, model, keep(client))
    assert client.get(f"{V1}/models/{model['id']}/day.ics", params={"begins": begins}).status_code == 422
