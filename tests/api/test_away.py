"""A sortie begun on a device while the program did not answer: it has been flown, so it is taken, with what would have stopped it."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from tests.api.steps import V1, close_gates, create, new_id, ok

PHONE = "7a000000-0000-4000-8000-0000000000aa"


def away(minutes_ago: float = 20.0, clock_off_s: float = 0.0) -> dict[str, Any]:
    """Who began it and when, by a clock that may be off."""
    clock = datetime.now(UTC) + timedelta(seconds=clock_off_s)
    made = clock - timedelta(minutes=minutes_ago)
    return {"device": PHONE, "device_name": "phone", "made_at": made.isoformat(), "sent_at": clock.isoformat()}


def wind(speed_mps: float) -> dict[str, float]:
    return {"speed_mps": speed_mps, "gust_mps": speed_mps + 1.0, "from_rad": 0.0, "strip_heading_rad": 0.0}


def begin(client: Any, model_id: str, cards: list[str], **more: Any) -> Any:
    return client.post(f"{V1}/models/{model_id}/sorties", json={"id": new_id(), "card_ids": cards, **more})


def against(client: Any, model: dict[str, Any]) -> dict[str, tuple[str, str]]:
    sortie = ok(client.get(f"{V1}/sorties/{model['sorties'][-1]['id']}"))
    return {a["code"]: (a["words"], a["reason"]) for a in sortie["against"]}


def test_open_gates_refuse_a_sortie_here_and_stand_beside_one_that_was_flown_away(client):
    model_id = create(client)["id"]
    cards = ok(client.get(f"{V1}/models/{model_id}/plan"))["programme"]["flight"]
    assert begin(client, model_id, cards).status_code == 409
    assert begin(client, model_id, cards, away=None).status_code == 409
    found = against(client, ok(begin(client, model_id, cards, away=away()), 201))
    words, reason = found["away"]
    assert "Open gates: B1" in words
    assert reason == "Begun on the phone while the program did not answer."


def test_a_stop_keeps_the_reason_the_pilot_gave_and_says_so_where_he_gave_none(client):
    for given in ("the field is long", ""):
        model_id = create(client)["id"]
        ok(client.put(f"{V1}/models/{model_id}/wind", json={"wind": wind(18.0)}))
        plan = close_gates(client, model_id)
        (stop,) = (s["code"] for s in plan["stops"])
        cards, reasons = plan["programme"]["flight"], {stop: given}
        assert begin(client, model_id, cards).status_code == 409
        found = against(client, ok(begin(client, model_id, cards, reasons=reasons, away=away(0.0)), 201))
        assert list(found) == [stop]
        assert found[stop][1] == (given or "Begun on the phone while the program did not answer.")


def test_asked_strictly_and_again_as_flown_is_one_sortie(client):
    model_id = create(client)["id"]
    plan = close_gates(client, model_id)
    body = {
        "id": new_id(),
        "card_ids": plan["programme"]["flight"],
        "reasons": {s["code"]: "a rehearsal of the tests" for s in plan["stops"]},
    }
    url = f"{V1}/models/{model_id}/sorties"
    ok(client.post(url, json=body), 201)
    # Its answer was lost on the way: the device has gone to fly it, and asks again in the other way.
    assert len(ok(client.post(url, json=body | {"away": away()}), 201)["sorties"]) == 1


def test_a_second_open_sortie_and_what_is_no_flight_card_are_refused_all_the_same(client):
    model_id = create(client)["id"]
    cards = ok(client.get(f"{V1}/models/{model_id}/plan"))["programme"]["flight"]
    assert "not a flight card" in begin(client, model_id, ["B1"], away=away()).json()["title"]
    assert "stands twice" in begin(client, model_id, [*cards, cards[0]], away=away()).json()["title"]
    ok(begin(client, model_id, cards, away=away()), 201)
    refused = begin(client, model_id, cards, away=away())
    assert refused.status_code == 409
    assert "Sortie 1 is still open" in refused.json()["title"]


def test_the_wind_of_a_sortie_begun_away_is_the_one_read_then_by_whatever_clock(client):
    for minutes, known in ((0.0, True), (50.0, False), (-60.0, False)):
        model_id = create(client)["id"]
        cards = ok(client.put(f"{V1}/models/{model_id}/wind", json={"wind": wind(3.0)}))["programme"]["flight"]
        # A device whose clock is two hours slow says nothing else.
        body = away(minutes, clock_off_s=-7200.0)
        model = ok(begin(client, model_id, cards, away=body), 201)
        sortie = ok(client.get(f"{V1}/sorties/{model['sorties'][-1]['id']}"))
        assert (sortie["wind"] is not None) is known, minutes


def test_the_next_sortie_is_what_begins_and_nothing_is_stored(client):
    model_id = create(client)["id"]
    plan = close_gates(client, model_id)
    proposed = ok(client.get(f"{V1}/models/{model_id}/next-sortie"))
    assert ok(client.get(f"{V1}/models/{model_id}"))["sorties"] == []
    reasons = {s["code"]: "a rehearsal of the tests" for s in plan["stops"]}
    model = ok(begin(client, model_id, plan["programme"]["flight"], reasons=reasons), 201)
    begun = ok(client.get(f"{V1}/sorties/{model['sorties'][0]['id']}"))
    for part in ("number", "cards", "others", "radio", "incident", "phases", "safe_minutes", "wind"):
        assert begun[part] == proposed[part], part
