"""Minutes of a pack, judged by packs and flights that share nothing with the estimate.

Cells follow the open-circuit curve of Chen and Rincon-Mora, Accurate electrical battery model, IEEE Transactions on Energy Conversion 21,
2006, eq. 2 (from memory), raised at its top for cells charged to 4.2 V; currents come of phases of flight at a power that is drawn by
weight and not by propeller; the cold takes capacity; packs are worn; hands round minutes, read volts early, slip a digit, forget to
charge. Each flight takes the safe minutes it was given. Printed beside: hands that set the timer to three quarters, and to half, of what
the label would have lasted at the draw of the last flight. Tuned on seeds 5 and 11; the default is for the test. With ``--gliders`` the motor
runs for a part of each flight that is another one each time: once the minutes in the air are logged alone, once those of the motor too and the
timer that runs with it is set.
"""

from __future__ import annotations

import argparse
import math
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime

import numpy as np

from jinba.core.configuration import Configuration, balance_of
from jinba.core.errors import OutOfRangeError
from jinba.core.plan.endurance import Endurance, Fitted, Powered, endurance_of
from jinba.core.power.cells import Chemistry, per_cell_v
from jinba.core.power.draw import RESERVE
from jinba.core.power.packs import Flight, Pack, check_flight
from jinba.core.silhouettes import SILHOUETTES, silhouette_configuration

FLIGHTS = 9
SHOWN = (1, 2, 3, 5, 9)
GUESS = 6.0
STEP_S = 2.0
LONGEST_S = 7200.0
STANDBY_W = 2.0


@dataclass(frozen=True)
class Plant:
    """One model with one pack as they really are: mean power while its motor runs [W], capacity [C], resistance [ohm]; ``share`` of a flight
    that it runs, in the mean."""

    setup: Configuration
    pack: Pack
    mean_w: float
    full_over_mean: float
    capacity_c: float
    resistance_ohm: float
    share: float = 1.0


def open_circuit_v(charge: float) -> float:
    """Return the volts of a cell at rest from its charge."""
    s = min(max(charge, 0.0), 1.0)
    return -1.031 * math.exp(-35.0 * s) + 3.685 + 0.2156 * s - 0.1178 * s**2 + 0.3201 * s**3 + 0.09 * s**8


def a_plant(rng: np.random.Generator) -> Plant:
    """Return a model with a pack; a tenth of the packs are worn."""
    powered = [k for k in SILHOUETTES if silhouette_configuration(k, span_m=1.0).airframe.motor is not None]
    setup = silhouette_configuration(str(rng.choice(powered)), span_m=float(rng.uniform(0.9, 2.4)))
    mass = balance_of(setup).mass.mass_kg
    cells = int(np.clip(round(2.6 + 0.9 * math.log2(max(mass, 0.5)) + rng.normal(0, 0.5)), 2, 8))
    minutes = float(rng.lognormal(math.log(11.0), 0.25))
    mean_w = mass * float(rng.lognormal(math.log(75.0), 0.35))
    rated = max(round(60.0 * minutes * mean_w / (3.7 * cells) / 3.6 / 50.0) * 50.0, 100.0) * 3.6
    worn = 0.75 if rng.random() < 0.1 else 1.0
    pack = Pack("p", "pack", Chemistry.LIPO, cells, rated)
    capacity = rated * worn * float(rng.normal(0.96, 0.05))
    return Plant(setup, pack, mean_w, float(rng.uniform(1.8, 3.2)), capacity, 0.004 * cells * 2.2 / (rated / 3600.0))


def fly(
    plant: Plant,
    charge: float,
    minutes: float | None,
    rng: np.random.Generator,
    *,
    stop_at: float = -1.0,
) -> tuple[float, float]:
    """Return (charge left, minutes flown) of one flight: phases of climbing and cruising at their own powers, in its own air."""
    left, flown, _ = aloft(plant, charge, minutes, rng, stop_at=stop_at)
    return left, flown


def aloft(
    plant: Plant,
    charge: float,
    minutes: float | None,
    rng: np.random.Generator,
    *,
    stop_at: float = -1.0,
    motor_minutes: float | None = None,
) -> tuple[float, float, float]:
    """Return (charge left, minutes flown, minutes the motor ran); at the end of ``motor_minutes`` it is landed."""
    cold = 1.0 - 0.006 * max(20.0 - float(rng.uniform(2.0, 30.0)), 0.0)
    capacity, cells = plant.capacity_c * cold, plant.pack.cells
    mood = float(rng.lognormal(0.0, 0.12))
    seconds, power, left, ran = 0.0, 0.0, charge * plant.capacity_c / capacity, 0.0
    # How much of a flight it runs is another share each time, by lift and mood.
    share = 1.0 if plant.share >= 1.0 else float(rng.beta(6.0 * plant.share, 6.0 * (1.0 - plant.share)))
    while (
        (minutes is None or seconds < 60.0 * minutes)
        and (motor_minutes is None or ran < 60.0 * motor_minutes)
        and left > max(stop_at, 0.0)
        and seconds < LONGEST_S
    ):
        if seconds % 20.0 < STEP_S:
            climbing = rng.random() < 0.2
            power = plant.mean_w * mood * (plant.full_over_mean if climbing else float(rng.uniform(0.3, 1.0)))
            if share < 1.0 and rng.random() > share:
                power = STANDBY_W
        volts = cells * open_circuit_v(left)
        current = power / max(volts - power / volts * plant.resistance_ohm, 0.5 * volts)
        left -= current * STEP_S / capacity
        seconds += STEP_S
        ran += STEP_S if power > STANDBY_W else 0.0
    return max(left, 0.0) * capacity / plant.capacity_c, seconds / 60.0, ran / 60.0


@dataclass
class Tally:
    """What came of the flights of one place in the row, for one rule."""

    left: list[float] = field(default_factory=list)
    minutes: list[float] = field(default_factory=list)
    inside: list[tuple[bool, bool]] = field(default_factory=list)


HANDS = {"three quarters": 0.75, "half": 0.5}


def hand_minutes(flown: list[tuple[float, float]], plant: Plant, share: float) -> float:
    """Return what a hand sets: a share of what the label would last, by what was put back after the last flight."""
    if not flown:
        return GUESS
    minutes, put_back = flown[-1]
    return share * minutes * plant.pack.capacity_c / max(put_back, 0.05 * plant.pack.capacity_c)


Row = dict[int, Tally]


def one(plant: Plant, rng: np.random.Generator, ours: Row, hands: dict[str, Row]) -> int:
    """Fly one model's row by the program, and one by each hand, the same luck for all; return how many entries were refused."""
    refused = 0
    flights: list[Flight] = []
    by_hand: dict[str, list[tuple[float, float]]] = {h: [] for h in hands}
    now = datetime(2026, 1, 1, tzinfo=UTC)
    for k in range(1, FLIGHTS + 1):
        seed = int(rng.integers(2**31))
        start = (
            float(np.clip(rng.normal(0.98, 0.015), 0.0, 1.0)) if rng.random() > 0.04 else float(rng.uniform(0.4, 0.8))
        )
        read = None if rng.random() < 0.15 else round(open_circuit_v(start) + rng.normal(0, 0.008), 2)
        told: Endurance = endurance_of(
            plant.setup, Powered("m", Fitted(plant.pack, read, now), (plant.pack,), tuple(flights))
        )
        if told.minutes is not None and told.sigma:
            _, truth = fly(plant, start, None, np.random.default_rng(seed), stop_at=RESERVE)
            off = abs(truth - told.minutes) / told.sigma
            ours[k].inside.append((off < 1.0, off < 2.0))
        left, flown = fly(plant, start, told.safe_minutes, np.random.default_rng(seed))
        ours[k].left.append(left)
        ours[k].minutes.append(flown)
        for name, row_of in hands.items():
            minutes = hand_minutes(by_hand[name], plant, HANDS[name])
            rest, took = fly(plant, start, minutes, np.random.default_rng(seed))
            row_of[k].left.append(rest)
            row_of[k].minutes.append(took)
            by_hand[name].append((took, (start - rest) * plant.capacity_c * float(rng.normal(1.0, 0.03))))
        try:
            flights += logged(plant, start, read, left, flown, rng)
        except OutOfRangeError:
            refused += 1
    return refused


def glide(plant: Plant, rng: np.random.Generator, rows: dict[str, Row]) -> int:
    """Fly one motor glider's row twice with the same luck: minutes in the air alone, and the motor's too; return what was refused."""
    refused = 0
    seeds = [int(s) for s in rng.integers(2**31, size=FLIGHTS)]
    for name, row_of in rows.items():
        flights: list[Flight] = []
        for k, seed in enumerate(seeds, start=1):
            hands = np.random.default_rng(seed)
            start = float(np.clip(hands.normal(0.98, 0.015), 0.0, 1.0))
            read = round(open_circuit_v(start) + hands.normal(0, 0.008), 2)
            now = datetime(2026, 1, 1, tzinfo=UTC)
            told = endurance_of(plant.setup, Powered("m", Fitted(plant.pack, read, now), (plant.pack,), tuple(flights)))
            motor = told.motor_timer_minutes
            air = np.random.default_rng(seed)
            left, flown, ran = aloft(
                plant, start, told.safe_minutes if motor is None else None, air, motor_minutes=motor
            )
            row_of[k].left.append(left)
            row_of[k].minutes.append(flown)
            try:
                of_air = logged(plant, start, read, left, flown, hands)
            except OutOfRangeError:
                refused += 1
                continue
            said = max(round(10.0 * (ran + hands.normal(0, 0.1))) / 10.0, 0.1) if name == MOTOR_TOO else None
            flights += [replace(f, motor_minutes=said) for f in of_air]
    return refused


AIR_ALONE, MOTOR_TOO = "minutes in the air", "the motor's too"


def gliders(models: int, seed: int) -> None:
    """Print the rows of motor gliders."""
    rng = np.random.default_rng(seed)
    rows = {name: {k: Tally() for k in range(1, FLIGHTS + 1)} for name in (AIR_ALONE, MOTOR_TOO)}
    refused = 0
    for _ in range(models):
        plant = replace(a_plant(rng), share=float(rng.uniform(0.2, 0.7)))
        refused += glide(plant, rng, rows)
    print(f"{models} motor gliders, seed {seed}; {refused} entries refused at the field")
    for k in SHOWN:
        print(f"flight {k}")
        for name, row_of in rows.items():
            print("  " + row(name, row_of[k]))


def logged(
    plant: Plant, start: float, read: float | None, left: float, flown: float, rng: np.random.Generator
) -> list[Flight]:
    """Return what a hand logs of a flight, nothing where it forgets; raises what is refused at entry."""
    minutes = max(round(2.0 * (flown + rng.normal(0, 0.25))) / 2.0, 0.5)
    after = None if rng.random() < 0.15 else round(open_circuit_v(left) - rng.uniform(0.0, 0.03), 2)
    put_back = None
    if rng.random() < 0.6:
        put_back = (
            (start - left) * plant.capacity_c * float(rng.normal(1.01, 0.03)) * (0.1 if rng.random() < 0.04 else 1.0)
        )
    if flown < 0.5 or (after is None and put_back is None):
        return []
    cell = None if after is None else per_cell_v(plant.pack.chemistry, plant.pack.cells, after)
    check_flight(plant.pack, before_v=read, after_v=cell, put_back_c=put_back)
    return [Flight("p", "m", minutes, read, cell, put_back)]


def row(name: str, tally: Tally) -> str:
    """Return one line of the table."""
    left, minutes = np.array(tally.left), np.array(tally.minutes)
    covers = (
        ""
        if not tally.inside
        else f"{np.mean([a for a, _ in tally.inside]):.2f} / {np.mean([b for _, b in tally.inside]):.2f}"
    )
    return (
        f"{name:<21} {np.median(minutes):5.1f} min {100 * np.median(left):4.0f} % left {100 * np.mean(left < 0.10):5.1f} % below a tenth "
        f"{100 * np.mean(left <= 0.0):5.2f} % flat  {covers}"
    )


def main() -> None:
    """Print the minutes flown, what was left, how often too little, and how often the truth lay within one and two sigmas."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--models", type=int, default=400)
    asked.add_argument("--seed", type=int, default=71)
    asked.add_argument("--gliders", action="store_true", help="motor gliders, whose motor runs a part of each flight")
    args = asked.parse_args()
    if args.gliders:
        gliders(args.models, args.seed)
        return
    rng = np.random.default_rng(args.seed)
    ours, *rest = ({k: Tally() for k in range(1, FLIGHTS + 1)} for _ in range(1 + len(HANDS)))
    hands = dict(zip(HANDS, rest, strict=True))
    refused = sum(one(a_plant(rng), rng, ours, hands) for _ in range(args.models))
    print(f"{args.models} models, seed {args.seed}; {refused} entries refused at the field")
    for k in SHOWN:
        print(f"flight {k}")
        print("  " + row("computed", ours[k]))
        for name, row_of in hands.items():
            print("  " + row(f"hand, {name}", row_of[k]))


if __name__ == "__main__":
    main()
