"""A telemetry link from a model in the air: the port, and a stand-in that behaves as such links do."""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from jinba.core.flight.piloting.recording import Run
from jinba.core.flight.simulation.hands import BANK, HEIGHT, NOSE, POWER, SIDE_STICK, SPEED, TIME, UP_STICK
from jinba.core.power.cells import CELLS
from jinba.core.power.packs import Pack
from jinba.core.telemetry.samples import Sample

_EVERY_S = 0.1
_BETWEEN_RUNS_S = 1.0
_SPEED_SIGMA, _HEIGHT_SIGMA, _ANGLE_SIGMA = 0.3, 0.25, math.radians(0.7)
_CURRENT_SIGMA = 0.03
_IDLE, _STEEPER = 0.02, 1.8
_RESISTANCE_OHM_PER_CELL = 0.006
"""How lines of a link scatter, how current goes with the throttle and what a cell resists: common practice, no source; set here without
looking at what the estimate of minutes assumes."""


class TelemetryLink(Protocol):
    """A link that tells what the model does while a card is flown."""

    def lines(self, card_id: str) -> tuple[Sample, ...]:
        """Return the lines of a card that is flown or was flown, from its beginning; empty where the link told nothing."""
        ...

    def flight(self, card_ids: Collection[str]) -> tuple[Sample, ...]:
        """Return the lines of a flight in which these cards were flown, the last of them after landing with the motor still."""
        ...


@dataclass(frozen=True, slots=True)
class OnBoard:
    """The pack a simulated model flies with: how full it was [share], and what full throttle takes from it [A]."""

    pack: Pack
    share: float
    full_a: float


@dataclass(frozen=True, slots=True)
class SimulatedTelemetry:
    """Stand-in: what was flown, told ten times a second with the scatter of such instruments.

    ``runs`` by card in the order they were flown, ``minutes`` of each in the air; ``on_board``: None where no pack was named, then nothing
    is told of it; ``wind_mps`` [m/s].
    """

    runs: Mapping[str, Sequence[Run]]
    minutes: Mapping[str, float]
    on_board: OnBoard | None = None
    wind_mps: float | None = None
    seed: int = 0

    def lines(self, card_id: str) -> tuple[Sample, ...]:
        """Return the lines of one card, the pack as full as the cards before it have left it."""
        left = 1.0 if self.on_board is None else self.on_board.share
        for flown in self.runs:
            told = self._told(flown)
            if flown == card_id:
                return self._powered(told, left)
            left -= self._taken(flown, told)
        return ()

    def flight(self, card_ids: Collection[str]) -> tuple[Sample, ...]:
        """Return the whole flight, each card drawn out to the minutes it takes, and a last line after landing; empty where none was flown."""
        flown = [card_id for card_id in self.runs if card_id in card_ids]
        if not flown:
            return ()
        lines: list[Sample] = []
        left, begun = (1.0 if self.on_board is None else self.on_board.share), 0.0
        for card_id in flown:
            told = self._told(card_id)
            every = 60.0 * self.minutes.get(card_id, 0.0) / max(len(told), 1)
            lines += [replace(s, time_s=begun + i * every) for i, s in enumerate(self._powered(told, left))]
            begun += every * len(told)
            left -= self._taken(card_id, told)
        rest = None if self.on_board is None else round(_rest_v(self.on_board.pack, left), 2)
        still = None if self.on_board is None else 0.0
        return (*lines, Sample(begun, 0.0, 0.0, throttle=0.0, volts=rest, current_a=still, wind_mps=self.wind_mps))

    def _told(self, card_id: str) -> list[Sample]:
        dice = np.random.default_rng((self.seed, *card_id.encode()))
        told: list[Sample] = []
        begun = 0.0
        for run in self.runs[card_id]:
            begun += 0.0 if run.follows or not told else _BETWEEN_RUNS_S
            told += _lines_of(run, begun, dice, self.wind_mps)
            begun += float(run.track[-1, TIME])
        return told

    def _current(self, throttle: float) -> float:
        assert self.on_board is not None
        return self.on_board.full_a * (_IDLE + (1.0 - _IDLE) * throttle**_STEEPER) if throttle > 0.0 else 0.0

    def _taken(self, card_id: str, told: Sequence[Sample]) -> float:
        """Return the share of the pack a card took."""
        if self.on_board is None or not told:
            return 0.0
        mean_a = sum(self._current(s.throttle or 0.0) for s in told) / len(told)
        return mean_a * 60.0 * self.minutes.get(card_id, 0.0) / self.on_board.pack.capacity_c

    def _powered(self, told: Sequence[Sample], left: float) -> tuple[Sample, ...]:
        if self.on_board is None:
            return tuple(told)
        pack, dice = self.on_board.pack, np.random.default_rng(self.seed)
        ohm = pack.resistance_ohm or _RESISTANCE_OHM_PER_CELL * pack.cells
        rest, lines = _rest_v(pack, left), []
        for line in told:
            current = self._current(line.throttle or 0.0) * (1.0 + _CURRENT_SIGMA * float(dice.standard_normal()))
            lines.append(replace(line, volts=round(rest - current * ohm, 2), current_a=round(current, 1)))
        return tuple(lines)


def _lines_of(run: Run, begun_s: float, dice: np.random.Generator, wind_mps: float | None) -> list[Sample]:
    track: NDArray[np.float64] = run.track
    times = np.arange(0.0, float(track[-1, TIME]) + 1e-9, _EVERY_S)

    def at(column: int, sigma: float = 0.0) -> NDArray[np.float64]:
        rows = np.unwrap(track[:, column]) if column in (BANK, NOSE) else track[:, column]
        return np.asarray(np.interp(times, track[:, TIME], rows) + sigma * dice.standard_normal(len(times)))

    speed, height = at(SPEED, _SPEED_SIGMA), at(HEIGHT, _HEIGHT_SIGMA)
    pitch, bank, throttle = at(NOSE, _ANGLE_SIGMA), at(BANK, _ANGLE_SIGMA), at(POWER)
    sticks = [(at(column) - run.rest[i]) / run.throw[i] for i, column in enumerate((UP_STICK, SIDE_STICK))]
    return [
        Sample(
            time_s=begun_s + float(times[i]),
            airspeed_mps=float(speed[i]),
            height_m=float(height[i]),
            pitch_rad=float(pitch[i]),
            bank_rad=float(bank[i]),
            elevator_stick=float(sticks[0][i]),
            aileron_stick=float(sticks[1][i]),
            throttle=min(max(float(throttle[i]), 0.0), 1.0),
            wind_mps=wind_mps,
        )
        for i in range(len(times))
    ]


def _rest_v(pack: Pack, share: float) -> float:
    """Return the volts of a pack at rest [V]: by the curve of its cells, straight from full to empty where there is none."""
    cell = CELLS[pack.chemistry]
    curve = cell.rest or ((cell.empty_v, 0.0), (cell.full_v, 1.0))
    volts, shares = zip(*curve, strict=True)
    return pack.cells * float(np.interp(max(share, 0.0), shares, volts))
