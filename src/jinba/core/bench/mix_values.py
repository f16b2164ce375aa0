"""Mix values from what was held in flight: stick, through rates and expo, to surface degrees, to the mix; authority left."""

from __future__ import annotations

import math
from dataclasses import dataclass

from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.controls.deflections import STICK_SIGN, mean_throw_rad
from jinba.core.controls.fitting import Command
from jinba.core.controls.mixing import Mix
from jinba.core.controls.setup import COMMAND_OF, ControlSetup
from jinba.core.controls.throws import FlightPhase
from jinba.core.frames import Axis, Response, axis_of, response_of_deflection, surface_sign, words_for

_LEAST_COMMAND = 0.01

LEAST_LEFT = 0.30
"""Share of the elevator that a mix must leave for the stick: common practice, no source."""


@dataclass(frozen=True, slots=True)
class MixValue:
    """One mix that a flight asks for.

    ``mix`` as it would be set, what stands in the radio now included; ``fits``: it leaves enough of the target for the stick;
    ``source_limit``: the most of the source's travel that does [share], 1 where all of it may be used; ``command`` of the target [share of full throw] at full source; ``surface_rad`` the same as
    an angle; ``left_share``: share of the target's travel left with the mix on, the way it pushes; ``card``; ``setting`` the mix in words.
    """

    mix: Mix
    command: float
    surface_rad: float
    left_share: float
    card: str
    setting: str
    words: str
    advice: str
    fits: bool = True
    source_limit: float = 1.0


def mix_words(mix: Mix) -> str:
    """Return a mix in words, without a sign: "full flap gives 10 % nose down"."""
    axis = Axis(mix.target.value)

    def way(share: float, source_sign: float) -> str:
        return f"{100 * abs(share):.0f} % {words_for(response_of_deflection(axis, share * source_sign)).model}"

    if mix.source in (Command.FLAP, Command.THROTTLE):
        return f"full {mix.source.value} gives {way(mix.share, 1.0)}"
    other = mix.share if mix.share_other is None else mix.share_other
    source = Axis(mix.source.value)
    first, second = (words_for(response_of_deflection(source, s)).stick for s in (1.0, -1.0))
    return f"{first} gives {way(mix.share, 1.0)}; {second} gives {way(other, -1.0)}"


def stick_command(setup: ControlSetup, phase: FlightPhase, response: Response, held: float) -> float:
    """Return the command [signs of ``core.frames``] of a stick held a share [0, 1] the way of a response, through rate and expo.

    Derived here (docs/methods/mix-values.md).
    """
    axis = axis_of(response)
    # Back and right are the positive stick; pitch and yaw commands are positive nose down and nose left.
    stick = held * surface_sign(response) * STICK_SIGN[axis]
    return STICK_SIGN[axis] * float(setup.rates_of(axis).step(phase.rate_of(axis)).command(stick))


def mix_values(
    setup: ControlSetup, records: tuple[CardRecord, ...], *, phase: FlightPhase | None = None
) -> tuple[MixValue, ...]:
    """Return the mixes that logged cards ask for: flap step (F11), power step (F5), knife-edge (F21), in that order.

    The stick held is what the mix must give beyond what it gave, so that the thumb can rest: mix = mix flown + command held / source.
    A stick held against the flap at a step of the flap is scaled to full flap. Derived here (docs/methods/mix-values.md).
    """
    flown = phase or setup.phases[0]
    values: list[MixValue] = []
    # Of a card that was flown again the latest counts.
    latest = {r.card_id: r for r in records if r.outcome is Outcome.DONE}
    for record in latest.values():
        if record.card_id == "F11":
            values += _flap(setup, flown, record)
        if record.card_id == "F5":
            values += _power(setup, record)
        if record.card_id == "F21":
            values += _knife_edge(setup, flown, record)
    return tuple(values)


_FLAP_STEPS = (("stick_quarter", 0.25), ("stick_half", 0.5), ("stick_full", 1.0))


def _flap(setup: ControlSetup, phase: FlightPhase, record: CardRecord) -> list[MixValue]:
    steps = [(r, share) for key, share in _FLAP_STEPS if (r := record.reading(key)) is not None]
    asked = [(_held(setup, phase, r), share) for r, share in steps]
    if not asked:
        return []
    # The largest step flown says most; the others are kept in the words.
    command, share = asked[-1]
    flown, _ = _flown(setup, Command.FLAP, Command.PITCH)
    full = flown + command / share
    said = "; ".join(f"{100 * s:.0f} % flap {100 * abs(c):.0f} % {_way(Axis.PITCH, c)}" for c, s in asked)
    limit = _source_limit(full)
    if abs(full) < 0.03:
        advice = "Leave it without a mix for now: less than a thumb feels."
    elif limit < 1.0:
        advice = (
            f"Do not set it for full flap: that leaves {100 * (max(0.0, 1.0 - abs(full))):.0f} % of the elevator. Limit the flap to {100 * limit:.0f} % of its "
            "travel first, then fly the smallest flap again."
        )
    else:
        advice = (
            "Set it, then fly the smallest flap again; recheck at each step, different flaps do not follow one line."
        )
    words = f"Held{_besides(Axis.PITCH, flown)}: {said}."
    return [_value(setup, Mix(Command.FLAP, Command.PITCH, _clipped(full)), full, "F11", words, advice, limit)]


def _power(setup: ControlSetup, record: CardRecord) -> list[MixValue]:
    clicks = record.reading("clicks_full")
    if clicks is None or clicks.number is None:
        return []
    sign = 0.0 if clicks.direction is None else float(surface_sign(clicks.direction))
    share = setup.radio.click_us / 500.0
    # Cruise is taken as half throttle: the clicks were counted over the other half.
    more = sign * clicks.number * share / 0.5
    if abs(more) < _LEAST_COMMAND:
        return []
    flown, _ = _flown(setup, Command.THROTTLE, Command.PITCH)
    command = flown + more
    words = f"{clicks.number:g} clicks {_way(Axis.PITCH, more)}{_besides(Axis.PITCH, flown)} held full power at cruise speed."
    advice = (
        "Only when the thrust line is right: shim the motor first if the first second after the throttle says so. "
        "Climbing as speed builds up is speed stability, no fault to mix away. Trim again at cruise: at half throttle the mix "
        "already gives half."
    )
    return [_value(setup, Mix(Command.THROTTLE, Command.PITCH, _clipped(command)), command, "F5", words, advice)]


def _knife_edge(setup: ControlSetup, phase: FlightPhase, record: CardRecord) -> list[MixValue]:
    values = []
    for target, axis in ((Command.PITCH, Axis.PITCH), (Command.ROLL, Axis.ROLL)):
        halves: list[tuple[float, float]] = []
        for side, rudder in (("right", Response.YAW_RIGHT), ("left", Response.YAW_LEFT)):
            held = record.reading(f"{target.value}_{side}")
            rudder_held = record.reading(f"rudder_{side}")
            if held is None or rudder_held is None or not rudder_held.number:
                continue
            source = stick_command(setup, phase, rudder_held.direction or rudder, rudder_held.number)
            halves.append((_held(setup, phase, held), source))
        if not halves:
            continue
        plus = [c / s for c, s in halves if s > 0]
        minus = [c / s for c, s in halves if s < 0]
        if all(abs(c) < _LEAST_COMMAND for c in (*plus, *minus)):
            continue
        # What was flown on one side says nothing of the other: that stays as it is set.
        left, right = _flown(setup, Command.YAW, target)
        first, other = left + sum(plus[:1]), right + sum(minus[:1])
        command = max((first, other), key=abs)
        mix = Mix(Command.YAW, target, _clipped(first), _clipped(other))
        seen = [f"{_way(axis, c)} with left rudder" for c in plus[:1]]
        seen += [f"{_way(axis, -c)} with right rudder" for c in minus[:1]]
        words = f"Rudder to {_WORD[target]}: knife-edge needed {', '.join(seen)}."
        if len(seen) == 1:
            words += " The other side was not flown: its mix stays as it is."
        advice = f"Only after the balance is right: most coupling in pitch goes with it.{_less_rudder(record)}"
        values.append(_value(setup, mix, command, "F21", words, advice))
    return values


def _flown(setup: ControlSetup, source: Command, target: Command) -> tuple[float, float]:
    """Return what a mix gave when the card was flown: both ways of its source."""
    mix = next((m for m in setup.mixes if m.source is source and m.target is target), None)
    return (0.0, 0.0) if mix is None else (mix.share, mix.share if mix.share_other is None else mix.share_other)


def _besides(axis: Axis, flown: float) -> str:
    return "" if abs(flown) < 1e-9 else f" besides the {100 * abs(flown):.0f} % {_way(axis, flown)} that the mix gave"


def _source_limit(command: float) -> float:
    """Return the share of the source at which a command leaves enough of the target for the stick. Derived here."""
    return 1.0 if abs(command) <= 1.0 - LEAST_LEFT else round((1.0 - LEAST_LEFT) / abs(command), 2)


def _less_rudder(record: CardRecord) -> str:
    """Return what a climb in knife-edge asks for: the rudder that holds height, no more."""
    climbs = [s for s in ("right", "left") if (r := record.reading(f"height_{s}")) is not None and r.choice == "climbs"]
    return f" It climbed with {' and '.join(climbs)} rudder: less rudder there, before any mix." if climbs else ""


_WORD = {Command.PITCH: "elevator", Command.ROLL: "aileron", Command.YAW: "rudder"}


def _held(setup: ControlSetup, phase: FlightPhase, reading: Reading) -> float:
    if reading.none or not reading.number or reading.direction is None:
        return 0.0
    return stick_command(setup, phase, reading.direction, min(1.0, reading.number))


def _clipped(share: float) -> float:
    return max(-1.0, min(1.0, round(share, 3)))


def _way(axis: Axis, command: float) -> str:
    if abs(command) < 1e-9:
        return "nothing"
    return words_for(response_of_deflection(axis, command)).model


def _value(
    setup: ControlSetup, mix: Mix, command: float, card: str, words: str, advice: str, limit: float = 1.0
) -> MixValue:
    axis = next(a for a, c in COMMAND_OF.items() if c is mix.target)
    travel = mean_throw_rad(setup, axis, math.copysign(1.0, command))
    angle = mean_throw_rad(setup, axis, command)
    return MixValue(
        mix=mix,
        command=command,
        surface_rad=angle,
        left_share=max(0.0, 1.0 - angle / travel) if travel > 1e-9 else 0.0,
        card=card,
        setting=mix_words(mix),
        words=words,
        advice=advice,
        fits=limit >= 1.0,
        source_limit=limit,
    )
