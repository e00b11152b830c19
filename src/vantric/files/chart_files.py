"""Reading a chart file, of this edition or an earlier one: what is wrong is named by its line or its key.

Written is only what differs from the defaults, and never a password.
"""

from __future__ import annotations

import json
import os
import tomllib
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from vantric.base.safe_files import content_of, reason_of
from vantric.base.safe_text import is_url, json_text, without_secrets
from vantric.core.charts.series import KINDS
from vantric.engines.source_paths import check_no_input
from vantric.errors import ChartFileError, OptionError, TargetError, UnknownOptionError, VantricError, unknown
from vantric.files.models import (
    ENDINGS,
    FORMAT,
    SCHEMA_ID,
    SCHEMA_KEY,
    SCHEMA_LINE,
    SHAPES,
    VERSION,
    ChartFile,
    FileShape,
    SeriesEntry,
    from_file,
    plain,
)
from vantric.options import NOTHING, Options, known_options, split_options
from vantric.options.option_types import in_plain_words

_AXES = ("primary", "secondary")
#: Options of earlier editions -> their names of today.
_NAMES = {
    "colours": "colors",
    "colour": "color",
    "before_number": "prefix",
    "after_number": "suffix",
    "points": "line_at",
    "dates": "date",
    "before": "prefix",
    "after": "suffix",
    "percent": "percent_sign",
}
#: Values of earlier editions -> those of today.
_VALUES = {
    ("orientation", "upright"): "vertical",
    ("orientation", "lying"): "horizontal",
    ("title_place", "centre"): "center",
    ("points", "centre"): "center",
    ("labels", "frequency"): "value",
    ("order", "value"): "frequency",
}


#: Section -> names of the second edition, and what they are called now.
_RENAMED = {"combine": {"achieved": "actual"}, "chart": {"strip": "share_bar"}}


def renamed_options(content: Mapping[str, Any]) -> tuple[dict[str, Any], list[str]]:
    """Return the content of a file with options of the second edition under the names they have now, and which."""
    parts, texts = dict(content), []
    for section, names in _RENAMED.items():
        part = parts.get(section)
        for old, new in names.items():
            if isinstance(part, Mapping) and old in part and new not in part:
                part = parts[section] = {new if name == old else name: value for name, value in part.items()}
                texts.append(f"'{old}' is called '{new}' now")
    return parts, texts


def upgraded(content: Mapping[str, Any]) -> dict[str, Any]:
    """Return the content of a file of version 1 as version 2 has it; what it does not know stays as it is."""
    parts: dict[str, Any] = {**content, "version": 2}
    for name in ("counting", "chart", "combine", "given", "scales"):
        if isinstance(parts.get(name), Mapping):
            parts[name] = _section(parts[name], inside=name)
    return parts


def _section(part: Mapping[str, Any], *, inside: str) -> dict[str, Any]:
    renamed: dict[str, Any] = {}
    for name, value in part.items():
        if name in ("log", "zero", "without_zero") and isinstance(value, list):
            renamed.update(_sides(name, value))
        elif name == "series" and isinstance(value, list):
            renamed[name] = [_series(values) if isinstance(values, Mapping) else values for values in value]
        elif name not in ("thousands", "decimal"):
            new_value = _VALUES.get((name, value), value) if isinstance(value, str) else value
            renamed[_NAMES.get(name, name) if inside != "given" else name] = new_value
    return {**renamed, **_marks(part)}


def _sides(name: str, sides: list[Any]) -> dict[str, Any]:
    option, value = ("log", True) if name == "log" else ("zero", name == "zero")
    return {f"{side}_{option}": value for side in sides if side in _AXES}


def _marks(part: Mapping[str, Any]) -> dict[str, str]:
    """Return the example that shows the marks of numbers."""
    if "thousands" not in part and "decimal" not in part:
        return {}
    return {"show_numbers": f"1{part.get('thousands', ',')}234{part.get('decimal', '.')}56"}


def _series(content: Mapping[str, Any]) -> dict[str, Any]:
    entry: dict[str, Any] = {}
    for name, value in content.items():
        if name == "width":
            entry["bar_width" if content.get("kind") == "bars" else "line_width"] = value
        elif name == "order":
            entry["layer"] = value
        elif name == "style" and isinstance(value, Mapping):
            entry[name] = _section(value, inside="style")
        else:
            entry["color" if name == "colour" else name] = value
    return entry


#: Keys that say what is drawn, besides ``series``: a kind of series, and what is said of series by name.
SPELLED = (*KINDS, "secondary", "units", "labels")


def named_series(part: Mapping[str, Any], place: str) -> list[dict[str, Any]]:
    """Return the series that a table names by kind, as entries of ``series``.

    Raises
    ------
    ChartFileError
        For something that is not a name, and for what is said of a series that is not named.
    """
    contents: list[dict[str, Any]] = []
    for kind in KINDS:
        contents += [{"kind": kind, "what": text} for text in _texts(part.get(kind, ()), f"{place}.{kind}")]
    if not contents:
        strange = next((name for name in SPELLED if name in part), None)
        if strange is not None:
            raise ChartFileError(f"{place}.{strange} is of series that {place}.bars, {place}.line and the like name")
        return []
    called = {name: entry for entry in contents for name in (entry["what"], entry["what"].rpartition("=")[2])}
    for name in _texts(part.get("secondary", ()), f"{place}.secondary"):
        _named(called, name, f"{place}.secondary")["axis"] = "secondary"
    for option, key in (("unit", "units"), ("labels", "labels")):
        words = part.get(key, {})
        if isinstance(words, str) and key == "labels":
            words = {entry["what"]: words for entry in contents}
        if not isinstance(words, Mapping):
            raise ChartFileError(f"{place}.{key} is a table of series and texts, not {str(words)[:40]!r}")
        for name, text in words.items():
            _named(called, name, f"{place}.{key}")[option] = text
    return contents


def _texts(value: Any, place: str) -> tuple[str, ...]:
    texts = (value,) if isinstance(value, str) else value
    if not isinstance(texts, (list, tuple)) or not all(isinstance(text, str) for text in texts):
        raise ChartFileError(f"{place} is a text or a list of texts, not {str(value)[:40]!r}")
    return tuple(texts)


def _named(called: Mapping[str, dict[str, Any]], name: str, place: str) -> dict[str, Any]:
    if name not in called:
        raise unknown(ChartFileError, f"{place}: there is no series '{name}'", name, called)
    return called[name]


_LARGEST = 50_000_000  # bytes
#: Keys that no section has.
_FIRST = (SCHEMA_KEY, "format", "version", "kind")


def read_chart_file(path: Path) -> ChartFile:
    """Return what a chart file says.

    Raises
    ------
    ChartFileError
        If it cannot be read, or holds a key or a value that no chart has.
    """
    if path.suffix.casefold() not in ENDINGS:
        raise ChartFileError(f"'{path}' is not a chart file: its ending is not one of {', '.join(ENDINGS)}")
    tables, _ = parsed_file(path)
    return chart_file_of(tables, str(path))


def parsed_file(path: Path) -> tuple[Any, str]:
    """Return what a TOML or JSON file holds, and its text; raise `ChartFileError` if it cannot be read."""
    try:
        content = content_of(path, _LARGEST)
    except (OSError, RuntimeError) as error:
        raise ChartFileError(f"cannot read '{path}': {reason_of(error)}") from None
    try:
        text = content.decode("utf-8-sig")
        return (tomllib.loads(text) if path.suffix.casefold() == ".toml" else json.loads(text)), text
    except UnicodeDecodeError:
        raise ChartFileError(f"'{path}' is not in UTF-8") from None
    except (tomllib.TOMLDecodeError, json.JSONDecodeError) as error:
        raise ChartFileError(f"'{path}': {error}") from None
    except RecursionError:
        raise ChartFileError(f"'{path}' is nested too deeply for a chart file") from None


def chart_file_of(content: Any, source_name: str) -> ChartFile:
    """Return the checked form of parsed TOML or JSON; `source_name` names the file in messages."""
    if not isinstance(content, dict) or content.get("format") != FORMAT:
        other = isinstance(content, dict) and content.get("format") == "vantric/report"
        text = (
            "it is a report file: vantric report makes it" if other else f'it does not begin with format = "{FORMAT}"'
        )
        raise ChartFileError(f"'{source_name}' is not a chart file: {text}")
    kind, version = content.get("kind"), content.get("version")
    if not isinstance(kind, str) or kind not in SHAPES:
        text = f"'{kind}' is not a kind of chart" if kind else "it names no kind of chart"
        raise unknown(ChartFileError, f"'{source_name}': kind: {text}", kind, SHAPES, every=True)
    if version not in (1, VERSION) or isinstance(version, bool):
        raise ChartFileError(f"'{source_name}': version is 1 or {VERSION}, not {version!r}")
    notes: tuple[str, ...] = ()
    if version == 1:
        content = upgraded(content)
        notes = (f"'{source_name}' is a chart file of version 1: its options are read under the names they have now",)
    content, renamed = renamed_options(content)
    notes += tuple(f"'{source_name}': {message}" for message in renamed)
    try:
        return _checked(content, SHAPES[kind], kind, notes)
    except ChartFileError as error:
        raise ChartFileError(
            f"'{source_name}': {error}", value=error.value, known=error.known, hint=error.hint
        ) from None


def _checked(content: Mapping[str, Any], shape: FileShape, kind: str, notes: tuple[str, ...]) -> ChartFile:
    for name in content:
        if name not in shape.sections and name not in _FIRST:
            raise _placed_at(unknown(ChartFileError, f"the file has no key '{name}'", name, shape.sections), name)
    place, what = shape.series
    parts: dict[str, Any] = {}
    series: tuple[SeriesEntry, ...] = ()
    categories: tuple[Any, ...] = ()
    for name, options in shape.sections.items():
        part = _table(content.get(name, {}), name)
        if name == place:
            part, series, categories = _with_series(part, name, what)
        parts[name] = read_section(part, options, name)
    look = {name: getattr(parts["chart"], name) for name in content.get("chart", {})} if "chart" in parts else {}
    return ChartFile(kind, parts, series, categories, look, notes)


def checked_chart(content: Mapping[str, Any], kind: str) -> ChartFile:
    """Return the checked form of the tables of a chart of a kind, without what is ahead of them in a file."""
    return _checked(content, SHAPES[kind], kind, ())


def _table(value: Any, place: str) -> Mapping[str, Any]:
    if not isinstance(value, Mapping):
        raise _placed_at(ChartFileError(f"{place} is a table, not {str(value)[:40]!r}"), place)
    return value


def _placed_at(error: ChartFileError, place: str, key: str = "") -> ChartFileError:
    """Return an error with where it is in the file; ``[2]`` in a place is the second of a list.

    What reads several tables of one kind says itself where each is.
    """
    parts: list[str | int] = []
    for part in place.split(".") if place and not place.startswith("sources.") else ():
        name, _, number = part.partition("[")
        parts += [name, int(number.rstrip("]")) - 1] if number else [name]
    error.place = (*parts, *([key] if key else []))
    return error


def read_section(part: Mapping[str, Any], options: type[Options], place: str) -> Any:
    """Return a section as its options.

    Raises
    ------
    ChartFileError
        For a key that it does not have, one that is missing, or a value of another type: with the place.
    """
    options_by_name = {
        name: known_option for name, known_option in known_options(options).items() if known_option.in_place("file")
    }
    missing = next(
        (name for name, option in options_by_name.items() if option.default is NOTHING and name not in part), None
    )
    if missing is not None:
        raise _placed_at(ChartFileError(f"{_inside(place)}{missing} is missing; add it"), place)
    values = {
        name: from_file(options_by_name[name], value) if name in options_by_name else value
        for name, value in part.items()
    }
    return _placed(lambda: split_options(values, options, place="file")[0], place)


def _inside(place: str) -> str:
    return f"{place}." if place else ""


def _placed(work: Any, place: str) -> Any:
    """Do some work, and say where in the file an option is wrong."""
    try:
        return work()
    except UnknownOptionError as error:  # the nearest key, with its place in the file
        hint = f"; {error.hint}" if error.hint else ""
        message = f"{place} has no key '{error.option}'{hint}"
        chart_file_error = ChartFileError(message, value=error.value, known=error.known, hint=error.hint)
        raise _placed_at(chart_file_error, place, error.option) from None
    except OptionError as error:  # said in the words of a file, not of Python
        words = in_plain_words(str(error))
        message = f"{_inside(place)}{words}" if error.option else f"{place}: {words}"
        chart_file_error = ChartFileError(message, value=error.value, known=error.known, hint=error.hint)
        raise _placed_at(chart_file_error, place, error.option) from None
    except ChartFileError:  # it has its place already
        raise
    except VantricError as error:
        chart_file_error = ChartFileError(f"{place}: {error}", value=error.value, known=error.known, hint=error.hint)
        raise _placed_at(chart_file_error, place) from None


def _with_series(
    part: Mapping[str, Any], place: str, what: str
) -> tuple[dict[str, Any], tuple[SeriesEntry, ...], tuple[Any, ...]]:
    """Return a section without its series and categories, and these."""
    own = named_series(part, place) if what == "what" else []
    rest = {name: value for name, value in part.items() if name != "series" and not (own and name in SPELLED)}
    entries = part.get("series", [])
    if not isinstance(entries, list) or not (entries or own or part.get("planned")):
        raise ChartFileError(f"{place}.series is a list of at least one series; add it")
    entries = [*own, *entries]
    series = tuple(_entry(entry, f"{place}.series[{index}]", what) for index, entry in enumerate(entries, 1))
    if what == "what":
        return rest, series, ()
    categories = rest.pop("categories", None)
    if not isinstance(categories, list) or not categories:
        raise ChartFileError(f"{place}.categories is a list of at least one category; add it")
    if not all(isinstance(category, (str, int, float)) and not isinstance(category, bool) for category in categories):
        raise ChartFileError(f"{place}.categories is a list of texts or numbers")
    return rest, series, tuple(categories)


def _entry(content: Any, place: str, what: str) -> SeriesEntry:
    entry = dict(_table(content, place))
    needed = ("kind", what, *(("values",) if what == "name" else ()))
    missing = next((name for name in needed if name not in entry), None)
    if missing is not None:
        raise ChartFileError(f"{place}.{missing} is missing; add it")
    kind, name = entry.pop("kind"), entry.pop(what)
    if not isinstance(kind, str) or kind not in KINDS:
        raise unknown(ChartFileError, f"{place}.kind: '{kind}' is not a kind of series", kind, KINDS, every=True)
    if not isinstance(name, str):
        raise ChartFileError(f"{place}.{what} is a text, not {str(name)[:40]!r}")
    values = _values(entry.pop("values"), place) if what == "name" else ()
    options_by_name = {
        option: known_option
        for option, known_option in known_options(KINDS[kind]).items()
        if known_option.in_place("file")
    }

    def options() -> dict[str, Any]:
        strange = next((option for option in entry if option not in options_by_name), None)
        if strange is not None:
            split_options({strange: None}, KINDS[kind], place="file")
        return {option: options_by_name[option].checked(value) for option, value in entry.items()}

    return SeriesEntry(kind, name, _placed(options, place), values)


def _values(values: Any, place: str) -> tuple[float | None, ...]:
    if not isinstance(values, list):
        raise ChartFileError(f"{place}.values is a list of numbers, not {str(values)[:40]!r}")
    for index, value in enumerate(values, 1):
        if value != "" and (isinstance(value, bool) or not isinstance(value, (int, float))):
            raise ChartFileError(
                f"{place}.values[{index}] is a number, or '' where one is missing, not {str(value)[:40]!r}"
            )
    return tuple(None if value == "" else value for value in values)


def chart_file_bytes(kind: str, parts: Mapping[str, Any], target: Path) -> bytes:
    """Return the content of a chart file as TOML or JSON, by the ending of its path.

    Parameters
    ----------
    kind
        ``"pareto"``, ``"compare"``, ``"tally"``, ``"combine"``, ``"trend"``, ``"series"`` or ``"scales"``.
    parts
        Section -> its options, or a mapping of names and values.
    target
        Where it will be written: sources are named as seen from its folder.

    Raises
    ------
    TargetError
        If the ending is another one.
    ChartFileError
        If an option cannot be written.
    """
    ending = target.suffix.casefold()
    if ending not in ENDINGS:
        raise TargetError(f"cannot write the chart file '{target}': its ending is not one of {', '.join(ENDINGS)}")
    order = list(SHAPES[kind].sections)
    names = sorted(parts, key=lambda name: order.index(name) if name in order else len(order))
    filled = {name: value for name in names if (value := plain(parts[name]))}
    families = filled.get("counting", {}).get("families")
    source = filled.get("data", {}).get("source", [])
    named = [*([source] if isinstance(source, str) else source), families]
    check_no_input(target, [text for text in named if isinstance(text, str)])
    if "data" in filled:
        filled["data"] = {**filled["data"], "source": _sources(source, target.parent)}
    if isinstance(families, str):
        filled["counting"] = {**filled["counting"], "families": seen_from(families, target.parent)}
    content = {"format": FORMAT, "version": VERSION, "kind": kind, **filled}
    chart_file_of(content, str(target))  # what is written can be read
    if ending == ".json":
        return json_text({SCHEMA_KEY: SCHEMA_ID, **content}).encode()
    import tomli_w

    try:
        return f"{SCHEMA_LINE}{SCHEMA_ID}\n{tomli_w.dumps(content)}".encode()
    except UnicodeEncodeError:  # half a sign, from a label that was no text
        message = f"cannot write the chart file '{target}': TOML cannot hold lone surrogates; use .json"
        raise TargetError(message) from None


def _sources(source: str | list[str], folder: Path) -> str | list[str]:
    return [seen_from(text, folder) for text in source] if isinstance(source, list) else seen_from(source, folder)


def seen_from(source: str, folder: Path) -> str:
    """Return a relative path as seen from a folder, a URL without its secrets, and all else as it is."""
    if is_url(source):
        return without_secrets(source)
    if source == "-" or Path(source).is_absolute():
        return source
    return Path(os.path.relpath(source, folder)).as_posix()
