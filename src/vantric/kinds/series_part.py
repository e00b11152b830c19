"""Charts of series that are given as numbers, or held by a chart file."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any

from vantric.core import composition
from vantric.core.charts import KINDS, Chart, PanelChart, Series
from vantric.core.charts.settings import AxisPeriod, CombinationLook
from vantric.files.models import ChartFile, SeriesEntry
from vantric.kinds.appearance import colored, ready, shaped
from vantric.kinds.kind import Kind, Parts
from vantric.output.sections import Section, View
from vantric.reading.settings import Opening
from vantric.tables.chartsentence_part import chart_sentence
from vantric.tables.combination import series_table
from vantric.tables.localize import Fixed, Local


@dataclass(frozen=True)
class Given:
    """Series, and the categories that they are of."""

    categories: tuple[Any, ...]
    series: tuple[Any, ...]
    period: str | None = None


def make(data: Any, opening: Opening, parts: Parts) -> Given:
    """Return the series that the options hold."""
    given = parts["given"]
    series = [
        KINDS[one["kind"]](
            one["name"],
            [None if value == "" else value for value in one["values"]],
            **{name: value for name, value in one.items() if name not in ("kind", "name", "values")},
        )
        for one in given["series"]
    ]
    return Given(tuple(given["categories"]), tuple(series), given.get("period"))


def parts_of(kind: Kind, found: ChartFile) -> Parts:
    """Return the categories and the series of a chart file, as it holds them."""
    period = found.parts["given"].period
    given = {
        "categories": found.categories,
        **({"period": period} if period else {}),
        "series": list(map(_entry, found.series)),
    }
    return {"given": given}


def _entry(one: SeriesEntry) -> dict[str, Any]:
    values = ["" if value is None else value for value in one.values]
    return {"kind": one.kind, "name": one.what, "values": values, **one.options}


def chart_of_series(
    categories: Iterable[Any], series: Iterable[Any], look: CombinationLook, period: str | None = None
) -> Chart:
    """Return the chart of series that are given as numbers."""
    shown = [colored(one) if isinstance(one, Series) else one for one in series]
    made = composition.combination_chart(categories, shown, ready(look), period=period)
    return shaped(replace(made, description=chart_sentence(made)), look)


def chart_section(chart: Chart | PanelChart, findings: Any) -> Section:
    """Return a chart of series that were given as numbers as a section."""
    panels = chart.panels if isinstance(chart, PanelChart) else (chart,)
    titled = [replace(series_table(one), title=one.title if len(panels) > 1 else "") for one in panels]
    said = chart.description
    return Section(
        kind="series",
        title=chart.title,
        sentence=f"{said[:1].upper()}{said[1:]}",
        base=chart.subtitle,
        views=lambda: (View("values", chart),),
        grids=lambda: tuple(titled),
        findings=tuple(findings),
        notes=((Fixed("Note"), chart.note),) if chart.note else (),
    ).in_language(Local.named(chart.language, panels[0].style))


SERIES = Kind(
    name="series",
    options={"given": AxisPeriod, "chart": CombinationLook},
    make=make,
    origin=lambda given: None,
    sources=lambda given: [],
    drawn=True,
    parts_of=parts_of,
    chart=lambda given, look: chart_of_series(given.categories, given.series, look, given.period),
    section=lambda given, look, findings, *, chart=None: chart_section(chart, findings),
)
