"""The interface against its own schema, bounded; bench/fuzz.py does it for as long as wanted."""

from __future__ import annotations

from bench.fuzz import run, serving


def test_no_operation_answers_with_an_error_of_ours_whatever_is_sent(flown_url):
    with serving(flown_url) as address:
        found = run(address, phases="examples,fuzzing", examples=2)
    assert found.cases > 80, found.said[-2000:]
    assert found.failures == 0, found.said[-6000:]
