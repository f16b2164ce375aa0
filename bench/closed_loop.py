"""Closed loop: faulty models flown by the stand-in, estimator against two by-hand baselines in the same run.

Prints sorties to limits (median, 90th percentile, never), coverage of the stated 68 %, corrections that make it worse,
and how well "safe" is said. ``python -m bench.closed_loop [models]``
"""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from bench.fleet import random_model
from jinba.core.cards.model import CardRecord
from jinba.core.configuration import Configuration, balance_of
from jinba.core.correct.compose import as_flown, compose
from jinba.core.diagnose.sorties import LoggedSortie, belief_after, trims_at_landing
from jinba.core.diagnose.tendencies import POWER_PITCH_LIMIT, ROLL_LIMIT_DEG_S, risk_behind_minimum
from jinba.core.flight.dynamics import Controls
from jinba.core.flight.pilot import SimulatedModel, fly
from jinba.core.flight.plant import build_plant
from jinba.core.flight.runs import path_run, roll_run
from jinba.core.flight.trimming import steady_flight
from jinba.core.mass.items import Item, ItemKind
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import design_of

CAP = 10
FIRST = ("F1", "F2", "F3", "F4", "F7", "F32", "F28", "F29")
SECOND = ("F1", "F2", "F3", "F4", "F7", "F5", "F8", "F13", "F28", "F29")
LATER = ("F1", "F2", "F3", "F4", "F7", "F5", "F12", "F13", "F14", "F29")
Rework = Callable[[list[SimulatedModel], list[list[LoggedSortie]]], list[Configuration]]


@dataclass(frozen=True)
class State:
    """How far each model truly is from its limits; every figure in the unit of its limit."""

    margin_error: np.ndarray
    clicks: np.ndarray
    roll_cruise: np.ndarray
    roll_slow: np.ndarray
    power_pitch: np.ndarray
    ok: np.ndarray


def measure(models: list[SimulatedModel]) -> State:
    """Return the true state of simulated models, noise-free."""
    plant = build_plant([(m.configuration, m.faults, m.nature) for m in models])
    c = [m.configuration for m in models]
    rest = {n: np.array([getattr(k, n).resting_rad for k in c]) for n in ("elevator", "aileron", "rudder")}
    cruise = steady_flight(plant, speed=plant.cruise_speed, rudder=rest["rudder"])
    slow = steady_flight(plant, speed=1.25 * plant.stall_speed, rudder=rest["rudder"])
    click = np.array([k.elevator.rad_per_click for k in c])
    clicks = np.abs(cruise.controls.elevator - rest["elevator"]) / click
    rolls = []
    for s in (cruise, slow):
        free = Controls(s.controls.elevator, rest["aileron"], rest["rudder"], s.controls.thrust)
        rolls.append(np.abs(roll_run(plant, s.state, free, seconds=4.0).rate_deg_s))
    full = Controls(cruise.controls.elevator, cruise.controls.aileron, rest["rudder"], plant.full_thrust)
    power = np.abs(path_run(plant, cruise.state, full, held_aileron=cruise.controls.aileron, seconds=1.2).rate_deg_s)
    margin = np.array(
        [
            design_of(m.configuration).static_margin + m.faults.static_margin - m.configuration.rules.target
            for m in models
        ]
    )
    limit = POWER_PITCH_LIMIT / plant.cruise_speed
    ok = (
        (np.abs(margin) <= 0.03)
        & (clicks <= 2.5)
        & (rolls[0] <= ROLL_LIMIT_DEG_S)
        & (rolls[1] <= ROLL_LIMIT_DEG_S)
        & (power <= limit)
    )
    return State(margin, clicks, rolls[0], rolls[1], power / limit, ok)


def cards_for(sortie: int) -> tuple[str, ...]:
    """Return the cards of a sortie number, as the plan builds up."""
    return FIRST if sortie == 1 else SECOND if sortie == 2 else LATER


def run_method(
    models: list[SimulatedModel], rework: Rework, *, seed: int, cap: int = CAP
) -> tuple[np.ndarray, list[State], list[list[LoggedSortie]]]:
    """Return (sorties to limits, 99 = never; states after each rework; logs)."""
    now = list(models)
    logs: list[list[LoggedSortie]] = [[] for _ in models]
    done = np.full(len(models), 99)
    states = [measure(now)]
    done[states[0].ok] = 0
    for sortie in range(1, cap + 1):
        active = [i for i in range(len(models)) if done[i] == 99]
        if not active:
            break
        flown = fly([now[i] for i in active], cards_for(sortie), seed=seed * 100 + sortie)
        for i, records in zip(active, flown, strict=True):
            logs[i].append(LoggedSortie(now[i].configuration, records))
        configurations = rework([now[i] for i in active], [logs[i] for i in active])
        for i, c in zip(active, configurations, strict=True):
            now[i] = replace(now[i], configuration=c)
        states.append(measure(now))
        done[(done == 99) & states[-1].ok] = sortie
    return done, states, logs


def by_estimator(models: list[SimulatedModel], logs: list[list[LoggedSortie]]) -> list[Configuration]:
    """Return the composed corrections."""
    result = []
    for m, log in zip(models, logs, strict=True):
        belief = belief_after(tuple(log), configuration=m.configuration)
        result.append(compose(m.configuration, belief, trims_at_landing(log[-1])).configuration)
    return result


def _class_of(records: tuple[CardRecord, ...], card: str, key: str, options: tuple[str, ...]) -> int | None:
    for r in records:
        if r.card_id == card and (reading := r.reading(key)) is not None and reading.choice in options:
            return options.index(reading.choice)
    return None


def by_hand(*, proportional: bool) -> Rework:
    """Return a pilot's rework without computation: fixed steps, or steps in proportion to the class seen."""

    def rework(models: list[SimulatedModel], logs: list[list[LoggedSortie]]) -> list[Configuration]:
        return [_by_hand_one(m.configuration, log[-1], proportional) for m, log in zip(models, logs, strict=True)]

    return rework


def _by_hand_one(c: Configuration, sortie: LoggedSortie, proportional: bool) -> Configuration:
    r = sortie.records
    after = as_flown(c, trims_at_landing(sortie))
    mac = design_of(c).aero.planform.mac_m
    dive = _class_of(r, "F12", "dive", ("tucks", "keeps", "eases", "pulls_out", "rears_out"))
    step = 0.0
    if dive is not None:
        # The wanted look of a 9 % margin is "pulls out": classes below are too far aft, above too far forward.
        away = dive - 3
        step = 0.02 * away if proportional else 0.02 * float(np.sign(away))
    if step and c.battery is not None and c.battery.bay_m is not None:
        total = balance_of(c).mass.mass_kg
        x = c.battery.x_m + step * mac * total / c.battery.mass_kg
        x = max(c.battery.bay_m[0], min(c.battery.bay_m[1], x))
        after = replace(after, items=tuple(replace(i, x_m=x) if i.kind is ItemKind.BATTERY else i for i in after.items))
    roll = _class_of(r, "F7", "roll_slow", ("left_fast", "left", "level", "right", "right_fast"))
    if roll is not None and roll != 2:
        away = roll - 2
        amount = 0.002 * (abs(away) if proportional else 1)
        span = design_of(c).aero.planform.span_m
        side = -1.0 if away > 0 else 1.0
        tip = Item(
            f"tip{len(after.items)}",
            "Tip ballast",
            amount * 2 * balance_of(c).mass.mass_kg,
            balance_of(c).x_m,
            side * span / 2,
        )
        after = replace(after, items=(*after.items, tip))
    power = _class_of(r, "F5", "pitch_full", ("drops", "sinks", "holds", "rises", "rears"))
    motor = after.airframe.motor
    if power is not None and power != 2 and motor is not None:
        ahead = design_of(c).balance.x_m > motor.x_m
        tilt = np.radians(1.0) * ((power - 2) if proportional else float(np.sign(power - 2))) * (1 if ahead else -1)
        after = replace(
            after,
            airframe=replace(
                after.airframe,
                motor=replace(motor, tilt_down_rad=float(np.clip(motor.tilt_down_rad + tilt, -0.2, 0.2))),
            ),
        )
    return after


def report(name: str, done: np.ndarray, states: list[State]) -> float:
    """Print one method's line and return its median (never counts as the cap plus one)."""
    counted = np.where(done == 99, CAP + 1, done)
    margins_only = [
        int(np.argmax([abs(s.margin_error[i]) <= 0.03 for s in states]))
        if any(abs(s.margin_error[i]) <= 0.03 for s in states)
        else CAP + 1
        for i in range(len(done))
    ]
    by = [f"{np.mean(done <= k):.0%}" for k in (1, 2, 3, 5)]
    never = np.mean(done == 99)
    print(
        f"{name:28s} median {np.median(counted):4.1f}  p90 {np.percentile(counted, 90):4.1f}  mean {counted.mean():4.2f}  done by 1,2,3,5: {', '.join(by)}  never {never:.1%}  balance only p90 {np.percentile(margins_only, 90):.0f}"
    )
    return float(counted.mean())


def honesty(models: list[SimulatedModel], logs: list[list[LoggedSortie]], states: list[State]) -> dict[str, float]:
    """Return coverage of the stated 68 %, share of corrections that make the margin worse, and the safety statements."""
    inside, worse, corrections = [], 0, 0
    said_safe = said_safe_behind = behind = said_safe_clear = clear = 0
    for i, (m, log) in enumerate(zip(models, logs, strict=True)):
        for k in range(len(log)):
            c = log[k].configuration
            belief = belief_after(tuple(log[: k + 1]), configuration=c)
            error = m.faults.static_margin - float(belief.mean[P.STATIC_MARGIN])
            sigma = float(belief.sigma[P.STATIC_MARGIN])
            if k == 0:
                inside.append(abs(error) <= sigma)
            d = design_of(c)
            truth = d.static_margin + m.faults.static_margin
            safe = (
                risk_behind_minimum(
                    c, margin_fraction=d.static_margin + float(belief.mean[P.STATIC_MARGIN]), sigma_fraction=sigma
                )
                < 0.01
            )
            said_safe += safe
            if truth < c.rules.minimum:
                behind += 1
                said_safe_behind += safe
            elif truth > c.rules.minimum + 0.05:
                clear += 1
                said_safe_clear += safe
            before, after = abs(states[k].margin_error[i]), abs(states[k + 1].margin_error[i])
            corrections += 1
            worse += after > max(before + 0.005, 0.03)
    return {
        "coverage of 68 %": float(np.mean(inside)),
        "worse": worse / max(corrections, 1),
        "said safe though behind": said_safe_behind / max(behind, 1),
        "behind cases": float(behind),
        "wrong among all said safe": said_safe_behind / max(said_safe, 1),
        "clearly safe called safe": said_safe_clear / max(clear, 1),
    }


def main() -> None:
    """Run the study and print its figures."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    rng = np.random.default_rng(20261125)
    models = [random_model(rng) for _ in range(count)]
    results: dict[str, float] = {}
    for name, rework in (
        ("estimator", by_estimator),
        ("by hand, fixed steps", by_hand(proportional=False)),
        ("by hand, proportional", by_hand(proportional=True)),
    ):
        begun = time.perf_counter()
        done, states, logs = run_method(models, rework, seed=7)
        results[name] = report(name, done, states)
        print(f"{'':28s} {time.perf_counter() - begun:.0f} s")
        if name == "estimator":
            for key, value in honesty(models, logs, states).items():
                print(f"{'':28s} {key}: {value:.3f}")
            final = states[-1]
            bad = done == 99
            print(
                "still out:",
                {
                    k: int((getattr(final, k)[bad] > lim).sum())
                    for k, lim in (("clicks", 2.5), ("roll_cruise", 3), ("roll_slow", 3), ("power_pitch", 1))
                },
                "margin",
                int((np.abs(final.margin_error[bad]) > 0.03).sum()),
            )
    better = min(v for k, v in results.items() if k != "estimator")
    print(f"ratio of mean sorties to the better baseline: {results['estimator'] / better:.2f}")


if __name__ == "__main__":
    main()
