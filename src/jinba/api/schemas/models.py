"""Shapes around models: shelf, bench, plan, sorties, rework, ledger."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from datetime import datetime
from typing import Annotated

from pydantic import AfterValidator, AwareDatetime, BaseModel, ConfigDict, Field, computed_field, model_validator

from jinba.core.airframe.parts import Airframe
from jinba.core.airframe.taken import How
from jinba.core.bench.answer import BenchAnswer
from jinba.core.cards.fitted import FlownWith
from jinba.core.cards.model import Card, CardRecord
from jinba.core.cards.noticed import Noticed
from jinba.core.cards.record_words import record_words
from jinba.core.configuration import Configuration
from jinba.core.correct.actions import Action, HeldBack
from jinba.core.correct.composed import Choices, Correction
from jinba.core.diagnose.tendencies import Tendency
from jinba.core.frames import PitchControl
from jinba.core.plan.endurance import Endurance, Fitted
from jinba.core.plan.programme import Programme
from jinba.core.plan.site import Light, Site
from jinba.core.plan.weather import Wind, WindRead, WindVerdict
from jinba.core.said import Said
from jinba.core.spoken import MARKS
from jinba.formats.upgrade import upgrade_entry
from jinba.services.notes import NoteLine
from jinba.services.today import Today


def _clean(text: str) -> str:
    if any((ord(c) < 32 and c not in "\n\t") or ord(c) == 127 or c in MARKS for c in text):
        raise ValueError("holds a control character; remove it and try again")
    return text


Text = Annotated[str, AfterValidator(_clean)]


class Strict(BaseModel):
    """Base of requests: unknown fields, NaN and infinities are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class NewModel(Strict):
    """Start a model from a silhouette."""

    id: uuid.UUID
    name: Text = Field(min_length=1, max_length=60)
    silhouette: Text
    span_m: float = Field(gt=0)
    rehearsal: bool = False


class RenameModel(Strict):
    """Call a model otherwise; ``story`` None leaves it as it is."""

    name: Text = Field(min_length=1, max_length=60)
    story: Text | None = Field(default=None, max_length=2000)


class NewRehearsal(Strict):
    """Copy a model for a stand-in to fly."""

    id: uuid.UUID


class NewSister(Strict):
    """Start a model from the airframe of another."""

    id: uuid.UUID
    name: Text = Field(min_length=1, max_length=60)


class SaveSetup(Strict):
    """Save a bench edit made on a known revision; ``how`` what is different was read, at which ``scale``: None where it was drawn."""

    base_revision: int
    setup: Configuration
    words: Text = Field(default="", max_length=300)
    how: How | None = How.MODEL
    scale: float = Field(default=1.0, ge=0.05, le=200)


class TakeMeasure(Strict):
    """Keep one reading of a measure made on a known revision: ``value`` [m or rad], of the left half or not, besides those there
    are or instead of them."""

    base_revision: int
    key: Text = Field(min_length=1, max_length=80)
    value: float
    left: bool = False
    again: bool = False
    how: How = How.MODEL
    scale: float = Field(default=1.0, ge=0.05, le=200)


class MoveDatum(Strict):
    """Describe the model from a datum ``dx_m`` further aft."""

    base_revision: int
    dx_m: float = Field(ge=-12, le=12)
    words: Text = Field(min_length=1, max_length=80)


class WrittenBy(Strict):
    """Who wrote an entry on which device, when by its clock, when that clock sent it, and the newest entry it knew of."""

    device: uuid.UUID
    device_name: Text = Field(default="", max_length=80)
    by: Text = Field(default="", max_length=80)
    made_at: AwareDatetime
    sent_at: AwareDatetime
    seen: int | None = Field(default=None, ge=0, le=2**62)


class LogRecord(Strict):
    """A logged card with its client-made id, in the version of the page that wrote it; an older page's is brought up.

    ``replaces``: the entry this one corrects.
    """

    id: uuid.UUID
    record: CardRecord
    version: int = Field(default=1, ge=1, le=1000)
    written: WrittenBy | None = None
    replaces: uuid.UUID | None = None

    @model_validator(mode="before")
    @classmethod
    def _brought_up(cls, body: object) -> object:
        if not isinstance(body, dict):
            return body
        version = body.get("version", 1)
        return upgrade_entry(body, version) if isinstance(version, int) and 1 <= version <= 1000 else body


class LogRecords(Strict):
    """Logged cards that waited on a device, in its order. ``more``: others of the sortie follow at once, it is not wanted back yet."""

    entries: list[LogRecord] = Field(min_length=1, max_length=200)
    more: bool = False


class NewNote(Strict):
    """What was noticed on a sortie, with its client-made id: ``what`` by one tap, on which card; a photo and a voice are added to it."""

    id: uuid.UUID
    what: str = Field(default="", max_length=40)
    words: Text = Field(default="", max_length=500)
    card_id: str = Field(default="", max_length=8)
    written: WrittenBy | None = None


class GoneThrough(Strict):
    """What a note was, or what was found; empty: nobody has gone through it."""

    found: Text = Field(max_length=500)


class ChosenBy(Strict):
    """Who decides which of two entries counts."""

    by: Text = Field(default="", max_length=80)


class NewSortie(Strict):
    """Plan a sortie. ``reasons``: by the code of each stop, why the pilot in command flies all the same.

    ``flown``: it has been flown already, without a plan, and why. ``wind``: None for the one that was read last. ``away``: it was begun
    on a device while the program did not answer; by whom and when.
    """

    id: uuid.UUID
    card_ids: list[Text]
    wind: Wind | None = None
    alone: bool = False
    reasons: dict[str, Text] = {}
    flown: Text = Field("", max_length=300)
    away: WrittenBy | None = None


class ReadWind(Strict):
    """The wind as it is read at the field. [m/s, rad]"""

    wind: Wind


class AcceptRework(Strict):
    """Accept the proposed correction with the pilot's choices."""

    id: uuid.UUID
    choices: Choices = Choices()


class NewSignOff(Strict):
    """Hand a model over. ``remark``: why all the same, where something is missing."""

    id: uuid.UUID
    signed_by: Text = Field(max_length=80)
    remark: Text = Field("", max_length=300)


class Proof(Strict):
    """The reading that proves one action of a work order: in words, or a number signed as what is expected is.

    ``differently``: it was not done as ordered, and this is how it stands. ``taken_back``: the action is open again.
    """

    index: int
    reading: Text = Field("", max_length=200)
    number: float | None = Field(None, ge=-1e6, le=1e6)
    differently: bool = False
    taken_back: bool = False


class ShelfModel(BaseModel):
    """A model on the shelf, with its own geometry for the silhouette."""

    id: uuid.UUID
    name: str
    story: str
    read_only: bool
    rehearsal: bool
    put_away: bool
    airframe: Airframe


class WorkOrder(BaseModel):
    """A decided rework."""

    id: uuid.UUID
    actions: list[Action]
    proofs: dict[str, str]
    to_configuration: int


class SortieSummary(BaseModel):
    """A sortie in a list."""

    id: uuid.UUID
    number: int
    status: str
    alone: bool
    simulated: bool
    card_ids: list[str]
    configuration: int
    landed_at: datetime | None


class IncidentLine(BaseModel):
    """Something that went wrong: the sortie it happened in or after (0 before any), in words, the cards still open for it and the parts
    that were damaged, by key and in words; ``record_id``: what first told of it, which its photos hang on."""

    record_id: uuid.UUID
    sortie: int
    words: str
    open: list[str]
    open_titles: list[str]
    damaged: list[str]
    damaged_names: list[str]


class ModelDetail(BaseModel):
    """Everything a place of the loop needs to know of a model."""

    id: uuid.UUID
    name: str
    story: str
    read_only: bool
    rehearsal: bool
    configuration: int
    change_words: list[str]
    revision: int
    can_undo: bool
    can_redo: bool
    setup: Configuration
    pitch_control: PitchControl
    today: Today
    sorties: list[SortieSummary]
    work_order: WorkOrder | None
    stale: list[str]
    log_order: int
    incidents: list[IncidentLine]
    incident_card: Card


class LogLine(BaseModel):
    """An entry of a sortie's log: whether it counts, was replaced or stands against another device's, who logged it and when."""

    model_config = ConfigDict(from_attributes=True)

    id: uuid.UUID
    record: CardRecord
    counts: bool
    replaced: bool
    replaces: uuid.UUID | None
    contested: bool
    logged_by: str
    device: uuid.UUID | None
    device_name: str
    flown_at: datetime | None
    recorded_at: datetime

    @computed_field  # type: ignore[prop-decorator]
    @property
    def said(self) -> tuple[str, ...]:
        """What it says, one sentence a measure."""
        return record_words(self.record)


class DiaryLine(LogLine):
    """An entry of a model's whole log: the sortie it belongs to, None for the bench and the ground, and the title of its card."""

    sortie_id: uuid.UUID | None
    sortie_number: int | None
    title: str


class Diary(BaseModel):
    """Everything that was logged of a model, the newest first."""

    lines: list[DiaryLine]


class Against(BaseModel):
    """What would have stopped a sortie, by its code and in words, and why it is flown all the same."""

    code: str
    words: str
    reason: str


class DirectionTable(BaseModel):
    """Every direction in words: response key to model, stick, surface and trim lever; what each axis' control is called."""

    responses: dict[str, dict[str, str]]
    controls: dict[str, str]


class SortieDetail(BaseModel):
    """A sortie with its cards and what counts of each; it starts with the first logged card, from which the pack's minutes count.

    ``log``: every entry, repeats, corrections and other devices' included; ``log_order``: the newest entry, to be sent back as
    what the next writer has seen. ``incident``: the card for what went wrong, in no sortie's list; ``phases``: the part of the
    flight that it begins with, by the card that was broken off. ``others``: flight cards that
    are not on its list, taken in when flown all the same. ``radio``: by card, what stood in the radio when the sortie began, in words.
    ``safe_minutes``: what its ``pack`` (by name, empty where nobody named it) gives, its reserve kept back [min]. ``flown_with``: what
    beside the pilot may have flown a card; ``airframe`` and ``directions``: how it is drawn, and how a pilot of its radio says every
    direction. ``notes``: what was noticed on it; ``noticed``: what one tap may say. Whoever has the sortie needs nothing else to log it.
    """

    id: uuid.UUID
    model_id: uuid.UUID
    model_name: str
    flown_with: FlownWith
    airframe: Airframe
    directions: DirectionTable
    number: int
    status: str
    alone: bool
    simulated: bool
    cards: list[Card]
    others: list[Card]
    records: list[CardRecord]
    wind: Wind | None
    safe_minutes: float
    pack: str
    started_at: datetime
    log: list[LogLine]
    log_order: int
    radio: dict[str, str]
    against: list[Against]
    incident: Card
    phases: dict[str, str]
    notes: list[NoteLine]
    noticed: list[Noticed]


class PlanCost(BaseModel):
    """What an order of cards takes and costs against the proposal, in sentences; ``refused``: why it may not be flown so."""

    model_config = ConfigDict(from_attributes=True)

    minutes: float
    safe_minutes: float
    costs: list[str]
    refused: str


class Plan(BaseModel):
    """The programme for the next sortie, with the wind's verdict.

    ``contested``: the entries of cards of which two devices say different things, to choose from. ``stops``: what stops the
    sortie as it is proposed, each to be mended or overridden with a reason; ``firm``: codes of those no reason overrides.
    ``wind_read``: the wind as it was last read, with its time; ``wind`` is its verdict, None once it is too old to go by.
    ``endurance``: the minutes it may take and what they rest on; ``fitted``: the pack that is to fly, None: nobody named it;
    ``full_throttle_a`` as measured last [A]. ``site``: where it is flown, None: not chosen; its ``light`` now, and what it says of the sortie.
    """

    stops: list[Said]
    programme: Programme
    cards: list[Card]
    wind: WindVerdict | None
    wind_read: WindRead | None
    stall_speed_mps: float
    firm: list[str]
    endurance: Endurance
    fitted: Fitted | None
    full_throttle_a: float | None
    site_id: uuid.UUID | None
    site: Site | None
    light: Light | None
    at_the_site: list[Said]
    contested: list[LogLine] = []


class Rework(BaseModel):
    """A composed correction; ``pack_key``: the pack that is moved first, None without one; ``first``: what is better done before anything
    is changed."""

    actions: list[Action]
    held_back: list[HeldBack]
    setup: Configuration
    flown_setup: Configuration
    pack_key: str | None
    now: list[Tendency]
    predicted: list[Tendency]
    change_words: list[str]
    stale: list[str]
    wanted_margin: float
    wanted_words: str
    shortfall_m: float
    contradictions: list[Said]
    decided: WorkOrder | None
    first: list[Said] = []

    @classmethod
    def of(
        cls, c: Correction, *, flown: Configuration, decided: WorkOrder | None = None, first: Sequence[Said] = ()
    ) -> Rework:
        """Return a correction of a setup as it was flown, what was decided of it, and what is better done before."""
        return cls(
            actions=list(c.actions),
            held_back=list(c.held_back),
            setup=c.configuration,
            flown_setup=flown,
            pack_key=None if flown.battery is None else flown.battery.key,
            now=list(c.now),
            predicted=list(c.predicted),
            change_words=list(c.difference.words),
            stale=sorted(c.difference.stale),
            wanted_margin=c.wanted_margin,
            wanted_words=c.wanted_words,
            shortfall_m=c.shortfall_m,
            contradictions=list(c.contradictions),
            decided=decided,
            first=list(first),
        )


class SilhouetteInfo(BaseModel):
    """A starting shape with a drawing at one metre span."""

    key: str
    name: str
    words: str
    airframe: Airframe


class BenchView(BaseModel):
    """The bench's numbers, with the ghosts of where the battery was flown."""

    answer: BenchAnswer
    flown_battery_x_m: list[float]


class ArrangeRequest(BaseModel):
    """Where the model should balance: a station, or none for the maiden or class target; its tolerance; level as well."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    target_x_m: float | None = Field(None, ge=-12, le=12)
    tolerance_m: float = Field(0.0015, ge=0.0002, le=0.05)
    level: bool = False
