"""What was written by an earlier version, brought to the present one: setups, entries of a device, project files.

Each step turns plain JSON of one version into that of the next and knows nothing of today's classes, so that it stays true
when they move on. The database, the project file and the phone's outbox use the same functions.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from jinba.core.errors import JinbaError

Body = dict[str, Any]
Step = Callable[[Body], Body]

SETUP_VERSION = 1
"""Version of the setups written now. 1: every commit so far; a field that is not there has its default."""

ENTRY_VERSION = 2
"""Version of the entries a device sends. 1: pages up to 0.1.3, an id and a record; 2: with who wrote it, when, knowing what."""

SETUP_STEPS: dict[int, Step] = {}
"""From the version of the key to the next."""


class NewerVersionError(JinbaError):
    """Something was written by a newer version of the program than this one."""

    code = "newer-version"


def upgrade_setup(body: Body, from_version: int) -> Body:
    """Return the JSON of a setup in the version of today. Raises: NewerVersionError."""
    return _climb(body, from_version, SETUP_VERSION, SETUP_STEPS, "setup")


def upgrade_entry(body: Body, from_version: int) -> Body:
    """Return the JSON of a device's entry in the version of today: an older page's is taken, never refused.

    Raises: NewerVersionError.
    """
    return _climb(body, from_version, ENTRY_VERSION, {1: _entry_from_1}, "entry")


def _entry_from_1(body: Body) -> Body:
    # Nothing is made up: who wrote it, when and knowing what stays unknown.
    return dict(body)


def _climb(body: Body, version: int, present: int, steps: dict[int, Step], what: str) -> Body:
    if version > present:
        raise NewerVersionError(
            f"This {what} has version {version}, this program knows up to {present}: bring the program up to date first.",
            version=version,
        )
    for step in range(version, present):
        body = steps[step](body)
    return body
