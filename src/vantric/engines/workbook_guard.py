"""What a workbook would take to read, found from its parts before it is opened.

A small file can hold a sheet of seventeen thousand million cells, or one text a million times. So the parts of the
archive are inflated piece by piece and counted: a sheet is held as one block from its first cell to its last, and a
shared text once a cell.
"""

from __future__ import annotations

import zipfile
import zlib
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING, Any

from vantric.base.lazily import compiled
from vantric.errors import SourceError

if TYPE_CHECKING:
    from xml.etree.ElementTree import Element

#: Cells that are read: some gigabytes in the reader's hands.
_MOST_CELLS = 25_000_000
_MOST_ROWS = 1_100_000  # a sheet has 1,048,576
_MOST_BYTES = 1 << 30  # of all parts, inflated
_MOST_TEXT = 2_000_000_000  # signs that cells hold together
#: Bytes that are inflated at once, and how many of the last are looked at again.
_CHUNK, _OVERLAP = 1 << 20, 1 << 12
#: Columns of the largest sheet.
_WIDEST = 1 << 14
_LETTERS = compiled(rb"\sr\s*=\s*[\"']([A-Za-z]+)[0-9]")
_NUMBERS = compiled(rb"\sr\s*=\s*[\"'][A-Za-z]*([0-9]+)")
#: References outside of the usual part of a sheet; only these are parsed.
_FAR = compiled(rb' r="(?:[A-Za-z]{2}|[A-Za-z]?[0-9]{6})')
#: The usual part of a sheet.
_NEAR_WIDTH, _NEAR_ROWS = 26, 99_999
#: A cell that holds something: it is neither closed in itself nor empty.
_FILLED = compiled(rb"<(?:\w+:)?c\s[^<>]*?\br\s*=\s*[\"']([A-Za-z]+)([0-9]+)[\"'][^<>]*(?<!/)>(?!</)")
_CELL = compiled(rb"<(?:\w+:)?c[\s>/]")
_SHARED = compiled(rb"<(?:\w+:)?c\s[^<>]*?\bt\s*=\s*[\"']s[\"'][^<>]*>(?:<(?:\w+:)?v>|<v [^<>]*>)\s*([0-9]+)")
_ENTRY = compiled(rb"<(?:\w+:)?si[\s>]")
_CELLS = ("table-cell", "covered-table-cell")


def check_workbook(path: Path, source_name: str) -> None:
    """Raise `SourceError` for a workbook that would take more memory than a table has.

    Parameters
    ----------
    path
        An Office Open XML or OpenDocument workbook; what is no archive at all is left to its reader.
    source_name
        What messages call it.
    """
    try:
        with zipfile.ZipFile(path) as archive:
            _Guard(archive, source_name).check()
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError, OSError):
        return  # broken or locked: its reader says so


class _Guard:
    """The parts of one workbook, counted."""

    def __init__(self, archive: zipfile.ZipFile, source_name: str) -> None:
        self._archive, self._shown = archive, source_name
        self._left = _MOST_BYTES

    def check(self) -> None:
        parts = [part for part in self._archive.infolist() if part.filename.casefold().endswith(".xml")]
        if sum(part.file_size for part in parts) > _MOST_BYTES:  # by what it says itself
            raise self._too_long()
        names = [part.filename for part in parts]
        longest, lengths = 0, b""
        for name in names:
            if name.casefold().endswith("sharedstrings.xml"):
                lengths = b"".join(self._pieces(name))
                longest = max(map(len, _ENTRY.split(lengths)))
        for name in names:
            plain = name.casefold()
            if "worksheets/" in plain:
                self._sheet(name, longest, lengths)
            elif plain == "content.xml":
                self._document(name)
            elif not plain.endswith("sharedstrings.xml"):
                for _ in self._pieces(name):
                    pass

    def _pieces(self, name: str) -> Iterator[bytes]:
        """Yield a part inflated, a piece at a time."""
        with self._archive.open(name) as file:
            first = True
            while piece := file.read(_CHUNK):
                if first and b"\0" in piece[:4]:
                    raise SourceError(
                        f"'{self._shown}' is not a workbook that can be read (UTF-16 inside); save it again"
                    )
                first = False
                self._left -= len(piece)
                if self._left < 0:
                    raise self._too_long()
                yield piece

    def _overlapping(self, name: str) -> Iterator[bytes]:
        """Yield pieces that each begin with the last tag or so of the one before."""
        rest = b""
        for piece in self._pieces(name):
            yield rest + piece
            rest = (rest + piece)[-_OVERLAP:]

    def _sheet(self, name: str, longest: int, shared: bytes) -> None:
        left = self._left
        rows = width = cells = lone = 0
        for piece in self._overlapping(name):
            wide, last, index, referenced = _extent(piece)
            width, rows = max(width, wide), max(rows + piece.count(b"<row"), last)
            cells += index
            if index > referenced:  # cells without a reference follow one another
                lone = max(lone, *(len(_CELL.findall(row)) for row in piece.split(b"<row")))
            if rows > _MOST_ROWS:
                break
        width = min(max(width, lone), _WIDEST)
        if rows * width > _MOST_CELLS or rows > _MOST_ROWS:
            self._left = left
            self._precisely(name, lone)
        if cells * longest > _MOST_TEXT:
            self._left = left
            self._texts(name, shared)

    def _precisely(self, name: str, lone: int) -> None:
        """Count again, cells that hold nothing left out: a sheet may be formatted down to its last row."""
        rows, last, width, corner = 0, 0, lone, b""
        for piece in self._overlapping(name):
            for letters, number in _FILLED.findall(piece):
                width = max(width, _column(letters))
                if int(number) > last:
                    last, corner = int(number), letters + number
            rows += piece.count(b"<row")
            if rows > _MOST_ROWS:
                raise self._refused(f"a sheet of it has more than {_MOST_ROWS:,} rows")
        if last * width > _MOST_CELLS:
            raise self._refused(f"with a cell at {corner.decode()[:12]}, a sheet of it takes {last * width:,} cells")

    def _texts(self, name: str, shared: bytes) -> None:
        lengths = [len(entry) for entry in _ENTRY.split(shared)[1:]]
        total = 0
        for piece in self._overlapping(name):
            total += sum(
                lengths[int(place)] for place in _SHARED.findall(piece) if len(place) < 9 and int(place) < len(lengths)
            )
        if total > _MOST_TEXT:
            raise self._refused(f"its cells hold {total:,} characters")

    def _document(self, name: str) -> None:
        """Count the cells of OpenDocument tables, each as often as it is repeated."""
        from xml.etree.ElementTree import ParseError, XMLPullParser

        parser: XMLPullParser[Element] = XMLPullParser(["start", "end"])
        table = _Table()
        try:
            for piece in self._pieces(name):
                parser.feed(piece)
                for event, element in parser.read_events():  # type: ignore[misc]
                    table.take(event, element)
                    if table.cells > _MOST_CELLS:
                        raise self._refused(f"a sheet of it takes more than {_MOST_CELLS:,} cells")
                    if table.signs > _MOST_TEXT:
                        raise self._refused(f"its cells hold more than {_MOST_TEXT:,} characters")
        except ParseError:
            return  # its reader says so

    def _too_long(self) -> SourceError:
        return self._refused(f"it holds more than {_MOST_BYTES >> 20:,} MB when it is unpacked")

    def _refused(self, why: str) -> SourceError:
        return SourceError(
            f"'{self._shown}': {why}, more than a table has; keep the table alone in a workbook, or save it as .csv"
        )


class _Table:
    """The block of cells that an OpenDocument table takes: as wide as its widest row, down to its last filled one."""

    def __init__(self) -> None:
        self.cells = self.signs = 0
        self._open: list[Element] = []
        self._in_cell = 0
        self._rows = self._wide = self._columns = self._width = self._row_signs = 0

    def take(self, event: str, element: Any) -> None:
        """Take the start or the end of an element; what was counted is let go."""
        tag = element.tag.rpartition("}")[2]
        if event == "start":
            self._open.append(element)
            self._in_cell += tag in _CELLS
            if tag == "table":
                self._rows = self._wide = 0
            elif tag == "table-row":
                self._columns = self._width = self._row_signs = 0
            return
        if tag in _CELLS:
            self._in_cell -= 1
            self._end_cell(element)
        elif tag == "table-row":
            self._end_row(_repeats(element, "rows"))
        self._open.pop()
        if self._open and not self._in_cell:
            self._open[-1].remove(element)

    def _end_cell(self, cell: Element) -> None:
        times = _repeats(cell, "columns")
        self._columns += times
        length = sum(len(text) for text in cell.itertext())
        if length or any(name.endswith("value-type") for name in cell.attrib):
            self._width = self._columns
            self._row_signs += length * times

    def _end_row(self, times: int) -> None:
        self._rows += times
        if self._width:
            self._wide = max(self._wide, self._width)
            self.cells = self._rows * self._wide
            self.signs += self._row_signs * times


def _repeats(element: Element, what: str) -> int:
    text = f"number-{what}-repeated"
    repeats = next((value for name, value in element.attrib.items() if name.endswith(text)), "1")
    return int(repeats[:18]) if repeats.isdecimal() else 1


def _extent(piece: bytes) -> tuple[int, int, int, int]:
    """Return the widest column, the last row, the cells, and how many of them say where they are.

    What is written as every program writes it, and reaches neither far down nor far to the right, is found in a tenth
    of the time.
    """
    usual = piece.count(b' r="')
    others = sum(piece.count(sign) for sign in (b'r="', b"r='", b"r =", b"r\t", b"r\n", b"r\r")) - usual
    if not others and b":row" not in piece and not _FAR.search(piece):
        index = piece.count(b"<c ") + piece.count(b"<c>") + piece.count(b"<c/")
        return _NEAR_WIDTH, _NEAR_ROWS, index, usual - piece.count(b"<row")
    letters, numbers = _LETTERS.findall(piece), set(_NUMBERS.findall(piece))
    width, last = max(map(_column, set(letters)), default=0), max(map(int, numbers), default=0)
    return width, last, len(_CELL.findall(piece)), len(letters)


def _column(letters: bytes) -> int:
    number = 0
    for letter in letters.upper()[:8]:
        number = number * 26 + letter - 64
    return number
