"""Options by name: which there are, what each may be, and how a function shows them."""

from __future__ import annotations

import inspect
import numbers
import types
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import MISSING, fields
from functools import cache
from os import PathLike
from pathlib import Path
from typing import Any, Literal, TypeVar, Union, get_args, get_origin, get_type_hints

from vantric.errors import OptionError, nearest

F = TypeVar("F", bound=Callable[..., Any])
_PLURALS = {str: "texts", int: "whole numbers", float: "numbers"}
_WORDS = {str: "text", bool: "True or False", int: "a whole number", float: "a number", Path: "a path"}


def read_options(given: Mapping[str, Any], known: type) -> dict[str, Any]:
    """Return options as plain values, checked by the names and types of a `TypedDict`.

    Numbers of NumPy become Python's, and arrays lists.

    Raises
    ------
    TypeError
        For a name that there is not, as in any call, with the nearest that there is.
    OptionError
        For a value of another type.
    """
    hints = _hints(known)
    strange = sorted(set(given) - set(hints))
    if strange:
        hint = nearest(strange[0], hints) or f"; there are: {', '.join(sorted(hints))}"
        raise TypeError(f"unexpected keyword argument '{strange[0]}'{hint}")
    for name, value in given.items():
        if not fits(value, hints[name]):
            shown = " ".join(repr(value).split())
            shown = f"{shown[:57]}..." if len(shown) > 60 else shown
            raise OptionError(f"{name} is {wanted(hints[name])}, not {shown}")
    return {name: _plain(value) for name, value in given.items()}


def _plain(value: Any) -> Any:
    """Return a scalar or an array of NumPy, or an index or column of names, as Python's own."""
    if getattr(value, "shape", None) == () and hasattr(value, "item"):
        return value.item()
    return value.tolist() if _is_list(value) and hasattr(value, "tolist") else value


@cache
def _hints(known: type) -> dict[str, Any]:
    return get_type_hints(known)


def fits(value: Any, kind: Any) -> bool:
    """Whether a value is of a kind; a list does wherever a sequence is wanted, and a whole number where any is."""
    origin, inner = get_origin(kind), get_args(kind)
    if kind in (Any, object):
        return True
    if origin in (Union, types.UnionType):
        return any(fits(value, one) for one in inner)
    if origin is Literal:
        return value in inner
    if kind is type(None) or kind is None:
        return value is None
    if kind is bool:
        return isinstance(value, bool) or type(value).__name__ in ("bool_", "bool")
    if kind in (int, float):
        number = numbers.Integral if kind is int else numbers.Real
        plain = isinstance(value, number) or (kind is float and type(value).__name__ == "Decimal")
        return plain and not isinstance(value, bool)
    if kind is Path:
        return isinstance(value, PathLike)
    if origin is tuple and Ellipsis not in inner:
        return _is_list(value) and len(value) == len(inner) and all(map(fits, value, inner))
    if origin is not None and issubclass(origin, Mapping):
        return isinstance(value, Mapping)
    if origin is not None and issubclass(origin, (Sequence, tuple)):
        return _is_list(value) and (not isinstance(value, (list, tuple)) or all(fits(one, inner[0]) for one in value))
    return isinstance(value, origin or kind)


def _is_list(value: Any) -> bool:
    return isinstance(value, Iterable) and not isinstance(value, (str, bytes, Mapping)) and hasattr(value, "__len__")


def wanted(kind: Any) -> str:
    """Return what a kind is called in a message: ``"a whole number or None"``."""
    origin, inner = get_origin(kind), get_args(kind)
    if origin in (Union, types.UnionType):
        return " or ".join(dict.fromkeys(wanted(one) for one in inner))
    if origin is Literal:
        return f"one of {', '.join(map(repr, inner))}"
    if kind is type(None) or kind is None:
        return "None"
    if origin is tuple and Ellipsis not in inner:
        return f"{len(inner)} {_several(inner[0])}"
    if origin is not None and issubclass(origin, Mapping):
        return "a mapping"
    if origin is not None and issubclass(origin, (Sequence, tuple)):
        return f"a list of {_several(inner[0])}"
    return _WORDS.get(kind, f"a {getattr(kind, '__name__', kind)}")


def _several(kind: Any) -> str:
    return _PLURALS.get(kind) or (f"{kind.__name__}s" if isinstance(kind, type) else "values")


def shows(known: type, *holders: type) -> Callable[[F], F]:
    """Have a function that takes ``**options`` show them by name, so that help and completion do.

    Parameters
    ----------
    known
        The `TypedDict` of the options: names and types.
    *holders
        The dataclasses that obey them: their defaults.
    """

    def decorate(function: F) -> F:
        plain = inspect.signature(function)
        own = [one for one in plain.parameters.values() if one.kind is not one.VAR_KEYWORD]
        named = {one.name for one in own}
        defaults = {one.name: _default(one) for holder in holders for one in fields(holder)}
        more = [
            inspect.Parameter(
                name,
                inspect.Parameter.KEYWORD_ONLY,
                default=defaults.get(name),
                annotation=getattr(kind, "__forward_arg__", kind),
            )
            for name, kind in known.__annotations__.items()
            if name not in named
        ]
        function.__signature__ = plain.replace(parameters=[*own, *more])  # type: ignore[attr-defined]
        return function

    return decorate


def _default(one: Any) -> Any:
    return one.default_factory() if one.default is MISSING and one.default_factory is not MISSING else one.default
