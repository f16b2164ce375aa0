"""What a fleet of trials says, with intervals, and what got worse."""

from __future__ import annotations

import itertools
import math
from collections import Counter
from collections.abc import Iterable

import numpy as np

from bench.loop.judge import LIMITS
from bench.loop.trial import CAP, Trial
from jinba.core.diagnose.causes import A_FAULT
from jinba.core.diagnose.reliability import interval

_CLEARLY = 0.05
_BINS = (0.0, 0.01, 0.05, 0.2, 0.5, 1.0001)


def share(hits: int, of: int) -> str:
    """Return a share with its 95 % interval."""
    if of == 0:
        return "none of 0"
    low, high = interval(hits, of)
    return f"{hits / of:.1%} ({low:.1%} to {high:.1%}; {hits} of {of})"


def counted(trials: Iterable[Trial]) -> np.ndarray:
    """Return sorties to limits of each model; one that never was counts as one more than was flown at most."""
    return np.array([CAP + 1 if t.within_after is None else t.within_after for t in trials], dtype=float)


def headline(name: str, trials: list[Trial]) -> str:
    """Return median, mean with its 95 % interval, and never, of one way of correcting."""
    n = counted(trials)
    half = 1.96 * n.std(ddof=1) / math.sqrt(len(n))
    never = share(sum(t.within_after is None for t in trials), len(trials))
    crashes = sum(t.crashes for t in trials)
    return f"{name:34s} median {np.median(n):3.1f}  mean {n.mean():.2f} ± {half:.2f}  never {never}  crashes {crashes}"


def honesty(trials: list[Trial]) -> list[str]:
    """Return how well stated margins, risks and actions hold."""
    first = [t.believed[0] for t in trials if t.believed]
    every = [b for t in trials for b in t.believed]
    lines = []
    for words, rows in (("after one sortie", first), ("after every sortie", every)):
        z = np.array([abs(b.true_margin - b.margin) / b.sigma for b in rows])
        error = np.array([b.margin - b.true_margin for b in rows])
        lines.append(
            f"margin {words}: 68 % covers {np.mean(z < 1):.2f}, 95 % covers {np.mean(z < 1.96):.2f}; "
            f"error rms {np.sqrt((error**2).mean()):.3f}, mean {error.mean():+.3f} MAC (n {len(rows)})"
        )
    thin = [b for b in every if b.true_margin < 0.02]
    lines.append(f"true margin under 2 %, risk stated under 1 %: {share(sum(b.risk < 0.01 for b in thin), len(thin))}")
    clearly = [b for b in every if b.true_margin >= b.minimum + _CLEARLY]
    lines.append(
        f"true margin 5 % beyond the minimum, risk stated under 1 %: {share(sum(b.risk < 0.01 for b in clearly), len(clearly))}"
    )
    lines += _steps(trials)
    faults = [c for t in trials for c in t.causes[:1]]
    large = [c for c in faults if c.sigmas > A_FAULT]
    for words, these in (("cause", faults), (f"fault of more than {A_FAULT} sigmas", large)):
        hits = (share(sum(c.largest in c.ranked[:n] for c in these), len(these)) for n in (1, 2))
        lines.append(f"largest {words} ranked first, or among two (after one sortie): {'; '.join(hits)}")
    return lines + _promises(trials)


_SURE = 0.9


EARLY = 3
"""Reworks before most models have come within their limits and left: those that stay out are counted again and again later."""


def early_promises(trials: Iterable[Trial]) -> list[tuple[float, bool]]:
    """Return for each of the first few reworks of each model how likely all was said to be in its band [-], and whether it was."""
    return [(p, s.in_bands) for t in trials for p, s in zip(t.promised[:EARLY], t.states[1 : EARLY + 1], strict=False)]


def _promises(trials: list[Trial]) -> list[str]:
    """Return how the whole of the behaviours stands: in their bands by the third sortie, never, and against what was said of it."""
    by_three = sum(any(s.in_bands for s in t.states[:4]) for t in trials)
    never = sum(not any(s.in_bands for s in t.states) for t in trials)
    said = [(p, s.in_bands) for t in trials for p, s in zip(t.promised, t.states[1:], strict=False)]
    lines = [
        f"every behaviour truly in its band by the third sortie: {share(by_three, len(trials))}; never: {share(never, len(trials))}",
    ]
    early = early_promises(trials)
    for low, high in ((0.0, 0.2), (0.2, 1.0001)):
        rows = [(p, so) for p, so in early if low <= p < high]
        stated = f"{np.mean([p for p, _ in rows]):.2f}" if rows else "-"
        lines.append(
            f"the same after the first {EARLY} reworks, said to be {low:.1f} to {min(high, 1.0):.1f} likely (mean {stated}): "
            f"{share(sum(so for _, so in rows), len(rows))}"
        )
    for low, high in itertools.pairwise((0.0, 0.2, 0.4, 0.6, 0.8, _SURE, 1.0001)):
        rows = [(p, so) for p, so in said if low <= p < high]
        stated = f"{np.mean([p for p, _ in rows]):.2f}" if rows else "-"
        lines.append(
            f"all in their bands, said to be {low:.1f} to {min(high, 1.0):.1f} likely (mean {stated}): {share(sum(so for _, so in rows), len(rows))}"
        )
    return lines


def _steps(trials: list[Trial]) -> list[str]:
    steps = [(a, b) for t in trials for a, b in zip(t.states, t.states[1:], strict=False)]
    worse = sum(abs(b.margin_error) > max(abs(a.margin_error) + 0.005, 0.03) for a, b in steps)
    out = [(a, b) for a, b in steps if abs(a.margin_error) > 0.03]
    moved = [(a, b) for a, b in out if abs(b.margin - a.margin) > 0.002]
    wrong = [(a, b) for a, b in moved if (b.margin - a.margin) * a.margin_error > 0]
    shims = [t.states[i].over["power_pitch"] for t in trials for i, s in enumerate(t.shimmed) if s]
    return [
        f"margin made worse in a step: {share(worse, len(steps))}",
        f"balance moved the wrong way when more than 3 % out: {share(len(wrong), len(out))}, "
        f"of them aft {sum(b.margin < a.margin for a, b in wrong)}",
        f"washers ordered with power pitch inside its band: {share(sum(v <= 1.0 for v in shims), len(shims))}",
    ]


def reliability(trials: list[Trial]) -> list[str]:
    """Return for each bin of stated risk of being behind the minimum how often that was so."""
    every = [b for t in trials for b in t.believed]
    lines = []
    for low, high in itertools.pairwise(_BINS):
        rows = [b for b in every if low <= b.risk < high]
        behind = sum(b.true_margin < b.minimum for b in rows)
        stated = np.mean([b.risk for b in rows]) if rows else float("nan")
        lines.append(
            f"risk stated {low:.2f} to {min(high, 1):.2f} (mean {stated:.3f}): behind {share(behind, len(rows))}"
        )
    return lines


_THIN, _STILL = 0.02, 0.04


def tail_heavy(trials: list[Trial]) -> list[str]:
    """Return what became of a fleet whose balance was read too far forward: thin margins called safe, and those left after three sorties."""
    first = [t.believed[0] for t in trials if t.believed and t.believed[0].true_margin < _THIN]
    thin = [b for t in trials for b in t.believed if b.true_margin < _THIN]
    flown = [t.states[min(3, len(t.states) - 1)] for t in trials]
    return [
        f"true margin under 2 % in the first sortie, called safe after it: {share(sum(b.risk < 0.01 for b in first), len(first))}",
        f"in any sortie: {share(sum(b.risk < 0.01 for b in thin), len(thin))}",
        f"true margin still under 4 % after three sorties: {share(sum(s.margin < _STILL for s in flown), len(flown))}",
        f"at the start: {share(sum(t.states[0].margin < _STILL for t in trials), len(trials))}",
    ]


def by_layout(trials: list[Trial]) -> list[str]:
    """Return sorties, never and coverage of each layout."""
    lines = []
    for layout in sorted({t.layout for t in trials}):
        rows = [t for t in trials if t.layout == layout]
        n = counted(rows)
        z = [abs(b.true_margin - b.margin) / b.sigma for t in rows for b in t.believed[:1]]
        cover = f"{np.mean(np.array(z) < 1):.2f}" if z else "-"
        lines.append(
            f"{layout:18s} n {len(rows):3d}  mean {n.mean():.2f}  never {np.mean(n > CAP):.0%}  68 % covers {cover}"
        )
    return lines


def by_limit(trials: list[Trial]) -> str:
    """Return which limits keep the models out that never came within."""
    never = [t.states[-1] for t in trials if t.within_after is None]
    over = {k: sum(s.over.get(k, 0.0) > 1.0 for s in never) for k in LIMITS}
    cannot = sum(not s.flyable for s in never)
    return (
        f"out in the end, of {len(never)}: "
        + ", ".join(f"{k} {v}" for k, v in over.items())
        + f", cannot be flown {cannot}"
    )


def proposals(trials: list[Trial]) -> list[str]:
    """Return how often each card is flown in the first, second, third and later sorties."""
    lines = []
    for k in range(4):
        flown = [t.cards[i] for t in trials for i in range(len(t.cards)) if (i == k if k < 3 else i >= 3)]
        counts = Counter(c for cards in flown for c in cards)
        named = "  ".join(
            f"{c} {n / max(len(flown), 1):.0%}" for c, n in sorted(counts.items(), key=lambda x: int(x[0][1:]))
        )
        lines.append(f"sortie {k + 1 if k < 3 else '4+'} (n {len(flown)}): {named}")
    return lines
