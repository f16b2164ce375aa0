"""Writers in the workshop: orders and their proofs, signing off, photos, the project file."""

from __future__ import annotations

from jinba.services.archive import read_project
from tests.api.races.course import MODEL, Course, counts, expect_one_or_all, post_all, together
from tests.api.races.models import edited
from tests.api.steps import V1, new_id, ok, plan_sortie
from tests.pictures import picture
from tests.states import TARN, TARN_ORDER

race = Course()


@race("POST /models/{model_id}/rework")
def a_rework(client, n, same):
    sortie_id = plan_sortie(client, str(TARN))
    ok(client.post(f"{V1}/sorties/{sortie_id}/land"))
    bodies = [{"id": new_id()}] * n if same else [{"id": new_id()} for _ in range(n)]
    expect_one_or_all(post_all(client, f"{MODEL}/rework", bodies), n, same, 201)
    after = ok(client.get(MODEL))
    assert (after["configuration"], after["work_order"]["id"]) == (3, after["work_order"]["id"])


@race("POST /work-orders/{order_id}/proofs")
def a_proof(client, n, same):
    url = f"{V1}/work-orders/{TARN_ORDER}/proofs"
    actions = ok(client.get(MODEL))["work_order"]["actions"]
    measured = [i for i, a in enumerate(actions) if a["expected"] and a["expected"]["tolerance"] > 0.0]
    places = [measured[0 if same else i % len(measured)] for i in range(n)]
    offs = [0.0 if same else 1e-5 * i for i in range(n)]
    bodies = [
        {"index": p, "number": actions[p]["expected"]["value"] + off} for p, off in zip(places, offs, strict=True)
    ]
    assert post_all(client, url, bodies) == {200: n}
    proofs = ok(client.get(MODEL))["work_order"]["proofs"]
    assert set(proofs) == {str(b["index"]) for b in bodies}, "every action ticked at the same moment stays ticked"
    kept = read_project(client.get(f"{MODEL}/archive").content).work_orders[0].proofs
    assert {(p.action, p.number) for p in kept} == {(b["index"], b["number"]) for b in bodies}
    assert len(kept) == (1 if same else n)


@race("DELETE /work-orders/{order_id}")
def an_order(client, n, same):
    url, before = f"{V1}/work-orders/{TARN_ORDER}", ok(client.get(MODEL))["revision"]
    assert counts(together([lambda: client.delete(url)] * n)) == {200: n}
    after = ok(client.get(MODEL))
    assert after["work_order"] is None
    assert after["revision"] == before + 1, "taken back once, however many asked"


@race("POST /models/{model_id}/sign-offs")
def a_signing_off(client, n, same):
    sortie_id = plan_sortie(client, str(TARN))
    ok(client.post(f"{V1}/sorties/{sortie_id}/land"))
    body = {"id": new_id(), "signed_by": "me", "remark": "handed over as it is"}
    bodies = [body] * n if same else [body | {"id": new_id(), "remark": f"handed over, {i} times"} for i in range(n)]
    assert post_all(client, f"{MODEL}/sign-offs", bodies) == {201: n}
    held = ok(client.get(f"{MODEL}/hand-over"))["signed_off"]
    assert held["remark"] in [b["remark"] for b in bodies]
    assert len(read_project(client.get(f"{MODEL}/archive").content).sign_offs) == (1 if same else n)


@race("DELETE /sign-offs/{sign_off_id}")
def a_signing_off_taken_back(client, n, same):
    sortie_id = plan_sortie(client, str(TARN))
    ok(client.post(f"{V1}/sorties/{sortie_id}/land"))
    ids = [new_id() for _ in range(1 if same else n)]
    for i in ids:
        ok(client.post(f"{MODEL}/sign-offs", json={"id": i, "signed_by": "me", "remark": "handed over as it is"}), 201)
    again = [ids[k % len(ids)] for k in range(n)]
    calls = [lambda i=i: client.delete(f"{V1}/sign-offs/{i}") for i in again]
    assert counts(together(calls)) == {200: n}
    assert ok(client.get(f"{MODEL}/hand-over"))["signed_off"] is None


@race("PUT /models/{model_id}/photos/{photo_id}")
def a_photo(client, n, same):
    record, identity = new_id(), new_id()
    said = [{"key": "phase", "choice": "landing"}, {"key": "ground", "choice": "hard"}]
    body = {"id": record, "record": {"card_id": "A6", "outcome": "done", "readings": said}}
    ok(client.post(f"{MODEL}/ground-cards", json=body))
    data = [picture(colour=f"#{0 if same else 12 * i:02x}4080") for i in range(n)]
    put = [lambda d=d: client.put(f"{MODEL}/photos/{identity}", params={"record_id": record}, content=d) for d in data]
    expect_one_or_all(counts(together(put)), n, same, 200)
    assert len(ok(client.get(f"{MODEL}/photos"))) == 1


@race("DELETE /photos/{photo_id}")
def a_photo_taken_back(client, n, same):
    del same
    identity = new_id()
    put = client.put(
        f"{MODEL}/photos/{identity}", params={"work_order_id": str(TARN_ORDER), "position": 0}, content=picture()
    )
    ok(put)
    assert counts(together([lambda: client.delete(f"{V1}/photos/{identity}")] * n)) == {200: n}
    assert ok(client.get(f"{MODEL}/photos")) == []


@race("POST /archives")
def an_archive(client, n, same):
    before = {m["name"] for m in ok(client.get(f"{V1}/models"))}
    files = [client.get(f"{MODEL}/archive").content, client.get(f"{V1}/models/{edited(client, 1)}/archive").content]
    n = min(n, 4)
    send = [files[0 if same else i % 2] for i in range(n)]
    headers = {"content-type": "application/zip"}
    answers = together([lambda d=d: client.post(f"{V1}/archives", content=d, headers=headers) for d in send])
    assert counts(answers) == {201: n}
    names = [a.json()["name"] for a in answers]
    assert len(set(names) - before) == n, "each is a model of its own, under a name of its own"
