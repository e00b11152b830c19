"""One file as the engine reads it: a table function with everything said, and its columns."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path

from vantric.sources.engines.engine import identifier, literal
from vantric.sources.reading.csvfile import CsvShape

TEXT = "VARCHAR"


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
    comma_columns
        Text columns whose numbers have a decimal comma.
    row_column
        The SQL of each record's row in the sheet it comes from; None if records are counted from 1.
    """

    shown: str
    path: Path
    table: str
    columns: Mapping[str, str]
    kinds: Mapping[str, str]
    comma_columns: frozenset[str] = field(default=frozenset())
    row_column: str | None = None

    def is_text(self, name: str) -> bool:
        """Whether a column is text, whatever it means."""
        return self.kinds[name] == TEXT

    def number(self, name: str) -> str:
        """Return the SQL of a text column with its decimal sign a point and its blanks trimmed to nothing."""
        value = f"nullif(trim({self.columns[name]}), '')"
        return f"replace({value}, ',', '.')" if name in self.comma_columns else value


def csv_part(path: Path, shown: str, shape: CsvShape) -> Part:
    """Return a CSV file as a part: every column is text, and columns go by position."""
    raw = {name: f"vantric:{place}" for place, name in enumerate(shape.columns)}
    columns = ", ".join(f"{literal(name)}: 'VARCHAR'" for name in raw.values())
    options = {
        "auto_detect": "false",
        "header": "true",
        "columns": f"{{{columns}}}",
        "delim": literal(shape.delimiter),
        "quote": literal('"'),
        "escape": literal('"'),
        "nullstr": "''",
        "strict_mode": "true",
    }
    said = ", ".join(f"{name}={value}" for name, value in options.items())
    return Part(
        shown,
        path,
        f"read_csv({literal(str(path))}, {said})",
        {name: identifier(column) for name, column in raw.items()},
        dict.fromkeys(raw, TEXT),
        shape.comma_columns,
    )


def typed_part(path: Path, shown: str, table: str, kinds: Mapping[str, str]) -> Part:
    """Return a file whose columns have types, such as Parquet."""
    return Part(shown, path, table, {name: identifier(name) for name in kinds}, dict(kinds))
