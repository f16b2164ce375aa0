"""Servo pulses: microseconds, percent of travel, receiver counts."""

from __future__ import annotations

from jinba.core.errors import check_range

NEUTRAL_US = 1500.0
HALF_RANGE_US = 500.0
"""1000 to 2000 microseconds are -100 to +100 percent: common practice, no source."""

SHORTEST_US, LONGEST_US = 800.0, 2200.0
"""Pulses outside are bad data, not a command: common practice, no source."""


def check_pulse(name: str, pulse_us: float) -> float:
    """Return a pulse [microseconds] that a servo would take. Raises: OutOfRangeError outside 800 to 2200.

    Common practice, no source.
    """
    return check_range(name, pulse_us, unit="µs", low=SHORTEST_US, high=LONGEST_US)


def share_of_pulse(pulse_us: float) -> float:
    """Return the share of full travel, -1 to +1 for 1000 to 2000 microseconds, 0 at 1500."""
    return (check_pulse("pulse", pulse_us) - NEUTRAL_US) / HALF_RANGE_US


def pulse_of_share(share: float) -> float:
    """Return the pulse [microseconds] of a share of full travel. Raises: OutOfRangeError outside 800 to 2200.

    1500 and 500 µs: common practice, no source.
    """
    return check_pulse("pulse", NEUTRAL_US + HALF_RANGE_US * share)


def pulse_of_count(count: int) -> float:
    """Return the pulse [microseconds] of an eleven-bit receiver count: 0.625 count + 880; 992 is 1500.

    References: widely used scaling, common practice, no source.
    """
    return check_pulse("pulse", 0.625 * count + 880.0)
