"""What cannot both be true: two cards that speak against each other, a card against itself, the flights against the bench."""

from __future__ import annotations

from jinba.core.cards.model import CardRecord
from jinba.core.diagnose.seen import Seen
from jinba.core.diagnose.speaks import speaks_nose_heavy
from jinba.core.diagnose.update import Belief
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import Design
from jinba.core.said import Said, finding
from jinba.core.spoken import a_speed

BENCH_SIGMAS = 2.5
"""From so many sigmas of the bench on, the flights and the bench are said to contradict each other: common practice, no source."""

LIKELY_MISREAD = 2.0 / 3.0
"""Chance of a misread balance, two to one, from which on it is asked for again before lead is put in for it: common practice, no source."""

PULL_SIGMAS = 1.5
"""From so many sigmas of what was measured on, flights that pull the balance away from its reading ask for another reading before lead
is put in: common practice, no source."""

_MOST_ODDS = 99.0
_LEFT, _RIGHT = ("left", "left_fast"), ("right", "right_fast")


def contradictions(
    seen: Seen, belief: Belief, prior: Belief, *, stall_mps: float | None = None, found: tuple[Said, ...] = ()
) -> tuple[Said, ...]:
    """Return what cannot both be true: which two, what each would mean, and how to tell.

    ``belief`` of the present setup after all flights, ``prior`` the bench's own; ``stall_mps``: its computed stall speed [m/s],
    None not to hold a read one against it; ``found``: what the estimate found not to go together. Derived here (docs/methods/estimator.md).
    """
    alone = [said for r in seen.records for said in (*_in_itself(r), *_word_and_time(r), *_out_of_reason(r, stall_mps))]
    return (*_balance(seen), *alone, *found, *_bench(belief, prior))


def reading_first(belief: Belief, design: Design) -> bool:
    """Whether the balance is read again before lead is put in for it: one reading alone, and flights that pull away from it, or say that it
    was misread.

    Two readings that agree have said what a third would; a balance that nobody has read stops the flight by itself. Derived here (docs/methods/corrections.md).
    """
    if design.configuration.jig is None or not design.balance.misread:
        return False
    pull = abs(float(belief.mean[P.STATIC_MARGIN]))
    return belief.misread >= LIKELY_MISREAD or pull > PULL_SIGMAS * design.static_margin_sigma


def _balance(seen: Seen) -> list[Said]:
    # Here also what is ordinary counts: a model behind its neutral point would not do that much.
    speaks = [words for r in seen.records if (words := speaks_nose_heavy(r))]
    if not speaks or not seen.tail_heavy:
        return []
    nose, tail = speaks[0], seen.tail_heavy[0][1]
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


_SOON_S = 3.0
"""A nose that goes through twenty degrees in less than this does not hold: common practice, no source."""

_MOST_CLICKS = 30.0
"""More clicks than this in one card are no trim but a slip, or a fault: common practice, no source."""

_STALL_TIMES = (0.5, 2.0)
"""Stall speeds read in the air lie between these times the computed one: common practice, no source."""


def _word_and_time(record: CardRecord) -> list[Said]:
    word, time = record.reading("left_over"), record.reading("time_to_20_deg")
    if record.card_id != "F2" or word is None or time is None or time.none or not time.number:
        return []
    if word.choice != "holds" or time.number >= _SOON_S:
        return []
    words = (
        f"F2 says that the nose holds, and that it went through twenty degrees in {time.number:.1f} s. It cannot do both: correct "
        "the one that was tapped wrong, or fly F2 again."
    )
    return [finding("word_and_time", words, "F2")]


def _out_of_reason(record: CardRecord, stall_mps: float | None) -> list[Said]:
    found = [
        finding(
            "many_clicks",
            f"{record.card_id} says {r.number:.0f} clicks: has a digit slipped? If it is so, land and look: no linkage is set that far off.",
            record.card_id,
        )
        for r in record.readings
        if "clicks" in r.key and r.number is not None and r.number > _MOST_CLICKS
    ]
    read = record.reading("entry_speed")
    if read is not None and read.number is not None and stall_mps is not None:
        low, high = (times * stall_mps for times in _STALL_TIMES)
        if not low <= read.number <= high:
            words = (
                f"{record.card_id} says that it stalls at {a_speed(read.number, 1)}, computed {a_speed(stall_mps, 1)}: has a digit or "
                "a unit slipped? Correct it in the log."
            )
            found.append(finding("stall_speed", words, record.card_id))
    return found


def _bench(belief: Belief, prior: Belief) -> list[Said]:
    off, sigma = float(belief.mean[P.STATIC_MARGIN]), float(prior.sigma[P.STATIC_MARGIN])
    if belief.misread < LIKELY_MISREAD and abs(off) <= BENCH_SIGMAS * sigma:
        return []
    way = "nose-heavy" if off > 0.0 else "tail-heavy"
    odds = round(min(belief.misread / max(1.0 - belief.misread, 1e-6), _MOST_ODDS))
    chance = f", {odds} to 1 that it was misread" if belief.misread >= LIKELY_MISREAD else ""
    words = (
        f"The flights contradict the bench{chance}: more {way} by {100 * abs(off):.0f} % of the chord than the balance that was read. "
        "Read the balance again, another way, before lead is put in for it."
    )
    return [finding("bench", words)]
