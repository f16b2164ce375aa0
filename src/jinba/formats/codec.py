"""Core records to plain JSON values and back, strictly: unknown fields, NaN and infinities are refused."""

from __future__ import annotations

from dataclasses import is_dataclass
from typing import Any, TypeVar

from pydantic import ConfigDict, TypeAdapter

from jinba.core import configuration as _configuration
from jinba.core.airframe import parts as _parts
from jinba.core.airframe import twist as _twist
from jinba.core.bench import answer as _answer
from jinba.core.bench import arrange as _arrange
from jinba.core.bench import authority as _authority
from jinba.core.bench import checks as _checks
from jinba.core.bench import controls as _desk
from jinba.core.bench import direction_walk as _walk
from jinba.core.bench import fingers as _fingers
from jinba.core.bench import maiden as _maiden
from jinba.core.bench import mission as _mission
from jinba.core.bench import mix_values as _mix_values
from jinba.core.bench import mount as _mount
from jinba.core.bench import remedies as _remedies
from jinba.core.bench import saturation as _saturation
from jinba.core.bench import schools as _schools
from jinba.core.cards import model as _cards
from jinba.core.configuration import Configuration
from jinba.core.controls import fitting as _fitting
from jinba.core.controls import holes as _holes
from jinba.core.controls import linkage as _linkage
from jinba.core.controls import mixing as _mixing
from jinba.core.controls import radio as _radio
from jinba.core.controls import setup as _setup
from jinba.core.controls import shims as _shims
from jinba.core.controls import stabiliser as _stabiliser
from jinba.core.controls import surface_control as _controls
from jinba.core.controls import switches as _switches
from jinba.core.controls import throws as _throws
from jinba.core.controls import travel as _travel
from jinba.core.controls import trim as _trim
from jinba.core.flight import faults as _faults
from jinba.core.mass import across as _across
from jinba.core.mass import items as _items
from jinba.core.mass import readings as _readings
from jinba.core.mass import weighing as _weighing
from jinba.core.plan import weather as _weather

T = TypeVar("T")
_STRICT = ConfigDict(extra="forbid", allow_inf_nan=False)

for _module in (
    _parts,
    _items,
    _readings,
    _across,
    _fingers,
    _controls,
    _linkage,
    _fitting,
    _mixing,
    _radio,
    _setup,
    _holes,
    _switches,
    _saturation,
    _shims,
    _stabiliser,
    _throws,
    _travel,
    _trim,
    _authority,
    _desk,
    _walk,
    _mix_values,
    _configuration,
    _cards,
    _faults,
    _weather,
    _answer,
    _maiden,
    _arrange,
    _checks,
    _twist,
    _schools,
    _remedies,
    _mission,
    _mount,
    _weighing,
):
    for _name in dir(_module):
        _kind = getattr(_module, _name)
        if isinstance(_kind, type) and is_dataclass(_kind) and _kind.__module__ == _module.__name__:
            _kind.__pydantic_config__ = _STRICT  # type: ignore[attr-defined]


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
