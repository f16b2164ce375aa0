"""What hands found on the model after landing: heat, and what has come loose."""

from __future__ import annotations

from jinba.core.cards.captures import TOO_HOT
from jinba.core.cards.model import CardRecord
from jinba.core.said import Said, finding

_HEAT = {
    "motor_heat": "The motor or its controller was too hot to hold after landing: do not fly. Look for a propeller that is too large, "
    "what binds, and cooling air; measure the current at full throttle.",
    "pack_heat": "The pack was too hot to hold after landing: outside, watched, not charged before it is cold. Do not fly it again before "
    "its rating and its resistance are looked at.",
}
_LOOSE = "Something was not tight after landing: do not fly. Find it, fasten it, and look what it has let move."


def found_by_hand(records: tuple[CardRecord, ...]) -> tuple[Said, ...]:
    """Return what stops the next flight by what hands found after landing, by the newest record of it (A2).

    ``records``: of a sortie and after it in the order they were made. Common practice, no source.
    """
    last = next((r for r in reversed(records) if r.card_id == "A2"), None)
    if last is None:
        return ()
    hot = [k for k in _HEAT if (r := last.reading(k)) is not None and r.choice == TOO_HOT]
    tight = last.reading("tight")
    loose = [finding("loose", _LOOSE, stops=True)] if tight is not None and tight.choice == "no" else []
    return (*(finding("too_hot", _HEAT[k], k, stops=True) for k in hot), *loose)
