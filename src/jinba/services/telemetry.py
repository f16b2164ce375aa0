"""What a telemetry link tells while a card is flown, and which measures that gives."""

from __future__ import annotations

import uuid
from dataclasses import dataclass

from sqlalchemy.orm import Session

from jinba.core.cards.catalogue import card
from jinba.core.cards.fitted import cards_of
from jinba.core.cards.log import of_sortie
from jinba.core.cards.model import Outcome, Phase, Reading
from jinba.core.telemetry.samples import Sample
from jinba.core.telemetry.taken import taken
from jinba.persistence.repositories import Log, Sorties
from jinba.services.log import entries_of
from jinba.services.setups import setup_of
from jinba.services.stand_in import link_to

STAND_IN = "stand-in"


@dataclass(frozen=True, slots=True)
class Told:
    """``now``: the newest line; ``seconds`` told of ``lasts`` [s]; ``taken``: what of the card's measures that gives."""

    source: str
    now: Sample | None
    seconds: float
    lasts: float
    ended: bool
    taken: tuple[Reading, ...]


def told(session: Session, sortie_id: uuid.UUID, card_id: str, seconds: float) -> Told:
    """Return what the link tells of a card so many seconds [s] after it was begun; after landing, of the whole flight at once.

    Raises: RefusedError without a link; UnknownKeyError for a card that does not exist.
    """
    in_the_air = card(card_id).phase is Phase.FLIGHT
    link = link_to(session, sortie_id, card_id)
    lines = link.lines(card_id) if in_the_air else link.flight(_flown(session, sortie_id))
    so_far = tuple(line for line in lines if line.time_s <= seconds) if in_the_air else lines
    setup = setup_of(session, Sorties(session).get(sortie_id).setup_hash)
    lasts = lines[-1].time_s if lines else 0.0
    ended = len(so_far) == len(lines)
    # Half of a card is not the card: what comes before the watch is trimming.
    given = taken(cards_of(setup)[card_id], so_far) if ended else ()
    return Told(
        source=STAND_IN,
        now=so_far[-1] if so_far else None,
        seconds=so_far[-1].time_s if so_far else 0.0,
        lasts=lasts,
        ended=ended,
        taken=given,
    )


def _flown(session: Session, sortie_id: uuid.UUID) -> set[str]:
    """Return the cards of a sortie that its log says were flown, broken off ones too: what was skipped took nothing."""
    entries = entries_of(session, Log(session).of_sortie(sortie_id), with_readings=False)
    return {c.record.card_id for c in of_sortie(entries) if c.record.outcome is not Outcome.SKIPPED}
