"""The `TypedDict`s of the options that each public function takes, for type checkers; made from the option classes."""

from __future__ import annotations

import importlib
import inspect
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import vantric
from vantric.options import Option, known_options
from vantric.options.option_types import spelled

SOURCE = Path(vantric.__file__).parent
_HEAD = '''"""The options of {what} by name and type, for type checkers.

Made by `make generated`; do not edit. To hold options in a variable:
``options: vantric.typing.{first} = {{...}}``.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from os import PathLike
from typing import TYPE_CHECKING, Any, Literal, TypedDict

if TYPE_CHECKING:
{imports}
'''
_HOMES = {
    "Mark": "vantric.core.charts.references",
    "Reference": "vantric.core.charts.references",
    "NumberStyle": "vantric.core.numbers.number_format",
}


def taking() -> Iterator[tuple[str, Any]]:
    """Yield every public function and method that takes ``**options``, with its name as users write it."""
    for name in vantric.__all__:
        if name.endswith("Options"):
            continue
        found = getattr(vantric, name)
        if inspect.isfunction(found) and hasattr(found, "__options__"):
            yield name, found
        if inspect.isclass(found):
            for own, method in vars(found).items():
                plain = getattr(method, "__func__", method)
                if hasattr(plain, "__options__"):
                    yield (name if own == "__init__" else f"{name}.{own}"), plain


def stubs() -> dict[str, tuple[list[Option], str]]:
    """Return the name of each `TypedDict` -> its options, and the first function that takes them."""
    found: dict[str, tuple[list[Option], str]] = {}
    for name, function in taking():
        called = re.search(r"Unpack\[(\w+)\]", str(function.__annotations__["options"]))
        assert called, name
        found.setdefault(called[1], (list(function.__options__), name))
    return found


def series_stubs() -> dict[str, tuple[list[Option], str]]:
    """Return the same for the kinds of series."""
    series = importlib.import_module("vantric.core.charts.series")
    kinds = {
        "SeriesOptions": (series.Series, "Series"),
        "BarsOptions": (series.Bars, "Bars"),
        "LineOptions": (series.Line, "Line, Area, Points, Stems and Steps"),
    }
    return {
        name: ([one for one in known_options(kind).values() if one.name != "labels"], where)
        for name, (kind, where) in kinds.items()
    }


def text_of(found: dict[str, tuple[list[Option], str]], what: str) -> str:
    """Return the module that declares the `TypedDict`s: what several have in common is a base of theirs."""
    groups = _groups(found)
    parts = [
        _class(base, fields, "TypedDict", f"What {', '.join(users)} have in common.") for base, fields, users in groups
    ]
    for name, (options, where) in sorted(found.items()):
        bases = [base for base, _, users in groups if name in users]
        shared = {field for base, fields, users in groups if name in users for field in fields}
        own = [field for field in map(_field, options) if field not in shared]
        parts.append(_class(name, own, ", ".join(bases) or "TypedDict", f"The options of `vantric.{where}`."))
    body = "\n\n".join(parts)
    homes: dict[str, list[str]] = {}
    for name, home in _HOMES.items():
        if re.search(rf"\b{name}\b", body):
            homes.setdefault(home, []).append(name)
    imports = [f"    from {home} import {', '.join(names)}" for home, names in sorted(homes.items())]
    head = _HEAD.format(what=what, first=min(found), imports="\n".join(imports))
    for name in ("Mapping", "Sequence", "PathLike", "Any", "Literal"):
        if not re.search(rf"\b{name}\b", body):
            head = re.sub(rf"\b{name}\b(, )?", "", head)
    head = head.replace("from os import \n", "").replace("from collections.abc import \n", "").replace(", \n", "\n")
    return f"{head}\n\n{body}"


def _field(one: Option) -> str:
    return f"{one.name}: {spelled(one.kind, stub=True)}"


def _groups(found: dict[str, tuple[list[Option], str]]) -> list[tuple[str, list[str], list[str]]]:
    """Return (base, fields, who has them) of the fields that the same classes have: each is written once."""
    users: dict[str, list[str]] = {}
    for name, (options, _) in sorted(found.items()):
        for one in options:
            users.setdefault(_field(one), []).append(name)
    groups: dict[tuple[str, ...], list[str]] = {}
    for field, names in users.items():
        if len(names) > 1:
            groups.setdefault(tuple(names), []).append(field)
    several = ((names, fields) for names, fields in groups.items() if len(fields) > 1)
    return [(f"_Common{number}", fields, list(names)) for number, (names, fields) in enumerate(several, 1)]


def _class(name: str, fields: list[str], bases: str, about: str) -> str:
    lines = [
        f"class {name}({bases}, total=False):",
        f'    """{about}"""',
        *(["", *(f"    {field}" for field in fields)] if fields else []),
    ]
    return "\n".join(lines) + "\n"


def files() -> dict[Path, str]:
    """Return the path and the content of the module of typed dictionaries."""
    return {SOURCE / "typing.py": text_of({**stubs(), **series_stubs()}, "the public functions and of series")}
