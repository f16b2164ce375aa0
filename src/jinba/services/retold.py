"""What each landed sortie was flown with and in, how it was trimmed and what it showed; and two of them side by side."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from jinba.core.cards.catalogue import CARDS
from jinba.core.configuration import Configuration, balance_of
from jinba.core.controls.trim import rest_words, surface_rest_rad
from jinba.core.correct.compose import as_flown
from jinba.core.diagnose.compared import Compared, compared
from jinba.core.diagnose.tendencies import Tendency
from jinba.core.errors import JinbaError
from jinba.core.frames import Axis, response_of_deflection, station_words, words_for
from jinba.core.history.model import History, SortieLine, WorkOrder
from jinba.core.observe.situation import resting_trims
from jinba.core.spoken import a_length, a_mass, a_speed
from jinba.core.walks import changes
from jinba.persistence.orm import WeatherRow
from jinba.persistence.repositories import Orders, Packs, Sorties
from jinba.services.estimates import Stored, stored_estimates
from jinba.services.history import history, order_of
from jinba.services.setups import setups_of

_ZERO_CELSIUS_K = 273.15


@dataclass(frozen=True, slots=True)
class Retold:
    """One landed sortie: when, with what, in what air; its trims as it landed in words; what it showed; the bench work after it.

    ``temperature_c``: of the air [°C], None where nobody entered it. ``within``: share of its predictions within one sigma [-].
    """

    model_id: uuid.UUID
    model: str
    sortie_id: uuid.UUID
    number: int
    configuration: int
    landed_at: datetime | None
    simulated: bool
    pack: str
    wind: str
    temperature_c: float | None
    cards: tuple[str, ...]
    balance: str
    trims: tuple[str, ...]
    clicks: str
    behaviours: tuple[Tendency, ...]
    within: float | None
    work: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Comparison:
    """Two sorties side by side: what differs in how they were set, and in what they did."""

    one: Retold
    other: Retold
    set_otherwise: tuple[str, ...]
    behaviours: tuple[Compared, ...]


def retold(session: Session, model_id: uuid.UUID) -> tuple[Retold, ...]:
    """Return every landed sortie of a model, oldest first. Raises: NotFoundError."""
    return tuple(told for told, _ in _told(session, history(session, model_id)))


def compare(session: Session, one: uuid.UUID, other: uuid.UUID) -> Comparison:
    """Return two landed sorties side by side, of one model or of two.

    Raises: NotFoundError; JinbaError for one that has not landed, or twice the same.
    """
    if one == other:
        raise JinbaError("Choose two sorties: this is the same one twice.", name="sorties")
    (a, set_a), (b, set_b) = (_one(session, i) for i in (one, other))
    _, words = changes(set_a, set_b)
    return Comparison(a, b, words, compared(a.behaviours, b.behaviours))


def _one(session: Session, sortie_id: uuid.UUID) -> tuple[Retold, Configuration]:
    known = history(session, Sorties(session).model_of(sortie_id))
    found = next((t for t in _told(session, known) if t[0].sortie_id == sortie_id), None)
    if found is None:
        raise JinbaError("That sortie has not landed: only what was flown can be compared.", name="sorties")
    return found


def _told(session: Session, known: History) -> list[tuple[Retold, Configuration]]:
    sorties = Sorties(session)
    rows = {r.id: r for r in sorties.landed(known.model.id)}
    setups = setups_of(session, {r.setup_hash for r in rows.values()})
    trims = sorties.trims(rows)
    stored = stored_estimates(session, list(rows))
    packs = {p: Packs(session).get(p).name for p in {r.pack_id for r in rows.values()} if p is not None}
    work, weathers = _work(session, known), sorties.weathers(rows)
    told = []
    for line in known.landed:
        row = rows[line.id]
        setup = setups[row.setup_hash]
        state = as_flown(setup, trims.get(line.id, resting_trims(setup)))
        one = _retold(
            known,
            line,
            state,
            stored=stored.get(line.id),
            weather=weathers.get(line.id),
            pack="" if row.pack_id is None else packs[row.pack_id],
            work=work.get(line.number, ()),
        )
        told.append((one, state))
    return told


def _retold(
    known: History,
    line: SortieLine,
    state: Configuration,
    *,
    stored: Stored | None,
    weather: WeatherRow | None,
    pack: str,
    work: tuple[str, ...],
) -> Retold:
    wind, temperature = ("", None) if weather is None else _air(weather)
    balance = balance_of(state)
    scores = () if stored is None else stored.score
    return Retold(
        model_id=known.model.id,
        model=known.model.on_paper,
        sortie_id=line.id,
        number=line.number,
        configuration=line.configuration,
        landed_at=line.landed_at,
        simulated=line.simulated,
        pack=pack,
        wind=wind,
        temperature_c=temperature,
        cards=tuple(CARDS[c].title if c in CARDS else c for c in line.card_ids),
        balance=f"{station_words(balance.x_m, state.datum)}, ± {a_length(balance.sigma_m, 1)}; {a_mass(balance.mass.mass_kg)}",
        trims=_rests(state),
        clicks=_clicks(state),
        behaviours=() if stored is None else stored.after,
        within=sum(s.within_one_sigma for s in scores) / len(scores) if scores else None,
        work=work,
    )


def _air(row: WeatherRow) -> tuple[str, float | None]:
    gust = "" if row.gust_mps <= row.wind_mps else f", gusting {a_speed(row.gust_mps, 1)}"
    return (
        f"{a_speed(row.wind_mps, 1)}{gust}",
        None if row.temperature_k is None else row.temperature_k - _ZERO_CELSIUS_K,
    )


def _rests(c: Configuration) -> tuple[str, ...]:
    offsets = {a: c.control(a).resting_rad for a in Axis}
    return tuple(rest_words(f, surface_rest_rad(f, offsets)) for f in c.control_setup.fittings)


def _clicks(c: Configuration) -> str:
    given = [(n, a) for a in Axis if (n := c.control(a).clicks)]
    return ", ".join(f"{abs(n)} {words_for(response_of_deflection(a, float(n))).model}" for n, a in given) or "none"


def _work(session: Session, known: History) -> Mapping[int, tuple[str, ...]]:
    """Return the bench work decided after each sortie, each action with the reading that proved it."""
    rows = (row for row in Orders(session).of_model(known.model.id) if row.taken_back_at is None)
    orders = (order_of(session, row, known.sorties, known.configurations) for row in rows)
    return {o.after_sortie: _proved(o) for o in orders if o is not None}


def _proved(order: WorkOrder) -> tuple[str, ...]:
    pairs: Sequence[tuple[str, str | None]] = [
        (a.words, proof) for a, proof in zip(order.actions, order.proofs, strict=True)
    ]
    return tuple(f"{words} {'Not proved yet.' if proof is None else f'Proved: {proof}.'}" for words, proof in pairs)
