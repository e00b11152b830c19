"""What an OpenDocument sheet says beside the values of its cells."""

from __future__ import annotations

from decimal import Decimal, InvalidOperation
from typing import IO, Any
from xml.etree.ElementTree import ParseError, iterparse

from vantric.sources.engines.sheetdetails import SUM, Details
from vantric.sources.reading.numberformats import Shown

_MOST_REPEATED = 100_000
_CELLS = ("table-cell", "covered-table-cell")


def document_details(content: IO[bytes], sheet: str) -> Details:
    """Return what a table of a document says beside its values; it is read as a stream."""
    table = _Table(sheet)
    try:
        for event, element in iterparse(content, ("start", "end")):
            tag = element.tag.rpartition("}")[2]
            if event == "start":
                table.begin(tag, element)
            elif table.end(tag, element):
                break
    except ParseError:
        pass
    return table.found


class _Table:
    """Where in which table the stream is."""

    def __init__(self, sheet: str) -> None:
        self.found = Details()
        self._sheet, self._inside = sheet, False
        self._row = self._column = 0

    def begin(self, tag: str, element: Any) -> None:
        """Take the start of an element."""
        if tag == "table":
            self._inside, self._row = _said(element, "name") == self._sheet, 0
        elif tag == "table-row":
            self._column = 0

    def end(self, tag: str, element: Any) -> bool:
        """Take the end of an element; return whether the table is over."""
        if tag in _CELLS:
            if self._inside:
                _take(self.found, element, self._row, self._column)
            self._column += _times(element, "columns")
        elif tag == "table-row":
            times = _times(element, "rows")
            if self._inside and _said(element, "visibility") in ("collapse", "filter") and times < _MOST_REPEATED:
                self.found.hidden.update(range(self._row, self._row + times))
            self._row += times
            element.clear()
        elif tag == "table":
            element.clear()
            return self._inside
        return False


def _take(found: Details, cell: Any, row: int, column: int) -> None:
    wide, high = _times(cell, "columns", "spanned"), _times(cell, "rows", "spanned")
    if wide > 1 or high > 1:
        found.merged.append((row, column, row + high - 1, column + wide - 1))
    kind = _said(cell, "value-type")
    text = "".join(cell.itertext()).strip()
    formula = _said(cell, "formula")
    shown = Shown(percent=True) if kind == "percentage" else _currency(cell) if kind == "currency" else None
    places = [(row, column + more) for more in range(min(_times(cell, "columns"), 200))] if kind else [(row, column)]
    for place in places:
        if shown is not None:
            found.shown[place] = shown
        if text.startswith("#") and text.endswith(("!", "?", "A")) and formula:
            found.errors[place] = text
        if formula and SUM.match(formula.partition(":")[2] or formula):
            found.sums.add(place)
        if formula and not kind and not text:
            found.uncalculated[place] = "=" + formula.partition("=")[2]


def _currency(cell: Any) -> Shown | None:
    code = _said(cell, "currency")
    try:
        Decimal(_said(cell, "value"))
    except InvalidOperation:
        return None
    return Shown(after=f" {code}") if code else None


def _said(element: Any, name: str) -> str:
    return next((str(value) for key, value in element.attrib.items() if key.rpartition("}")[2] == name), "")


def _times(element: Any, what: str, how: str = "repeated") -> int:
    said = _said(element, f"number-{what}-{how}")
    return max(1, int(said[:9])) if said.isdecimal() else 1
