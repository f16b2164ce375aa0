"""Types of a model's history: no row, no query, nothing of the web."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.incident import Incident
from jinba.core.cards.log import Counted
from jinba.core.cards.masks import masked
from jinba.core.cards.model import Card, Outcome, Phase, outcome_of
from jinba.core.cards.noticed import Note
from jinba.core.configuration import Configuration
from jinba.core.correct.actions import Action
from jinba.core.correct.compose import as_flown
from jinba.core.diagnose.ordinary import ordinary_of
from jinba.core.diagnose.seen import Logged, Seen, seen_of
from jinba.core.diagnose.speaks import ENDED_BADLY
from jinba.core.diagnose.tendencies import Tendency
from jinba.core.diagnose.update import Belief
from jinba.core.flight.simulation.spread import Twin
from jinba.core.frames import Axis
from jinba.core.observe.situation import Trims
from jinba.core.plan.endurance import Endurance, Powered, endurance_of
from jinba.core.plan.minutes import LastSortie
from jinba.core.plan.sign_off import SignOff
from jinba.core.plan.site import Site
from jinba.core.plan.states import Since, not_on
from jinba.core.plan.weather import WindRead
from jinba.core.said import Said

FLIGHT_IDS = tuple(k for k, c in CARDS.items() if c.phase is Phase.FLIGHT)


class SortieStatus(StrEnum):
    """Where a sortie is."""

    PLANNED = "planned"
    FLYING = "flying"
    LANDED = "landed"
    CALLED_OFF = "called_off"


@dataclass(frozen=True, slots=True)
class Model:
    """A model by name; ``rehearsal``: flown by a stand-in, never for real; ``stand_in``: its hidden side, None before it flew."""

    id: uuid.UUID
    name: str
    story: str
    read_only: bool
    rehearsal: bool = False
    stand_in: Twin | None = None

    @property
    def on_paper(self) -> str:
        """Its name as papers show it: a rehearsal cannot be taken for the model."""
        return f"{self.name} (REHEARSAL: no real flight)" if self.rehearsal else self.name


@dataclass(frozen=True, slots=True)
class ConfigurationLine:
    """A configuration: its difference from the one before in words, and the cards that opened."""

    id: uuid.UUID
    number: int
    change_words: tuple[str, ...]
    opened_cards: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class SortieLine:
    """A sortie in the history; ``configuration`` by number."""

    id: uuid.UUID
    number: int
    status: SortieStatus
    alone: bool
    simulated: bool
    card_ids: tuple[str, ...]
    configuration: int
    landed_at: datetime | None


@dataclass(frozen=True, slots=True)
class LastFlight:
    """The last landed sortie: the setup it was flown in, where its surfaces came to rest [rad], what it showed.

    ``data_count``: measures it gave the estimate; ``together``: chance that every behaviour lay in its band at once as it landed [-].
    """

    sortie: SortieLine
    setup: Configuration
    landed: Trims
    after: tuple[Tendency, ...]
    squawks: tuple[Said, ...]
    data_count: int = 0
    together: float | None = None

    @property
    def disagreeing(self) -> tuple[Said, ...]:
        """What was logged and does not go together: to be asked again, no reason not to fly."""
        return tuple(s for s in self.squawks if not s.stops)

    @property
    def state(self) -> Configuration:
        """The setup with the trim clicks it landed with."""
        return as_flown(self.setup, self.landed)


@dataclass(frozen=True, slots=True)
class WorkOrder:
    """A rework decided after a sortie (by number); ``proofs``: the reading that proves each action, None while open."""

    id: uuid.UUID
    after_sortie: int
    to_configuration: int
    actions: tuple[Action, ...]
    proofs: tuple[str | None, ...]

    @property
    def open(self) -> int:
        """How many actions are not proved yet."""
        return sum(p is None for p in self.proofs)


@dataclass(frozen=True, slots=True)
class Standing:
    """Where a card stands: what counts of it, whether a change since has made it stale, whether it was done since landing.

    ``card`` as the model has it now, None for one that is no longer in the catalogue."""

    counted: Counted
    stale: bool
    fresh: bool
    card: Card | None = None

    @property
    def outcome(self) -> Outcome:
        """How the card that counts ended; a gate with a "no" or without an answer is not passed, a flight that something masked
        still has to be flown."""
        record = self.counted.record
        kind = self.card or CARDS.get(record.card_id)
        if record.outcome is Outcome.DONE and masked(record):
            return Outcome.SKIPPED
        return record.outcome if kind is None else outcome_of(kind, record)


@dataclass(frozen=True, slots=True)
class History:
    """Everything known of a model at one moment.

    ``version`` rises with every change of the setup, undo and redo included; ``log_order`` is the newest entry of the log.
    ``belief``: of the present setup after all landed sorties, None before any. ``order``: the newest work order.
    ``incidents``: everything that went wrong, in the order it happened. ``wind``: as it was last read at the field.
    ``sign_offs``: standing ones, oldest first. ``powered``: what is known of its packs. ``site``: where it is flown next.
    ``notes``: what was noticed on its flights.
    """

    model: Model
    configurations: tuple[ConfigurationLine, ...]
    version: int
    log_order: int
    can_undo: bool
    can_redo: bool
    setup: Configuration
    sorties: tuple[SortieLine, ...]
    standings: Mapping[str, Standing]
    last_flight: LastFlight | None
    belief: Belief | None
    order: WorkOrder | None
    incidents: tuple[Incident, ...] = ()
    wind: WindRead | None = None
    sign_offs: tuple[SignOff, ...] = ()
    powered: Powered = Powered()
    site_id: uuid.UUID | None = None
    site: Site | None = None
    notes: tuple[Note, ...] = ()

    @property
    def endurance(self) -> Endurance:
        """Minutes that may be planned of the next sortie, and what they rest on."""
        return endurance_of(self.setup, self.powered)

    @property
    def configuration(self) -> ConfigurationLine:
        """The newest configuration."""
        return self.configurations[-1]

    @property
    def landed(self) -> tuple[SortieLine, ...]:
        """Sorties that have landed."""
        return tuple(s for s in self.sorties if s.status is SortieStatus.LANDED)

    @property
    def open_sortie(self) -> SortieLine | None:
        """The sortie that is planned or flying, if any."""
        running = (SortieStatus.PLANNED, SortieStatus.FLYING)
        return next((s for s in reversed(self.sorties) if s.status in running), None)

    @property
    def flown(self) -> bool:
        """Whether a sortie belongs to the newest configuration, so that an edit begins the next one."""
        return any(s.configuration == self.configuration.number for s in self.sorties)

    @property
    def results(self) -> dict[str, Outcome]:
        """Latest outcome of each card that counts."""
        return {k: s.outcome for k, s in self.standings.items()}

    @property
    def stale(self) -> frozenset[str]:
        """Cards whose result no longer holds for the present setup."""
        return frozenset(k for k, s in self.standings.items() if s.stale)

    @property
    def broken_off(self) -> tuple[str, ...]:
        """Cards of the last landed sortie that were begun and not flown to their end."""
        epoch = 0 if self.last_flight is None else 2 * self.last_flight.sortie.number - 1
        ended = ((k, s.counted) for k, s in self.standings.items() if s.outcome in ENDED_BADLY)
        return tuple(k for k, counted in ended if counted.entry.epoch == epoch)

    @property
    def last_sortie(self) -> LastSortie | None:
        """The last landed sortie: as it landed, and the cards that were flown to their end in it."""
        last = self.last_flight
        if last is None:
            return None
        epoch = 2 * last.sortie.number - 1
        ended = ((k, s) for k, s in self.standings.items() if s.outcome is Outcome.DONE)
        return LastSortie(last.state, frozenset(k for k, s in ended if s.counted.entry.epoch == epoch))

    @property
    def seen(self) -> Seen:
        """What the newest record of each card says of the model as it stands."""
        again = self.since.opened
        logged = (
            Logged(s.counted.record, s.counted.entry.epoch, s.stale or (k in again and s.outcome not in ENDED_BADLY))
            for k, s in self.standings.items()
        )
        return seen_of(logged, ordinary_of(self.setup))

    @property
    def since(self) -> Since:
        """What incidents have re-opened and nobody has done since; how often the model has flown since it counts as new."""
        opened = {c for i in self.incidents for c in self.left_of(i)}
        new = [i for i in self.incidents if i.as_new]
        opened |= {c for i in new for c in FLIGHT_IDS if c in self.standings and not self._done_since(c, i)}
        flown = None if not new else sum(s.number > new[-1].sortie for s in self.landed)
        return Since(frozenset(opened), flown)

    @property
    def fail_safe_seen(self) -> bool:
        """Whether the fail-safe was seen to work as it is set now: one proof for card and desk."""
        proof = self.standings.get("G2")
        return (
            proof is not None and proof.outcome is Outcome.PASSED and not proof.stale and "G2" not in self.since.opened
        )

    @property
    def midpoints_seen(self) -> bool:
        """Whether learned midpoints were found again after re-powering, as the model stands: F24 is the proof of it."""
        proof = self.standings.get("F24")
        if proof is None or proof.outcome is not Outcome.DONE or proof.stale:
            return False
        stored = proof.counted.record.reading("stored")
        return stored is not None and stored.choice == "yes"

    def left_of(self, incident: Incident) -> frozenset[str]:
        """Return the cards that an incident has opened and nobody has done since."""
        there = (c for c in incident.opens if not not_on(CARDS[c], self.setup))
        return frozenset(c for c in there if not self._done_since(c, incident))

    def _done_since(self, card_id: str, incident: Incident) -> bool:
        standing = self.standings.get(card_id)
        if standing is None:
            return False
        entry = standing.counted.entry
        return not incident.after(epoch=entry.epoch, order=entry.order)

    @property
    def happened(self) -> tuple[str, ...]:
        """What went wrong in the last landed sortie, in words."""
        number = 0 if self.last_flight is None else self.last_flight.sortie.number
        return tuple(i.words for i in self.incidents if i.sortie == number and i.in_flight)

    @property
    def unmended(self) -> Incident | None:
        """The newest incident of which a gate is still open, None when all were gone over."""
        return next((i for i in reversed(self.incidents) if self.left_of(i)), None)

    @property
    def signed_off(self) -> SignOff | None:
        """The signing off that still holds: after the last landing, with nothing changed or gone wrong since."""
        last = self.last_flight
        newest = self.sign_offs[-1] if self.sign_offs else None
        if newest is None or last is None or self.changed_since_landing or self.unmended is not None:
            return None
        return newest if newest.sortie == last.sortie.number else None

    @property
    def fresh(self) -> frozenset[str]:
        """Cards done since the last landing."""
        return frozenset(k for k, s in self.standings.items() if s.fresh)

    @property
    def decided(self) -> WorkOrder | None:
        """The work order already written after the last landing, or None."""
        if self.order is None or self.last_flight is None:
            return None
        return self.order if self.order.after_sortie == self.last_flight.sortie.number else None

    @property
    def open_work(self) -> WorkOrder | None:
        """The newest work order if some action of it is not proved yet."""
        return self.order if self.order is not None and self.order.open else None

    @property
    def changed_since_landing(self) -> bool:
        """Whether the present configuration is another one than the last sortie was flown in."""
        last = self.last_flight
        return last is not None and last.sortie.configuration != self.configuration.number

    @property
    def state(self) -> Configuration:
        """The setup as it is now: with the trim clicks of the last landing, unless it was changed since."""
        last = self.last_flight
        return self.setup if last is None or self.changed_since_landing else as_flown(self.setup, last.landed)

    def with_radio(self, setup: Configuration) -> Configuration:
        """Return an edited setup with the clicks that stand in the radio on every axis the edit did not touch."""
        for axis in Axis:
            if setup.control(axis) == self.setup.control(axis):
                setup = setup.with_control(self.state.control(axis))
        return setup
