"""Setups in and out of the database: stored once by content, read back in today's version, parsed once per process."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from sqlalchemy.orm import Session

from jinba.core.configuration import Configuration
from jinba.formats.codec import from_json, to_json
from jinba.formats.upgrade import SETUP_VERSION, upgrade_setup
from jinba.persistence.repositories import Setups

_MOST = 512
_parsed: dict[str, Configuration] = {}
"""By content hash: what a hash stands for never changes, so this can be wrong for nobody."""


def keep_setup(session: Session, setup: Configuration) -> str:
    """Store a setup unless it is there; return its hash."""
    return Setups(session).keep(to_json(setup), schema_version=SETUP_VERSION)


def setups_of(session: Session, hashes: Iterable[str]) -> Mapping[str, Configuration]:
    """Return setups by their hashes."""
    wanted = set(hashes)
    found = {h: c for h in wanted if (c := _parsed.get(h)) is not None}
    missing = wanted - found.keys()
    if missing:
        read = {
            h: from_json(Configuration, upgrade_setup(body, version))
            for h, (version, body) in Setups(session).bodies(missing).items()
        }
        if len(_parsed) + len(read) > _MOST:
            _parsed.clear()
        _parsed.update(read)
        found |= read
    return found


def setup_of(session: Session, setup_hash: str) -> Configuration:
    """Return one setup by its hash."""
    return setups_of(session, (setup_hash,))[setup_hash]
