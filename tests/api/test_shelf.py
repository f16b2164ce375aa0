"""Models put away and deleted: nothing is lost by the first, everything by the second, and nothing of it by mistake."""

from __future__ import annotations

from sqlalchemy import text
from sqlalchemy.orm import sessionmaker

from jinba.persistence.database import make_engine
from tests.api.steps import V1, create, ok
from tests.states import TARN

MODEL = f"{V1}/models/{TARN}"


def shelf(client) -> dict[str, bool]:
    return {m["name"]: m["put_away"] for m in ok(client.get(f"{V1}/models"))}


def test_put_away_and_taken_back_it_is_as_it_was(flown_client):
    before = ok(flown_client.get(MODEL))
    for _ in range(2):
        assert flown_client.post(f"{MODEL}/put-away").status_code == 204
    names = list(shelf(flown_client))
    assert shelf(flown_client)["Tarn"] is True
    assert names[-1] == "Tarn", "what was put away stands last"
    assert ok(flown_client.get(MODEL)) == before
    for _ in range(2):
        assert flown_client.post(f"{MODEL}/take-back").status_code == 204
    assert shelf(flown_client)["Tarn"] is False
    assert ok(flown_client.get(MODEL)) == before


def test_it_is_deleted_only_when_put_away_and_called_by_its_name(flown_client):
    on_shelf = flown_client.delete(MODEL, params={"name": "Tarn"})
    assert (on_shelf.status_code, "Put it away first" in on_shelf.json()["title"]) == (409, True)
    flown_client.post(f"{MODEL}/put-away")
    for name in ("", "tarn", "Scree"):
        wrong = flown_client.delete(MODEL, params={"name": name})
        assert (wrong.status_code, "type its name, Tarn" in wrong.json()["title"]) == (409, True)
    assert "Tarn" in shelf(flown_client)
    assert flown_client.delete(MODEL, params={"name": " Tarn "}).status_code == 204
    assert "Tarn" not in shelf(flown_client)
    assert flown_client.get(MODEL).status_code == 404
    assert flown_client.delete(MODEL, params={"name": "Tarn"}).status_code == 404


def test_with_it_goes_everything_that_hangs_on_it_and_nothing_of_the_others(flown_client, flown_url):
    """Exported, deleted and read again it is whole; meanwhile no table holds a row of it."""
    others = {m["id"]: ok(flown_client.get(f"{V1}/models/{m['id']}")) for m in ok(flown_client.get(f"{V1}/models"))}
    others.pop(str(TARN))
    kept = flown_client.get(f"{MODEL}/archive").content
    flown_client.post(f"{MODEL}/put-away")
    flown_client.delete(MODEL, params={"name": "Tarn"})
    engine = make_engine(flown_url)
    with sessionmaker(engine)() as s:
        for table in ("configuration", "sortie", "record", "estimate", "work_order", "squawk"):
            assert s.execute(text(f"SELECT count(*) FROM {table} WHERE model_id = :m"), {"m": TARN}).scalar() == 0
        orphans = s.execute(text("SELECT count(*) FROM reading WHERE record_id NOT IN (SELECT id FROM record)"))
        assert orphans.scalar() == 0
    engine.dispose()
    for model_id, before in others.items():
        assert ok(flown_client.get(f"{V1}/models/{model_id}")) == before
    back = ok(flown_client.post(f"{V1}/archives", content=kept), 201)
    assert (back["name"], len(back["sorties"])) == ("Tarn", 1)


def test_a_name_of_one_put_away_is_still_taken_by_it(client):
    first = create(client, "Heather")["id"]
    client.post(f"{V1}/models/{first}/put-away")
    archive = client.get(f"{V1}/models/{first}/archive").content
    assert ok(client.post(f"{V1}/archives", content=archive), 201)["name"] == "Heather (2)"
