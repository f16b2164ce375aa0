"""Random bare airframes of each family, for the neutral point study: flat surfaces, no body, gaps of at least 3 % span."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from jinba.core.airframe.parts import Airframe, Body, Role, Section, Surface

Rng = np.random.Generator


def _surface(key: str, role: Role, x: float, z: float, half: float, root: float, tip: float, **more: float) -> Surface:
    sections = (Section(0.0, 0.0, root), Section(half, more.get("sweep", 0.0), tip, more.get("rise", 0.0)))
    return Surface(key, role, x, z, sections)


def _wing(rng: Rng, key: str = "wing", x: float = 0.0, z: float = 0.0, scale: float = 1.0) -> Surface:
    span = scale * rng.uniform(1.2, 1.8)
    chord = span / rng.uniform(5.0, 9.0)
    return _surface(
        key, Role.WING, x, z, span / 2, chord, chord * rng.uniform(0.5, 1.0), sweep=rng.uniform(-0.05, 0.12), rise=0.03
    )


def _tail(rng: Rng, wing: Surface, **more: float) -> Surface:
    chord, half = wing.sections[0].chord_m, wing.half_span_m
    root = chord * rng.uniform(0.5, 0.75)
    gap = 2 * half * rng.uniform(0.04, 0.10) * rng.choice([-1, 1])
    x, reach = wing.x_m + chord * rng.uniform(2.6, 3.8), half * rng.uniform(0.32, 0.45)
    return _surface("tail", Role.TAIL, x, wing.z_m + gap, reach, root, root * rng.uniform(0.6, 1.0), sweep=0.02, **more)


def conventional(rng: Rng) -> tuple[Surface, ...]:
    """Return a wing and a tail."""
    wing = _wing(rng)
    return wing, _tail(rng, wing)


def v_tail(rng: Rng) -> tuple[Surface, ...]:
    """Return a wing and a tail with 25 to 45 degrees of dihedral."""
    wing = _wing(rng)
    reach = wing.half_span_m * 0.36
    return wing, _tail(rng, wing, rise=reach * math.tan(math.radians(rng.uniform(25, 45))))


def canard(rng: Rng) -> tuple[Surface, ...]:
    """Return a wing and a foreplane above it."""
    wing = _wing(rng)
    chord, half = wing.sections[0].chord_m, wing.half_span_m
    root = chord * rng.uniform(0.4, 0.65)
    gap = 2 * half * rng.uniform(0.04, 0.09)
    x, reach = -chord * rng.uniform(1.8, 3.2), half * rng.uniform(0.3, 0.5)
    return wing, _surface("foreplane", Role.CANARD, x, gap, reach, root, 0.8 * root, sweep=0.01)


def tandem(rng: Rng) -> tuple[Surface, ...]:
    """Return two wings of 0.8 to 1.1 times one size, the rear one 4 to 10 % span higher."""
    front = _wing(rng)
    scale, chord = rng.uniform(0.8, 1.1), front.sections[0].chord_m
    gap = 2 * front.half_span_m * rng.uniform(0.04, 0.10)
    rear = _surface(
        "rear wing",
        Role.TAIL,
        chord * rng.uniform(2.5, 4.5),
        gap,
        scale * front.half_span_m,
        scale * chord,
        0.7 * chord,
    )
    return front, rear


def _stack(rng: Rng, count: int) -> tuple[Surface, ...]:
    first = _wing(rng)
    chord = first.sections[0].chord_m
    gap, stagger = chord * rng.uniform(0.8, 1.2), chord * rng.uniform(-0.2, 0.4)
    wings = [
        Surface(f"wing {i}" if i else "wing", Role.WING, i * stagger, -i * gap, first.sections) for i in range(count)
    ]
    return (*wings, _tail(rng, first))


def biplane(rng: Rng) -> tuple[Surface, ...]:
    """Return two equal wings, 0.8 to 1.2 chords apart, and a tail."""
    return _stack(rng, 2)


def triplane(rng: Rng) -> tuple[Surface, ...]:
    """Return three equal wings and a tail."""
    return _stack(rng, 3)


def flying_wing(rng: Rng) -> tuple[Surface, ...]:
    """Return a wing swept 10 to 35 degrees."""
    half, root = rng.uniform(0.5, 0.9), rng.uniform(0.2, 0.3)
    sweep = half * math.tan(math.radians(rng.uniform(10, 35)))
    return (_surface("wing", Role.WING, 0.0, 0.0, half, root, root * rng.uniform(0.4, 0.9), sweep=sweep),)


def delta(rng: Rng) -> tuple[Surface, ...]:
    """Return a triangular wing of aspect ratio 1.6 to 2.6."""
    half = rng.uniform(0.35, 0.6)
    root = 2 * half * rng.uniform(0.7, 1.0)
    tip = root * rng.uniform(0.1, 0.25)
    return (_surface("wing", Role.WING, 0.0, 0.0, half, root, tip, sweep=root - tip),)


FAMILIES: dict[str, Callable[[Rng], tuple[Surface, ...]]] = {
    f.__name__: f for f in (conventional, v_tail, canard, tandem, biplane, triplane, flying_wing, delta)
}


def bare_airframe(family: str, rng: Rng) -> Airframe:
    """Return a random airframe of a family with next to no body."""
    return Airframe(FAMILIES[family](rng), Body(0.0, 0.5, 0.001, 0.001))
