"""Papers and tables of a model: balance sheet, marking template, cards, the day as a calendar, items out and in."""

from __future__ import annotations

import math
import uuid
from dataclasses import replace
from datetime import UTC, datetime, timedelta

from sqlalchemy.orm import Session

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.emergency import emergencies_for
from jinba.core.cards.fitted import directions_of
from jinba.core.cards.proof import as_proof
from jinba.core.errors import RefusedError
from jinba.core.history.model import History
from jinba.core.plan.endurance import Endurance
from jinba.core.plan.heights import cards_for
from jinba.core.plan.minutes import minutes_of
from jinba.core.plan.site import Light
from jinba.core.plan.weather import Wind
from jinba.core.spoken import Units, a_speed, spoken
from jinba.formats.balance_papers import balance_sheet, marking_template
from jinba.formats.card_papers import Briefing, sortie_cards
from jinba.formats.day_calendar import FieldDay, write_day
from jinba.formats.hand_over import FlownAgainst, hand_over_sheet
from jinba.formats.item_table import read_items, write_items
from jinba.formats.paper import Sheet
from jinba.persistence.repositories import Sorties
from jinba.services import fly
from jinba.services.bench import answer_for, check_setup, open_for_change, save_setup
from jinba.services.history import history
from jinba.services.plan import at_the_site, next_programme
from jinba.services.sign_off import hand_over


def sheet_of(known: History, units: Units) -> Sheet:
    """Return the balance sheet of a model."""
    return balance_sheet(known.model.on_paper, known.setup, answer_for(known.belief, known.setup), units=units)


def template_of(known: History, units: Units, *, y_m: float | None) -> Sheet:
    """Return the marking template at a distance from the centre line, by default where the model is held."""
    answer = answer_for(known.belief, known.setup)
    at_m = answer.fingers.y_m if y_m is None else y_m
    return marking_template(known.model.on_paper, known.setup, answer, y_m=at_m, units=units)


def hand_over_of(session: Session, model_id: uuid.UUID, units: Units) -> Sheet:
    """Return the hand-over sheet of a model. Raises: RefusedError before the first landing."""
    known = history(session, model_id)
    last = known.last_flight
    if last is None:
        raise RefusedError("Nothing has been flown yet: there is nothing to hand over.")
    sorties = Sorties(session)
    against = [FlownAgainst(s.number, o.words, o.reason) for s in known.landed for o in sorties.overrides(s.id)]
    return hand_over_sheet(
        known.model.on_paper,
        known.state,
        answer_for(known.belief, known.state),
        after=last.after,
        sorties=len(known.landed),
        signed=known.signed_off,
        against=against,
        still_open=[c.words for c in hand_over(known).criteria if not c.met],
        units=units,
    )


def cards_of(session: Session, model_id: uuid.UUID, units: Units) -> tuple[Sheet, ...]:
    """Return the cards of the sortie that is open, else of the one that is proposed, with a briefing before them."""
    known = history(session, model_id)
    begun = known.open_sortie
    sortie = fly.next_sortie(known) if begun is None else fly.get_sortie(session, begun.id)
    catalogue = cards_for(sortie.setup)
    flown = [as_proof(catalogue[c]) if c in sortie.proved else catalogue[c] for c in sortie.card_ids if c in catalogue]
    briefing = Briefing(
        model=known.model.on_paper,
        sortie=sortie.number,
        minutes=minutes_of(sortie.card_ids, sortie.proved),
        safe_minutes=sortie.safe_minutes,
        pack=sortie.pack,
        wind="" if sortie.wind is None else _wind(sortie.wind),
        against=tuple(words for _, words, _ in sortie.against),
    )
    return sortie_cards(briefing, flown, emergencies_for(sortie.setup), directions_of(sortie.setup), units=units)


def _motor_timer(endurance: Endurance) -> str:
    motor = endurance.motor_timer_minutes
    return "" if motor is None else f", or {motor:g} with the motor running"


def day_of(known: History, *, begins: datetime, hours: float, units: Units) -> bytes:
    """Return the day of a model's next sortie as a calendar: what is flown, what is still open, the pack, the light at its site."""
    programme, _ = next_programme(known)
    there = at_the_site(known, programme.minutes, begins)
    endurance, site = known.endurance, known.site
    gates = ", ".join(f"{g} {CARDS[g].title}" for g in programme.gates)
    lines = (
        f"Cards: {', '.join(programme.flight)}; {programme.minutes:.1f} of {programme.safe_minutes:.1f} safe minutes.",
        f"Still open before it flies: {gates}."
        if gates
        else "All gates are closed now; those of the day are looked at on the spot.",
        *(
            ()
            if not endurance.pack
            else (
                f"Pack: {endurance.pack}, charged; timer {endurance.timer_minutes:g} minutes{_motor_timer(endurance)}.",
            )
        ),
        *(() if there.light is None else _light_words(there.light)),
        *(f.words for f in there.findings),
        *(() if site is None or not site.rules else (f"Rules of the site: {site.rules}",)),
    )
    day = FieldDay(
        uid=f"{known.model.id}-{programme.sortie_number}@jinba",
        begins=begins,
        ends=begins + timedelta(hours=hours),
        summary=f"{known.model.on_paper}: sortie {programme.sortie_number}",
        lines=tuple(spoken(line, units) for line in lines),
        where="" if site is None else site.name,
        geo_deg=None if site is None else (site.latitude_deg, site.longitude_deg),
    )
    return write_day(day, stamped=datetime.now(UTC))


def _light_words(light: Light) -> tuple[str, ...]:
    if light.day.sunset is None or light.day.dusk is None:
        return ()
    return (f"Sunset {light.day.sunset:%H:%M}, dusk {light.day.dusk:%H:%M} (UTC).",)


def _wind(wind: Wind) -> str:
    bearing, heading = (round(math.degrees(a)) % 360 for a in (wind.from_rad, wind.strip_heading_rad))
    return f"Wind {a_speed(wind.speed_mps, 1)}, gusts {a_speed(wind.gust_mps, 1)}, from {bearing:03d}°, take-off towards {heading:03d}°."


def items_out(known: History) -> str:
    """Return the items as a table."""
    return write_items(known.setup.items)


def items_in(session: Session, model_id: uuid.UUID, data: bytes, *, version: int | None) -> History:
    """Replace the items by those of a table; an item keeps its identity by its name. Raises: ItemTableError."""
    model, known = open_for_change(session, model_id, version=version)
    keys = {i.name: i.key for i in known.setup.items}
    taken: set[str] = set()
    items = []
    for item in read_items(data):
        key = keys.get(item.name, "")
        key = key if key and key not in taken else str(uuid.uuid4())
        taken.add(key)
        items.append(replace(item, key=key))
    setup = replace(known.setup, items=tuple(items))
    check_setup(setup)
    return save_setup(
        session,
        model_id,
        base_version=model.setup_version,
        setup=setup,
        words=f"{len(items)} items read from a table",
    )
