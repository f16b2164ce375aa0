"""Every request body is strict: a key that is unknown or misspelt anywhere in it is refused by its name, on every route."""

from __future__ import annotations

import copy
import uuid
from collections.abc import Iterator
from typing import Any

import pytest

from tests.api.steps import V1, new_id, ok
from tests.states import TARN, TARN_ORDER, TARN_SORTIE

MODEL = f"/models/{TARN}"
RECORD = {"card_id": "G7", "outcome": "passed", "readings": [{"key": "site", "choice": "yes"}]}


def bodies(client) -> dict[str, Any]:
    """Return a good body of each route that takes JSON."""
    model = ok(client.get(f"{V1}{MODEL}"))
    examples = {}
    for path, operations in client.app.openapi()["paths"].items():
        content = operations.get("post", {}).get("requestBody", {}).get("content", {}).get("application/json", {})
        for example in content.get("examples", {}).values():
            examples[path.removeprefix(V1)] = example["value"]
    written = {
        "device": str(uuid.uuid4()),
        "made_at": "2026-05-01T10:00:00Z",
        "sent_at": "2026-05-01T10:00:01Z",
        "seen": 0,
    }
    entry = {"id": new_id(), "record": RECORD, "version": 2, "written": written}
    setup = {"base_revision": model["revision"], "setup": model["setup"], "words": ""}
    return {
        **examples,
        "/models": {"id": new_id(), "name": "Nab", "silhouette": "low_wing", "span_m": 1.0},
        f"{MODEL}/sisters": {"id": new_id(), "name": "Nab"},
        f"{MODEL}/rehearsals": {"id": new_id()},
        f"{MODEL}/what-if": model["setup"],
        f"{MODEL}/arrangements": {"level": False},
        f"{MODEL}/setup": setup,
        f"{MODEL}/datum": {"base_revision": 1, "dx_m": 0.1, "words": "nose"},
        f"{MODEL}/measures": {"base_revision": 1, "key": "body.length_m", "value": 1.2},
        f"{MODEL}/ground-cards": entry,
        f"{MODEL}/sorties": {
            "id": new_id(),
            "card_ids": ["F1", "F29"],
            "wind": dict.fromkeys(("speed_mps", "gust_mps", "from_rad", "strip_heading_rad"), 0.0),
        },
        "/field/codes": {"sortie_id": str(TARN_SORTIE)},
        "/field/paired-devices": {"code": "0000-0000", "name": "phone"},
        f"{MODEL}/sign-offs": {"id": new_id(), "signed_by": "me"},
        f"{MODEL}/wind": {"wind": dict.fromkeys(("speed_mps", "gust_mps", "from_rad", "strip_heading_rad"), 0.0)},
        f"/packs/{uuid.uuid4()}": {"name": "Fell", "chemistry": "lipo", "cells": 3, "capacity_c": 7920.0},
        f"/packs/{uuid.uuid4()}/flights/{uuid.uuid4()}": {"minutes": 6.0, "put_back_c": 3600.0},
        f"/sites/{uuid.uuid4()}": {"name": "Meadow", "latitude_deg": 47.0, "longitude_deg": 11.0},
        f"{MODEL}/site": {"site_id": None},
        f"{MODEL}/pack": {"pack_id": str(uuid.uuid4())},
        f"/sorties/{TARN_SORTIE}/put-back": {"charge_c": 3600.0},
        f"/sorties/{TARN_SORTIE}/records": entry,
        f"/sorties/{TARN_SORTIE}/log": {"entries": [entry]},
        f"/sorties/{TARN_SORTIE}/notes": {"id": new_id(), "what": "flutter", "card_id": "F1"},
        f"/notes/{uuid.uuid4()}/found": {"found": "a screw"},
        f"/records/{uuid.uuid4()}/choose": {"by": "me"},
        f"{MODEL}/rework": {"id": new_id(), "choices": {"use_ballast": True}},
        f"/work-orders/{TARN_ORDER}/proofs": {"index": 0, "reading": "1 mm"},
        f"{MODEL}/holes": {"role": "elevator", "arm_holes_m": [0.01], "horn_holes_m": [0.01], "wanted_m": 0.01},
        f"{MODEL}/rate-for": {"axis": "pitch", "straight_m": 0.01},
        f"{MODEL}/trim-transfer": {"base_revision": 1, "way": "clevis"},
        f"{MODEL}/level-reference": {"height_m": 1.0, "seconds": 5.0},
        f"{MODEL}/reversal": {"first": 1, "changed": 1, "again": 1, "card_id": "F5"},
        f"{MODEL}/devices": {"write_sheet": False},
        f"{MODEL}/wing-mount": {"bare_mass_kg": 1.0, "bare_x_m": 0.1, "wing_mass_kg": 0.5, "wing_x_m": 0.1},
        f"{MODEL}/scales": {"places": [{"name": "a", "x_m": 0.0, "y_m": 0.0}, {"name": "b", "x_m": 0.2, "y_m": 0.0}]},
    }


def misspelt(body: Any) -> Iterator[tuple[str, Any]]:
    """Yield (place, body) with a key too many in each kind of object of a body, once per place without its index."""
    seen: set[str] = set()

    def places(value: Any, path: tuple[Any, ...]) -> Iterator[tuple[Any, ...]]:
        if isinstance(value, dict):
            yield path
            for key, part in value.items():
                yield from places(part, (*path, key))
        elif isinstance(value, list):
            for i, part in enumerate(value):
                yield from places(part, (*path, i))

    for path in places(body, ()):
        kind = "/".join(str(p) for p in path if not isinstance(p, int))
        if kind in seen:
            continue
        seen.add(kind)
        changed = copy.deepcopy(body)
        here = changed
        for key in path:
            here = here[key]
        here["x_motor_ahead_of_gc_m"] = 1
        yield kind, changed


def test_a_misspelt_key_is_refused_by_name_on_every_route_and_at_every_depth(flown_client):
    tried = 0
    for path, body in bodies(flown_client).items():
        put = path.removeprefix(MODEL) in ("/setup", "/wind", "/pack", "/site") or path.endswith("/put-back")
        method = "put" if put or path.startswith(("/packs/", "/sites/")) else "post"
        for place, changed in misspelt(body):
            answer = flown_client.request(method, f"{V1}{path}", json=changed)
            assert answer.status_code == 422, (
                f"{path} at {place or 'the top'}: {answer.status_code} {answer.text[:200]}"
            )
            pointers = [v["pointer"] for v in answer.json()["violations"]]
            assert any(p.endswith("x_motor_ahead_of_gc_m") for p in pointers), f"{path} at {place}: {pointers}"
            tried += 1
    assert tried > 120


def test_no_route_with_a_body_is_left_out(flown_client):
    given = bodies(flown_client)
    for path, operations in flown_client.app.openapi()["paths"].items():
        for operation in operations.values():
            if "application/json" not in operation.get("requestBody", {}).get("content", {}):
                continue
            concrete = path.removeprefix(V1)
            kinds = [concrete.split("{")[0], concrete.rsplit("}", 1)[-1]]
            assert any(g.startswith(kinds[0]) and g.endswith(kinds[1]) for g in given), f"no body tried for {path}"


@pytest.mark.parametrize("key", ["x_motor_ahead_of_cg", "propeller_face_aft"])
def test_a_misspelt_shim_is_refused_not_turned_round(client, key):
    body = {"tilt": "down", "angle_rad": 0.035, "spacing_m": 0.025, "propeller_faces_aft": True, key: -0.3}
    assert client.post(f"{V1}/compute/shim", json=body).status_code == 422
