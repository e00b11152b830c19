"""The signatures of what takes options: parameters with their types and defaults."""

from __future__ import annotations

import inspect
from collections.abc import Iterable, Mapping
from dataclasses import MISSING, Field
from typing import Any

from vantric.options.declaration import NOTHING, Option
from vantric.options.option_types import spelled


def parameter_of(one: Option) -> inspect.Parameter:
    """Return an option as a keyword."""
    default = inspect.Parameter.empty if one.default is NOTHING else one.default
    return inspect.Parameter(
        one.name, inspect.Parameter.KEYWORD_ONLY, default=default, annotation=spelled(one.kind, stub=True)
    )


def signature_of(fields: Iterable[Field[Any]], known: Mapping[str, Option]) -> inspect.Signature:
    """Return the signature of a class of options: what has a place, then the options by name."""
    placed = [
        inspect.Parameter(
            one.name,
            inspect.Parameter.POSITIONAL_OR_KEYWORD,
            default=inspect.Parameter.empty if one.default is MISSING else one.default,
            annotation=spelled(known[one.name].kind, stub=True) if one.name in known else one.type,
        )
        for one in fields
        if not one.kw_only
    ]
    named = {one.name for one in placed}
    return inspect.Signature([*placed, *(parameter_of(one) for name, one in known.items() if name not in named)])
