"""How long a condition can make what it works with: bounded for each function before anything runs.

The engine's memory limit does not bound what a function makes, and nothing interrupts one. So each function has a rule
for the longest result that it can have, which errs on the safe side; one without a rule is no part of a condition.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import Any

from vantric.errors import SourceError

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
