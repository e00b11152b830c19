"""Files, read and grouped by DuckDB out of core: only the counts come over."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from copy import copy
from functools import partial
from itertools import chain
from typing import Any

import duckdb

from vantric.core.counting.remark import Remark
from vantric.errors import SourceError
from vantric.sources.engines.conditioned import ConditionedFiles
from vantric.sources.engines.engine import Engine, literal
from vantric.sources.engines.filemessages import in_words, is_undecodable, without_column
from vantric.sources.engines.parts import NUMBER, Part, aligned, together
from vantric.sources.engines.plaintext import Workshop
from vantric.sources.engines.textnumbers import product_results, text_results
from vantric.sources.engines.typednumbers import INTEGERS
from vantric.sources.options import Opening, check_columns
from vantric.sources.reading.records import Group, PlacedRow, total_in

#: Numbers that are plain in themselves, and need no style.
_PLAIN = r"[+]?[0-9]{1,18}(\.[0-9]{0,9})?"
_MOST_FILES = 60  # that may each be a short sheet with a total of its own
_MOST_TEXTS = 12  # columns of text in which a total may say that it is one


class UndecodableError(SourceError):
    """The engine met bytes that are not UTF-8; the file is to be written again and asked again."""


class DuckRecords(ConditionedFiles):
    """The records of one file or several, under a condition.

    Parameters
    ----------
    engine
        The connection that may open the files.
    parts
        The files; each must have the columns that are asked for.
    shown
        What messages call them together.
    opening
        The condition, and whether it may call any function.
    workshop
        The folder of what was written to be read; it is closed with the records.
    """

    def __init__(
        self,
        engine: Engine,
        parts: Sequence[Part],
        shown: str,
        opening: Opening,
        workshop: Workshop,
        remarks: Sequence[Remark] = (),
    ) -> None:
        self.shown, self.where, self._said = shown, opening.where, tuple(remarks)
        self.rules, self.delimiter = opening.rules(), next((part.delimiter for part in parts), "")
        self._evidence: dict[str, dict[str, None]] = {}
        self._tables: list[str] = []
        self._parts, self._workshop = aligned(parts), workshop
        self._engine = engine
        if opening.where is not None:
            self._check_where(opening.where, any_function=opening.allow_functions)

    def under(self, opening: Opening) -> DuckRecords:
        """Return the same records under a condition, with nothing that was worked out without it, and new time."""
        self._engine.until = opening.limits().until
        found = copy(self)
        found.where = opening.where
        found.__dict__.update(_evidence={}, _found={}, _summed={})
        if opening.where is not None:
            found._check_where(opening.where, any_function=opening.allow_functions)
        return found

    def close(self) -> None:
        """Let go of the files and of what was written."""
        self._engine.close()
        self._workshop.close()

    def names(self) -> tuple[str, ...]:
        """Return the names of the columns."""
        return tuple(self._parts[0].columns)

    def check(self, wanted: Sequence[str]) -> None:
        """Raise `ColumnError` if no file has a wanted column; report one that some lack."""
        check_columns(wanted, self.names(), f"'{self.shown if len(self._parts) > 1 else self._parts[0].shown}'")
        for name in dict.fromkeys(wanted):
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
        found: list[Group] = []
        for part in self._parts:
            if len(found) < rows:
                chosen = ", ".join(part.columns.values())
                found += self._ask(f"SELECT {chosen} FROM {self._filtered(part)} LIMIT {rows - len(found)}")
        return found

    def sums(
        self, keys: Sequence[str], amount: str, *, free: bool = False, counted: bool = True, squares: bool = False
    ) -> list[Group]:
        """Return exact sums; see `Records.sums`."""
        if not free:
            self._check_every_file(amount)
        if self._all_text(amount):
            wanted = partial(text_results, free=free, squares=squares)
            found = self._fused(keys, {amount: counted and not free}, wanted)
        else:
            found = self._typed_sums(keys, amount, free=free, squares=squares)
        if found is None:
            return self._sums_here(keys, amount, free=free, counted=counted, squares=squares)
        return found

    def rows_in_order(self, columns: Sequence[str], most: int) -> list[list[PlacedRow]] | None:
        """Return all records of each file; see `Records.rows_in_order`."""
        found = []
        for part in (one.entire or one for one in self._parts):
            wanted = [part.number(name) if place and part.is_text(name) else part.columns[name]
                      for place, name in enumerate(columns)]  # fmt: skip
            others = [part.columns[name] for name in part.columns if part.is_text(name) and name not in columns[:1]]
            chosen = ", ".join([NUMBER, *wanted, *others[:_MOST_TEXTS]])
            rows = self._ask(f"SELECT {chosen} FROM {part.numbered()} ORDER BY {NUMBER} LIMIT {most + 1}")
            if len(rows) > most:
                return None
            width = 1 + len(wanted)
            within = part.within(several=len(self._parts) > 1)
            found.append([
                PlacedRow(row[0], f"{within}{part.unit} {row[0]}", row[1:width], total_in(row[width:]),
                          tuple(name for name in part.sums if row[0] in part.sums[name])) for row in rows
            ])  # fmt: skip
        return found

    def is_short(self, most: int) -> bool:
        """Whether no file has more records than that."""
        if len(self._parts) > _MOST_FILES:
            return False  # a log in pieces
        asked = (f"SELECT count(*) FROM (SELECT 1 FROM {part.table} LIMIT {most + 1})" for part in self._parts)
        return all(self._ask(sql)[0][0] <= most for sql in asked)

    def without(self, places: Sequence[Sequence[Any]], remark: Remark) -> DuckRecords:
        """Return the records without those in some places; see `Records.without`."""
        found = self._left(remark)
        found.__dict__["_parts"] = [part.without(rows) for part, rows in zip(self._parts, places, strict=True)]
        return found  # type: ignore[return-value]

    def _sums_sql(self, keys: Sequence[str], amount: str, results: str, second: str | None = None) -> str:
        values = "".join(f"k{place}, " for place in range(len(keys)))
        grouped = f"GROUP BY {values[:-2]}" if keys else ""
        return f"SELECT {values}{results} FROM {self._from(keys, amount, second)} {grouped}"

    def products(self, keys: Sequence[str], count: str, weight: str) -> list[Group]:
        """Multiply and add up in the engine where that is exact; see `Records.products`."""
        self._check_every_file(count, weight)
        if self._all_text(count, weight) and count != weight:
            found = self._fused(keys, {count: True, weight: False}, product_results)
        else:
            results = self._typed_products(count, weight)
            found = None if results is None else self._exactly(self._sums_sql(keys, count, results, weight))
        return self._products_here(keys, count, weight) if found is None else found

    def first_values(self, column: str) -> Sequence[Any]:
        """Return the different values in the order of their first records, file by file."""
        found: dict[Any, None] = {}
        for part in self._parts:
            value, source = part.columns[column], self._filtered(part)
            numbered = f"SELECT {value} AS k, row_number() OVER () AS n FROM {source}"
            for label, _ in self._ask(f"SELECT k, min(n) AS first FROM ({numbered}) GROUP BY k ORDER BY first"):
                found.setdefault(label, None)
        return list(found)

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
        known = next((reading for (name, _), (reading, _) in self._known().items() if name == column), None)
        plain = _PLAIN if known is None else known.pattern()
        odd = "true" if numbers else f"NOT regexp_full_match(v::VARCHAR, {literal(plain)})"
        row = part.row_column or "row_number() OVER ()"
        rows = self._ask(
            f"SELECT n, v FROM (SELECT {row} AS n, {value} AS v FROM {part.table}) WHERE v IS NULL OR {odd}"
        )
        return ((f"{within}{part.unit} {place}", text) for place, text in rows)

    def _from(self, keys: Sequence[str], amount: str | None = None, second: str | None = None) -> str:
        """Return the SQL of all files together: the keys as k0, k1 ..., the amount as v, a second one as w."""
        selects = []
        for part in together(self._parts):
            chosen = [f"{part.columns[key]} AS k{place}" for place, key in enumerate(keys)]
            for name, alias in ((amount, "v"), (second, "w")):
                if name is not None:
                    value = part.number(name) if part.is_text(name) else part.columns[name]
                    chosen.append(f"{value} AS {alias}")
            selects.append(f"SELECT {', '.join(chosen) or '1 AS one'} FROM {self._filtered(part)}")
        return f"({' UNION ALL '.join(selects)})"

    def _failed(self, error: duckdb.Error) -> SourceError:
        message = str(error)
        if is_undecodable(message):
            return UndecodableError(f"'{self.shown}' holds bytes that are not UTF-8 text; save it as UTF-8")
        several = next((part.shown for part in self._parts if str(part.path) in message), self.shown or "")
        return SourceError(in_words(message, several, self.where, self.names()))

    def _ask(self, sql: str) -> list[Group]:
        try:
            return self._engine.ask(sql)
        except duckdb.Error as error:
            raise self._failed(error) from None
