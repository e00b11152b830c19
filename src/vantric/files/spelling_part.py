"""How the value of an option is spelled in a chart file, which has no null: both ways."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from pathlib import Path
from typing import Any

from vantric.options import Option, Options
from vantric.options.option_types import FREE

_NONE = "none"
_LARGEST = 1e15  # whole floats up to here are written as integers


def from_file(option: Option, value: Any) -> Any:
    """Return the value that a file spells: ``"none"`` is None where that differs from what is not given."""
    if value == _NONE and option.declared.off is None:
        return None
    if isinstance(value, list) and "None" in str(option.kind):
        return [None if one == FREE else one for one in value]
    return value


def to_file(option: Option, value: Any) -> Any:
    """Return the spelling of a value in a file."""
    if value is None and option.declared.off is None:
        return _NONE
    return plain(value)


def plain(value: Any) -> Any:
    """Return a value as TOML and JSON have it."""
    if isinstance(value, Options):
        return section(value)
    if isinstance(value, Mapping):
        return {str(name): plain(one) for name, one in value.items()}
    if isinstance(value, (list, tuple)):
        return [FREE if one is None else plain(one) for one in value]
    if isinstance(value, float) and value.is_integer() and abs(value) < _LARGEST:
        return int(value)
    if isinstance(value, date):
        return value.isoformat()[:10]
    return str(value) if isinstance(value, Path) else value


def section(options: Options) -> dict[str, Any]:
    """Return the options that are not as they are by default, as a section of a file."""
    from vantric.options import known_options

    known = known_options(type(options))
    return {
        name: to_file(known[name], value) for name, value in options.changed().items() if known[name].in_place("file")
    }
