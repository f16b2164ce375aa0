"""The end of a test programme through the API: refused with what is missing, handed over with a reason, taken back, on paper."""

from __future__ import annotations

import io
import re

from pypdf import PdfReader

from tests.api.steps import V1, close_gates, create, new_id, ok, plan_sortie

WHY = "sold as it is, the buyer has seen it fly"


def flown(client, name):
    model = create(client, name)["id"]
    sortie = plan_sortie(client, model)
    ok(client.post(f"{V1}/sorties/{sortie}/stand-in"))
    return model


def sign(client, model, **body):
    return client.post(f"{V1}/models/{model}/sign-offs", json={"id": new_id(), "signed_by": "A. Tester", **body})


def paper(client, model):
    pdf = PdfReader(io.BytesIO(client.get(f"{V1}/models/{model}/hand-over.pdf").content))
    assert len(pdf.pages) == 1
    return " ".join(pdf.pages[0].extract_text().split())


def test_what_was_never_flown_is_not_handed_over(client):
    model = create(client, "Unflown")["id"]
    for answer in (client.get(f"{V1}/models/{model}/hand-over"), sign(client, model, remark=WHY)):
        assert answer.status_code == 409
        assert "Nothing has been flown" in answer.json()["title"]


def test_a_maiden_alone_is_refused_with_what_is_missing_and_handed_over_with_a_reason(client):
    model = flown(client, "Early")
    missing = [c["words"] for c in ok(client.get(f"{V1}/models/{model}/hand-over"))["criteria"] if not c["met"]]
    assert any(w.startswith("Balance: ") for w in missing), "one first flight shows no balance"
    for remark in ("", "short"):
        refused = sign(client, model, remark=remark)
        assert refused.status_code == 409
        assert all(w in refused.json()["title"] for w in missing)
    assert sign(client, model, signed_by="  ", remark=WHY).status_code == 409
    assert "NOT SIGNED OFF: 1 sorties flown" in paper(client, model)
    body = {"id": new_id(), "signed_by": "A. Tester", "remark": WHY}
    for _ in range(2):
        found = ok(client.post(f"{V1}/models/{model}/sign-offs", json=body), 201)
    assert "is signed off by A. Tester after sortie 1" in found["today"]["sentence"]
    said = paper(client, model)
    assert "By A. Tester" in said
    assert f"Handed over all the same: {WHY}" in said
    assert "Flown against advice" in said
    standing = re.search(r"Clicks in the radio, of centre: (.*?)\. ", said)
    assert standing is not None
    ways = ("nose up", "nose down", "left wing down", "right wing down", "nose left", "nose right")
    assert standing[1] == "none" or all(part.endswith(ways) for part in standing[1].split(", ")), (
        "no click without its way"
    )
    file = client.get(f"{V1}/models/{model}/archive").content
    copied = ok(client.post(f"{V1}/archives", content=file, headers={"Content-Type": "application/zip"}), 201)
    assert ok(client.get(f"{V1}/models/{copied['id']}/hand-over"))["signed_off"]["remark"] == WHY
    for _ in range(2):
        ok(client.delete(f"{V1}/sign-offs/{body['id']}"))
    assert ok(client.get(f"{V1}/models/{model}/hand-over"))["signed_off"] is None


def test_a_change_or_another_sortie_ends_what_was_signed(client):
    for change in ("bench", "sortie"):
        model = flown(client, f"Ends by {change}")
        ok(sign(client, model, remark=WHY), 201)
        if change == "bench":
            now = ok(client.get(f"{V1}/models/{model}"))
            now["setup"]["items"][0]["mass_kg"] += 0.05
            ok(client.put(f"{V1}/models/{model}/setup", json={"base_revision": now["revision"], "setup": now["setup"]}))
            assert "changed since it landed" in sign(client, model, remark=WHY).json()["title"]
        else:
            close_gates(client, model)
            sortie = plan_sortie(client, model)
            assert "still open" in sign(client, model, remark=WHY).json()["title"]
            ok(client.post(f"{V1}/sorties/{sortie}/land"))
        assert ok(client.get(f"{V1}/models/{model}/hand-over"))["signed_off"] is None
        assert "signed off" not in ok(client.get(f"{V1}/models/{model}"))["today"]["sentence"]
