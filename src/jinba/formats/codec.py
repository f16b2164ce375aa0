"""Core records to plain JSON values and back, strictly: unknown fields, NaN and infinities are refused.

Strictness is a property of the whole core: every dataclass of every module in it is made strict when this is imported.
"""

from __future__ import annotations

import importlib
import pkgutil
from dataclasses import is_dataclass
from typing import Any, TypeVar

from pydantic import ConfigDict, TypeAdapter

import jinba.core
from jinba.core.configuration import Configuration

T = TypeVar("T")
_STRICT = ConfigDict(extra="forbid", allow_inf_nan=False)


def make_strict(kind: type[T]) -> type[T]:
    """Return a dataclass that refuses unknown fields, NaN and infinities when it is read from JSON."""
    kind.__pydantic_config__ = _STRICT  # type: ignore[attr-defined]
    return kind


_COMPILED = ("jinba.core.flight.simulation.", "jinba.core.flight.piloting.", "jinba.core.flight.workshop")
_KEPT = "jinba.core.flight.simulation.spread"
"""Of the compiled flight only what makes a twin is ever kept; the rest would load a compiler with every start."""

for _found in pkgutil.walk_packages(jinba.core.__path__, "jinba.core."):
    if _found.name.startswith(_COMPILED) and _found.name != _KEPT:
        continue
    _module = importlib.import_module(_found.name)
    for _kind in vars(_module).values():
        if isinstance(_kind, type) and is_dataclass(_kind) and _kind.__module__ == _found.name:
            make_strict(_kind)


_ADAPTERS: dict[type, TypeAdapter[Any]] = {}


def adapter(kind: type[T]) -> TypeAdapter[T]:
    """Return the strict JSON adapter of a record class, made once."""
    if kind not in _ADAPTERS:
        _ADAPTERS[kind] = TypeAdapter(kind)
    return _ADAPTERS[kind]


def to_json(value: object) -> Any:
    """Return a record as plain JSON values."""
    return adapter(type(value)).dump_python(value, mode="json")


def from_json(kind: type[T], data: object) -> T:
    """Return a record from plain JSON values. Raises: pydantic.ValidationError naming every wrong field."""
    return adapter(kind).validate_python(data)


def configuration_schema() -> dict[str, Any]:
    """Return the JSON Schema of a configuration."""
    return adapter(Configuration).json_schema()
