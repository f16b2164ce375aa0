"""Where every measure of the airframe comes from, how well it is known, and which one is worth taking next."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from jinba.core.airframe.measuring import MeasuringStep, measure_name, measuring_steps
from jinba.core.airframe.taken import RULER_SIGMA_M, How, Readings, key_of, value_at
from jinba.core.configuration import Configuration
from jinba.core.observe.situation import Design
from jinba.core.said import Said, Severity, finding
from jinba.core.spoken import a_length
from jinba.core.stability.unsure import guess_sigmas_m, reading_sigmas_m

_WORTH = 0.05
"""A measure is named when it makes the margin surer by more than this share: below it the order of the list is as good. Derived here."""

_HALVES = 0.55
_LEAST_ASKEW_M = 0.003
"""Halves that differ by less are as straight as models are built: common practice, no source."""

_ASKEW_SIGMAS = 3.0


class Origin(StrEnum):
    """Where a number comes from."""

    GUESSED = "guessed"
    MEASURED = "measured"
    COMPUTED = "computed"
    INFERRED = "inferred"


@dataclass(frozen=True, slots=True)
class MeasureOrigin:
    """Where one measure comes from: its ``value`` as it is read [m, rad; wash-out positive], None where it is as the other half's;
    ``sigma`` by its readings [m, rad for an angle], None where nobody wrote down how it was taken.

    ``moves_m``: how unsure the neutral point is for it alone [m], 0 where it does not move it.
    """

    key: str
    part: str
    label: str
    focus: str
    quantity: str
    value: float | None
    origin: Origin
    words: str
    sigma: float | None
    count: int
    on: str
    moves_m: float


@dataclass(frozen=True, slots=True)
class Origins:
    """Of every measure, in the order of taking them; how many are measured; the next worth taking; what does not agree.

    ``next_key``: the measure that is meant, "balance" for the balance point, None where nothing is worth naming.
    """

    measures: tuple[MeasureOrigin, ...]
    measured: int
    next_key: str | None
    next: Said | None
    findings: tuple[Said, ...]


def origins_of(design: Design) -> Origins:
    """Return where the airframe's measures come from. Derived here (docs/methods/neutral-point.md)."""
    c = design.configuration
    taken = {t.key: t for t in c.taken}
    guesses = guess_sigmas_m(c.airframe) if c.guessed else {}
    read = reading_sigmas_m(c.airframe, c.taken)
    steps = measuring_steps(c.airframe)
    measures = tuple(_origin(c, s, taken.get(key_of(s.path)), guesses, read) for s in steps)
    key, said = _next(design, measures)
    return Origins(
        measures,
        sum(m.origin is Origin.MEASURED for m in measures),
        key,
        said,
        tuple(f for s in steps if (t := taken.get(key_of(s.path))) for f in _findings(c, s, t)),
    )


def _origin(
    c: Configuration, step: MeasuringStep, taken: Readings | None, guesses: dict[str, float], read: dict[str, float]
) -> MeasureOrigin:
    key = key_of(step.path)
    angle = step.quantity == "angle"
    value = _value(c, step)
    sigma = None if taken is None else taken.sigma(value, angle=angle)
    guessed = key in c.guessed
    return MeasureOrigin(
        key=key,
        part=step.part,
        label=step.label,
        focus=step.focus,
        quantity=step.quantity,
        value=_shown(c, step),
        origin=Origin.GUESSED if guessed else Origin.MEASURED,
        words="guessed by the silhouette" if guessed else _words(taken, sigma, angle=angle),
        sigma=sigma,
        count=0 if taken is None else taken.count,
        on="" if taken is None else taken.on,
        moves_m=guesses.get(key, 0.0) if guessed else read.get(key, 0.0),
    )


def _value(c: Configuration, step: MeasuringStep) -> float:
    value = value_at(c.airframe, step.path)
    return 0.0 if value is None else float(value)


def _shown(c: Configuration, step: MeasuringStep) -> float | None:
    value = value_at(c.airframe, step.path)
    if value is None:
        return None
    return 0.0 - float(value) if step.negated else float(value)


def _words(taken: Readings | None, sigma: float | None, *, angle: bool) -> str:
    if taken is None or sigma is None:
        return "measured"
    tool = "by meter" if angle else _TOOLS[taken.how]
    plan = f", 1 : {taken.scale:g}" if taken.how is How.PLAN else ""
    readings = "one reading" if taken.count == 1 else f"{taken.count} readings"
    known = f"{math.degrees(sigma):.1f}°" if angle else a_length(sigma, 1)
    return f"measured {tool}{plan}, {readings}, ± {known}"


_TOOLS = {How.MODEL: "by ruler", How.PLAN: "on the plan", How.PICTURE: "on the picture"}


def _next(design: Design, measures: tuple[MeasureOrigin, ...]) -> tuple[str | None, Said | None]:
    """Return what makes the margin surest when it is taken next: a guess measured by ruler, or the balance point read."""
    mac = design.aero.planform.mac_m
    now = design.static_margin_sigma * mac
    gains = [(m.moves_m, m.key, measure_name(m.part, m.label)) for m in measures if m.origin is Origin.GUESSED]
    if not design.balance.from_jig:
        gains.append((design.balance.sigma_m, "balance", "the balance point, with a jig or on fingers"))
    if not gains:
        return None, None
    gone, key, name = max(gains)
    after = math.hypot(math.sqrt(max(now**2 - gone**2, 0.0)), RULER_SIGMA_M)
    if after > (1.0 - _WORTH) * now:
        return None, None
    does = "It halves the doubt about" if after < _HALVES * now else "It makes surer"
    words = f"Measure next: {name}. {does} how far ahead of the neutral point it balances: ± {a_length(now)} now, ± {a_length(after)} then."
    return key, Said("measure_next", Severity.PLAIN, words, (key,))


_ASKEW = {
    "chord_m": ("longer", "chord", "the left half lifts more, and rolls it right"),
    "y_m": ("longer", "span", "the left half lifts more, and rolls it right"),
    "x_offset_m": ("further back", "leading edge", "it stands askew, and yaws or rolls"),
    "z_offset_m": ("higher", "tip", "it stands crooked, and rolls right"),
}
_OTHER = {"longer": "shorter", "further back": "further forward", "higher": "lower"}


def _findings(c: Configuration, step: MeasuringStep, taken: Readings) -> list[Said]:
    angle = step.quantity == "angle"
    value = _value(c, step)
    found = []
    apart = taken.apart(value, angle=angle)
    if apart is not None:
        far = f"{math.degrees(apart):.1f}°" if angle else a_length(apart, 1)
        words = f"{step.name}: readings lie {far} apart. One of them slipped; take it anew."
        found.append(finding("readings_apart", words, key_of(step.path)))
    less, kind = taken.left_less_right, str(step.path[-1])
    if less is None or kind not in _ASKEW:
        return found
    if abs(less) > max(_LEAST_ASKEW_M, _ASKEW_SIGMAS * math.sqrt(2.0) * taken.tool_sigma(value, angle=False)):
        word, what, does = _ASKEW[kind]
        side = word if less > 0.0 else _OTHER[word]
        turned = does if less > 0.0 else _mirrored(does)
        words = f"{step.part}, left {what}: {a_length(abs(less), 1)} {side} than the right one: {turned}."
        found.append(
            finding(
                "askew", f"{words[0].upper()}{words[1:]} Measure both again; if it is so, true it.", key_of(step.path)
            )
        )
    return found


def _mirrored(words: str) -> str:
    return (
        words.replace("the left half", "the right half")
        .replace("rolls it right", "rolls it left")
        .replace("rolls right", "rolls left")
    )
