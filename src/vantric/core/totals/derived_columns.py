"""Which columns of a range, and which of several sheets, are derived from the others."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from fractions import Fraction
from math import log10
from typing import NamedTuple

from vantric.core.totals.derived_rows import derived_rows
from vantric.core.totals.label_kinds import (
    STRONG_KINDS,
    LabelKind,
    is_long_period,
    is_month,
    is_summary_sheet,
    kind_of,
    plain_label,
)
from vantric.core.totals.row_sums import Amount, Cell, CountedRow, Verdict, agree, digits_of, in_units, unit_of

#: Evidence at which a column under an unknown heading, or a sheet, is asked about, and at which it is warned of.
_ASK, _WARN = 2.0, 1.0
#: The same under a heading that names a total or a mean, where only one row shows it.
_NAMED = 0.5
_MOST_DIGITS = 2.0
_FEWEST = 3
#: Numbers of columns behind one that it may add up: a quarter of months, a year.
_RUNS_AFTER = (2, 3, 4, 6, 12)


class _Sum(NamedTuple):
    weight: float
    rows: int
    reason: str


def derived_columns(
    names: Sequence[str], columns: Sequence[Sequence[Cell]], formulas: Mapping[str, str] | None = None
) -> dict[str, Verdict]:
    """Return the verdict on every column of a range that is derived from the others, or may be.

    Parameters
    ----------
    names
        In the order of the sheet.
    columns
        The cells of each, a cell a row.
    formulas
        Column -> the function of its cells over other columns of the range.
    """
    if len(names) < _FEWEST:
        return {}
    filled = [row for row in range(len(columns[0])) if any(column[row] for column in columns)]
    if len(filled) == 1:  # its columns are the rows of a table
        rows = [CountedRow(name, (column[filled[0]],)) for name, column in zip(names, columns, strict=True)]
        return {names[place]: verdict for place, verdict in derived_rows(rows).items()}
    search = _Range(names, columns)
    verdicts: dict[int, Verdict] = {}
    for place, name in enumerate(names):
        formula = (formulas or {}).get(name)
        verdict = Verdict("out", "formula", f"is a formula over the other columns ({formula})") if formula else None
        verdict = verdict or search.verdict(place, verdicts)
        if verdict is not None:
            verdicts[place] = verdict
    return {names[place]: verdict for place, verdict in verdicts.items()}


class _Range:
    """The columns of a range, and what their headings say."""

    def __init__(self, names: Sequence[str], columns: Sequence[Sequence[Cell]]) -> None:
        self._names = names
        self._columns, self._scale = in_units(columns)
        self._units = [unit_of(column) for column in self._columns]
        self._kinds: list[LabelKind] = [kind_of(name) for name in names]
        self._long = [is_long_period(name) for name in names]
        self._months = sum(map(is_month, names))

    def verdict(self, place: int, before: Mapping[int, Verdict]) -> Verdict | None:
        """Return the verdict on a column; None if it is one of the parts."""
        runs = self._runs(place, before)
        kind = self._kinds[place]
        ways = (False, True) if kind in ("statistic", "weak") else (False,)
        sums = [
            candidate for parts, reason in runs for mean in ways if (candidate := self._sum(place, parts, reason, mean))
        ]
        named = kind in STRONG_KINDS or kind in ("weak", "statistic") or self._long[place]
        if not sums:
            return _UNCONFIRMED if self._is_unconfirmed(place) else None
        best = max(sums, key=lambda candidate: candidate.weight)
        weight = best.weight - log10(len(runs)) - (best.rows < 2)
        if named and (weight >= _NAMED or best.rows > 1):
            return Verdict("out", "total", best.reason)
        outcome = "ask" if weight >= _ASK else "warn" if weight >= _WARN else None
        return Verdict(outcome, "total", best.reason) if outcome else None  # type: ignore[arg-type]

    def _is_unconfirmed(self, place: int) -> bool:
        """Whether a heading names a sum or a mean that the column is not."""
        months = self._months > 1
        year = plain_label(self._names[place]).startswith("year")
        return (
            (self._long[place] and months and not year)
            or self._kinds[place] in STRONG_KINDS
            or (self._kinds[place] == "statistic" and months)
        )

    def _runs(self, place: int, before: Mapping[int, Verdict]) -> list[tuple[list[int], str]]:
        """Return the columns that a column may be derived from, each with its name."""
        last = max((other for other in before if other < place), default=-1)
        run = list(range(last + 1, place))
        every = [other for other in range(place) if other not in before]
        runs = [(run[-number:], f"the {number} columns before it") for number in range(2, len(run) + 1)]
        if len(every) > len(run) and len(every) > 1:
            runs.append((every, "all columns before it"))
        after = [other for other in range(place + 1, len(self._names)) if other not in before]
        if not place and len(after) > 1:
            runs.append((after, "all columns after it"))
        for number in _RUNS_AFTER:
            if place + number < len(self._names) and (place or number < len(self._names) - 1):
                runs.append((list(range(place + 1, place + 1 + number)), f"the {number} columns after it"))
        return runs

    def _sum(self, place: int, parts: Sequence[int], reason: str, mean: bool) -> _Sum | None:
        """Return the evidence that a column is the sum, or the mean, of others; None if a row contradicts it."""
        weight, several = 0.0, 0
        mixes: set[tuple[Fraction, ...]] = set()
        unit = min(self._units[place], *(self._units[part] for part in parts))
        for row, stated in enumerate(self._columns[place]):
            cells = [self._columns[part][row] for part in parts]
            filled_cells = [cell for cell in cells if cell is not None]
            if stated is None and not any(filled_cells):
                continue
            total = sum(filled_cells)
            several += sum(1 for cell in filled_cells if cell) > 1
            if stated is None or not self._agrees(place, stated, filled_cells, unit, mean):
                return None
            mix = tuple(Fraction(cell or 0, total) for cell in cells) if total else ()
            if sum(1 for cell in filled_cells if cell) > 1 and mix not in mixes:
                mixes.add(mix)
                weight += self._digits(stated, filled_cells, unit, mean)
        return _Sum(weight, several, f"is the {'mean' if mean else 'sum'} of {reason}") if mixes else None

    def _agrees(self, place: int, stated: int, filled_cells: Sequence[int], unit: int, mean: bool) -> bool:
        if not mean:
            return agree(stated, sum(filled_cells), len(filled_cells), unit, self._scale, rounded=False)
        least = min(self._scale, self._units[place])
        return 2 * abs(stated - Fraction(sum(filled_cells), len(filled_cells) or 1)) <= least

    def _digits(self, stated: int, filled_cells: Sequence[int], unit: int, mean: bool) -> float:
        if not mean:
            return min(_MOST_DIGITS, digits_of(stated, unit))
        return min(_MOST_DIGITS, digits_of(max(filled_cells) - min(filled_cells), min(self._scale, unit)))


_UNCONFIRMED = Verdict("ask", "total", "reads as a sum or a mean of the others, and is not")


#: A summary that differs from the sum of the others by no more is one all the same.
_NEAR = 20
#: From this amount on, a sheet of an ordinary name with the total of all others is warned of.
_LARGE = 1000

_SUM = "is the sum of the other sheets, label by label"


def derived_sheets(sheets: Mapping[str, Mapping[str | None, Amount]]) -> dict[str, Verdict]:
    """Return the verdict on every sheet that holds what other sheets hold together, or may.

    Parameters
    ----------
    sheets
        Sheet -> label -> what is counted.
    """
    verdicts: dict[str, Verdict] = {}
    if len(sheets) < _FEWEST:
        return verdicts
    whole: dict[str | None, Amount] = {}
    for amounts in sheets.values():
        for label, amount in amounts.items():
            whole[label] = whole.get(label, 0) + amount
    labels = list(whole)
    columns, scale = in_units([[amounts.get(label, 0) for label in labels] for amounts in sheets.values()])
    for name, cells in zip(sheets, columns, strict=True):
        mine = {label: cell or 0 for label, cell in zip(labels, cells, strict=True)}
        others = {label: int(total * scale) - mine[label] for label, total in whole.items()}
        verdict = _verdict(name, mine, others, scale)
        if verdict is not None:
            verdicts[name] = verdict
        if verdict is not None and verdict.reason == _SUM:
            return {name: verdict}
    return verdicts


def _verdict(
    name: str, amounts: Mapping[str | None, int], others: Mapping[str | None, int], scale: int
) -> Verdict | None:
    is_named = is_summary_sheet(name)
    labels = [label for label in others if others[label] or amounts.get(label, 0)]
    if labels and all(amounts.get(label, 0) == others[label] for label in labels):
        weight = sum(min(_MOST_DIGITS, digits_of(others[label], scale)) for label in labels)
        if weight < _WARN:
            return None
        return Verdict("out" if is_named else "ask" if weight >= _ASK else "warn", "sheet", _SUM)
    mine, rest = sum(amounts.values()), sum(others.values())
    if not is_named:
        return Verdict("warn", "sheet", "has the total of all others") if mine == rest >= _LARGE * scale else None
    near = mine and abs(mine - rest) * _NEAR <= abs(mine)
    return Verdict("ask" if near else "warn", "sheet", "reads as a summary of the others")
