"""The composer: balance, then thrust line, lateral balance and trims, each for what the ones before have done."""

from __future__ import annotations

from dataclasses import replace

from jinba.core.cards.stale import difference
from jinba.core.configuration import Configuration
from jinba.core.controls.surface_control import MOST_CLICKS
from jinba.core.correct.actions import Action, HeldBack
from jinba.core.correct.balance import correct_balance
from jinba.core.correct.choose import chosen
from jinba.core.correct.composed import Choices, Correction
from jinba.core.correct.lateral import correct_lateral
from jinba.core.correct.level import correct_level
from jinba.core.correct.rudder_rate import correct_rudder_rate
from jinba.core.correct.thrust import correct_thrust_line
from jinba.core.correct.trims import set_trims, trims_wanted
from jinba.core.diagnose.contradictions import contradictions
from jinba.core.diagnose.seen import Seen
from jinba.core.diagnose.tendencies import tendencies
from jinba.core.diagnose.update import Belief, prior_of
from jinba.core.frames import Axis
from jinba.core.observe.situation import Trims, design_of, resting_trims
from jinba.core.said import Said


def compose(
    configuration: Configuration,
    belief: Belief,
    flown: Trims,
    seen: Seen,
    choices: Choices | None = None,
    *,
    disagreeing: tuple[Said, ...] = (),
) -> Correction:
    """Return the correction for a belief, with ``flown`` the surface positions at the end of the last sortie. [rad]

    Balance first, the elevator for it, then what is left: thrust line, roll and yaw. Only what lies outside its band and was
    ``seen`` on its own card is changed. Moves come before ballast; everything is rounded to what hands can do and the outcome
    is computed with the rounded values. Of what could be changed that set is, which is expected to leave least undone (``choose``).
    ``disagreeing``: what the estimate found not to go together. References: docs/methods/corrections.md (derived here).
    """

    def composed(allowed: Choices) -> Correction:
        return _composed(configuration, belief, flown, seen, allowed, disagreeing)

    return chosen(choices or Choices(), belief, composed)


def _composed(
    configuration: Configuration,
    belief: Belief,
    flown: Trims,
    seen: Seen,
    allowed: Choices,
    disagreeing: tuple[Said, ...],
) -> Correction:
    balance = correct_balance(configuration, belief, seen, use_ballast=allowed.use_ballast, battery_m=allowed.battery_m)
    actions: list[Action] = list(balance.actions)
    held: list[HeldBack] = list(balance.held)
    after = balance.configuration
    leave = frozenset(allowed.leave)
    trims = trims_wanted(after, belief, flown, seen, altered=after != configuration, leave=leave)
    if allowed.use_thrust_line:
        after, washers, waiting = correct_thrust_line(after, belief, trims, seen)
        actions += washers
        held += waiting
    if allowed.use_tip_ballast:
        after, tip, reason = correct_lateral(after, belief, flown, seen)
        actions += [tip] if tip is not None else []
        held += [reason] if reason is not None else []
    after, trim_actions = set_trims(after, belief, flown, seen, altered=after != configuration, leave=leave)
    actions += trim_actions
    if allowed.use_level:
        after, level, missing = correct_level(after, seen)
        actions += [level] if level is not None else []
        held += [missing] if missing is not None else []
    if allowed.use_rudder_rate:
        after, rudder, spiral = correct_rudder_rate(after, seen)
        actions += [rudder] if rudder is not None else []
        held += spiral
    changed = difference(as_flown(configuration, flown), after)
    return Correction(
        actions=tuple(actions),
        held_back=tuple(held),
        configuration=after,
        now=tendencies(configuration, belief, flown, seen),
        predicted=tendencies(after, belief, resting_trims(after), seen.less(changed.stale)),
        difference=changed,
        wanted_margin=balance.wanted_margin,
        shortfall_m=balance.shortfall_m,
        contradictions=contradictions(
            seen,
            belief,
            prior_of(design_of(configuration)),
            stall_mps=design_of(configuration).stall_speed_mps,
            found=disagreeing,
        ),
        wanted_words=balance.wanted_words,
    )


def as_flown(configuration: Configuration, flown: Trims) -> Configuration:
    """Return the configuration with the trim clicks it landed with."""

    result = configuration
    for axis in Axis:
        control = configuration.control(axis)
        clicks = round((flown.of(axis) - control.mechanical_rad - control.sub_trim_rad) / control.rad_per_click)
        result = result.with_control(replace(control, clicks=max(-MOST_CLICKS, min(MOST_CLICKS, clicks))))
    return result
