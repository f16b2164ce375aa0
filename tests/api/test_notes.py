"""What is noticed on a flight: kept once, with its photo and its voice; it stops the next flight until somebody has gone through it."""

from __future__ import annotations

import io
import zipfile
from typing import Any

import pytest

from tests.api.steps import V1, new_id, ok, plan_sortie
from tests.pictures import picture
from tests.states import TARN

MODEL = f"{V1}/models/{TARN}"
WEBM = b"\x1a\x45\xdf\xa3" + bytes(range(200))
OGG, MP4 = b"OggS" + bytes(60), b"\x00\x00\x00\x18ftypM4A " + bytes(60)


@pytest.fixture
def sortie(flown_client) -> str:
    return str(plan_sortie(flown_client, str(TARN)))


def noted(client, sortie: str, **of: Any) -> dict[str, Any]:
    body = {"id": new_id(), "card_id": "F1", **of}
    return next(n for n in ok(client.post(f"{V1}/sorties/{sortie}/notes", json=body))["notes"] if n["id"] == body["id"])


def attach(client, sortie: str, note: dict[str, Any], kind: str, data: bytes):
    return client.put(f"{V1}/sorties/{sortie}/notes/{kind}", params={"note_id": note["id"]}, content=data)


def stops(client) -> list[str]:
    return [s["words"] for s in ok(client.get(f"{MODEL}/plan"))["stops"] if s["code"] == "noted"]


def test_a_tap_in_the_air_stops_the_next_flight_until_it_is_gone_through_and_again_when_that_is_taken_back(
    flown_client, sortie
):
    note = noted(flown_client, sortie, what="flutter")
    assert (note["said"], note["open"]) == ("something buzzed or fluttered", True)
    ok(flown_client.post(f"{V1}/sorties/{sortie}/land"))
    (words,) = stops(flown_client)
    assert "play in hinges" in words
    through = f"{V1}/notes/{note['id']}/found"
    assert flown_client.post(through, json={"found": "ok"}).status_code == 409, "two letters say nothing"
    (line,) = ok(flown_client.post(through, json={"found": "aileron horn loose, glued"}))
    assert (line["open"], line["found"], stops(flown_client)) == (False, "aileron horn loose, glued", [])
    ok(flown_client.post(through, json={"found": ""}))
    assert len(stops(flown_client)) == 1


def test_a_photo_and_a_voice_hang_on_their_note_once_however_often_they_are_sent(flown_client, sortie):
    note = noted(flown_client, sortie)
    for _ in range(2):
        ok(attach(flown_client, sortie, note, "photo", picture()))
        ok(attach(flown_client, sortie, note, "voice", WEBM))
    (line,) = ok(flown_client.get(f"{MODEL}/notes"))
    assert (line["said"], line["open"]) == ("a photo and a voice note", True)
    sound = flown_client.get(f"{V1}/voices/{line['voice_id']}/sound")
    assert (sound.content, sound.headers["content-type"]) == (WEBM, "audio/webm")
    assert flown_client.get(f"{V1}/photos/{line['photo_id']}/image").headers["content-type"] == "image/jpeg"
    assert attach(flown_client, sortie, note, "voice", OGG).status_code == 409, "another one under the same note"
    assert ok(flown_client.get(f"{MODEL}/photos")) == [], "it is no photo of an incident or of work"
    assert flown_client.get(f"{V1}/voices/{line['photo_id']}/sound").status_code == 404


@pytest.mark.parametrize(("data", "kind"), [(WEBM, "webm"), (OGG, "ogg"), (MP4, "mp4")])
def test_what_browsers_record_is_told_by_its_first_bytes(flown_client, sortie, data, kind):
    line = ok(attach(flown_client, sortie, noted(flown_client, sortie), "voice", data))["notes"][-1]
    assert flown_client.get(f"{V1}/voices/{line['voice_id']}/sound").headers["content-type"] == f"audio/{kind}"


@pytest.mark.parametrize("data", [b"", b"RIFF....WAVE", b"<html>", b"\x00" * 40])
def test_anything_else_is_refused_in_words_and_the_note_stays(flown_client, sortie, data):
    refused = attach(flown_client, sortie, noted(flown_client, sortie, words="hm"), "voice", data)
    assert (refused.status_code, refused.json()["code"]) == (422, "bad-voice")
    assert [n["words"] for n in ok(flown_client.get(f"{MODEL}/notes"))] == ["hm"]


def test_a_note_taken_back_leaves_nothing_and_what_arrives_for_it_late_is_let_go(flown_client, sortie):
    note = noted(flown_client, sortie, what="smoke")
    voice = ok(attach(flown_client, sortie, note, "voice", WEBM))["notes"][0]["voice_id"]
    for _ in range(2):
        assert ok(flown_client.delete(f"{V1}/notes/{note['id']}")) == []
    assert flown_client.get(f"{V1}/voices/{voice}/sound").status_code == 404
    assert ok(attach(flown_client, sortie, note, "photo", picture()))["notes"] == []


def test_a_note_of_another_sortie_an_unknown_thing_and_another_content_are_refused(flown_client, sortie):
    note = noted(flown_client, sortie, words="as before")
    url = f"{V1}/sorties/{sortie}/notes"
    other = flown_client.post(url, json={"id": note["id"], "card_id": "F1", "words": "otherwise"})
    assert other.status_code == 409
    assert flown_client.post(url, json={"id": new_id(), "what": "gremlins"}).status_code == 422
    elsewhere = ok(flown_client.get(MODEL))["sorties"][0]["id"]
    assert attach(flown_client, elsewhere, note, "photo", picture()).status_code == 409


def test_the_project_file_takes_notes_along_with_what_hangs_on_them(flown_client, sortie):
    note = noted(flown_client, sortie, what="sound", words="from the nose")
    ok(attach(flown_client, sortie, note, "photo", picture()))
    ok(attach(flown_client, sortie, note, "voice", WEBM))
    data = flown_client.get(f"{MODEL}/archive").content
    assert b"from the nose" in zipfile.ZipFile(io.BytesIO(data)).read("model.json")
    copy = ok(flown_client.post(f"{V1}/archives", content=data), 201)["id"]
    (line,) = ok(flown_client.get(f"{V1}/models/{copy}/notes"))
    assert (line["what"], line["words"], line["card_id"], line["open"]) == ("sound", "from the nose", "F1", True)
    assert flown_client.get(f"{V1}/voices/{line['voice_id']}/sound").content == WEBM
    assert line["photo_id"] is not None
