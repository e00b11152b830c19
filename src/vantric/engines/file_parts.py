"""One file as the engine reads it: a table function with everything said, and its columns."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import field, replace
from pathlib import Path

from vantric.base.lazily import dataclass
from vantric.core.counts.provenance import Note
from vantric.engines.duckdb_engine import DuckDBEngine, duckdb, identifier, in_words, literal
from vantric.errors import AmountError, SourceError
from vantric.reading.headers import CsvShape
from vantric.reading.headings import BETWEEN, DITTO_MARKS
from vantric.reading.number_column import NumberReading
from vantric.reading.number_style import DigitStyle
from vantric.reading.records import RowMarks

#: The type of every column of a text file: our own rules read it.
TEXT = "VARCHAR"
_PATHS = "vantric:paths"
#: The column of the places of records, where it is asked for.
NUMBER = identifier("vantric:n")


@dataclass(frozen=True)
class ReadColumn:
    """A column of a sheet that was read as numbers.

    Attributes
    ----------
    column
        The SQL of its numbers, plain.
    reading
    remarks
        What there is to say of it where it is used as numbers.
    refused
        Why it cannot be read, at least where its numbers are not counts; None if it can.
    as_counts
        Whether it can be read as counts even so.
    """

    column: str
    reading: NumberReading
    remarks: tuple[Note, ...] = ()
    refused: AmountError | None = None
    as_counts: bool = False


@dataclass(frozen=True)
class PlainTable:
    """A text file that was read whole and is a plain table: its shape, and the cells of its records."""

    shape: CsvShape
    rows: Sequence[Sequence[str]]


@dataclass(frozen=True)
class Part:
    """A file in the engine.

    Attributes
    ----------
    shown
        What messages call it.
    path
        The file that is read.
    table
        The SQL that reads it.
    columns
        Name -> the SQL of its raw value.
    kinds
        Name -> the engine's type; ``VARCHAR`` for text as typed.
    row_column
        The SQL of each record's row in the sheet it comes from; None if records are counted from 1.
    read
        Columns that were read as numbers when the file was opened, since its cells have types.
    delimiter
        What stands between the columns of a text file.
    marks
        What a sheet says of its rows beside their values.
    unsaved
        Column -> the places of formulas in it whose results were never saved, with the first of these.
    hidden
        Rows that are not shown, where these are left out.
    entire
        The part with them, and with no label filled down: so totals are known.
    sheet
        The sheet of a workbook that it is; empty for other files.
    unit
        What messages call the place of a record: a record, a row of a sheet, a line of a text file.
    lacking
        Columns that other files of the same source have and this one has not.
    plain
        What it holds, where it was read whole and needs no engine.
    """

    shown: str
    path: Path
    table: str
    columns: Mapping[str, str]
    kinds: Mapping[str, str]
    row_column: str | None = None
    read: Mapping[str, ReadColumn] = field(default_factory=dict)
    delimiter: str = ""
    marks: RowMarks = field(default_factory=RowMarks)
    unsaved: Mapping[str, str] = field(default_factory=dict)
    hidden: tuple[int, ...] = ()
    entire: Part | None = None
    sheet: str = ""
    unit: str = "record"
    lacking: frozenset[str] = frozenset()
    plain: PlainTable | None = None

    def is_text(self, name: str) -> bool:
        """Whether a column is text, whatever it means."""
        return self.kinds[name] == TEXT

    def number(self, name: str) -> str:
        """Return the SQL of a text column with spaces around it trimmed to nothing; as it was read, if it was."""
        column = self.read[name].column if name in self.read else self.columns[name]
        return f"nullif(trim({column}), '')"

    def within(self, *, several: bool) -> str:
        """Return what stands in front of the place of a record in a message: the file of several, or the sheet."""
        return f"'{self.shown}', " if several else f"sheet '{self.sheet}', " if self.sheet else ""

    def numbered(self) -> str:
        """Return the SQL of the table with the place of each record as ``"vantric:n"``."""
        row = self.row_column or "row_number() OVER ()"
        return f"(SELECT *, {row} AS {NUMBER} FROM {self.table})"

    def without(self, places: Sequence[int]) -> Part:
        """Return the part without the records of some places; the others keep theirs."""
        if not places:
            return self
        left = f"(SELECT * FROM {self.numbered()} WHERE {NUMBER} NOT IN ({', '.join(map(str, places))}))"
        return replace(self, table=left, row_column=NUMBER)

    def without_text(self, name: str, text: str) -> Part:
        """Return the part without the records that have a text in a column; the others keep their places."""
        condition = f"({self.columns[name]})::VARCHAR IS DISTINCT FROM {literal(text)}"
        return replace(self, table=f"(SELECT * FROM {self.numbered()} WHERE {condition})", row_column=NUMBER)

    def with_pairs(self, names: Sequence[str], pair: str) -> Part:
        """Return the part with a column that joins the labels of several; missing where one of them is."""
        texts = [f"nullif(trim({self.columns[name]}::VARCHAR), '')" for name in names]
        column, joined = identifier(f"vantric:{pair}"), f" || {literal(BETWEEN)} || ".join(texts)
        return replace(
            self,
            table=f"(SELECT *, {joined} AS {column} FROM {self.numbered()})",
            row_column=NUMBER,
            columns={**self.columns, pair: column},
            kinds={**self.kinds, pair: TEXT},
            entire=None if self.entire is None else self.entire.with_pairs(names, pair),
        )

    def with_dittos(self, name: str) -> Part:
        """Return the part with marks that repeat the label above as that label; a blank cell above stays blank."""
        column = self.columns[name]
        marks = ", ".join(map(literal, DITTO_MARKS))
        cell = f"CASE WHEN lower(trim({column})) IN ({marks}) THEN NULL ELSE coalesce({column}, '') END"
        order = f"OVER (ORDER BY {NUMBER} ROWS UNBOUNDED PRECEDING)"
        above = f"coalesce(last_value({cell} IGNORE NULLS) {order}, {column}) AS {column}"
        return replace(self, table=f"(SELECT * REPLACE ({above}) FROM {self.numbered()})", row_column=NUMBER)

    def without_codes(self, codes: Sequence[str]) -> Part:
        """Return the part with codes that mean missing as missing values, in its columns of text."""
        if not codes:
            return self
        listed = ", ".join(literal(code.strip()) for code in codes)
        text_columns = {sql for name, sql in self.columns.items() if self.is_text(name)}
        text_columns |= {column.column for column in self.read.values()}
        replaced = ", ".join(
            f"CASE WHEN trim({sql}) IN ({listed}) THEN NULL ELSE {sql} END AS {sql}" for sql in text_columns
        )
        return replace(self, table=f"(SELECT * REPLACE ({replaced}) FROM {self.table})") if text_columns else self

    def filled_down(self, names: Sequence[str]) -> Part:
        """Return the part with the blank cells of some columns holding what the last filled cell above holds."""
        filled_columns = [self.columns[name] for name in names if name in self.columns]
        if not filled_columns:
            return self
        order = f"OVER (ORDER BY {NUMBER} ROWS UNBOUNDED PRECEDING)"
        filled = ", ".join(
            f"last_value(nullif(trim({sql}), '') IGNORE NULLS) {order} AS {sql}" for sql in filled_columns
        )
        return replace(self, table=f"(SELECT * REPLACE ({filled}) FROM {self.numbered()})", row_column=NUMBER)


def together(parts: Sequence[Part]) -> list[Part]:
    """Return files that are read alike as one each, so that the engine opens them in one go; others as they are.

    Records have no place in what comes together: it is for counting alone.
    """
    values: dict[tuple[object, ...], list[Part]] = {}
    for part in parts:
        alike = part.table.replace(literal(str(part.path)), _PATHS)
        single = alike.count(_PATHS) != 1 or " OVER " in alike
        key = (part.path, part.table) if single else (alike, *part.columns.items(), *part.kinds.items(), *part.read)
        values.setdefault(key, []).append(part)
    return [same[0] if len(same) == 1 else _joined(same) for same in values.values()]


def _joined(parts: Sequence[Part]) -> Part:
    first, paths = parts[0], ", ".join(literal(str(part.path)) for part in parts)
    return replace(first, table=first.table.replace(literal(str(first.path)), f"[{paths}]"))


def aligned(parts: Sequence[Part]) -> list[Part]:
    """Return files with the columns of all of them: one that a file lacks is missing in all of its records."""
    kinds = {name: kind for part in reversed(parts) for name, kind in part.kinds.items()}
    names = list(dict.fromkeys(name for part in parts for name in part.columns))
    return [part if len(part.columns) == len(names) else _with_columns(part, names, kinds) for part in parts]


def _with_columns(part: Part, names: Sequence[str], kinds: Mapping[str, str]) -> Part:
    columns = {name: part.columns.get(name, f"NULL::{kinds[name]}") for name in names}
    whole = None if part.entire is None else _with_columns(part.entire, names, kinds)
    lacking = frozenset(names) - part.columns.keys()
    return replace(
        part,
        columns=columns,
        kinds={name: part.kinds.get(name, kinds[name]) for name in names},
        entire=whole,
        lacking=lacking,
    )


def csv_part(path: Path, source_name: str, shape: CsvShape) -> Part:
    """Return a CSV file as a part: every column is text, and columns go by position."""
    raw = {name: f"vantric:{place}" for place, name in enumerate(shape.columns)}
    columns = ", ".join(f"{literal(name)}: 'VARCHAR'" for name in raw.values())
    options = {
        "auto_detect": "false",
        "header": "true" if shape.header else "false",
        "columns": f"{{{columns}}}",
        "delim": literal(shape.delimiter),
        "quote": literal('"'),
        "escape": literal('"'),
        "nullstr": "''",
        "strict_mode": "true",
    }
    text = ", ".join(f"{name}={value}" for name, value in options.items())
    return Part(
        source_name,
        path,
        f"read_csv({literal(str(path))}, {text})",
        {name: identifier(column) for name, column in raw.items()},
        dict.fromkeys(raw, TEXT),
        delimiter=shape.delimiter,
    )


def typed_part(path: Path, source_name: str, table: str, kinds: Mapping[str, str]) -> Part:
    """Return a file whose columns have types, such as Parquet."""
    return Part(source_name, path, table, {name: identifier(name) for name in kinds}, dict(kinds))


def json_part(path: Path, source_name: str, engine: DuckDBEngine) -> Part:
    """Read values as text: numbers and truths in the form they have in the file."""
    table = f"read_json({literal(str(path))}, sample_size=-1, maximum_object_size={1 << 26})"
    kinds = _describe(table, source_name, engine)
    if list(kinds) == ["json"]:
        raise SourceError(f"'{source_name}' holds no records: it needs a list of objects, or an object a line")
    columns = ", ".join(f"{literal(name)}: 'VARCHAR'" for name in kinds)
    text = f"read_json({literal(str(path))}, columns={{{columns}}}, maximum_object_size={1 << 26})"
    raw = {name: identifier(f"vantric:{place}") for place, name in enumerate(kinds)}
    renamed = ", ".join(f"{_json_value(name, kinds[name])} AS {column}" for name, column in raw.items())
    typed = {
        name: ReadColumn(raw[name], NumberReading(DigitStyle("", "."))) for name in kinds if _is_number(kinds[name])
    }
    return Part(source_name, path, f"(SELECT {renamed} FROM {text})", raw, dict.fromkeys(kinds, TEXT), read=typed)


def _is_number(kind: str) -> bool:
    """Whether all values of a column are numbers in the file, which have one reading only."""
    return kind.endswith(("INT", "INTEGER")) or kind in ("DOUBLE", "FLOAT") or kind.startswith("DECIMAL")


def _json_value(name: str, kind: str) -> str:
    """Return the SQL of a value as text; a truth in the form that every other source gives it."""
    column = identifier(name)
    return f"CASE {column} WHEN 'true' THEN 'True' WHEN 'false' THEN 'False' END" if kind == "BOOLEAN" else column


def parquet_part(path: Path, source_name: str, engine: DuckDBEngine) -> Part:
    """Return a Parquet file as the engine reads it, by its own types."""
    table = f"read_parquet({literal(str(path))})"
    return typed_part(path, source_name, table, _describe(table, source_name, engine))


def _describe(table: str, source_name: str, engine: DuckDBEngine) -> dict[str, str]:
    """Return column -> type of a table."""
    try:
        return {row[0]: row[1] for row in engine.ask(f"DESCRIBE SELECT * FROM {table}")}
    except duckdb().Error as error:
        raise SourceError(in_words(str(error), source_name, None)) from None
