"""Queries, one class per noun. They take a session, return rows, and know nothing of the web."""

from jinba.persistence.repositories.estimates import Estimates
from jinba.persistence.repositories.log import Log
from jinba.persistence.repositories.models import Models, NotFoundError
from jinba.persistence.repositories.notes import Notes
from jinba.persistence.repositories.orders import Orders
from jinba.persistence.repositories.packs import Packs
from jinba.persistence.repositories.pairing import Pairings
from jinba.persistence.repositories.setups import Setups
from jinba.persistence.repositories.sites import Sites
from jinba.persistence.repositories.sorties import Sorties

__all__ = [
    "Estimates",
    "Log",
    "Models",
    "NotFoundError",
    "Notes",
    "Orders",
    "Packs",
    "Pairings",
    "Setups",
    "Sites",
    "Sorties",
]
