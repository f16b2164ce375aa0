"""Every sentence of every answer comes in the units that are asked for, and is written once, by the program."""

from __future__ import annotations

import re

import pytest

from jinba.core.spoken import MARKS
from tests.api.steps import V1, create, new_id, ok
from tests.api.test_strict import bodies
from tests.states import TARN, TARN_SORTIE

OWN = {"Jinba-Units": "length=in, distance=ft, mass=oz, speed=mph"}
METRIC_WORDS = re.compile(r"(?<!pulls \d.)\d (?:mm|g|m/s|m)\b(?<!pulls \d g)")
TYPED = ("story", "note", "reason", "speed_words", "change_words", "how", "entered", "rules")
"""What a pilot wrote, or what was written down as it was read: it stays as it is."""


def texts(value, key=""):
    """Yield (key, text) of every text of an answer."""
    if isinstance(value, dict):
        for name, part in value.items():
            yield from texts(part, name)
    elif isinstance(value, list):
        for part in value:
            yield from texts(part, key)
    elif isinstance(value, str):
        yield key, value


def pages(client):
    """Yield each page that is read of the models at hand."""
    for model in ok(client.get(f"{V1}/models")):
        for page in ("", "/bench", "/plan", "/rework", "/board", "/controls"):
            yield f"{V1}/models/{model['id']}{page}"
    yield f"{V1}/sorties/{TARN_SORTIE}"
    yield f"{V1}/sorties/{TARN_SORTIE}/debrief"


@pytest.mark.parametrize("units", [{}, OWN], ids=["metric", "own"])
def test_no_answer_holds_marks_and_none_other_units_than_were_asked_for(flown_client, units):
    found, said = [], 0
    for page in pages(flown_client):
        answer = flown_client.get(page, headers=units)
        assert answer.status_code in (200, 404, 409), page
        assert not set(answer.text) & set(MARKS), page
        for key, text in texts(answer.json()):
            said += bool(re.search(r"\d (?:in|oz|mph|ft|mm|g|m/s|m)\b", text))
            if units and key not in TYPED and METRIC_WORDS.search(text):
                found.append(f"{page} {key}: {text}")
    assert not found, "\n".join(found[:20])
    assert said > 100, "these pages are full of quantities"


def test_the_computations_answer_in_own_units_too(flown_client):
    for path, body in bodies(flown_client).items():
        if path.startswith("/compute/") or path.endswith(("/what-if", "/arrangements", "/scales", "/wing-mount")):
            answer = flown_client.post(f"{V1}{path}", json=body, headers=OWN)
            assert answer.status_code == 200, f"{path}: {answer.text}"
            assert not set(answer.text) & set(MARKS), path


def test_units_that_are_not_known_are_refused_with_those_that_are(client):
    refused = client.get(f"{V1}/models", headers={"Jinba-Units": "length=furlong"})
    assert (refused.status_code, refused.json()["code"]) == (422, "units")
    assert "known: mm, in, cm, m, ft" in refused.json()["title"]
    assert client.get(f"{V1}/models", params={"units": "length"}).status_code == 422
    assert "Jinba-Units" in client.get(f"{V1}/models").headers["vary"]


def test_papers_are_printed_in_own_units(client):
    path = f"{V1}/models/{create(client, 'Inches', 'high_wing')['id']}"
    for sheet in ("balance-sheet.svg", "setup-sheet.svg", "setup-sheet.csv", "marking-template.svg"):
        metric, own = (client.get(f"{path}/{sheet}", params={"units": u}).text for u in ("", "length=in,mass=oz"))
        assert re.search(r"\d mm\b", metric), sheet
        assert re.search(r"\d in\b", own), sheet
        assert not re.search(r"\d mm\b(?! long|<|$)", own.replace("100 mm", "")), sheet
        assert not set(metric + own) & set(MARKS), sheet
    assert client.get(f"{path}/balance-sheet.pdf", params={"units": "mass=stone"}).status_code == 422


def test_a_refusal_speaks_in_own_units(client):
    crossed = create(client, "Crossed")["setup"]
    wing = crossed["airframe"]["surfaces"][0]
    wing["sections"] = [wing["sections"][1], {**wing["sections"][0], "y_m": 0.4}]
    said = client.post(f"{V1}/compute/balance", json=crossed, headers=OWN).json()
    assert re.search(r"[\d.]+ in\b", said["title"] + str(said["violations"])), said
    assert " mm" not in said["title"]


def test_a_name_with_marks_is_refused(client):
    body = {"id": new_id(), "name": f"{MARKS[0]}length 1 0{MARKS[2]}", "silhouette": "low_wing", "span_m": 1.0}
    assert client.post(f"{V1}/models", json=body).status_code == 422


def test_what_is_put_away_in_a_project_file_is_read_back_and_spoken_in_any_unit(flown_client):
    file = flown_client.get(f"{V1}/models/{TARN}/archive").content
    copied = ok(flown_client.post(f"{V1}/archives", content=file, headers={"Content-Type": "application/zip"}), 201)
    orders = [
        [text for _, text in texts(ok(flown_client.get(f"{V1}/models/{m}/rework", headers=OWN)))]
        for m in (TARN, copied["id"])
    ]
    assert len(orders[0]) == len(orders[1])
    assert any(" in " in text for text in orders[1])
