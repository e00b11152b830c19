"""Trends as data, as cells and as lines for a terminal."""

from __future__ import annotations

import textwrap
from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING, Any

from vantric.core.numbers.number_format import digits_text, distinct_lines, one_line
from vantric.core.review import Finding
from vantric.core.statistics.phrases import p_words
from vantric.tables.grid_part import grid_lines
from vantric.tables.localize import PLAIN, Fixed, Local, joined, with_level
from vantric.tables.table import NOTHING, Column, Table, kind_of, single_numbers, six_digits, whole

if TYPE_CHECKING:
    from vantric.core.statistics import CategoryTrend, Trend

TREND_COLUMNS = ("category", "period", "count", "exposure", "value", "center", "lower", "upper", "whole", "signals")


def trend_object(found: Trend, findings: Iterable[Finding]) -> dict[str, Any]:
    """Return the JSON object of trends."""
    origin = found.tally.origin
    return {
        "format": "vantric/trend",
        "version": 1,
        "source": origin.source,
        "where": origin.where,
        "by": found.by,
        "date": found.split,
        "period": found.period,
        "measure": found.measure,
        "unit": found.unit,
        "records": whole(found.tally.records),
        "missing": {"records": whole(found.tally.missing.records)},
        "periods": list(found.periods),
        "partial": list(found.partial),
        "exposures": None if found.exposures is None else [whole(one) for one in found.exposures],
        "categories": [_category(found, row) for row in found.rows],
        "counted": found.counted,
        "sentence": found.sentence(),
        "findings": [finding.to_dict() for finding in findings],
    }


def _category(found: Trend, row: CategoryTrend) -> dict[str, Any]:
    slope, chart = row.slope, row.chart
    return {
        "category": row.category,
        "trend": slope
        and {
            "change_per_period": six_digits(slope.change),
            "low": six_digits(slope.low),
            "high": six_digits(slope.high),
            "p": six_digits(slope.p),
            "p_adjusted": six_digits(row.p_adjusted),
            "beyond_chance": row.beyond_chance,
            "dispersion": six_digits(slope.dispersion),
        },
        "chart": {
            "kind": chart.kind,
            "center": six_digits(chart.center),
            "widening": six_digits(chart.widening),
            "dispersion_p": six_digits(chart.dispersion_p),
            "rough": chart.rough,
        },
        "points": [dict(zip(TREND_COLUMNS[1:], point[1:], strict=True)) for point in _points(found, row)],
    }


def _points(found: Trend, row: CategoryTrend) -> list[list[Any]]:
    return [
        [
            row.category,
            label,
            whole(count),
            None if found.exposures is None else whole(found.exposures[at]),
            *map(six_digits, (point.value, row.chart.center, point.lower, point.upper)),
            point.whole,
            list(point.signals),
        ]
        for at, (label, count, point) in enumerate(zip(found.periods, row.counts, row.chart.points, strict=True))
    ]


def trend_table(found: Trend) -> Table:
    """Return a row a category as people read it; as data a row a category and period."""
    points = [[*point[:-1], "; ".join(point[-1])] for row in found.rows for point in _points(found, row)]
    data = [Column("", [point[at] for point in points], key=name) for at, name in enumerate(TREND_COLUMNS)]
    names = distinct_lines([row.category for row in found.rows])
    counts = [whole(sum(row.counts)) for row in found.rows]
    centers = [None if row.chart.center is None else whole(float(f"{row.chart.center:.4g}")) for row in found.rows]
    signals = [len(row.chart.signals) for row in found.rows]
    columns = (
        Column(Fixed("Category"), names, names, "text"),
        Column(Fixed("Count"), counts, single_numbers, kind_of(counts)),
        Column(Fixed("Center"), centers, _four_digits),
        _in_words(with_level(f"Change a {found.period}", 0.95), [_change(row) for row in found.rows]),
        _in_words(Fixed("Trend"), [_verdict(row) for row in found.rows]),
        Column(Fixed("Signals"), signals, single_numbers, "whole"),
    )
    notes = (found.tally.base(), found.tally.origin.note())
    return Table(columns, tuple(data), keyed=0, labels=tuple(names), caption=found.sentence(), notes=notes)


def _in_words(label: str, texts: Sequence[str]) -> Column:
    return Column(label, texts, texts, "text", right=True)


def _four_digits(values: Sequence[float | None]) -> list[str]:
    return [NOTHING if value is None else digits_text(value, digits=4) for value in values]


def _change(row: CategoryTrend) -> str:
    slope = row.slope
    if slope is None or slope.low is None or slope.high is None:
        return "–"
    return joined(_percent(100 * (slope.low - 1)), "to", _percent(100 * (slope.high - 1)))


def _percent(value: float) -> str:
    size = f"{abs(value):.1f}" if abs(value) < 10 else f"{min(abs(value), 1e6):,.0f}"
    return f"{'+' if value > 0 else '−' if value < 0 else ''}{size} %" if size != "0.0" else "0 %"


def _verdict(row: CategoryTrend) -> str:
    if row.p_adjusted is None:
        return "–"
    verdict, p = "beyond chance" if row.beyond_chance else "within chance", p_words(row.p_adjusted)
    sign, _, number = p.rpartition(" ")
    return Fixed.of(f"{verdict}, {p}", lambda local: f"{local.word(Fixed(verdict))}, {sign} {local.number(number)}")


def trend_view(found: Trend, *, width: int, local: Local = PLAIN) -> list[str]:
    """Return trends as lines for a terminal."""
    shown = trend_table(found).in_language(local)
    title = (
        f"Trend of {one_line(found.by)} by {found.period}"
        if local.tongue.plain
        else local.titled("Trend", one_line(found.by))
    )
    about = [found.tally.base(), one_line(found.tally.origin.note())]
    stated = [line for text in about for line in textwrap.wrap(text, width, subsequent_indent="  ")]
    said = textwrap.wrap(found.sentence(), width)
    return [title, *stated, "", *grid_lines(shown.heads(), shown.shown_rows(), width=width, left=shown.left), "", *said]
