"""What the terminal says of the field door: where it is, a code to pair with, what to compare."""

from __future__ import annotations

from sqlalchemy.orm import sessionmaker

from jinba.api.field import Site
from jinba.api.routes.field import pairing_address
from jinba.formats.qr import qr_text
from jinba.persistence.database import make_engine, unit_of_work
from jinba.services import pairing


def words_for(site: Site, database_url: str) -> str:
    """Return what to say once the door is open, with a fresh code that pairs one device."""
    engine = make_engine(database_url)
    with unit_of_work(sessionmaker(engine)) as session:
        code = pairing.new_code(session)
    engine.dispose()
    address = pairing_address(site, code.code)
    minutes = int(pairing.CODE_LIVES.total_seconds() // 60)
    by_number = ", ".join(site.by_number) or "no address now: join a network, or the phone's own hotspot"
    return (
        f"\nfor the field:  {site.address}   (where the name is not found: {by_number})\n"
        f"Pair a phone within {minutes} minutes by this picture, or type {code.code} at {site.address}/pair\n"
        f"{qr_text(address)}"
        f"It warns once, because nobody but this machine vouches for the name. Compare before you trust it, SHA-256 of the authority:\n"
        f"  {site.fingerprint}\n"
        "Other phones and helpers: under Phones, on this machine. Only paired devices get in; whoever shares this network sees that it is there."
    )
