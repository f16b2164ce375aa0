"""Photos of what went wrong and of work that was done: kept small and without tags, on what they show, and taken along."""

from __future__ import annotations

import io
import zipfile
from typing import Any

import pytest
from PIL import Image

from jinba.formats.photo import LONGEST_SIDE, PhotoError, read_photo
from jinba.services import photos
from tests.api.steps import V1, create, new_id, ok, plan_sortie
from tests.pictures import PLACE, picture
from tests.states import TARN, TARN_ORDER


def incident(client, model: str) -> str:
    record = {
        "card_id": "A6",
        "outcome": "done",
        "readings": [{"key": "phase", "choice": "landing"}, {"key": "ground", "choice": "hard"}],
    }
    identity = new_id()
    ok(client.post(f"{V1}/models/{model}/ground-cards", json={"id": identity, "record": record}))
    return identity


def put(client, model: str, data: bytes, *, identity: str | None = None, **of: Any):
    return client.put(f"{V1}/models/{model}/photos/{identity or new_id()}", params=of, content=data)


@pytest.fixture
def hurt(client) -> tuple[str, str]:
    model = create(client, "Heron")["id"]
    return model, incident(client, model)


def test_a_photo_is_kept_upright_small_and_without_what_it_says_of_place_and_owner(client, hurt):
    model, record = hurt
    (line,) = ok(put(client, model, picture((3000, 2000), exif=True), record_id=record, caption="left root rib"))
    assert (line["record_id"], line["caption"]) == (record, "left root rib")
    answer = client.get(f"{V1}/photos/{line['id']}/image")
    assert answer.headers["content-type"] == "image/jpeg"
    kept = Image.open(io.BytesIO(answer.content))
    assert kept.size == (line["width"], line["height"])
    assert max(kept.size) == LONGEST_SIDE
    assert kept.height > kept.width, "it lay on its side"
    assert not dict(kept.getexif())
    assert PLACE.encode() not in answer.content
    # Turned a quarter to the right, what was left is on top.
    assert kept.getpixel((kept.width // 2, 10))[1] < 80
    assert kept.getpixel((kept.width // 2, kept.height - 10))[1] > 200


@pytest.mark.parametrize("kind", ["PNG", "WEBP", "JPEG"])
def test_what_telephones_make_is_taken(client, hurt, kind):
    model, record = hurt
    (line,) = ok(put(client, model, picture(kind=kind), record_id=record))
    assert (line["width"], line["height"]) == (300, 200)


def test_sent_twice_it_is_there_once_and_under_its_id_nothing_else(client, hurt):
    model, record = hurt
    identity, data = new_id(), picture()
    for _ in range(2):
        assert len(ok(put(client, model, data, identity=identity, record_id=record))) == 1
    other = put(client, model, picture(colour="blue"), identity=identity, record_id=record)
    assert other.status_code == 409
    assert len(ok(client.get(f"{V1}/models/{model}/photos"))) == 1


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "no photo that can be read"),
        (b"GIF89a" + bytes(40), "no photo that can be read"),
        (picture()[:400], "no photo that can be read"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "no photo that can be read"),
    ],
    ids=["nothing", "another kind", "cut off", "a drawing"],
)
def test_what_is_no_photo_is_refused_in_words_and_nothing_is_added(client, hurt, data, says):
    model, record = hurt
    answer = put(client, model, data, record_id=record)
    assert (answer.status_code, answer.json()["code"]) == (422, "bad-photo")
    assert says in answer.json()["title"]
    assert ok(client.get(f"{V1}/models/{model}/photos")) == []


@pytest.mark.parametrize("side", [9_000, 20_000])
def test_a_small_file_that_holds_a_huge_picture_is_refused_before_it_is_unpacked(side):
    data = io.BytesIO()
    Image.new("1", (side, side)).save(data, "PNG")
    assert len(data.getvalue()) < 200_000
    with pytest.raises(PhotoError, match="60 million"):
        read_photo(data.getvalue())


def test_a_photo_of_nothing_or_of_somebody_elses_incident_is_refused(client, hurt):
    model, record = hurt
    other = create(client, "Bittern")["id"]
    gate = new_id()
    passed = {
        "card_id": "G7",
        "outcome": "passed",
        "readings": [{"key": k, "choice": "yes"} for k in ("site", "people", "thunder", "fit")],
    }
    ok(client.post(f"{V1}/models/{model}/ground-cards", json={"id": gate, "record": passed}))
    for where, of in (
        (model, {}),
        (model, {"record_id": new_id()}),
        (model, {"record_id": gate}),
        (other, {"record_id": record}),
        (model, {"record_id": record, "work_order_id": new_id(), "position": 0}),
    ):
        assert put(client, where, picture(), **of).status_code == 409, of
    assert put(client, model, picture(), work_order_id=new_id(), position=0).status_code == 404
    assert put(client, model, picture(), record_id=record, caption="x" * 121).status_code == 422


def test_taken_back_it_is_gone_with_its_bytes(client, hurt):
    model, record = hurt
    (line,) = ok(put(client, model, picture(), record_id=record))
    for _ in range(2):
        assert ok(client.delete(f"{V1}/photos/{line['id']}")) == []
    assert client.get(f"{V1}/photos/{line['id']}/image").status_code == 404
    assert client.delete(f"{V1}/photos/{new_id()}").status_code == 404


def test_sixty_are_kept_and_the_next_is_refused_with_what_to_do(client, hurt, monkeypatch):
    model, record = hurt
    monkeypatch.setattr(photos, "MOST", 2)
    for _ in range(2):
        ok(put(client, model, picture((8, 8)), record_id=record))
    refused = put(client, model, picture((8, 8)), record_id=record)
    assert refused.status_code == 409
    assert "Take one back" in refused.json()["title"]


def test_a_photo_stays_with_its_incident_when_that_is_told_anew(client):
    model = create(client, "Curlew")["id"]
    sortie, record, again = plan_sortie(client, model), new_id(), new_id()
    told = [{"key": "phase", "choice": "landing"}, {"key": "ground", "choice": "hard"}]
    say = {"card_id": "A6", "outcome": "done", "readings": told}
    ok(client.post(f"{V1}/sorties/{sortie}/records", json={"id": record, "record": say}))
    ok(client.post(f"{V1}/sorties/{sortie}/land"))
    ok(put(client, model, picture(), record_id=record))
    worse = say | {"readings": [told[0], {"key": "ground", "choice": "hit"}]}
    ok(client.post(f"{V1}/sorties/{sortie}/records", json={"id": again, "record": worse, "replaces": record}))
    (shown,) = ok(client.get(f"{V1}/models/{model}"))["incidents"]
    assert "hit the ground" in shown["words"]
    both = ok(put(client, model, picture(colour="blue"), record_id=again))
    assert [p["record_id"] for p in both] == [record, record] == 2 * [shown["record_id"]]


def test_photos_of_an_incident_and_of_an_action_go_into_the_project_file_and_come_back(flown_client):
    model = str(TARN)
    record = incident(flown_client, model)
    of_incident = ok(put(flown_client, model, picture(), record_id=record, caption="wing root"))[0]
    of_action = ok(put(flown_client, model, picture(colour="blue"), work_order_id=str(TARN_ORDER), position=0))[1]
    wind = {"speed_mps": 3.0, "gust_mps": 5.0, "from_rad": 1.0, "strip_heading_rad": 0.5}
    ok(flown_client.put(f"{V1}/models/{model}/wind", json={"wind": wind}))
    file = flown_client.get(f"{V1}/models/{model}/archive").content
    assert b"Exif" not in zipfile.ZipFile(io.BytesIO(file)).read("model.json")
    back = ok(flown_client.post(f"{V1}/archives", content=file), 201)
    found = ok(flown_client.get(f"{V1}/models/{back['id']}/photos"))
    assert [f["caption"] for f in found] == ["wing root", ""]
    assert found[0]["record_id"] in {i["record_id"] for i in back["incidents"]}
    assert (found[1]["work_order_id"], found[1]["position"]) == (back["work_order"]["id"], 0)
    for old, new in zip((of_incident, of_action), found, strict=True):
        a, b = (Image.open(io.BytesIO(flown_client.get(f"{V1}/photos/{p['id']}/image").content)) for p in (old, new))
        assert a.size == b.size
    plan = ok(flown_client.get(f"{V1}/models/{back['id']}/plan"))
    assert plan["wind_read"]["wind"] == wind, "the wind that was read goes along too"


def test_a_photo_of_what_is_not_in_the_file_is_refused(flown_client):
    model = str(TARN)
    ok(put(flown_client, model, picture(), record_id=incident(flown_client, model)))
    file = flown_client.get(f"{V1}/models/{model}/archive").content
    with zipfile.ZipFile(io.BytesIO(file)) as z:
        parts = {n: z.read(n) for n in z.namelist()}
    project = parts["model.json"].decode()
    (line,) = ok(flown_client.get(f"{V1}/models/{model}/photos"))
    at = project.index('"photos"')
    broken = project[:at] + project[at:].replace(line["record_id"], new_id())
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as z:
        for name, data in parts.items():
            z.writestr(name, broken if name == "model.json" else data)
    refused = flown_client.post(f"{V1}/archives", content=out.getvalue())
    assert refused.status_code == 422
    assert "photo" in refused.json()["title"]


def test_a_correction_of_a_card_on_the_ground_is_refused_and_not_taken_for_something_new(client, hurt):
    model, record = hurt
    told = {"card_id": "A6", "outcome": "done", "readings": [{"key": "phase", "choice": "landing"}]}
    told["readings"].append({"key": "ground", "choice": "hit"})
    body = {"id": new_id(), "record": told, "replaces": record}
    refused = client.post(f"{V1}/models/{model}/ground-cards", json=body)
    assert refused.status_code == 409
    assert "log it anew" in refused.json()["title"]
    assert len(ok(client.get(f"{V1}/models/{model}"))["incidents"]) == 1


def test_a_caption_that_no_database_keeps_is_refused_in_words(client, hurt):
    model, record = hurt
    url = f"{V1}/models/{model}/photos/{new_id()}?record_id={record}&caption=a%00b"
    answer = client.put(url, content=picture())
    assert 400 <= answer.status_code < 500, answer.text
    assert ok(client.get(f"{V1}/models/{model}/photos")) == []
