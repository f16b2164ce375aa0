"""Jinba: the working companion of a test pilot of fixed-wing model aircraft."""

from __future__ import annotations

import hashlib
import os
from pathlib import Path

__version__ = "0.20.0"


def _keep_compiled_flight() -> None:
    """Keep the compiled flight simulation beside its source, under the digest of all of it.

    The compiler looks only at the file of a function: what that calls in another file could have changed since, and the old
    would go on flying. It reads this place when it is first imported.
    """
    room = Path(__file__).parent / "core/flight/simulation"
    digest = hashlib.sha256(b"".join(f.read_bytes() for f in sorted(room.glob("*.py")))).hexdigest()[:16]
    os.environ["NUMBA_CACHE_DIR"] = str(room / "__pycache__" / f"compiled-{digest}")


_keep_compiled_flight()
