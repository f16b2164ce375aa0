"""What happened: an incident as it is logged, and exactly what it re-opens."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from enum import StrEnum

from jinba.core.cards.captures import UP_DOWN, pitch_rating, stick, wing_choice
from jinba.core.cards.model import Capture, CaptureKind, Card, CardRecord, Option, Phase, Reading
from jinba.core.frames import Response

INCIDENT = "A6"
AFTER_REPAIR = "repair"
ONLY_THEN = "incident"
"""What a card may ask for (``Card.requires``): a repair before it, an incident at all."""

_WHOLE, _DAMAGED = Option("whole", "whole"), Option("damaged", "damaged")

PARTS: dict[str, str] = {
    "wing": "Wing",
    "tail": "Tail and fin",
    "body": "Body and mounts",
    "motor": "Propeller and motor",
    "gear": "Landing gear",
    "linkage": "Servos and linkages",
    "electronics": "Pack, receiver, wiring",
}
"""Parts that are looked at one by one, by the key of their measure."""

CLEAR, HARD, HIT = "clear", "hard", "hit"
OUTSIDE = ("power", "outside")
"""Reasons to break off that are not what the model did by itself: power or height ran out; wind, sun, people."""

_STICK_ENDS = {"stick_back": Response.NOSE_UP, "stick_forward": Response.NOSE_DOWN}


class Aspect(StrEnum):
    """What of a model a measure is about, and a repair may have changed."""

    PITCH = "pitch"
    ROLL = "roll"
    YAW = "yaw"
    POWER = "power"
    SPEED = "speed"


_CHANGED: dict[str, tuple[Aspect, ...]] = {
    # Common practice, no source: what a glued or replaced part may do to how it flies.
    "wing": (Aspect.PITCH, Aspect.ROLL, Aspect.SPEED),
    "tail": (Aspect.PITCH, Aspect.YAW),
    "body": (Aspect.PITCH, Aspect.YAW, Aspect.POWER),
    "motor": (Aspect.POWER,),
    "gear": (),
    "linkage": (Aspect.PITCH, Aspect.ROLL, Aspect.YAW),
    "electronics": (),
}
_KNOCKED = (Aspect.PITCH, Aspect.ROLL, Aspect.YAW)
"""What a knock may have shifted where everything looks whole."""

_OPENED: dict[str, tuple[str, ...]] = {
    # Common practice, no source: a repaired model is gone over as a new one, as far as something was touched.
    "wing": ("B1", "B2", "B3", "B4", "B7"),
    "tail": ("B1", "B2", "B3", "B4", "B7"),
    "body": ("B1", "B3", "B4", "B7"),
    "motor": ("B1", "G2"),
    "gear": ("B1", "B7"),
    "linkage": ("B1", "B2", "B4", "B5"),
    "electronics": ("B4", "B6", "B7", "B11", "G1", "G2"),
}
PHASE_OF: dict[str, str] = {"F1": "take_off", "F7": "slow", "F8": "slow", "F28": "landing", "F29": "landing"}
"""Part of the flight in which a card is flown; every other one at height."""

_STRUCTURE = ("wing", "tail", "body")

INCIDENT_CARD = Card(
    INCIDENT,
    "What happened",
    "What went wrong is evidence: it is never averaged away.",
    Phase.AFTER,
    0,
    (
        "Disconnect the pack first. Look at people, then at the model.",
        "Say what it did by itself, and what you held against it.",
        "Look at every part, both sides, before anything is put away.",
    ),
    (
        Capture(
            "phase",
            CaptureKind.CHOICE,
            "It was in",
            True,
            (
                Option("take_off", "take-off or launch"),
                Option("climb", "the climb"),
                Option("height", "flight at height"),
                Option("slow", "slow flight or a turn"),
                Option("landing", "approach or landing"),
                Option("standing", "no flight: on the ground"),
            ),
        ),
        Capture(
            "ground",
            CaptureKind.CHOICE,
            "The ground",
            True,
            (
                Option(CLEAR, "not touched, or landed as usual"),
                Option(HARD, "hard landing"),
                Option(HIT, "it hit the ground"),
            ),
        ),
        Capture(
            "because",
            CaptureKind.CHOICE,
            "Broken off because of",
            False,
            (
                Option("model", "what the model did"),
                Option("stick_back", "stick fully back, not enough"),
                Option("stick_forward", "stick fully forward, not enough"),
                Option("power", "power or height ran out"),
                Option("outside", "wind, sun, people: not the model"),
            ),
        ),
        pitch_rating("nose", "By itself the nose", required=False),
        wing_choice("dropped", "Wing that dropped, as seated in the cockpit", required=False),
        stick("stick_held", "Stick held against it", *UP_DOWN),
        Capture("height", CaptureKind.READING, "Height when it began", unit="m", highest=500),
        *(Capture(key, CaptureKind.PART, name, False, (_WHOLE, _DAMAGED)) for key, name in PARTS.items()),
    ),
    cautions=("Pack disconnected before you touch it.", "A pack that was hit: outside, watched, not charged."),
    requires=ONLY_THEN,
)


@dataclass(frozen=True, slots=True)
class Incident:
    """One incident: its place in the log (``epoch``, ``order``), its words, the cards it re-opens, and whether the model is
    to be flown as a new one after it; ``parts`` that were damaged, by key;
    ``record``: the id of the record that first told of it, empty where there is none."""

    epoch: int
    order: int
    words: str
    opens: frozenset[str]
    as_new: bool
    parts: tuple[str, ...] = ()
    record: str = ""

    @property
    def sortie(self) -> int:
        """The number of the sortie it belongs to, or after which it happened; 0 before the first."""
        return (self.epoch + 1) // 2

    @property
    def in_flight(self) -> bool:
        """Whether it was logged with a sortie, not on the ground between two. By definition of the log's places."""
        return self.epoch % 2 == 1

    def after(self, *, epoch: int, order: int) -> bool:
        """Whether something logged at a place of the log was done before it happened, and no longer holds."""
        return epoch < self.epoch or (epoch == self.epoch and order < self.order)


def incident_of(record: CardRecord, *, epoch: int, order: int, record_id: str = "") -> Incident:
    """Return an incident from its record; of a model that hit the ground every part is touched unless it was said to be whole.

    Derived here.
    """
    hit = _chosen(record, "ground") == HIT
    touched = damaged(record)
    unseen = [p for p in PARTS if not _chosen(record, p)] if hit else []
    opens = {c for p in (*touched, *unseen) for c in _OPENED[p]}
    opens |= {"B1", "B2"} if hit or _chosen(record, "ground") == HARD else set()
    as_new = hit or any(p in touched for p in _STRUCTURE)
    return Incident(epoch, order, in_words(record), frozenset(opens), as_new, touched, record_id)


def changed_by(record: CardRecord) -> frozenset[Aspect]:
    """Return what an incident may have changed of how the model flies: by its damaged parts, and those nobody looked at after a hit.

    A hard landing with everything whole changes nothing; one that hit the ground may have shifted any trim. Derived here.
    """
    if record.card_id != INCIDENT:
        return frozenset()
    hit = _chosen(record, "ground") == HIT
    parts = {*damaged(record), *(p for p in PARTS if hit and not _chosen(record, p))}
    return frozenset(a for p in parts for a in _CHANGED[p]) | frozenset(_KNOCKED if hit else ())


def damaged(record: CardRecord) -> tuple[str, ...]:
    """Return the parts that a record says are damaged."""
    return tuple(p for p in PARTS if _chosen(record, p) == _DAMAGED.key)


def in_words(record: CardRecord) -> str:
    """Return an incident in one sentence, without its sortie."""
    what = {CLEAR: "broken off", HARD: "a hard landing", HIT: "it hit the ground"}
    when = {
        "take_off": "at take-off",
        "climb": "in the climb",
        "height": "at height",
        "slow": "in slow flight or a turn",
        "landing": "on approach or landing",
        "standing": "standing on the ground",
    }
    did = {"drops": "the nose dropped", "sinks": "the nose sank", "rises": "the nose rose", "rears": "it reared"}
    why = {
        "stick_back": "the stick was fully back",
        "stick_forward": "the stick was fully forward",
        "power": "power or height ran out",
        "outside": "not for what the model did",
    }
    ground, phase = _chosen(record, "ground"), _chosen(record, "phase")
    said = [f"{what.get(ground, 'something happened')} {when.get(phase, '')}".strip()]
    said += [why[b]] if (b := because(record)) in why else []
    said += [did[n]] if (n := _chosen(record, "nose")) in did else []
    said += [f"the {w} wing dropped"] if (w := _chosen(record, "dropped")) in ("left", "right") else []
    parts = damaged(record)
    said += [f"damaged: {', '.join(PARTS[p].lower() for p in parts)}"] if parts else []
    return "; ".join(said)


def as_new_since(records: Iterable[CardRecord]) -> bool:
    """Return whether any of the records is of an incident after which a model is flown as a new one."""
    return any(r.card_id == INCIDENT and incident_of(r, epoch=0, order=0).as_new for r in records)


def because(record: CardRecord) -> str:
    """Return why something was broken off, empty where it was not said."""
    return _chosen(record, "because")


def stick_at_its_end(record: CardRecord) -> CardRecord:
    """Return an incident with the stick it was broken off with as a reading: fully back or forward, where that was the reason.

    A stick that was said to be held the other way stays as it was said: an alarm is not said away.
    """
    way, held = _STICK_ENDS.get(because(record)), record.reading("stick_held")
    if way is None or (held is not None and held.number and held.direction is not way):
        return record
    rest = tuple(r for r in record.readings if r.key != "stick_held")
    return replace(record, readings=(*rest, Reading("stick_held", number=1.0, direction=way)))


def _chosen(record: CardRecord, key: str) -> str:
    reading = record.reading(key)
    return "" if reading is None or reading.choice is None else reading.choice
