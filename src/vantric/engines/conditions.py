"""What a condition on a file may be: one expression of columns, constants and ordinary functions.

The engine's memory limit does not bound what a function makes, nor does an interrupt stop one: so those that can make
much of little are left out, and so are those whose value differs from one reading to the next. Dates that are not
written as ISO 8601 has them are read first, so that a condition can compare them.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from typing import Any

from vantric.engines.duckdb_engine import DuckDBEngine, literal
from vantric.engines.file_parts import Part
from vantric.errors import SourceError
from vantric.reading.dates import AmbiguousDateError, day_of, order_of, read_date
from vantric.reading.number_style import is_number
from vantric.reading.records import Group

#: Cells in which a style of dates is looked for, and how many different ones are read.
_SAMPLE, _MOST_SHOWN = 20_000, 200


def day_lookup(ask: Callable[[str], list[Group]], part: Part, name: str, table: str, message: str | None) -> str | None:
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
    return f"(SELECT day FROM {table} WHERE cell = {value})"


#: Signs of a condition: the parser's time grows faster than its length.
_LONGEST = 20_000
_MOST_GROWTH = 64  # times that an expression may be longer than a column's text
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
_OPERATORS = """
+ - * / // % ^ ** || ~~ !~~ ~~* !~~* ~~~
"""
_OF_TEXT = """
upper lower ucase lcase trim ltrim rtrim length len char_length character_length strlen substring substr left
right contains starts_with ^@ prefix suffix ends_with position strpos instr concat concat_ws split_part reverse
strip_accents replace regexp_replace regexp_matches regexp_full_match regexp_extract ascii unicode ord chr
not_like_escape like_escape ilike_escape not_ilike_escape nfc_normalize translate
"""
_OF_NUMBERS = """
abs round floor ceil ceiling trunc sign sqrt cbrt ln log log2 log10 exp pow power mod add subtract multiply
divide isnan isinf isfinite greatest least even fdiv fmod
"""
_OF_DATES = """
date_part datepart date_trunc datetrunc date_diff datediff date_sub datesub date_add year month day hour minute
second millisecond quarter week weekofyear weekday dayofweek dayofmonth dayofyear isodow isoyear dayname
monthname last_day yearweek strftime strptime try_strptime make_date make_timestamp epoch to_days to_weeks
to_months to_years to_hours to_minutes to_seconds to_milliseconds to_quarters age century decade
now today
"""
_OF_CHOICE = """
timezone coalesce ifnull nullif if typeof row
"""
_TYPES = frozenset(_TYPE_NAMES.split())
_FUNCTIONS = frozenset(" ".join((_OPERATORS, _OF_TEXT, _OF_NUMBERS, _OF_DATES, _OF_CHOICE)).split())
#: Where the engine's own functions are, as its versions spell it.
_OWN = (None, "", "main", "pg_catalog")
#: Functions whose result can be much longer than what they are given.
_REPLACING = frozenset({"replace", "regexp_replace"})
#: Functions that add texts up.
_JOINING = frozenset({"concat", "concat_ws", "||", "+"})


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
        growth = _growth(node["where_clause"])
    except RecursionError:
        raise SourceError("where is nested too deeply for a condition; put the result into a column") from None
    if growth > _MOST_GROWTH:
        raise SourceError("where: a text made this much longer is not for a condition; join or replace less")


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
        if name not in _FUNCTIONS or node.get("schema") not in _OWN or node.get("filter") or node.get("distinct"):
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


def _growth(node: Any) -> float:
    """Return how many times longer than a column's text an expression can be."""
    if isinstance(node, list):
        return max(map(_growth, node), default=0.0)
    if not isinstance(node, dict):
        return 0.0
    if node.get("class") == "COLUMN_REF":
        return 1.0
    if node.get("class") == "FUNCTION":
        name, arguments = str(node["function_name"]).casefold(), node.get("arguments") or node.get("children") or []
        if name in _JOINING:
            return sum(map(_growth, arguments))
        if name in _REPLACING:
            return _growth(arguments) * _lengthening(arguments, whole=name == "replace")
    return max(map(_growth, node.values()), default=0.0)


def _lengthening(contents: list[dict[str, Any]], *, whole: bool) -> float:
    """Return how many times longer a replacement makes a text; `whole`: it replaces the second argument as it is."""
    sought, placed = (_constant(argument) for argument in contents[1:3]) if len(contents) > 2 else ("", "")
    if placed is None:
        raise SourceError("where: a replacement is literal text, not a column or another expression")
    return max(1.0, len(placed) / (len(sought) if whole and sought else 1))


def _constant(node: dict[str, Any]) -> str | None:
    item = node.get("expression", node)
    if item.get("class") != "CONSTANT":
        return None
    literal = item.get("literal") or item.get("value") or {}
    return str(literal.get("text", literal.get("value", "")))
