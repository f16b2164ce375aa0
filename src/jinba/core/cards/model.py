"""What a test card, a measure to capture and a logged record are."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from jinba.core.controls.switches import FlightMode
from jinba.core.errors import JinbaError, UnknownKeyError, check_range, check_text
from jinba.core.frames import Response
from jinba.core.spoken import an_amount


class Phase(StrEnum):
    """When a card is done."""

    BENCH = "bench"
    GROUND = "ground"
    FLIGHT = "flight"
    AFTER = "after"


class CaptureKind(StrEnum):
    """How a measure is captured."""

    RATING = "rating"
    TIMED = "timed"
    COUNT = "count"
    STICK = "stick"
    SURFACE = "surface"
    LEVEL = "level"
    CHOICE = "choice"
    READING = "reading"
    YES_NO = "yes_no"
    PART = "part"


@dataclass(frozen=True, slots=True)
class Option:
    """One worded choice of a rating or choice."""

    key: str
    words: str


@dataclass(frozen=True, slots=True)
class Capture:
    """One measure of a card.

    ``options`` of a rating run from the lowest to the highest value; ``upright`` lays them out with the highest on top,
    else from left to right. ``directions`` are the two responses of a count or a stick. ``unit`` of a plain number.
    ``as_seated``: the options are wings as seated in the cockpit, to be drawn in that attitude. ``passes_to``: a gate is passed with
    a number up to this, None: with any. ``wait_minutes``: it is read so long after touch-down, the same each time [min]; ``by_clock``: the
    minutes from take-off to touch-down, where a clock ran [min]. ``on_wish``: asked only from where the card is kept, even after landing.
    """

    key: str
    kind: CaptureKind
    label: str
    required: bool = False
    options: tuple[Option, ...] = ()
    upright: bool = False
    as_seated: bool = False
    directions: tuple[Response, ...] = ()
    unit: str = ""
    highest: float = 1e4
    passes_to: float | None = None
    wait_minutes: float = 0.0
    by_clock: bool = False
    on_wish: bool = False


@dataclass(frozen=True, slots=True)
class Card:
    """One thing to do, with what to hold constant, what to capture and when to stop.

    ``risk`` 0 to 5; ``needs`` cards passed in the present configuration; ``steps`` spoken one at a time;
    ``tells`` / ``masked_by`` in words; ``proof_of_trim``: the record must say whether the model could be left alone just
    before; ``inverted``: only for models that are flown inverted; ``requires``: "flap" or "stabiliser", only for models that have
    one, "repair" or "incident", only after one; "rudder" too, and "rudder_rolls" one without ailerons;
    ``minutes`` it takes in the air. ``throttle``: where the lever is while it is looked at, in a word; empty where the card moves
    it itself, or does not mind it; ``with_flap``: what still counts of it when it was flown with flap, in words; empty: nothing.
    ``gear_down``: a gear that folds is down for it.
    """

    id: str
    title: str
    purpose: str
    phase: Phase
    risk: int
    steps: tuple[str, ...]
    captures: tuple[Capture, ...]
    condition: str = ""
    needs: tuple[str, ...] = ()
    abort_when: str = ""
    cautions: tuple[str, ...] = ()
    tells: str = ""
    masked_by: str = ""
    proof_of_trim: bool = False
    inverted: bool = False
    powered: bool = False
    requires: str = ""
    gust_limit_mps: float | None = None
    minutes: float = 0.0
    throttle: str = ""
    with_flap: str = ""
    gear_down: bool = False

    def capture(self, key: str) -> Capture:
        """Return the capture with this key. Raises: UnknownKeyError."""
        for capture in self.captures:
            if capture.key == key:
                return capture
        raise UnknownKeyError(f"Card {self.id} has no measure called {key!r}.", card=self.id, key=key)


class Confidence(StrEnum):
    """How sure the observer is; widens the sigma of a reading."""

    SURE = "sure"
    FAIR = "fair"
    DOUBTFUL = "doubtful"


class Outcome(StrEnum):
    """How a card ended."""

    DONE = "done"
    PASSED = "passed"
    FAILED = "failed"
    SKIPPED = "skipped"
    ABORTED = "aborted"


@dataclass(frozen=True, slots=True)
class Reading:
    """One captured measure.

    ``number`` (seconds, clicks, stick fraction, metres, ...; never signed), ``choice`` (option key), ``direction`` (the
    model's response for counts and sticks), ``none``: nothing happened within ``number`` seconds, or no stick at all.
    ``entered``: the number as it was typed, with its unit, empty where it was not typed. ``telemetry``: taken from a link, not by eye,
    hand or watch.
    """

    key: str
    number: float | None = None
    choice: str | None = None
    direction: Response | None = None
    none: bool = False
    entered: str = ""
    telemetry: bool = False

    def __post_init__(self) -> None:
        check_text("measure key", self.key, longest=60)
        check_text("number as entered", self.entered, longest=40)
        if self.choice is not None:
            check_text("choice", self.choice, longest=60)
        if self.number is not None:
            check_range(self.key.replace("_", " "), self.number, unit="", low=0.0, high=1e5)


class GearState(StrEnum):
    """Where the landing gear was."""

    UP = "up"
    DOWN = "down"


@dataclass(frozen=True, slots=True)
class Conditions:
    """What a card was flown in; None is "not known", never a default.

    ``throttle``, ``flap``: 0 to 1 of full; ``mode`` of a stabiliser; ``wind_mps``, ``gust_mps`` then [m/s]; ``pack``: the name
    written on the pack.
    """

    throttle: float | None = None
    flap: float | None = None
    gear: GearState | None = None
    mode: FlightMode | None = None
    wind_mps: float | None = None
    gust_mps: float | None = None
    pack: str = ""

    def __post_init__(self) -> None:
        for name, share in (("throttle", self.throttle), ("flap", self.flap)):
            if share is not None:
                check_range(name, share, unit="of full", low=0.0, high=1.0)
        for name, speed in (("wind", self.wind_mps), ("gust", self.gust_mps)):
            if speed is not None:
                check_range(name, speed, unit="m/s", low=0.0, high=70.0)
        check_text("pack", self.pack, longest=40)


@dataclass(frozen=True, slots=True)
class CardRecord:
    """What was logged for one card.

    ``left_alone``: None where not asked, True when it flew hands off and level for some seconds just before, False when it
    could not be left alone, which is itself a finding. ``from_memory``: logged after landing.
    """

    card_id: str
    outcome: Outcome
    readings: tuple[Reading, ...] = ()
    left_alone: bool | None = None
    confidence: Confidence = Confidence.FAIR
    from_memory: bool = False
    note: str = ""
    conditions: Conditions = Conditions()

    def __post_init__(self) -> None:
        check_text("card", self.card_id, longest=10)
        check_text("note", self.note, longest=2000)

    def reading(self, key: str) -> Reading | None:
        """Return the reading of a measure, or None."""
        return next((r for r in self.readings if r.key == key), None)


def check_record(card: Card, record: CardRecord, *, kept: bool = False) -> None:
    """Refuse a record that does not fit its card: unknown or repeated measures, options, directions, numbers out of range.

    ``kept``: it was taken once, by whatever was asked for then; a gate that lacks an answer stays in the log, and open.
    Raises: UnknownKeyError, OutOfRangeError, JinbaError naming the measure.
    """
    seen: set[str] = set()
    for reading in record.readings:
        capture = card.capture(reading.key)
        if reading.key in seen:
            raise JinbaError(f"{capture.label} is said twice in one record: keep one of them.", key=reading.key)
        seen.add(reading.key)
        _check_reading(capture, reading)
    if kept:
        return
    if record.outcome in (Outcome.DONE, Outcome.PASSED):
        _check_complete(card, record, seen)
    if is_gate(card) and record.outcome in (Outcome.DONE, Outcome.PASSED):
        _check_passed(card, record)


def is_gate(card: Card) -> bool:
    """Return whether a card is a gate: done on the bench or the ground before a sortie."""
    return card.phase in (Phase.BENCH, Phase.GROUND)


def outcome_of(card: Card, record: CardRecord) -> Outcome:
    """Return how a card stands by its record: a gate that lacks an answer, has a "no" or a number too large, is failed, whatever its
    record says."""
    if not is_gate(card) or record.outcome not in (Outcome.DONE, Outcome.PASSED):
        return record.outcome
    asked = [c.key for c in card.captures if c.kind is CaptureKind.YES_NO]
    answers = [r.choice if (r := record.reading(k)) is not None else None for k in asked]
    return record.outcome if all(a == "yes" for a in answers) and not _beyond(card, record) else Outcome.FAILED


def _check_reading(capture: Capture, reading: Reading) -> None:
    options = [o.key for o in capture.options]
    if reading.choice is not None and reading.choice not in options:
        words = f"{capture.label}: {reading.choice!r} is not one of {', '.join(options)}."
        raise UnknownKeyError(words, key=reading.key)
    if reading.direction is not None and reading.direction not in capture.directions:
        words = f"{capture.label}: {reading.direction.value} is not a direction of this measure."
        raise JinbaError(words, key=reading.key)
    if reading.number is None:
        return
    check_range(capture.label, reading.number, unit=capture.unit, low=0.0, high=capture.highest)
    if capture.directions and reading.number > 0 and reading.direction is None:
        ways = " or ".join(d.value for d in capture.directions)
        raise JinbaError(f"{capture.label}: say which way, {ways}.", key=reading.key)


def _check_passed(card: Card, record: CardRecord) -> None:
    """Refuse to close a gate on a "no": it is failed then, and stays open."""
    answers = {c.key: record.reading(c.key) for c in card.captures if c.kind is CaptureKind.YES_NO}
    denied = [card.capture(k).label for k, r in answers.items() if r is not None and r.choice != "yes"]
    if denied:
        raise JinbaError(
            f"{card.id} is not passed: {'; '.join(denied)} was answered no. Log it as failed.", key=card.id
        )
    beyond = _beyond(card, record)
    if beyond:
        raise JinbaError(
            f"{card.id} is not passed: {'; '.join(beyond)}. Put it right and read it again, or log it as failed.",
            key=card.id,
        )


def _beyond(card: Card, record: CardRecord) -> list[str]:
    """Return the numbers that are too large for a gate to be passed, in words."""
    return [
        f"{c.label} {an_amount(r.number, c.unit)}, more than {an_amount(c.passes_to, c.unit)}"
        for c in card.captures
        if c.passes_to is not None
        and (r := record.reading(c.key)) is not None
        and r.number is not None
        and r.number > c.passes_to
    ]


def _check_complete(card: Card, record: CardRecord, given: set[str]) -> None:
    missing = [c.label for c in card.captures if c.required and c.key not in given]
    if missing and record.left_alone is not False:
        raise JinbaError(f"{card.id} still needs: {'; '.join(missing)}.", missing=missing)
    if card.proof_of_trim and record.left_alone is None:
        raise JinbaError(f"{card.id}: say whether it could be left alone, level, just before.", missing=["left_alone"])
