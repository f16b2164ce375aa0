"""Error of each measurement model against the simulated models when the unknowns are known: the bias terms' origin."""

from __future__ import annotations

import numpy as np

from bench.fleet import random_model, truth_vector
from jinba.core.diagnose.sorties import LoggedSortie, sortie_data
from jinba.core.flight import pilot
from jinba.core.observe.predictions import Moment

CARDS = ("F1", "F2", "F3", "F4", "F7", "F32", "F28", "F29", "F5", "F8", "F12", "F13", "F14", "F15")


def main() -> None:
    """Fly a fleet and print the error of every measure, median and 10/90 percentiles, in its own unit."""
    rng = np.random.default_rng(11)
    models = [random_model(rng) for _ in range(150)]
    captured: dict[str, list[np.ndarray]] = {}
    original = pilot._Session.rate

    def spy(self: pilot._Session, values: np.ndarray, scale: object) -> list[int]:
        captured.setdefault("values", []).append(np.array(values))
        return original(self, values, scale)  # type: ignore[arg-type]

    pilot._Session.rate = spy  # type: ignore[method-assign]
    logs = pilot.fly(models, CARDS, seed=1)
    order = [
        "lift_off",
        "pitch_left_over",
        "roll_left_over",
        "yaw_left_over",
        "roll_slow",
        "go_round",
        "pitch_full",
        "pitch_idle",
        "roll_full",
        "dive",
        "pitch_fast",
        "roll_inverted",
        "up_line",
    ]
    truth = dict(zip(order, captured["values"], strict=True))
    errors: dict[str, list[float]] = {}
    for i, (m, log) in enumerate(zip(models, logs, strict=True)):
        x = truth_vector(m.faults, m.nature)
        for d in sortie_data(LoggedSortie(m.configuration, log)):
            moment: Moment = d.moment
            h = d.measure.predict(x, moment)
            if d.measure.key in truth:
                value = float(truth[d.measure.key][i])
            elif d.low == d.high:
                value = d.low
            else:
                continue
            errors.setdefault(d.measure.key, []).append(value - h)
    print(f"{'measure':18s} {'n':>4s} {'p10':>8s} {'median':>8s} {'p90':>8s} {'sd':>8s}")
    for key, e in errors.items():
        p10, p50, p90 = np.percentile(e, [10, 50, 90])
        print(f"{key:18s} {len(e):4d} {p10:8.2f} {p50:8.2f} {p90:8.2f} {np.std(e):8.2f}")


if __name__ == "__main__":
    main()
