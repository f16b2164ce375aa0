"""How much rudder a model without ailerons gets, from what full rudder did and how it came out of a turn."""

from __future__ import annotations

from dataclasses import replace

from jinba.core.cards.model import CardRecord
from jinba.core.configuration import Configuration
from jinba.core.controls.throws import AxisRates, RateStep
from jinba.core.correct.actions import Action, ActionKind, HeldBack
from jinba.core.diagnose.seen import Seen
from jinba.core.frames import Axis
from jinba.core.spoken import a_length

_CARD = "F34"

_STEPS = {"much": 2.0 / 3.0, "little": 4.0 / 3.0}
"""A third less, or a third more: one step that is felt and not feared. Common practice, no source."""

_LEAST, _MOST, _GRID = 0.25, 1.0, 0.05
"""Rates that are set, in steps of five per cent: below the least it would not be steered any more. Common practice, no source."""


def correct_rudder_rate(
    configuration: Configuration, seen: Seen
) -> tuple[Configuration, Action | None, tuple[HeldBack, ...]]:
    """Return the configuration with its rudder rates set, what to do, and what no rate takes away.

    Only after F34 in this setup, so only of a model that its rudder rolls. Derived here (docs/methods/corrections.md).
    """
    record = seen.of(_CARD)
    if configuration.controls is None or record is None or _CARD not in seen.cards:
        return configuration, None, ()
    held = _spiral(record)
    factor = _STEPS.get(_chosen(record, "full_rudder"))
    if factor is None:
        return configuration, None, held
    rates = configuration.controls.rates_of(Axis.YAW)
    # All of them alike: whichever was flown gets a third less, and the low one stays below the high one.
    after = replace(rates, steps=tuple(_scaled(s, factor) for s in rates.steps))
    if _most(after.step(0)) == _most(rates.step(0)):
        return configuration, None, (*held, _no_further(factor))
    return _with_rates(configuration, after), _action(configuration, rates, after), held


def _scaled(step: RateStep, factor: float) -> RateStep:
    def share(now: float) -> float:
        wanted = round(round(factor * now / _GRID) * _GRID, 2)
        # One that lies outside the limits already is not moved against the way that was asked for.
        return max(wanted, min(now, _LEAST)) if factor < 1.0 else min(wanted, max(now, _MOST))

    return replace(step, first=share(step.first), second=share(step.second))


def _with_rates(c: Configuration, yaw: AxisRates) -> Configuration:
    controls = c.control_setup
    return replace(c, controls=replace(controls, rates=tuple(yaw if r.axis is Axis.YAW else r for r in controls.rates)))


def _action(c: Configuration, before: AxisRates, after: AxisRates) -> Action:
    high, now = after.step(0), before.step(0)
    less = _most(high) < _most(now)
    steps = ", ".join(
        f"{a.name} from {100 * _most(b):.0f} % to {100 * _most(a):.0f} %"
        for b, a in zip(before.steps, after.steps, strict=True)
    )
    throw_m = c.ruler_mm(Axis.YAW, _most(high) * c.throw_rad(Axis.YAW)) / 1000.0
    return Action(
        ActionKind.RUDDER_RATE,
        abs(_most(high) - _most(now)) * 100.0,
        "%",
        f"Rudder rates, {'less' if less else 'more'} both ways: {steps}.",
        "F34: full rudder rolls it in fast and drops its nose." if less else "F34: full rudder hardly turns it.",
        f"Full rudder either way, {high.name} rate: the trailing edge moves {a_length(throw_m)}.",
        thumb="Rule of thumb: a model that is rolled by its rudder takes less of it than you think; it comes out later than it goes in.",
    )


def _most(step: RateStep) -> float:
    return max(step.first, step.second)


def _no_further(factor: float) -> HeldBack:
    if factor > 1.0:
        return HeldBack(
            ActionKind.RUDDER_RATE,
            "The rudder rate is at its end: a rate gives no more.",
            "An outer hole on the servo, an inner one on the horn, or a larger rudder.",
        )
    return HeldBack(
        ActionKind.RUDDER_RATE,
        "The rudder rate is as low as it is steered with.",
        "An inner hole on the servo, or less dihedral.",
    )


def _spiral(record: CardRecord) -> tuple[HeldBack, ...]:
    if not all(_chosen(record, k) == "in" for k in ("turn_left", "turn_right")):
        return ()
    words = "It rolls further in from either bank: a spiral that no trim takes away. Never let go of it in a turn."
    return (HeldBack(ActionKind.RUDDER_RATE, words, "More dihedral, or a smaller fin; then fly F34 again.", (_CARD,)),)


def _chosen(record: CardRecord, key: str) -> str:
    reading = record.reading(key)
    return "" if reading is None or reading.choice is None else reading.choice
