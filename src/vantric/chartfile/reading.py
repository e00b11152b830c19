"""Reading a chart file: what is wrong is said by its line or its key, with the nearest right one."""

from __future__ import annotations

import json
import tomllib
import types
from pathlib import Path
from typing import Any, Union, get_args, get_origin

from pydantic import BaseModel, ValidationError

from vantric.chartfile.model import ADAPTER, FILES, FORMAT, ChartFile
from vantric.errors import ChartFileError, nearest
from vantric.regular import content_of, reason_of

ENDINGS = (".toml", ".json")
_TYPES = ("int", "float", "str", "bool", "function")
_WANTED = {
    "int_type": "a number", "float_type": "a number", "bool_type": "true or false", "string_type": "text",
    "list_type": "a list", "dict_type": "a table", "model_type": "a table",
}  # fmt: skip
_LARGEST = 50_000_000  # bytes


def read_chart_file(path: Path) -> ChartFile:
    """Return what a chart file says.

    Raises
    ------
    ChartFileError
        If it cannot be read, or holds a key or value that is none.
    """
    if path.suffix.casefold() not in ENDINGS:
        raise ChartFileError(f"'{path}' is no chart file: its ending is none of {', '.join(ENDINGS)}")
    try:
        content = content_of(path, _LARGEST)
    except (OSError, RuntimeError) as error:
        raise ChartFileError(f"cannot read '{path}': {reason_of(error)}") from None
    return chart_file_of(_parsed(content, path), str(path))


def chart_file_of(found: Any, shown: str) -> ChartFile:
    """Return the checked form of parsed TOML or JSON; `shown` names the file in messages."""
    if not isinstance(found, dict) or found.get("format") != FORMAT:
        raise ChartFileError(f"'{shown}' is no chart file: it does not begin with format = \"{FORMAT}\"")
    kind = found.get("kind")
    if not isinstance(kind, str) or kind not in FILES:
        said = f"'{kind}' is no kind of chart{nearest(str(kind), FILES)}" if kind else "it names no kind of chart"
        raise ChartFileError(f"'{shown}': kind: {said}; there are: {', '.join(FILES)}")
    try:
        return ADAPTER.validate_python(found)
    except ValidationError as error:
        raise ChartFileError(f"'{shown}': {_first(error, FILES[kind])}") from None


def _parsed(content: bytes, path: Path) -> Any:
    try:
        text = content.decode("utf-8-sig")
        return tomllib.loads(text) if path.suffix.casefold() == ".toml" else json.loads(text)
    except UnicodeDecodeError:
        raise ChartFileError(f"'{path}' is not in UTF-8") from None
    except (tomllib.TOMLDecodeError, json.JSONDecodeError) as error:
        raise ChartFileError(f"'{path}': {error}") from None
    except RecursionError:
        raise ChartFileError(f"'{path}' is nested too deeply for a chart file") from None


def _first(error: ValidationError, model: type[BaseModel]) -> str:
    """Return the first thing that is wrong, with the key it is at."""
    found = error.errors(include_url=False)
    one = next((each for each in found if each["type"] == "extra_forbidden"), found[0])
    place = list(one["loc"][1:])  # behind the kind of chart
    if one["type"] == "extra_forbidden":
        *above, key = place
        known = list(_fields_at(model, above))
        where = _dotted(above) or "the file"
        hint = nearest(str(key), known) or f"; there are: {', '.join(known)}"
        return f"{where} has no key '{key}'{hint}"
    place = _without_choices(place, model)
    if one["type"] == "missing":
        return f"{_dotted(place)} is missing; add it"
    value = str(one["input"])[:40]
    if one["type"] == "literal_error":
        known = one["ctx"]["expected"].replace("'", "").replace(" or ", ", ").split(", ")
        return f"{_dotted(place)}: '{value}' is none of {', '.join(known)}{nearest(value, known)}"
    said = [_WANTED[each["type"]] for each in found if each["type"] in _WANTED and each["input"] == one["input"]]
    if said:
        return f"{_dotted(place)}: {' or '.join(dict.fromkeys(said))} is wanted, not {value!r}"
    return f"{_dotted(place)}: {one['msg'][:1].lower()}{one['msg'][1:]}"


def _dotted(place: list[Any]) -> str:
    text = ""
    for part in place:
        text += f"[{part + 1}]" if isinstance(part, int) else f".{part}" if text else str(part)
    return text


def _fields_at(model: type[BaseModel], place: list[Any]) -> dict[str, Any]:
    """Return the fields of the section at a place."""
    for part in place:
        if isinstance(part, int) or part not in model.model_fields:
            continue
        inner = _model_in(model.model_fields[part].annotation)
        if inner is None:
            return {}
        model = inner
    return dict(model.model_fields)


def _model_in(annotation: Any) -> type[BaseModel] | None:
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return annotation
    if get_origin(annotation) in (Union, types.UnionType, list):
        return next((found for one in get_args(annotation) if (found := _model_in(one))), None)
    return None


def _without_choices(place: list[Any], model: type[BaseModel]) -> list[Any]:
    """Leave out what names a choice of types, which is no key of the file."""
    kept: list[Any] = []
    for part in place:
        inner = _fields_at(model, kept)
        named = bool(kept) and not inner and part not in _TYPES and str(part).isidentifier()
        if isinstance(part, int) or part in inner or named:
            kept.append(part)
    return kept
