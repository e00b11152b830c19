"""Text files as the engine wants them: UTF-8, on disk, under a plain name; tables of grids written as such."""

from __future__ import annotations

import codecs
import csv
import gzip
import os
import shutil
import sys
import zlib
from collections.abc import Callable, Mapping, Sequence, Set
from dataclasses import field, replace
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import IO, Any, TypeVar

from vantric.base.lazily import dataclass
from vantric.base.safe_files import check_regular, reason_of, temp_prefix
from vantric.core.counts.provenance import Note
from vantric.engines.file_parts import Part, ReadColumn, csv_part
from vantric.errors import AmountError, MissingExtraError, SourceError, nearest
from vantric.reading.grid import Grid, WorkbookDetails
from vantric.reading.headers import CsvShape, filled
from vantric.reading.number_style import DigitStyle
from vantric.reading.records import RowMarks
from vantric.reading.table_layout import TableLayout
from vantric.reading.typed_column import TypedColumn, seen, typed_column

T = TypeVar("T")
#: Bytes in which the header and the shape of a file are looked for.
_FIRST_BYTES = 1 << 18
_FIRST_LINES = 3  # at least, unless they are longer than any table has
#: The same where the first lines are very long.
_MOST_FIRST_BYTES = 1 << 26
#: Bytes in which notes below the table are looked for.
_LAST_BYTES = 1 << 16
#: Bytes that are copied or recoded at once.
_CHUNK = 1 << 22
#: How the names of packed files end.
PACKED = (".gz", ".zst")
#: Signs in a file's name that the engine would take for a pattern.
_PATTERN_SIGNS = frozenset("*?[]{}")


class UndecodableError(SourceError):
    """The engine met bytes that are not UTF-8; the file is to be written again and asked again."""


class TempFiles:
    """A folder for what must be written before it can be read; `close` removes it."""

    def __init__(self) -> None:
        self._folder: TemporaryDirectory[str] | None = None
        self._made = 0

    def close(self) -> None:
        """Remove the folder."""
        if self._folder is not None:
            self._folder.cleanup()
            self._folder = None

    def new_path(self, ending: str) -> Path:
        """Return a path that nothing is at."""
        if self._folder is None:
            self._folder = TemporaryDirectory(prefix=temp_prefix(os.getpid()))
        self._made += 1
        return Path(self._folder.name) / f"{self._made}{ending}"


def from_standard_input(temp_files: TempFiles) -> Path:
    """Keep what comes on standard input, since its first lines must be read twice."""
    if sys.stdin is None:
        raise SourceError("standard input is closed; give the name of a file")
    path = temp_files.new_path(".csv")
    with path.open("wb") as file:
        shutil.copyfileobj(sys.stdin.buffer, file)
    return path


def plain_name(path: Path, temp_files: TempFiles) -> Path:
    """Return a path of the same file whose name is not a pattern, and is text whatever the file's name is."""
    name = str(path)
    if not _PATTERN_SIGNS & set(name) and name.isprintable():
        return path
    link = temp_files.new_path("".join(path.suffixes[-2:]) if path.suffix.casefold() in PACKED else path.suffix)
    try:
        link.symlink_to(path.resolve())
    except OSError:  # Windows lets few users make links
        shutil.copyfile(path, link)
    return link


#: The first file that the guide names, and where it comes from.
_SHIPPED, _DEMO = ("inspections.csv", "firings.csv", "crews.csv"), "vantric demo writes it into a folder"


def _near(path: Path) -> str:
    """Return a question that names a file of the same kind in the folder where one was looked for."""
    try:
        beside = sorted(other.stem for other in path.parent.iterdir() if other.suffix == path.suffix)[:_MOST_BESIDE]
    except (OSError, ValueError):
        return ""
    near = nearest(path.stem, beside)
    return near.replace("'?", f"{path.suffix}'?")


_MOST_BESIDE = 500


def open_bytes(path: Path, source_name: str) -> IO[bytes]:
    """Open a file, unpacked if its name says that it is packed, or say why it cannot be."""
    try:
        check_regular(path)
        return _unpacking(path.suffix.casefold())(path)
    except FileNotFoundError:
        hint = f"; {_DEMO}" if path.name in _SHIPPED else _near(path)
        raise SourceError(f"there is no file '{source_name}'{hint}", value=source_name, hint=hint[2:]) from None
    except IsADirectoryError:
        raise SourceError(
            f"'{source_name}' is a folder; give a file, or a pattern such as '{source_name}/*.csv'"
        ) from None
    except (OSError, RuntimeError) as error:  # a loop of links may be either
        raise SourceError(f"cannot read '{source_name}': {reason_of(error)}") from None


def _broken(path: Path) -> tuple[type[Exception], ...]:
    """Return the errors that say that a packed file is broken."""
    if path.suffix.casefold() != ".zst":
        return OSError, EOFError, zlib.error
    return OSError, EOFError, _zstandard().ZstdError


def _unpacking(suffix: str) -> Callable[[Path], IO[bytes]]:
    """Return what opens a file of an ending."""
    if suffix == ".gz":
        return lambda path: gzip.open(path, "rb")  # type: ignore[return-value]
    if suffix == ".zst":
        return lambda path: _zstandard().open(path, "rb")
    return lambda path: path.open("rb")


def _zstandard() -> Any:
    try:
        import zstandard
    except ImportError:
        raise MissingExtraError("reading a .zst file needs zstandard: pip install 'vantric[zstd]'") from None
    return zstandard


def first_text(path: Path, source_name: str) -> tuple[str, bool] | None:
    """Return the beginning of a file as text, and whether that is all; None if it is not UTF-8."""
    with open_bytes(path, source_name) as file:
        try:
            head = file.read(_FIRST_BYTES)
            while head.count(b"\n") < _FIRST_LINES and len(head) < _MOST_FIRST_BYTES:  # a wide table
                more = file.read(len(head))
                if not more:
                    break
                head += more
            whole = not file.read(1)
        except _broken(path):
            raise SourceError(f"cannot read '{source_name}': its compression is broken; pack it again") from None
    if head.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)) or _is_wide(head):
        return None
    try:  # the last sign may be cut in two
        return codecs.getincrementaldecoder("utf-8-sig")().decode(head), whole
    except UnicodeDecodeError:  # the caller finds the encoding
        return None


def is_mixed(text: str) -> bool:
    """Whether the lines of a text end in more than one way, or marks of byte order stand within it."""
    if "\r" not in text:
        return "\ufeff" in text
    pairs = text.count("\r\n")
    return (
        "\ufeff" in text
        or (pairs > 0 and text.count("\n") + text.count("\r") > 2 * pairs)
        or (not pairs and "\r" in text and "\n" in text)
    )


def with_one_line_end(path: Path, source_name: str, temp_files: TempFiles) -> tuple[Path, Note]:
    """Write a file in UTF-8 again with line ends of one kind, and without marks of byte order; say so."""
    text = whole_text(path, source_name)
    what = "marks of byte order within it" if "\ufeff" in text else "line ends of several kinds"
    target = temp_files.new_path(path.suffix or ".csv")
    plain = text.replace("\ufeff", "").replace("\r\n", "\n").replace("\r", "\n")
    target.write_text(plain, encoding="utf-8", newline="\n")
    return target, Note("line-ends", f"'{source_name}' has {what}; read as if it had none")


def last_text(path: Path, source_name: str) -> str:
    """Return the last whole lines of a file as text; empty where it is packed, and its end cannot be reached."""
    if path.suffix.casefold() in PACKED:
        return ""
    with open_bytes(path, source_name) as file:
        file.seek(max(0, path.stat().st_size - _LAST_BYTES))
        tail = file.read()
    return tail.partition(b"\n")[2].decode("utf-8", "replace")


def whole_text(path: Path, source_name: str) -> str:
    """Return a file in UTF-8 as text."""
    with open_bytes(path, source_name) as file:
        return file.read().decode("utf-8-sig", "replace")


def _is_wide(head: bytes) -> bool:
    """Whether text is UTF-16 without its mark: every other byte is zero."""
    sample = head[:400]
    return len(sample) >= 8 and max(sample[::2].count(0), sample[1::2].count(0)) > 0.4 * len(sample)


def as_utf8(path: Path, source_name: str, temp_files: TempFiles, said: str | None = None) -> tuple[Path, Note]:
    """Write a file again in UTF-8 and say what it was read as.

    UTF-16 is reported by its mark. What has bytes that are no UTF-8, and no sign that is, is Latin-1: in the form of
    Windows code page 1252, which has printed signs where Latin-1 has none, if every byte is a sign there.

    Raises
    ------
    SourceError
        If the file mixes UTF-8 with other bytes, naming the line.
    """
    from vantric.engines.encodings import NAMES, known_encoding  # most files are UTF-8

    encoding = known_encoding(said) if said is not None else _encoding(path, source_name)
    name = NAMES.get(encoding.replace("-", "_").removesuffix("_le").removesuffix("_be"), encoding)
    target = temp_files.new_path(
        "".join(suffix for suffix in path.suffixes if suffix.casefold() not in PACKED) or ".csv"
    )
    decoder = codecs.getincrementaldecoder(encoding)()
    with open_bytes(path, source_name) as file, target.open("wb") as out:
        try:
            while chunk := file.read(_CHUNK):
                out.write(decoder.decode(chunk).encode())
            out.write(decoder.decode(b"", final=True).encode())
        except UnicodeError:
            raise SourceError(f"'{source_name}' is broken {name} text; save it as UTF-8") from None
    return target, Note("encoding", f"'{source_name}' is not UTF-8; it was read as {name}")


def _encoding(path: Path, source_name: str) -> str:
    from vantric.engines.encodings import encoding_of

    with open_bytes(path, source_name) as file:
        start = file.read(2)
        if start in (codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE):
            return "utf-16"
        more = file.read(398)
        if _is_wide(start + more):
            return "utf-16-le" if (start + more)[1::2].count(0) > (start + more)[::2].count(0) else "utf-16-be"
        content = start + more + file.read()
    if _is_mostly_utf8(content):
        line = 1 + _broken_line(content)
        raise SourceError(
            f"'{source_name}', line {line}: bytes that are not UTF-8 in a file that is; save it as UTF-8, or say its "
            "encoding with encoding"
        )
    return encoding_of(content, source_name)


def _is_mostly_utf8(content: bytes) -> bool:
    """Whether more signs of several bytes are UTF-8 than not: pairs of other scripts are so here and there."""
    text = content.decode("utf-8", "replace")
    broken = text.count("\ufffd")
    return sum(ord(sign) >= 0x80 for sign in text) - broken >= max(broken, 1)


def _broken_line(chunk: bytes) -> int:
    try:
        chunk.decode("utf-8")
    except UnicodeDecodeError as error:  # up to here the lines were right
        return chunk.count(b"\n", 0, error.start)
    return 0


_ROW, SHEET = "vantric:row", "sheet"
_COMMA = ","


@dataclass(frozen=True)
class FoundTable:
    """A table and what is said of its cells.

    Attributes
    ----------
    grid, layout
    details
        What a workbook says beside the values of the cells.
    said
        The style of numbers as text, if the user says it.
    """

    grid: Grid
    layout: TableLayout
    details: WorkbookDetails = field(default_factory=WorkbookDetails)
    said: DigitStyle | None = None


def table_part(
    table: FoundTable, source_name: str, temp_files: TempFiles, *, delimiter: str = "", sheet: str | None = None
) -> Part:
    """Write a table and return it as a part of a source.

    Parameters
    ----------
    table
    source_name
        What messages call the part.
    temp_files
        Where it is written.
    delimiter
        Of the text file that it comes from.
    sheet
        The name of the sheet, as a column of its own, where several are read together.
    """
    grid, layout, shown = table.grid, table.layout, table.details.shown
    rows = [[grid.cell(row, column) for column in layout.columns] for row in layout.body]
    around = [
        {place: shown[row, column] for place, row in enumerate(layout.body) if (row, column) in shown} if shown else {}
        for column in layout.columns
    ]
    places = [f"{grid.unit} {grid.number(row)}" for row in layout.body]
    typed: dict[str, TypedColumn] = {}
    for index, name in enumerate(layout.names):
        column = typed_column(
            [row[index] for row in rows], around[index], place=grid.place, name=name, rows=places, style=table.said
        )
        column = _merged_over(table, index, column)
        if column is not None:
            typed[name] = column
    numbered = {name: column.texts for name, column in typed.items() if column.texts is not None}
    more = [SHEET] if sheet is not None and SHEET not in layout.names else []
    names = [_ROW, *layout.names, *more, *(f"vantric:number {name}" for name in numbered)]
    target = temp_files.new_path(".csv")
    with target.open("w", encoding="utf-8", newline="") as file:
        writer = csv.writer(file, quoting=csv.QUOTE_ALL, lineterminator="\n")
        writer.writerow(names)
        for index, (number, row) in enumerate(zip(layout.body, rows, strict=True)):
            labels = [seen(cell, around[place].get(index)) for place, cell in enumerate(row)]
            numbers = [texts[index] for texts in numbered.values()]
            writer.writerow([grid.number(number), *labels, *([sheet] if more else []), *numbers])
    return _part(table, csv_part(target, source_name, CsvShape(_COMMA, tuple(names))), typed, more, delimiter)


def _merged_over(table: FoundTable, index: int, column: TypedColumn | None) -> TypedColumn | None:
    """Return a column of numbers that refuses to be counted where one number stands merged beside several rows."""
    layout, grid = table.layout, table.grid
    if column is None:
        return None
    body = set(layout.body)
    for top, left, bottom, right in table.details.merged:
        rows = [row for row in range(top, bottom + 1) if row in body]
        value = grid.cell(rows[0], left) if rows else None
        number = isinstance(value, int | float) and not isinstance(value, bool)
        if len(rows) > 1 and number and left <= layout.columns[index] <= right:
            refused = AmountError(
                f"{grid.place}, column '{layout.names[index]}': one number, {value:g}, is merged over {grid.unit}s "
                f"{grid.number(rows[0])} to {grid.number(rows[-1])}: it cannot be said which of them it belongs to; "
                "give each row its own number"
            )
            return replace(column, refused=refused, as_counts=False)
    return column


def _part(table: FoundTable, part: Part, typed: Mapping[str, TypedColumn], more: Sequence[str], delimiter: str) -> Part:
    grid, layout = table.grid, table.layout
    read = {
        name: ReadColumn(
            part.columns[name if column.texts is None else f"vantric:number {name}"],
            column.reading,
            column.remarks,
            column.refused,
            column.as_counts,
        )
        for name, column in typed.items()
    }
    columns = {name: part.columns[name] for name in (*layout.names, *more)}
    return replace(
        part,
        columns=columns,
        kinds={name: part.kinds[name] for name in columns},
        read=read,
        row_column=f"{part.columns[_ROW]}::BIGINT",
        delimiter=delimiter,
        marks=_row_marks(table),
        unsaved=_unsaved(table),
        unit=grid.unit,
    )


def _unsaved(table: FoundTable) -> dict[str, str]:
    """Return the first formula of each column whose result was never saved, with its place."""
    grid, layout, formulas = table.grid, table.layout, table.details.uncalculated
    first: dict[str, str] = {}
    for name, column in zip(layout.names, layout.columns, strict=True) if formulas else ():
        row = next((row for row in layout.body if (row, column) in formulas), None)
        if row is not None:
            first[name] = f"{grid.unit} {grid.number(row)}, column '{name}': '{formulas[row, column][:40]}'"
    return first


def _row_marks(table: FoundTable) -> RowMarks:
    """Return what the rows of a table say beside their values, by the numbers that people know them by."""
    grid, layout, details = table.grid, table.layout, table.details
    numbers = {row: grid.number(row) for row in layout.body}
    named = list(zip(layout.names, layout.columns, strict=True))

    def by_column(cells: Mapping[tuple[int, int], T]) -> dict[str, dict[int, T]]:
        if not cells:
            return {}
        found = {
            name: {numbers[row]: cells[row, column] for row in layout.body if (row, column) in cells}
            for name, column in named
        }
        return {name: marks for name, marks in found.items() if marks}

    def of_rows(cells: Set[tuple[int, int]]) -> frozenset[int]:
        marked = {row for row, column in cells if column in layout.columns} if cells else set()
        return frozenset(numbers[row] for row in layout.body if row in marked)

    blank = {row for row in layout.body if row - 1 not in numbers and row - 1 not in layout.header}
    return RowMarks(
        functions=by_column(details.functions),
        bold=of_rows(details.bold),
        struck=of_rows(details.struck),
        unseen=of_rows(details.unseen),
        follows_blank=frozenset(numbers[row] for row in blank if row and not any(map(str, filled(grid.rows[row - 1])))),
        indents=by_column(details.indents),
        outlines={numbers[row]: level for row, level in details.outlines.items() if row in numbers},
    )
