"""Advice matrix: what every worded answer of every card leads to, for each layout and size, against what a pilot knows.

``python -m bench.advice``: 11 layouts at 0.5 to 3 m. No plant is flown: the checks are signs, order, vetoes and mirror images
(common practice, no source), so that they share no formula with what they judge.
"""

from __future__ import annotations

import sys
from collections import Counter
from collections.abc import Iterable, Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from itertools import pairwise, product

import numpy as np

from jinba.core.cards.catalogue import CARDS, card
from jinba.core.cards.model import Capture, CaptureKind, Card, CardRecord, Outcome, Phase, Reading
from jinba.core.cards.scales import DIVE
from jinba.core.configuration import Configuration, JigReading, balance_of
from jinba.core.correct.balance import wanted_margin
from jinba.core.correct.compose import compose
from jinba.core.correct.composed import Correction
from jinba.core.diagnose.seen import seen_in
from jinba.core.diagnose.sorties import LoggedSortie, belief_after, trims_at_landing
from jinba.core.diagnose.update import prior_of
from jinba.core.frames import Axis, Response
from jinba.core.observe.parameters import COUNT, P
from jinba.core.observe.situation import design_of, situation, trim_elevator_rad
from jinba.core.silhouettes import SILHOUETTES, silhouette_configuration

SIZES = (0.5, 0.8, 1.5, 3.0)
PERFECT = ("F1", "F2", "F3", "F4", "F5", "F7", "F28", "F29")
_AFT_M = 0.0004
_SAME = 0.002

Verdict = tuple[str, bool, str]
"""What was checked, whether it held, and the case in words."""


@dataclass(frozen=True, slots=True)
class Advised:
    """A model at its class target, flown once with these records: what is believed and what is ordered."""

    setup: Configuration
    margin: float
    correction: Correction

    @property
    def aft_m(self) -> float:
        """How far the balance point is moved aft. [m]"""
        return balance_of(self.correction.configuration).x_m - balance_of(self.setup).x_m

    def now(self, key: str) -> float:
        """A behaviour as it landed, in its unit."""
        return next((t.value for t in self.correction.now if t.key == key), 0.0)


def model_of(layout: str, span_m: float, margin: float | None = None) -> Configuration:
    """Return a silhouette trimmed at cruise, balanced at a margin; None: its class target, or where its bench lets it fly."""
    c = silhouette_configuration(layout, span_m=span_m)
    c = replace(c, jig=JigReading(balance_of(c).x_m, 0.002, balance_of(c).mass.x_m))
    d = design_of(c)
    # A hair inside it: at the very edge any reading tips it over.
    margin = 0.002 + wanted_margin(c, prior_of(d)) if margin is None else margin
    c = replace(c, jig=JigReading(d.aero.neutral_point.x_m - margin * d.aero.planform.mac_m, 0.002, d.balance.mass.x_m))
    rest = trim_elevator_rad(situation(design_of(c), np.zeros(COUNT), speed_mps=design_of(c).cruise_speed_mps))
    return c.with_control(replace(c.elevator, mechanical_rad=rest, clicks=0, sub_trim_rad=0.0))


def advised(c: Configuration, *records: CardRecord) -> Advised:
    """Return what one sortie with these records leads to."""
    sorties = (LoggedSortie(c, records),)
    belief = belief_after(sorties, configuration=c)
    correction = compose(c, belief, trims_at_landing(sorties[-1]), seen_in(sorties, c))
    return Advised(c, design_of(c).static_margin + float(belief.mean[P.STATIC_MARGIN]), correction)


def neutral(capture: Capture) -> Reading | None:
    """Return the answer of a pilot who saw nothing; None for what may be left out."""
    if not capture.required:
        return None
    if capture.kind is CaptureKind.RATING:
        return Reading(capture.key, choice=capture.options[len(capture.options) // 2].key)
    if capture.kind in (CaptureKind.COUNT, CaptureKind.STICK):
        return Reading(capture.key, number=0.0, none=True)
    if capture.kind is CaptureKind.CHOICE:
        keys = [o.key for o in capture.options]
        return Reading(capture.key, choice="none" if "none" in keys else keys[0])
    return Reading(capture.key, number=1.0)


def record(card_id: str, *said: Reading, alone: bool | None = True, outcome: Outcome = Outcome.DONE) -> CardRecord:
    """Return a record with what was said and nothing seen otherwise."""
    kind: Card = card(card_id)
    given = {r.key for r in said}
    rest = [r for c in kind.captures if c.key not in given and (r := neutral(c)) is not None]
    return CardRecord(card_id, outcome, (*said, *rest), left_alone=alone if kind.proof_of_trim else None)


def rated(card_id: str, key: str, choice: str, *more: Reading, alone: bool = True) -> CardRecord:
    """Return a record with one word."""
    return record(card_id, Reading(key, choice=choice), *more, alone=alone)


def clicks(key: str, signed: int, up: Response, down: Response) -> Reading:
    """Return a count: positive ``down``, negative ``up``."""
    return Reading(key, number=float(abs(signed)), direction=(down if signed > 0 else up) if signed else None)


_WORDS = {
    ("F2", "left_over"): ("pitch_trim", {"drops": -1, "sinks": -1, "rises": 1, "rears": 1}),
    ("F3", "left_over"): ("roll_cruise", {"left_fast": -1, "left": -1, "right": 1, "right_fast": 1}),
    ("F4", "left_over"): ("yaw", {"left_much": -1, "left": -1, "right": 1, "right_much": 1}),
    ("F7", "roll_slow"): ("roll_slow", {"left_fast": -1, "left": -1, "right": 1, "right_fast": 1}),
    ("F5", "pitch_full"): ("power_pitch", {"drops": -1, "sinks": -1, "rises": 1, "rears": 1}),
}
_AGAINST = {"pitch_trim": Axis.PITCH, "roll_cruise": Axis.ROLL}
_NOSE_HEAVY = {
    ("F12", "pulls_out"),
    ("F12", "rears_out"),
    ("F13", "rises"),
    ("F13", "rears"),
    ("F15", "bends"),
    ("F15", "bends_fast"),
}


def signs(c: Configuration, name: str) -> Iterator[Verdict]:
    """The verdict has the sign of the pilot's word, and the surface goes against it."""
    for (card_id, key), (behaviour, words) in _WORDS.items():
        if CARDS[card_id].powered and c.airframe.motor is None:
            continue
        calm = advised(c, record(card_id)).now(behaviour)
        for word, sign in words.items():
            found = advised(c, rated(card_id, key, word))
            yield (
                "verdict goes the way of the word",
                (found.now(behaviour) - calm) * sign > 0,
                f"{name} {card_id} {word}",
            )
            axis = _AGAINST.get(behaviour)
            if axis is None:
                continue
            after = found.correction.configuration
            moved = after.control(axis).resting_rad - c.control(axis).resting_rad
            # Elevator is positive nose down, aileron positive to the right.
            against = moved * sign * (1 if axis is Axis.PITCH else -1)
            yield "surface goes against the word", against >= -1e-6, f"{name} {card_id} {word}"


def vetoes(c: Configuration, name: str, cards: Iterable[str] = CARDS) -> Iterator[Verdict]:
    """No word but a nose-heavy one moves the balance aft."""
    for kind in (CARDS[k] for k in cards if CARDS[k].phase is Phase.FLIGHT):
        for capture in (k for k in kind.captures if k.kind is CaptureKind.RATING):
            for option in capture.options:
                if (kind.id, option.key) in _NOSE_HEAVY:
                    continue
                found = advised(c, record("F2"), rated(kind.id, capture.key, option.key))
                yield "no aft move without a nose-heavy word", found.aft_m < _AFT_M, f"{name} {kind.id} {option.key}"
    pulls = rated("F12", "dive", "rears_out")
    for words, warning in (
        ("F1 broken off", record("F1", outcome=Outcome.ABORTED)),
        ("F7 forward stick", record("F7", Reading("stick_held", number=0.15, direction=Response.NOSE_DOWN))),
        ("F29 forward stick", record("F29", Reading("stick_back", number=0.15, direction=Response.NOSE_DOWN))),
        ("F13 could not be left alone", CardRecord("F13", Outcome.DONE, (), left_alone=False)),
    ):
        found = advised(c, record("F2"), pulls, warning)
        yield "no aft move against a warning", found.aft_m < _AFT_M, f"{name} {words}"


def left_alone(c: Configuration, name: str) -> Iterator[Verdict]:
    """A nose that drops with up trim in, and could not be left alone, is out of trim: up elevator, no lead at the nose."""
    up = clicks("pitch_clicks", -4, Response.NOSE_UP, Response.NOSE_DOWN)
    for word in ("sinks", "drops"):
        found = advised(c, rated("F2", "left_over", word, up, alone=False))
        flown = c.elevator.resting_rad - 4 * c.elevator.rad_per_click
        after = found.correction.configuration
        yield "drops, not left alone: elevator up", after.elevator.resting_rad < flown + 1e-6, f"{name} {word}"
        yield "drops, not left alone: nose said to drop", found.now("pitch_trim") < 0, f"{name} {word}"
        yield "drops, not left alone: nothing forward", found.aft_m > -_AFT_M, f"{name} {word}"
    held, wild = (advised(c, rated("F2", "left_over", "holds", alone=a)) for a in (True, False))
    yield "holds, not left alone: less margin", wild.margin < held.margin - _SAME, name


def monotonic(c: Configuration, name: str) -> Iterator[Verdict]:
    """More of what a nose-heavy model shows is never less margin."""
    series: dict[str, list[CardRecord]] = {
        "F12 words": [rated("F12", "dive", o.key) for o in card("F12").capture("dive").options],
        "F12 seconds to level": [_levelled(s) for s in (6.0, 5.0, 4.0, 3.0, 2.0)],
        "F14 push": [record("F14", _stick("stick_held", s)) for s in (-0.3, -0.1, 0.0, 0.1, 0.3, 0.6)],
    }
    if c.airframe.motor is not None:
        series["F13 clicks down"] = [
            record("F13", clicks("clicks_fast", n, Response.NOSE_UP, Response.NOSE_DOWN))
            for n in (-9, -6, -4, -2, -1, 0, 1, 2, 4, 6, 9)
        ]
        series["F13 words"] = [rated("F13", "left_over", o.key) for o in card("F13").capture("left_over").options]
    for words, records in series.items():
        found = [advised(c, record("F2"), r).margin for r in records]
        for (a, b), n in zip(pairwise(found), range(len(found)), strict=False):
            yield "monotonic in the margin", b >= a - _SAME, f"{name} {words} step {n}: {a:.3f} {b:.3f}"


def _levelled(seconds: float) -> CardRecord:
    """Return a dive that was level after so many seconds, with the word that fits the time."""
    options = card("F12").capture("dive").options
    word = options[DIVE.classify(35.0 / seconds)].key
    return rated("F12", "dive", word, Reading("time_to_level", number=seconds))


def _stick(key: str, signed: float) -> Reading:
    return Reading(key, number=abs(signed), direction=Response.NOSE_DOWN if signed > 0 else Response.NOSE_UP)


def perfect(c: Configuration, name: str) -> Iterator[Verdict]:
    """Nothing seen, nothing ordered; nothing flown, nothing ordered."""
    cards = [k for k in PERFECT if not (CARDS[k].powered and c.airframe.motor is None)]
    found = advised(c, *(record(k) for k in cards))
    yield (
        "no action on perfect records",
        not found.correction.actions,
        f"{name} {[a.kind.value for a in found.correction.actions]}",
    )
    nothing = advised(c)
    yield "no action on no record", not nothing.correction.actions, name
    broken = advised(c, CardRecord("F1", Outcome.ABORTED))
    yield "no aft move after a broken-off take-off", broken.aft_m < _AFT_M, name


def mirrored(c: Configuration, name: str) -> Iterator[Verdict]:
    """Left and right swapped, everything is the mirror image; torque has a side, so it is taken from models without one."""
    if c.airframe.motor is not None:
        return
    pairs = (("left", "right"), ("left_fast", "right_fast"))
    for left, right in pairs:
        a, b = (advised(c, rated("F3", "left_over", w), rated("F7", "roll_slow", w)) for w in (left, right))
        rests = [x.correction.configuration.aileron.resting_rad for x in (a, b)]
        yield "mirror image", abs(sum(rests)) < 1e-6 and abs(a.margin - b.margin) < 1e-6, f"{name} {left}"


def thin(layout: str, span_m: float, name: str) -> Iterator[Verdict]:
    """On the bench at -6, -2 and +2 % of the chord: forward to where it may be flown, or said not to be flyable yet."""
    for percent in (-6.0, -2.0, 2.0):
        c = model_of(layout, span_m, percent / 100.0)
        found = advised(c, rated("F1", "lift_off", "rears"), record("F28"))
        reached = next(t.value for t in found.correction.predicted if t.key == "static_margin") / 100.0
        said = any("Not flyable yet" in str(h.words) for h in found.correction.held_back)
        yield (
            "thin margin: reaches its minimum or says no",
            said or reached > c.rules.minimum,
            f"{name} {percent:+.0f} %",
        )
        yield "thin margin: forward", found.aft_m < -_AFT_M or said, f"{name} {percent:+.0f} %"


def of_model(case: tuple[str, float]) -> list[Verdict]:
    """Return every check of one layout and size."""
    layout, span_m = case
    name, c = f"{layout} {span_m:g} m", model_of(layout, span_m)
    found: list[Verdict] = []
    for check in (signs, vetoes, left_alone, monotonic, perfect, mirrored):
        found += check(c, name)
    return [*found, *thin(layout, span_m, name)]


def main() -> None:
    """Print how often each check was tried and failed, and the failures."""
    cases = list(product(SILHOUETTES, SIZES))
    with ProcessPoolExecutor(2) as pool:
        verdicts = [v for found in pool.map(of_model, cases) for v in found]
    tried, failed = Counter(v[0] for v in verdicts), Counter(v[0] for v in verdicts if not v[1])
    for words, count in tried.items():
        print(f"{words:48s} {count:5d} tried  {failed[words]:4d} failed")
    if "--list" in sys.argv:
        print(*(f"{w}: {case}" for w, held, case in verdicts if not held), sep="\n")
    print(f"in all {sum(tried.values())} tried, {sum(failed.values())} failed")


if __name__ == "__main__":
    main()
