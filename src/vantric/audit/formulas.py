"""Formulas of sheets, worked out as far as tables of counts need: sums, quotients, rounding.

A workbook that was written by a library holds formulas and no results, or zeros in their place. So what can be worked
out is; of any other formula the saved result is taken, and where there is none, that is said. References are read as
formulas and charts write them: ``Pareto!$B$2:$B$9``, unions, names.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from fractions import Fraction
from typing import Any, NamedTuple, TypeAlias

from vantric.base.lazily import compiled
from vantric.reading.grid import column_place

#: Sheet, row and column, both from 1.
Place: TypeAlias = tuple[str, int, int]
#: The largest sheet of Office Open XML.
_LAST_ROW, _LAST_COLUMN = 1_048_576, 16_384
#: One cell or a block: ``'My sheet'!$B$2:$C$9``.
_RANGE = compiled(
    r"(?:(?:'(?P<quoted>(?:[^']|'')+)'|(?P<plain>[^'!:$]+))!)?"
    r"\$?(?P<left>[A-Za-z]{1,3})\$?(?P<top>[0-9]{1,7})(?::\$?(?P<right>[A-Za-z]{1,3})\$?(?P<bottom>[0-9]{1,7}))?"
)
#: Whole columns: ``B:C``.
_COLUMNS = compiled(
    r"(?:(?:'(?P<quoted>(?:[^']|'')+)'|(?P<plain>[^'!:$]+))!)?\$?(?P<left>[A-Za-z]{1,3}):\$?(?P<right>[A-Za-z]{1,3})"
)


class CellRange(NamedTuple):
    """A block of cells of one sheet; rows and columns from 1."""

    sheet: str
    top: int
    left: int
    bottom: int
    right: int


def parse_range(text: str, sheet: str = "") -> CellRange | None:
    """Return the block that a reference means; None for what is none."""
    match = _RANGE.fullmatch(text.strip())
    if match:
        top, left = int(match["top"]), column_place(match["left"]) + 1
        bottom = int(match["bottom"]) if match["bottom"] else top
        right = column_place(match["right"]) + 1 if match["right"] else left
    else:
        match = _COLUMNS.fullmatch(text.strip())
        if not match:
            return None
        top, bottom, left, right = 1, _LAST_ROW, column_place(match["left"]) + 1, column_place(match["right"]) + 1
    name = match["quoted"].replace("''", "'") if match["quoted"] else match["plain"] or sheet
    if max(left, right) > _LAST_COLUMN or max(top, bottom) > _LAST_ROW:
        return None
    return CellRange(name, min(top, bottom), min(left, right), max(top, bottom), max(left, right))


def parse_reference(text: str, names: Mapping[str, str], sheet: str = "") -> list[CellRange] | None:
    """Return the blocks of a reference of a chart: a range, a union of several, or a name; None for what is none."""
    plain = text.strip().removeprefix("=")
    plain = names.get(plain.rpartition("!")[2], plain)
    if plain.startswith("(") and plain.endswith(")"):
        plain = plain[1:-1]
    parts = [parse_range(part, sheet) for part in _parts(plain)]
    blocks = [block for block in parts if block is not None]
    return blocks if blocks and len(blocks) == len(parts) else None


def _parts(text: str) -> Iterator[str]:
    part, quoted = "", False
    for sign in text:
        quoted ^= sign == "'"
        if sign == "," and not quoted:
            yield part
            part = ""
        else:
            part += sign
    yield part


def cells_in(block: CellRange) -> Iterator[Place]:
    """Yield the places of a block, row by row."""
    for row in range(block.top, block.bottom + 1):
        for column in range(block.left, block.right + 1):
            yield block.sheet, row, column


#: (sheet, row, column) from 1 -> what the cell holds: a number, a text, None, or a formula that begins with "=".
Lookup = Callable[[Place], Any]
#: A formula nested deeper, or over more cells, is not worked out: its saved result counts.
_DEEPEST, _MOST_CELLS = 64, 1_100_000
_ERROR = "#"


class FormulaError(ValueError):
    """A formula that cannot be worked out here; the message says why."""


class _TooDeepError(Exception):
    """A formula that has to be worked out before others that use it, for the way there is too long.

    Attributes
    ----------
    place
        Where it is.
    """

    def __init__(self, place: Place) -> None:
        super().__init__(place)
        self.place = place


class _RunningSum:
    """What cells from a first row down to any other add up to; each row is added once."""

    def __init__(self, block: CellRange) -> None:
        self._block = block
        self._totals = [Fraction(0)]

    def down_to(self, bottom: int, value: Callable[[Place], Any]) -> float:
        """Return the sum of the numbers down to a row."""
        rows, totals = bottom - self._block.top + 1, list(self._totals[-1:])
        known = len(self._totals)
        for row in range(self._block.top + known - 1, bottom + 1):
            cells = map(value, cells_in(self._block._replace(top=row, bottom=row)))
            totals.append(totals[-1] + sum(map(Fraction, _numbers_among(list(cells)))))
        if len(self._totals) <= rows:  # a cell of them may have asked for a part of the sum itself
            self._totals = [*self._totals[:known], *totals[1:]]
        return float(self._totals[rows])


class FormulaResults:
    """The results of the formulas of a workbook, each worked out once."""

    def __init__(self, lookup: Lookup, saved: Lookup, last_row: Callable[[str], int]) -> None:
        self._lookup, self._saved, self._last_row = lookup, saved, last_row
        self._known: dict[Place, Any] = {}
        self._running: dict[tuple[str, int, int, int], _RunningSum] = {}
        self._depth = 0

    def value(self, place: Place) -> Any:
        """Return what a cell shows: the result of its formula, or what is typed.

        Raises
        ------
        FormulaError
            If a formula uses what is not worked out here, or refers to itself.
        """
        if self._depth:
            return self._value(place)
        waiting = [place]
        while True:
            try:
                result = self._value(waiting[-1])
            except _TooDeepError as deeper:
                if deeper.place in waiting:
                    self._known[deeper.place] = FormulaError("refers to itself")
                else:
                    waiting.append(deeper.place)
                continue
            except FormulaError:
                if len(waiting) == 1:
                    raise
            waiting.pop()
            if not waiting:
                return result

    def _value(self, place: Place) -> Any:
        if place in self._known:
            result = self._known[place]
            if isinstance(result, FormulaError):
                raise result
            return result
        raw = self._lookup(place)
        if not (isinstance(raw, str) and raw.startswith("=")):
            return raw
        if self._depth > _DEEPEST:
            raise _TooDeepError(place)
        self._known[place] = FormulaError("refers to itself")
        self._depth += 1
        try:
            self._known[place] = self._result(raw, place[0])
        except _TooDeepError:
            del self._known[place]
            raise
        except FormulaError as error:  # what another program worked out is better than nothing
            saved = None if str(error).startswith(_ERROR) else self._saved(place)
            self._known[place] = error if saved is None else saved
            if saved is None:
                raise
        finally:
            self._depth -= 1
        return self._known[place]

    def _result(self, formula: str, sheet: str) -> Any:
        try:
            return _Parser(formula, sheet, self).result()
        except ArithmeticError:  # beyond what a float holds
            raise FormulaError("#NUM!") from None

    def running_sum(self, text: str, sheet: str) -> float:
        """Return the sum of a range, which the range of the cell above may begin with."""
        block = self._block(text, sheet)
        key = (block.sheet, block.top, block.left, block.right)
        return self._running.setdefault(key, _RunningSum(block)).down_to(block.bottom, self.value)

    def _block(self, text: str, sheet: str) -> CellRange:
        block = parse_range(text, sheet)
        if block is None:
            raise FormulaError(f"refers to {text}")
        block = block._replace(bottom=max(block.top, min(block.bottom, self._last_row(block.sheet))))
        if (block.bottom - block.top + 1) * (block.right - block.left + 1) > _MOST_CELLS:
            raise FormulaError("refers to too many cells")
        return block

    def cells(self, text: str, sheet: str) -> Iterator[Any]:
        """Yield what the cells of a range show."""
        yield from map(self.value, cells_in(self._block(text, sheet)))


class _Parser:
    """One formula: sums of products of powers of operands, as the standard of spreadsheets orders them."""

    def __init__(self, formula: str, sheet: str, results: FormulaResults) -> None:
        from openpyxl.formula import Tokenizer

        try:
            tokens = [token for token in Tokenizer(formula).items if token.type != "WHITE-SPACE"]
        except Exception as error:  # whatever the tokenizer stumbles over
            raise FormulaError("cannot be read") from error
        self._tokens: Sequence[Any] = tokens
        self._next, self._sheet, self._results, self._nested = 0, sheet, results, 0

    def result(self) -> Any:
        value = self._sum()
        if self._next < len(self._tokens):
            raise FormulaError(f"uses {self._tokens[self._next].value}")
        return _scalar(value)

    def _peek(self) -> Any:
        return self._tokens[self._next] if self._next < len(self._tokens) else None

    def _take(self, *signs: str) -> str | None:
        token = self._peek()
        if token is not None and token.type == "OPERATOR-INFIX" and token.value in signs:
            self._next += 1
            return str(token.value)
        return None

    def _sum(self) -> Any:
        value = self._product()
        while sign := self._take("+", "-"):
            other = self._product()
            value = _number(value) + _number(other) if sign == "+" else _number(value) - _number(other)
        return value

    def _product(self) -> Any:
        value = self._operand()
        while sign := self._take("*", "/", "^"):
            other = _number(self._operand())
            try:
                value = {"*": lambda a, b: a * b, "/": lambda a, b: a / b, "^": lambda a, b: a**b}[sign](
                    _number(value), other
                )
            except ZeroDivisionError:
                raise FormulaError("#DIV/0!") from None
            except OverflowError:
                raise FormulaError("#NUM!") from None
            if isinstance(value, complex) or not math.isfinite(value):
                raise FormulaError("#NUM!")
        return value

    def _operand(self) -> Any:
        token = self._peek()
        if token is None:
            raise FormulaError("ends early")
        self._next += 1
        if self._nested >= _DEEPEST:
            raise FormulaError("is nested too deep")
        self._nested += 1
        value = self._single(token)
        self._nested -= 1
        return value

    def _single(self, token: Any) -> Any:
        if token.type == "OPERATOR-PREFIX":
            value = _number(self._operand())
            return -value if token.value == "-" else value
        value = self._plain(token)
        after = self._peek()
        while after is not None and after.type == "OPERATOR-POSTFIX":
            self._next += 1
            value, after = _number(value) / 100, self._peek()
        return value

    def _plain(self, token: Any) -> Any:
        if token.type == "OPERAND" and token.subtype == "NUMBER":
            return float(token.value)
        if token.type == "OPERAND" and token.subtype == "TEXT":
            return token.value.strip('"')
        if token.type == "OPERAND" and token.subtype == "RANGE":
            return list(self._results.cells(token.value, self._sheet))
        if token.type == "PAREN" and token.subtype == "OPEN":
            value = self._sum()
            self._close("PAREN")
            return value
        if token.type == "FUNC" and token.subtype == "OPEN":
            return self._call(token.value.rstrip("(").upper().removeprefix("_XLFN."))
        raise FormulaError(f"uses {token.value}")

    def _close(self, kind: str) -> None:
        token = self._peek()
        if token is None or token.type != kind or token.subtype != "CLOSE":
            raise FormulaError("is not closed")
        self._next += 1

    def _call(self, name: str) -> Any:
        if name == "IFERROR":
            return self._if_error()
        values: list[Any] = []
        while (token := self._peek()) is not None and not (token.type == "FUNC" and token.subtype == "CLOSE"):
            if token.type == "SEP":
                self._next += 1
            elif name == "SUM" and self._is_range_alone():
                self._next += 1
                values.append(self._results.running_sum(token.value, self._sheet))
            else:
                values.append(self._sum())
        self._close("FUNC")
        return _called(name, values)

    def _is_range_alone(self) -> bool:
        """Whether the next part of a function is a range and nothing else."""
        token, after = self._tokens[self._next], self._tokens[self._next + 1 : self._next + 2]
        ends = bool(after) and (after[0].type == "SEP" or after[0].subtype == "CLOSE")
        return ends and token.type == "OPERAND" and token.subtype == "RANGE"

    def _if_error(self) -> Any:
        start, depth, comma, index = self._next, 0, None, self._next
        while index < len(self._tokens):  # where the two halves are, whatever fails in the first
            token = self._tokens[index]
            depth += {"OPEN": 1, "CLOSE": -1}.get(token.subtype, 0)
            if depth < 0:
                break
            if depth == 0 and token.type == "SEP" and comma is None:
                comma = index
            index += 1
        if comma is None:
            raise FormulaError("uses IFERROR with one part")
        try:
            value = self._sum()
            if self._next != comma:
                raise FormulaError("cannot be read")
        except FormulaError as error:
            if not str(error).startswith(_ERROR):
                raise  # what is not worked out here is no error of the sheet
            self._next = comma + 1
            value = self._sum() if self._next < index else ""
        self._next = max(index, start)
        self._close("FUNC")
        return value


def _called(name: str, items: list[Any]) -> Any:
    if name in ("SUBTOTAL", "AGGREGATE") and items:
        code, items = int(_number(items[0])) % 100, items[1 if name == "SUBTOTAL" else 2 :]
        name = {1: "AVERAGE", 2: "COUNT", 3: "COUNTA", 4: "MAX", 5: "MIN", 9: "SUM"}.get(code, name)
    if name in ("ROUND", "ROUNDUP", "ROUNDDOWN") and items:
        value, digits = _number(items[0]), int(_number(items[1])) if len(items) > 1 else 0
        if name == "ROUND":
            return math.floor(abs(value) * 10.0**digits + 0.5) / 10.0**digits * (1 if value >= 0 else -1)
        away = math.ceil if name == "ROUNDUP" else math.floor
        return away(abs(value) * 10.0**digits) / 10.0**digits * (1 if value >= 0 else -1)
    values = [value for item in items for value in (item if isinstance(item, list) else [item])]
    numbers = _numbers_among(values)
    if name == "COUNTA":
        return float(sum(value is not None and value != "" for value in values))
    functions: dict[str, Callable[[list[float]], float]] = {
        "SUM": math.fsum,
        "COUNT": lambda values: float(len(values)),
        "MAX": lambda values: max(values, default=0.0),
        "MIN": lambda values: min(values, default=0.0),
        "ABS": lambda values: abs(values[0]) if values else 0.0,
        "AVERAGE": lambda values: math.fsum(values) / len(values),
        "PRODUCT": math.prod,
    }
    if name not in functions or (name == "AVERAGE" and not numbers):
        raise FormulaError(f"uses {name}")
    return functions[name](numbers)


def _numbers_among(values: Sequence[Any]) -> list[float]:
    """Return the numbers of cells; raise `FormulaError` if one shows a failure."""
    failed = next((value for value in values if isinstance(value, str) and value.startswith(_ERROR)), None)
    if failed is not None:
        raise FormulaError(failed)
    return [float(value) for value in values if isinstance(value, int | float) and not isinstance(value, bool)]


def _scalar(value: Any) -> Any:
    if isinstance(value, list):
        if len(value) != 1:
            raise FormulaError("shows several cells")
        return value[0]
    return value


def _number(value: Any) -> float:
    value = _scalar(value)
    if value is None or value == "":
        return 0.0
    if isinstance(value, str):
        if value.startswith(_ERROR):
            raise FormulaError(value)
        raise FormulaError("#VALUE!")
    return float(value)
