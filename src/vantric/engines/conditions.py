"""What a condition on a file may be: one expression of columns, constants and ordinary functions.

Functions whose value differs from one reading to the next are left out, and so is what can make much of little. Dates
that are not written as ISO 8601 has them are read first, so that a condition can compare them.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from typing import Any

from vantric.engines.condition_growth import RULES, check_growth
from vantric.engines.duckdb_engine import DuckDBEngine, literal
from vantric.engines.file_parts import Part
from vantric.errors import SourceError
from vantric.reading.number_style import is_number
from vantric.reading.records import Group
from vantric.reading.written_dates import AmbiguousDateError, Order, day_of, order_of, read_date

#: Cells in which a style of dates is looked for, and how many different ones are read.
_SAMPLE, _MOST_SHOWN = 20_000, 200


def day_lookup(
    ask: Callable[[str], list[Group]], part: Part, name: str, table: str, message: str | None
) -> tuple[str, Order] | None:
    """Return the SQL of the days in a column of text, and their order; None if it is no column of dates.

    Every different cell is read once, and looked up in a table of its day.

    Parameters
    ----------
    ask
        Runs a query.
    part, name
        The column.
    table
        What the table of days is called.
    message
        A date as an example of how they are written, if the user gives one.

    Raises
    ------
    SourceError
        If the day and the month cannot be told apart.
    """
    value = part.number(name)
    first = ask(f"SELECT DISTINCT v FROM (SELECT {value} AS v FROM {part.table} LIMIT {_SAMPLE}) LIMIT {_MOST_SHOWN}")
    values = [text for (text,) in first if text is not None]
    if not values or is_number(values[0]) or not all(map(read_date, values)):
        return None
    cells = [text for (text,) in ask(f"SELECT DISTINCT {value} FROM {part.table}") if text is not None]
    try:
        order = order_of(cells, message)
        days = [(text, day_of(text, order)) for text in cells]
    except AmbiguousDateError as reason:
        raise SourceError(f"'{part.shown}': column '{name}' {reason}", asks=reason.asks) from None
    except ValueError:  # no one style: the text stays text
        return None
    rows = ", ".join(f"({literal(text)}, DATE '{day}')" for text, day in days)
    ask(f"CREATE TEMP TABLE {table} AS SELECT * FROM (VALUES {rows}) AS known(cell, day)")
    return f"(SELECT day FROM {table} WHERE cell = {value})", order


#: Signs of a condition: the parser's time grows faster than its length.
_LONGEST = 20_000
#: Nodes of the parser's tree that a condition may hold; subqueries and windows are not among them.
_CLASSES = frozenset(
    {
        "COMPARISON",
        "CONJUNCTION",
        "CONSTANT",
        "COLUMN_REF",
        "FUNCTION",
        "OPERATOR",
        "CASE",
        "CAST",
        "BETWEEN",
        "COLLATE",
        "TYPE",
    }
)
_TYPE_NAMES = """
boolean bool tinyint smallint integer int int1 int2 int4 int8 bigint long hugeint utinyint usmallint uinteger
ubigint uhugeint short signed float float4 float8 real double decimal numeric dec varchar text string char
bpchar date time timestamp datetime timestamptz timestamp_s timestamp_ms timestamp_ns interval uuid
"""
_TYPES = frozenset(_TYPE_NAMES.split())
#: Where the engine's own functions are, as its versions spell it.
_OWN = (None, "", "main", "pg_catalog")


def check_condition(engine: DuckDBEngine, where: str, *, any_function: bool = False) -> None:
    """Raise `SourceError` unless a text is one condition of what is allowed.

    Parameters
    ----------
    engine
        Whose parser reads it; its errors are those of `duckdb`.
    where
        As the user wrote it.
    any_function
        Whether it may call any function of the engine.
    """
    if not where.strip():
        raise SourceError("where is empty: give a condition such as \"kiln = 'Kiln 2'\", or leave it out")
    if any(engine.statements(f"SELECT 1 WHERE {text}") != 1 for text in (where, f"({where}\n)")):
        raise SourceError(f"where is one condition, not several statements: {where}")
    if not any_function:
        checked_condition(where, engine.serialized(f"SELECT 1 WHERE ({where}\n)"))


def checked_condition(where: str, serialized: str) -> None:
    """Raise `SourceError` unless a condition is one expression of what is allowed.

    Parameters
    ----------
    where
        As the user wrote it.
    serialized
        What the engine's ``json_serialize_sql`` makes of ``SELECT 1 WHERE (...)``.
    """
    if len(where) > _LONGEST:
        raise SourceError(f"where is longer than {_LONGEST:,} characters; put the values into a column of the source")
    try:
        tree = json.loads(serialized)
    except RecursionError:
        raise SourceError("where is nested too deeply for a condition; put the result into a column") from None
    if tree["error"]:
        raise SourceError(f"where: {tree['error_message']}; the condition is: {' '.join(where.split())}")
    node = tree["statements"][0]["node"] if len(tree["statements"]) == 1 else {}
    plain = node.get("type") == "SELECT_NODE" and node["from_table"]["type"] in ("EMPTY", "EMPTY_TABLE")
    more = node.get("group_expressions") or node.get("having") or node.get("qualify") or node.get("modifiers")
    if not plain or more or node.get("sample") or not node.get("where_clause"):
        raise SourceError(f"where is one condition, not several statements: {where}")
    for expression in _expressions(node["where_clause"]):
        _check_one(expression)
    try:
        check_growth(node["where_clause"])
    except RecursionError:
        raise SourceError("where is nested too deeply for a condition; put the result into a column") from None


def _expressions(node: Any) -> Iterator[dict[str, Any]]:
    waiting = [node]
    while waiting:
        values = waiting.pop()
        if isinstance(values, dict):
            if "class" in values:
                yield values
            waiting.extend(values.values())
        elif isinstance(values, list):
            waiting.extend(values)


def _check_one(node: dict[str, Any]) -> None:
    kind = node["class"]
    if kind not in _CLASSES or node.get("type") in ("ARRAY_EXTRACT", "ARRAY_SLICE", "STRUCT_EXTRACT"):
        word = "subscript" if kind == "OPERATOR" else kind.lower().replace("_", " ")
        raise SourceError(f"where: a {word} is not for a condition; use columns, constants and ordinary functions")
    if kind == "FUNCTION":
        name = str(node["function_name"]).casefold()
        if name not in RULES or node.get("schema") not in _OWN or node.get("filter") or node.get("distinct"):
            raise SourceError(
                f"where: the function {name}() is not for a condition; use ordinary functions of text, numbers and "
                "dates, such as upper(), round() and date_trunc()"
            )
    type_tree = node.get("cast_type") or node.get("type_expr") if kind == "CAST" else None
    if type_tree is not None:
        name = str(type_tree.get("type_name") or type_tree.get("id") or "").casefold()
        if name.removesuffix(" with time zone") not in _TYPES and "time" not in name:
            raise SourceError(
                f"where: a cast to {name or 'that type'} is not for a condition; use a number, text or date"
            )
