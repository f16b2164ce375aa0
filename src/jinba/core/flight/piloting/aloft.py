"""In the air with one model: where its trims stand, how it is flown to a condition, and what a run of hands gives."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jinba.core.configuration import Configuration
from jinba.core.flight.piloting.person import PITCH_EDGES, Eyes
from jinba.core.flight.piloting.recording import Recorder
from jinba.core.flight.simulation.craft import Craft
from jinba.core.flight.simulation.gusts import STILL, gusts
from jinba.core.flight.simulation.hands import (
    COLUMNS,
    NOSE,
    PATH,
    ROLLING,
    SLIP,
    TIME,
    Flight,
    Hand,
    begin,
    run,
)
from jinba.core.flight.simulation.motion import GRAVITY
from jinba.core.flight.simulation.steady import Steady, flying, settled_loads, steady
from jinba.core.frames import Axis

Array = NDArray[np.float64]

HOLD_PATH, HOLD_BANK, HOLD_NOSE = 0.6, 0.8, 0.15
"""How strongly hands hold a path, a bank and a heading [rad of surface per rad, per rad/s]: a quiet pilot, derived here."""


SLOW_OVER_STALL = 1.25
STICK_BACK = "stick_back"
_HALVINGS = 7


class CannotFly(Exception):
    """The condition of a card cannot be flown with this model; ``because``: what the pilot says of it, empty where nothing tells."""

    def __init__(self, because: str = "") -> None:
        super().__init__(because)
        self.because = because


class Crashed(Exception):
    """The model met the ground where no landing was meant."""


@dataclass(frozen=True, slots=True)
class Air:
    """The air of a sortie: mean wind at the field [m/s] with its gusts; 0 for still air."""

    wind_mps: float = 0.0


class Aloft:
    """One model in one sortie: true craft, the setup as it really is, the pilot's eyes and the air."""

    def __init__(self, craft: Craft, real: Configuration, eyes: Eyes, air: Air, *, cruise_factor: float) -> None:
        self.craft, self.real, self.eyes, self.air = craft, real, eyes, air
        self.rest = {a: real.control(a).resting_rad for a in Axis}
        self.click = {a: real.control(a).rad_per_click for a in Axis}
        self.throw = {a: real.throw_rad(a) for a in Axis}
        self.stall_mps = stall_speed_mps(craft)
        self.cruise_mps = eyes.speed(real.cruise_speed_mps or cruise_factor * self.stall_mps)
        eyes.looks_at(cruise_mps=self.cruise_mps, span_m=craft.span)
        self.has_motor = len(craft.prop_static) > 0
        self._last: tuple[Array, Hand] | None = None
        self.recorder: Recorder | None = None
        self._steady: dict[tuple[float, ...], Steady] = {}

    def steady(
        self, speed_mps: float, *, throttle: float | None = None, flap_rad: float = 0.0, inverted: bool = False
    ) -> Steady:
        """Return steady flight with the rudder where it rests. ``throttle`` [share of full]. Raises: CannotFly."""
        key = (speed_mps, -1.0 if throttle is None else throttle, flap_rad, float(inverted), self.rest[Axis.YAW])
        if key not in self._steady:
            self._steady[key] = steady(
                self.craft,
                speed_mps=speed_mps,
                throttle=throttle,
                rudder_rad=self.rest[Axis.YAW],
                flap_rad=flap_rad,
                inverted=inverted,
            )
        found = self._steady[key]
        most = 1.2 * self.throw[Axis.PITCH] + abs(self.rest[Axis.PITCH])
        if not found.found or abs(found.surfaces[0]) > most:
            raise CannotFly(_short_of(found, most, inverted=inverted))
        return found

    def cruise(self) -> Steady:
        """Return steady flight at cruise: level, or gliding without a motor."""
        return self.steady(self.cruise_mps)

    def slow(self) -> Steady:
        """Return steady flight a quarter above the stall. Where the elevator does not reach that far, the slowest flight it holds is what
        its pilot knows as the stall. Raises: CannotFly."""
        try:
            return self.steady(self.eyes.speed(SLOW_OVER_STALL * self.stall_mps))
        except CannotFly as short:
            if short.because != STICK_BACK:
                raise
            self.stall_mps = self._slowest()
            return self.steady(self.eyes.speed(SLOW_OVER_STALL * self.stall_mps))

    def _slowest(self) -> float:
        """Return the slowest speed that the elevator holds [m/s], between the stall of the wing and cruise. Bisection."""
        low, high = self.stall_mps, self.cruise_mps
        for _ in range(_HALVINGS):
            middle = 0.5 * (low + high)
            try:
                self.steady(middle)
            except CannotFly:
                low = middle
            else:
                high = middle
        return high

    def start(self, at: Steady, *, height_m: float = 100.0) -> Flight:
        """Return a flight that begins in steady flight at a height."""
        flight = begin(at.state, at.circulation, at.surfaces, at.throttle)
        flight.state[2] = -height_m
        return flight

    def hand(self, at: Steady, **changes: float) -> Hand:
        """Return hands that hold path and wings of a steady flight, its throttle kept; ``changes`` as in ``Hand``."""
        kept = {
            "pitch": float(at.surfaces[0]),
            "hold_path": HOLD_PATH,
            "path": at.path_rad,
            "pitch_most": self.throw[Axis.PITCH] + abs(self.rest[Axis.PITCH]),
            "roll": float(at.surfaces[1]),
            "hold_bank": HOLD_BANK,
            "bank": _bank_of(at),
            "roll_most": self.throw[Axis.ROLL] + abs(self.rest[Axis.ROLL]),
            "rudder": self.rest[Axis.YAW],
            "throttle": at.throttle,
            "flap": float(at.surfaces[3]),
        }
        return Hand(**{k: float(v) for k, v in (kept | changes).items()})

    def let_go(self, at: Steady, **changes: float) -> Hand:
        """Return hands that hold the wings level and leave the elevator where its trim is."""
        return self.hand(at, **({"hold_path": 0.0, "pitch": self.rest[Axis.PITCH]} | changes))

    def let_roll(self, at: Steady, **changes: float) -> Hand:
        """Return hands that hold the path and leave the ailerons where their trim is."""
        return self.hand(at, **({"hold_bank": 0.0, "roll": self.rest[Axis.ROLL]} | changes))

    def fly(self, flight: Flight, hand: Hand, seconds: float, *, still: bool = False) -> Array:
        """Return the track (rows, 17) of a run [s] that moves the flight on. Raises: Crashed. Derived here."""
        wind = STILL
        if self.air.wind_mps > 0.0 and not still:
            speed = max(float(np.linalg.norm(flight.state[3:6])), 3.0)
            wind = gusts(
                self.eyes.rng,
                wind_mps=self.air.wind_mps,
                height_m=max(-float(flight.state[2]), 2.0),
                speed_mps=speed,
                span_m=self.craft.span,
                seconds=seconds,
            )
        track = np.asarray(run(self.craft, flight, hand, wind, seconds))
        self._last = (track, hand)
        if self.recorder is not None:
            self.recorder.keep(flight, track, self.rest, self.throw)
        waited = hand.until_bank > 0.0 and flight.state[2] < 0.0
        ended = len(track) < 2 or (track[-1, TIME] < seconds - 0.05 and not waited)
        if ended or not np.isfinite(track).all():
            raise Crashed
        return track

    def nose_word(self) -> int | None:
        """Return the word for what the nose did by itself in the last run, None where hands held it or it was too short."""
        track, hand = self._last or (None, None)
        if track is None or hand is None or hand.hold_path > 0.0 or len(track) < 10:
            return None
        return self.eyes.path_word(pitch_seen(track, 0.0, 1.0), PITCH_EDGES)

    def left_alone(self) -> bool:
        """Return whether it can be left alone at cruise: after a nudge of the nose it still flies like that four seconds later."""
        at = self.cruise()
        flight = self.start(at)
        nudge = self.rest[Axis.PITCH] + 0.08 * self.throw[Axis.PITCH]
        self.fly(flight, self.let_go(at, pitch=nudge), 0.3)
        track = self.fly(flight, self.let_go(at), 4.0)
        return bool(abs(track[-1, PATH] - at.path_rad) < math.radians(25.0))


def _short_of(wanted: Steady, most_rad: float, *, inverted: bool) -> str:
    """Return what a flight that cannot be held was short of, as its pilot felt it: elevator [rad] one way, or power."""
    if abs(wanted.surfaces[0]) > most_rad:
        # Upside down he holds the same way, and calls the model tail- or nose-heavy by it, not short of stick.
        return "" if inverted else STICK_BACK if wanted.surfaces[0] < 0.0 else "stick_forward"
    return "power" if not 0.0 <= wanted.throttle <= 1.0 else ""


def _bank_of(at: Steady) -> float:
    a, b, c, d = at.state[6:10]
    return math.atan2(2.0 * float(c * d + a * b), float(a * a - b * b - c * c + d * d))


def pitch_seen(track: Array, begun_s: float, seconds: float) -> float:
    """Return how fast the flight turns up as a watcher sees it, path and nose alike [deg/s], between two times.

    Derived here.
    """
    a, b = _between(track, begun_s, seconds)
    turned = np.unwrap(track[a : b + 1, NOSE])[-1] - track[a, NOSE] + track[b, PATH] - track[a, PATH]
    return math.degrees(0.5 * float(turned)) / (float(track[b, TIME]) - float(track[a, TIME]))


def path_seen(track: Array, begun_s: float, seconds: float) -> float:
    """Return how fast the path bends up [deg/s] between two times. Derived here."""
    a, b = _between(track, begun_s, seconds)
    return math.degrees(float(track[b, PATH] - track[a, PATH])) / (float(track[b, TIME]) - float(track[a, TIME]))


def roll_seen(track: Array, begun_s: float, seconds: float) -> float:
    """Return how fast it rolls to the right, in its own sense [deg/s], between two times. Derived here."""
    a, b = _between(track, begun_s, seconds)
    return math.degrees(float(track[a : b + 1, ROLLING].mean()))


def crab_seen(track: Array, begun_s: float, seconds: float) -> float:
    """Return how far the nose points to the right of the path [deg], mean between two times. Derived here."""
    a, b = _between(track, begun_s, seconds)
    return -math.degrees(float(track[a : b + 1, SLIP].mean()))


def time_until(track: Array, reached: NDArray[np.bool_]) -> float | None:
    """Return when something was first true [s], None if it never was. Derived here."""
    rows = np.flatnonzero(reached)
    return float(track[rows[0], TIME]) if rows.size else None


def _between(track: Array, begun_s: float, seconds: float) -> tuple[int, int]:
    last = len(track) - 1
    a = min(int(np.searchsorted(track[:, TIME], begun_s)), last - 1)
    return a, max(min(int(np.searchsorted(track[:, TIME], begun_s + seconds)), last), a + 1)


def mean_of(track: Array, column: int, begun_s: float) -> float:
    """Return the mean of a column, in its unit, from a time on. [s] Derived here."""
    assert column < COLUMNS
    return float(track[track[:, TIME] >= begun_s, column].mean())


def stall_speed_mps(craft: Craft) -> float:
    """Return the speed at which the greatest lift just carries it, power off, controls neutral [m/s]. Derived here."""
    weight, speed = craft.mass * GRAVITY, 12.0
    circulation = np.zeros(len(craft.row))
    most = 0.0
    for degrees in range(6, 22):
        state = flying(speed_mps=speed, alpha=math.radians(degrees))
        force, _ = settled_loads(craft, state, np.zeros(4), 0.0, circulation)
        a = math.radians(degrees)
        most = max(most, -force[2] * math.cos(a) + force[0] * math.sin(a))
    return speed * math.sqrt(weight / most)
