"""Sheets of a workbook, through XlsxWriter: text as text, numbers with their format, printed one page wide."""

from __future__ import annotations

import io
import math
import threading
from collections.abc import Sequence
from decimal import ROUND_HALF_UP, Decimal
from typing import Any

import xlsxwriter
from xlsxwriter.worksheet import Worksheet

from vantric.base.safe_files import MADE
from vantric.base.safe_text import markup
from vantric.core.messages.formatter import PLAIN, Formatter
from vantric.core.numbers.number_format import decimals_of
from vantric.errors import TargetError
from vantric.tables.table import Column, Table

#: The largest sheet, the longest cell, and widths of columns in signs.
_ROWS, _LONGEST, _WIDEST, _NARROWEST = 1_048_000, 32_767, 60, 9
#: Larger integers are no longer exact in a sheet.
_EXACT = 2**53
#: XlsxWriter warns through a global filter while it closes.
_CLOSING = threading.Lock()
#: A text that begins so would be a formula.
_STARTS = ("=", "+", "-", "@")
PERCENT = "0.0%"


class _Page(Worksheet):  # type: ignore[misc]
    """A worksheet whose formulas are written as they are: none of ours has a function that came after the standard.

    Looking for such functions takes two thirds of the time of a workbook of 5,000 categories.
    """

    def _prepare_formula(self, formula: str, expand_future_functions: bool = False) -> str:
        return formula.removeprefix("=")


class WorkbookWriter:
    """A workbook that is being written."""

    def __init__(self, title: str, about: str, local: Formatter = PLAIN) -> None:

        self._out = io.BytesIO()
        plain = {"strings_to_formulas": False, "strings_to_numbers": False, "strings_to_urls": False}
        self.book: Any = xlsxwriter.Workbook(self._out, {"in_memory": True, **plain})
        self.book.set_properties(
            {"title": _text(title)[:255], "comments": _text(about)[:2000], "author": "Vantric", "created": MADE}
        )
        self._formats: dict[tuple[tuple[str, Any], ...], Any] = {}
        self._names: set[str] = set()
        self.local = local

    def format(self, **properties: Any) -> Any:
        """Return a format, made once."""
        key = tuple(sorted(properties.items()))
        if key not in self._formats:
            self._formats[key] = self.book.add_format(properties)
        return self._formats[key]

    def sheet(self, name: str) -> WorkbookSheet:
        """Return a new sheet whose name is as near to the wanted one as workbooks allow."""
        own = self.free(name)
        self._names.add(own.casefold())
        return WorkbookSheet(self, own)

    def free(self, name: str) -> str:
        """Return the name that a sheet would have."""
        return sheet_name(self.local.text(name), self._names)

    def content(self) -> bytes:
        """Return the workbook; its library changes the filters of warnings while it closes one, and puts them back."""
        with _CLOSING:
            self.book.close()
        return self._out.getvalue()


class WorkbookSheet:
    """One sheet: rows and columns are counted from zero."""

    def __init__(self, book: WorkbookWriter, name: str) -> None:
        self.book, self.name = book, name
        self.page: Any = book.book.add_worksheet(name, _Page)
        self.page.set_landscape()
        self.page.set_paper(9)
        self.page.fit_to_pages(1, 0)
        self.page.set_margins(left=0.5, right=0.5, top=0.6, bottom=0.6)
        self.page.set_footer("&L&A&RPage &P of &N")

    def text(self, row: int, column: int, text: str, **form: Any) -> None:
        """Write a text, whatever it begins with."""
        plain = _text(self.book.local.text(text))
        quoted = {"quote_prefix": True} if plain.startswith(_STARTS) else {}
        self.page.write_string(row, column, plain, self.book.format(**form, **quoted))

    def value(self, row: int, column: int, value: Any, **form: Any) -> None:
        """Write a value: numbers as numbers, integers beyond doubles as text, nothing as an empty cell."""
        if value is None:
            self.page.write_blank(row, column, None, self.book.format(**form))
        elif (
            isinstance(value, bool)
            or not isinstance(value, (int, float))
            or (isinstance(value, int) and abs(value) > _EXACT)
            or not math.isfinite(value)
        ):
            self.text(row, column, value if isinstance(value, str) else str(value), **form)
        else:
            self.page.write_number(row, column, value, self.book.format(**form))

    def formula(self, row: int, column: int, formula: str, value: Any, **form: Any) -> None:
        """Write a formula, with the value that it has now for readers that do not calculate."""
        self.page.write_formula(row, column, formula, self.book.format(**form), value)

    def headings(self, row: int, names: Sequence[str], left: frozenset[int] = frozenset({0})) -> None:
        """Write the row of headings, which stays in view and is printed on every page."""
        for index, name in enumerate(names):
            side = "left" if index in left else "right"
            self.text(row, index, name, bold=True, bottom=2, text_wrap=True, valign="bottom", align=side)
        self.page.freeze_panes(row + 1, 0)
        self.page.repeat_rows(row)

    def widths(self, columns: Sequence[tuple[str, Sequence[str]]]) -> None:
        """Set the width of each column by its heading and the texts in it."""
        for index, (name, texts) in enumerate(columns):
            words = max((len(word) for word in name.split()), default=0)
            longest = max((len(text) for text in texts), default=0)
            self.page.set_column(
                index, index, min(_WIDEST, max(_NARROWEST, words + 2, longest + 2, min(len(name), 14) + 1))
            )

    def table(self, grid: Table, top: int) -> int:
        """Write a table with its headings at a row, and return the row below it.

        Raises
        ------
        TargetError
            If it has more rows than a sheet can hold.
        """
        if grid.rows > _ROWS:
            raise TargetError(
                f"a sheet of a workbook holds {_ROWS:,} rows, and the table has {grid.rows:,}: write a .csv"
            )
        left = frozenset(place for place, item in enumerate(grid.columns) if item.kind == "text")
        self.headings(top, grid.heads(), left)
        for index, column in enumerate(grid.columns):
            form = {"num_format": form_of(column)} if column.kind != "text" else {}
            scale = 100 if column.kind == "percent" else 1
            for row, value in enumerate(column.values, top + 1):
                number = isinstance(value, (int, float)) and not isinstance(value, bool)
                self.value(row, index, value / scale if scale > 1 and number else value, **(form if number else {}))
        self.widths([(item.label, _shown(item)) for item in grid.columns])
        return top + 1 + grid.rows


def _shown(column: Column) -> list[str]:
    """Return texts as wide as the cells of a column."""
    if column.texts:
        return list(column.texts)
    return [
        f"{value:,}" if isinstance(value, int) else str(value)[:12]
        for value in column.values[:1000]
        if value is not None
    ]


def form_of(column: Column) -> str:
    """Return the number format of a column: thousands, as many decimals as it has, its currency or unit."""
    if column.kind == "percent":
        return PERCENT
    there = [
        value for value in column.values if isinstance(value, (int, float)) and value is not None and value == value
    ]
    return amount_form(there, column.prefix, column.suffix)


def amount_form(values: Sequence[float], prefix: str = "", suffix: str = "", most: int = 6) -> str:
    """Return the number format of amounts."""
    decimals = min(most, max(map(decimals_of, values), default=0))
    plain = "#,##0" + (f".{'0' * decimals}" if decimals else "")
    return f"{_literal(prefix)}{plain}{_literal(suffix)}"


def half_up(value: float, decimals: int) -> float:
    """Return a number as workbooks round it: halves away from zero, of the decimal that is shown."""
    unit = Decimal(1).scaleb(-decimals)
    return float(Decimal(repr(float(value))).quantize(unit, ROUND_HALF_UP))


def decimals_in(form: str) -> int:
    """Return how many decimals a number format of ours shows."""
    return len(form.partition("0.")[2].partition('"')[0])


def _literal(text: str) -> str:
    """Return a text as a number format has it."""
    plain = text.replace('"', "'")
    return f'"{plain}"' if plain else ""


def _text(value: str) -> str:
    return markup(value)[:_LONGEST]


def sheet_name(text: str, names: set[str]) -> str:
    """Return a name that a workbook takes: 31 signs, none of those it keeps for itself, none twice."""
    plain = "".join("_" if sign in "[]:*?/\\'" or not sign.isprintable() else sign for sign in text).strip()
    plain = plain[:31].strip() or "Sheet"
    plain = f"{plain}_" if plain.casefold() == "history" else plain  # a name that workbooks keep for themselves
    name, number = plain, 2
    while name.casefold() in names:
        name = f"{plain[: 28 - len(str(number))]} ({number})"
        number += 1
    return name


def reference(sheet: str, first: tuple[int, int], last: tuple[int, int] | None = None) -> str:
    """Return ``'Sheet'!$A$1:$A$9`` for cells of a sheet, counted from zero."""
    ends = [place(*first, fixed=True)] + ([place(*last, fixed=True)] if last else [])
    return f"'{sheet}'!{':'.join(ends)}"


def place(row: int, column: int, *, fixed: bool = False) -> str:
    """Return the name of a cell, counted from zero."""
    letters, left = "", column + 1
    while left:
        left, rest = divmod(left - 1, 26)
        letters = chr(65 + rest) + letters
    return f"${letters}${row + 1}" if fixed else f"{letters}{row + 1}"
