"""The project file: one zip with ``manifest.json``, ``model.json`` and the JSON Schema that describes it.

Open and documented: docs/project-file.md. Reading is strict; anything wrong is one clear error and nothing is changed.
"""

from __future__ import annotations

import io
import json
import uuid
import zipfile
import zlib
from datetime import datetime
from typing import Any, Literal

from pydantic import Base64Bytes, BaseModel, ConfigDict, Field, ValidationError

from jinba.core.cards.model import CardRecord
from jinba.core.configuration import Configuration
from jinba.core.correct.actions import Action
from jinba.core.errors import JinbaError
from jinba.core.flight.simulation.spread import Spread, Wrong
from jinba.core.plan.weather import Wind
from jinba.core.power.cells import Chemistry
from jinba.formats import codec
from jinba.formats.photo import MOST
from jinba.formats.project_upgrade import project_from_1, project_from_2
from jinba.formats.upgrade import SETUP_VERSION, NewerVersionError, upgrade_setup
from jinba.formats.voice import MOST_NOTES

FORMAT = "jinba-project"
VERSION = 3
LARGEST_BYTES = 20_000_000
_ = codec  # importing it makes every core record strict before the models below are built


class ArchiveError(JinbaError):
    """A project file that cannot be read; the title says what is wrong with it."""

    code = "bad-project-file"


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class SetupFile(_Strict):
    """A setup, once, with the version it is written in."""

    schema_version: int = Field(SETUP_VERSION, ge=1)
    body: Configuration


class RevisionFile(_Strict):
    """One saved state of a configuration; ``parent``: the number of the one it was made from; ``setup``: its key in setups."""

    number: int = Field(ge=1, le=1_000_000)
    parent: int | None = None
    words: str
    setup: str


class ConfigurationFile(_Strict):
    """A configuration with its saved states."""

    id: uuid.UUID
    number: int = Field(ge=1, le=1_000_000)
    change_words: list[str]
    opened_cards: list[str]
    current_revision: int = Field(ge=1)
    revisions: list[RevisionFile] = Field(min_length=1)


class RecordFile(_Strict):
    """A logged card: its place in the log, who wrote it knowing what, and what it corrects."""

    id: uuid.UUID
    order: int = Field(ge=0)
    epoch: int = Field(ge=0, le=2_000_001)
    configuration_id: uuid.UUID
    sortie_id: uuid.UUID | None
    setup: str
    record: CardRecord
    replaces: uuid.UUID | None = None
    logged_by: str = Field("", max_length=80)
    device: uuid.UUID | None = None
    device_name: str = Field("", max_length=80)
    seen: int | None = None
    made_at: datetime | None = None
    flown_at: datetime | None = None
    recorded_at: datetime


class ChoiceFile(_Strict):
    """A person's choice between entries of two devices."""

    record_id: uuid.UUID
    order: int = Field(ge=0)
    chosen_by: str = ""
    chosen_at: datetime


class PredictedFile(_Strict):
    """One behaviour as it was predicted before the flight, in the unit of its rail."""

    key: str
    value: float
    sigma: float = Field(ge=0)
    low: float
    high: float
    rail_low: float
    rail_high: float


class GatePassFile(_Strict):
    """A gate and the record that closed it."""

    card_id: str
    record_id: uuid.UUID


class OverrideFile(_Strict):
    """What would have stopped a sortie, and why it was flown all the same."""

    code: str
    words: str
    reason: str


class PackFile(_Strict):
    """A pack that flew a sortie: its name, and its label where that is known; ``cell_v`` of a cell at rest before [V], charge put back [C]."""

    name: str = Field(min_length=1, max_length=40)
    chemistry: Chemistry | None = None
    cells: int | None = Field(None, ge=1, le=30)
    capacity_c: float | None = Field(None, gt=0, le=1e6)
    rating_per_h: float | None = Field(None, gt=0, le=1e3)
    resistance_ohm: float | None = Field(None, gt=0, le=1e3)
    mass_kg: float | None = Field(None, gt=0, le=1e3)
    cell_v: float | None = Field(None, gt=0, le=10)
    put_back_c: float | None = Field(None, ge=0, le=1e6)


class SortieFile(_Strict):
    """A sortie; ``safe_minutes`` it was planned with [min]."""

    id: uuid.UUID
    configuration_id: uuid.UUID
    number: int = Field(ge=1, le=1_000_000)
    status: Literal["planned", "flying", "landed", "called_off"]
    alone: bool
    simulated: bool
    card_ids: list[str]
    proved: list[str] = []
    wind: Wind | None
    setup: str
    predicted: list[PredictedFile] = []
    gate_passes: list[GatePassFile] = []
    overrides: list[OverrideFile] = []
    created_at: datetime
    landed_at: datetime | None
    landed_order: int | None
    safe_minutes: float | None = Field(None, ge=0, le=1e4)
    pack: PackFile | None = None


class ProofFile(_Strict):
    """A reading that proves an action, by its place in the order."""

    action: int = Field(ge=0)
    reading: str
    number: float | None = None
    taken_back: bool = False
    proved_by: str = ""
    proved_at: datetime


class WorkOrderFile(_Strict):
    """A decided rework."""

    id: uuid.UUID
    after_sortie_id: uuid.UUID
    to_configuration_id: uuid.UUID
    actions: list[Action]
    proofs: list[ProofFile]
    created_at: datetime
    taken_back_at: datetime | None = None


class SignOffFile(_Strict):
    """A model handed over after a sortie."""

    id: uuid.UUID
    sortie_id: uuid.UUID
    signed_by: str
    remark: str = ""
    missing: list[str] = []
    signed_at: datetime
    taken_back_at: datetime | None = None


class PhotoFile(_Strict):
    """A photo of an incident's record, or of an action of a work order: JPEG, in base 64."""

    id: uuid.UUID
    record_id: uuid.UUID | None = None
    work_order_id: uuid.UUID | None = None
    position: int | None = Field(None, ge=0)
    caption: str = Field("", max_length=120)
    added_at: datetime
    jpeg: Base64Bytes


class NoteFile(_Strict):
    """What was noticed on a sortie, with its photo (JPEG) and its voice, in base 64; what was found of it."""

    id: uuid.UUID
    sortie_id: uuid.UUID
    card_id: str = Field("", max_length=8)
    what: str = Field("", max_length=40)
    words: str = Field("", max_length=500)
    noted_by: str = Field("", max_length=80)
    made_at: datetime
    found: str = Field("", max_length=500)
    jpeg: Base64Bytes | None = None
    sound: Base64Bytes | None = None


class WindReadFile(_Strict):
    """The wind as it was last read at the field, and when."""

    wind: Wind
    read_at: datetime


class StandInFile(_Strict):
    """The hidden faults of the simulated twin."""

    spread: Spread
    wrong: Wrong


class ProjectFile(_Strict):
    """A model with its whole history."""

    id: uuid.UUID
    name: str = Field(min_length=1, max_length=60)
    story: str = Field(max_length=2000)
    rehearsal: bool
    stand_in: StandInFile | None
    setups: dict[str, SetupFile]
    configurations: list[ConfigurationFile] = Field(min_length=1)
    sorties: list[SortieFile]
    records: list[RecordFile]
    choices: list[ChoiceFile]
    work_orders: list[WorkOrderFile]
    sign_offs: list[SignOffFile] = []
    photos: list[PhotoFile] = Field([], max_length=MOST)
    notes: list[NoteFile] = Field([], max_length=MOST_NOTES)
    wind_read: WindReadFile | None = None


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
    """Return the project of a file of this or an earlier version. Raises: ArchiveError saying what is wrong and where."""
    if len(data) > LARGEST_BYTES:
        raise ArchiveError("This file is larger than 20 MB; a project file never is.")
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as z:
            manifest, text = _members(z)
    except (zipfile.BadZipFile, zlib.error, EOFError, OSError, RuntimeError, NotImplementedError):
        raise ArchiveError("This is not a project file: it is not a zip archive, or it is damaged.") from None
    if manifest.get("format") != FORMAT:
        raise ArchiveError("This zip archive is not a project file: its manifest does not say so.")
    try:
        project = ProjectFile.model_validate(_upgraded(text, manifest.get("version")))
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        where = "/".join(str(p) for p in first["loc"])
        raise ArchiveError(
            f"The project file is damaged at {where}: {first['msg']}.", where=where, count=error.error_count()
        ) from None
    _check_links(project)
    return project


def _upgraded(text: bytes, version: object) -> Any:
    if version not in (1, 2, VERSION):
        raise ArchiveError(
            f"This project file has version {version!r}; this program reads versions 1 to {VERSION}. "
            "A newer file needs a newer program."
        )
    try:
        body = json.loads(text)
        _check_texts(body)
        if version == 1:
            body = project_from_1(body)
        if version in (1, 2):
            body = project_from_2(body)
        for setup in body.get("setups", {}).values():
            setup["body"] = upgrade_setup(setup["body"], setup["schema_version"])
            setup["schema_version"] = SETUP_VERSION
    except NewerVersionError as error:
        raise ArchiveError(error.title) from None
    except (ValueError, KeyError, TypeError, AttributeError, StopIteration, RecursionError) as error:
        raise ArchiveError(f"The project file is damaged at {error}: {type(error).__name__}.") from None
    return body


def _check_texts(node: object, where: str = "") -> None:
    """Refuse what no text holds: control characters but line ends and tabs, and halves of a character pair."""
    if isinstance(node, str):
        if any((ord(c) < 32 and c not in "\n\r\t") or "\ud800" <= c <= "\udfff" for c in node):
            raise ArchiveError(
                f"The project file is damaged at {where or 'a text'}: it holds characters that no text has."
            )
    elif isinstance(node, dict):
        for key, value in node.items():
            _check_texts(key, where)
            _check_texts(value, str(key))
    elif isinstance(node, list):
        for value in node:
            _check_texts(value, where)


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
    used = {r.setup for c in project.configurations for r in c.revisions}
    used |= {s.setup for s in project.sorties} | {r.setup for r in project.records}
    if used - project.setups.keys():
        raise ArchiveError(f"Setup {min(used - project.setups.keys())} is used and is not in the file.")
    for s in project.sorties:
        if s.configuration_id not in configurations:
            raise ArchiveError(f"Sortie {s.number} refers to a configuration that is not in the file.")
        if (s.status == "landed") != (s.landed_at is not None and s.landed_order is not None):
            raise ArchiveError(f"Sortie {s.number} is {s.status}, and the file says otherwise of its landing.")
    if sum(s.status in ("planned", "flying") for s in project.sorties) > 1:
        raise ArchiveError("Two sorties of the file are open at once; a model flies one at a time.")
    _check_numbers(project)
    records = {r.id for r in project.records}
    loose = {c.record_id for c in project.choices} | {r.replaces for r in project.records if r.replaces is not None}
    loose |= {g.record_id for s in project.sorties for g in s.gate_passes}
    if loose - records:
        raise ArchiveError("A choice, a correction or a gate refers to a record that is not in the file.")
    for r in project.records:
        if r.configuration_id not in configurations or (r.sortie_id is not None and r.sortie_id not in sorties):
            raise ArchiveError(f"A record of card {r.record.card_id} refers to something that is not in the file.")
    for o in project.work_orders:
        if o.after_sortie_id not in sorties or o.to_configuration_id not in configurations:
            raise ArchiveError("A work order refers to something that is not in the file.")
    actions = {(o.id, i) for o in project.work_orders for i in range(len(o.actions))}
    for p in project.photos:
        of_record, of_action = p.record_id in records, (p.work_order_id, p.position) in actions
        if of_record == of_action or (p.record_id is None) == (p.work_order_id is None):
            raise ArchiveError("A photo shows something that is not in the file.")
    if any(n.sortie_id not in sorties for n in project.notes):
        raise ArchiveError("A note was made on a sortie that is not in the file.")
    if any(s.sortie_id not in sorties for s in project.sign_offs):
        raise ArchiveError("A signing off refers to a sortie that is not in the file.")
    for c in project.configurations:
        if c.current_revision not in {r.number for r in c.revisions}:
            raise ArchiveError(f"Configuration {c.number} points to a revision that is not in the file.")


def _check_numbers(project: ProjectFile) -> None:
    numbered = (
        ("configuration", [c.number for c in project.configurations]),
        ("sortie", [s.number for s in project.sorties if s.status != "called_off"]),
        *((f"revision of configuration {c.number}", [r.number for r in c.revisions]) for c in project.configurations),
    )
    for what, numbers in numbered:
        twice = next((n for n in numbers if numbers.count(n) > 1), None)
        if twice is not None:
            raise ArchiveError(f"The file holds {what} {twice} twice.")
