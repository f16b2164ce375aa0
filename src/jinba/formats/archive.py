"""The project file: one zip with ``manifest.json``, ``model.json`` and the JSON Schema that describes it.

Open and documented: docs/project-file.md. Reading is strict; anything wrong is one clear error and nothing is changed.
"""

from __future__ import annotations

import io
import json
import uuid
import zipfile
from datetime import datetime
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from jinba.core.cards.model import CardRecord
from jinba.core.configuration import Configuration
from jinba.core.correct.actions import Action
from jinba.core.diagnose.tendencies import Tendency
from jinba.core.errors import JinbaError
from jinba.core.flight.faults import Faults, Nature
from jinba.core.plan.weather import Wind
from jinba.formats import codec

FORMAT = "jinba-project"
VERSION = 1
LARGEST_BYTES = 20_000_000
_ = codec  # importing it makes every core record strict before the models below are built


class ArchiveError(JinbaError):
    """A project file that cannot be read; the title says what is wrong with it."""

    code = "bad-project-file"


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class RevisionFile(_Strict):
    """One saved state of a configuration."""

    number: int = Field(ge=1)
    words: str
    setup: Configuration


class ConfigurationFile(_Strict):
    """A configuration with its saved states."""

    id: uuid.UUID
    number: int = Field(ge=1)
    change_words: list[str]
    stale_cards: list[str]
    current_revision: int = Field(ge=1)
    revisions: list[RevisionFile] = Field(min_length=1)


class RecordFile(_Strict):
    """A logged card."""

    id: uuid.UUID
    configuration_id: uuid.UUID
    sortie_id: uuid.UUID | None
    recorded_at: datetime
    record: CardRecord
    setup: Configuration | None = None


class SortieFile(_Strict):
    """A sortie."""

    id: uuid.UUID
    configuration_id: uuid.UUID
    number: int = Field(ge=1)
    status: Literal["planned", "flying", "landed"]
    alone: bool
    simulated: bool
    card_ids: list[str]
    wind: Wind | None
    setup: Configuration
    predicted: list[Tendency] = []
    created_at: datetime
    landed_at: datetime | None


class WorkOrderFile(_Strict):
    """A decided rework."""

    id: uuid.UUID
    after_sortie_id: uuid.UUID
    to_configuration_id: uuid.UUID
    actions: list[Action]
    proofs: dict[str, str]
    created_at: datetime


class StandInFile(_Strict):
    """The hidden faults of the simulated twin."""

    faults: Faults
    nature: Nature


class ProjectFile(_Strict):
    """A model with its whole history."""

    id: uuid.UUID
    name: str = Field(min_length=1, max_length=60)
    story: str = Field(max_length=2000)
    stand_in: StandInFile | None
    configurations: list[ConfigurationFile] = Field(min_length=1)
    sorties: list[SortieFile]
    records: list[RecordFile]
    work_orders: list[WorkOrderFile]


def schema() -> dict[str, object]:
    """Return the JSON Schema of ``model.json``."""
    return ProjectFile.model_json_schema()


def write_archive(project: ProjectFile) -> bytes:
    """Return the bytes of a project file."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr("manifest.json", json.dumps({"format": FORMAT, "version": VERSION}, indent=1))
        z.writestr("model.json", project.model_dump_json(indent=1))
        z.writestr("model.schema.json", json.dumps(schema(), indent=1))
    return buffer.getvalue()


def read_archive(data: bytes) -> ProjectFile:
    """Return the project of a file. Raises: ArchiveError saying what is wrong and where."""
    if len(data) > LARGEST_BYTES:
        raise ArchiveError("This file is larger than 20 MB; a project file never is.")
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as z:
            manifest, text = _members(z)
    except zipfile.BadZipFile:
        raise ArchiveError("This is not a project file: it is not a zip archive.") from None
    if manifest.get("format") != FORMAT:
        raise ArchiveError("This zip archive is not a project file: its manifest does not say so.")
    if manifest.get("version") != VERSION:
        raise ArchiveError(
            f"This project file has version {manifest.get('version')!r}; this program reads version {VERSION}."
        )
    try:
        project = ProjectFile.model_validate_json(text)
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        where = "/".join(str(p) for p in first["loc"])
        raise ArchiveError(
            f"The project file is damaged at {where}: {first['msg']}.", where=where, count=error.error_count()
        ) from None
    _check_links(project)
    return project


def _members(z: zipfile.ZipFile) -> tuple[dict[str, object], bytes]:
    names = set(z.namelist())
    if not {"manifest.json", "model.json"} <= names:
        raise ArchiveError("This zip archive is not a project file: manifest.json or model.json is missing.")
    if sum(i.file_size for i in z.infolist()) > 5 * LARGEST_BYTES:
        raise ArchiveError("This project file unpacks to more than 100 MB; it is refused.")
    try:
        manifest = json.loads(z.read("manifest.json"))
    except (ValueError, UnicodeDecodeError):
        raise ArchiveError("The manifest of this project file is not JSON.") from None
    if not isinstance(manifest, dict):
        raise ArchiveError("The manifest of this project file is not an object.")
    return manifest, z.read("model.json")


def _check_links(project: ProjectFile) -> None:
    configurations = {c.id for c in project.configurations}
    sorties = {s.id for s in project.sorties}
    for s in project.sorties:
        if s.configuration_id not in configurations:
            raise ArchiveError(f"Sortie {s.number} refers to a configuration that is not in the file.")
    for r in project.records:
        if r.configuration_id not in configurations or (r.sortie_id is not None and r.sortie_id not in sorties):
            raise ArchiveError(f"A record of card {r.record.card_id} refers to something that is not in the file.")
    for o in project.work_orders:
        if o.after_sortie_id not in sorties or o.to_configuration_id not in configurations:
            raise ArchiveError("A work order refers to something that is not in the file.")
    for c in project.configurations:
        if c.current_revision not in {r.number for r in c.revisions}:
            raise ArchiveError(f"Configuration {c.number} points to a revision that is not in the file.")
