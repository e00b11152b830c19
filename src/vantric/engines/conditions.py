"""What a condition on a file may be: one expression of columns, constants and ordinary functions.

Functions whose value differs from one reading to the next are left out, and so is what can make much of little. Dates
that are not written as ISO 8601 has them are read first, so that a condition can compare them.

How long it can make what it works with is bounded for each function before anything runs: the engine's memory limit
does not bound what a function makes, and nothing interrupts one. So each function has a rule for the longest result
that it can have, which errs on the safe side; one without a rule is no part of a condition.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator, Sequence
from typing import Any

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


#: Times that one result may be longer than a column's text, and all results of a condition together beyond once.
_MOST, _MOST_TOGETHER = 64.0, 128.0
#: Signs that count as much as a column's text; a number or a date has fewer.
_UNIT = 100
#: What a text may become longer by: by a change of letters, as text of another type, as text of a row.
_RECASED, _CAST, _ROW = 1.5, 4.0, 2.0

_NUMBERS = """
- * / // % ^ ** abs round floor ceil ceiling trunc sign sqrt cbrt ln log log2 log10 exp pow power mod subtract multiply
divide isnan isinf isfinite even fdiv fmod length len char_length character_length strlen ascii unicode ord chr
contains starts_with ^@ prefix suffix ends_with position strpos instr regexp_matches regexp_full_match
~~ !~~ ~~* !~~* ~~~ not_like_escape like_escape ilike_escape not_ilike_escape
"""
_DATES = """
date_part datepart date_trunc datetrunc date_diff datediff date_sub datesub date_add year month day hour minute
second millisecond quarter week weekofyear weekday dayofweek dayofmonth dayofyear isodow isoyear dayname
monthname last_day yearweek strptime try_strptime make_date make_timestamp epoch to_days to_weeks
to_months to_years to_hours to_minutes to_seconds to_milliseconds to_quarters age century decade
now today timezone
"""
_PARTS = """
trim ltrim rtrim substring substr left right split_part reverse regexp_extract translate
greatest least coalesce ifnull nullif if typeof
"""

Rule = Callable[[Sequence[dict[str, Any]]], float]


def check_growth(condition: dict[str, Any]) -> None:
    """Raise `SourceError` if a condition could make much of little.

    Parameters
    ----------
    condition
        As the engine's parser sees it, of functions that have a rule.
    """
    made = list(map(growth, _making(condition)))
    if max(made, default=0.0) > _MOST or sum(max(0.0, length - 1) for length in made) > _MOST_TOGETHER:
        raise SourceError("where: a text made this much longer is not for a condition; join or replace less")


def _making(node: Any) -> Iterator[dict[str, Any]]:
    """Yield the parts of a condition that make something."""
    waiting = [node]
    while waiting:
        values = waiting.pop()
        if isinstance(values, dict):
            if values.get("class") in ("FUNCTION", "CAST", "COLLATE", "CASE", "OPERATOR"):
                yield values
            waiting.extend(values.values())
        elif isinstance(values, list):
            waiting.extend(values)


def growth(node: Any) -> float:
    """Return how many times longer than the text of a column an expression can be."""
    if isinstance(node, list):
        return max(map(growth, node), default=0.0)
    if not isinstance(node, dict):
        return 0.0
    kind = node.get("class")
    if kind == "COLUMN_REF":
        return 1.0
    if kind == "CONSTANT":
        return len(str(constant(node) or "")) / _UNIT
    if kind == "FUNCTION":
        name = str(node["function_name"]).casefold()
        if name not in RULES:
            raise SourceError(f"where: the function {name}() is not for a condition")
        return RULES[name](arguments_of(node))
    longest = max(map(growth, node.values()), default=0.0)
    return longest * (_CAST if kind in ("CAST", "COLLATE") else 1)


def arguments_of(function: dict[str, Any]) -> list[dict[str, Any]]:
    """Return the arguments of a function, as the engine's versions hold them."""
    return function.get("arguments") or function.get("children") or []


def constant(node: dict[str, Any]) -> str | None:
    """Return the text of a constant; None for what is none."""
    item = node.get("expression", node)
    if item.get("class") != "CONSTANT":
        return None
    literal = item.get("literal") or item.get("value") or {}
    return str(literal.get("text", literal.get("value", "")))


def _short(_: Sequence[dict[str, Any]]) -> float:
    return 1.0


def _joined(arguments: Sequence[dict[str, Any]]) -> float:
    return sum(map(growth, arguments))


def _separated(arguments: Sequence[dict[str, Any]]) -> float:
    """Return the length of texts with the first one between all of the others."""
    return growth(arguments[0]) * max(0, len(arguments) - 2) + _joined(arguments[1:]) if arguments else 0.0


def _times(factor: float) -> Rule:
    return lambda arguments: factor * growth(list(arguments))


def _row(arguments: Sequence[dict[str, Any]]) -> float:
    """Return the length of a row as text: each value is quoted, and its quotation marks are escaped."""
    return _ROW * _joined(arguments) + 4 * len(arguments) / _UNIT


def _replaced(arguments: Sequence[dict[str, Any]]) -> float:
    """Return the length where every sign that is sought becomes the replacement."""
    sought, placed = (constant(argument) for argument in arguments[1:3]) if len(arguments) > 2 else ("", "")
    return growth(list(arguments)) * max(1.0, len(_literal(placed)) / len(sought or " "))


def _replaced_by_pattern(arguments: Sequence[dict[str, Any]]) -> float:
    """Return the length where a pattern meets nothing before each sign, and a reference stands for all that is met."""
    placed = _literal(constant(arguments[2]) if len(arguments) > 2 else "")
    return growth(list(arguments)) * (1.0 + len(placed) + placed.count("\\"))


def _literal(placed: str | None) -> str:
    if placed is None:
        raise SourceError("where: a replacement is literal text, not a column or another expression")
    return placed


def _formatted(arguments: Sequence[dict[str, Any]]) -> float:
    """Return the length of a date whose format writes it in full with every sign."""
    formats = [text for text in map(constant, arguments) if text is not None]
    return 40 * (len(formats[0]) / _UNIT if formats else growth(list(arguments)))


#: Function -> the rule of its longest result.
RULES: dict[str, Rule] = {
    **dict.fromkeys(f"{_NUMBERS} {_DATES}".split(), _short),
    **dict.fromkeys(_PARTS.split(), _times(1)),
    **dict.fromkeys(("upper", "lower", "ucase", "lcase"), _times(_RECASED)),
    **dict.fromkeys(("nfc_normalize", "strip_accents"), _times(_CAST)),
    **dict.fromkeys(("concat", "||", "+", "add"), _joined),
    "concat_ws": _separated,
    "row": _row,
    "replace": _replaced,
    "regexp_replace": _replaced_by_pattern,
    "strftime": _formatted,
}
