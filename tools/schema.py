"""The JSON Schemas of chart files and of report files, made by pydantic from the option classes."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any, Literal, get_args, get_origin

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, create_model

import vantric
from vantric.core.charts.series import KINDS
from vantric.files.models import (
    FORMAT,
    REPORT_FORMAT,
    REPORT_SCHEMA_ID,
    REPORT_VERSION,
    SCHEMA_ID,
    SCHEMA_KEY,
    SHAPES,
    TEXT,
    VERSION,
    DataSection,
    ReportHeading,
    SectionHead,
    shape_of,
)
from vantric.files.models import KINDS as REPORT_KINDS
from vantric.options import NOTHING, Option, Options, known_options
from vantric.options.option_types import FREE, Unset, is_union

PATH = Path(vantric.__file__).parent / "files/chart.schema.json"
REPORT_PATH = PATH.with_name("report.schema.json")
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
        "$id": SCHEMA_ID,
        "title": "Vantric chart file",
        "description": "A chart with its data source and every option.",
    }
    return {**head, **_with_schema_key(TypeAdapter(whole).json_schema())}


def _with_schema_key(shape: dict[str, Any]) -> dict[str, Any]:
    """Let the files name their schema."""
    for part in (shape, *shape.get("$defs", {}).values()):
        if "format" in part.get("properties", {}):
            part["properties"] = {SCHEMA_KEY: {"type": "string"}, **part["properties"]}
    return shape


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
            more = _drawn(shape.series[1], made)
        section = _model(options, made, **more)
        required = name in ("data", "combine", "given", "scales")
        fields[name] = (section, ...) if required else (section, Field(default_factory=section))
    head = {"format": (Literal[FORMAT], ...), "version": (Literal[VERSION], ...), "kind": (Literal[kind], ...)}  # type: ignore[valid-type]
    return create_model(f"{kind.capitalize()}File", __base__=_Section, **head, **fields)  # type: ignore[call-overload, no-any-return]


def _drawn(what: str, made: dict[Any, type[BaseModel]]) -> dict[str, Any]:
    """Return the keys that say what is drawn: a list of series, or series under the names of their kinds."""
    entries: Any = list[_series(what, made)]  # type: ignore[misc]
    if what == "name":
        return {
            "series": (Annotated[entries, Field(min_length=1)], ...),
            "categories": (Annotated[list[str | Number], Field(min_length=1)], ...),
        }
    texts: Any = str | list[str]
    said: Any = dict[str, str] | str
    named = {name: (texts, Field(default_factory=list)) for name in (*KINDS, "secondary")}
    units: Any = dict[str, str]
    return {
        "series": (entries, Field(default_factory=list)),
        **named,
        "units": (units, Field(default_factory=dict)),
        "labels": (said, Field(default_factory=dict)),
    }


def report_schema() -> dict[str, Any]:
    """Return the JSON Schema (draft 2020-12) of report files."""
    made: dict[Any, type[BaseModel]] = {}
    sections: Any = Annotated[
        _union(tuple(_report_section(kind, made) for kind in REPORT_KINDS)), Field(discriminator="kind")
    ]
    tables: dict[str, dict[str, Any]] = {"data": _optional(DataSection, made, leave_out=("source",))}
    for kind in REPORT_KINDS:
        for name, options in shape_of(kind).items():
            tables.setdefault(name, {}).update(_optional(options, made))
    shared: dict[str, Any] = {
        name: create_model(f"Shared{name.capitalize()}", __base__=_Section, **fields) for name, fields in tables.items()
    }
    whole = create_model(
        "ReportFile",
        __base__=_Section,
        format=(Literal[REPORT_FORMAT], ...),
        version=(Literal[REPORT_VERSION], ...),
        sources=(dict[str, _model(DataSection, made)], Field(default_factory=dict)),  # type: ignore[misc]
        shared=(
            create_model(
                "Shared", __base__=_Section, **{name: (one, Field(default_factory=one)) for name, one in shared.items()}
            ),  # type: ignore[call-overload]
            Field(default_factory=dict),
        ),
        sections=(Annotated[list[sections], Field(min_length=1)], ...),
        **_optional(ReportHeading, made),
    )  # type: ignore[call-overload]
    head = {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": REPORT_SCHEMA_ID,
        "title": "Vantric report file",
        "description": "Several results on one page: their sources, what they share, and each section.",
    }
    return {**head, **_with_schema_key(TypeAdapter(whole).json_schema())}


def _report_section(kind: str, made: dict[Any, type[BaseModel]]) -> type[BaseModel]:
    fields: dict[str, Any] = {"kind": (Literal[kind], ...)}  # type: ignore[valid-type]
    heads = _optional(SectionHead, made)
    if kind == TEXT:
        fields |= {"title": heads["title"], "text": (str, ...)}
        return create_model("TextSection", __base__=_Section, **fields)  # type: ignore[no-any-return]
    fields |= heads
    shape = SHAPES[REPORT_KINDS[kind]]
    for name, options in shape_of(kind).items():
        own = _optional(options, made)
        if name == shape.series[0]:
            drawn = _drawn(shape.series[1], made)
            own |= drawn if shape.series[1] == "what" else {**drawn}
        table = create_model(f"{name.capitalize()}Of{kind.capitalize()}", __base__=_Section, **own)
        fields[name] = (table, Field(default_factory=dict))
    return create_model(f"SectionOf{kind.capitalize()}", __base__=_Section, **fields)  # type: ignore[call-overload, no-any-return]


def _optional(
    options: type[Options], made: dict[Any, type[BaseModel]], *, leave_out: tuple[str, ...] = ()
) -> dict[str, Any]:
    """Return the options as keys that may be left out: what is shared may say them."""
    found = {}
    for one in known_options(options).values():
        if one.in_place("file") and one.name not in leave_out:
            kind, said = _field(one, made)
            if one.default is NOTHING:
                said = Field(default=None, description=one.help, json_schema_extra=_without_default)
            found[one.name] = kind, said
    return found


def _without_default(shape: dict[str, Any]) -> None:
    shape.pop("default", None)


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
