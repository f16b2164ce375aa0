"""The hash of a JSON value by its content: what makes a setup itself, and two requests the same."""

from __future__ import annotations

import hashlib
import json
from typing import Any


def content_hash(value: Any) -> str:
    """Return the SHA-256 of a JSON value, 64 hexadecimal digits.

    Equal values have equal hashes: the order of keys does not matter, nor does 1 against 1.0 or -0.0 against 0.0.
    """
    text = json.dumps(_plain(value), sort_keys=True, separators=(",", ":"), ensure_ascii=False, allow_nan=False)
    return hashlib.sha256(text.encode("utf-8", "surrogatepass")).hexdigest()


def _plain(value: Any) -> Any:
    if isinstance(value, bool) or value is None or isinstance(value, str):
        return value
    if isinstance(value, int | float):
        return float(value) + 0.0
    if isinstance(value, dict):
        return {k: _plain(v) for k, v in value.items()}
    return [_plain(v) for v in value]
