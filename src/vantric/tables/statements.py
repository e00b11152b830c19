"""What is said of certainty, trends and parts: as data, tables and lines for a terminal."""

from __future__ import annotations

import textwrap
from collections.abc import Callable, Iterable, Sequence
from dataclasses import asdict
from math import ceil, floor
from typing import TYPE_CHECKING, Any

from vantric.core.messages.formatter import PLAIN, Formatter
from vantric.core.messages.message import Joined, Message, PValue, Shown, Written, interval, level_text
from vantric.core.numbers.number_format import (
    digits_text,
    distinct_lines,
    ends_texts,
    number_text,
    one_line,
    percent_text,
)
from vantric.core.review import Finding
from vantric.errors import RankError
from vantric.tables.table import (
    NOTHING,
    Column,
    Table,
    as_integer,
    grid_lines,
    kind_of,
    single_numbers,
    six_digits,
    text_table,
    wrapped,
)

if TYPE_CHECKING:
    from vantric.core.counts import Crosstab, ParetoTable
    from vantric.core.statistics import CategoryTrend, Certainty, CertaintyRow, Strata, Trend

#: Of the ends of intervals of percents.
_MOST_DECIMALS = 2
#: Columns of the CSV and keys of the JSON: they keep their names.
CERTAINTY_COLUMNS = ("low", "high", "lowest_rank", "highest_rank", "vital", "even_low", "even_high")


def certainty_object(sure: Certainty) -> dict[str, Any]:
    """Return the JSON object of how sure a ranking is; `low` and `high` are of what `measure` says."""
    shares = "Clopper and Pearson 1934, Bonferroni" if sure.measure == "percent" else "Garwood 1936, Bonferroni"
    even = sure.evenness
    return {
        "method": f"{shares}; ranks by Holm 1979",
        "level": sure.level,
        "start": sure.start,
        "measure": sure.measure,
        "basis": sure.basis,
        "records": as_integer(sure.records),
        "effective_records": six_digits(sure.effective),
        "declared": sure.declared,
        "first": {"p": six_digits(sure.first_p), "beyond_chance": sure.first_is_sure},
        "evenness": {
            "chi_square": six_digits(even.statistic),
            "degrees": even.degrees,
            "p": six_digits(even.p),
            "simulated": even.simulated,
        },
        "settled": sure.settled if any(row.vital for row in sure.rows) else None,
        "rest": None if sure.rest is None else {"low": six_digits(sure.rest[0]), "high": six_digits(sure.rest[1])},
        "rows": [_certainty_row(row) for row in sure.rows],
        "sentence": sure.sentence(),
    }


def _certainty_row(row: CertaintyRow) -> dict[str, Any]:
    """Return a row of the JSON object; `chance` is null, and is kept for one edition."""
    return {**{name: _stated(name, value) for name, value in asdict(row).items()}, "chance": None}


def _stated(name: str, value: Any) -> Any:
    """Return a value with no more digits than it bears: a limit has six."""
    return six_digits(value) if isinstance(value, float) and name != "percent" else as_integer(value)


def certainty_columns(labels: Sequence[str], sure: Certainty) -> list[Column]:
    """Return the columns of certainty; empty beside a row that stands for several categories."""
    cells_of = {row.category: [_stated(name, getattr(row, name)) for name in CERTAINTY_COLUMNS] for row in sure.rows}
    nothing: list[Any] = [None] * len(CERTAINTY_COLUMNS)
    if sure.rest is not None:
        nothing[:2] = map(six_digits, sure.rest)
    rows = [cells_of.get(label, nothing) for label in labels]
    return [
        Column("", [row[index] for row in rows], key=name, as_is=True) for index, name in enumerate(CERTAINTY_COLUMNS)
    ]


def certainty_lines(sure: Certainty, *, width: int, local: Formatter = PLAIN) -> list[str]:
    """Return intervals, ranks and the vital few as lines for a terminal, and what can be said of them."""
    table = certainty_table(sure).in_language(local)
    grid = grid_lines(table.heads(), table.shown_rows(), width=width)
    return [*grid, "", *textwrap.wrap(local.text(sure.sentence()), width)]


def certainty_table(sure: Certainty) -> Table:
    """Return intervals, ranks and the vital few as people read them."""
    rates = sure.measure == "rate"
    ends = Message("with level", name=Message("rate" if rates else "percent"), level=level_text(sure.level))
    head = (Message("category"), ends, Message("rank"), Message("vital few"))
    labels = distinct_lines([row.category for row in sure.rows])
    rows = [
        (
            name,
            _limits(row.low, row.high, rates),
            _ranks(row.lowest_rank, row.highest_rank),
            NOTHING if row.vital is None else Message(f"state {row.vital}"),
        )
        for name, row in zip(labels, sure.rows, strict=True)
    ]
    return text_table(head, rows, caption=sure.sentence())


def _ranks(low: int, high: int) -> str:
    return Shown(Written(number_text(low))) if low == high else interval(number_text(low), number_text(high))


def _limits(low: float, high: float, rates: bool) -> str:
    """Return an interval: percents with one decimal, rates with three digits."""
    if rates:
        return interval(*ends_texts(low, high, digits=3))
    return interval(_outward(low, floor), _outward(high, ceil))


def _outward(percent: float, rounded: Callable[[float], int]) -> str:
    """Return an end of an interval with one decimal, or two of a small percent; what needs more is rounded outward."""
    text = percent_text(percent).removesuffix("%")
    return f"{rounded(10 * percent) / 10:.1f}" if len(text.partition(".")[2]) > _MOST_DECIMALS else text


#: Columns of the CSV: they keep their names.
TREND_COLUMNS = ("category", "period", "count", "exposure", "value", "center", "lower", "upper", "whole", "signals")


def trend_object(trend: Trend, findings: Iterable[Finding]) -> dict[str, Any]:
    """Return the JSON object of trends."""
    origin = trend.tally.origin
    return {
        "format": "vantric/trend",
        "version": 1,
        "source": origin.source,
        "where": origin.where,
        "by": trend.by,
        "date": trend.split,
        "period": trend.period,
        "measure": trend.measure,
        "unit": trend.unit,
        "records": as_integer(trend.tally.records),
        "missing": {"records": as_integer(trend.tally.missing.records)},
        "periods": list(trend.periods),
        "partial": list(trend.partial),
        "exposures": None if trend.exposures is None else [as_integer(exposure) for exposure in trend.exposures],
        "categories": [_category(trend, row) for row in trend.rows],
        "baseline": list(trend.baseline) or None,
        "counted": trend.counted,
        "sentence": trend.sentence(),
        "findings": [finding.to_dict() for finding in findings],
    }


def _category(trend: Trend, row: CategoryTrend) -> dict[str, Any]:
    chart = row.chart
    return {
        "category": row.category,
        "trend": _change_object(trend, row),
        "chart": {
            "kind": chart.kind,
            "center": six_digits(chart.center),
            "widening": six_digits(chart.widening),
            "dispersion_p": six_digits(chart.dispersion_p),
            "expected_signals": six_digits(chart.expected),
            "left_out": [trend.periods[place] for place in chart.left_out],
        },
        "points": [dict(zip(TREND_COLUMNS[1:], point[1:], strict=True)) for point in _points(trend, row)],
    }


def _change_object(trend: Trend, row: CategoryTrend) -> dict[str, Any] | None:
    """Return the JSON object of a change: the factor a period of a steady one, or the means beside a step."""
    change = row.change
    if change is None:
        return None
    step = None
    if change.step is not None:
        step = {
            "since": trend.periods[change.since],
            **dict(zip(("before", "after"), map(six_digits, row.means(change.since)), strict=True)),
            **dict(zip(("ratio", "low", "high"), map(six_digits, change.step), strict=True)),
        }
    slope = change.slope or (None, None, None)
    return {
        **dict(zip(("change_per_period", "low", "high"), map(six_digits, slope), strict=True)),
        "p": six_digits(change.p),
        "p_adjusted": six_digits(change.p_adjusted),
        "beyond_chance": row.beyond_chance,
        "shape": change.shape,
        "step": step,
        "seasonal": change.seasonal,
        "dispersion": six_digits(change.dispersion),
    }


def _points(trend: Trend, row: CategoryTrend) -> list[list[Any]]:
    return [
        [
            row.category,
            label,
            as_integer(count),
            None if trend.exposures is None else as_integer(trend.exposures[index]),
            *map(six_digits, (point.value, row.chart.center, point.lower, point.upper)),
            point.whole,
            list(point.signals),
        ]
        for index, (label, count, point) in enumerate(zip(trend.periods, row.counts, row.chart.points, strict=True))
    ]


def trend_table(trend: Trend) -> Table:
    """Return a row a category as people read it; as data a row a category and period."""
    points = [[*point[:-1], "; ".join(point[-1])] for row in trend.rows for point in _points(trend, row)]
    data = [Column("", [point[index] for point in points], key=name) for index, name in enumerate(TREND_COLUMNS)]
    names = distinct_lines([row.category for row in trend.rows])
    counts = [as_integer(sum(row.counts)) for row in trend.rows]
    centers = [None if row.chart.center is None else as_integer(float(f"{row.chart.center:.4g}")) for row in trend.rows]
    signals = [len(row.chart.signals) for row in trend.rows]
    columns = (
        Column(Message("category"), names, names, "text"),
        Column(Message("count"), counts, single_numbers, kind_of(counts)),
        Column(Message("center"), centers, _four_digits),
        _in_words(_change_head(trend), [_change(row) for row in trend.rows]),
        _in_words(Message("trend label"), [_verdict(trend, row) for row in trend.rows]),
        Column(Message("signals"), signals, single_numbers, "whole"),
    )
    notes = (trend.tally.base(), trend.tally.origin.note())
    return Table(columns, tuple(data), keyed=0, labels=tuple(names), caption=trend.sentence(), notes=notes)


def _change_head(trend: Trend) -> Message:
    return Message("with level", name=Message(f"change a {trend.period}"), level=level_text(0.95))


def _in_words(label: str, texts: Sequence[str]) -> Column:
    return Column(label, texts, texts, "text", right=True)


def _four_digits(values: Sequence[float | None]) -> list[str]:
    return [NOTHING if value is None else digits_text(value, digits=4) for value in values]


def _change(row: CategoryTrend) -> str:
    if row.change is None or row.change.slope is None:
        return NOTHING
    _, low, high = row.change.slope
    return interval(_percent(100 * (low - 1)), _percent(100 * (high - 1)))


def _percent(value: float) -> str:
    size = f"{abs(value):.1f}" if abs(value) < 10 else f"{min(abs(value), 1e6):,.0f}"
    return f"{'+' if value > 0 else '−' if value < 0 else ''}{size}%" if size != "0.0" else "0%"


def _verdict(trend: Trend, row: CategoryTrend) -> str:
    change = row.change
    if change is None:
        return NOTHING
    if change.shape == "drift":
        return Message("shape drift")
    shape: Message | None = None
    if change.shape == "step":
        shape = Message("shape step", period=one_line(trend.periods[change.since]))
    elif change.shape != "none":
        shape = Message(f"shape {change.shape}")
    return Joined((shape or Message("no evidence"), Shown(PValue(change.p_adjusted))), ", ")


def trend_view(trend: Trend, *, width: int, local: Formatter = PLAIN) -> list[str]:
    """Return trends as lines for a terminal."""
    table = trend_table(trend).in_language(local)
    stated = wrapped([trend.tally.base(), trend.tally.origin.note()], width, local)
    texts = textwrap.wrap(local.text(trend.sentence()), width)
    return [
        local.text(Message("trend of", subject=one_line(trend.by), period=Message(f"period {trend.period}"))),
        *stated,
        "",
        *grid_lines(table.heads(), table.shown_rows(), width=width, left=table.left),
        "",
        *texts,
    ]


_MOST = 12  # categories, where there is no cutoff


def vital_of(table: ParetoTable) -> tuple[str, ...]:
    """Return the categories whose trends are described: the vital few, or the first of a table without a cutoff."""
    categories = table.cutoff.categories if table.cutoff else table.tally.categories
    return tuple(categories[:_MOST])


def parts_of(table: Crosstab, vital: Sequence[str] = ()) -> Strata | Trend | None:
    """Return the test of the strata, or of calendar periods the trends; None where nothing can be said.

    Raises
    ------
    RankError
        Why nothing can be said.
    """
    from vantric.core.statistics import strata_of, trends_of

    if table.period:
        return trends_of(table, vital or table.categories[:_MOST])
    return strata_of(table)


def parts_differ(table: Crosstab | None) -> bool | None:
    """Return whether the strata differ significantly; None where that is not tested, as of calendar periods."""
    if table is None or table.period:
        return None
    from vantric.core.statistics import strata_of

    try:
        strata = strata_of(table)
    except RankError:
        return None
    return None if strata is None else strata.differ


def parts_words(table: Crosstab | None, vital: Sequence[str] = ()) -> str:
    """Return the same in words; nothing where there are no parts."""
    if table is None:
        return ""
    try:
        parts = parts_of(table, vital)
    except RankError as reason:  # the reason is what there is to say
        return Message("parts unknown", reason=str(reason))
    return "" if parts is None else parts.sentence()


def parts_object(table: Crosstab | None, vital: Sequence[str] = ()) -> dict[str, Any]:
    """Return what a JSON object says of the parts: under ``trends`` or ``strata_test``."""
    if table is None:
        return {}
    try:
        parts = parts_of(table, vital)
    except RankError as reason:
        return {"trends" if table.period else "strata_test": {"reason": str(reason)}}
    if parts is None:
        return {}
    from vantric.core.statistics import Trend

    if isinstance(parts, Trend):
        mapping = trend_object(parts, ())
        return {"trends": {name: mapping[name] for name in ("measure", "partial", "categories", "counted", "sentence")}}
    plain = {name: six_digits(value) for name, value in asdict(parts).items() if name not in ("cells", "reversals")}
    return {
        "strata_test": {
            **plain,
            "differ": parts.differ,
            "cells": [_object(cell) for cell in parts.cells],
            "reversals": [_object(reversal) for reversal in parts.reversals],
            "sentence": parts.sentence(),
        }
    }


def _object(item: Any) -> dict[str, Any]:
    return {name: six_digits(value) for name, value in asdict(item).items()}
