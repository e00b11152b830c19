"""Files by their endings, one or several, become records."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

import duckdb

from vantric.core.counting.remark import Remark
from vantric.errors import SourceError, nearest
from vantric.masking import masked
from vantric.sources.engines.duckrecords import DuckRecords
from vantric.sources.engines.engine import Engine, identifier, literal
from vantric.sources.engines.filemessages import in_words
from vantric.sources.engines.parts import TEXT, Part, ReadColumn, typed_part
from vantric.sources.engines.plaintext import PACKED, Workshop, from_standard_input, open_bytes, plain_name
from vantric.sources.engines.textfiles import KnownHeads, text_part
from vantric.sources.naming import named_paths
from vantric.sources.options import Limits, Opening
from vantric.sources.reading.numbercolumn import NumberReading
from vantric.sources.reading.numberstyle import Style

_TEXT = (".csv", ".tsv", ".txt")
_JSON = (".json", ".ndjson", ".jsonl")
_SHEETS = (".xlsx", ".xlsm", ".ods")
_ENDINGS = (*_TEXT, *_JSON, ".parquet", *_SHEETS)


def open_file(
    source: str | Path, opening: Opening, wanted: Sequence[str], *, anew: bool = False
) -> DuckRecords:  # fmt: skip
    """Open a file, the files a pattern names, or ``-`` for CSV on standard input.

    Parameters
    ----------
    source
        As the user named it.
    opening
        The condition, and the sheet of a workbook.
    wanted
        Columns that will be asked for.
    again
        Whether text files are written again in UTF-8 first, since the engine met bytes that are none.
    """
    workshop, limits = Workshop(), opening.limits()
    engine: Engine | None = None
    known: KnownHeads = {}
    try:
        ready = [
            _prepared(path, name, opening, wanted, workshop, limits, known, anew=anew)
            for path, name in _paths(str(source), workshop)
        ]
        engine = Engine([file for one in ready for file in one.files], workshop.new_path(".spill"), limits)
        parts = [_as_said(part, opening) for one in ready for part in one.parts(engine)]
        remarks = [remark for one in ready for remark in one.remarks]
        records = DuckRecords(engine, parts, masked(source), opening, workshop, remarks)
        records.check(wanted)
    except BaseException:
        if engine is not None:
            engine.close()
        workshop.close()
        raise
    return records


@dataclass(frozen=True)
class _Prepared:
    """A file that the engine can open, and how it becomes a part once the engine has it."""

    files: Sequence[Path]
    parts: Callable[[Engine], Sequence[Part]]
    remarks: Sequence[Remark] = ()


def _as_said(part: Part, opening: Opening) -> Part:
    """Return a part with codes that mean missing as missing values, and labels that are filled down."""
    whole = part.without_codes(opening.na)
    found = whole.filled_down(opening.fill_down)
    found = found.without(found.hidden)
    return found if found == whole else replace(found, entire=whole)


def _paths(shown: str, workshop: Workshop) -> list[tuple[Path, str]]:
    """Return (path, what messages call it) of every file that a source names."""
    if shown == "-":
        return [(from_standard_input(workshop), "standard input")]
    paths = named_paths(shown)
    return [(path, masked(path)) for path in paths]


def _prepared(
    path: Path, shown: str, opening: Opening, wanted: Sequence[str], workshop: Workshop, limits: Limits,
    known: KnownHeads, *, anew: bool,
) -> _Prepared:  # fmt: skip
    ending = _ending(path)
    open_bytes(path, shown).close()
    if ending not in _ENDINGS:
        message = f"cannot read '{shown}': its ending is not one of {', '.join(_ENDINGS)}{nearest(ending, _ENDINGS)}"
        raise SourceError(message, value=ending, known=_ENDINGS)
    _check_fitting(opening, ending, shown)
    if ending in _SHEETS:
        from vantric.sources.engines.sheets import sheet_parts

        found, remarks = sheet_parts(path, shown, opening, wanted, workshop, limits.until)
        return _Prepared([part.path for part in found], lambda _: found, remarks)
    plain = plain_name(path, workshop)
    if ending in _TEXT:
        part, remarks = text_part(plain, shown, opening, wanted, workshop, known, anew=anew)
        return _Prepared([part.path], lambda _: [part], remarks)
    make = _json_part if ending in _JSON else _parquet_part
    return _Prepared([plain], lambda engine: [make(plain, shown, engine)])


def _check_fitting(opening: Opening, ending: str, shown: str) -> None:
    """Refuse what such a file does not have, so that no option is passed over in silence."""
    if ending not in _SHEETS and opening.sheet:
        raise SourceError(f"'{shown}' has no sheets: leave the sheet out")
    if ending not in _SHEETS and opening.visible_only:
        raise SourceError(f"'{shown}' has no hidden rows: leave visible_only out")
    if ending not in (*_SHEETS, *_TEXT) and (opening.cells is not None or opening.header is not None):
        raise SourceError(f"'{shown}' has named columns: leave cells and header out")


def _ending(path: Path) -> str:
    """Return the ending that says what a file holds, that of its packing not counted."""
    name = path.with_suffix("") if path.suffix.casefold() in PACKED else path
    return name.suffix.casefold()


def _json_part(path: Path, shown: str, engine: Engine) -> Part:
    """Read values as text: numbers and truths in the form they have in the file."""
    table = f"read_json({literal(str(path))}, sample_size=-1, maximum_object_size={1 << 26})"
    kinds = _describe(table, shown, engine)
    if list(kinds) == ["json"]:
        raise SourceError(f"'{shown}' holds no records: it needs a list of objects, or an object a line")
    columns = ", ".join(f"{literal(name)}: 'VARCHAR'" for name in kinds)
    text = f"read_json({literal(str(path))}, columns={{{columns}}}, maximum_object_size={1 << 26})"
    raw = {name: identifier(f"vantric:{place}") for place, name in enumerate(kinds)}
    renamed = ", ".join(f"{_json_value(name, kinds[name])} AS {column}" for name, column in raw.items())
    typed = {name: ReadColumn(raw[name], NumberReading(Style("", "."))) for name in kinds if _is_number(kinds[name])}
    return Part(shown, path, f"(SELECT {renamed} FROM {text})", raw, dict.fromkeys(kinds, TEXT), read=typed)


def _is_number(kind: str) -> bool:
    """Whether all values of a column are numbers in the file, which have one reading only."""
    return kind.endswith(("INT", "INTEGER")) or kind in ("DOUBLE", "FLOAT") or kind.startswith("DECIMAL")


def _json_value(name: str, kind: str) -> str:
    """Return the SQL of a value as text; a truth in the form that every other source gives it."""
    column = identifier(name)
    return f"CASE {column} WHEN 'true' THEN 'True' WHEN 'false' THEN 'False' END" if kind == "BOOLEAN" else column


def _parquet_part(path: Path, shown: str, engine: Engine) -> Part:
    table = f"read_parquet({literal(str(path))})"
    return typed_part(path, shown, table, _describe(table, shown, engine))


def _describe(table: str, shown: str, engine: Engine) -> dict[str, str]:
    """Return column -> type of a table."""
    try:
        return {row[0]: row[1] for row in engine.ask(f"DESCRIBE SELECT * FROM {table}")}
    except duckdb.Error as error:
        raise SourceError(in_words(str(error), shown, None)) from None
