"""Small multiples of a table: a panel a stratum, or a panel a table of a drill-down."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from vantric.core.axes import common
from vantric.core.charts.chart import Chart, PanelChart
from vantric.core.charts.series import Bars, Line, composed
from vantric.core.charts.settings import DEFAULT_SIZE, TableLook
from vantric.core.composition.pareto import Spreads, chart_note, chart_title, pareto_chart, subject_of
from vantric.core.counts.pareto_table import ParetoTable
from vantric.core.numbers.amounts import Amounts, Number
from vantric.core.numbers.number_format import distinct_lines, one_line, readable
from vantric.errors import ChartError

_PLAIN = TableLook()


def strata_panels(
    table: ParetoTable, look: TableLook = _PLAIN, *, description: str = "", spreads: Sequence[Spreads] | None = None
) -> PanelChart:
    """Return a panel a stratum.

    All panels are in the order of the whole and on one percent scale, each in percent of its own total, so that they
    can be compared by eye. None has a cutoff: within a stratum the categories are not ranked.

    Raises
    ------
    ChartError
        If the table has no strata.
    """
    if table.strata is None:
        raise ChartError("panels need strata: name a second column with split")
    say, style = look.wording.say, look.style
    names, parts = distinct_lines(table.strata.columns), table.strata_rows()
    percent, running = say("percent"), say("cumulative percent")
    look.check_labels(names)
    look.check_colors([*table.categories, percent, running])
    own = tuple(look.colors.get(category, look.colors.get(percent, "")) for category in table.categories)
    role = f"line:{look.colors[running]}" if running in look.colors else "line"
    panels = []
    for at, name in enumerate(names):
        values = [part[at] for part in parts]
        shares, sums = _percents(values)
        labels = tuple(style.percents(share) if share else "" for share in shares)
        bars = composed(
            Bars, percent, shares, labels if look.labels_of(name) != "none" else (), colors=own if any(own) else ()
        )
        if spreads is not None:
            ends = tuple(spreads[at].ends.get(label, (0.0, 0.0)) for label in table.categories)
            bars = replace(bars, spread_name=say("interval"), spreads=ends)
        line = (composed(Line, running, sums, role=role),) if look.cumulative != "none" else ()
        unit = say("records") if table.tally.unit == "records" else readable(table.tally.unit)
        whole = f"{style.amounts([Amounts.of(values).total])[0]} {unit}"
        panels.append(
            Chart(
                categories=tuple(distinct_lines(table.categories)),
                series=(bars, *line),
                scales=common(100.0 if line else _highest(parts, spreads)),
                title=name,
                subtitle=whole,
                primary_unit=style.percent_unit,
                secondary_axis=False,
                **{**look.looks(), "legend": "none"},
            )
        )
    return _whole(table, look, panels, f"{look.wording.base(table.tally)}. {say('each total')}", description)


def _whole(table: ParetoTable, look: TableLook, panels: Sequence[Chart], subtitle: str, description: str) -> PanelChart:
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
    total = amounts.total_units
    return tuple(amounts.percents(total).tolist()), tuple(amounts.cumulative().percents(total).tolist())


def _highest(parts: list[list[Number]], spreads: Sequence[Spreads] | None) -> float:
    """Return the largest percent of any panel, or the end of the highest interval."""
    columns = zip(*parts, strict=True)
    bars = [max(_percents(list(column))[0]) for column in columns]
    ends = [high for one in spreads or () for _, high in one.ends.values()]
    return max([*bars, *ends], default=100.0) or 100.0


def drill_panels(
    table: ParetoTable, look: TableLook = _PLAIN, *, description: str = "", spreads: Sequence[Spreads] | None = None
) -> PanelChart:
    """Return the chart of a drill-down: the first table, then each table within it, every one with its own cutoff."""
    titled = [(subject_of(table), table), *_inner(table, ())]
    say, line = look.wording.say, "" if look.cumulative == "none" else f"cumulative {look.cumulative}"
    shared = [say("frequency"), say("vital few"), say("useful many"), *([say(line)] if line else [])]
    look.check_colors([*shared, *(name for _, one in titled for name in one.categories)])
    panels = []
    for at, (name, one) in enumerate(titled):
        own = {label: color for label, color in look.colors.items() if label in {*shared, *one.categories}}
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
        made = pareto_chart(one, plain, spreads=spreads[at] if spreads else None)
        panels.append(replace(made, title=name, category_title="", secondary_title=""))
    return _whole(table, look, panels, look.wording.base(table.tally), description)


def _inner(table: ParetoTable, above: tuple[str, ...]) -> list[tuple[str, ParetoTable]]:
    found = []
    for name, one in table.within:
        path = (*above, one_line(name))
        found.append((" / ".join(path), one))
        found += _inner(one, path)
    return found
