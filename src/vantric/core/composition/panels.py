"""Small multiples of a Pareto table: a panel a stratum, or a panel a table of a drill-down."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from vantric.core.axes import common
from vantric.core.charts.chart import Chart, PanelChart
from vantric.core.charts.references import worked_out
from vantric.core.charts.series import Bars, Line, composed
from vantric.core.charts.settings import DEFAULT_SIZE, TableChartSettings
from vantric.core.composition.headlines import mix_headline
from vantric.core.composition.pareto import BarIntervals, chart_note, chart_title, pareto_chart, subject_of
from vantric.core.counts.pareto_table import ParetoTable
from vantric.core.numbers.amounts import Amounts, Number
from vantric.core.numbers.number_format import distinct_lines, one_line
from vantric.errors import ChartError

_PLAIN = TableChartSettings()


def strata_panels(
    table: ParetoTable,
    look: TableChartSettings = _PLAIN,
    *,
    description: str = "",
    spreads: Sequence[BarIntervals] | None = None,
    differ: bool | None = None,
) -> PanelChart:
    """Return a panel a stratum; the title says whether they `differ` significantly, where that is known.

    All panels are in the order of the whole and on one percent scale, each in percent of its own total, so that they
    can be compared by eye. None has a cutoff: within a stratum the categories are not ranked.

    Raises
    ------
    ChartError
        If the table has no strata.
    """
    if table.strata is None:
        raise ChartError("panels need strata: name a second column with split")
    say, style = look.formatter.say, look.style
    names, parts = distinct_lines(table.strata.columns), table.strata_rows()
    percent, running = say("percent"), say("cumulative percent")
    look.check_labels(names)
    look.check_colors([*table.categories, percent, running])
    role = f"line:{look.colors[running]}" if running in look.colors else "line"
    # Columns that share their names are read across.
    orientation = "horizontal" if look.orientation == "auto" and len(names) > 1 else look.orientation
    panels = []
    for index, name in enumerate(names):
        values = [part[index] for part in parts]
        sums = _percents(values)[1]
        bars = _stratum_bars(table, look, index, name, values, spreads)
        line = (composed(Line, running, sums, role=role),) if look.cumulative != "none" else ()
        references = worked_out(look.references, [replace(bars, labels=())], look.average_text)
        unit = look.formatter.text(table.origin.unit_text())
        whole = f"{style.amounts([Amounts.of(values).total])[0]} {unit}"
        panels.append(
            Chart(
                categories=tuple(distinct_lines(table.categories)),
                series=(bars, *line),
                # One scale for all panels, or they could not be compared by eye.
                scales=common(
                    max([100.0 if line else _highest(parts, spreads), *(item.ends[1] for item in references)])
                ),
                references=references,
                title=name,
                subtitle=whole,
                is_cumulative=bool(line),
                primary_unit=style.percent_unit,
                secondary_axis=False,
                **{**look.looks(), "legend": "none", "orientation": orientation},
            )
        )
    plain, message = subject_of(table), mix_headline(table, differ, look)
    base = f"{look.formatter.text(table.tally.base())}. {say('each total')}"
    panel_chart = _whole(table, look, panels, f"{plain}: {base}" if message else base, description)
    return replace(panel_chart, title=message) if message else panel_chart


def _stratum_bars(
    table: ParetoTable,
    look: TableChartSettings,
    index: int,
    name: str,
    values: list[int | float],
    spreads: Sequence[BarIntervals] | None,
) -> Bars:
    """Return the bars of one stratum, each in percent of its total, its own vital few solid."""
    say, percent = look.formatter.say, look.formatter.say("percent")
    own = tuple(look.colors.get(category, look.colors.get(percent, "")) for category in table.categories)
    shares = _percents(values)[0]
    # Zeros have no label: in a small panel they are noise.
    labels = tuple(look.style.whole_percent(share) if share else "" for share in shares)
    bars = composed(
        Bars,
        percent,
        shares,
        labels if look.labels_of(name) != "none" else (),
        strong=_own_few(shares, table) or None,
        strong_name=say("vital few"),
        quiet_name=say("useful many"),
        role="pale-2",
        colors=own if any(own) else (),
    )
    if spreads is None:
        return bars
    ends = tuple(spreads[index].ends.get(label, (0.0, 0.0)) for label in table.categories)
    return replace(bars, spread_name=say("interval"), spreads=ends)


def _own_few(shares: Sequence[float], table: ParetoTable) -> tuple[int, ...]:
    """Return the places of the fewest categories of a panel that reach the cutoff of the whole there; none without."""
    if table.cutoff is None:
        return ()
    level, running, places = float(table.cutoff.percent), 0.0, []
    named = len(shares) - bool(table.rest)
    for place in sorted(range(named), key=lambda place: -shares[place]):
        if running >= level - 1e-9:
            break
        running += shares[place]
        places.append(place)
    return tuple(sorted(places)) if running >= level - 1e-9 else ()


def _whole(
    table: ParetoTable, look: TableChartSettings, panels: Sequence[Chart], subtitle: str, description: str
) -> PanelChart:
    """Return the panels under one head."""
    return PanelChart(
        tuple(panels),
        title=chart_title(table, look),
        subtitle=subtitle if look.subtitle is None else look.subtitle,
        note=chart_note(table, look),
        description=description,
        legend=look.legend != "none",
        title_place=look.title_place,
        theme=look.theme,
        font=look.font,
        language=look.language,
        size=look.size or DEFAULT_SIZE,
    )


def _percents(values: list[Number]) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Return values in percent of their sum, and the cumulative percents; zeros where the sum is zero."""
    amounts = Amounts.of(values)
    if not amounts.total_units:
        zeros = (0.0,) * len(values)
        return zeros, zeros
    # In units, so that sums of decimals and integers are exact.
    total = amounts.total_units
    return tuple(amounts.percents(total).tolist()), tuple(amounts.cumulative().percents(total).tolist())


def _highest(parts: list[list[Number]], spreads: Sequence[BarIntervals] | None) -> float:
    """Return the largest percent of any panel, or the end of the highest interval."""
    columns = zip(*parts, strict=True)
    bars = [max(_percents(list(column))[0]) for column in columns]
    ends = [high for spread in spreads or () for _, high in spread.ends.values()]
    return max([*bars, *ends], default=100.0) or 100.0


def drill_panels(
    table: ParetoTable,
    look: TableChartSettings = _PLAIN,
    *,
    description: str = "",
    spreads: Sequence[BarIntervals] | None = None,
) -> PanelChart:
    """Return the chart of a drill-down: the first table, then each table within it, every one with its own cutoff."""
    titled = [(subject_of(table), table), *_inner(table, ())]
    say, line = look.formatter.say, "" if look.cumulative == "none" else f"cumulative {look.cumulative}"
    measure = look.formatter.text(table.origin.measure)
    shared = [measure, say("vital few"), say("useful many"), *([say(line)] if line else [])]
    look.check_colors([*shared, *(name for _, item in titled for name in item.categories)])
    panels = []
    for index, (name, pareto_table) in enumerate(titled):
        own = {label: color for label, color in look.colors.items() if label in {*shared, *pareto_table.categories}}
        plain = replace(
            look,
            title=None,
            subtitle=None,
            note=False,
            legend="none",
            primary_title=None,
            secondary_title=None,
            unit=None,
            category_title=None,
            colors=own,
        )
        chart = pareto_chart(pareto_table, plain, spreads=spreads[index] if spreads else None)
        panels.append(replace(chart, title=name, category_title="", secondary_title=""))
    return _whole(table, look, panels, look.formatter.text(table.tally.base()), description)


def _inner(table: ParetoTable, above: tuple[str, ...]) -> list[tuple[str, ParetoTable]]:
    pairs = []
    for name, pareto_table in table.within:
        path = (*above, one_line(name))
        pairs.append((" / ".join(path), pareto_table))
        pairs += _inner(pareto_table, path)
    return pairs
