"""A finished workbook as the review takes it: its tables, its charts, and what could not be read."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from vantric.core.counting.remark import Remark
from vantric.core.numbers.shown import listed, quoted
from vantric.core.reviewing.books.drawn import DrawnChart
from vantric.errors import SourceError, unknown
from vantric.sources.auditing.bookcells import Book, read_book
from vantric.sources.auditing.bookcharts import book_charts
from vantric.sources.auditing.booktables import BookTable, book_tables
from vantric.sources.options import Opening

#: Endings of workbooks whose charts can be read.
BOOKS = frozenset({".xlsx", ".xlsm", ".xltx", ".xltm"})
_MOST_TOLD = 3
_MOST_ROWS = 20_000  # of a sheet that people make by hand


@dataclass(frozen=True)
class Audited:
    """What a workbook holds for the review.

    Attributes
    ----------
    book
    found
        The tables with percents or running sums.
    charts
    remarks
        What was not read, and what there was nothing to check in.
    """

    book: Book
    found: tuple[BookTable, ...]
    charts: tuple[DrawnChart, ...]
    remarks: tuple[Remark, ...]


def audited(path: Path, opening: Opening) -> Audited:
    """Read a workbook for the review.

    Raises
    ------
    SourceError
        If it cannot be read, or has no sheet that was named.
    """
    book = read_book(path, str(path))
    names = [sheet.name for sheet in book.sheets]
    asked = names if not opening.sheet or opening.sheet == ("*",) else list(opening.sheet)
    for name in asked:
        if name not in names:
            raise unknown(SourceError, f"'{path}' has no sheet '{name}'", name, names, label="its sheets are")
    several = len(asked) > 1
    chosen = [sheet for sheet in book.sheets if sheet.name in asked]
    tables = [
        table for sheet in chosen if sheet.rows <= _MOST_ROWS
        for table in book_tables(sheet, f"sheet '{sheet.name}'" if several else "")
    ]  # fmt: skip
    charts, unread = book_charts(book, path)
    look = "look at it yourself"
    said = [Remark("unread-chart", f"{one}: it was not reviewed", "note", look) for one in unread]
    logs = [sheet.name for sheet in chosen if sheet.rows > _MOST_ROWS]
    if logs:
        what = (
            f"{quoted(logs)} {'has' if len(logs) == 1 else 'have'} more than {_MOST_ROWS:,} rows, as a log: the cells "
        )
        said.append(Remark("long-sheet", f"{what}were not worked out again", "note", "review it with --by and --count"))
    if book.unread:
        told = listed(list(book.unread), most=_MOST_TOLD)
        what = f"formulas without a saved result cannot be worked out here: {told}"
        said.append(Remark("unread-formula", what, "note", "open the workbook, save it, and review it again"))
    if not tables and not charts:
        what = "there is no chart, and no table of frequencies with percents or running sums beside them"
        fix = "name the columns: --by, --count, --percent-column, --cumulative-column"
        said.append(Remark("nothing-to-check", what, "note", fix))
    return Audited(book, tuple(tables), tuple(charts), tuple(said))
