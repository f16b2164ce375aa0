"""A trim that was set on the bench a little anew: proved hands off in half a minute, not flown whole."""

from __future__ import annotations

from dataclasses import replace

from jinba.core.cards.model import CaptureKind, Card

PROOF_MINUTES = 0.5
"""Common practice, no source. [min]"""


def as_proof(card: Card) -> Card:
    """Return a trim card as it is flown for a proof: hands off, what is left, and clicks only where it still shows. Common practice, no
    source."""
    steps = (
        "Cruise throttle, level, hands off for three seconds, once each way.",
        "Only if something still shows: trim it, and count the clicks. Say what is left.",
    )
    captures = tuple(c for c in card.captures if c.required or c.kind is not CaptureKind.TIMED)
    return replace(
        card,
        title=f"{card.title}: proof",
        purpose="It was trimmed last time and little was changed since: is it still so?",
        steps=steps,
        captures=captures,
        minutes=PROOF_MINUTES,
    )
