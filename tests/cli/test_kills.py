"""The program and its PostgreSQL killed at random moments while it is written to; bench/kills.py does it a hundred times."""

from __future__ import annotations

import pytest

from bench.kills import run


@pytest.mark.timeout(600)
def test_after_three_kills_every_acknowledged_write_is_there_once():
    tally = run(3, seed=7)
    assert tally.wrong == []
    assert sum(tally.kills.values()) == 3
    assert set(tally.kills) == {"program", "postgres", "both"}
    assert min(tally.acknowledged[k] for k in ("records", "proofs", "setups")) >= 1
