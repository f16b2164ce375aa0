"""The field door: who is let in, by what, to what; and who is not, tried on every route."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import psycopg
import pytest
from fastapi.testclient import TestClient
from sqlalchemy.exc import OperationalError

from jinba.api.app import create_app
from jinba.api.field import COOKIE, FOR_ANYBODY, helpers
from jinba.api.routes.field import Guesses
from jinba.services import pairing
from jinba.services.pairing import LETTERS
from tests.api.steps import SITE, V1, new_id, ok, plan_sortie
from tests.api.test_doors import operations
from tests.conftest import OWN, cloned
from tests.states import TARN, TARN_SORTIE

NAME, DOOR = SITE.name, SITE.address
FIELD = f"{V1}/field"


@dataclass
class Place:
    """The laptop's own door, and a maker of devices at the field door, each with a cookie jar and an address of its own."""

    url: str
    laptop: TestClient
    door: object

    def device(self, address: str = "192.168.7.20", base: str = DOOR) -> TestClient:
        return TestClient(self.door, base_url=base, client=(address, 5), raise_server_exceptions=False)

    def code(self, sortie_id: str | None = None) -> str:
        return str(ok(self.laptop.post(f"{FIELD}/codes", json={"sortie_id": sortie_id}))["code"])

    def paired(self, name: str = "old phone", sortie_id: str | None = None) -> TestClient:
        device = self.device()
        ok(device.post(f"{FIELD}/paired-devices", json={"code": self.code(sortie_id), "name": name}))
        return device

    def sql(self, statement: str) -> list[tuple]:
        with psycopg.connect(self.url.replace("+psycopg", ""), autocommit=True) as c:
            ran = c.execute(statement)
            return ran.fetchall() if ran.description else []


@pytest.fixture(scope="module")
def one_place(server, flown_template) -> Iterator[Place]:
    with cloned(server, flown_template) as url:
        laptop = TestClient(create_app(url, site=SITE), base_url=OWN, raise_server_exceptions=False)
        yield Place(url, laptop, create_app(url, site=SITE, for_paired=True))


@pytest.fixture
def place(one_place: Place) -> Place:
    """Nobody is let in yet, and nobody has guessed."""
    one_place.sql("TRUNCATE pairing_code, paired_device")
    one_place.door.state.guesses = Guesses()  # type: ignore[attr-defined]
    return one_place


def answers(client: TestClient, method: str, path: str) -> tuple[int, str]:
    answer = client.request(method, path, json=None if method == "get" else {})
    plain = answer.headers.get("content-type", "").endswith("problem+json")
    return answer.status_code, answer.json()["code"] if plain else ""


def test_a_device_that_is_not_paired_reads_and_changes_nothing_on_any_route(place):
    device = place.device()
    tried = 0
    for unsafe in (True, False):
        for method, path in operations(device_schema(place), unsafe=unsafe):
            if (method.upper(), path) in FOR_ANYBODY:
                continue
            assert answers(device, method, path) == (401, "not-paired"), (method, path)
            tried += 1
    assert tried > 60
    assert device.get("/api/docs").status_code == device.get("/api/openapi.json").status_code == 401
    device.cookies.set(COOKIE, "a-token-that-was-made-up-by-somebody", domain=NAME)
    assert answers(device, "get", f"{V1}/models") == (401, "not-paired")
    assert ok(device.get(FIELD))["asks"] == "nobody"
    assert device.get(f"{FIELD}/authority.crt").content == b"der"


def device_schema(place: Place) -> TestClient:
    """The description of the API is asked for at the laptop: nobody else gets it."""
    return place.laptop


def test_a_code_pairs_one_device_once_and_only_its_hash_is_kept(place):
    code, device = place.code(), place.device()
    plain = code.replace("-", "")
    assert set(plain) <= set(LETTERS)
    # As a person types it: small, apart, an O for the nought, an I for the one.
    typed = f" {code.lower().replace('0', 'o').replace('1', 'i')} "
    view = device.post(f"{FIELD}/paired-devices", json={"code": typed, "name": "  old \n phone "})
    said = view.headers["set-cookie"].lower()
    for flag in (COOKIE.lower() + "=", "secure", "httponly", "samesite=strict", "path=/"):
        assert flag in said
    assert 89 * 86_400 < int(said.split("max-age=")[1].split(";")[0]) <= 90 * 86_400
    assert "domain=" not in said
    assert (ok(view)["asks"], view.json()["device"]["name"]) == ("device", "old phone")
    assert any(m["id"] == str(TARN) for m in ok(device.get(f"{V1}/models")))
    second = place.device().post(f"{FIELD}/paired-devices", json={"code": code})
    assert (second.status_code, second.json()["code"]) == (403, "wrong-code")
    kept = str(place.sql("SELECT * FROM pairing_code")) + str(place.sql("SELECT * FROM paired_device"))
    assert plain not in kept
    assert device.cookies[COOKIE] not in kept


def test_what_has_expired_or_was_forgotten_is_not_let_in(place):
    old = place.code()
    place.sql("UPDATE pairing_code SET made_at = now() - interval '1 hour', expires_at = now() - interval '1 second'")
    refused = place.device().post(f"{FIELD}/paired-devices", json={"code": old})
    assert (refused.status_code, refused.json()["code"]) == (403, "wrong-code")
    phone, tablet = place.paired("phone"), place.paired("tablet")
    devices = ok(place.laptop.get(f"{FIELD}/paired-devices"))
    assert [d["name"] for d in devices] == ["tablet", "phone"]
    left = ok(place.laptop.delete(f"{FIELD}/paired-devices/{devices[1]['id']}"))
    assert [d["name"] for d in left] == ["tablet"]
    ok(place.laptop.delete(f"{FIELD}/paired-devices/{devices[1]['id']}"))
    assert place.laptop.delete(f"{FIELD}/paired-devices/{new_id()}").status_code == 404
    assert answers(phone, "get", f"{V1}/models") == (401, "not-paired")
    ok(tablet.get(f"{V1}/models"))
    place.sql("UPDATE paired_device SET expires_at = now() - interval '1 second'")
    assert answers(tablet, "get", f"{V1}/models") == (401, "not-paired")


def test_who_is_let_in_is_decided_on_the_laptop_alone(place):
    phone = place.paired()
    for method, path in (
        ("get", f"{FIELD}/paired-devices"),
        ("post", f"{FIELD}/paired-devices/x"),
        ("delete", f"{FIELD}/paired-devices/{new_id()}"),
    ):
        assert answers(phone, method, path) == (403, "laptop-only")
    refused = phone.post(f"{FIELD}/codes", json={})
    assert (refused.status_code, refused.json()["code"]) == (409, "refused")


def test_guessing_is_slowed_down_and_withdraws_what_was_shown(place):
    code = place.code()
    guess = {"code": "0000-0000"}
    for _ in range(5):
        assert place.device().post(f"{FIELD}/paired-devices", json=guess).status_code == 403
    slowed = place.device().post(f"{FIELD}/paired-devices", json={"code": code})
    assert (slowed.status_code, slowed.json()["code"]) == (429, "too-many-guesses")
    assert slowed.headers["retry-after"] == "60"
    for i in range(25):
        place.device(f"192.168.7.{30 + i}").post(f"{FIELD}/paired-devices", json=guess)
    assert place.device("192.168.7.99").post(f"{FIELD}/paired-devices", json=guess).status_code == 429
    place.door.state.guesses = Guesses()  # type: ignore[attr-defined]
    late = place.device().post(f"{FIELD}/paired-devices", json={"code": code})
    assert late.json()["code"] == "wrong-code", "what was shown while somebody guessed pairs nothing any more"
    place.paired()


def test_a_helper_logs_his_sortie_and_reaches_nothing_else_on_any_route(place):
    sortie_id = plan_sortie(place.laptop, str(TARN))
    helper = place.paired("helper", sortie_id)
    assert ok(helper.get(FIELD))["device"]["helps"] == {"model_id": str(TARN), "sortie_id": sortie_id}
    may = helpers(TARN, sortie_id)  # type: ignore[arg-type]
    refused, let_in = 0, set()
    for other in (str(TARN_SORTIE), sortie_id):
        for unsafe in (True, False):
            for method, path in operations(place.laptop, unsafe=unsafe):
                asked = (method.upper(), path.replace(str(TARN_SORTIE), other))
                if asked in may:
                    let_in.add(asked)
                    continue
                status, code = answers(helper, method, asked[1])
                assert status == 403, asked
                assert code in ("helper-only", "laptop-only"), asked
                refused += 1
    assert refused > 120
    assert {a for a in let_in if a not in FOR_ANYBODY} == may - FOR_ANYBODY, "and each of his own exists"
    assert answers(helper, "get", "/api/docs")[0] == 403
    card: dict[str, object] = {
        "id": new_id(),
        "record": {"card_id": "F3", "outcome": "aborted", "readings": [], "note": "by the helper"},
    }
    seen = ok(helper.post(f"{V1}/sorties/{sortie_id}/records", json=card))
    assert [r["note"] for r in seen["records"]] == ["by the helper"]
    assert [r["note"] for r in ok(place.laptop.get(f"{V1}/sorties/{sortie_id}"))["records"]] == ["by the helper"]
    assert {e["key"] for e in ok(helper.get(f"{V1}/models/{TARN}/emergencies"))}
    late = place.laptop.post(f"{FIELD}/codes", json={"sortie_id": str(TARN_SORTIE)})
    assert (late.status_code, late.json()["code"]) == (409, "refused"), "a landed sortie needs no helper"
    place.sql("UPDATE paired_device SET expires_at = now() - interval '1 second'")
    assert answers(helper, "get", f"{V1}/sorties/{sortie_id}") == (401, "not-paired")


def test_it_answers_under_its_own_names_from_its_own_network_and_to_its_own_page(place):
    phone = place.paired()
    by_number = place.device(base="https://192.168.7.5:8471")
    assert by_number.get("/api/v1/field").status_code == 200
    for host in ("127.0.0.1:8471", "evil.example", "192.168.7.6:8471", f"x.{NAME}"):
        foreign = phone.get(f"{V1}/models", headers={"Host": host})
        assert (foreign.status_code, foreign.json()["code"]) == (421, "foreign-host"), host
        assert DOOR in foreign.json()["title"], "it says where it is"
    assert place.laptop.get(f"{V1}/models", headers={"Host": NAME}).status_code == 421, (
        "nor is loopback under that name"
    )
    afar = place.device("8.8.8.8")
    for path in ("/", FIELD, f"{V1}/models"):
        assert answers(afar, "get", path) == (403, "from-afar")
    for said in (
        {"Origin": "https://evil.example"},
        {"Origin": f"http://{NAME}:8471"},
        {"Sec-Fetch-Site": "same-site"},
    ):
        changed = phone.post(f"{V1}/sorties/{TARN_SORTIE}/land", headers=said)
        assert (changed.status_code, changed.json()["code"]) == (403, "foreign-origin")
    for answer in (phone.get(f"{V1}/models"), place.device().get(f"{V1}/models"), afar.get("/")):
        assert answer.headers["strict-transport-security"].startswith("max-age=")
        assert "unsafe" not in answer.headers["content-security-policy"]


def test_while_the_database_is_away_a_paired_phone_is_told_to_wait_and_nobody_is_let_in(place, monkeypatch):
    phone = place.paired()

    def away(*_: object) -> None:
        raise OperationalError("SELECT", {}, Exception("the server closed the connection"))

    monkeypatch.setattr(pairing, "device_of", away)
    answer = phone.get(f"{V1}/models")
    assert (answer.status_code, answer.json()["code"]) == (503, "unavailable")
    assert answer.headers["retry-after"]
    assert place.device().get("/pair").status_code in (200, 404), "the page itself asks nobody"


def test_without_a_field_door_it_says_how_to_open_one(client):
    assert ok(client.get(FIELD)) | {"by_number": []} == {
        "serving": False,
        "asks": "laptop",
        "name": "",
        "address": "",
        "by_number": [],
        "fingerprint": "",
        "authority_until": None,
        "device": None,
    }
    refused = client.post(f"{FIELD}/codes", json={})
    assert refused.status_code == 409
    assert "./jinba serve --field" in refused.json()["title"]
    assert client.get(f"{FIELD}/authority.crt").status_code == 404
