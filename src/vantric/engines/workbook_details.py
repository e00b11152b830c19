"""What a workbook says beside the values of its cells: merged, hidden, formatted and failed ones, and formulas.

The parts of the archive are looked through for the few words that tell whether there is any of it; only then are the
cells gone through one by one.
"""

from __future__ import annotations

import re
import zipfile
from collections.abc import Iterable, Iterator
from decimal import Decimal, InvalidOperation
from html import unescape
from pathlib import Path
from posixpath import join, normpath
from typing import IO, Any
from xml.etree.ElementTree import ParseError, iterparse

from vantric.base.lazily import compiled
from vantric.engines.workbook_cells import CellStyle, attribute, cell_styles, moved, record_function
from vantric.reading.grid import WorkbookDetails, column_place
from vantric.reading.number_style import FormatText

Cell = tuple[int, int]
#: Rows or columns that one element of OpenDocument may stand for.
_MOST_REPEATED = 100_000
#: Elements of OpenDocument that are cells.
_CELLS = ("table-cell", "covered-table-cell")


def _document_tables(content: IO[bytes]) -> Iterator[tuple[str, WorkbookDetails]]:
    """Yield the name of each table of a document, and what it says beside its values; it is read as a stream."""
    table = _Table()
    try:
        for event, element in iterparse(content, ("start", "end")):
            tag = element.tag.rpartition("}")[2]
            if event == "start":
                table.begin(tag, element)
            elif table.end(tag, element):
                yield table.name, table.found
    except ParseError:  # the reader of sheets says that it is broken
        return


class _Table:
    """Where in which table the stream is."""

    def __init__(self) -> None:
        self.name, self.found = "", WorkbookDetails()
        self._row = self._column = 0
        self._styles: dict[str, CellStyle] = {}

    def begin(self, tag: str, element: Any) -> None:
        """Take the start of an element."""
        if tag == "table":
            self.name, self.found, self._row = attribute(element, "name"), WorkbookDetails(), 0
        elif tag == "table-row":
            self._column = 0

    def end(self, tag: str, element: Any) -> bool:
        """Take the end of an element; return whether the table is over."""
        if tag == "style" and attribute(element, "family") == "table-cell":
            self._styles[attribute(element, "name")] = _document_style(element)
        elif tag in _CELLS:
            _take(self.found, element, self._row, self._column)
            style = self._styles.get(attribute(element, "style-name"), CellStyle())
            if style != CellStyle() and "".join(element.itertext()).strip():
                self.found.style((self._row, self._column), style)
            self._column += _times(element, "columns")
        elif tag == "table-row":
            times = _times(element, "rows")
            if attribute(element, "visibility") in ("collapse", "filter") and times < _MOST_REPEATED:
                self.found.hidden.update(range(self._row, self._row + times))
            self._row += times
            element.clear()
        elif tag == "table":
            element.clear()
        return tag == "table"


def _document_style(style: Any) -> CellStyle:
    """Return what a style of OpenDocument says."""
    bold = struck = False
    for element in style.iter():
        bold |= attribute(element, "font-weight") == "bold"
        struck |= attribute(element, "text-line-through-style") not in ("", "none")
    return CellStyle(is_bold=bold, is_struck=struck)


def _take(details: WorkbookDetails, cell: Any, row: int, column: int) -> None:
    wide, high = _times(cell, "columns", "spanned"), _times(cell, "rows", "spanned")
    if wide > 1 or high > 1:
        details.merged.append((row, column, row + high - 1, column + wide - 1))
    kind = attribute(cell, "value-type")
    text = "".join(cell.itertext()).strip()
    formula = attribute(cell, "formula")
    format_text = FormatText(percent=True) if kind == "percentage" else _currency(cell) if kind == "currency" else None
    places = [(row, column + more) for more in range(min(_times(cell, "columns"), 200))] if kind else [(row, column)]
    for place in places:
        if format_text is not None:
            details.shown[place] = format_text
        if text.startswith("#") and text.endswith(("!", "?", "A")) and formula:
            details.errors[place] = text
        if formula and (function := record_function(formula, *place)):
            details.functions[place] = function
        if formula and not kind and not text:
            details.uncalculated[place] = "=" + formula.partition("=")[2]


def _currency(cell: Any) -> FormatText | None:
    code = attribute(cell, "currency")
    try:
        Decimal(attribute(cell, "value"))
    except InvalidOperation:  # a code that is no number is no amount
        return None
    return FormatText(after=f" {code}") if code else None


def _times(element: Any, what: str, how: str = "repeated") -> int:
    text = attribute(element, f"number-{what}-{how}")
    return max(1, int(text[:9])) if text.isdecimal() else 1


#: The beginning of a tag, whatever its namespace is called.
_TAG = r"<(?:\w+:)?"
_SHEET = compiled(_TAG + r"sheet\s([^>]*)>")
_ATTRIBUTE = compiled(r'([\w:]+)\s*=\s*"([^"]*)"|([\w:]+)\s*=\s*\'([^\']*)\'')
_MERGE = compiled(_TAG + r"mergeCell\s[^>]*?ref\s*=\s*[\"']([A-Z]+)([0-9]+):([A-Z]+)([0-9]+)")
_ROW = compiled(rf"{_TAG}row\b([^>]*?)(?:/>|>(.*?)</(?:\w+:)?row>)", re.DOTALL)
_COLUMN_TAG = compiled(rf"{_TAG}col\b([^>]*)>")
_LAST_COLUMN = 16_384
_ROW_TAG = compiled(rf"{_TAG}row\b([^>]*)>")
_C = compiled(rf"{_TAG}c\b([^>]*?)(?:/>|>(.*?)</(?:\w+:)?c>)", re.DOTALL)
_FORMULA = compiled(rf"{_TAG}f\b([^>]*?)(?:/>|>(.*?)</(?:\w+:)?f>)", re.DOTALL)
_VALUE = compiled(rf"{_TAG}v\b[^>]*>([^<]+)</|{_TAG}is\b")
_REFERENCE = compiled(r"([A-Z]+)([0-9]+)")
#: Truths of XML Schema.
_TRUE = frozenset({"1", "true"})


class DetailsReader:
    """What the sheets of a workbook say beside their values; the file is opened once, for all of them."""

    def __init__(self, path: Path) -> None:
        self._path = path
        self._archive: zipfile.ZipFile | None = None
        self._content: IO[bytes] | None = None
        self._book: _Workbook | None = None
        self._tables: Iterator[tuple[str, WorkbookDetails]] = iter(())
        self._read: dict[str, WorkbookDetails] = {}

    def of(self, sheet: str) -> WorkbookDetails:
        """Return the details of a sheet; nothing where the workbook cannot be looked into."""
        try:
            if self._archive is None:
                self._open()
            return self._of_table(sheet) if self._book is None else self._book.details(sheet)
        except (zipfile.BadZipFile, KeyError, ValueError, OSError, RuntimeError, NotImplementedError):
            # Details are extra: the reader of sheets says what is broken.
            return WorkbookDetails()

    def _open(self) -> None:
        self._archive = zipfile.ZipFile(self._path)
        if "content.xml" in self._archive.namelist():
            self._content = self._archive.open("content.xml")
            self._tables = _document_tables(self._content)
        else:
            self._book = _Workbook(self._archive)

    def _of_table(self, sheet: str) -> WorkbookDetails:
        while sheet not in self._read:
            name, details = next(self._tables, (sheet, WorkbookDetails()))
            self._read.setdefault(name, details)
        return self._read[sheet]

    def close(self) -> None:
        """Let go of the file."""
        for opened in (self._content, self._archive):
            if opened is not None:
                opened.close()


class _Workbook:
    """An Office Open XML workbook."""

    def __init__(self, archive: zipfile.ZipFile) -> None:
        self._archive = archive
        book = self._text("xl/workbook.xml")
        relations = self._text("xl/_rels/workbook.xml.rels")
        targets = {
            words.get("Id"): words["Target"]
            for item in re.findall(r"<(?:\w+:)?Relationship\s([^>]*)>", relations)
            if "Target" in (words := _attributes(item))
        }
        self._parts: dict[str, str] = {}
        for words in map(_attributes, _SHEET.findall(book)):
            target = next((targets.get(value) for name, value in words.items() if name.endswith(":id")), None)
            if target is not None:
                self._parts.setdefault(unescape(words.get("name", "")), target)
        self._recalculated = re.search(r'fullCalcOnLoad\s*=\s*"(1|true)"', book) is not None
        self._styles = self._cell_styles()

    def _text(self, name: str) -> str:
        return self._archive.read(name).decode("utf-8", "replace")

    def details(self, sheet: str) -> WorkbookDetails:
        """Return the details of a sheet."""
        target = self._parts.get(sheet)
        if target is None:
            return WorkbookDetails()
        name = target.lstrip("/") if target.startswith("/") else normpath(join("xl", target))
        return self._of_sheet(self._archive.read(name))

    def _of_sheet(self, content: bytes) -> WorkbookDetails:
        details, styles = WorkbookDetails(), self._styles
        words = (b"hidden", b"outlineLevel", b"mergeCell ", b't="e"', b"t='e'", b"<f", b":f>", b":f ")
        hits = {word for word in words if word in content}
        styled = {index for index in styles if any(f"s={sign}{index}{sign}".encode() in content for sign in "'\"")}
        if not hits and not styled:
            return details
        text = content.decode("utf-8", "replace")
        if b"mergeCell " in hits:
            for left, top, right, bottom in _MERGE.findall(text):
                details.merged.append((int(top) - 1, column_place(left), int(bottom) - 1, column_place(right)))
        if b"hidden" in hits:
            details.hidden_columns = _hidden_columns(text)
        if hits & {b"hidden", b"outlineLevel"}:
            details.hidden, details.outlines = _row_marks(text)
        if styled or hits - {b"hidden", b"outlineLevel", b"mergeCell "}:
            formulas, all_zero = self._cells(text, styles, details)
            if self._recalculated and formulas and all_zero:  # written by a program that does not calculate
                details.uncalculated = formulas
        return details

    def _cells(self, text: str, styles: dict[int, CellStyle], details: WorkbookDetails) -> tuple[dict[Cell, str], bool]:
        """Go through the cells; return the formulas, and whether all of them hold zero."""
        formulas: dict[Cell, str] = {}
        shared: dict[str, tuple[Cell, str]] = {}  # formulas that several cells have, by their number
        all_zero = True
        for place, words, inside in _each_cell(text, _of_interest(styles)):
            style = words.get("s")
            if not inside:
                continue
            if style is not None and style.isdecimal() and int(style) in styles:
                details.style(place, styles[int(style)])
            formula = _FORMULA.search(inside)
            value = _VALUE.search(inside)
            if words.get("t") == "e" and value and value[1]:
                details.errors[place] = value[1].strip()
            if formula is None:
                continue
            written = formulas[place] = "=" + _shared_formula(formula, place, shared)
            if function := record_function(written, *place):
                details.functions[place] = function
            if value is None:
                details.uncalculated[place] = written
            elif (value[1] or "").strip() != "0":
                all_zero = False
        return formulas, all_zero

    def _cell_styles(self) -> dict[int, CellStyle]:
        """Return what the styles of cells say, where they say anything."""
        try:
            return cell_styles(self._text("xl/styles.xml"))
        except KeyError:  # a workbook without styles
            return {}


def _shared_formula(formula: re.Match[str], place: Cell, shared: dict[str, tuple[Cell, str]]) -> str:
    """Return the text of a formula; of one that is written in another cell, as it reads here."""
    text = unescape(formula[2] or "")
    number = _attributes(formula[1]).get("si")
    if number is None:
        return text
    if text:
        shared[number] = (place, text)
        return text
    if number not in shared:
        return ""
    (row, column), text = shared[number]
    return moved(text, place[0] - row, place[1] - column)


def _attributes(text: str) -> dict[str, str]:
    return {item or other: value or more for item, value, other, more in _ATTRIBUTE.findall(text)}


def _row_marks(text: str) -> tuple[set[int], dict[int, int]]:
    """Return the rows that are not shown, and the levels of rows in the outline."""
    hidden, outlines, last = set(), {}, -1
    for item in _ROW_TAG.findall(text):
        words = _attributes(item)
        last = int(words["r"]) - 1 if words.get("r", "").isdecimal() else last + 1
        if words.get("hidden") in _TRUE:
            hidden.add(last)
        if words.get("outlineLevel", "").isdecimal():
            outlines[last] = int(words["outlineLevel"])
    return hidden, outlines


def _hidden_columns(text: str) -> set[int]:
    """Return the columns that are not shown."""
    hidden: set[int] = set()
    for item in _COLUMN_TAG.findall(text):
        words = _attributes(item)
        ends = words.get("min", ""), words.get("max", "")
        if words.get("hidden") in _TRUE and all(end.isdecimal() for end in ends):
            hidden.update(range(int(ends[0]) - 1, min(int(ends[1]), _LAST_COLUMN)))
    return hidden


def _of_interest(style_numbers: Iterable[int]) -> re.Pattern[str]:
    """Return what the cells that matter look like, as every program writes them: styled, failed, or with a formula."""
    styles = "|".join(map(str, style_numbers)) or "none"
    return re.compile(
        rf'<c r="([A-Z]+)([0-9]+)"(?=[^>]*\s(?:s="(?:{styles})"|t="e")|[^>]*><f)([^>]*?)(?:/>|>(.*?)</c>)', re.DOTALL
    )


def _each_cell(text: str, column_names: re.Pattern[str]) -> Iterator[tuple[Cell, dict[str, str], str]]:
    """Yield the place, the attributes and the content of cells; one that does not say where it is follows on."""
    if text.count("<c ") == text.count('<c r="') and ":c " not in text and "<c>" not in text:
        for letters, number, attributes, inside in column_names.findall(text):
            yield (int(number) - 1, column_place(letters)), _attributes(attributes), inside
        return
    row = -1
    for tag, cells in _ROW.findall(text):
        words = _attributes(tag)
        row = int(words["r"]) - 1 if words.get("r", "").isdecimal() else row + 1
        column = -1
        for attributes, inside in _C.findall(cells):
            own = _attributes(attributes)
            reference = _REFERENCE.fullmatch(own.get("r", ""))
            column = column_place(reference[1]) if reference else column + 1
            yield (row, column), own, inside
