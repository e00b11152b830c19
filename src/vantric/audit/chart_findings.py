"""Findings over a chart of a workbook."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from datetime import date
from itertools import accumulate, pairwise

from vantric.audit.drawn_charts import DrawnAxis, DrawnChart, DrawnSeries
from vantric.base.lazily import compiled
from vantric.core.counts.relabeling import is_missing_code, is_rest
from vantric.core.numbers.label_order import calendar_keys, is_turned, own_order
from vantric.core.numbers.number_format import digits_text, one_line, quoted
from vantric.core.review.finding import Finding, error, note, says_percent, says_running, warning
from vantric.core.totals.derived_rows import OF_ALL, derived_rows
from vantric.core.totals.label_kinds import is_mean, may_be_total
from vantric.core.totals.row_sums import CountedRow, exact_cell

_ROUNDED = 0.006  # of the total: what rounding does to a running share
_MEETS = 0.005  # of the height
#: Kinds that show one value after another, so that a running sum can be drawn as them.
_JOINED = ("line", "area", "points")
#: Findings on cells, which a chart of these cells does not repeat.
_OF_CELLS = frozenset({"wrong-percent", "wrong-cumulative", "wrong-total", "total-as-category", "other-base"})


def is_running(series: DrawnSeries, bars: Sequence[DrawnSeries]) -> bool:
    """Whether a line is cumulative: by its name, or since it is the running share of the bars."""
    values = there(series.values)
    if series.kind not in _JOINED or len(values) < 2:
        return False
    if says_running(series.name):
        return True
    return any(_near(values, _shares(bar, whole)) for bar in bars for whole in (1.0, 100.0))


def there(values: Sequence[float | None]) -> list[float]:
    """Return the values that there are."""
    return [value for value in values if value is not None]


def _shares(bars: DrawnSeries, whole: float) -> list[float]:
    values = [value or 0.0 for value in bars.values]
    total = math.fsum(values)
    return [whole * part / total for part in accumulate(values)] if total > 0 and min(values) >= 0 else []


def _near(values: Sequence[float], rights: Sequence[float]) -> bool:
    if not rights or len(values) != len(rights):
        return False
    return all(abs(a - b) <= _ROUNDED * rights[-1] for a, b in zip(values, rights, strict=True))


def review_running(chart: DrawnChart, bars: DrawnSeries, line: DrawnSeries, *, floats: bool) -> list[Finding]:
    """Return what is wrong with a cumulative line and the bars under it; `floats` if its height is to be looked at."""
    values, total = there(line.values), math.fsum(there(bars.values))
    if not values or total <= 0 or len(values) != len(bars.values):
        return []
    findings = []
    counts = [total * part for part in _shares(bars, 1.0)]
    if not any(_near(values, numbers) for numbers in (_shares(bars, 1.0), _shares(bars, 100.0), counts)):
        findings += _wrong(chart, bars, line, values)
    elif floats and line.secondary != bars.secondary:
        findings += _floating(chart, line, total, values[-1])
    elif floats and not _near(values, counts):
        findings.append(_on_counts(chart, line, total))
    rows = [(label, value) for label, value in zip(bars.categories, bars.values, strict=False) if value is not None]
    while rows and (is_rest(rows[-1][0]) or is_missing_code(rows[-1][0])):
        rows.pop()
    falls = all(before >= after for (_, before), (_, after) in pairwise(rows))
    if not falls and "not-sorted" not in chart.told and own_order([label for label, _ in rows]) != "yes":
        findings.append(
            warning(
                "not-descending",
                message=f"{chart.place}: a cumulative line runs over bars that are not in descending order: a cutoff "
                "of it means nothing",
                fix="sort all columns of the table together by frequency, the rest last",
                where=chart.place,
            )
        )
    return findings


def _wrong(chart: DrawnChart, bars: DrawnSeries, line: DrawnSeries, values: Sequence[float]) -> list[Finding]:
    if chart.told & _OF_CELLS:  # the cells are said to be wrong
        return []
    whole = 1.0 if max(values) <= 1.5 else 100.0
    numbers = _shares(bars, whole)
    if not numbers:
        return []
    both = enumerate(zip(values, numbers, strict=True))
    index = next((position for position, (a, b) in both if abs(a - b) > _ROUNDED * whole), None)
    if index is None:
        return []
    label = one_line(bars.categories[index], longest=40) if index < len(bars.categories) else f"bar {index + 1}"
    return [
        error(
            "wrong-cumulative",
            message=f"{chart.place}: the line says {100 * values[index] / whole:.1f}% at '{label}', and the bars "
            f"add up to {100 * numbers[index] / whole:.1f}% there",
            fix="add the frequencies up and divide each sum by the total",
            where=f"{chart.place}, series {_called(line)}",
        )
    ]


def _on_counts(chart: DrawnChart, line: DrawnSeries, total: float) -> Finding:
    """Return what there is to say of percents on the axis of the bars: 100% is at a count of 100."""
    return warning(
        "several-units",
        message=f"{chart.place}: {_called(line)} is in percent and shares the axis of the bars: "
        f"its 100% is at a count of 100, and the bars are {digits_text(total)} together",
        fix="put the line on a secondary axis from 0 to 100%, and let the primary end at the total",
        where=f"{chart.place}, primary axis",
    )


def _floating(chart: DrawnChart, line: DrawnSeries, total: float, end: float) -> list[Finding]:
    """Tell a cumulative line whose 100% is not as high as the total of its bars."""
    if chart.primary is None or chart.secondary is None:
        return []
    whole = 1.0 if end <= 1.5 else 100.0 if end <= 101 else total
    first, second = (chart.primary, chart.secondary)[:: 1 if line.secondary else -1]
    if first.log or second.log:
        return []
    if first.upper is not None and second.upper is not None and second.upper > (second.lower or 0.0):
        heights = [
            (value - (axis.lower or 0.0)) / (axis.upper - (axis.lower or 0.0))
            for value, axis in ((total, first), (whole, second))
            if axis.upper is not None
        ]
        if abs(heights[0] - heights[1]) <= _MEETS:
            return []
        what = f"the total, {digits_text(total)}, and 100% are not one height"
    else:
        left = first.upper is None
        side = "primary" if left == line.secondary else "secondary"
        what = f"the {side} axis ends where the program chooses, and not at "
        what += f"the total, {digits_text(total)}" if left else "100%"
    return [
        warning(
            "floating-line",
            message=f"{chart.place}: the cumulative line floats free of the bars: {what}",
            fix=f"set both axes: that of the bars from 0 to {digits_text(total)}, that of the line from 0 to 100%",
            where=f"{chart.place}, both axes",
        )
    ]


_FLAT = 0.1  # of the height
_HIGHEST = 30.0  # of an axis that is in percent, at least


def review_drawn(chart: DrawnChart) -> list[Finding]:
    """Return what is wrong or risky in a chart of a workbook."""
    bars = [series for series in chart.series if series.kind == "bars"]
    lines = [series for series in chart.series if is_running(series, bars)]
    ranges = _shifted(chart) or _unlike_ranges(chart) or _rows_not_drawn(chart)
    totals = _totals(chart, bars) or _stacked_total(chart)
    axes = _axes(chart)
    findings = [
        *ranges,
        *totals,
        *axes,
        *_not_added(chart),
        *_hidden_areas(chart),
        *_beside_zero(chart, bars),
        *_zeros_apart(chart),
        *_over_time(chart),
    ]
    if bars and lines and not totals and not ranges:
        small = any(axis.code == "percents-too-small" for axis in axes)
        findings += review_running(chart, bars[0], lines[0], floats=not small)
    findings += _unordered_line(chart, lines)
    if not chart.alternative.strip():
        findings.append(
            note(
                "no-alternative",
                message=f"{chart.place} has no text alternative",
                fix="say in one sentence what it shows, for those who do not see it",
                where=chart.place,
            )
        )
    return findings


def _unlike_ranges(chart: DrawnChart) -> list[Finding]:
    """Tell series of one chart that draw different rows: a line then stands over other bars than its own."""
    drawn = [series for series in chart.series if series.values and series.kind != "other"]
    odd = [
        series
        for series in drawn
        if len(series.values) != len(drawn[0].values)
        or (series.categories and drawn[0].categories and series.categories != drawn[0].categories)
    ]
    short = [series for series in drawn if series.categories and len(series.categories) != len(series.values)]
    if not odd and not short:
        return []
    named = short[0] if short else odd[0]
    against = (
        f"its categories have {len(named.categories)} cells" if short else f"'{drawn[0].name}' draws {_range(drawn[0])}"
    )
    return [
        error(
            "unlike-ranges",
            message=f"{chart.place}: {_called(named)} draws {_range(named)} and {against}: its "
            "values stand over other categories than their own",
            fix="let all series and their categories draw the same rows",
            where=chart.place,
        )
    ]


def _shifted(chart: DrawnChart) -> list[Finding]:
    """Tell values that stand under the labels of other rows, and texts at the marks that are of other rows."""
    for series in chart.series:
        if series.shifted:
            what = f"its categories are {series.shifted}: each value stands under the label of another row"
            fix = "let the values and their categories be of the same rows"
        elif series.labels_apart:
            what = f"takes its labels from {series.labels_from}: they stand at other marks than their own"
            fix = "take the labels from the rows that are drawn"
        else:
            continue
        message = f"{chart.place}: {_called(series)} draws {_range(series)} and {what}"
        return [error("unlike-ranges", message=message, fix=fix, where=chart.place)]
    return []


def _called(series: DrawnSeries) -> str:
    return f"'{one_line(series.name, longest=40)}'" if series.name.strip() else "a series without a name"


def _range(series: DrawnSeries) -> str:
    return series.where or f"{len(series.values)} values"


def _rows_not_drawn(chart: DrawnChart) -> list[Finding]:
    """Tell rows of the table that the range of a series stops short of."""
    for series in chart.series:
        names, ends = (series.left_out, "stops short of") if series.left_out else (series.before, "begins below")
        if names and not (series.left_out and chart.says_how_many(len(series.values), len(names))):
            return [
                error(
                    "rows-not-drawn",
                    message=f"{chart.place}: {_called(series)} draws {_range(series)} and {ends} the table: "
                    f"{quoted(names)} {'is' if len(names) == 1 else 'are'} not drawn",
                    fix="let the range of every series begin with the first category and end with the last",
                    where=chart.place,
                )
            ]
    return []


def _totals(chart: DrawnChart, bars: Sequence[DrawnSeries]) -> list[Finding]:
    """Tell a row of totals that is drawn as a category."""
    for bar in bars or [series for series in chart.series if series.kind == "pie"]:
        values = dict(zip(bar.categories, bar.values, strict=False))
        rows = [CountedRow(label, (exact_cell(value),)) for label, value in values.items()]
        for place, verdict in derived_rows(rows).items():
            label = str(rows[place].label)
            named = may_be_total(label) and not is_mean(label)
            every = verdict.kind == "total" and verdict.reason in OF_ALL
            if (every and (named or verdict.outcome == "ask")) or verdict.kind == "subtotal":
                what = "is the total of all others" if every else "adds up others that are drawn beside it"
                return [
                    (error if named else warning)(
                        "total-as-category",
                        message=f"{chart.place}: {_called(bar)} draws {_range(bar)}, and the row "
                        f"'{one_line(label, longest=40)}' in it {what}",
                        fix="let the range end above the Total row" if every else "draw the parts, or the sum, alone",
                        where=chart.place,
                    )
                ]
    return []


def _stacked_total(chart: DrawnChart) -> list[Finding]:
    """Tell a series of totals that is stacked on its parts."""
    stack = [series for series in chart.series if series.stacked and series.values]
    for total in stack if len(stack) > 2 else ():
        parts = [series for series in stack if series is not total and len(series.values) == len(total.values)]
        sums = [math.fsum(series.values[place] or 0.0 for series in parts) for place in range(len(total.values))]
        values = [value or 0.0 for value in total.values]
        if any(values) and all(abs(a - b) <= _ROUNDED * max(abs(b), 1e-9) for a, b in zip(values, sums, strict=True)):
            return [
                error(
                    "total-as-category",
                    message=f"{chart.place}: {_called(total)} is the sum of the others and is stacked on "
                    "them: every bar is twice as high as it should be",
                    fix="leave the total out of the stack, or draw it as a line",
                    where=chart.place,
                )
            ]
    return []


#: What does not add up, by the name of a series or of its axis.
_NO_SUM = compiled(
    r"°|temperature|temperatur|\brate\b|\bppm\b|ratio|\bmean\b|average|median|price|index|\bscore\b|\bpH\b|\bmm\b|speed",
    re.IGNORECASE,
)


def _not_added(chart: DrawnChart) -> list[Finding]:
    """Tell a stack of quantities that have no sum: temperatures, rates."""
    stack = [series for series in chart.series if series.stacked]
    title = chart.primary.title if chart.primary is not None else ""
    named = [series.name for series in stack if _NO_SUM.search(series.name) or _NO_SUM.search(title)]
    if len(stack) < 2 or len(named) < len(stack):
        return []
    message = f"{chart.place}: {quoted(named[:3])} are stacked, and their sum means nothing"
    return [warning("stacked-rates", message=message, fix="draw lines, or bars side by side", where=chart.place)]


def _beside_zero(chart: DrawnChart, bars: Sequence[DrawnSeries]) -> list[Finding]:
    """Tell a second axis that does not begin at zero beside bars that do."""
    second = chart.secondary
    lines = [series for series in chart.series if series.secondary and series.kind in _JOINED]
    if not bars or second is None or not lines or second.lower is None or second.lower <= 0 or second.log:
        return []
    message = (
        f"{chart.place}: the bars begin at zero, and the secondary axis at {digits_text(second.lower)}: "
        f"{quoted([lines[0].name])} seems to vary more than the bars"
    )
    fix = "begin both axes at zero, or say beside the axis where it begins"
    return [note("secondary-without-zero", message=message, fix=fix, where=f"{chart.place}, secondary axis")]


def _zeros_apart(chart: DrawnChart) -> list[Finding]:
    """Tell two axes whose zeros are not one height, where either goes below zero."""
    axes = [axis for axis in (chart.primary, chart.secondary) if axis is not None and not axis.log]
    ends = [(axis.lower, axis.upper) for axis in axes if axis.lower is not None and axis.upper is not None]
    if len(ends) < 2 or min(low for low, _ in ends) >= 0 or any(low >= high for low, high in ends):
        return []
    heights = [-low / (high - low) for low, high in ends]
    if abs(heights[0] - heights[1]) <= _MEETS:
        return []
    what = "its zero is not as high as that of the primary axis: bars and lines cross zero at different places"
    return [_of_axis(chart, "secondary", "zeros-apart", what, "give both axes limits whose zeros meet")]


#: Steps of time, the longest of which is so many times the median one.
_UNEVEN, _FEWEST_STEPS = 3, 4
#: Periods at the end that are all zero.
_FEWEST_ZEROS = 2


def _over_time(chart: DrawnChart) -> list[Finding]:
    """Tell months out of order, months to come as zero, and unequal steps drawn as equal ones."""
    joined = [series for series in chart.series if series.kind in ("line", "area") and len(series.categories) > 2]
    timed = [
        series for series in chart.series if series.kind in ("line", "area", "bars") and len(series.categories) > 2
    ]
    findings = [*_out_of_order(chart, joined), *_to_come(chart, timed)]
    if chart.category is None or not chart.category.dated:
        findings += _uneven_steps(chart, joined)
    return findings


def _out_of_order(chart: DrawnChart, joined: Sequence[DrawnSeries]) -> list[Finding]:
    keys = calendar_keys(joined[0].categories) if joined else None
    if keys is None or is_turned(keys) or len(set(keys)) < len(keys):
        return []
    names = joined[0].categories
    first = next(place for place, (before, after) in enumerate(pairwise(keys), 1) if after < before)
    both = f"'{names[first - 1]}' and '{names[first]}'"
    what = f"'{one_line(joined[0].name, longest=40)}' joins {both}: they are not in the order of the calendar"
    return [_of_chart("unordered-line", chart, what, "sort the rows by time")]


def _to_come(chart: DrawnChart, timed: Sequence[DrawnSeries]) -> list[Finding]:
    for series in timed:
        keys = calendar_keys(series.categories)
        values = list(series.values)
        zeros = next((place for place, value in enumerate(reversed(values)) if value != 0), len(values))
        if keys is None or not _FEWEST_ZEROS <= zeros < len(values) or 0 in values[: len(values) - zeros]:
            continue
        since = f"is 0 from '{series.categories[-zeros]}' on and nowhere before"
        what = f"{_called(series)} {since}: are these months to come?"
        return [_of_chart("future-zeros", chart, what, "leave the cells blank until there is a number")]
    return []


def _uneven_steps(chart: DrawnChart, joined: Sequence[DrawnSeries]) -> list[Finding]:
    """Tell dates that are drawn as far apart as each other, and are not."""
    for series in joined:
        days = [_day(label) for label in series.categories]
        real_days = [day for day in days if day is not None]
        if len(real_days) < len(days) or len(days) <= _FEWEST_STEPS:
            continue
        steps = sorted(after - before for before, after in pairwise(real_days))
        if steps[0] <= 0 or steps[-1] < _UNEVEN * steps[len(steps) // 2]:
            continue
        apart = f"{steps[0]:g} to {steps[-1]:g} days apart"
        what = f"{_called(series)} is drawn in equal steps, and its dates are {apart}"
        return [_of_chart("uneven-steps", chart, what, "take an axis of dates, or points")]
    return []


def _day(label: str) -> int | None:
    try:
        return date.fromisoformat(label.strip()[:10]).toordinal()
    except ValueError:
        return None


def _axes(chart: DrawnChart) -> list[Finding]:
    findings = []
    for name, axis in (("primary", chart.primary), ("secondary", chart.secondary)):
        on = [
            series
            for series in chart.series
            if series.secondary == (name == "secondary") and series.kind not in ("pie", "other")
        ]
        if axis is None or not on:
            continue
        standing = any(series.kind in ("bars", "area") for series in on)
        if standing and axis.lower is not None and axis.lower > 0 and not axis.log:
            what = f"runs from {digits_text(axis.lower)}, and bars start there: their lengths do not compare"
            findings.append(_of_axis(chart, name, "bars-without-zero", what, "let the axis begin at zero"))
        if standing and axis.log and "log" not in axis.title.casefold():
            what = "is logarithmic under bars, and its title does not say so: twice as long is not twice as much"
            findings.append(_of_axis(chart, name, "log-bars", what, "take a linear axis, or say so in the title"))
        if axis.shown and not axis.title.strip():
            findings.append(
                _of_axis(chart, name, "untitled-axis", "has no title", "say what it shows, and in what unit")
            )
        findings += _too_small(chart, name, axis, on)
    return findings


def _hidden_areas(chart: DrawnChart) -> list[Finding]:
    hidden = chart.hidden_areas()
    what = f"{quoted(hidden)} {'is' if len(hidden) == 1 else 'are'} hidden behind another area"
    fix = "draw the smaller area in front (name it last), or draw lines"
    return [_of_chart("hidden-area", chart, what, fix)] if hidden else []


def _of_chart(code: str, chart: DrawnChart, what: str, fix: str) -> Finding:
    return warning(code, message=f"{chart.place}: {what}", fix=fix, where=chart.place)


def _of_axis(chart: DrawnChart, name: str, code: str, what: str, fix: str) -> Finding:
    where = f"{chart.place}, {name} axis"
    begins = f"{chart.place}: the {name} axis" if not what.startswith("its ") else f"{chart.place}, {name} axis:"
    return warning(code, message=f"{begins} {what}", fix=fix, where=where)


def _too_small(chart: DrawnChart, name: str, axis: DrawnAxis, on: Sequence[DrawnSeries]) -> list[Finding]:
    """Tell shares of 1 on an axis of percents or of counts: they lie on the floor."""
    reach = {id(drawn_series): max(map(abs, there(drawn_series.values)), default=0.0) for drawn_series in on}
    top = axis.upper if axis.upper is not None else max(reach.values(), default=0.0)
    for series in on:
        if series.kind == "bars" or not 0 < reach[id(series)] <= 1.5:
            continue
        shares = says_percent(series.name) or says_running(series.name)
        if top >= _HIGHEST and shares:
            alone = all(other.kind != "bars" for other in on)
            what = "100 times too small for its axis" if alone else "shares of 1 on an axis of counts"
            return [
                error(
                    "percents-too-small",
                    message=f"{chart.place}: {_called(series)} reaches "
                    f"{digits_text(reach[id(series)], digits=3)} on a {name} axis up to {digits_text(top)}: {what}, "
                    "where the line appears flat at zero",
                    fix="put the line on a secondary axis from 0 to 1 that is shown as percents",
                    where=f"{chart.place}, {name} axis",
                )
            ]
        if top > 0 and reach[id(series)] < _FLAT * top and len(on) > 1:
            what = f"leaves less than a tenth of its height to {_called(series)}"
            return [_of_axis(chart, name, "flat-series", what, "put it on the secondary axis")]
    return []


def _unordered_line(chart: DrawnChart, running: Sequence[DrawnSeries]) -> list[Finding]:
    lines = [
        series for series in chart.series if series.kind == "line" and series not in running and len(series.values) > 2
    ]
    lines = [line for line in lines if len(set(there(line.values))) > 1]  # a level line is a mark
    if not lines or own_order(lines[0].categories or ("1", "2")) != "no":
        return []
    return [
        warning(
            "unordered-line",
            message=f"{chart.place}: {quoted([line.name for line in lines])} joins categories that are neither numbers "
            "nor times",
            fix="draw points or bars, unless the categories have an order of their own",
            where=chart.place,
        )
    ]
