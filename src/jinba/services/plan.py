"""Plan: the programme, wind, and the next sortie."""

from __future__ import annotations

import uuid
from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from sqlalchemy.orm import Session

from jinba.core.bench.reason import out_of_reason
from jinba.core.cards.catalogue import CARDS, card
from jinba.core.cards.fitted import cards_of
from jinba.core.cards.model import CardRecord, Outcome, Phase, check_record
from jinba.core.cards.noticed import noted_stops
from jinba.core.correct.balance import correct_balance
from jinba.core.correct.lateral import correct_lateral
from jinba.core.correct.thrust import correct_thrust_line
from jinba.core.diagnose.tendencies import Tendency, tendencies
from jinba.core.diagnose.update import prior_of
from jinba.core.errors import RefusedError
from jinba.core.history.model import History
from jinba.core.observe.situation import design_of, resting_trims
from jinba.core.plan.cost import cost_of
from jinba.core.plan.minutes import minutes_of
from jinba.core.plan.order import refusal
from jinba.core.plan.programme import Programme, Wishes, programme
from jinba.core.plan.site import (
    Light,
    ground_findings,
    height_limit_stop,
    light_at,
    light_findings,
    site_findings,
    too_low_for,
)
from jinba.core.plan.states import gates_of, stage_of, states_of
from jinba.core.plan.stops import (
    again_stop,
    balance_stop,
    controls_stops,
    flare_stop,
    fuel_stop,
    height_stop,
    launch_stop,
    minutes_stop,
    overridden,
    unread_stop,
    work_stop,
)
from jinba.core.plan.weather import Wind, WindVerdict, judge_wind, wind_stops
from jinba.core.plan.worth import Prospect, prospect
from jinba.core.said import Said, finding
from jinba.formats.codec import to_json
from jinba.persistence.once import once
from jinba.persistence.orm import (
    GatePassRow,
    ModelRow,
    OverrideRow,
    PredictionRow,
    RecordRow,
    SortieRow,
    WeatherRow,
    WindReadingRow,
)
from jinba.persistence.repositories import Log, Models, Sorties
from jinba.services.energy import flown_with
from jinba.services.estimates import log_changed, numbers_of, present_hash, store_release
from jinba.services.history import history
from jinba.services.log import LoggedEntry, ToWrite, Written, as_asked, rival_entries, write_entry
from jinba.services.packs import AFTER_FLIGHT
from jinba.services.setups import setup_of


def next_programme(
    known: History, *, wind: Wind | None = None, wishes: Wishes | None = None
) -> tuple[Programme, WindVerdict | None]:
    """Return the programme for the next sortie and what the wind says: this one, or the one read at the field a while ago."""
    verdict = _verdict(known, wind)
    refused = frozenset(too_low_for(known.site, known.setup)) | (
        frozenset() if verdict is None else frozenset(verdict.refused_cards)
    )
    plan = programme(
        known.setup,
        results=known.results,
        stale=known.stale,
        sorties_flown=len(known.landed),
        refused=refused,
        fresh=known.fresh,
        asked=_asked(known),
        seen=known.seen,
        since=known.since,
        belief=known.belief,
        rests=resting_trims(known.state),
        last=known.last_sortie,
        wishes=wishes,
        safe_minutes=known.endurance.safe_minutes,
    )
    return plan, verdict


@dataclass(frozen=True, slots=True)
class Cost:
    """What a choice of cards takes [min] and costs against the proposal, in sentences; ``refused``: why it may not be flown so, empty
    where it may."""

    minutes: float
    safe_minutes: float
    costs: tuple[str, ...]
    refused: str


def cost(known: History, card_ids: tuple[str, ...]) -> Cost:
    """Return what the pilot's own order of cards takes and costs. Raises: UnknownKeyError for a card that does not exist."""
    plan, _ = next_programme(known)
    flown = tuple(k for k in card_ids if card(k).phase is Phase.FLIGHT)
    told = prospect_of(known, {*plan.flight, *flown})
    refused = _refused(known, (), flown)
    return Cost(
        minutes_of(flown, plan.proved),
        plan.safe_minutes,
        cost_of(told, plan.flight, flown),
        "" if refused is None else refused.title,
    )


def prospect_of(known: History, card_ids: Iterable[str]) -> Prospect:
    """Return what cards would tell of a model as it stands."""
    belief = known.belief or prior_of(design_of(known.setup))
    return prospect(known.setup, belief, resting_trims(known.state), known.seen, card_ids)


def open_gates(known: History) -> tuple[int, tuple[str, ...], WindVerdict | None]:
    """Return the number of the next sortie, the gates before it, and what the wind says: what needs no cards to be chosen."""
    number = len(known.landed) + 1
    states = states_of(
        known.setup,
        results=known.results,
        stale=known.stale,
        number=stage_of(number, known.since),
        fresh=known.fresh,
        opened=known.since.opened,
    )
    return number, gates_of(states), _verdict(known, None)


def _verdict(known: History, wind: Wind | None) -> WindVerdict | None:
    blows = wind or wind_now(known)
    return None if blows is None else judge(known, blows)


def wind_now(known: History) -> Wind | None:
    """Return the wind that was last read, None when it is too old to go by."""
    return _wind_at(known, None)


def _wind_at(known: History, when: datetime | None) -> Wind | None:
    """Return the wind a sortie that began then was flown in; what was read later, or long before, is not its wind."""
    read, begun = known.wind, when or datetime.now(UTC)
    later = when is not None and read is not None and read.at > when
    return None if read is None or later or read.old(begun) else read.wind


def read_wind(session: Session, model_id: uuid.UUID, wind: Wind) -> History:
    """Keep the wind as it is read at the field now; earlier readings stay. Raises: OutOfRangeError for an impossible one."""
    _refuse_read_only(Models(session).lock(model_id))
    judge(history(session, model_id), wind)
    session.add(
        WindReadingRow(
            model_id=model_id,
            wind_mps=wind.speed_mps,
            gust_mps=wind.gust_mps,
            from_rad=wind.from_rad,
            strip_heading_rad=wind.strip_heading_rad,
        )
    )
    session.flush()
    return history(session, model_id)


def stops(
    known: History,
    *,
    minutes: float,
    safe_minutes: float,
    verdict: WindVerdict | None = None,
    card_ids: Collection[str] = (),
    when: datetime | None = None,
) -> tuple[Said, ...]:
    """Return what stops the next sortie of so many minutes, read from what the program knows now; ``verdict``: of the wind; ``when`` it
    begins, None: now."""
    open_actions = 0 if known.open_work is None else known.open_work.open
    squawks = () if known.last_flight is None else known.last_flight.squawks
    found = (
        *out_of_reason(known.setup),
        balance_stop(known.setup, known.belief),
        fuel_stop(known.setup, known.belief),
        # A rehearsal has no balance point to be read: its stand-in is made from the bench.
        None if known.model.rehearsal else unread_stop(known.setup),
        flare_stop(known.setup, known.belief),
        again_stop(_lost(known)),
        launch_stop(known.setup),
        height_stop(known.setup),
        work_stop(open_actions),
        minutes_stop(minutes, safe_minutes),
        *(f for f in known.endurance.findings if f.stops),
        *(f for f in at_the_site(known, minutes, when).findings if f.stops),
        height_limit_stop(known.site, known.setup, tuple(card_ids)),
        *wind_stops(verdict, card_ids),
        *noted_stops(known.notes),
        *controls_stops(known.setup, squawks, fail_safe_seen=known.fail_safe_seen),
    )
    return tuple(s for s in found if s is not None)


@dataclass(frozen=True, slots=True)
class AtTheSite:
    """What the site, its light now and its ground say of a sortie; ``light`` None where no site is chosen."""

    light: Light | None
    findings: tuple[Said, ...]


def at_the_site(known: History, minutes: float, when: datetime | None = None) -> AtTheSite:
    """Return what the site of a model says of a sortie of so many minutes that begins now, or at a moment."""
    looked = known.standings.get("G7")
    fresh = None if looked is None or not looked.fresh else looked.counted.record
    ground = ground_findings(fresh, known.setup.launch)
    if known.site is None:
        return AtTheSite(None, ground)
    wind = wind_now(known)
    light = light_at(known.site, when or datetime.now(UTC), None if wind is None else wind.strip_heading_rad)
    # A rehearsal is flown at any hour.
    of_light = () if known.model.rehearsal else light_findings(light, minutes)
    return AtTheSite(light, (*of_light, *site_findings(known.site, known.setup), *ground))


def _lost(known: History) -> int:
    """Return how many sorties of the setup as it stands ended so that it is flown as a new model; what fell off the bench is no sortie."""
    present = known.configurations[-1].number
    of_setup = {s.number for s in known.sorties if s.configuration == present}
    return len({i.sortie for i in known.incidents if i.as_new and i.in_flight} & of_setup)


def _asked(known: History) -> tuple[tuple[str, ...], ...]:
    """Return the cards that open what is held back now: moves of the balance, along and across, and washers."""
    if known.belief is None:
        return ()
    held = list(correct_balance(known.setup, known.belief, known.seen).held)
    _, _, across = correct_lateral(known.setup, known.belief, resting_trims(known.state), known.seen)
    held += [across] if across is not None else []
    held += correct_thrust_line(known.setup, known.belief, resting_trims(known.state), known.seen)[2]
    return tuple(h.cards for h in held)


def judge(known: History, wind: Wind) -> WindVerdict:
    """Return go, caution or no-go for a wind and the next sortie, as new after an incident."""
    setup, since = known.setup, known.since.flown
    return judge_wind(
        wind,
        stall_speed_mps=design_of(setup).stall_speed_mps,
        limits=setup.limits,
        model_class=setup.model_class,
        sortie=1 + (len(known.landed) if since is None else since),
    )


def with_contested(session: Session, model_id: uuid.UUID) -> tuple[History, list[LoggedEntry]]:
    """Return the history of a model with the entries that stand against each other, to choose from."""
    known = history(session, model_id)
    return known, rival_entries(session, (s.counted for s in known.standings.values()))


def log_ground_card(
    session: Session,
    model_id: uuid.UUID,
    *,
    record_id: uuid.UUID,
    record: CardRecord,
    written: Written | None = None,
) -> None:
    """Log a bench, ground or after-flight card for the present configuration; the same id and content twice is one record.

    Raises: ConflictError when the id names something else; RefusedError; errors of the record.
    """
    kind = card(record.card_id)
    if kind.phase is Phase.FLIGHT:
        raise RefusedError(f"{kind.id} is a flight card: plan a sortie and log it there.")
    model = Models(session).lock(model_id)
    check_record(cards_of(setup_of(session, present_hash(session, model_id)))[kind.id], record)
    _refuse_read_only(model)
    request = {"model": str(model_id), "record": as_asked(record)}
    existing, asked = once(session, RecordRow, record_id, request)
    if existing is None:
        landed = Sorties(session).landed(model_id)
        epoch = 2 * landed[-1].number if landed else 0
        entry = write_entry(
            session,
            model,
            ToWrite(
                id=record_id,
                record=record,
                request_hash=asked,
                configuration_id=Models(session).configurations(model_id)[-1].id,
                sortie_id=None,
                epoch=epoch,
                setup_hash=present_hash(session, model_id),
                written=written or Written(),
            ),
        )
        if kind.phase is Phase.AFTER and landed:
            flown_with(session, landed[-1], entry.pack_id if kind.id == AFTER_FLIGHT else None)
            log_changed(session, model, since=landed[-1].number)


def plan_sortie(
    session: Session,
    model_id: uuid.UUID,
    *,
    sortie_id: uuid.UUID,
    card_ids: tuple[str, ...],
    wind: Wind | None,
    alone: bool,
    reasons: Mapping[str, str] | None = None,
    flown: str = "",
    away: Written | None = None,
) -> SortieRow:
    """Plan the next sortie. Open gates refuse it; the prediction is made from what was known before the flight.

    What stops it, a no-go wind too, is overridden by the pilot in command with a reason, by its code in ``reasons``, for this one
    sortie; it is kept. ``flown``: it has been flown already, and why without a plan: then nothing refuses it, and what would
    have is kept with the reason; it is logged from memory. ``away``: it was begun on a device while the program did not answer: by
    who and when; then nothing refuses it either. ``wind``: None for the one that was last read.

    Raises: RefusedError with the reason and what opens it; ConflictError when the id names something else.
    """
    model = Models(session).lock(model_id)
    request = (
        {
            "model": str(model_id),
            "cards": list(card_ids),
            "wind": None if wind is None else to_json(wind),
            "alone": alone,
        }
        | ({"reasons": dict(reasons)} if reasons else {})
        | ({"flown": flown} if flown else {})
    )
    existing, asked = once(session, SortieRow, sortie_id, request)
    if existing is not None:
        return existing
    _refuse_read_only(model)
    known = history(session, model_id)
    # The wind that is read now is not the one of a flight that is over.
    blows = wind if flown else wind or _wind_at(known, away.flown_at if away else None)
    if flown:
        against, proved = _unplanned(known, card_ids, flown), frozenset[str]()
    elif away is not None:
        against, proved = _begun_away(known, card_ids, blows, reasons or {}, away)
    else:
        against, proved = _against(known, card_ids, blows, reasons or {})
    row = SortieRow(
        id=sortie_id,
        model_id=model_id,
        configuration_id=known.configuration.id,
        number=len(known.landed) + 1,
        status="planned",
        alone=alone or bool(flown),
        setup_hash=present_hash(session, model_id),
        request_hash=asked,
        **_pack_of(known),
    )
    session.add(row)
    session.flush()
    Sorties(session).add_cards(sortie_id, card_ids, proved)
    session.add_all(
        OverrideRow(sortie_id=sortie_id, code=stop.code, words=stop.words, reason=why) for stop, why in against
    )
    if blows is not None:
        session.add(
            WeatherRow(
                sortie_id=sortie_id,
                wind_mps=blows.speed_mps,
                gust_mps=blows.gust_mps,
                from_rad=blows.from_rad,
                strip_heading_rad=blows.strip_heading_rad,
            )
        )
    _predict(session, known, sortie_id)
    _gate_passes(session, known, sortie_id)
    store_release(session, sortie_id, known.setup, resting_trims(known.state))
    session.flush()
    return row


def _against(
    known: History, card_ids: tuple[str, ...], wind: Wind | None, reasons: Mapping[str, str]
) -> tuple[tuple[tuple[Said, str], ...], frozenset[str]]:
    """Return what the pilot flies against and why, and the trims that are only proved. Raises: RefusedError for what is not, or cannot be, overridden."""
    _refuse_open_sortie(known)
    plan, verdict = next_programme(known, wind=wind)
    refused = _refused(known, plan.gates, card_ids)
    if refused is not None:
        raise refused
    minutes = minutes_of(card_ids, plan.proved)
    found = stops(known, minutes=minutes, safe_minutes=plan.safe_minutes, verdict=verdict, card_ids=card_ids)
    return overridden(found, reasons), plan.proved


def _pack_of(known: History) -> dict[str, Any]:
    """Return the pack a sortie begins with, the volts of its cells, and the minutes it may take."""
    fitted = known.powered.fitted
    minutes = {"safe_minutes": known.endurance.safe_minutes}
    return minutes if fitted is None else {**minutes, "pack_id": uuid.UUID(fitted.pack.key), "cell_v": fitted.cell_v}


AWAY = "away"
"""Code of what a sortie was begun against on a device that had no answer of the program."""


def _begun_away(
    known: History, card_ids: tuple[str, ...], wind: Wind | None, reasons: Mapping[str, str], away: Written
) -> tuple[tuple[tuple[Said, str], ...], frozenset[str]]:
    """Return what a sortie was flown against that was begun without an answer of the program, and the trims that are only proved.

    It has been flown: nothing refuses it. What would have stands beside it, with the reason the pilot gave, or that nobody could be asked.
    """
    _refuse_open_sortie(known)
    _check_flight_cards(card_ids)
    plan, verdict = next_programme(known, wind=wind)
    why = f"Begun on the {away.device_name or 'device'} while the program did not answer."
    refused = _refused(known, plan.gates, card_ids)
    found = stops(
        known,
        minutes=minutes_of(card_ids, plan.proved),
        safe_minutes=plan.safe_minutes,
        verdict=verdict,
        card_ids=card_ids,
        when=away.flown_at,
    )
    unheard = () if refused is None else (finding(AWAY, refused.title, stops=True),)
    return tuple((stop, reasons.get(stop.code, "").strip() or why) for stop in (*unheard, *found)), plan.proved


def _check_flight_cards(card_ids: tuple[str, ...]) -> None:
    for card_id in card_ids:
        if card(card_id).phase is not Phase.FLIGHT:
            raise RefusedError(f"{card_id} is not a flight card.")
    if len(set(card_ids)) != len(card_ids):
        raise RefusedError("A card stands twice in this sortie.")


def _unplanned(known: History, card_ids: tuple[str, ...], why: str) -> tuple[tuple[Said, str], ...]:
    """Return what a sortie was flown against that nobody planned here: what happened can always be logged."""
    _refuse_open_sortie(known)
    _check_flight_cards(card_ids)
    _, gates, _ = open_gates(known)
    refused = _refused(known, gates, card_ids)
    # When it was flown nobody has said: the light now is not that flight's.
    also = [s for s in stops(known, minutes=0.0, safe_minutes=0.0) if s.code != "dark"]
    words = " ".join([*([] if refused is None else [refused.title]), *(s.words for s in also)])
    return overridden((finding("unplanned", f"Flown without a plan. {words}".strip(), stops=True),), {"unplanned": why})


def _refuse_open_sortie(known: History) -> None:
    if known.open_sortie is not None:
        raise RefusedError(f"Sortie {known.open_sortie.number} is still open. Fly it or land it first.")


def _refused(known: History, gates: tuple[str, ...], card_ids: tuple[str, ...]) -> RefusedError | None:
    """Return why these cards may not be flown next, None when they may."""
    if gates:
        return RefusedError(f"Open gates: {', '.join(gates)}. Do these cards first.", gates=list(gates))
    reason = refusal(
        card_ids,
        configuration=known.setup,
        sortie_number=len(known.landed) + 1,
        results=known.results,
        stale=known.stale,
        seen=known.seen,
        since=known.since,
    )
    return None if reason is None else RefusedError(reason)


def predicted_of(known: History) -> tuple[Tendency, ...]:
    """Return what the next flight is predicted to do. What is flown without a decision is flown as it landed."""
    belief = known.belief or prior_of(design_of(known.setup))
    return tendencies(known.setup, belief, resting_trims(known.state))


def _predict(session: Session, known: History, sortie_id: uuid.UUID) -> None:
    predicted = predicted_of(known)
    session.add_all(PredictionRow(sortie_id=sortie_id, **numbers_of(t, i)) for i, t in enumerate(predicted))


def _gate_passes(session: Session, known: History, sortie_id: uuid.UUID) -> None:
    """Write down what the sortie is let go on: the record that closed each gate."""
    for card_id, standing in known.standings.items():
        kind = CARDS.get(card_id)
        if kind is not None and kind.phase in (Phase.BENCH, Phase.GROUND) and standing.outcome is Outcome.PASSED:
            record_id = uuid.UUID(standing.counted.entry.id)
            session.add(GatePassRow(sortie_id=sortie_id, card_id=card_id, record_id=record_id))


def call_off(session: Session, sortie_id: uuid.UUID) -> SortieRow:
    """Take back a planned sortie that nobody has logged anything of. Calling off twice is calling off once.

    Raises: RefusedError for a sortie with records: what was logged is never planned away.
    """
    sorties = Sorties(session)
    Models(session).lock(sorties.model_of(sortie_id))
    row = sorties.get(sortie_id)
    if row.status == "called_off":
        return row
    if row.status == "landed":
        raise RefusedError(f"Sortie {row.number} has landed; it stays in the ledger.")
    if Log(session).of_sortie(sortie_id):
        raise RefusedError(f"Something is already logged of sortie {row.number}. Land it; what was logged counts.")
    row.status = "called_off"
    session.flush()
    return row


def _refuse_read_only(model: ModelRow) -> None:
    if model.read_only:
        raise RefusedError(f"{model.name} is kept read-only: it can be looked at, not flown.")
