"""From a Pareto table to its chart."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from vantric.base.lazily import dataclass
from vantric.core.axes import common, proportional
from vantric.core.axes.scale import ONE
from vantric.core.charts.chart import Chart, ClassMark, CutMark
from vantric.core.charts.references import Reference, worked_out
from vantric.core.charts.series import Bars, Line, Series, composed
from vantric.core.charts.settings import TableChartSettings
from vantric.core.composition.headlines import named_origin, noun_of, subject_title, subtitle_of, table_headline
from vantric.core.counts.cutoff import Cutoff
from vantric.core.counts.pareto_table import ParetoTable
from vantric.core.counts.provenance import Provenance, says_how_many
from vantric.core.messages.message import Joined, Message, Percent, Written
from vantric.core.numbers.amounts import Amounts
from vantric.core.numbers.number_format import (
    clock_step,
    digits_text,
    distinct_lines,
    headed,
    one_line,
    with_unit,
    without_unit,
)
from vantric.errors import ChartError

_PLAIN = TableChartSettings()


@dataclass(frozen=True)
class BarIntervals:
    """The intervals of a table's rows, in what its bars show.

    Attributes
    ----------
    ends
        Category -> low and high; of the rest too.
    band
        For each rank, between what its bar would be if all categories were equally likely; empty if there is none.
    """

    ends: Mapping[str, tuple[float, float]]
    band: tuple[tuple[float, float], ...] = ()


def pareto_chart(
    table: ParetoTable, look: TableChartSettings = _PLAIN, *, description: str = "", spreads: BarIntervals | None = None
) -> Chart:
    """Return the chart of a Pareto table.

    Bars show the frequencies on the primary axis, stacked by stratum if the table has such, and a line the cumulative
    percent on the secondary; the total and 100 percent are one height. In an order that has no cutoff it is a
    frequency chart with its cumulative line.
    """
    look = look.of_unit(table.origin.clock)
    total, by_frequency, style = float(table.total), look.cumulative == "frequency", look.style
    base = clock_step(style.clock, total)
    whole = all(isinstance(value, int) for value in table.frequency.values())
    line = _line(table, look)
    bars = tuple(_spread(bar, table, spreads, look) if spreads else bar for bar in _bars(table, look))
    own_bars = [] if table.strata is not None else [bar.name for bar in bars]  # parts of bars have no labels
    look.check_labels([*own_bars, *([line.name] if line else [])])
    look.check_colors([*table.categories, *_names(bars), *([line.name] if line else [])])
    categories = distinct_lines(table.categories)
    return Chart(
        categories=tuple(categories),
        series=(*bars, *([_colored_line(line, look)] if line else [])),
        # The right axis is the left one in percent: 100% is as high as the total.
        scales=common(total, headroom=0.0, whole=whole, base=base)
        if by_frequency
        else proportional(total, 100.0, headroom=0.0, whole=(whole, True), bases=(base, ONE)),
        total=total,
        cuts=tuple(_cut_mark(cut, table, look) for cut in table.cutoffs) if line else (),
        classes=class_marks(table, look),
        is_cumulative=line is not None,
        references=_references(table, look, bars, line),
        secondary_axis=line is not None,
        secondary_unit="" if by_frequency else look.style.percent_unit,
        # A sum of rates with different bases is no total, so nothing is written at its height.
        total_text="" if _mixed_rates(table) else _axis_total(table, look),
        secondary_style=style if by_frequency else style.bare(),
        together="stacked" if table.strata is not None else "grouped",
        totals=(_labels(table, look, ""),) if table.strata is not None else (),
        description=description,
        **_titles(table, look, whole=whole),
        **look.looks(two=line is not None),
    )


def _references(
    table: ParetoTable, look: TableChartSettings, bars: Sequence[Bars], line: Line | None
) -> tuple[Reference, ...]:
    """Return the references, averages worked out from the bars of the categories that have names.

    Raises
    ------
    ChartError
        For a value beyond its axis, which ends at the total; for marked dates: the axis is no calendar.
    """
    _ = look.moments(table.categories, None)
    named = [replace(bar, values=bar.values[: len(table) - bool(table.rest)], labels=()) for bar in bars]
    references = worked_out(look.references, [*named, *([line] if line else [])], look.average_text)
    for reference in references:
        if reference.axis == "secondary" and line is None:
            raise ChartError("the chart has no secondary axis: put the reference on the primary")
        whole = 100.0 if reference.axis == "secondary" and look.cumulative == "percent" else float(table.total)
        if not 0 <= reference.ends[0] <= reference.ends[1] <= whole:
            raise ChartError(
                f"a reference at {digits_text(reference.ends[1])} is beyond its axis, 0 to {digits_text(whole)}"
            )
    return references


def _spread(bars: Bars, table: ParetoTable, spreads: BarIntervals, look: TableChartSettings) -> Bars:
    """Give bars their intervals, and the band of chance where bars are ranks."""
    if table.strata is not None:
        raise ChartError("intervals are for bars of one part: a stack has none; take the panels, or no split")
    # The band says how far bars of chance alone would fall by rank: it needs ranks.
    ranked = table.ordering == "frequency" and table.rest is None and not table.pinned
    band = spreads.band if ranked else ()
    return replace(
        bars,
        spread_name=look.formatter.say("interval"),
        band_name=look.formatter.say("chance") if band else "",
        spreads=tuple(spreads.ends[name] for name in table.categories),
        band=band,
    )


def class_marks(table: ParetoTable, look: TableChartSettings) -> tuple[ClassMark, ...]:
    """Return what the cutoffs part the categories into: the vital few and the useful many, or classes and a rest."""
    say, style, cuts = look.formatter.say, look.style, [cut for cut in table.cutoffs if cut.count]
    if not cuts or table.strata is not None or table.ordering != "frequency":
        return ()
    several = len(table.cutoffs) > 1
    marks, start, before = [], 0, 0.0
    for rank, cut in enumerate(table.cutoffs, start=1):
        end = min(cut.count, len(table))
        if end <= start:
            continue
        share = cut.cumulative_percent - before
        limits = (float(cut.percent),) if rank == 1 else ()
        marks.append(
            ClassMark(
                start,
                end,
                chr(64 + rank) if several else say("vital few"),
                say("of all", count=cut.count - start, all=table.size),
                style.whole_percent(share, limits),
                rank,
            )
        )
        start, before = end, cut.cumulative_percent
    if start < len(table):
        limits = () if several else (100.0 - float(table.cutoffs[0].percent),)
        marks.append(
            ClassMark(
                start,
                len(table),
                say("rest class") if several else say("useful many"),
                say("of all", count=table.size - start, all=table.size),
                style.whole_percent(max(100.0 - before, 0.0), limits),
                0,
            )
        )
    return tuple(marks)


def _mixed_rates(table: ParetoTable) -> bool:
    """Whether the frequencies are rates with different bases, whose sum is not a total."""
    exposure = table.tally.exposure
    return exposure is not None and len(set(exposure.values())) > 1


def _names(bars: tuple[Bars, ...]) -> list[str]:
    return [name for bar in bars for name in (bar.name, bar.strong_name, bar.quiet_name)]


def _bars(table: ParetoTable, look: TableChartSettings) -> tuple[Bars, ...]:
    say = look.formatter.say
    if table.strata is not None:
        names = distinct_lines(table.strata.columns)
        parts = table.strata_rows()
        return tuple(
            composed(
                Bars,
                name,
                tuple(float(part[index]) for part in parts),
                # Seven colors of the theme repeat from the eighth part on.
                role=f"series-{index % 7 + 1}",
                colors=(look.colors[name],) * len(parts) if name in look.colors else (),
            )
            for index, name in enumerate(names)
        )
    cut = table.cutoff
    name = look.formatter.text(table.origin.measure)
    few, many = say("vital few"), say("useful many")
    inside = cut.count if cut else 0
    # A color may be given to one category, or to the vital few as a group.
    series = [(few if place < inside else many) if cut else name for place in range(len(table))]
    own = tuple(
        look.colors.get(category, look.colors.get(group, ""))
        for category, group in zip(table.categories, series, strict=True)
    )
    return (
        composed(
            Bars,
            name,
            tuple(table.frequency.floats().tolist()),
            labels=_labels(table, look, name),
            strong=inside if cut else None,
            ranks=_ranks(table),
            role="bar" if cut else "pale-2",
            strong_name=few,
            quiet_name=many,
            colors=own if any(own) else (),
        ),
    )


def _ranks(table: ParetoTable) -> tuple[int, ...]:
    """Return the class of each bar of several: 1 for the first, 0 for what no cutoff takes in; empty for one cutoff."""
    if len(table.cutoffs) < 2:
        return ()
    ends = [cut.count for cut in table.cutoffs]
    return tuple(
        next((rank for rank, end in enumerate(ends, start=1) if place < end), 0) for place in range(len(table))
    )


def _labels(table: ParetoTable, look: TableChartSettings, name: str) -> tuple[str, ...]:
    kind = look.labels_of(name)
    if kind == "none":
        return ()
    if kind == "percent":
        return tuple(look.style.whole_percent(value) for value in table.percents.tolist())
    if table.origin.per:
        return tuple(look.style.amounts(table.frequency.values(), most_decimals=_decimals(table)))
    return tuple(look.style.short(table.frequency.values()))


def _decimals(table: ParetoTable) -> int:
    # A rate above one reads well with two decimals, a small one needs all it has.
    return 2 if table.origin.per and float(table.total) > 1 else 6


def _line(table: ParetoTable, look: TableChartSettings) -> Line | None:
    say, style = look.formatter.say, look.style
    if look.cumulative == "none":
        return None
    if look.cumulative == "frequency":
        labels = style.amounts(table.cumulative.values(), most_decimals=_decimals(table))
        name = say("cumulative rate") if table.origin.per else say("cumulative frequency")
        return composed(
            Line, name, tuple(table.cumulative.floats().tolist()), tuple(labels), axis="secondary", if_room=True
        )
    # A percent must not be rounded onto a cutoff that it does not reach.
    marks = [float(cut.percent) for cut in table.cutoffs]
    values = table.cumulative_percents.tolist()
    name = say("cumulative percent")
    labels = [style.whole_percent(value, marks) for value in values]
    is_named = isinstance(look.labels, Mapping) and look.labels.get(name, "none") != "none"
    return composed(Line, name, tuple(values), tuple(labels), axis="secondary", if_room=not is_named)


def _colored_line(line: Line, look: TableChartSettings) -> Line:
    color = look.colors.get(line.name)
    return replace(line, role=f"line:{color}") if color else line


def _titles(table: ParetoTable, look: TableChartSettings, *, whole: bool) -> dict[str, Any]:
    """Return the texts around the frame: the user's own where there are such."""
    origin = named_origin(table.origin, look)
    named = origin.count or origin.weight or origin.per or origin.counted != "records" or origin.unit_name
    unit = look.formatter.text(origin.unit_text()) if whole or named else ""
    unit = "" if says_how_many(origin.amount_unit) and not origin.per else unit
    unit = unit if look.unit is None else one_line(look.unit)
    titles = {
        "title": chart_title(table, look),
        "subtitle": subtitle_of(table.tally, look, whole=True),
        "note": chart_note(table, look),
        "category_title": "",
        "primary_title": _primary_title(table, look, unit),
        "secondary_title": _secondary_title(table, look, unit),
    }
    own = {name: getattr(look, name) for name in titles if name != "note"}
    return {name: text if own.get(name) is None else own[name] for name, text in titles.items()}


def _primary_title(table: ParetoTable, look: TableChartSettings, unit: str) -> str:
    """Return what the bars are: the user's own word, the column that is counted, or what is counted."""
    origin = table.origin
    if "frequency" not in look.words and not origin.per:
        if _says_its_unit(origin, look):
            return headed(origin.count or "")
        if unit:
            return headed(unit)
    return look.formatter.titled(look.formatter.text(origin.measure), unit)


def _says_its_unit(origin: Provenance, look: TableChartSettings) -> bool:
    """Whether the column that is counted names its unit: then it titles the axis as it is."""
    return bool(without_unit(origin.count or "")) and not (origin.weight or origin.per or look.unit is not None)


def _secondary_title(table: ParetoTable, look: TableChartSettings, unit: str) -> str:
    say = look.formatter.say
    if look.cumulative == "none":
        return ""
    if look.cumulative == "frequency":
        name = say("cumulative rate") if table.origin.per else say("cumulative frequency")
        return look.formatter.titled(name, unit)
    name = say("cumulative rate" if table.origin.per else "cumulative percent")
    if "of total" not in look.words or table.origin.per:
        return name
    return say("of total", name=name, total=_total(table, look), unit=unit).rstrip()


def _axis_total(table: ParetoTable, look: TableChartSettings) -> str:
    """Return the total as it is at the axis, in thousands where the ticks are; in the user's own words if there are."""
    total = _total(table, look) if table.origin.per else look.style.short([table.total])[0]
    return look.formatter.say("total", total=total) if "total" in look.words else total


def _total(table: ParetoTable, look: TableChartSettings) -> str:
    return look.style.amounts([table.total], most_decimals=_decimals(table))[0]


def subject_of(table: ParetoTable) -> str:
    """Return what the table is of, as it is titled at an axis."""
    return headed(table.origin.by or "")


def with_sum_row(chart: Chart, table: ParetoTable, look: TableChartSettings, keep: int) -> Chart:
    """Return a chart on which all categories after the first `keep` are one row, which is their sum.

    The table has them all, and so has the text alternative.
    """
    say, more = look.formatter.say, table.size - keep
    series = tuple(_with_sum(item, table, look, keep) for item in chart.series)
    texts = look.style.amounts(table.frequency.values()[keep:], most_decimals=_decimals(table))
    rows = [f"{one_line(name)} {text}" for name, text in zip(table.categories[keep:], texts, strict=True)]
    note = say("note on folded rows", count=more, all=str(table.size)) if look.note is True else ""
    return replace(
        chart,
        categories=(*chart.categories[:keep], say("sum row", count=more, noun=noun_of(look, more))),
        series=series,
        totals=tuple((*stack[:keep], _sum_text(table, look, "", keep)) for stack in chart.totals),
        classes=tuple(replace(mark, end=min(mark.end, keep + 1)) for mark in chart.classes if mark.start <= keep),
        note="; ".join(filter(None, (chart.note, note))),
        description=Joined((chart.description, Message("folded rows", rows=Written(", ".join(rows))))),
    )


def _with_sum(series: Series, table: ParetoTable, look: TableChartSettings, keep: int) -> Series:
    texts = series.texts
    if not isinstance(series, Bars):  # a running sum: the last one is that of all
        return replace(series, values=(*series.values[:keep], series.values[-1]), labels=(*texts[:keep], *texts[-1:]))
    return replace(
        series,
        values=(*series.values[:keep], math.fsum(series.values[keep:])),
        labels=(*texts[:keep], _sum_text(table, look, series.name, keep)) if texts else (),
        ranks=(*series.ranks[:keep], 0) if series.ranks else (),
        colors=(*series.colors[:keep], "") if series.colors else (),
        has_sum=table.strata is None,
    )


def _sum_text(table: ParetoTable, look: TableChartSettings, name: str, keep: int) -> str:
    if look.labels_of(name) == "percent":
        return look.style.whole_percent(math.fsum(table.percents.tolist()[keep:]))
    rest, style = Amounts.of(table.frequency.values()[keep:]).total, look.style
    return style.amounts([rest], most_decimals=_decimals(table))[0] if table.origin.per else style.short([rest])[0]


def chart_title(table: ParetoTable, look: TableChartSettings) -> str:
    """Return the title: the user's, what the table shows, or what it is of."""
    if look.title is not None:
        return look.title
    message = table_headline(table, look)
    if message:
        return message
    split = table.strata.split if table.strata is not None else ""
    kind = "title" if table.ordering == "frequency" else "frequency chart"
    return subject_title(table.origin.by or "", split, look, kind=kind)


def chart_note(table: ParetoTable, look: TableChartSettings) -> str:
    """Return the small line at the foot: source, period, filter, merges and folds."""
    if not isinstance(look.note, bool):
        return look.note
    if not look.note:
        return ""
    rest = table.rest
    held = Message("rest", rest=one_line(rest.label), number=len(rest.categories)) if rest else ""
    sums = Message("sum of rates") if _mixed_rates(table) else ""
    return look.formatter.text(Joined((table.origin.note(), held, sums), "; "))


def _cut_mark(cut: Cutoff, table: ParetoTable, look: TableChartSettings) -> CutMark:
    percent, style = float(cut.percent), look.style
    return CutMark(
        value=percent * float(table.total) / 100 if look.cumulative == "frequency" else percent,
        count=cut.count,
        level_text=with_unit(style.plain(cut.percent), style.percent_unit),
        text=look.formatter.say(
            "cut", count=cut.count, all=table.size, percent=Percent(cut.cumulative_percent, (percent,))
        ),
    )
