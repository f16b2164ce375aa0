"""Project files damaged in every way: each is refused in words or read; none is an error of ours, and none leaves a part of itself."""

from __future__ import annotations

import copy
import io
import json
import random
import struct
import zipfile
from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.testclient import TestClient

from jinba.api.app import create_app
from tests.api.steps import V1, ok
from tests.conftest import OWN, cloned
from tests.states import TARN


@pytest.fixture(scope="module")
def reader(server, flown_template) -> Iterator[TestClient]:
    with (
        cloned(server, flown_template) as url,
        TestClient(create_app(url), raise_server_exceptions=False, base_url=OWN) as c,
    ):
        yield c


@pytest.fixture(scope="module")
def whole(reader) -> bytes:
    return reader.get(f"{V1}/models/{TARN}/archive").content


def packed(model: Any, version: int = 2) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr("manifest.json", json.dumps({"format": "jinba-project", "version": version}))
        z.writestr("model.json", model if isinstance(model, str) else json.dumps(model))
    return buffer.getvalue()


def unpacked(data: bytes) -> Any:
    with zipfile.ZipFile(io.BytesIO(data)) as z:
        return json.loads(z.read("model.json"))


def refused_or_read(client: TestClient, data: bytes, what: object) -> int:
    before = len(ok(client.get(f"{V1}/models")))
    answer = client.post(f"{V1}/archives", content=data)
    assert answer.status_code in (201, 409, 413, 422), (what, answer.status_code, answer.text[:300])
    if answer.status_code != 201:
        assert answer.json()["title"].endswith((".", "!")), answer.json()["title"]
        assert len(ok(client.get(f"{V1}/models"))) == before, "a part of it is there"
    return answer.status_code


def test_flipped_bits_anywhere(reader, whole):
    rng = random.Random(7)
    found = set()
    for _ in range(12):
        at, bit = rng.randrange(len(whole)), 1 << rng.randrange(8)
        damaged = whole[:at] + bytes([whole[at] ^ bit]) + whole[at + 1 :]
        found.add(refused_or_read(reader, damaged, (at, bit)))
    assert 422 in found


def test_encrypted_unknown_and_cut_members(reader, whole):
    flagged = bytearray(whole)
    central = whole.index(b"PK\x01\x02")
    flagged[6] |= 1
    flagged[central + 8] |= 1
    unknown = bytearray(whole)
    unknown[8:10] = unknown[central + 10 : central + 12] = struct.pack("<H", 99)
    for bad in (bytes(flagged), bytes(unknown), whole[:-30], whole[: len(whole) // 2], whole + whole):
        refused_or_read(reader, bad, len(bad))
    assert refused_or_read(reader, bytes(flagged), "encrypted") == 422
    assert refused_or_read(reader, bytes(unknown), "unknown method") == 422


ODD: tuple[Any, ...] = ("a\x00b", "\ud800", 2**40, -(2**70), 1e300, -1, 0, "", None, [], {}, True, "x" * 5000)


def places(node: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    if isinstance(node, dict):
        for key, value in node.items():
            yield from places(value, (*path, key))
    elif isinstance(node, list):
        for i, value in enumerate(node[:2]):
            yield from places(value, (*path, i))
    else:
        yield path


def test_every_kind_of_value_replaced_by_something_odd(reader, whole):
    """One place of each kind (ids and hashes left out of its name), each with odd values drawn for it."""
    model, rng = unpacked(whole), random.Random(3)
    kinds: dict[tuple[Any, ...], tuple[Any, ...]] = {}
    for place in places(model):
        kinds.setdefault(tuple(p for p in place if isinstance(p, str) and len(p) < 32), place)
    chosen = rng.sample(sorted(kinds.values(), key=str), min(40, len(kinds)))
    for place in chosen:
        damaged = copy.deepcopy(model)
        node = damaged
        for key in place[:-1]:
            node = node[key]
        node[place[-1]] = rng.choice(ODD)
        refused_or_read(reader, packed(damaged), (place, node[place[-1]]))


def test_things_that_are_there_twice(reader, whole):
    model = unpacked(whole)
    for key in ("configurations", "sorties", "records", "work_orders"):
        damaged = copy.deepcopy(model)
        damaged[key].append(copy.deepcopy(damaged[key][0]))
        assert refused_or_read(reader, packed(damaged), key) in (409, 422), key


def test_deep_and_foreign_json(reader):
    for text in ("[" * 100_000, '{"a":' * 5000 + "1" + "}" * 5000, "NaN", "1e999", '"\\ud800"', "[]", "null"):
        assert refused_or_read(reader, packed(text), text[:20]) == 422
