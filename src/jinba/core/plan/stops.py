"""What stops a sortie before it begins: read from the program's own evidence, overridden with a reason only."""

from __future__ import annotations

from collections.abc import Mapping

from jinba.core.configuration import Configuration
from jinba.core.constants import ONE_SIDED_95_PERCENT
from jinba.core.diagnose.tendencies import GATE_SIGMAS, MOST_RISK, gate_risk
from jinba.core.diagnose.update import Belief, prior_of
from jinba.core.errors import RefusedError, check_text
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import design_of
from jinba.core.said import Said, finding
from jinba.core.spoken import a_length

SHORTEST_REASON = 8


def balance_stop(configuration: Configuration, belief: Belief | None) -> Said | None:
    """Return that the margin is below the class minimum with more than 5 % chance, and what to do; None when it is not.

    ``belief``: None before any flight, then the bench's own. Derived here (docs/methods/maiden-balance.md).
    """
    design, rules = design_of(configuration), configuration.rules
    known = belief or prior_of(design)
    margin = design.static_margin + float(known.mean[P.STATIC_MARGIN])
    stated = float(known.sigma[P.STATIC_MARGIN])
    risk, sigma = gate_risk(configuration, margin_fraction=margin, sigma_fraction=stated), GATE_SIGMAS * stated
    if risk <= MOST_RISK:
        return None
    mac = design.aero.planform.mac_m
    forward = a_length((rules.minimum + ONE_SIDED_95_PERCENT * sigma - margin) * mac)
    if margin < 0.0:
        words = f"Balance: {a_length(-margin * mac)} behind the neutral point, it will not fly. Move the balance point at least {forward} forward."
    else:
        words = (
            f"Balance: a chance of {100 * risk:.0f} % that the margin is below the {100 * rules.minimum:.0f} % of its class. Move the "
            f"balance point at least {forward} forward, or measure better: it is known to ±{100 * sigma:.1f} % of the chord."
        )
    return finding("balance", words, stops=True)


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


def overridden(stops: tuple[Said, ...], reasons: Mapping[str, str]) -> tuple[tuple[Said, str], ...]:
    """Return each stop with the reason for which the pilot in command flies all the same.

    Raises: RefusedError naming the first stop without one; errors of the text.
    """
    found = []
    for stop in stops:
        reason = check_text("reason", reasons.get(stop.code, "").strip(), longest=300)
        if len(reason) < SHORTEST_REASON:
            raise RefusedError(f"{stop.words} To fly all the same, say why in a few words.", stop=stop.code)
        found.append((stop, reason))
    return tuple(found)
