"""Files by their endings, one or several, become records."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, TypeAlias

from vantric.base.lazily import dataclass
from vantric.base.safe_text import masked
from vantric.core.counts.provenance import Note
from vantric.core.numbers.number_format import counted
from vantric.engines.file_kinds import as_records, check_kind
from vantric.engines.file_parts import Part, PlainTable, csv_part, json_part, parquet_part
from vantric.engines.plain_records import TextRecords
from vantric.engines.source_paths import named_paths
from vantric.engines.text_files import (
    PACKED,
    FoundTable,
    TempFiles,
    as_utf8,
    first_text,
    from_standard_input,
    is_mixed,
    last_text,
    open_bytes,
    plain_name,
    table_part,
    whole_text,
    with_one_line_end,
)
from vantric.errors import SourceError, nearest
from vantric.reading.grid import Grid
from vantric.reading.headers import CsvShape, csv_shape, is_well_quoted, numbered_rows
from vantric.reading.headings import lettered_names
from vantric.reading.number_style import is_number
from vantric.reading.page_lines import is_page_line
from vantric.reading.settings import Limits, ReadSettings, check_columns, plain_names
from vantric.reading.table_layout import TableLayout, find_table

if TYPE_CHECKING:
    from vantric.engines.duck_records import DuckRecords
    from vantric.engines.duckdb_engine import DuckDBEngine

    #: The records of files: in the engine, or of one that needs none.
    FileRecords: TypeAlias = DuckRecords | TextRecords

_LARGEST = 64_000_000  # bytes of a file that is read whole to find its table
_FIRST_SIGNS = 40_000  # of a longer file, which show whether it is a plain table
_ALIKE = 4  # rows that show whether a file is written like one before
_SHOWN_ROWS = 60  # that show what the header is


class KnownHeads:
    """What plain tables among the files before begin with.

    Attributes
    ----------
    names
        The header of a table, and which of the cells below it are numbers -> the names of its columns.
    delimiters
        Its first line -> what stands between the columns.
    """

    def __init__(self) -> None:
        self.names: dict[tuple[str | bool, ...], tuple[str, ...]] = {}
        self.delimiters: dict[str, str] = {}


def text_part(
    path: Path,
    source_name: str,
    opening: ReadSettings,
    column_names: Sequence[str],
    temp_files: TempFiles,
    known_heads: KnownHeads,
    *,
    anew: bool,
) -> tuple[Part, list[Note]]:
    """Return a text file as a part: the engine reads it where it is a plain table.

    Parameters
    ----------
    path, source_name
        The file, and what messages call it.
    opening
        How it is read.
    column_names
        Columns that will be asked for.
    temp_files
        Where it is written again, if it must be.
    known_heads
        What plain tables among the files before begin with; this one is added.
    anew
        Whether it is no UTF-8, as the engine found.
    """
    column_names = plain_names(column_names)
    encoding_name = opening.encoding
    head, remarks = None if anew or encoding_name is not None else first_text(path, source_name), []
    if head is None:
        path, remark = as_utf8(path, source_name, temp_files, encoding_name)
        remarks.append(remark)
        head = first_text(path, source_name) or ("", True)
    if is_mixed(head[0]):
        path, remark = with_one_line_end(path, source_name, temp_files)
        remarks.append(remark)
        head = first_text(path, source_name) or ("", True)
    text, whole = head
    delimiter = known_heads.delimiters.get(_first_line(text))
    if delimiter is not None and whole and opening.header is not False and opening.cells is None:
        alike = _as_before(text, delimiter, known_heads)
        if alike is not None:
            return csv_part(path, source_name, alike), remarks
    shape = csv_shape(text, source_name)
    if opening.header is False and opening.cells is None and not whole:
        names = tuple(lettered_names(range(len(shape.columns))))
        return csv_part(path, source_name, CsvShape(shape.delimiter, names, header=False)), remarks
    rows = _rows_to_lay_out(path, text, shape, source_name, opening, column_names, known_heads, whole=whole)
    if isinstance(rows, CsvShape):
        return csv_part(path, source_name, rows), remarks
    if isinstance(rows, PlainTable):
        return replace(csv_part(path, source_name, rows.shape), plain=rows), remarks
    grid = Grid(rows[0], f"'{source_name}'", "line", numbers=rows[1])
    if opening.cells is not None:
        grid = grid.cropped(opening.cells)
    layout = find_table(grid, column_names, header=opening.header)
    _check_widths(grid, layout)
    part = table_part(FoundTable(grid, layout), source_name, temp_files, delimiter=shape.delimiter)
    return part, [*remarks, *layout.remarks]


#: The rows of a text file as cells, and the line that each starts in.
Rows = tuple[list[list[str]], dict[int, int]]


def _rows_to_lay_out(
    path: Path,
    text: str,
    shape: CsvShape,
    source_name: str,
    opening: ReadSettings,
    column_names: Sequence[str],
    known_heads: KnownHeads,
    *,
    whole: bool,
) -> Rows | CsvShape | PlainTable:
    """Return the rows in which a table must be found; or the shape of a file that the engine can read as it is.

    A whole one that needs no engine is returned with its rows.
    """
    is_said = opening.header is False or opening.cells is not None
    pair = numbered_rows(text if whole else _complete(text[:_FIRST_SIGNS]), shape.delimiter)
    if pair is None:  # an open quotation mark: the engine names its line
        return shape
    if not is_said and (whole or _ends_plainly(path, source_name, shape.delimiter, pair[0])):
        filled_rows = _without_end(pair[0])
        plain = _plain_shape(filled_rows, shape.delimiter, source_name, column_names, known_heads)
        if plain is not None:
            is_simple = whole and is_well_quoted(text, shape.delimiter)
            return PlainTable(plain, filled_rows[1:]) if is_simple else plain
    if whole:
        return pair
    if path.stat().st_size > _LARGEST:
        return shape
    return numbered_rows(whole_text(path, source_name), shape.delimiter) or shape


def _as_before(text: str, delimiter: str, known_heads: KnownHeads) -> CsvShape | None:
    """Return the shape of a whole file without quotation marks that begins like one before, and is as plain."""
    plain = (text.replace("\r\n", "\n") if "\r" in text else text).rstrip("\n")
    if '"' in text or "\r" in plain:
        return None
    header, *lines = plain.split("\n", _ALIKE)
    names = known_heads.names.get(_head([line.split(delimiter) for line in (header, *lines[: _ALIKE - 1])]))
    # Looked at all at once: a line at a time takes ten times as long.
    marks = f"{plain}\n".encode().translate(None, _other_bytes(f"{delimiter}\n"))
    has_same_marks = marks == f"{delimiter * header.count(delimiter)}\n".encode() * marks.count(b"\n")
    if names is None or not has_same_marks or f"\n{header}\n" in f"{plain}\n":
        return None
    blanks = rf"[\s{re.escape(delimiter)}]"
    blank = re.search(rf"\n(?={blanks}){blanks}*(?:\n|\Z)", plain)
    return None if blank else CsvShape(delimiter, names)


@cache
def _other_bytes(signs: str) -> bytes:
    """Return all bytes but those of some signs of ASCII."""
    return bytes(set(range(256)) - set(signs.encode()))


def _first_line(text: str) -> str:
    return text[: text.find("\n")].rstrip("\r")


def _head(rows: Sequence[Sequence[str]]) -> tuple[str | bool, ...]:
    """Return the header of a table, and which of the cells below it are numbers."""
    return (*(rows[0] if rows else ()), *(is_number(cell) for row in rows[1:_ALIKE] for cell in row))


def _complete(text: str) -> str:
    """Return text without its last line, which may be cut."""
    return text[: text.rfind("\n") + 1] or text


def _without_end(rows: list[list[str]]) -> list[list[str]]:
    """Return rows without blank ones at the end."""
    last = len(rows)
    while last and not any(map(str.strip, rows[last - 1])):
        last -= 1
    return rows[:last]


def _plain_shape(
    rows: Sequence[Sequence[str]],
    delimiter: str,
    source_name: str,
    column_names: Sequence[str],
    known_heads: KnownHeads,
) -> CsvShape | None:
    """Return the shape of a table that fills all lines, with its header in the first; None if it is not so plain."""
    header = rows[0] if rows else []
    width = len(header)
    if not all(map(str.strip, header)) or len(set(header)) < width:
        return None
    first = header[0].strip().casefold() if header else ""
    like_header = {cell for cell in {row[0] for row in rows[1:] if row} if cell.strip().casefold() == first}
    for row in rows[1:]:
        if len(row) != width or row == header or not any(map(str.strip, row)):
            return None
        alone = row.count("") >= max(width - 1, 1) and (width > 2 or is_page_line(row[0]))
        if alone or (row[0] in like_header and _is_again(row, header)):
            return None
    head = _head(rows)
    if head in known_heads.names:
        return CsvShape(delimiter, known_heads.names[head])
    layout = find_table(Grid(rows[:_SHOWN_ROWS], f"'{source_name}'", "line"), column_names)
    if layout.header != (0,) or layout.remarks or len(layout.names) != width:
        return None
    known_heads.names[head] = layout.names
    known_heads.delimiters[delimiter.join(header)] = delimiter
    return CsvShape(delimiter, layout.names)


def _is_again(row: Sequence[str], header: Sequence[str]) -> bool:
    """Whether a row repeats the header but for case and blanks."""
    return [cell.strip().casefold() for cell in row] == [cell.strip().casefold() for cell in header]


def _ends_plainly(path: Path, source_name: str, delimiter: str, rows: Sequence[Sequence[str]]) -> bool:
    """Whether the last lines of a long file are records: none blank, none with a note."""
    width = len(rows[0])
    pair = numbered_rows(last_text(path, source_name), delimiter)
    if pair is None:
        return True
    filled = [sum(bool(cell.strip()) for cell in row) for row in pair[0]]
    return width < 2 or all(number > 1 for number in filled[:-1])


def _check_widths(grid: Grid, layout: TableLayout) -> None:
    """Raise `SourceError` for a record with more or fewer cells than the header: a sign between columns is missing."""
    width = len(grid.rows[layout.header[-1]]) if layout.header else None
    for row in layout.body if width is not None else ():
        cells = grid.rows[row]
        if len(cells) != width:
            raise SourceError(
                f"{grid.place}, line {grid.number(row)}: {counted(len(cells), 'column')} where the header has {width}; "
                "fix that line"
            )


_TEXT = (".csv", ".tsv", ".txt")
_JSON = (".json", ".ndjson", ".jsonl")
_SHEETS = (".xlsx", ".xlsm", ".ods")
_ENDINGS = (*_TEXT, *_JSON, ".parquet", *_SHEETS)


def open_file(
    source: str | Path,
    opening: ReadSettings,
    column_names: Sequence[str],
    *,
    anew: bool = False,
    in_engine: bool = False,
) -> FileRecords:
    """Open a file, the files a pattern names, or ``-`` for CSV on standard input.

    Parameters
    ----------
    source
        As the user named it.
    opening
        The condition, and the sheet of a workbook.
    column_names
        Columns that will be asked for.
    anew
        Whether text files are written again in UTF-8 first, since the engine met bytes that are none.
    in_engine
        Whether they are read in the engine in any case, since conditions will be put on them.
    """
    temp_files, limits = TempFiles(), opening.limits()
    engine: DuckDBEngine | None = None
    known_heads = KnownHeads()
    try:
        ready = [
            _prepared(path, name, opening, column_names, temp_files, limits, known_heads, anew=anew)
            for path, name in _paths(str(source), temp_files)
        ]
        remarks = [remark for prepared in ready for remark in prepared.remarks]
        plain = ready[0].plain if len(ready) == 1 and not in_engine and opening.is_plain() else None
        if plain is not None:
            temp_files.close()
            return _without_engine(plain, masked(source), opening, column_names, remarks, limits.until)
        files = [file for prepared in ready for file in prepared.files]
        engine = _engine_kind(opening)(files, temp_files.new_path(".spill"), limits)
        parts = [_as_said(part, opening) for prepared in ready for part in prepared.parts(engine)]
        from vantric.engines.duck_records import DuckRecords

        records = DuckRecords(engine, parts, masked(source), opening, temp_files, remarks)
        records.check(column_names)
    except BaseException:  # Ctrl-C too must close the engine and its files
        if engine is not None:
            engine.close()
        temp_files.close()
        raise
    return records


def _without_engine(
    plain: PlainTable,
    source_name: str,
    opening: ReadSettings,
    column_names: Sequence[str],
    remarks: Sequence[Note],
    until: float | None,
) -> TextRecords:
    records = TextRecords(plain.rows, plain.shape, source_name, opening.rules(), remarks, until)
    check_columns(column_names, records.names(), records.place)
    return records


def _engine_kind(opening: ReadSettings) -> type[DuckDBEngine]:
    """Return where the engine runs: a condition that may call any function can take all that there is."""
    if not opening.allow_functions:
        from vantric.engines.duckdb_engine import DuckDBEngine

        return DuckDBEngine
    from vantric.engines.engine_process import EngineProcess

    return EngineProcess


@dataclass(frozen=True)
class _Prepared:
    """A file that the engine can open, and how it becomes a part once the engine has it."""

    files: Sequence[Path]
    parts: Callable[[DuckDBEngine], Sequence[Part]]
    remarks: Sequence[Note] = ()
    plain: PlainTable | None = None


def _as_said(part: Part, opening: ReadSettings) -> Part:
    """Return a part with codes that mean missing as missing values, and labels that are filled down."""
    whole = part.without_codes(opening.na)
    filled_part = whole.filled_down(opening.fill_down)
    filled_part = filled_part.without(filled_part.hidden)
    return filled_part if filled_part == whole else replace(filled_part, entire=whole)


def _paths(source_name: str, temp_files: TempFiles) -> list[tuple[Path, str]]:
    """Return (path, what messages call it) of every file that a source names."""
    if source_name == "-":
        return [(from_standard_input(temp_files), "standard input")]
    paths = named_paths(source_name)
    return [(path, masked(path)) for path in paths]


def _prepared(
    path: Path,
    source_name: str,
    opening: ReadSettings,
    column_names: Sequence[str],
    temp_files: TempFiles,
    limits: Limits,
    known_heads: KnownHeads,
    *,
    anew: bool,
) -> _Prepared:
    ending = _ending(path)
    open_bytes(path, source_name).close()
    if ending in (*_SHEETS, ".xls", ".csv", ".tsv", ".txt"):
        check_kind(path, source_name, is_workbook=ending in (*_SHEETS, ".xls"))
    if ending not in _ENDINGS:
        message = (
            f"cannot read '{source_name}': its ending is not one of {', '.join(_ENDINGS)}{nearest(ending, _ENDINGS)}"
        )
        raise SourceError(message, value=ending, known=_ENDINGS)
    _check_fitting(opening, ending, source_name)
    if ending in _SHEETS:
        from vantric.engines.sheets import sheet_parts

        parts, remarks = sheet_parts(path, source_name, opening, column_names, temp_files, limits.until)
        return _Prepared([part.path for part in parts], lambda _: parts, remarks)
    plain = plain_name(path, temp_files)
    if ending in _TEXT:
        part, remarks = text_part(plain, source_name, opening, column_names, temp_files, known_heads, anew=anew)
        return _Prepared([part.path], lambda _: [part], remarks, part.plain)
    if ending in _JSON:
        plain = as_records(plain, source_name, temp_files)
    make = json_part if ending in _JSON else parquet_part
    return _Prepared([plain], lambda engine: [make(plain, source_name, engine)])


def _check_fitting(opening: ReadSettings, ending: str, source_name: str) -> None:
    """Refuse what such a file does not have, so that no option is passed over in silence."""
    if ending not in _SHEETS and opening.sheet:
        raise SourceError(f"'{source_name}' has no sheets: leave the sheet out")
    if ending not in _SHEETS and opening.visible_only:
        raise SourceError(f"'{source_name}' has no hidden rows: leave visible_only out")
    if ending not in _TEXT and opening.encoding is not None:
        raise SourceError(f"'{source_name}' says its encoding itself: leave encoding out")
    if ending not in (*_SHEETS, *_TEXT) and (opening.cells is not None or opening.header is not None):
        raise SourceError(f"'{source_name}' has named columns: leave cells and header out")


def _ending(path: Path) -> str:
    """Return the ending that says what a file holds, that of its packing not counted."""
    name = path.with_suffix("") if path.suffix.casefold() in PACKED else path
    return name.suffix.casefold()
