"""Tip ballast: only when the evidence separates a heavy wing from a twisted one, in places and pieces the model has."""

from __future__ import annotations

from dataclasses import replace

from jinba.core.airframe.planform import chord_at
from jinba.core.bench.arrange import stock_of
from jinba.core.configuration import BallastStation, Configuration, with_carried_jig
from jinba.core.correct.actions import Action, ActionKind, HeldBack
from jinba.core.diagnose.causes import NOT_SEPARATED
from jinba.core.diagnose.seen import Seen
from jinba.core.diagnose.tendencies import roll_limit_deg_s
from jinba.core.diagnose.update import Belief
from jinba.core.frames import left_or_right, station_words
from jinba.core.mass.ballast import tip_ballast_kg
from jinba.core.mass.items import Item, ItemKind
from jinba.core.observe import predictions
from jinba.core.observe.parameters import PARAMETERS, P
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import Trims, design_of
from jinba.core.spoken import a_length, a_mass

_SMALLEST_LATERAL = 0.0025
"""A lateral offset below this is left to the ailerons [fraction of span]."""

_OFF_CENTRE_M = 0.05
"""A place for ballast nearer to the centre line than this is in the body, not in a wing. [m]"""


def correct_lateral(
    configuration: Configuration, belief: Belief, trims: Trims, seen: Seen
) -> tuple[Configuration, Action | None, HeldBack | None]:
    """Return the configuration with tip ballast, or the reason why it is held back.

    Ballast only where a wing grows heavy in slow flight, and when the flights tell a heavy wing from a twist: F3 and F7 flown
    in this setup, posterior over prior sigma of the lateral balance at most 0.75 and the mean beyond its sigma. Otherwise the
    ailerons carry it and F7 or a gauge is asked for. ``trims``: where the surfaces rest in flight. [rad]
    """
    design = design_of(configuration)
    span = design.aero.planform.span_m
    mean, sigma = float(belief.mean[P.LATERAL_CG]), float(belief.sigma[P.LATERAL_CG])
    offset = design.balance.mass.y_m / span + mean
    slow = predictions.roll_rate_slow(belief.mean, Moment(design, trims)) + belief.missed("roll_slow", design)
    if abs(offset) < _SMALLEST_LATERAL or abs(slow) <= roll_limit_deg_s(design):
        return configuration, None, None
    # Lead in a tip cures a heavy wing and worsens a twist at another speed: without evidence for one of them nothing is added.
    told = sigma / PARAMETERS[P.LATERAL_CG].sigma <= NOT_SEPARATED and abs(mean) > sigma
    separated = told and {"F3", "F7"} <= seen.cards
    light = left_or_right(-offset)
    if not separated:
        return (
            configuration,
            None,
            HeldBack(
                ActionKind.TIP_BALLAST,
                f"No ballast in the {light} tip yet: what was flown does not tell a heavy wing from a twisted one.",
                "Fly F7 (slow, hands off) or measure the incidence at both tips.",
                ("F7",),
            ),
        )
    place = _place(configuration, light)
    if place is None:
        words = f"No ballast in the {light} wing: the ballast at hand has no place there."
        return (
            configuration,
            None,
            HeldBack(ActionKind.TIP_BALLAST, words, f"Name a bay or the {light} tip on the bench."),
        )
    whole = tip_ballast_kg(mass_kg=design.balance.mass.mass_kg, y_cg_m=offset * span, tip_arm_m=abs(place.y_m))
    mass = min(_half(whole, stock_of(configuration).pieces_kg), place.most_kg)
    if mass <= 0:
        return configuration, None, None
    item = Item(
        f"tip-{light}-{len(configuration.items)}",
        f"Ballast, {place.name}",
        mass,
        place.x_m,
        place.y_m,
        kind=ItemKind.BALLAST,
    )
    action = Action(
        ActionKind.TIP_BALLAST,
        round(mass * 1000.0, 1),
        "g",
        f"{a_mass(mass, 0 if mass >= 0.01 else 1)} at the {place.name}, {a_length(abs(place.y_m))} from the centre line, {station_words(place.x_m, configuration.datum)}: half of what the flights ask for.",
        f"The {left_or_right(offset)} wing is heavy: it grows heavier as the model slows, a twist would fade. The other half after F7.",
        "Hung on nose and tail, the wings stay level.",
        thumb="Rule of thumb: ballast at the light tip until slow flight stays level, then about one click of aileron.",
    )
    after = with_carried_jig(configuration, replace(configuration, items=(*configuration.items, item)))
    return after, action, None


def _place(configuration: Configuration, side: str) -> BallastStation | None:
    """Return the outermost place for ballast in a wing, of those the model has; None without one."""
    sign = 1.0 if side == "right" else -1.0
    there = [s for s in stock_of(configuration).stations if s.y_m * sign > _OFF_CENTRE_M]
    place = max(there, key=lambda s: abs(s.y_m), default=None)
    if place is None or (configuration.ballast is not None and configuration.ballast.stations):
        return place
    # A tip that nobody has named: as near to the balance station as its chord reaches, so that it moves little fore and aft.
    leading, chord = chord_at(configuration.airframe.wing, min(abs(place.y_m), configuration.airframe.wing.half_span_m))
    x = max(leading, min(leading + chord, design_of(configuration).balance.x_m))
    return replace(place, x_m=x)


def _half(whole_kg: float, pieces_kg: tuple[float, ...]) -> float:
    """Return half of what is wanted as the smallest piece at hand makes it [kg]: one piece at least, unless that is too much."""
    piece = min(pieces_kg)
    return max(round(0.5 * whole_kg / piece), round(min(whole_kg / piece, 1.0))) * piece
