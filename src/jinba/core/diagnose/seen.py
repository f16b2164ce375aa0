"""What has been seen in flight: which cards hold for the model as it stands, and which of them speak for or against its balance."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.incident import HIT, INCIDENT
from jinba.core.cards.masks import masked
from jinba.core.cards.model import CardRecord, Outcome, Phase
from jinba.core.cards.stale import difference
from jinba.core.configuration import Configuration
from jinba.core.diagnose.ordinary import NONE_ORDINARY, Ordinary, ordinary_of
from jinba.core.diagnose.sorties import LoggedSortie
from jinba.core.frames import Response

ENDED_BADLY = (Outcome.ABORTED, Outcome.FAILED)

FORWARD_STICK = 0.1
"""Forward stick held from here on, of full, speaks for tail-heavy: common practice, no source."""

MUCH_FORWARD_STICK = 0.3
"""From here on, of full, stick held forward in a climb is an alarm whatever power does: common practice, no source."""

PUSH_INVERTED = 0.15
"""Push held inverted from here on, of full, speaks for nose-heavy; a pull of :data:`FORWARD_STICK` for tail-heavy. Common
practice, no source."""

CLICKS_FASTER = 2.0
"""Clicks from cruise to a third faster that speak for one or the other: common practice, no source."""


@dataclass(frozen=True, slots=True)
class Logged:
    """The newest record of a card: in which sortie, and whether a change since then has made it stale."""

    record: CardRecord
    sortie: int
    stale: bool = False


@dataclass(frozen=True, slots=True)
class Seen:
    """``cards``: flown to their end in the model as it stands, ``records`` of every card begun in it. ``nose_heavy``,
    ``tail_heavy``: what speaks for either, newest first, each with the sortie it is from; a card that could not be flown to
    its end speaks only for tail-heavy. ``ever``: cards whose look was had in any setup, on a card of their own or on one that is
    flown anyway (:data:`LOOKED_AT_IN`). ``alarms``: those of ``tail_heavy`` that no thrust line and no error of a trim explains. ``borrowed``: those of ``cards``
    that were looked at on another card alone."""

    cards: frozenset[str] = frozenset()
    nose_heavy: tuple[tuple[int, str], ...] = ()
    tail_heavy: tuple[tuple[int, str], ...] = ()
    records: tuple[CardRecord, ...] = ()
    ever: frozenset[str] = frozenset()
    alarms: tuple[tuple[int, str], ...] = ()
    borrowed: frozenset[str] = frozenset()

    def of(self, card_id: str) -> CardRecord | None:
        """The record of a card in the model as it stands, None when it was not begun."""
        return next((r for r in self.records if r.card_id == card_id), None)

    def less(self, stale: frozenset[str]) -> Seen:
        """Return what still holds of it when a change makes cards stale: what was seen of anything else stays seen."""
        with_carrier = {k for k, (c, _) in LOOKED_AT_IN.items() if c in stale and self.of(k) is None}
        return replace(
            self,
            cards=self.cards - stale - with_carrier,
            records=tuple(r for r in self.records if r.card_id not in stale),
        )

    @property
    def refuses_aft(self) -> str:
        """Why the balance may not be moved aft, in words; empty when it may."""
        if not self.nose_heavy:
            return self.alarms[0][1] if self.alarms else "no card speaks for a nose-heavy model"
        if self.tail_heavy and self.tail_heavy[0][0] >= self.nose_heavy[0][0]:
            return self.tail_heavy[0][1]
        return ""


LOOKED_AT_IN = {"F7": ("F28", "roll_slow"), "F5": ("F28", "go_round")}
"""Cards whose look is also had on one that is flown anyway: which, and by which of its measures. Derived here."""


def looks_at(record: CardRecord) -> frozenset[str]:
    """Return the cards whose look a record has had: its own, and those it stands for."""
    if record.outcome is not Outcome.DONE:
        return frozenset()
    also = (
        k for k, (c, measure) in LOOKED_AT_IN.items() if c == record.card_id and record.reading(measure) is not None
    )
    return frozenset((record.card_id, *also))


NOTHING = Seen()
_RISING, _FALLING = ("rises", "rears"), ("sinks", "drops")


def seen_of(logged: Iterable[Logged], ordinary: Ordinary = NONE_ORDINARY) -> Seen:
    """Return what the newest records of the cards say together; what is ``ordinary`` does not speak for a nose-heavy model."""
    logged = [r for r in logged if _tells(r.record)]
    flights = [r for r in logged if not r.stale]
    flights.sort(key=lambda r: -r.sortie)
    # Full power that pulls the nose up is held down in the climb, whatever the balance is.
    by_power = any(
        r.record.outcome is Outcome.DONE and _chosen(r.record, key) in _RISING
        for r in flights
        for card, key in (("F5", "pitch_full"), ("F28", "go_round"))
        if r.record.card_id == card
    )
    told = [r for r in flights if not (by_power and _power_explains(r.record))]
    cards = frozenset(c for r in flights for c in looks_at(r.record))
    return Seen(
        cards=cards,
        nose_heavy=tuple((r.sortie, w) for r in flights if (w := speaks_nose_heavy(r.record, ordinary))),
        tail_heavy=tuple((r.sortie, w) for r in told if (w := _tail_heavy(r.record))),
        records=tuple(r.record for r in flights if r.record.outcome is not Outcome.SKIPPED),
        ever=frozenset(c for r in logged for c in looks_at(r.record)),
        alarms=tuple((r.sortie, w) for r in told if (w := _alarm(r.record))),
        borrowed=cards - {r.record.card_id for r in flights},
    )


def _power_explains(record: CardRecord) -> bool:
    """Whether a climb held down is no more than a nose that power pulls up asks for."""
    climb = record.card_id == "F1" and record.outcome is Outcome.DONE
    return climb and _held(record, "stick_held", Response.NOSE_DOWN) < MUCH_FORWARD_STICK


def _tells(record: CardRecord) -> bool:
    """Whether a record says something of the model; an alarm does, whatever flew it."""
    if record.card_id == INCIDENT:
        return True
    alarm = record.outcome in ENDED_BADLY or could_not(record)
    return CARDS[record.card_id].phase is Phase.FLIGHT and (alarm or not masked(record))


def seen_in(sorties: tuple[LoggedSortie, ...], present: Configuration) -> Seen:
    """Return what sorties show of the present configuration: the newest record of each card, stale where a change made it so."""
    newest: dict[str, Logged] = {}
    for number, sortie in enumerate(sorties, 1):
        old = frozenset() if sortie.configuration == present else difference(sortie.configuration, present).stale
        for record in sortie.records:
            newest[record.card_id] = Logged(record, number, record.card_id in old)
    return seen_of(newest.values(), ordinary_of(present))


def could_not(record: CardRecord) -> bool:
    """Return whether a record says that the model could not be left alone."""
    return record.left_alone is False


def speaks_nose_heavy(record: CardRecord, ordinary: Ordinary = NONE_ORDINARY) -> str:
    """Return in words why a record speaks for a nose-heavy model, empty when it does not.

    What a model does at the least margin of its class, too, speaks for nothing: a small one pulls hard out of any dive.
    """
    if record.outcome is not Outcome.DONE or could_not(record):
        return ""
    card = record.card_id
    if card == "F12" and _beyond(record, "dive", ordinary.dive) in ("pulls_out", "rears_out"):
        return "F12: let go, it pulls out of the dive"
    few = max(CLICKS_FASTER, ordinary.clicks_faster)
    if card == "F13" and _wants(record, Response.NOSE_DOWN, _RISING, _FALLING, few):
        return "F13: faster, it wants down trim"
    if card == "F14" and _held(record, "stick_held", Response.NOSE_DOWN) >= max(PUSH_INVERTED, ordinary.push):
        return "F14: inverted, it wants a lot of push"
    if card == "F15" and _beyond(record, "line", ordinary.line) in ("bends", "bends_fast"):
        return "F15: the inverted line bends to the ground"
    return ""


def _tail_heavy(record: CardRecord) -> str:
    """Return in words why a record speaks for a tail-heavy model, or forbids to think of a nose-heavy one; else empty."""
    alarm = _alarm(record)
    if alarm or record.card_id != "F13":
        return alarm
    wants = _wants(record, Response.NOSE_UP, _FALLING, _RISING, CLICKS_FASTER)
    return "F13: faster, it wants up trim" if wants else ""


def _alarm(record: CardRecord) -> str:
    """Return in words what a record says of a tail-heavy model that nothing else explains; else empty."""
    card = record.card_id
    if card == INCIDENT:
        return _incident(record)
    if record.outcome in ENDED_BADLY and card in ("F1", "F2", "F28", "F29"):
        return f"{card} was broken off"
    if could_not(record):
        return f"{card}: it could not be left alone"
    if card == "F12" and _chosen(record, "dive") == "tucks":
        return "F12: let go, the dive steepens"
    if card in ("F1", "F7", "F29"):
        key = "stick_back" if card == "F29" else "stick_held"
        if _held(record, key, Response.NOSE_DOWN) >= FORWARD_STICK:
            return f"{card}: stick was held forward"
    if card == "F14" and _held(record, "stick_held", Response.NOSE_UP) >= FORWARD_STICK:
        return "F14: inverted, it wants to be pulled"
    return ""


def _wants(record: CardRecord, way: Response, more: tuple[str, ...], less: tuple[str, ...], few: float) -> bool:
    """Whether clicks and what was left over together ask for trim one way; trimmed past the middle they ask for neither.

    ``few``: fewer clicks than this ask for nothing.
    """
    clicks, left = _held(record, "clicks_fast", way), _chosen(record, "left_over")
    against = Response.NOSE_UP if way is Response.NOSE_DOWN else Response.NOSE_DOWN
    if left in more:
        # What still goes that way is worth the clicks that would be asked for at least.
        return _held(record, "clicks_fast", against) < CLICKS_FASTER and clicks + CLICKS_FASTER >= few
    return clicks >= few and left not in less


def _incident(record: CardRecord) -> str:
    """Return why an incident forbids to think of a nose-heavy model: it reared, or it was lost near the ground."""
    if _chosen(record, "phase") == "standing":
        return ""
    if _chosen(record, "nose") in _RISING or _held(record, "stick_held", Response.NOSE_DOWN) >= FORWARD_STICK:
        return f"{INCIDENT}: it reared, or stick was held forward"
    return f"{INCIDENT}: it hit the ground" if _chosen(record, "ground") == HIT else ""


def _beyond(record: CardRecord, key: str, ordinary: int) -> str:
    """Return the word of a balance card where it is beyond the ordinary one, else nothing."""
    chosen = _chosen(record, key)
    words = [o.key for o in CARDS[record.card_id].capture(key).options]
    return chosen if chosen and words.index(chosen) > ordinary else ""


def _chosen(record: CardRecord, key: str) -> str:
    reading = record.reading(key)
    return "" if reading is None or reading.choice is None else reading.choice


def _held(record: CardRecord, key: str, way: Response) -> float:
    """Return how much was held or given one way [of full, clicks]; 0 when it was the other way or nothing."""
    reading = record.reading(key)
    return reading.number if reading is not None and reading.number and reading.direction is way else 0.0
