"""What each part of the belief and of its use is worth: the closed loop with one part left out at a time.

``python -m bench.ablation [MODELS] [seed=S]``: the fleet of :mod:`bench.closed_loop` in the truth that shares nothing with the estimate;
planned cards in the default pack, the same models in every row. Rows differ from the first by luck too: sorties are drawn by model and
number, so that the same change flies the same sortie, and pairs tell more than means.
"""

from __future__ import annotations

import sys
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from importlib import import_module

import numpy as np

from bench.closed_loop import FIXED_CARDS, PLANNED, TUNING_SEED, WORKERS, fleet
from bench.loop import report
from bench.loop.trial import Method, Trial
from jinba.core.configuration import Configuration
from jinba.core.correct.composed import Choices, Correction
from jinba.core.diagnose.update import Belief
from jinba.core.flight.workshop import Blunders
from jinba.core.observe.parameters import P


@dataclass(frozen=True, slots=True)
class Switch:
    """A ``name`` of a ``module`` that stands for ``value`` in every process that flies: how a part is left out."""

    module: str
    name: str
    value: object

    def __call__(self) -> None:
        """Throw it; one that is not there is an error, not a part that is worth nothing."""
        module = import_module(f"jinba.core.{self.module}")
        assert hasattr(module, self.name), f"{self.module} has no {self.name}"
        setattr(module, self.name, self.value)


def _exact(_before: Configuration, _after: Configuration) -> dict[P, float]:
    """What is ordered is carried out to the hair."""
    return {}


def _everything(allowed: Choices, _belief: Belief, composed: Callable[[Choices], Correction]) -> Correction:
    """Every change that helps is made, whatever it hides or costs."""
    return composed(allowed)


@dataclass(frozen=True, slots=True)
class Part:
    """A part that can be left out: by another way through the loop, or by a ``switch``."""

    name: str
    method: Method = PLANNED
    switch: Switch | None = None


PARTS = (
    Part("as it is"),
    Part("cards of a fixed set", FIXED_CARDS),
    Part("balance never read again", Method("never again", reads_again=False)),
    Part("no room for a misread balance", switch=Switch("configuration", "MISREAD_SHARE", 0.0)),
    Part("errors of the closed forms not by family", switch=Switch("observe.measures", "ERRORS", {})),
    Part("margin stated as solved", switch=Switch("diagnose.update", "STATED_OVER_SOLVED", 1.0)),
    Part("steps of power move the margin", switch=Switch("diagnose.update", "POWER_STEPS", frozenset())),
    Part("hands taken for exact", switch=Switch("diagnose.sorties", "unsure_by", _exact)),
    Part("every change at once", switch=Switch("correct.compose", "chosen", _everything)),
)


def _row(part: Part, trials: list[Trial], whole: np.ndarray) -> list[str]:
    counted = report.counted(trials)
    apart = counted - whole
    error = 1.96 * apart.std(ddof=1) / len(apart) ** 0.5
    return [
        report.headline(part.name, trials),
        f"    on the same models {apart.mean():+.2f} ± {error:.2f} sorties",
        *(f"    {line}" for line in report.honesty(trials)),
    ]


def main() -> None:
    """Fly the fleet once for each part left out, and print what it is worth."""
    asked = [int(a) for a in sys.argv[1:] if a.isdecimal()]
    seeds = [int(a.removeprefix("seed=")) for a in sys.argv[1:] if a.startswith("seed=")]
    count, seed = asked[0] if asked else 60, seeds[0] if seeds else TUNING_SEED
    whole: np.ndarray | None = None
    for part in PARTS:
        with ProcessPoolExecutor(WORKERS, initializer=part.switch) as pool:
            trials = fleet(pool, count, part.method, seed=seed, blunders=Blunders())
        whole = report.counted(trials) if whole is None else whole
        print(*_row(part, trials, whole), sep="\n", flush=True)


if __name__ == "__main__":
    main()
