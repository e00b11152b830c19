"""Reading a report file: what is wrong is named by its line and its place, with the nearest right thing."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import lru_cache
from pathlib import Path
from typing import Any

from vantric.base.lazily import compiled
from vantric.errors import ChartFileError, unknown
from vantric.files.chart_files import checked_chart, parsed_file, read_section
from vantric.files.models import (
    ENDINGS,
    FORMAT,
    KINDS,
    REPORT_FORMAT,
    REPORT_VERSION,
    SCHEMA_KEY,
    SHAPES,
    TEXT,
    ChartFile,
    DataSection,
    ReportFile,
    ReportHeading,
    ReportSection,
    SectionHead,
    shape_of,
)
from vantric.options import known_options
from vantric.reading.conditions import join_conditions

#: ``[table]`` or ``[[list]]``.
_HEADER = compiled(r"^\s*(\[\[?)\s*([^\]]+?)\s*\]\]?")
#: The key of a line of TOML.
_KEY = compiled(r"^\s*(\"[^\"]*\"|'[^']*'|[\w-]+)\s*(?:\.\s*[\w\".-]+\s*)?=")
#: Texts over several lines, in which a line is no key.
_TEXT_MARKS = ('"""', "'''")


def line_of(text: str, ending: str, path: Sequence[str | int]) -> int | None:
    """Return the line, from 1, of a key or of what holds it; None where it is not known.

    Parameters
    ----------
    text
        The content of the file.
    ending
        ``".toml"`` or ``".json"``.
    path
        Keys and places in lists, from 0: ``("sections", 1, "counting", "by")``.
    """
    counts = _lines(text, ending)
    for length in range(len(path), 0, -1):
        if tuple(path[:length]) in counts:
            return counts[tuple(path[:length])]
    return None


def has_line(text: str, ending: str, path: Sequence[str | int]) -> bool:
    """Whether a key itself is in a file."""
    return tuple(path) in _lines(text, ending)


@lru_cache(maxsize=2)  # many sections of one file may fail
def _lines(text: str, ending: str) -> dict[tuple[str | int, ...], int]:
    return _toml_lines(text) if ending == ".toml" else _json_lines(text)


def _toml_lines(text: str) -> dict[tuple[str | int, ...], int]:
    toml_lines: dict[tuple[str | int, ...], int] = {}
    counts: dict[tuple[str | int, ...], int] = {}
    here: tuple[str | int, ...] = ()
    closes = ""
    for number, line in enumerate(text.splitlines(), 1):
        if closes:  # within a text of several lines
            closes = "" if closes in line else closes
            continue
        header, key = _HEADER.match(line), _KEY.match(line)
        if header:
            names = [part.strip().strip("\"'") for part in header[2].split(".")]
            here = _placed(names, counts, opens=header[1] == "[[")
            toml_lines.setdefault(here, number)
        elif key:
            toml_lines.setdefault((*here, key[1].strip("\"'")), number)
            for mark in _TEXT_MARKS:
                if line.count(mark) % 2:
                    closes = mark
    return toml_lines


def _placed(names: Sequence[str], counts: dict[tuple[str | int, ...], int], *, opens: bool) -> tuple[str | int, ...]:
    """Return the path of a header: behind the name of a list is the place of the element it is in."""
    here: tuple[str | int, ...] = ()
    for index, name in enumerate(names):
        here = (*here, name)
        if opens and index == len(names) - 1:
            counts[here] = counts.get(here, -1) + 1
        if here in counts:
            here = (*here, counts[here])
    return here


def _json_lines(text: str) -> dict[tuple[str | int, ...], int]:
    """Return the lines of all keys of a JSON text that can be read."""
    json_lines: dict[tuple[str | int, ...], int] = {}
    stack: list[tuple[str, str | int]] = []  # (kind of bracket, key or place)
    key: str | None = None
    line, index = 1, 0
    strings, colon = re.compile(r'"(?:[^"\\]|\\.)*"', re.DOTALL), re.compile(r"\s*:")
    while index < len(text):
        sign = text[index]
        if sign == '"':
            match = strings.match(text, index)
            if match is None:
                break
            if stack and stack[-1][0] == "{" and colon.match(text, match.end()):
                key = str(json.loads(match[0]))
                stack[-1] = ("{", key)
                json_lines.setdefault(tuple(item for _, item in stack), line)
            line += match[0].count("\n")
            index = match.end()
            continue
        if sign in "{[":
            stack.append((sign, 0 if sign == "[" else ""))
            if sign == "[":
                json_lines.setdefault(tuple(item for _, item in stack), line)
        elif sign in "}]" and stack:
            stack.pop()
        elif sign == "," and stack and stack[-1][0] == "[":
            stack[-1] = ("[", int(stack[-1][1]) + 1)
        elif sign == "\n":
            line += 1
        index += 1
    return json_lines


def line_with(text: str, ending: str, section: int, value: object) -> int | None:
    """Return the line of a section that holds a value, from 1; None where there is none."""
    start = line_of(text, ending, ("sections", section))
    end = line_of(text, ending, ("sections", section + 1))
    if start is None or not isinstance(value, str) or not value:
        return None
    lines = _split(text)
    stop = end - 1 if end is not None and end > start else len(lines)
    return next(
        (index + 1 for index in range(start - 1, stop) if f'"{value}"' in lines[index] or f"'{value}'" in lines[index]),
        None,
    )


@lru_cache(maxsize=2)
def _split(text: str) -> list[str]:
    return text.splitlines()


_HEAD = ("format", "version", "title", "text", "previous", "sources", "shared", "sections")
_OPEN = "-"  # stands for the source, which the names say


def read_report_file(path: Path) -> ReportFile:
    """Return what a report file says.

    Raises
    ------
    ChartFileError
        If it cannot be read, or holds a key or a value that no report has: with its line.
    """
    if path.suffix.casefold() not in ENDINGS:
        raise ChartFileError(f"'{path}' is not a report file: its ending is not one of {', '.join(ENDINGS)}")
    tables, text = parsed_file(path)
    try:
        return report_of(tables, str(path))
    except ChartFileError as error:  # the line is looked for only now that it is needed
        line = _line(text, path.suffix.casefold(), error.place) if error.place else None
        where = f"'{path}'" + (f", line {line}" if line else "")
        raise ChartFileError(f"{where}: {error}", value=error.value, known=error.known, hint=error.hint) from None


def _line(text: str, ending: str, place: tuple[str | int, ...]) -> int | None:
    """Return the line of a key; of one that a section has from what is shared, the line there."""
    if place[:1] == ("sections",) and not has_line(text, ending, place):
        shared = ("shared", *place[2:])
        if len(shared) > 2 and has_line(text, ending, shared):
            return line_of(text, ending, shared)
    return line_of(text, ending, place)


def report_of(content: Any, source_name: str) -> ReportFile:
    """Return the checked form of parsed TOML or JSON; `source_name` names the file in messages."""
    if not isinstance(content, dict) or content.get("format") != REPORT_FORMAT:
        other = isinstance(content, dict) and content.get("format") == FORMAT
        text = (
            "it is a chart file: vantric draw draws it"
            if other
            else f'it does not begin with format = "{REPORT_FORMAT}"'
        )
        raise ChartFileError(f"it is not a report file: {text}")
    if content.get("version") != REPORT_VERSION or isinstance(content.get("version"), bool):
        raise _at(ChartFileError(f"version is {REPORT_VERSION}, not {content.get('version')!r}"), "version")
    for name in content:
        if name not in _HEAD and name != SCHEMA_KEY:
            raise _at(unknown(ChartFileError, f"a report has no key '{name}'", name, _HEAD), name)
    heading = _within(
        (),
        lambda: read_section(
            {name: content[name] for name in known_options(ReportHeading) if name in content}, ReportHeading, ""
        ),
    )
    shared = _shared(_table(content.get("shared", {}), "shared"))
    sources = _sources(_table(content.get("sources", {}), "sources"), shared.get("data", {}))
    listed = content.get("sections", [])
    if not isinstance(listed, list) or not listed:
        raise _at(ChartFileError("a report has at least one section; add [[sections]]"), "sections")
    sections = tuple(_section(item, index, shared, sources) for index, item in enumerate(listed))
    return ReportFile(source_name, heading, sources, sections)


def _at(error: ChartFileError, *path: str | int) -> ChartFileError:
    """Return an error with where it is in the file."""
    error.place = (*path, *error.place)
    return error


def _within(path: tuple[str | int, ...], work: Any) -> Any:
    """Do some work, and say where in the file it went wrong."""
    try:
        return work()
    except ChartFileError as error:
        raise _at(error, *path) from None


def _table(value: Any, *path: str | int) -> Mapping[str, Any]:
    if not isinstance(value, Mapping):
        raise _at(ChartFileError(f"{path[-1]} is a table, not {str(value)[:40]!r}"), *path)
    return value


def _shared(content: Mapping[str, Any]) -> dict[str, Mapping[str, Any]]:
    """Return what sections share, each key of which some kind of section must have."""
    data = {known_option.name for known_option in known_options(DataSection).values() if known_option.in_place("file")}
    keys: dict[str, set[str]] = {"data": data - {"source"}}
    for kind in KINDS:
        for name, options in shape_of(kind).items():
            keys.setdefault(name, set()).update(
                known_option.name for known_option in known_options(options).values() if known_option.in_place("file")
            )
    checked = {}
    for name, part in content.items():
        if name not in keys:
            raise _at(unknown(ChartFileError, f"shared has no table '{name}'", name, keys), "shared", name)
        for key in _table(part, "shared", name):
            if key not in keys[name]:
                message = f"shared.{name} has no key '{key}'"
                raise _at(unknown(ChartFileError, message, key, sorted(keys[name])), "shared", name, key)
        checked[name] = part
    return checked


def _sources(content: Mapping[str, Any], shared: Mapping[str, Any]) -> dict[str, DataSection]:
    sections = {}
    for name, part in content.items():
        own = _merged(shared, _table(part, "sources", name))
        where = join_conditions(("shared.data", shared.get("where")), (f"sources.{name}", part.get("where")))
        own = {**own, "where": where} if where else own
        sections[name] = _within(
            ("sources", name), lambda own=own, name=name: read_section(own, DataSection, f"sources.{name}")
        )
        if isinstance(sections[name].source, tuple):
            message = f"sources.{name}.source is one file, pattern or URL; a comparison names two sources"
            raise _at(ChartFileError(message), "sources", name, "source")
    return sections


def _merged(shared: Mapping[str, Any], own: Mapping[str, Any]) -> dict[str, Any]:
    """Return a table over one that is shared, key by key."""
    both = {
        name: {**shared[name], **value}
        for name, value in own.items()
        if isinstance(value, Mapping) and isinstance(shared.get(name), Mapping)
    }
    return {**shared, **own, **both}


def _section(content: Any, index: int, shared: Mapping[str, Any], sources: Mapping[str, DataSection]) -> ReportSection:
    part = _table(content, "sections", index)
    kind = part.get("kind")
    if not isinstance(kind, str) or kind not in KINDS:
        text = f"'{kind}' is not a kind of section" if kind else "it names no kind"
        raise _at(
            unknown(ChartFileError, f"section {index + 1}: {text}", kind, KINDS, every=True), "sections", index, "kind"
        )
    place = f"section {index + 1} ({kind})"
    try:
        return _within(("sections", index), lambda: _checked(part, kind, place, shared, sources))  # type: ignore[no-any-return]
    except ChartFileError as error:  # the section's name goes before the message
        named = ChartFileError(f"{place}: {error}", value=error.value, known=error.known, hint=error.hint)
        named.place = error.place
        raise named from None


def _checked(
    part: Mapping[str, Any], kind: str, place: str, shared: Mapping[str, Any], sources: Mapping[str, DataSection]
) -> ReportSection:
    shapes = shape_of(kind)
    heads = known_options(SectionHead)
    for name in part:
        if name not in (*shapes, *heads, "kind"):
            raise _at(unknown(ChartFileError, f"it has no key '{name}'", name, (*heads, *shapes)), name)
    head: SectionHead = read_section({name: part[name] for name in heads if name in part}, SectionHead, "")
    if kind == TEXT:
        strange = next((name for name in ("data", "where") if name in part), None)
        if strange or not head.text:
            message = f"a section of text has no {strange}" if strange else "text is missing; add it"
            raise _at(ChartFileError(message), strange or "kind")
        return ReportSection(place, kind, head)
    tables = {name: _own_table(part, name, options, shared) for name, options in shapes.items()}
    if head.title is not None and "chart" in tables:
        tables["chart"] = {"title": head.title, **tables["chart"]}
    names = _named_sources(part, kind, head, sources)
    checked = {**tables, **({"data": {"source": _OPEN}} if "data" in SHAPES[KINDS[kind]].sections else {})}
    _check_kind(kind, tables)
    file: ChartFile = checked_chart(checked, KINDS[kind])
    return ReportSection(place, kind, head, file, names)


def _own_table(part: Mapping[str, Any], name: str, options: Any, shared: Mapping[str, Any]) -> dict[str, Any]:
    """Return a table of a section over what is shared, of which this kind has only some keys."""
    own = _table(part.get(name, {}), name)
    options_by_name = known_options(options)
    return _merged({key: value for key, value in shared.get(name, {}).items() if key in options_by_name}, own)


def _named_sources(
    part: Mapping[str, Any], kind: str, head: SectionHead, sources: Mapping[str, DataSection]
) -> tuple[str, ...]:
    if "data" not in SHAPES[KINDS[kind]].sections:
        if head.data is not None or head.where is not None:
            name = "data" if head.data is not None else "where"
            raise _at(ChartFileError(f"it holds its numbers itself: leave {name} out"), name)
        return ()
    if not sources:
        raise ChartFileError("the report has no source; add [sources.NAME] with source = FILE")
    named_sources = () if head.data is None else (head.data,) if isinstance(head.data, str) else head.data
    if not named_sources and len(sources) == 1:
        named_sources = tuple(sources)
    if not named_sources:
        raise unknown(ChartFileError, "data is missing; name one of the sources", None, sources, every=True)
    for name in named_sources:
        if name not in sources:
            raise _at(unknown(ChartFileError, f"there is no source '{name}'", name, sources), "data")
    if len(named_sources) > (2 if kind == "compare" else 1):
        raise _at(ChartFileError("data is one source, or two of a comparison"), "data")
    if kind == "compare":
        _check_sides(part, len(named_sources))
    return named_sources


def _check_sides(part: Mapping[str, Any], number: int) -> None:
    """Refuse a comparison of two sources and of parts, or of neither."""
    sides = part.get("sides", {})
    split = isinstance(sides, Mapping) and sides.get("split")
    if number == 1 and not split:
        raise _at(ChartFileError("a comparison has two sources in data, or sides.split with before and after"), "data")
    if number == 2 and split:
        message = "it compares two sources and also the parts of one: leave sides.split or the second source out"
        raise _at(ChartFileError(message), "sides", "split")


def _check_kind(kind: str, tables: Mapping[str, Mapping[str, Any]]) -> None:
    crossing = tables.get("crossing", {})
    two_way = crossing.get("split") or crossing.get("split_columns")
    if kind == "crosstab" and not two_way:
        raise _at(ChartFileError("crossing.split is missing; name the second column"), "crossing")
    if kind == "tally" and two_way:
        raise _at(ChartFileError("a two-way table is a section of kind crosstab"), "crossing", "split")


def with_source(section: ReportSection, sources: Mapping[str, DataSection], paths: Mapping[str, str]) -> ChartFile:
    """Return what a section says with its sources in place.

    Parameters
    ----------
    section, sources
    paths
        Name of a source -> what is read for it.

    Raises
    ------
    ChartFileError
        If the two sources of a comparison are opened in different ways.
    """
    assert section.file is not None
    if not section.sources:
        return section.file
    opened = [sources[name] for name in section.sources]
    plain = [replace(data_section, source=_OPEN) for data_section in opened]
    if any(data_section != plain[0] for data_section in plain[1:]):
        names = " and ".join(f"'{name}'" for name in section.sources)
        message = f"{section.place}: sources {names} are opened in different ways; give them the same keys but source"
        raise ChartFileError(message)
    where = join_conditions(("", opened[0].where), (section.place, section.head.where))
    read = tuple(paths[name] for name in section.sources)
    data = replace(opened[0], source=read if len(read) > 1 else read[0], where=where)
    return replace(section.file, parts={**section.file.parts, "data": data})
