"""Databases and project files of every landed version are brought up with their data kept.

``states/``: dumps and project files written by the programs of those commits, each with the demo and an invented model that
was edited, undone, flown, corrected, aborted, reworked and half proved.
"""

from __future__ import annotations

import gzip
import uuid
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest
from psycopg.rows import dict_row
from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from jinba.cli import postgres
from jinba.core.configuration import Configuration
from jinba.core.diagnose.update import METHOD_VERSION
from jinba.core.history.model import SortieStatus
from jinba.formats.codec import from_json
from jinba.formats.upgrade import ENTRY_VERSION, SETUP_STEPS, NewerVersionError, upgrade_entry, upgrade_setup
from jinba.persistence.database import check, make_engine, reading, unit_of_work, upgrade
from jinba.persistence.orm import EstimateRow, ModelRow, ReadingRow, RecordRow
from jinba.persistence.repositories import Estimates, Models, Orders, Sorties
from jinba.services import archive, debrief, estimates, fly, plan, shelf
from jinba.services.history import history
from jinba.services.setups import setup_of
from tests.states import close_gates

STATES = Path(__file__).parent / "states"
COMMITS = ("c6f94c0", "4b42f29", "308e144")
Tables = dict[str, list[dict]]


class Upgraded:
    """A database of an old commit: its tables as they were, and a session on what became of them."""

    def __init__(self, old: Tables, session: Session) -> None:
        self.old, self.session = old, session

    def model(self, name: str) -> uuid.UUID:
        return next(m["id"] for m in self.old["model"] if m["name"] == name)


@pytest.fixture(scope="module", params=COMMITS)
def upgraded(request, server: postgres.Server) -> Iterator[Upgraded]:
    name = f"t_{uuid.uuid4().hex[:12]}"
    postgres.ensure_database(server, name)
    url = server.url(name)
    with psycopg.connect(url.replace("+psycopg", ""), autocommit=True) as c:
        c.execute(gzip.decompress((STATES / f"{request.param}.sql.gz").read_bytes()).decode())
    with psycopg.connect(url.replace("+psycopg", ""), row_factory=dict_row) as c:
        names = ("model", "configuration", "revision", "sortie", "record", "analysis", "work_order")
        old = {t: c.execute(f"SELECT * FROM public.{t}").fetchall() for t in names}
    upgrade(url)
    check(url)
    engine = make_engine(url)
    with sessionmaker(engine)() as session:
        yield Upgraded(old, session)
        session.rollback()
    engine.dispose()
    postgres.drop_database(server, name)


def test_every_setup_of_every_revision_sortie_and_record_is_the_same(upgraded):
    s = upgraded.session
    for c in upgraded.old["configuration"]:
        old = [r for r in upgraded.old["revision"] if r["configuration_id"] == c["id"]]
        new = Models(s).revisions(c["id"])
        assert [(r.number, r.words) for r in new] == [
            (r["number"], r["words"]) for r in sorted(old, key=lambda r: r["number"])
        ]
        by_number = {r["number"]: r["setup"] for r in old}
        for r in new:
            assert setup_of(s, r.setup_hash) == from_json(Configuration, by_number[r.number])
        row = next(x for x in Models(s).configurations(c["model_id"]) if x.id == c["id"])
        assert Models(s).revision(row.current_revision_id).number == c["current_revision"]
        assert (row.change_words, row.opened_cards) == (c["change_words"], c["stale_cards"])
    for sortie in upgraded.old["sortie"]:
        assert setup_of(s, Sorties(s).get(sortie["id"]).setup_hash) == from_json(Configuration, sortie["setup"])
    for record in (r for r in upgraded.old["record"] if r.get("setup") is not None):
        kept = s.get_one(RecordRow, record["id"])
        assert setup_of(s, kept.setup_hash) == from_json(Configuration, record["setup"])


def test_every_record_reading_proof_and_prediction_is_there(upgraded):
    s = upgraded.session
    assert len(s.scalars(select(RecordRow)).all()) == len(upgraded.old["record"])
    for old in upgraded.old["record"]:
        new, body = s.get_one(RecordRow, old["id"]), old["record"]
        said = ("outcome", "left_alone", "confidence", "from_memory", "note")
        assert {k: getattr(new, k) for k in said} == {k: body[k] for k in said}
        assert (new.card_id, new.sortie_id, new.recorded_at) == (old["card_id"], old["sortie_id"], old["recorded_at"])
        query = select(ReadingRow).where(ReadingRow.record_id == old["id"]).order_by(ReadingRow.position)
        readings = [(r.measure, r.number, r.choice, r.direction, r.nothing) for r in s.scalars(query)]
        assert readings == [(r["key"], r["number"], r["choice"], r["direction"], r["none"]) for r in body["readings"]]
    for old in upgraded.old["work_order"]:
        words = ("kind", "amount", "unit", "words", "why", "proof", "surface_words", "thumb")
        new = [{k: getattr(a, k) for k in words} for a in Orders(s).actions(old["id"])]
        assert new == [{k: a[k] for k in words} for a in old["actions"]]
        assert {str(p.position): p.reading for p in Orders(s).proofs(old["id"])} == old["proofs"]
    for old in upgraded.old["sortie"]:
        assert list(Sorties(s).cards(old["id"])) == old["card_ids"]
        said = {p.key: (p.value, p.sigma) for p in Sorties(s).predictions((old["id"],)).get(old["id"], [])}
        assert said == {t["key"]: (t["value"], t["sigma"]) for t in old["predicted"]}


def test_what_was_debriefed_stays_under_the_method_it_was_computed_by(upgraded):
    s = upgraded.session
    for old in upgraded.old["analysis"]:
        first = Estimates(s).every(old["sortie_id"])[0]
        stored = estimates.read_stored(s, {0: first})[0]
        assert (stored.method, stored.data_count) == ("map-1", old["result"]["data_count"])
        assert [(t.key, t.value) for t in stored.after] == [(t["key"], t["value"]) for t in old["result"]["after"]]
        causes = [(c.key, c.value, c.verdict) for c in estimates.stored_causes(s, first.id)]
        assert causes == [(c["key"], c["value"], c["verdict"]) for c in old["result"]["causes"]]


def test_the_loop_goes_on_and_one_command_computes_everything_by_the_present_method(upgraded):
    s = upgraded.session
    fell = upgraded.model("Fell")
    assert fell in estimates.missing(s)
    changes = estimates.recompute(s, fell)
    assert [(c.sortie, c.method_before, c.method) for c in changes] == [(1, "map-1", METHOD_VERSION)]
    assert fell not in estimates.missing(s)
    stored = len(s.scalars(select(EstimateRow)).all())
    again = estimates.recompute(s, fell)
    assert [c.margin_before for c in again] == [c.margin for c in again] == [c.margin for c in changes]
    assert len(s.scalars(select(EstimateRow)).all()) == stored, "computed once: nothing has changed since"
    first = history(s, fell).landed[0]
    told = debrief.debrief(s, first.id)
    assert [e.method for e in told.earlier] == ["map-1"]
    assert told.earlier[0].static_margin == pytest.approx(changes[0].margin_before)
    known = history(s, fell)
    assert known.open_sortie is not None
    assert known.open_sortie.status is SortieStatus.FLYING
    before = len(s.scalars(select(EstimateRow)).all())
    fly.land(s, known.open_sortie.id)
    assert len(s.scalars(select(EstimateRow)).all()) > before
    close_gates(s, fell)
    assert plan.next_programme(history(s, fell))[0].gates == ()


@pytest.mark.parametrize("commit", COMMITS)
def test_the_project_file_of_each_commit_is_read(flown_url, commit):
    engine = make_engine(flown_url)
    data = (STATES / f"{commit}.jinba.zip").read_bytes()
    with unit_of_work(sessionmaker(engine)) as session:
        model_id = archive.import_model(session, archive.read_project(data)).id
    with reading(sessionmaker(engine)) as session:
        known = history(session, model_id)
        assert [s.status.value for s in known.sorties] == ["landed", "flying"]
        entries = fly.get_sortie(session, known.sorties[0].id).entries
        assert [(e.record.note, e.counts) for e in entries if e.record.card_id == "F1"] == [
            ("over ½ the strip", False),
            ("", True),
        ]
        assert known.order is None or known.order.proofs[0] == "read 12.5 mm"
        assert "G1" in known.results
        _, again = archive.export_model(session, model_id)
        assert archive.read_project(archive.write_project(again)) == again
    engine.dispose()


def test_a_setup_climbs_step_by_step_and_a_newer_one_is_refused(monkeypatch):
    monkeypatch.setitem(SETUP_STEPS, -1, lambda b: {**b, "first": 1})
    monkeypatch.setitem(SETUP_STEPS, 0, lambda b: {**b, "second": b["first"] + 1})
    assert upgrade_setup({}, -1) == {"first": 1, "second": 2}
    with pytest.raises(NewerVersionError, match="bring the program up to date"):
        upgrade_setup({}, 99)
    assert upgrade_entry({"id": "x"}, 1) == {"id": "x"}
    with pytest.raises(NewerVersionError):
        upgrade_entry({}, ENTRY_VERSION + 1)


def test_models_are_kept(upgraded):
    """Whatever a stand-in has flown is a rehearsal from now on; its twin belonged to an earlier simulation."""
    flown = {s["model_id"] for s in upgraded.old["sortie"] if s["simulated"]}
    kept = {m.id: (m.name, m.story, m.rehearsal) for m in upgraded.session.scalars(select(ModelRow))}
    assert kept == {m["id"]: (m["name"], m["story"], m["id"] in flown) for m in upgraded.old["model"]}
    assert flown
    assert {m.id for m in shelf.shelf(upgraded.session)} == set(kept)
