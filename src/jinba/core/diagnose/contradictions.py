"""What cannot both be true: two cards that speak against each other, a card against itself, the flights against the bench."""

from __future__ import annotations

from jinba.core.cards.model import CardRecord
from jinba.core.diagnose.seen import Seen
from jinba.core.diagnose.update import Belief
from jinba.core.observe.parameters import P
from jinba.core.said import Said, finding

BENCH_SIGMAS = 2.5
"""From so many sigmas of the bench on, the flights and the bench are said to contradict each other: common practice, no source."""

_LEFT, _RIGHT = ("left", "left_fast"), ("right", "right_fast")


def contradictions(seen: Seen, belief: Belief, prior: Belief) -> tuple[Said, ...]:
    """Return what cannot both be true: which two, what each would mean, and how to tell.

    ``belief`` of the present setup after all flights, ``prior`` the bench's own. Derived here (docs/methods/estimator.md).
    """
    found = [*_balance(seen), *(said for r in seen.records for said in _in_itself(r)), *_bench(belief, prior)]
    return tuple(found)


def _balance(seen: Seen) -> list[Said]:
    if not seen.nose_heavy or not seen.tail_heavy:
        return []
    nose, tail = seen.nose_heavy[0][1], seen.tail_heavy[0][1]
    words = (
        f"{nose}: that is a nose-heavy model. {tail}: that is a tail-heavy one. It cannot be both. Fly F13 again, from level flight "
        "hands off; until then the balance is not moved aft."
    )
    return [finding("balance", words)]


def _in_itself(record: CardRecord) -> list[Said]:
    if record.card_id not in ("F3", "F7"):
        return []
    key = "left_over" if record.card_id == "F3" else "roll_slow"
    word, wing = record.reading(key), record.reading("bank_wing")
    if word is None or wing is None or word.choice is None:
        return []
    if (word.choice in _LEFT and wing.choice == "right") or (word.choice in _RIGHT and wing.choice == "left"):
        side = "left" if word.choice in _LEFT else "right"
        other = "right" if side == "left" else "left"
        words = (
            f"{record.card_id} says that it rolls {side}, and that the {other} wing went down. One of the two was tapped for the "
            f"other: as seated in the cockpit, a roll to the {side} lowers the {side} wing. Correct it in the log."
        )
        return [finding("left_and_right", words, record.card_id)]
    return []


def _bench(belief: Belief, prior: Belief) -> list[Said]:
    off, sigma = float(belief.mean[P.STATIC_MARGIN]), float(prior.sigma[P.STATIC_MARGIN])
    if abs(off) <= BENCH_SIGMAS * sigma:
        return []
    way = "nose-heavy" if off > 0.0 else "tail-heavy"
    words = (
        f"The flights contradict the bench: more {way} by {100 * abs(off):.0f} % of the chord, {abs(off) / sigma:.1f} times what the bench "
        "gives itself. Read the balance again, another way, before anything is moved for it."
    )
    return [finding("bench", words)]
