"""The JSON Schema of chart files, made by pydantic from the option classes."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any, Literal, get_args, get_origin

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, create_model

import vantric
from vantric.chartfile.model import FORMAT, SHAPES, VERSION
from vantric.core.charting import KINDS
from vantric.options import NOTHING, Option, Options, known_options
from vantric.options.kinds import FREE, Unset, is_union

PATH = Path(vantric.__file__).parent / "chartfile/chart.schema.json"
Number = int | float


class _Section(BaseModel):
    model_config = ConfigDict(extra="forbid")


def schema() -> dict[str, Any]:
    """Return the JSON Schema (draft 2020-12) of chart files, version 2."""
    made: dict[Any, type[BaseModel]] = {}
    files = tuple(_file(kind, made) for kind in SHAPES)
    whole: Any = Annotated[_union(files), Field(discriminator="kind")]
    head = {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Vantric chart file",
        "description": "A chart with its data source and every option.",
    }
    return {**head, **TypeAdapter(whole).json_schema()}


def _union(kinds: tuple[Any, ...]) -> Any:
    found = kinds[0]
    for one in kinds[1:]:
        found = found | one
    return found


def _file(kind: str, made: dict[Any, type[BaseModel]]) -> type[BaseModel]:
    shape, fields = SHAPES[kind], {}
    for name, options in shape.sections.items():
        more: dict[str, Any] = {}
        if name == shape.series[0]:
            more["series"] = (Annotated[list[_series(shape.series[1], made)], Field(min_length=1)], ...)  # type: ignore[misc]
            if shape.series[1] == "name":
                more["categories"] = (Annotated[list[str | Number], Field(min_length=1)], ...)
        section = _model(options, made, **more)
        required = name in ("data", "combine", "given", "scales")
        fields[name] = (section, ...) if required else (section, Field(default_factory=section))
    head = {"format": (Literal[FORMAT], ...), "version": (Literal[VERSION], ...), "kind": (Literal[kind], ...)}  # type: ignore[valid-type]
    return create_model(f"{kind.capitalize()}File", __base__=_Section, **head, **fields)  # type: ignore[call-overload, no-any-return]


def _series(what: str, made: dict[Any, type[BaseModel]]) -> Any:
    """Return one series of a file: each kind of series has the options of its class."""
    found = []
    for kind, series in KINDS.items():
        more: dict[str, Any] = {"kind": (Literal[kind], ...), what: (str, ...)}  # type: ignore[valid-type]
        if what == "name":
            more["values"] = (list[Number | Literal[""]], ...)
        found.append(_model(series, made, called=f"{what.capitalize()}{series.__name__}", **more))
    return Annotated[_union(tuple(found)), Field(discriminator="kind")]


def _model(options: type[Options], made: dict[Any, type[BaseModel]], called: str = "", **more: Any) -> type[BaseModel]:
    key = (options, called)
    if key not in made:
        known = {one.name: _field(one, made) for one in known_options(options).values() if one.in_place("file")}
        made[key] = create_model(  # type: ignore[call-overload]
            called or options.__name__,
            __base__=_Section,
            __doc__=(options.__doc__ or "").partition("\n")[0],
            **more,
            **known,
        )
    return made[key]


def _field(one: Option, made: dict[Any, type[BaseModel]]) -> tuple[Any, Any]:
    kind = _kind(one.kind, made)
    if one.declared.off is None:
        kind = kind | Literal["none"]
    if one.default is NOTHING:
        return kind, Field(description=one.help)
    plain = one.default if isinstance(one.default, (str, int, float, bool)) else None
    if plain is None:
        return kind, Field(
            default=None, description=one.help, json_schema_extra=lambda shape: shape.pop("default", None)
        )
    return kind, Field(default=plain, description=one.help)


def _unset(kind: Any) -> bool:
    return isinstance(kind, type) and issubclass(kind, Unset)


def _kind(kind: Any, made: dict[Any, type[BaseModel]]) -> Any:
    """Return a type as a file has it: lists for tuples, texts for paths, no null."""
    if is_union(kind):
        return _union(tuple(_kind(one, made) for one in get_args(kind) if one is not type(None) and not _unset(one)))
    origin, inner = get_origin(kind), get_args(kind)
    if origin is tuple:
        free = any(type(None) in get_args(one) for one in inner)
        part = _union(tuple(dict.fromkeys(_kind(one, made) for one in inner if one is not Ellipsis)))
        part = part | Literal[FREE] if free else part  # type: ignore[valid-type]
        pair = Ellipsis not in inner
        return Annotated[list[part], Field(min_length=len(inner), max_length=len(inner))] if pair else list[part]
    if origin is not None and origin is not Literal:
        return dict[str, _kind(inner[1], made)]  # type: ignore[misc]
    if kind is float:
        return Number
    if kind is Path:
        return str
    if kind is object:
        return Number | list[Number]
    return _model(kind, made) if isinstance(kind, type) and issubclass(kind, Options) else kind
