"""Today: where the model is in the loop, one sentence, one button."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.airframe.guesses import all_measures
from jinba.core.airframe.layout import pitch_control_of
from jinba.core.cards.incident import Incident
from jinba.core.configuration import Configuration
from jinba.core.declare import Change
from jinba.core.diagnose.estimate import headline, worst_tendency
from jinba.core.diagnose.tendencies import Tendency
from jinba.core.frames import Axis, response_of_deflection, words_for
from jinba.core.history.model import History, SortieStatus
from jinba.core.mass.items import ItemKind
from jinba.core.said import Said
from jinba.core.spoken import a_length
from jinba.core.walks import Told, differences
from jinba.services.plan import open_gates, stops

_WITH_STOPS = ("debrief", "rework", "plan")
STATIONS = ("bench", "plan", "fly", "debrief", "rework")


@dataclass(frozen=True, slots=True)
class Callout:
    """A short remark at a place of the drawing; ``part`` names it (elevator, battery, wing, motor, fin)."""

    part: str
    words: str


@dataclass(frozen=True, slots=True)
class Today:
    """The station of the loop, the sentence, the button's words and where it leads, callouts, counts per station.

    ``stops``: what stops the next sortie as the model stands, where the sentence speaks of something else.
    """

    station: str
    sentence: str
    button: str
    target: str
    callouts: tuple[Callout, ...]
    counts: dict[str, int]
    worst: Tendency | None
    stops: tuple[Said, ...] = ()


def today(known: History) -> Today:
    """Return what the first screen says of a model."""
    number, gates, verdict = open_gates(known)
    counts = {"plan": len(gates), "fly": 1 if known.open_sortie else 0, "rework": 0, "bench": 0, "debrief": 0}
    if known.open_work is not None:
        counts["bench"] = known.open_work.open
    worst = None if known.last_flight is None else worst_tendency(known.last_flight.after)
    stopped = stops(known, minutes=0.0, safe_minutes=0.0, verdict=verdict)
    station, sentence, button, target = _next(known, worst, len(gates), number, stopped)
    elsewhere = (s for s in stopped if s.words not in sentence and s.code != "work_order")
    said = tuple(elsewhere) if station in _WITH_STOPS else ()
    return Today(station, sentence, button, target, _callouts(known, worst), counts, worst, said)


def _next(
    known: History, worst: Tendency | None, gates: int, number: int, stopped: tuple[Said, ...]
) -> tuple[str, str, str, str]:
    name = known.model.name
    if known.model.read_only:
        return (
            "bench",
            f"{name} is kept read-only: it can be looked at, not changed.",
            "Look at it on the bench",
            "bench",
        )
    sortie = known.open_sortie
    if sortie is not None and sortie.status is SortieStatus.FLYING:
        return (
            "fly",
            f"{name} is in sortie {sortie.number}. Nothing logged so far is lost.",
            f"Go on with sortie {sortie.number}",
            "fly",
        )
    if sortie is not None:
        return (
            "fly",
            f"Sortie {sortie.number} of {name} is planned with {len(sortie.card_ids)} cards.",
            f"Fly sortie {sortie.number}",
            "fly",
        )
    if known.unmended is not None:
        return "plan", f"{name}: {_happened(known, known.unmended)}", "Go over it, card by card", "plan"
    if known.signed_off is not None:
        signed = known.signed_off
        words = f"{name} is signed off by {signed.signed_by} after sortie {signed.sortie}: fly it as it is."
        return "debrief", words, "Hand-over sheet", "debrief"
    if known.last_flight is not None and known.decided is None:
        last = known.last_flight.sortie
        if worst is None:
            flight = known.last_flight
            said = headline(
                name,
                flight.after,
                data_count=flight.data_count,
                broken_off=known.broken_off,
                happened=known.happened,
                together=flight.together,
            )
            return "debrief", f"Sortie {last.number} has landed. {said}", "Read the debrief", "debrief"
        return "rework", f"{name}: {worst.verdict}. What to change is computed.", "Decide the rework", "rework"
    if known.open_work is not None:
        return "rework", f"The work order for {name} is not proved yet.", "Finish the work order", "rework"
    if known.setup.guessed and not known.landed:
        total = len(all_measures(known.setup.airframe))
        words = (
            f"{name} is a silhouette so far: {total - len(known.setup.guessed)} of {total} measures are its own. Measure it first; "
            "guesses widen every number."
        )
        return "bench", words, "Measure it, in order", "bench?measure=in-order"
    if gates:
        also = "".join(f" {s.words}" for s in stopped)
        return (
            "plan",
            f"{name} needs {gates} bench and ground cards before sortie {number}.{also}",
            f"Open the plan for sortie {number}",
            "plan",
        )
    if stopped:
        return (
            "plan",
            f"{name} is not ready for sortie {number}. {' '.join(s.words for s in stopped)}",
            f"Plan sortie {number}",
            "plan",
        )
    return "plan", f"{name} is ready for sortie {number}.", f"Plan sortie {number}", "plan"


def _happened(known: History, incident: Incident) -> str:
    """Return what happened and what has to be gone over before the next take-off."""
    where = f"sortie {incident.sortie}" if incident.sortie else "the bench"
    opened = sorted(incident.opens & known.since.opened)
    weighed = ", weigh each repair (Bench, Items)" if incident.parts else ""
    return f"{incident.words} ({where}). Repair what is damaged{weighed}, then go over {', '.join(opened)}."


_PARTS = {
    Change.ELEVATOR: "elevator",
    Change.RADIO_TRIM: "elevator",
    Change.THROWS: "elevator",
    Change.THRUST_LINE: "motor",
    Change.POWER: "motor",
    Change.BALANCE: "balance",
}
_ITEM_PARTS = {ItemKind.BATTERY: "battery", ItemKind.BALLAST: "ballast"}


def _part(told: Told, setup: Configuration) -> str:
    """Return the part of the drawing at which a change is said."""
    item = next((i for i in setup.items if told.path.startswith(f".items.{i.key}")), None)
    if item is not None:
        return _ITEM_PARTS.get(item.kind, "balance")
    return _PARTS.get(told.kinds[0], "wing")


def _callouts(known: History, worst: Tendency | None) -> tuple[Callout, ...]:
    found: list[Callout] = []
    elevator = known.setup.elevator
    if known.last_flight is not None:
        trims = known.last_flight.landed
        clicks = (trims.elevator_rad - elevator.mechanical_rad - elevator.sub_trim_rad) / elevator.rad_per_click
        mm = known.setup.ruler_mm(Axis.PITCH, trims.elevator_rad)
        if abs(clicks) > 3 and known.decided is None:
            layout = pitch_control_of(known.setup.airframe)
            rests = words_for(response_of_deflection(Axis.PITCH, trims.elevator_rad), layout).surface
            found.append(Callout("elevator", f"{rests}, {a_length(mm / 1000, 1)} off fair: move it to the clevis"))
    if known.last_flight is not None and known.changed_since_landing:
        for told in differences(known.last_flight.state, known.setup)[:2]:
            found.append(Callout(_part(told, known.setup), told.words))
    if worst is not None:
        part = {
            "static_margin": "balance",
            "power_pitch": "motor",
            "roll_cruise": "wing",
            "roll_slow": "wing",
            "yaw": "fin",
        }.get(worst.key, "elevator")
        found.append(Callout(part, worst.verdict))
    return tuple(found)
