"""The project file: what goes in comes out, and no damaged byte gets further than one clear sentence."""

from __future__ import annotations

import io
import json
import uuid
import zipfile
from datetime import UTC, datetime

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.frames import Response
from jinba.formats.archive import (
    ArchiveError,
    ConfigurationFile,
    ProjectFile,
    RecordFile,
    RevisionFile,
    SetupFile,
    SortieFile,
    read_archive,
    schema,
    write_archive,
)
from tests.builders import model

NOW = datetime(2026, 3, 1, 9, 30, tzinfo=UTC)


def project(note: str = "calm", clicks: float = 3.0) -> ProjectFile:
    configuration, sortie = uuid.uuid4(), uuid.uuid4()
    record = CardRecord(
        "F2",
        Outcome.DONE,
        (Reading("pitch_clicks", number=clicks, direction=Response.NOSE_UP), Reading("left_over", choice="holds")),
        left_alone=True,
        note=note,
    )
    return ProjectFile(
        id=uuid.uuid4(),
        name="Merlin's shed",
        story="",
        rehearsal=False,
        stand_in=None,
        setups={"a": SetupFile(body=model())},
        configurations=[
            ConfigurationFile(
                id=configuration,
                number=1,
                change_words=[],
                opened_cards=[],
                current_revision=1,
                revisions=[RevisionFile(number=1, words="measured", setup="a")],
            )
        ],
        sorties=[
            SortieFile(
                id=sortie,
                configuration_id=configuration,
                number=1,
                status="landed",
                alone=False,
                simulated=False,
                card_ids=["F1", "F2"],
                wind=None,
                setup="a",
                created_at=NOW,
                landed_at=NOW,
                landed_order=2,
            )
        ],
        records=[
            RecordFile(
                id=uuid.uuid4(),
                order=1,
                epoch=1,
                configuration_id=configuration,
                sortie_id=sortie,
                setup="a",
                recorded_at=NOW,
                record=record,
            )
        ],
        choices=[],
        work_orders=[],
    )


def repacked(change) -> bytes:
    """Return a project file whose model.json went through ``change``."""
    data = json.loads(project().model_dump_json())
    change(data)
    return zipped({"manifest.json": {"format": "jinba-project", "version": 2}, "model.json": data})


def zipped(members: dict[str, object]) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as z:
        for name, content in members.items():
            z.writestr(name, content if isinstance(content, str) else json.dumps(content))
    return buffer.getvalue()


@given(st.text(st.characters(exclude_categories=["Cs", "Cc"]), max_size=200), st.integers(0, 60))
@settings(max_examples=20)
def test_a_project_survives_its_file_exactly(note, clicks):
    p = project(note, float(clicks))
    assert read_archive(write_archive(p)) == p


def test_the_file_carries_the_schema_that_describes_it():
    """The archive's own JSON Schema (draft 2020-12) accepts its model.json; jsonschema is the judge."""
    with zipfile.ZipFile(io.BytesIO(write_archive(project()))) as z:
        own = json.loads(z.read("model.schema.json"))
        data = json.loads(z.read("model.json"))
    assert own == schema()
    jsonschema.Draft202012Validator.check_schema(own)
    jsonschema.validate(data, own)
    data["surprise"] = 1
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(data, own)


def test_files_written_before_predictions_were_stored_are_still_read():
    old = repacked(lambda d: d["sorties"][0].pop("predicted"))
    assert read_archive(old).sorties[0].predicted == []


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "not a zip"),
        (b"PK\x03\x04 but no more", "not a zip"),
        (write_archive(project())[:-400] + b"\0" * 400, "not a zip archive, or it is damaged"),
        (zipped({"model.json": "{}"}), "manifest.json or model.json is missing"),
        (zipped({"manifest.json": "[1]", "model.json": "{}"}), "not an object"),
        (zipped({"manifest.json": "{", "model.json": "{}"}), "not JSON"),
        (zipped({"manifest.json": {"format": "other"}, "model.json": "{}"}), "does not say so"),
        (zipped({"manifest.json": {"format": "jinba-project", "version": 9}, "model.json": "{}"}), "a newer program"),
        (zipped({"manifest.json": {"format": "jinba-project", "version": 1}, "model.json": "{"}), "damaged at"),
        (zipped({"manifest.json": {"format": "jinba-project", "version": 1}, "model.json": "{}"}), "damaged at"),
        (repacked(lambda d: d["sorties"][0].update(setup="b")), "Setup b is used and is not in the file"),
        (repacked(lambda d: d["sorties"][0].update(landed_order=None)), "says otherwise of its landing"),
        (repacked(lambda d: d["records"][0].update(replaces=str(uuid.uuid4()))), "a record that is not in the file"),
        (repacked(lambda d: d["configurations"].append(d["configurations"][0])), "holds configuration 1 twice"),
        (repacked(lambda d: d["setups"]["a"].update(schema_version=9)), "bring the program up to date"),
        (repacked(lambda d: d["sorties"][0].update(configuration_id=str(uuid.uuid4()))), "Sortie 1 refers to"),
        (repacked(lambda d: d["records"][0].update(sortie_id=str(uuid.uuid4()))), "record of card F2 refers to"),
        (repacked(lambda d: d["configurations"][0].update(current_revision=7)), "points to a revision"),
        (repacked(lambda d: d["setups"]["a"]["body"].update(pack_minutes=-1)), "damaged at"),
        (repacked(lambda d: d.update(name="")), "damaged at name"),
        (b"0" * 20_000_001, "larger than 20 MB"),
    ],
)
def test_damage_is_one_clear_sentence(data, words):
    with pytest.raises(ArchiveError, match=words):
        read_archive(data)


def test_a_zip_that_swells_is_refused_before_it_is_unpacked():
    bomb = zipped({"manifest.json": {"format": "jinba-project", "version": 1}, "model.json": "0" * 101_000_000})
    assert len(bomb) < 1_000_000
    with pytest.raises(ArchiveError, match="unpacks to more than 100 MB"):
        read_archive(bomb)


@given(st.binary(max_size=300))
def test_any_bytes_whatever_are_refused_in_words(data):
    with pytest.raises(ArchiveError):
        read_archive(data)
