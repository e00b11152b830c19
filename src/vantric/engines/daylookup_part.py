"""Columns of dates that are not written as ISO 8601 has them, so that a condition can compare them."""

from __future__ import annotations

from collections.abc import Callable

from vantric.engines.duckdb_engine import literal
from vantric.engines.file_parts import Part
from vantric.errors import SourceError
from vantric.reading.dates import AmbiguousDateError, day_of, order_of, written
from vantric.reading.number_style import is_number
from vantric.reading.records import Group

_SAMPLE, _MOST_SHOWN = 20_000, 200


def day_lookup(ask: Callable[[str], list[Group]], part: Part, name: str, table: str, said: str | None) -> str | None:
    """Return the SQL of the days in a column of text; None if it is no column of dates.

    Every different cell is read once, and looked up in a table of its day.

    Parameters
    ----------
    ask
        Runs a query.
    part, name
        The column.
    table
        What the table of days is called.
    said
        A date as an example of how they are written, if the user gives one.

    Raises
    ------
    SourceError
        If the day and the month cannot be told apart.
    """
    value = part.number(name)
    first = ask(f"SELECT DISTINCT v FROM (SELECT {value} AS v FROM {part.table} LIMIT {_SAMPLE}) LIMIT {_MOST_SHOWN}")
    told = [text for (text,) in first if text is not None]
    if not told or is_number(told[0]) or not all(map(written, told)):
        return None
    cells = [text for (text,) in ask(f"SELECT DISTINCT {value} FROM {part.table}") if text is not None]
    try:
        order = order_of(cells, said)
        days = [(text, day_of(text, order)) for text in cells]
    except AmbiguousDateError as reason:
        raise SourceError(f"'{part.shown}': column '{name}' {reason}", asks=reason.asks) from None
    except ValueError:
        return None
    rows = ", ".join(f"({literal(text)}, DATE '{day}')" for text, day in days)
    ask(f"CREATE TEMP TABLE {table} AS SELECT * FROM (VALUES {rows}) AS known(cell, day)")
    return f"(SELECT day FROM {table} WHERE cell = {value})"
