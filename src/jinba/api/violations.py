"""What is wrong with an entry, as a pilot reads it: its name, what is allowed in his units, and what to do. No codes, no types."""

from __future__ import annotations

import re
from typing import Any

from jinba.core.errors import JinbaError, amount_words

_UNITS = {
    "_m": "m",
    "_kg": "kg",
    "_mps": "m/s",
    "_rad": "rad",
    "_k": "K",
    "_pa": "Pa",
    "_s": "s",
    "_min": "min",
    "_v": "V",
    "_a": "A",
    "_mah": "mAh",
}
_SUFFIX = re.compile(r"(_(?:m|kg|mps|rad|k|pa|s|min|v|a|mah|n|deg|kg_m2))$")


def words_of(error: dict[str, Any]) -> str:
    """Return the sentence for one wrong entry of a request, as pydantic reports it."""
    cause = (error.get("ctx") or {}).get("error")
    if isinstance(cause, JinbaError):
        return cause.title
    name = _name(error["loc"])
    kind, context = str(error["type"]), error.get("ctx") or {}
    return f"{name[0].upper()}{name[1:]}: {_fault(kind, context, str(error['loc'][-1]), str(error['msg']))}"


def _name(where: tuple[object, ...]) -> str:
    """Return what a pilot calls an entry: the last name of its place, without its unit."""
    names = [str(part) for part in where if isinstance(part, str) and part not in ("body", "query", "path", "header")]
    words = _SUFFIX.sub("", names[-1]).replace("_", " ").replace("-", " ").strip() if names else ""
    return words or "the entry"


def _fault(kind: str, context: dict[str, Any], field: str, message: str) -> str:
    bounds = {
        "greater_than": ("more than", "gt"),
        "greater_than_equal": ("at least", "ge"),
        "less_than": ("less than", "lt"),
        "less_than_equal": ("at most", "le"),
    }
    if kind in bounds:
        words, key = bounds[kind]
        unit = next((u for end, u in _UNITS.items() if field.endswith(end)), "")
        return f"it must be {words} {amount_words(float(context[key]), unit)}."
    if kind == "string_too_long":
        return f"at most {context['max_length']} characters are kept; shorten it."
    if kind == "too_long":
        return f"at most {context['max_length']} are taken at once."
    if kind.startswith(("datetime", "timezone")):
        return "this is no time of day. Enter it again."
    if kind.startswith("date"):
        return "this is no day. Enter it again."
    return _PLAIN.get(kind, f"{message}.")


_PLAIN = {
    "missing": "it is missing; fill it in.",
    "string_too_short": "it is empty; fill it in.",
    "too_short": "there is nothing in it; add one.",
    "extra_forbidden": "this version knows nothing of it. Open the page again: it may be older than the program.",
    "finite_number": "this is no number. Type it again.",
    "float_type": "this is no number. Type it again.",
    "int_type": "this is no whole number. Type it again.",
    "float_parsing": "this is no number. Type it again.",
    "int_parsing": "this is no whole number. Type it again.",
    "int_from_float": "this is no whole number. Type it again.",
    "uuid_parsing": "there is nothing at this address. Open it from the shelf.",
    "uuid_type": "there is nothing at this address. Open it from the shelf.",
    "enum": "this is none of what can be chosen.",
    "literal_error": "this is none of what can be chosen.",
    "json_invalid": "this could not be read. Open the page again and repeat it.",
    "dict_type": "this could not be read. Open the page again and repeat it.",
    "dataclass_type": "this could not be read. Open the page again and repeat it.",
    "model_type": "this could not be read. Open the page again and repeat it.",
    "tuple_type": "this could not be read. Open the page again and repeat it.",
    "list_type": "this could not be read. Open the page again and repeat it.",
    "bool_type": "say yes or no.",
    "bool_parsing": "say yes or no.",
    "string_type": "write it in words.",
}
