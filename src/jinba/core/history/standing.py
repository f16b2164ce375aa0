"""Whether what a card found still holds: setups compared with the trims they were flown and landed with."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.log import Counted
from jinba.core.cards.stale import EVERY_SORTIE, stale_between
from jinba.core.configuration import Configuration
from jinba.core.history.model import Standing


@dataclass(frozen=True, slots=True)
class Now:
    """What a result is held against.

    ``setup`` as it stands on the bench; ``state``: with the trim clicks it landed with; ``landed``: the state at the last
    landing and ``landed_epoch`` its place, None and 0 before any; ``changed``: the setup is another than that sortie's.
    """

    setup: Configuration
    state: Configuration
    landed: Configuration | None
    landed_epoch: int
    changed: bool


def standing(card_id: str, counted: Counted, basis: Configuration, now: Now) -> Standing:
    """Return where a card stands.

    ``basis``: for a card of a sortie the state in which that sortie landed, so that clicks given in flight and taken back
    on the bench count as the change they are; for a bench or ground card the setup it was done on. A bench card done before
    the last landing is also held against that landing, once the setup was changed after it. Derived here.
    """
    epoch = counted.entry.epoch
    fresh = epoch >= now.landed_epoch
    if card_id not in CARDS or card_id in EVERY_SORTIE:
        return Standing(counted, False, fresh)
    if epoch % 2:
        return Standing(counted, card_id in _opened(basis, now.state), fresh)
    opened = _opened(basis, now.setup)
    if now.changed and now.landed is not None and epoch < now.landed_epoch:
        opened |= _opened(now.landed, now.setup)
    return Standing(counted, card_id in opened, fresh)


def _opened(before: Configuration, after: Configuration) -> frozenset[str]:
    return frozenset() if before == after else stale_between(before, after)
