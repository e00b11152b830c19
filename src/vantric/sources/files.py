"""CSV files, read and grouped by DuckDB: only the counts come over."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import duckdb

from vantric.core.counting import Origin, Tally
from vantric.core.counting.tally import make_tally
from vantric.core.numbers.amounts import Raw, parse_amount
from vantric.errors import AmountError, SourceError, unknown_column
from vantric.sources.csvshape import CsvShape, csv_shape
from vantric.sources.exact import bad_amount, times

_ENDINGS = (".csv", ".tsv")
#: Counts that DuckDB adds up exactly as decimals: up to 18 digits before the point and 9 behind it.
_PLAIN = r"\s*\+?[0-9]{1,18}(\.[0-9]{0,9})?\s*"
_LONGEST_LINE = 1 << 24


def tally_file(path: Path, shown: str, by: str, count: str | None) -> Tally:
    """Count the labels of a CSV file; `shown` is how messages and results call it."""
    if path.suffix.casefold() not in _ENDINGS and path.exists():
        raise SourceError(f"cannot read '{shown}': its ending is not .csv or .tsv")
    shape = csv_shape(path, shown)
    for name in filter(None, (by, count)):
        if name not in shape.columns:
            raise unknown_column(name, shape.columns, f"'{shown}'")
    reader = _CsvReader(path, shown, shape)
    groups, rows = reader.counted(by) if count is None else reader.summed(by, count)
    return make_tally(groups, Origin(source=shown, by=by, count=count, input_rows=rows))


class _CsvReader:
    """Asks DuckDB about one file; every column is text as typed."""

    def __init__(self, path: Path, shown: str, shape: CsvShape) -> None:
        self._path, self._shown, self._shape = str(path), shown, shape

    def counted(self, by: str) -> tuple[list[tuple[str | None, Raw]], int]:
        """Return (label, records) groups and the number of records."""
        groups = self._ask(f"SELECT {self._column(by)}, count(*) FROM {self._table()} GROUP BY ALL")
        return groups, sum(records for _, records in groups)

    def summed(self, by: str, count: str) -> tuple[list[tuple[str | None, Raw]], int]:
        """Return (label, sum of counts) groups and the number of records; the sums are exact decimals."""
        label, amount = self._column(by), self._column(count)
        groups = self._ask(
            f"SELECT {label}, count(*), sum(TRY_CAST({amount} AS DECIMAL(38, 9))), "
            f"bool_and(coalesce(regexp_full_match({amount}, '{_PLAIN}'), false)) FROM {self._table()} GROUP BY 1"
        )
        rows = sum(group[1] for group in groups)
        if all(plain for *_, plain in groups):
            return [(name, total) for name, _, total, _ in groups], rows
        return self._summed_here(label, amount, count), rows

    def _summed_here(self, label: str, amount: str, count: str) -> list[tuple[str | None, Raw]]:
        """Add up numbers that are longer or otherwise written, one group a different number, exactly."""
        groups = self._ask(f"SELECT {label}, {amount}, count(*) FROM {self._table()} GROUP BY ALL")
        wrong: dict[str | None, str] = {}
        sums = []
        for name, typed, records in groups:
            try:
                sums.append((name, times(parse_amount(typed), records)))
            except ValueError as reason:
                wrong[typed] = str(reason)
        if wrong:
            raise self._first_wrong(amount, count, wrong)
        return sums

    def _first_wrong(self, amount: str, count: str, wrong: dict[str | None, str]) -> AmountError:
        """Find the first record whose count is none."""
        typed = [text for text in wrong if text is not None][:1000]
        record, text = self._ask(
            f"SELECT n, v FROM (SELECT row_number() OVER () AS n, {amount} AS v FROM {self._table()}) "
            "WHERE v IS NULL OR list_contains(?, v) ORDER BY n LIMIT 1",
            typed,
        )[0]
        return bad_amount(f"'{self._shown}', record {record}, column '{count}'", wrong[text])

    def _column(self, name: str) -> str:
        return f"c{self._shape.columns.index(name)}"

    def _table(self) -> str:
        """Return the table function with everything said, so that nothing is guessed; names go by position."""
        columns = ", ".join(f"'c{place}': 'VARCHAR'" for place in range(len(self._shape.columns)))
        options = {
            "auto_detect": "false",
            "header": "true",
            "columns": f"{{{columns}}}",
            "delim": _literal(self._shape.delimiter),
            "quote": _literal('"'),
            "escape": _literal('"'),
            "nullstr": "''",
            "strict_mode": "true",
            "max_line_size": str(_LONGEST_LINE),
        }
        said = ", ".join(f"{name}={value}" for name, value in options.items())
        return f"read_csv({_literal(_no_glob(self._path))}, {said})"

    def _ask(self, sql: str, *values: Any) -> list[tuple[Any, ...]]:
        try:
            with duckdb.connect(config={"autoinstall_known_extensions": "false"}) as engine:
                return engine.execute(sql, list(values) or None).fetchall()
        except duckdb.Error as error:
            raise SourceError(self._in_words(str(error))) from None

    def _in_words(self, message: str) -> str:
        """Turn the engine's message on a broken file into one line."""
        place = re.search(r"CSV Error on Line: (\d+)", message)
        where = f"'{self._shown}'" + (f", line {place[1]}" if place else "")
        columns = re.search(r"Expected Number of Columns: (\d+) Found: (\d+)", message)
        if columns:
            return f"{where}: {columns[2]} columns where the header has {columns[1]}; mend that line"
        if "unicode" in message or "utf-8" in message:
            return f"{where}: the bytes are not UTF-8 text; save it as UTF-8"
        if "unterminated quote" in message or "quote should be followed" in message:
            return f"{where}: a quotation mark is not closed; close or double it"
        if "state machine reached an invalid state" in message:
            return f"{where}: line ends of two kinds, or a stray quotation mark; save it again with one kind"
        return f"{where}: {message.splitlines()[0]}"


def _literal(text: str) -> str:
    """Return text as an SQL literal; a parameter would make older engines load pandas."""
    return "'" + text.replace("'", "''") + "'"


def _no_glob(path: str) -> str:
    """Return a path in which no sign stands for others."""
    return re.sub(r"([*?\[])", r"[\1]", path)
