"""What stops a sortie before it begins: read from the program's own evidence, overridden with a reason only."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from jinba.core.bench.adequacy import holds_height
from jinba.core.bench.controls import stopping
from jinba.core.bench.fuel import burnt_out
from jinba.core.bench.maiden import likely_forward_margin
from jinba.core.configuration import Configuration, Launch
from jinba.core.constants import ONE_SIDED_95_PERCENT
from jinba.core.diagnose.tendencies import risk_behind_minimum
from jinba.core.diagnose.update import Belief, prior_of
from jinba.core.errors import RefusedError, check_text
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import design_of
from jinba.core.said import Said, finding
from jinba.core.spoken import a_length, a_speed
from jinba.core.uncertainty import MOST_RISK

SHORTEST_REASON = 8


def balance_stop(configuration: Configuration, belief: Belief | None) -> Said | None:
    """Return that the margin is below the class minimum with more than 5 % chance, and what to do; None when it is not.

    ``belief``: None before any flight, then the bench's own. Derived here (docs/methods/maiden-balance.md).
    """
    design, rules = design_of(configuration), configuration.rules
    known = belief or prior_of(design)
    margin = design.static_margin + float(known.mean[P.STATIC_MARGIN])
    sigma = float(known.sigma[P.STATIC_MARGIN])
    risk = risk_behind_minimum(configuration, margin_fraction=margin, sigma_fraction=sigma)
    if risk <= MOST_RISK:
        return None
    mac = design.aero.planform.mac_m
    # Less than a millimetre is still a millimetre to whoever moves it.
    forward = a_length(max((rules.minimum + ONE_SIDED_95_PERCENT * sigma - margin) * mac, 0.001))
    better = "read the balance again, another way" if design.balance.misread else "measure better"
    if margin < 0.0:
        words = f"Balance: {a_length(-margin * mac)} behind the neutral point, it will not fly. Move the balance point at least {forward} forward."
    else:
        words = (
            f"Balance: a chance of {100 * risk:.0f} % that the margin is below the {100 * rules.minimum:.0f} % of its class. Move the "
            f"balance point at least {forward} forward, or {better}: it is known to ±{100 * sigma:.1f} % of the chord."
        )
    return finding("balance", words, stops=True)


def fuel_stop(configuration: Configuration, belief: Belief | None) -> Said | None:
    """Return that the margin gets too small while fuel burns, of a model that is safe with its tank full; None when it does not.

    References: as :func:`balance_stop`, of the model with its tank empty.
    """
    empty = burnt_out(configuration)
    if empty is None or balance_stop(configuration, belief) is not None:
        return None
    found = balance_stop(empty, belief)
    return (
        None if found is None else finding("fuel", f"Tank empty: {found.words.removeprefix('Balance: ')}", stops=True)
    )


def minutes_stop(minutes: float, safe_minutes: float) -> Said | None:
    """Return that a sortie takes longer than the pack safely gives [min], None when it does not. Derived here."""
    if minutes <= safe_minutes + 1e-9:
        return None
    words = f"Pack: this sortie takes {minutes:.1f} minutes, the pack gives {safe_minutes:.1f} safely. Take cards out, or a bigger pack."
    return finding("minutes", words, stops=True)


def work_stop(open_actions: int) -> Said | None:
    """Return that a work order is not proved, None when it is."""
    if open_actions == 0:
        return None
    count = "1 action is" if open_actions == 1 else f"{open_actions} actions are"
    return finding("work_order", f"Work order: {count} not proved. Prove each by its reading.", stops=True)


def unread_stop(configuration: Configuration) -> Said | None:
    """Return that nobody has read where the model balances: what its items are guessed to weigh is no reading. None when read."""
    if configuration.jig is not None:
        return None
    words = "Balance: never read, on a jig, on scales or on the fingers. What the parts are thought to weigh is no reading: read it."
    return finding("unread", words, stops=True)


def flare_stop(configuration: Configuration, belief: Belief | None) -> Said | None:
    """Return that the model is more likely than not too nose-heavy to be flared, None when it is not.

    Derived here (docs/methods/maiden-balance.md).
    """
    design = design_of(configuration)
    known = belief or prior_of(design)
    margin, most = design.static_margin + float(known.mean[P.STATIC_MARGIN]), likely_forward_margin(design)
    if margin <= most:
        return None
    aft = a_length((margin - most) * design.aero.planform.mac_m)
    words = (
        f"Balance: the elevator is not likely to flare it from so far forward. Move the balance point at least {aft} aft, or give "
        "the elevator more throw."
    )
    return finding("flare", words, stops=True)


LOST_TWICE = 2


def again_stop(lost: int) -> Said | None:
    """Return that the same setup has ended on the ground twice, None when it has not. ``lost``: sorties of it that did. Common practice,
    no source."""
    if lost < LOST_TWICE:
        return None
    words = (
        f"Setup: {lost} sorties of it ended on the ground, and nothing was changed since. Look for the cause before the next: directions and "
        "throws, elevator trim, the balance read again, thrust line, the launch; change what it is."
    )
    return finding("again", words, stops=True)


HAND_THROW_MPS = 9.0
"""What a good throw gives a model: common practice, no source. [m/s]"""


def launch_stop(configuration: Configuration) -> Said | None:
    """Return that a model to be thrown stalls faster than a hand throws, None when it does not. By definition."""
    stall = design_of(configuration).stall_speed_mps
    if configuration.launch is not Launch.HAND or stall <= HAND_THROW_MPS:
        return None
    words = (
        f"Launch: it stalls at {a_speed(stall, 1)}, a hand throws {a_speed(HAND_THROW_MPS, 0)} at best. From wheels, a dolly or a bungee; "
        "or lighter."
    )
    return finding("launch", words, stops=True)


def height_stop(configuration: Configuration) -> Said | None:
    """Return that the motors cannot hold the model level, None when they can or there is none. By definition."""
    if holds_height(design_of(configuration)):
        return None
    words = "Thrust: less than level flight takes, it cannot hold its height. More propeller or motor, or lighter."
    return finding("thrust", words, stops=True)


FIRM = ("motor_cut",)
"""Stops that no reason overrides. A reversed control and a failed structure are gates, and gates are never overridden."""

_NO_MOTOR_CUT = ("fail_safe_missing", "fail_safe_hold")


def controls_stops(
    configuration: Configuration, squawks: tuple[Said, ...], *, fail_safe_seen: bool
) -> tuple[Said, ...]:
    """Return what the controls desk and the last flight say must not be flown: first what cannot be overridden.

    ``fail_safe_seen``: the card of the fail-safe was passed for what is set now; card and desk share one proof.
    """
    found = [s for s in stopping(configuration) if not (fail_safe_seen and s.code == "fail_safe_unproved")]
    firm = [finding("motor_cut", f"Controls: {s.words}", stops=True) for s in found if s.code in _NO_MOTOR_CUT]
    rest = [finding("controls", f"Controls: {s.words}", stops=True) for s in found if s.code not in _NO_MOTOR_CUT]
    last = [finding("squawk", f"Last flight: {s.words}", stops=True) for s in squawks if s.stops]
    return (*firm, *rest, *last)


def overridden(stops: tuple[Said, ...], reasons: Mapping[str, str]) -> tuple[tuple[Said, str], ...]:
    """Return each stop with the reason for which the pilot in command flies all the same; those of one code share one reason.

    Raises: RefusedError naming the first stop without one, or one that no reason overrides; errors of the text.
    """
    found: dict[str, tuple[Said, str]] = {}
    for stop in stops:
        if stop.code in FIRM:
            raise RefusedError(f"{stop.words} No reason overrides this.", stop=stop.code)
        reason = check_text("reason", reasons.get(stop.code, "").strip(), longest=300)
        if len(reason) < SHORTEST_REASON:
            raise RefusedError(f"{stop.words} To fly all the same, say why in a few words.", stop=stop.code)
        before = found.get(stop.code)
        words = stop.words if before is None else f"{before[0].words} {stop.words}"
        found[stop.code] = (replace(stop, words=words), reason)
    return tuple(found.values())
