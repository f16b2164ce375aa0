"""What the reading at the end of a bench work order says."""

from __future__ import annotations

from jinba.core.configuration import Configuration
from jinba.core.frames import forward_or_aft
from jinba.core.said import Said, Severity
from jinba.core.spoken import a_length


def order_said(configuration: Configuration) -> Said | None:
    """Return what is still to be done or what the reading proves; None without a work order. Derived here."""
    order = configuration.order
    if order is None:
        return None
    left = sum(1 for s in order.steps if not s.done)
    if order.reading_m is None:
        words = (
            f"{left} of {len(order.steps)} steps to do, then read the balance."
            if left
            else "All done: now read the balance."
        )
        return Said("open", Severity.WARNING, words)
    off = order.reading_m - order.expected_m
    if abs(off) <= order.tolerance_m:
        words = f"Proved: it reads {a_length(abs(off), 1)} {forward_or_aft(off)} of what was computed, within {a_length(order.tolerance_m, 1)}."
        return Said("proved", Severity.GOOD, words)
    words = (
        f"It reads {a_length(abs(off))} further {forward_or_aft(off)} than computed: more than {a_length(order.tolerance_m, 1)}. "
        "The reading counts. Look for a step not done, a wrong mass or station, or the jig at another place; then find what to move again."
    )
    return Said("elsewhere", Severity.WARNING, words)
