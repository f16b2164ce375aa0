"""The state folder: one program at a time uses it, and what is wrong with it is said in a sentence."""

from __future__ import annotations

import errno
import fcntl
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from alembic.util.exc import CommandError

LOCK = "in-use"


class StateError(RuntimeError):
    """The state folder cannot be used; the message says why and what to do."""


@contextmanager
def held(state: Path) -> Iterator[None]:
    """Hold a state folder for this process alone; the system lets go of it when the process ends, however it ends.

    Raises: StateError when another program holds it.
    """
    state.mkdir(parents=True, exist_ok=True)
    with os.fdopen(os.open(state / LOCK, os.O_RDWR | os.O_CREAT, 0o644), "r+") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            who = file.read().strip() or "another process"
            raise StateError(
                f"{state} is in use by {who}. Stop that first (Ctrl-C there), or say another folder: --state"
            ) from None
        file.write(f"process {os.getpid()}\n")
        file.truncate()
        yield


def words_of(error: Exception, state: Path) -> str | None:
    """Return what a failure of the machine means for whoever started the program; None when it is not one of these."""
    if isinstance(error, CommandError) and "locate revision" in str(error):
        return f"The data in {state} were written by a newer version. Start that one, or say another folder: --state"
    if not isinstance(error, OSError):
        return None
    where = error.filename or state
    return {
        errno.ENOSPC: f"The disk is full: {where} could not be written. Make room and start again; nothing was lost.",
        errno.EDQUOT: f"Your share of the disk is full: {where} could not be written. Make room and start again.",
        errno.EROFS: f"{where} is on a read-only disk. Say a folder that can be written: --state",
        errno.EACCES: f"{where} belongs to another user or is write-protected. Say a folder of your own: --state",
        errno.EPERM: f"{where} belongs to another user or is write-protected. Say a folder of your own: --state",
        errno.ENOTDIR: f"{where} is not a folder. Say another one: --state",
    }.get(error.errno or 0)
