"""Files, read and grouped by DuckDB out of core: only the counts come over."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from copy import copy
from functools import partial
from itertools import chain
from typing import Any

from vantric.base.lazily import compiled
from vantric.core.counts.provenance import Note
from vantric.core.totals.label_kinds import total_in
from vantric.engines.duckdb_engine import (
    DuckDBEngine,
    duckdb,
    identifier,
    in_words,
    is_undecodable,
    literal,
    without_column,
)
from vantric.engines.file_parts import NUMBER, Part, aligned, together
from vantric.engines.plain_records import PLAIN_NUMBER
from vantric.engines.text_files import TempFiles, UndecodableError
from vantric.engines.text_numbers import (
    INTEGERS,
    MULTIPLIED,
    SUMMED,
    ResultSql,
    TextNumbers,
    number_sql,
    product_results,
    squared_sql,
    text_factor,
    text_results,
    typed_factor,
    written_factor,
    written_results,
)
from vantric.errors import SourceError
from vantric.reading.headings import BETWEEN
from vantric.reading.number_column import NumberReading
from vantric.reading.records import Group, PlacedRow
from vantric.reading.settings import ReadSettings, check_columns
from vantric.reading.written_dates import in_iso

#: Types whose sum depends on the order in which it is added up.
_FLOATS = ("FLOAT", "DOUBLE")
_HALF = 2**62  # what a product may reach in 64 bits
#: Beyond it a sum may pass the largest float: it is added up here.
_LARGEST = 1e300


class TypedNumbers(TextNumbers):
    """Records of files whose columns may be typed."""

    _told_rows: int | None = None  # how many records there are, where the engine has told

    def _typed_sums(self, keys: Sequence[str], amount: str, *, free: bool, squares: bool) -> list[Group] | None:
        """Return the sums of a typed column, perhaps with squares; None where the engine's are not exact."""
        results = self._results(amount, free=free, squares=squares)
        if results is None:
            return None
        if squares and not free and self.where is None:
            typed_sums = self._without_checks(keys, amount)
            if typed_sums is not None:
                return typed_sums
        return self._exactly(self._sums_sql(keys, amount, results))

    def _without_checks(self, keys: Sequence[str], amount: str) -> list[Group] | None:
        """Return sums and squares of a column whose extremes say that all is fine; None if they do not."""
        least, most, valid, rows = self._ask(self._sums_sql([], amount, "min(v), max(v), count(v), count(*)"))[0]
        self.__dict__["_told_rows"] = int(rows)
        if not rows or valid < rows or not 0 <= least <= most <= _LARGEST:  # NaN is above all
            return None
        whole = all(INTEGERS.fullmatch(part.kinds[amount]) for part in self._parts)
        bits = (int(most) * int(rows)).bit_length() if whole else 0
        if not whole or int(most) ** 2 << bits >= _HALF:
            total = self._total(amount)
            return self._exactly(self._sums_sql(keys, amount, f"count(*), {total}, {squared_sql('v::DOUBLE')}, true"))
        both = f"count(*), sum(v::BIGINT * (v::BIGINT * {1 << bits} + 1)), true"
        values = self._exactly(self._sums_sql(keys, amount, both)) or []
        mask = (1 << bits) - 1
        return [(*group[:-1], int(group[-1]) & mask, float(int(group[-1]) >> bits)) for group in values]

    def _total(self, amount: str) -> str:
        return "fsum(v::DOUBLE)" if self._kinds(amount) <= set(_FLOATS) else "sum(v)"

    def _kinds(self, *names: str) -> set[str]:
        return {part.kinds[name] for part in self._parts for name in names}

    def _results(self, amount: str, *, free: bool, squares: bool) -> str | None:
        """Return the SQL of (valid, sum, perhaps squares, whether the sum is exact) of typed numbers, if it can be."""
        kinds = {part.kinds[amount] for part in self._parts}
        floats = kinds <= set(_FLOATS)
        if len(kinds) > 1 or not (floats or all(INTEGERS.fullmatch(k) or k.startswith("DECIMAL") for k in kinds)):
            return None
        total, finite = ("fsum(v::DOUBLE)", "abs(v::DOUBLE) <= 1e300") if floats else ("sum(v)", "true")
        fine = f"coalesce({finite}, true)" if free else f"v IS NOT NULL AND v >= 0 AND {finite}"
        more = f"{squared_sql('v::DOUBLE')}, " if squares else ""
        return f"count(v), coalesce({total}, 0), {more}bool_and({fine})"


#: What a condition may compare as numbers or dates: nothing that loses a sign it was typed with.
_NUMBER = r"-?(0|[1-9][0-9]{0,17})(\.[0-9]{1,9})?"
#: Text that DuckDB compares with dates rightly.
_DATE = r"[0-9]{4}-[0-9]{2}-[0-9]{2}"
_TIME = r"[0-9]{4}-[0-9]{2}-[0-9]{2}[ T][0-9]{2}:[0-9]{2}(:[0-9]{2}(\.[0-9]+)?)?"
#: Cells that are looked at before a column is read as dates.
_SAMPLE = 20000
#: A text constant of SQL.
_QUOTED = compiled(r"'((?:[^']|'')*)'")
#: Whether a condition asks for an order, so that text will not do.
_ORDERS = compiled(r"[<>]|\bbetween\b", re.IGNORECASE)


class ConditionedFiles(TypedNumbers):
    """Records of files that may have to meet a condition."""

    _tables: list[str]

    def _from(
        self, keys: Sequence[str], amount: str | None = None, second: str | None = None, *, trimmed: bool = True
    ) -> str:
        """Return the SQL of all files together."""
        raise NotImplementedError

    def _filtered(self, part: Part) -> str:
        """Return the SQL of a file's records that meet the condition, its columns under their own names beside."""
        if self.where is None:
            return part.table
        raw = ", ".join(part.columns.values())
        named = []
        for name in part.columns:
            typed = identifier(name)[1:-1].casefold()
            if part.columns[name] != identifier(name) and typed in self.where.casefold():
                named.append(f"{self._typed(part, name)} AS {identifier(name)}")
        where = in_iso(self.where, self.__dict__["_date_order"]) if "_date_order" in self.__dict__ else self.where
        label = None if self._labeled is None else part.columns[self._labeled]
        unknown = "" if label is None else (f" OR (({where}\n) IS NULL AND coalesce(trim({label}::VARCHAR), '') = '')")
        return f"(SELECT {', '.join([raw, *named])} FROM {part.table}) WHERE (({where}\n){unknown})"

    def _typed(self, part: Part, name: str) -> str:
        """Return the SQL of a text column as the numbers or dates it holds, so that a condition can compare them."""
        value = part.number(name)
        checks = ", ".join(
            f"coalesce(bool_and(regexp_full_match(v, {literal(kind)})), false)" for kind in (_NUMBER, _DATE, _TIME)
        )
        sample = f"SELECT {value} AS v FROM {part.table} LIMIT {_SAMPLE}"
        number, date, time = self._ask(f"SELECT {checks} FROM ({sample}) WHERE v IS NOT NULL")[0]
        kind = "DECIMAL(38, 9)" if number else "DATE" if date else "TIMESTAMP" if time else None
        if kind:
            return f"CAST({value} AS {kind})"
        if not self._all_text(name) or self._is_named(part, name):
            return part.columns[name]
        from vantric.engines.conditions import day_lookup

        table = f'"vantric days {len(self._tables)}"'
        days = day_lookup(self._ask, part, name, table, self.rules.read_dates)
        if days is not None:
            self._tables.append(table)
            self.__dict__["_date_order"] = days[1]
            return days[0]
        styled = self._styled(name)
        return part.columns[name] if styled is None else f"CAST({number_sql(styled, value)} AS DECIMAL(38, 9))"

    def _is_named(self, part: Part, name: str) -> bool:
        """Whether the condition names a cell of a column as it is written, and orders nothing: then it stays text."""
        plain = str(self.where).replace("<>", "").replace("!=", "")
        named = [text.replace("''", "'") for text in _QUOTED.findall(plain)]
        if not named or _ORDERS.search(_QUOTED.sub("", plain)):
            return False
        listed = ", ".join(map(literal, named))
        return bool(self._ask(f"SELECT 1 FROM {part.table} WHERE {part.columns[name]} IN ({listed}) LIMIT 1"))

    def _check_where(self, where: str, *, any_function: bool) -> None:
        """Refuse a condition that does not exist, or more than one."""
        from vantric.engines.conditions import check_condition
        from vantric.reading.conditions import check_each

        def check(text: str) -> None:
            alone = copy(self)
            alone.where = text
            try:
                check_condition(self._engine, text, any_function=any_function)
                alone._ask(f"SELECT 1 FROM {alone._from(())} LIMIT 0")
            except duckdb().Error as error:
                raise alone._failed(error) from None

        check_each(where, check)


_MOST_FILES = 60  # that may each be a short sheet with a total of its own
_MOST_TEXTS = 12  # columns of text in which a total may say that it is one


class DuckRecords(ConditionedFiles):
    """The records of one file or several, under a condition.

    Parameters
    ----------
    engine
        The connection that may open the files.
    parts
        The files; each must have the columns that are asked for.
    source_name
        What messages call them together.
    opening
        The condition, and whether it may call any function.
    temp_files
        The folder of what was written to be read; it is closed with the records.
    """

    def __init__(
        self,
        engine: DuckDBEngine,
        parts: Sequence[Part],
        source_name: str,
        opening: ReadSettings,
        temp_files: TempFiles,
        remarks: Sequence[Note] = (),
    ) -> None:
        self.shown, self.where, self._said = source_name, opening.where, tuple(remarks)
        self.rules, self.delimiter = opening.rules(), next((part.delimiter for part in parts), "")
        self._evidence: dict[str, dict[str, None]] = {}
        self._plain: dict[str, NumberReading | None] = {}
        self._tables: list[str] = []
        self._parts, self._workshop = aligned(parts), temp_files
        self._engine = engine
        if opening.where is not None:
            self._check_where(opening.where, any_function=opening.allow_functions)

    def under(self, opening: ReadSettings) -> DuckRecords:
        """Return the same records under a condition, with nothing that was worked out without it, and new time."""
        self._engine.until = opening.limits().until
        records = copy(self)
        records.where = opening.where
        records.__dict__.update(_evidence={}, _plain={}, _found={}, _summed={}, _told_rows=None)
        if opening.where is not None:
            records._check_where(opening.where, any_function=opening.allow_functions)
        return records

    def close(self) -> None:
        """Let go of the files and of what was written."""
        self._engine.close()
        self._workshop.close()

    def names(self) -> tuple[str, ...]:
        """Return the names of the columns."""
        return tuple(self._parts[0].columns)

    def check(self, column_names: Sequence[str]) -> None:
        """Raise `ColumnError` if no file has a wanted column; report one that some lack."""
        check_columns(column_names, self.names(), f"'{self.shown if len(self._parts) > 1 else self._parts[0].shown}'")
        for name in dict.fromkeys(column_names):
            lacking = [part.shown for part in self._parts if name in part.lacking]
            if lacking:
                self.remark(without_column(name, lacking, len(self._parts)))

    def _check_every_file(self, *amounts: str) -> None:
        """Raise `ColumnError` if a file lacks a column whose cells must all be filled."""
        for part in self._parts:
            check_columns(amounts, [name for name in part.columns if name not in part.lacking], f"'{part.shown}'")

    def _groups(self, keys: Sequence[str]) -> list[Group]:
        values = ", ".join(f"k{place}" for place in range(len(keys)))
        selected = f"{values}, count(*)" if keys else "count(*)"
        return self._ask(f"SELECT {selected} FROM {self._from(keys)} GROUP BY ALL")

    def head(self, rows: int) -> list[Group]:
        """Return the first records."""
        values: list[Group] = []
        for part in self._parts:
            if len(values) < rows:
                text = ", ".join(part.columns.values())
                values += self._ask(f"SELECT {text} FROM {self._filtered(part)} LIMIT {rows - len(values)}")
        return values

    def sums(
        self, keys: Sequence[str], amount: str, *, free: bool = False, counted: bool = True, squares: bool = False
    ) -> list[Group]:
        """Return exact sums; see `Records.sums`."""
        if not free:
            self._check_every_file(amount)
        if self._all_text(amount):
            sums = self._text_sums(keys, {amount: counted and not free}, free=free, squares=squares)
        else:
            sums = self._typed_sums(keys, amount, free=free, squares=squares)
        if sums is None:
            return self._sums_here(keys, amount, free=free, counted=counted, squares=squares)
        return sums

    def _text_sums(
        self, keys: Sequence[str], column: Mapping[str, bool], *, free: bool, squares: bool
    ) -> list[Group] | None:
        results = partial(text_results, free=free, squares=squares)
        first = None if free else partial(written_results, squares=squares)
        sums = self._fused(keys, column, results, first=first)
        if sums is not None:
            return sums
        [shape] = self._shapes(column)
        return self._fused(keys, column, partial(results, shape=shape)) if shape[1] > SUMMED[1] else None

    def rows_in_order(self, columns: Sequence[str], most: int) -> list[list[PlacedRow]] | None:
        """Return all records of each file; see `Records.rows_in_order`."""
        placed_rows = []
        for part in (item.entire or item for item in self._parts):
            names = [
                part.number(name) if place and part.is_text(name) else part.columns[name]
                for place, name in enumerate(columns)
            ]
            others = [part.columns[name] for name in part.columns if part.is_text(name) and name not in columns[:1]]
            text = ", ".join([NUMBER, *names, *others[:_MOST_TEXTS]])
            rows = self._ask(f"SELECT {text} FROM {part.numbered()} ORDER BY {NUMBER} LIMIT {most + 1}")
            if len(rows) > most:
                return None
            width = 1 + len(names)
            within = part.within(several=len(self._parts) > 1)
            placed_rows.append(
                [
                    part.marks.placed(
                        row[0],
                        f"{within}{part.unit} {row[0]}",
                        row[1:width],
                        columns[0] if columns else None,
                        total_in(row[width:]),
                    )
                    for row in rows
                ]
            )
        return placed_rows

    def is_short(self, most: int) -> bool:
        """Whether no file has more records than that."""
        if len(self._parts) > _MOST_FILES:
            return False  # a log in pieces
        if self._told_rows is not None and not most < self._told_rows <= most * len(self._parts):
            return self._told_rows <= most  # known without a question
        texts = (f"SELECT count(*) FROM (SELECT 1 FROM {part.table} LIMIT {most + 1})" for part in self._parts)
        return all(self._ask(sql)[0][0] <= most for sql in texts)

    def without(self, places: Sequence[Sequence[Any]], remark: Note) -> DuckRecords:
        """Return the records without those in some places; see `Records.without`."""
        records = self._left(remark)
        records.__dict__["_parts"] = [part.without(rows) for part, rows in zip(self._parts, places, strict=True)]
        return records  # type: ignore[return-value]

    def without_label(self, column: str, value: Any, remark: Note) -> DuckRecords:
        """Return the records without those that have a value in a column."""
        records = self._left(remark)
        records.__dict__["_parts"] = [part.without_text(column, str(value)) for part in self._parts]
        return records  # type: ignore[return-value]

    def with_pairs(self, columns: Sequence[str]) -> tuple[DuckRecords, str]:
        """Return the records with a column of the labels of several."""
        records, name = copy(self), BETWEEN.join(columns)
        records.__dict__["_parts"] = [part.with_pairs(columns, name) for part in self._parts]
        return records, name

    def check_labels(self, column: str) -> None:
        """Raise `SourceError` if a label is a formula whose result was never saved."""
        for part in self._parts:
            if column in part.unsaved:
                raise SourceError(
                    f"{self.place}, {part.within(several=False)}{part.unsaved[column]} is a formula whose result was "
                    "never saved: open the workbook in the program that made it, and save it there"
                )

    def with_dittos(self, column: str, remark: Note) -> DuckRecords | None:
        """Return the records with marks such as ditto as the label above them."""
        if not all(part.is_text(column) for part in self._parts):
            return None
        records = self._left(remark)
        records.__dict__["_parts"] = [part.with_dittos(column) for part in self._parts]
        return records  # type: ignore[return-value]

    def without_part(self, name: str, remark: Note) -> DuckRecords:
        """Return the records without those of a sheet."""
        records = self._left(remark)
        records.__dict__["_parts"] = [part for part in self._parts if part.sheet != name]
        return records  # type: ignore[return-value]

    def part_names(self) -> list[str]:
        """Return the names of sheets that are read together."""
        sheets = [part.sheet for part in self._parts]
        return sheets if len(sheets) > 1 and all(sheets) else []

    def _sums_sql(
        self,
        keys: Sequence[str],
        amount: str,
        results: str,
        second: str | None = None,
        *,
        trimmed: bool = True,
        beside: str = "",
    ) -> str:
        values = "".join(f"k{place}, " for place in range(len(keys)))
        grouped = f"GROUP BY {values[:-2]}" if keys else ""
        source = self._from(keys, amount, second, trimmed=trimmed)
        source = f"(SELECT *, {beside} FROM {source})" if beside else source
        return f"SELECT {values}{results} FROM {source} {grouped}"

    def products(self, keys: Sequence[str], count: str, weight: str) -> list[Group]:
        """Multiply and add up in the engine where that is exact; see `Records.products`."""
        self._check_every_file(count, weight)
        values = self._products_there(keys, count, weight) if count != weight else None
        return self._products_here(keys, count, weight) if values is None else values

    def _products_there(self, keys: Sequence[str], count: str, weight: str) -> list[Group] | None:
        """Return the products as the engine works them out; None where it cannot, or not exactly."""
        texts = {name: name == count for name in (count, weight) if self._all_text(name)}
        aliases = {count: "v", weight: "w"}
        typed = {name: typed_factor(alias, self._kinds(name)) for name, alias in aliases.items() if name not in texts}
        if None in typed.values():
            return None
        if not texts:
            results, _ = product_results(typed[count], typed[weight])
            return self._exactly(self._sums_sql(keys, count, results, weight)) if results else None

        def results_of(*readings: NumberReading, shapes: Sequence[tuple[int, int]] = ()) -> ResultSql:
            factors = dict(typed)
            for name, reading, shape in zip(texts, readings, shapes or (None, None), strict=False):
                alias = aliases[name]
                factors[name] = text_factor(alias, reading, shape) if shape else written_factor(alias, reading)
            return product_results(factors[count], factors[weight])

        usual = [MULTIPLIED] * len(texts)
        values = self._fused(keys, texts, partial(results_of, shapes=usual), count, weight, first=results_of)
        if values is None:
            values = self._fused(keys, texts, partial(results_of, shapes=self._shapes(texts)), count, weight)
        return values

    def first_values(self, column: str) -> Sequence[Any]:
        """Return the different values in the order of their first records, file by file."""
        first_values: dict[Any, None] = {}
        for part in self._parts:
            value, source = part.columns[column], self._filtered(part)
            numbered = f"SELECT {value} AS k, row_number() OVER () AS n FROM {source}"
            for label, _ in self._ask(f"SELECT k, min(n) AS first FROM ({numbered}) GROUP BY k ORDER BY first"):
                first_values.setdefault(label, None)
        return list(first_values)

    def units(self, keys: Sequence[str], unit: str) -> list[Group]:
        """Return numbers of different units; see `Records.units`."""
        if not all(part.is_text(unit) for part in self._parts):
            return super().units(keys, unit)
        return self._ask(self._sums_sql(keys, unit, "count(DISTINCT v), count(*) - count(v)"))

    def extremes(self, keys: Sequence[str], value: str) -> list[Group]:
        """Return the smallest and largest numbers; see `Records.extremes`."""
        if not all(INTEGERS.fullmatch(part.kinds[value]) for part in self._parts):
            return super().extremes(keys, value)
        return [group for group in self._ask(self._sums_sql(keys, value, "min(v), max(v)")) if group[-1] is not None]

    def values_in_order(self, column: str, *, numbers: bool = False) -> Iterable[tuple[str, Any]]:
        """Yield records file by file, each with its number or sheet row; plain numbers only if they are asked for."""
        return chain.from_iterable(self._odd_values(part, column, numbers) for part in self._parts)

    def _odd_values(self, part: Part, column: str, numbers: bool) -> Iterable[tuple[str, Any]]:
        within = part.within(several=len(self._parts) > 1)
        value = part.number(column) if part.is_text(column) else part.columns[column]
        number_reading = next((reading for (name, _), (reading, _) in self._known().items() if name == column), None)
        plain = PLAIN_NUMBER if number_reading is None else number_reading.pattern()
        odd = "true" if numbers else f"NOT regexp_full_match(v::VARCHAR, {literal(plain)})"
        row = part.row_column or "row_number() OVER ()"
        rows = self._ask(
            f"SELECT n, v FROM (SELECT {row} AS n, {value} AS v FROM {part.table}) WHERE v IS NULL OR {odd}"
        )
        return ((f"{within}{part.unit} {place}", text) for place, text in rows)

    def _from(
        self, keys: Sequence[str], amount: str | None = None, second: str | None = None, *, trimmed: bool = True
    ) -> str:
        """Return the SQL of all files together: the keys as k0, k1 ..., the amount as v, a second one as w."""
        selects = []
        for part in together(self._parts):
            texts = [f"{part.columns[key]} AS k{place}" for place, key in enumerate(keys)]
            for name, alias in ((amount, "v"), (second, "w")):
                if name is not None:
                    is_number = part.is_text(name) and (trimmed or name in part.read)
                    texts.append(f"{part.number(name) if is_number else part.columns[name]} AS {alias}")
            selects.append(f"SELECT {', '.join(texts) or '1 AS one'} FROM {self._filtered(part)}")
        return f"({' UNION ALL '.join(selects)})"

    def _failed(self, error: Exception) -> SourceError:
        message = str(error)
        if is_undecodable(message):
            return UndecodableError(f"'{self.shown}' holds bytes that are not UTF-8 text; save it as UTF-8")
        several = next((part.shown for part in self._parts if str(part.path) in message), self.shown or "")
        return SourceError(in_words(message, several, self.where, self.names()))

    def _ask(self, sql: str) -> list[Group]:
        try:
            return self._engine.ask(sql)
        except duckdb().Error as error:
            raise self._failed(error) from None
