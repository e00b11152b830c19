"""Findings over a chart of a workbook."""

from __future__ import annotations

import math
from collections.abc import Sequence

from vantric.core.counting.labels.orderwords import own_order
from vantric.core.counting.labels.totalwords import is_mean, may_be_total
from vantric.core.numbers.shown import digits_text, one_line, quoted
from vantric.core.reviewing.books.drawn import DrawnAxis, DrawnChart, DrawnSeries
from vantric.core.reviewing.books.runningline import is_running, review_running, there
from vantric.core.reviewing.finding import Finding, error, note, warning
from vantric.core.reviewing.headings import says_percent, says_running

_FLAT = 0.1  # of the height
_HIGHEST = 30.0  # of an axis that is in percent, at least


def review_drawn(chart: DrawnChart) -> list[Finding]:
    """Return what is wrong or risky in a chart of a workbook."""
    bars = [one for one in chart.series if one.kind == "bars"]
    lines = [one for one in chart.series if is_running(one, bars)]
    ranges = _unlike_ranges(chart) or _rows_not_drawn(chart) or _labels_apart(chart)
    totals = _totals(chart, bars)
    axes = _axes(chart)
    found = [*ranges, *totals, *axes]
    if bars and lines and not totals and not ranges:
        small = any(one.code == "percents-too-small" for one in axes)
        found += review_running(chart, bars[0], lines[0], floats=not small)
    found += _unordered_line(chart, lines)
    if not chart.alternative.strip():
        found.append(
            note(
                "no-alternative",
                message=f"{chart.place} has no text alternative",
                fix="say in one sentence what it shows, for those who do not see it",
                where=chart.place,
            )
        )
    return found


def _unlike_ranges(chart: DrawnChart) -> list[Finding]:
    """Tell series of one chart that draw different rows: a line then stands over other bars than its own."""
    drawn = [one for one in chart.series if one.values and one.kind != "other"]
    odd = [one for one in drawn if len(one.values) != len(drawn[0].values) or (
        one.categories and drawn[0].categories and one.categories != drawn[0].categories)]  # fmt: skip
    short = [one for one in drawn if one.categories and len(one.categories) != len(one.values)]
    if not odd and not short:
        return []
    named = short[0] if short else odd[0]
    against = (
        f"its categories have {len(named.categories)} cells" if short else f"'{drawn[0].name}' draws {_range(drawn[0])}"
    )
    return [
        error(
            "unlike-ranges",
            message=f"{chart.place}: '{one_line(named.name, longest=40)}' draws {_range(named)} and {against}: its "
            "values stand over other categories than their own",
            fix="let all series and their categories draw the same rows",
            where=chart.place,
        )
    ]


def _labels_apart(chart: DrawnChart) -> list[Finding]:
    """Tell texts at the marks that are taken from other rows than the marks."""
    apart = next((one for one in chart.series if one.labels_apart), None)
    if apart is None:
        return []
    return [
        error(
            "unlike-ranges",
            message=f"{chart.place}: '{one_line(apart.name, longest=40)}' draws {_range(apart)} and takes its labels "
            f"from {apart.labels_from}: they stand at other marks than their own",
            fix="take the labels from the rows that are drawn",
            where=chart.place,
        )
    ]


def _range(one: DrawnSeries) -> str:
    return one.where or f"{len(one.values)} values"


def _rows_not_drawn(chart: DrawnChart) -> list[Finding]:
    """Tell rows of the table that the range of a series stops short of."""
    short = next((one for one in chart.series if one.left_out), None)
    if short is None:
        return []
    return [
        error(
            "rows-not-drawn",
            message=f"{chart.place}: '{one_line(short.name, longest=40)}' draws {_range(short)} and stops short of the "
            f"table: {quoted(short.left_out)} {'is' if len(short.left_out) == 1 else 'are'} not drawn",
            fix="let the range of every series end with the last category",
            where=chart.place,
        )
    ]


def _totals(chart: DrawnChart, bars: Sequence[DrawnSeries]) -> list[Finding]:
    """Tell a row of totals that is drawn as a category."""
    for one in bars or [series for series in chart.series if series.kind == "pie"]:
        values = dict(zip(one.categories, one.values, strict=False))
        for label, value in values.items():
            others = math.fsum(other or 0.0 for name, other in values.items() if name != label)
            adds = value is not None and others > 0 and abs(value - others) <= 1e-6 * others
            if may_be_total(label) and not is_mean(label) and adds and len(values) > 2:
                return [
                    error(
                        "total-as-category",
                        message=f"{chart.place}: '{one_line(one.name, longest=40)}' draws {_range(one)}, and the row "
                        f"'{one_line(label, longest=40)}' in it is the total of all others",
                        fix="let the range end above the Total row",
                        where=chart.place,
                    )
                ]
    return []


def _axes(chart: DrawnChart) -> list[Finding]:
    found = []
    for name, axis in (("primary", chart.primary), ("secondary", chart.secondary)):
        on = [
            one for one in chart.series if one.secondary == (name == "secondary") and one.kind not in ("pie", "other")
        ]
        if axis is None or not on:
            continue
        standing = any(one.kind in ("bars", "area") for one in on)
        if standing and axis.lower is not None and axis.lower > 0 and not axis.log:
            what = f"runs from {digits_text(axis.lower)}, and bars start there: their lengths do not compare"
            found.append(_of_axis(chart, name, "bars-without-zero", what, "let the axis begin at zero"))
        if standing and axis.log and "log" not in axis.title.casefold():
            what = "is logarithmic under bars, and its title does not say so: twice as long is not twice as much"
            found.append(_of_axis(chart, name, "log-bars", what, "take a linear axis, or say so in the title"))
        if axis.shown and not axis.title.strip():
            found.append(_of_axis(chart, name, "untitled-axis", "has no title", "say what it shows, and in what unit"))
        found += _too_small(chart, name, axis, on)
    return found


def _of_axis(chart: DrawnChart, name: str, code: str, what: str, fix: str) -> Finding:
    where = f"{chart.place}, {name} axis"
    return warning(code, message=f"{chart.place}: the {name} axis {what}", fix=fix, where=where)


def _too_small(chart: DrawnChart, name: str, axis: DrawnAxis, on: Sequence[DrawnSeries]) -> list[Finding]:
    """Tell shares of 1 on an axis of percents or of counts: they lie on the floor."""
    reach = {id(one): max(map(abs, there(one.values)), default=0.0) for one in on}
    top = axis.upper if axis.upper is not None else max(reach.values(), default=0.0)
    for one in on:
        if one.kind == "bars" or not 0 < reach[id(one)] <= 1.5:
            continue
        shares = says_percent(one.name) or says_running(one.name)
        if top >= _HIGHEST and shares:
            alone = all(other.kind != "bars" for other in on)
            what = "100 times too small for its axis" if alone else "shares of 1 on an axis of counts"
            return [
                error(
                    "percents-too-small",
                    message=f"{chart.place}: '{one_line(one.name, longest=40)}' reaches "
                    f"{digits_text(reach[id(one)], digits=3)} on a {name} axis up to {digits_text(top)}: {what}, "
                    "where the line lies on the floor",
                    fix="put the line on a secondary axis from 0 to 1 that is shown as percents",
                    where=f"{chart.place}, {name} axis",
                )
            ]
        if top > 0 and reach[id(one)] < _FLAT * top and len(on) > 1:
            what = f"leaves less than a tenth of its height to '{one_line(one.name, longest=40)}'"
            return [_of_axis(chart, name, "flat-series", what, "put it on the secondary axis")]
    return []


def _unordered_line(chart: DrawnChart, running: Sequence[DrawnSeries]) -> list[Finding]:
    lines = [one for one in chart.series if one.kind == "line" and one not in running and len(one.values) > 2]
    lines = [one for one in lines if len(set(there(one.values))) > 1]  # a level line is a mark
    if not lines or own_order(lines[0].categories or ("1", "2")) != "no":
        return []
    return [
        warning(
            "unordered-line",
            message=f"{chart.place}: {quoted([one.name for one in lines])} joins categories that are neither numbers "
            "nor times",
            fix="draw points or bars, unless the categories have an order of their own",
            where=chart.place,
        )
    ]
