"""The arithmetic of a sheet made elsewhere: every cell worked out again, and what slip explains a wrong one."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import accumulate, pairwise

from vantric.core.numbers.shown import digits_text, one_line
from vantric.core.reviewing.finding import Finding, error, warning
from vantric.core.reviewing.labels import is_total

_DIGITS = re.compile(r"[+-]?\d*\.?(\d*)")


@dataclass(frozen=True)
class SheetRow:
    """One row of a sheet.

    Attributes
    ----------
    place
        Which one it is, in words: ``"row 5"``.
    label
        Its category.
    count
        Its frequency.
    percent, cumulative
        What the sheet says; None where a cell is empty or there is no such column.
    percent_text, cumulative_text
        As the cells are written: they tell how far they are rounded.
    """

    place: str
    label: str
    count: Fraction
    percent: Fraction | None = None
    cumulative: Fraction | None = None
    percent_text: str = ""
    cumulative_text: str = ""


@dataclass(frozen=True)
class _Right:
    """What the cells of a row should say."""

    percent: float
    cumulative: float


def check_sheet(rows: Sequence[SheetRow]) -> list[Finding]:
    """Work a Pareto table out again and name every cell that is wrong, with the likely slip.

    A cell is right if it is the exact value, rounded as far as it is written. A Total row at the end is checked and not
    counted; percents may be written as shares of 1.
    """
    body, totals = _parted(rows)
    whole = sum((row.count for row in body), Fraction(0))
    if not body or whole <= 0:
        return []
    shares = _as_shares(body)
    scale = 1 if shares else 100
    running = list(accumulate(row.count for row in body))
    right = [
        _Right(float(scale * row.count / whole), float(scale * total / whole))
        for row, total in zip(body, running, strict=True)
    ]
    return [
        *_total_wrong(totals, whole),
        *_percents(body, right, whole, scale, totals),
        *_cumulative(body, right, scale),
        *_end(body, scale),
        *_sorted(body),
    ]


def _parted(rows: Sequence[SheetRow]) -> tuple[list[SheetRow], list[SheetRow]]:
    """Part the rows of categories from those of totals."""
    totals = [row for row in rows if is_total(row.label) and len(rows) > 2]
    return [row for row in rows if row not in totals], totals


def _as_shares(rows: Sequence[SheetRow]) -> bool:
    """Whether percents are written as shares of 1."""
    said = [float(row.percent) for row in rows if row.percent is not None]
    ends = [float(row.cumulative) for row in rows if row.cumulative is not None]
    return bool(said or ends) and max([*said, *ends]) <= 1.5 and sum(said) <= 2.5


def _is(said: Fraction, text: str, wanted: float) -> bool:
    """Whether a cell says a value, rounded as far as it is written."""
    found = _DIGITS.match(text.strip().rstrip("% ").replace(",", "."))
    digits = len(found[1]) if found else 0
    return abs(float(said) - wanted) <= 0.5 * 10.0**-digits + 1e-9 * max(1.0, abs(wanted))


def _named(row: SheetRow) -> str:
    return f"{row.place} ('{one_line(row.label, longest=40)}')"


def _error(code: str, row: SheetRow, column: str, said: Fraction, wanted: float, slip: str, fix: str) -> Finding:
    numbers = f"{digits_text(float(said))} and should be {digits_text(wanted, digits=4)}"
    return error(
        code,
        message=f"{_named(row)}: {column} says {numbers}{': ' if slip else ''}{slip}",
        fix=fix,
        where=f"{row.place}, {column}",
    )


def _total_wrong(totals: Sequence[SheetRow], whole: Fraction) -> list[Finding]:
    return [
        _error(
            "wrong-total",
            row,
            "the total",
            row.count,
            float(whole),
            "it is not the sum of its rows",
            "add the rows up again",
        )
        for row in totals
        if row.count not in (whole, 0)
    ]


def _percents(
    rows: Sequence[SheetRow], right: Sequence[_Right], whole: Fraction, scale: int, totals: Sequence[SheetRow]
) -> list[Finding]:
    wrong = [
        (row, wanted.percent)
        for row, wanted in zip(rows, right, strict=True)
        if row.percent is not None and not _is(row.percent, row.percent_text, wanted.percent)
    ]
    slip = _base_slip([row for row, _ in wrong], whole, scale, rows, totals)
    fix = f"divide by the sum of all rows, {digits_text(float(whole))}"
    return [
        _error("wrong-percent", row, "the percent", row.percent or Fraction(0), wanted, slip, fix)
        for row, wanted in wrong
    ]


def _base_slip(
    wrong: Sequence[SheetRow], whole: Fraction, scale: int, rows: Sequence[SheetRow], totals: Sequence[SheetRow]
) -> str:
    """Return what base explains all wrong percents; nothing if none does."""
    for base, words in _bases(whole, rows, totals):
        if (
            base
            and len(wrong) > 1
            and all(_is(row.percent or Fraction(0), row.percent_text, float(scale * row.count / base)) for row in wrong)
        ):
            return words
    return ""


def _bases(
    whole: Fraction, rows: Sequence[SheetRow], totals: Sequence[SheetRow]
) -> list[tuple[Fraction, str]]:  # fmt: skip
    """Return what people divide by instead of the total, and how to say so."""
    return [
        (2 * whole, "the Total row was in the sum that it was divided by"),
        *((whole + row.count, "the Total row was in the sum that it was divided by") for row in totals),
        (max(row.count for row in rows), "it was divided by the largest row, not by the sum"),
        (Fraction(len(rows)), "it was divided by the number of rows"),
        *((row.count, "it was divided by a wrong total") for row in totals),
        *(
            (
                whole - row.count,
                f"the row '{one_line(row.label, longest=30)}' was not in the sum that it was divided by",
            )
            for row in rows
        ),
    ]


def _cumulative(rows: Sequence[SheetRow], right: Sequence[_Right], scale: int) -> list[Finding]:
    wrong = [
        at
        for at, (row, wanted) in enumerate(zip(rows, right, strict=True))
        if row.cumulative is not None and not _is(row.cumulative, row.cumulative_text, wanted.cumulative)
    ]
    if not wrong:
        return []
    slip, fix = _running_slip(rows, wrong, scale)
    return [
        _error(
            "wrong-cumulative",
            rows[at],
            "the cumulative percent",
            rows[at].cumulative or Fraction(0),
            right[at].cumulative,
            slip,
            fix,
        )
        for at in wrong
    ]


def _running_slip(rows: Sequence[SheetRow], wrong: Sequence[int], scale: int) -> tuple[str, str]:
    """Return what explains the wrong running sums, and the fix."""
    said = [row.percent for row in rows]
    plain = "add the frequencies up and divide each sum by the total"
    if all(value is not None for value in said):
        sums = list(accumulate(value for value in said if value is not None))
        if all(_close(rows[at].cumulative, float(sums[at])) for at in wrong):
            off = abs(float(sums[-1]) - scale) > 0.006 * scale
            return (
                "it is a running sum of wrong percents" if off else "it is a running sum of rounded percents"
            ), plain
        if all(_close(rows[at].cumulative, float(said[at] or 0)) for at in wrong):
            return "it repeats the percent of its own row", plain
        shifted = [Fraction(0), *sums[:-1]]
        if all(_close(rows[at].cumulative, float(shifted[at])) for at in wrong):
            return "its own row is not in it yet", plain
    sums = list(accumulate(row.count for row in rows))
    for base, words in _bases(sum((row.count for row in rows), Fraction(0)), rows, []):
        if base and len(wrong) > 1 and all(_says(rows[at], float(scale * sums[at] / base)) for at in wrong):
            return words, plain
    order = sorted(range(len(rows)), key=lambda at: -rows[at].count)
    whole = sum((row.count for row in rows), Fraction(0))
    running = dict(zip(order, accumulate(rows[at].count for at in order), strict=True))
    if len(wrong) > 1 and all(_close(rows[at].cumulative, float(scale * running[at] / whole)) for at in wrong):
        return "it belongs to the rows in descending order, and they are not sorted", "sort all columns together"
    return "", plain


def _says(row: SheetRow, wanted: float) -> bool:
    return row.cumulative is not None and _is(row.cumulative, row.cumulative_text, wanted)


def _close(said: Fraction | None, wanted: float) -> bool:
    return said is not None and math.isclose(float(said), wanted, rel_tol=1e-9, abs_tol=1e-6)


def _end(rows: Sequence[SheetRow], scale: int) -> list[Finding]:
    last = rows[-1]
    said = last.cumulative
    if said is None or (_is(said, last.cumulative_text, float(scale)) and float(said) == scale):
        return []
    kind = error if abs(float(said) - scale) > 0.006 * scale else warning
    return [
        kind(
            "not-ending-at-100",
            message=f"the last cumulative percent says {digits_text(float(said))}, and the last is always {scale}",
            fix="work it out from the frequencies, not from rounded percents",
            where=f"{last.place}, the cumulative percent",
        )
    ]


def _sorted(rows: Sequence[SheetRow]) -> list[Finding]:
    body = rows[:-1] if rows[-1].label.casefold().strip() in ("other", "others", "rest", "miscellaneous") else rows
    for before, after in pairwise(body):
        if after.count > before.count:
            return [
                warning(
                    "not-sorted",
                    message=f"{_named(after)} is larger than the row before it: a Pareto table is in descending order",
                    fix="sort all columns together by frequency, the rest last",
                    where=after.place,
                )
            ]
    return []
