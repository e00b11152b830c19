"""What each type of option takes, and how a type is named in messages, docstrings and stubs."""

from __future__ import annotations

import numbers
import types
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import is_dataclass
from decimal import Decimal
from os import PathLike
from pathlib import Path
from typing import Any, Literal, Union, get_args, get_origin

#: Stands for a free end where a file format has no null.
FREE = "free"
_PLURALS = {str: "texts", int: "whole numbers", float: "numbers"}
_WORDS = {str: "a text", bool: "True or False", int: "a whole number", float: "a number", Path: "a path"}


class Unset:
    """The base of what stands for an option that is not given, where None means something else."""


class MisfitError(Exception):
    """A value is not of the type that is wanted."""


def is_union(kind: Any) -> bool:
    """Whether a type is a union."""
    return get_origin(kind) in (Union, types.UnionType)


def members(kind: Any) -> tuple[Any, ...]:
    """Return the types of a union, or the type itself."""
    return get_args(kind) if is_union(kind) else (kind,)


def literals(kind: Any) -> tuple[str, ...]:
    """Return the words that a type offers to choose from."""
    return tuple(word for member in members(kind) if get_origin(member) is Literal for word in get_args(member))


#: What a tuple of a type takes as it is.
_PLAIN: dict[Any, set[type]] = {str: {str}, float: {float, int}, int: {int}}


def plain_value(value: Any) -> Any:
    """Return a scalar or an array of NumPy, or an index or a column of names, as Python's own."""
    if getattr(value, "shape", None) == () and hasattr(value, "item"):
        return value.item()
    return value.tolist() if is_list(value) and hasattr(value, "tolist") else value


def is_list(value: Any) -> bool:
    """Whether a value is a sequence of values, of whatever library."""
    apart = (str, bytes, Mapping, set, frozenset)  # a set has no order of its own
    return isinstance(value, Iterable) and not isinstance(value, apart) and hasattr(value, "__len__")


def taken(value: Any, kind: Any) -> Any:
    """Return a value in the form of a type: lists become tuples, NumPy's numbers Python's, paths `Path`.

    Raises
    ------
    MisfitError
        If the type does not take it.
    """
    if is_union(kind):
        return _of_union(value, get_args(kind))
    if kind in (Any, object):
        return plain_value(value)
    if kind is type(None) or kind is None:
        return _only(value, value is None)
    origin = get_origin(kind)
    if origin is Literal:
        return _only(value, isinstance(value, (str, int)) and value in get_args(kind))
    if origin is tuple:
        return _of_tuple(value, get_args(kind))
    if origin is not None and issubclass(origin, Mapping):
        return _of_mapping(value, get_args(kind))
    return _of_class(value, kind)


def _only(value: Any, fits: bool) -> Any:
    if not fits:
        raise MisfitError
    return value


def _of_union(value: Any, kinds: Sequence[Any]) -> Any:
    words = isinstance(value, str) and any(get_origin(item) is Literal for item in kinds)
    for kind in kinds:
        if words and get_origin(kind) is tuple:
            continue  # a word that is not offered is a slip, not a list of one
        try:
            return taken(value, kind)
        except MisfitError:  # another type of the union may take it
            continue
    raise MisfitError


def _of_tuple(value: Any, inner: tuple[Any, ...]) -> tuple[Any, ...]:
    several = len(inner) == 2 and inner[1] is Ellipsis
    if several and isinstance(value, str) and inner[0] is str:
        return (value,)  # one name is a list of one
    if not is_list(value) or (not several and len(value) != len(inner)):
        raise MisfitError
    plain = plain_value(value)
    if several and inner[0] in _PLAIN and set(map(type, plain)) <= _PLAIN[inner[0]]:  # of thousands of values
        return tuple(plain)
    return tuple(
        taken(item, kind) for item, kind in zip(plain, inner[:1] * len(plain) if several else inner, strict=True)
    )


def _of_mapping(value: Any, inner: tuple[Any, ...]) -> dict[Any, Any]:
    if not isinstance(value, Mapping):
        raise MisfitError
    return {taken(key, inner[0]): taken(item, inner[1]) for key, item in value.items()}


def _of_class(value: Any, kind: Any) -> Any:
    value = plain_value(value) if kind in (bool, int, float) else value
    if kind in (int, float):
        number = numbers.Integral if kind is int else numbers.Real
        fits = isinstance(value, number) or (kind is float and isinstance(value, Decimal))
        return _only(value, fits and not isinstance(value, bool))
    if kind is Path:
        return Path(_only(value, isinstance(value, (str, PathLike))))
    if is_dataclass(kind) and isinstance(value, Mapping):
        type_: Any = kind
        return type_.from_keywords(value) if hasattr(type_, "from_keywords") else type_(**value)
    return _only(value, isinstance(value, kind))


def wanted(kind: Any) -> str:
    """Return what a type is called in a message: ``"a whole number or None"``."""
    if is_union(kind):
        values = dict.fromkeys(map(wanted, filter(_is_shown, get_args(kind))))
        names = [word for word in values if word != "None"]
        left = " or None" if "None" in values and not names[0].startswith("a pair") else ""
        return " or ".join(names) + left
    origin, inner = get_origin(kind), get_args(kind)
    if origin is Literal:
        return f"one of {', '.join(map(repr, inner))}"
    if kind is type(None) or kind is None:
        return "None"
    if origin is tuple and Ellipsis not in inner:
        return f"a pair of {_several(inner[0])}" if len(inner) == 2 else f"{len(inner)} {_several(inner[0])}"
    if origin is not None and issubclass(origin, Mapping):
        return f"a mapping of names to {_several(inner[1])}"
    if origin is tuple:
        return f"a list of {_several(inner[0])}"
    name = getattr(kind, "__name__", str(kind))
    return _WORDS.get(kind, f"a{'n' if name[:1] in 'AEIOU' else ''} {name}")


def in_plain_words(message: str) -> str:
    """Return a message without what only Python has: None, and truth values with a capital."""
    plain = message.replace(" or None,", ",").replace(" or None;", ";")
    return plain.replace("True or False", "true or false")


def _several(kind: Any) -> str:
    if is_union(kind):
        return " or ".join(dict.fromkeys(_several(inner) for inner in get_args(kind) if inner is not type(None)))
    if get_origin(kind) is Literal:
        return f"one of {', '.join(map(repr, get_args(kind)))}"
    return _PLURALS.get(kind) or (f"{kind.__name__}s" if isinstance(kind, type) else "values")


def spelled(kind: Any, *, stub: bool = False) -> str:
    """Return a type as it is written: short for people, or as a type checker reads it in a stub."""
    if is_union(kind):
        return " | ".join(
            dict.fromkeys(spelled(argument, stub=stub) for argument in get_args(kind) if _is_shown(argument))
        )
    origin, inner = get_origin(kind), get_args(kind)
    if origin is Literal:
        return f"Literal[{', '.join(map(_quoted, inner))}]"
    if kind is type(None) or kind is None:
        return "None"
    if origin is tuple:
        names = list(dict.fromkeys(spelled(item, stub=stub) for item in inner if item is not Ellipsis))
        text = " | ".join(names)
        return f"Sequence[{text}] | str" if stub and names == ["str"] else f"Sequence[{text}]"
    if origin is not None and issubclass(origin, Mapping):
        return f"Mapping[{', '.join(spelled(item, stub=stub) for item in inner)}]"
    if kind is Path:
        return "str | PathLike[str]" if stub else "path"
    return "object" if kind is object else "Any" if kind is Any else kind.__name__


def _is_shown(kind: Any) -> bool:
    return not (isinstance(kind, type) and issubclass(kind, Unset))


def _quoted(word: Any) -> str:
    return f'"{word}"' if isinstance(word, str) else repr(word)
