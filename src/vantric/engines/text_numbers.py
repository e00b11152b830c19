"""Columns of text that are added up as numbers: read in the engine, in the scan that verifies the reading.

A style is decided from a sample, and the scan that adds up tells whether every cell fits it. If one does not, the cells
that do not fit are looked up, and the style is decided anew.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence, Set
from dataclasses import replace

from vantric.base.lazily import compiled, dataclass
from vantric.core.counts.provenance import Note
from vantric.engines.duckdb_engine import DuckDBEngine, duckdb, literal
from vantric.engines.file_parts import Part, together
from vantric.errors import AmountError, SourceError
from vantric.reading.durations import is_odd_number
from vantric.reading.number_column import DASHES, Doubt, DoubtError, NumberReading, decide
from vantric.reading.number_style import DigitStyle, cell_of
from vantric.reading.records import Group, Records

#: Cells from which a style is decided first.
_SAMPLE = 20000
_FIRST = 2000  # of the sample, which show whether a column is plain
_MOST_CELLS = 1000  # different ones, from which a style is decided
#: How often a style is decided anew; a column needs two or three.
_MOST_ATTEMPTS = 8
#: Whole numbers; digits with a point; a point that divides no thousands.
_PLAIN_KINDS = (
    ("bool_and", r"[+-]?[0-9]{1,18}"),
    ("bool_and", r"[+-]?[0-9]{1,18}(\.[0-9]{0,9})?"),
    ("bool_or", r"[+-]?([0-9]+\.([0-9]{1,2}|[0-9]{4,9})|(0[0-9]*|[0-9]{4,})\.[0-9]{1,9})"),
)

#: The SQL of results, and of what stands beside the columns that they are of; both empty where they cannot be.
ResultSql = tuple[str, str]
TextResults = Callable[..., ResultSql]
INTEGERS = compiled(r"U?(TINY|SMALL|BIG)?INT(EGER)?|HUGEINT|UHUGEINT")
_MOST_DIGITS = 38  # of a decimal of the engine


#: Digits before and behind the point, up to which text is added up in the engine, and multiplied, at the first try.
SUMMED, MULTIPLIED = (18, 9), (9, 5)
_MOST_WHOLE = 20  # digits before the point where those behind it were looked up


def text_results(
    reading: NumberReading, *, free: bool, squares: bool = False, shape: tuple[int, int] = SUMMED
) -> ResultSql:
    """Return the SQL of (valid, sum, perhaps squares, whether all cells fit): digits are added up as decimals."""
    return _results_of(text_factor("v", reading, shape, free=free), squares=squares)


def written_results(reading: NumberReading, *, squares: bool) -> ResultSql:
    """Return the results of `text_results` for numbers as the engine writes them, which it reads in less time."""
    factor = written_factor("v", reading)
    return _results_of(factor, squares=squares) if factor is not None else ("", "")


def _results_of(factor: Factor, *, squares: bool) -> ResultSql:
    more = f"{squared_sql(factor.double)}, " if squares else ""
    return f"count(v), coalesce(sum({factor.exact}), 0), {more}bool_and({factor.fits})", factor.beside


def squared_sql(number: str) -> str:
    """Return the SQL of the sum of the squares of a double."""
    return f"coalesce(sum({number} * {number}), 0)"


@dataclass(frozen=True)
class Factor:
    """The SQL of a column that is added up or multiplied.

    Attributes
    ----------
    fits
        Whether a cell is a number that the engine adds up rightly.
    exact
        It as a decimal or an integer; empty for floats.
    double
    decimals
        How many `exact` has behind the point.
    beside
        What `exact` names, worked out once beside the column.
    """

    fits: str
    exact: str
    double: str
    decimals: int = 0
    beside: str = ""


def text_factor(value: str, reading: NumberReading, shape: tuple[int, int], *, free: bool = False) -> Factor:
    """Return a column of text, its cells of so many digits before and behind the point at most."""
    whole, decimals = shape
    # Of fewer than 19 digits each the engine would multiply in 64 bits, and fail on products that 128 hold.
    width = 19 if shape == MULTIPLIED else 38
    pattern = reading.pattern(whole=f"{{1,{whole}}}", decimals=f"{{0,{decimals}}}", free=free)
    fits = f"coalesce(regexp_full_match({value}, {literal(pattern)}), {'true' if free else 'false'})"
    number = f"TRY_CAST({number_sql(reading, value)} AS DECIMAL({width}, {decimals}))"
    return Factor(fits, f"{value}_n", f"{value}_n::DOUBLE", decimals, f"{number} AS {value}_n")


def written_factor(value: str, reading: NumberReading) -> Factor | None:
    """Return a column of plain text whose cells are as the engine writes them; None where the style is another."""
    if not reading.is_plain:
        return None
    number, decimals = f"{value}_n", 5 if reading.style.decimal else 0
    # Written with all its decimals, a number begins with its cell, unless that has another sign in it, or more digits.
    alike = f"prefix({number}::VARCHAR, {value})" if decimals else f"{number}::VARCHAR = {value}"
    beside = f"TRY_CAST({value} AS {f'DECIMAL(18, {decimals})' if decimals else 'BIGINT'}) AS {number}"
    exact = f"{number}::DECIMAL(19, {decimals})" if decimals else number  # so that products have 128 bits
    return Factor(f"coalesce({alike} AND {number} >= 0, false)", exact, f"{number}::DOUBLE", decimals, beside)


def typed_factor(value: str, kinds: Set[str]) -> Factor | None:
    """Return a column of one of the engine's types; None where it does not add up as it stands."""
    fits = f"({value} IS NOT NULL AND {value} >= 0)"
    if kinds <= {"FLOAT", "DOUBLE"}:
        return Factor(f"coalesce({fits} AND abs({value}::DOUBLE) <= 1e300, false)", "", f"{value}::DOUBLE")
    if kinds == {"BOOLEAN"}:
        return Factor(f"{value} IS NOT NULL", f"{value}::HUGEINT", f"{value}::INTEGER::DOUBLE")
    if all(INTEGERS.fullmatch(kind) for kind in kinds):
        return Factor(fits, f"{value}::HUGEINT", f"{value}::DOUBLE")
    scale = re.fullmatch(r"DECIMAL\(\d+,\s*(\d+)\)", next(iter(kinds))) if len(kinds) == 1 else None
    if scale is None:
        return None
    return Factor(fits, f"{value}::DECIMAL(38, {scale[1]})", f"{value}::DOUBLE", int(scale[1]))


def product_results(count: Factor | None, weight: Factor | None) -> ResultSql:
    """Return the SQL of (records, counts, products, squares, whether all is exact); empty where it cannot be."""
    if count is None or weight is None or count.decimals + weight.decimals > _MOST_DIGITS:
        return "", ""
    product, fits = f"{count.double} * {weight.double}", f"{count.fits} AND {weight.fits}"
    counted = f"coalesce(sum({count.exact}), 0)" if count.exact else f"fsum({count.double})"
    if count.exact and weight.exact:
        pair = [_as_decimal(factor, count.decimals + weight.decimals) for factor in (count, weight)]
        total = f"coalesce(sum({' * '.join(pair)}), 0)"
    else:
        fits, total = f"{fits} AND abs({product}) <= 1e300", f"fsum({product})"
    beside = ", ".join(filter(None, (count.beside, weight.beside)))
    return f"count(*), {counted}, {total}, {squared_sql(f'({product})')}, bool_and({fits})", beside


def _as_decimal(factor: Factor, decimals: int) -> str:
    """Return a factor in a form that multiplies with a decimal: of integers alone it stays one."""
    return f"({factor.exact})::DECIMAL(38, 0)" if decimals and not factor.decimals else factor.exact


def number_sql(reading: NumberReading, value: str) -> str:
    """Return the SQL of a cell that fits a reading as the text of a plain number."""
    style = reading.style
    if reading.is_plain:
        return value
    digits = value
    for text in reading.removed:
        digits = f"replace({digits}, {literal(text)}, '')"
    if style.decimal == ",":
        digits = f"replace({digits}, ',', '.')"
    if not reading.signs:
        return digits
    negative = " OR ".join(f"contains({value}, {literal(sign)})" for sign in "(-−–")
    return f"CASE WHEN {negative} THEN '-' || {digits} ELSE {digits} END"


def _fits(reading: NumberReading, text: str) -> bool:
    try:
        reading.value(text)
    except ValueError:  # the engine looks the cell up
        return False
    return True


class TextNumbers(Records):
    """Records of files whose columns of text may be numbers."""

    _engine: DuckDBEngine
    _parts: list[Part]
    _evidence: dict[str, dict[str, None]]
    _plain: dict[str, NumberReading | None]  # how a column's first cells are read, if they are plain

    def _ask(self, sql: str) -> list[Group]:
        """Run a query."""
        raise NotImplementedError

    def _failed(self, error: Exception) -> SourceError:
        """Return the engine's complaint in words."""
        raise NotImplementedError

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
        """Return the SQL of results by keys: the amount is v, a second one w, and what stands beside them."""
        raise NotImplementedError

    def _all_text(self, *names: str) -> bool:
        return all(part.is_text(name) for part in self._parts for name in names)

    def _exactly(self, sql: str) -> list[Group] | None:
        """Return groups without their last value, which says whether all is exact; None if not."""
        try:
            groups = self._engine.ask(sql)
        except (duckdb().OutOfRangeException, duckdb().ConversionException):
            return None  # beyond what the engine can hold
        except duckdb().Error as error:
            raise self._failed(error) from None
        return [group[:-1] for group in groups] if groups and all(group[-1] for group in groups) else None

    def _fused(
        self,
        keys: Sequence[str],
        columns: Mapping[str, bool],
        results: TextResults,
        *added: str,
        first: TextResults | None = None,
    ) -> list[Group] | None:
        """Add up text in the scan that verifies how it is read; anew, with what did not fit, until all fits.

        Parameters
        ----------
        keys
        columns
            One or two columns of text -> whether they are counts.
        results
            Makes the SQL of the results, the last one whether all cells fit, of a reading a column.
        added
            The columns that are added up or multiplied, where others than these are among them.
        first
            Makes the SQL that is tried first, of plain columns; empty where it cannot be.
        """
        names = list(columns)
        pair = added or tuple(names)
        self._plainly(*names)  # of both at once
        for attempt in range(_MOST_ATTEMPTS):
            readings = [self._guess(name, counted=counted) for name, counted in columns.items()]
            if any(reading.powers or reading.dashes for reading in readings):
                return None
            (sql, beside), values = results(*readings), None
            if sql and not attempt and all(reading.is_plain for reading in readings):  # few cells have spaces around
                for text, more in (*((first(*readings),) if first else ()), (sql, beside)):
                    if text and values is None:
                        asked_for = self._sums_sql(keys, pair[0], text, *pair[1:], trimmed=False, beside=more)
                        values = self._exactly(asked_for)
            if sql and values is None:
                values = self._exactly(self._sums_sql(keys, pair[0], sql, *pair[1:], beside=beside))
            if values is not None:
                for (name, counted), reading in zip(columns.items(), readings, strict=True):
                    self._known()[name, counted] = self._noted(name, reading)
                return values
            if not any(self._learn(name, reading) for name, reading in zip(names, readings, strict=True)):
                return None
        return None

    def _shapes(self, columns: Mapping[str, bool]) -> list[tuple[int, int]]:
        """Return how many digits cells of columns of text may have, those behind the point as many as there are."""
        shapes = []
        for column, counted in columns.items():
            mark = self._guess(column, counted=counted).style.decimal
            digits = f"max(length(regexp_extract(v, {literal(f'[{mark}]([0-9]+)')}, 1)))" if mark else "max(0)"
            [(decimals,)] = self._ask(f"SELECT {digits} FROM {self._unfiltered(column)}")
            shapes.append((_MOST_WHOLE, int(decimals or 0)))
        return shapes

    def _guess(self, column: str, *, counted: bool) -> NumberReading:
        """Return how a column is read as far as is known: from a sample, and from what did not fit before."""
        for part in self._parts:
            read = part.read.get(column)
            if read is not None and read.refused is not None and not (counted and read.as_counts):
                raise read.refused
        if (column, counted) in self._known():
            return self._known()[column, counted][0]
        if all(column in part.read for part in self._parts):
            self._evidence.setdefault(column, {})
            return NumberReading(DigitStyle("", "."))
        if column not in self._evidence:
            plain = self._plainly(column)
            if plain is not None:
                return plain
            sample = f"SELECT v FROM {self._unfiltered(column)} LIMIT {_SAMPLE}"
            rows = self._ask(f"SELECT DISTINCT v FROM ({sample}) WHERE v IS NOT NULL LIMIT {_MOST_CELLS}")
            self._evidence[column] = {str(value): None for (value,) in rows}
        cells = self._evidence[column]
        while True:
            try:
                texts = [text for text in cells if cell_of(text) or text.strip() in DASHES or is_odd_number(text)]
                return decide(texts, digit_style=self._style(), heading=column)
            except DoubtError as doubt:  # a bigger sample may decide it
                if doubt.doubt is not Doubt.AMBIGUOUS or not self._decider(column, doubt):
                    return self._decided(column, list(cells), counted=counted)

    def _plainly(self, *columns: str) -> NumberReading | None:
        """Return how digits, or digits and points that nothing but decimals have, are read; else None.

        Those are looked for among the first cells of one or two columns; what is returned is of the first column.
        """
        if self.rules.read_numbers:
            return None
        if any(column not in self._plain for column in columns):
            checks = [f"coalesce({of}(regexp_full_match(v, {literal(kind)})), false)" for of, kind in _PLAIN_KINDS]
            both = ", ".join(check.replace("(v,", f"({value},") for value in "vw"[: len(columns)] for check in checks)
            [facts] = self._ask(f"SELECT {both} FROM (SELECT * FROM {self._unfiltered(*columns)} LIMIT {_FIRST})")
            for place, column in enumerate(columns):
                whole, plain, sure = facts[3 * place : 3 * place + 3]
                decimals = NumberReading(DigitStyle("", ".")) if plain and sure else None
                self._plain[column] = NumberReading() if whole else decimals
        return self._plain[columns[0]]

    def _decider(self, column: str, doubt: DoubtError) -> bool:
        """Look through the whole column for a cell that fits one style only, or that has no mark."""
        digit_style, other = doubt.styles[0], doubt.styles[-1]
        mark = digit_style.group or other.group
        alike = [
            NumberReading(style, decide(doubt.cells, digit_style=style).units).pattern(free=True)
            for style in (digit_style, other)
        ]
        unlike = " OR ".join(f"NOT regexp_full_match(v, {literal(kind)})" for kind in alike)
        texts = self._more(column, unlike, _MOST_CELLS) + self._more(column, f"NOT contains(v, {literal(mark)})", 1)
        before = len(self._evidence[column])
        self._evidence[column].update(dict.fromkeys(texts))
        return len(self._evidence[column]) > before

    def _learn(self, column: str, reading: NumberReading) -> bool:
        """Take cells that do not fit a reading among the evidence; return whether there are new ones."""
        texts = self._more(column, f"NOT regexp_full_match(v, {literal(reading.pattern(free=True))})", _MOST_CELLS)
        examples = self._evidence.setdefault(column, {})
        if not examples:  # a sample was plain throughout: now its cells count as well
            examples.update(dict.fromkeys(self._more(column, "true", _MOST_CELLS)))
        fresh = [text for text in texts if text not in examples and not _fits(reading, text)]
        examples.update(dict.fromkeys(fresh))
        return bool(fresh)

    def _more(self, column: str, condition: str, most: int) -> list[str]:
        rows = self._ask(
            f"SELECT DISTINCT v FROM {self._unfiltered(column)} WHERE v IS NOT NULL AND ({condition}) LIMIT {most}"
        )
        return [str(value) for (value,) in rows]

    def number_reading(self, column: str, *, counted: bool = False) -> NumberReading:
        """Return how a column is read; see `Records.number_reading`."""
        if not self._all_text(column):
            return NumberReading()
        for _ in range(_MOST_ATTEMPTS):
            reading = self._guess(column, counted=counted)
            if (column, counted) in self._known() or not self._learn(column, reading):
                break
        self._known().setdefault((column, counted), self._noted(column, reading))
        return self._known()[column, counted][0]

    def _noted(self, column: str, reading: NumberReading) -> tuple[NumberReading, tuple[Note, ...]]:
        before, notes = super()._noted(column, reading)
        read = [remark for part in self._parts if column in part.read for remark in part.read[column].remarks]
        units = {part.read[column].reading.units for part in self._parts if column in part.read} - {()}
        if units and not before.units:
            before = replace(before, units=next(iter(units)))
        return before, (*notes, *dict.fromkeys(read))

    def _unfiltered(self, *columns: str) -> str:
        """Return the SQL of all cells of a column, as v, and of a second one, as w."""
        selects = []
        for part in together(self._parts):
            cells = ", ".join(f"{part.number(column)} AS {value}" for column, value in zip(columns, "vw", strict=False))
            selects.append(f"SELECT {cells} FROM {part.table}")
        return f"({' UNION ALL '.join(selects)})"

    def _styled(self, name: str) -> NumberReading | None:
        """Return how a column of numbers that are not plain is read; None if it is no such column."""
        if not self._all_text(name):
            return None
        try:
            reading = self._guess(name, counted=False)
        except AmountError:  # the general way says what is wrong with it
            return None
        unfit = f"NOT regexp_full_match(v, {literal(reading.pattern(free=True))})"
        return None if reading.is_plain or reading.powers or self._more(name, unfit, 1) else reading
