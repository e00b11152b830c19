"""Columns side by side: measures by category or period, the series drawn of them, and how these go together."""

from __future__ import annotations

import math
from collections.abc import Container, Mapping, Sequence
from contextlib import suppress
from dataclasses import field, replace
from functools import cache
from typing import Any, TypeAlias

from vantric.base.lazily import dataclass
from vantric.core import composition
from vantric.core.charts import Chart
from vantric.core.charts.series import KINDS, Bars, Line, Series
from vantric.core.charts.settings import CombinationChartSettings
from vantric.core.composition import gap_series, with_gap_rows
from vantric.core.counts import Measures
from vantric.core.counts.gap import Gap, gap_of
from vantric.core.counts.provenance import Note
from vantric.core.messages.formatter import Formatter
from vantric.core.messages.message import Joined
from vantric.core.numbers.number_format import headed, one_line, quoted, readable
from vantric.core.statistics import Relation, relation_of, together
from vantric.core.statistics.time_series import time_of
from vantric.counting.combining import CombineRequest, columns_in_range, combine, is_column_range
from vantric.engines.opening import with_records
from vantric.errors import ChartError, VantricError, unknown
from vantric.files.models import ChartFile
from vantric.kinds.appearance import with_drawable_look, with_hex_color, with_orientation
from vantric.kinds.kind import Kind, Parts
from vantric.kinds.recipe import Recipe, notes_of
from vantric.options import known_options, split_options
from vantric.options.migrations import synonym
from vantric.options.signatures import shows
from vantric.output.sections import ChartView, Section
from vantric.reading.settings import CategorySettings, ReadSettings
from vantric.tables.combination import (
    chart_sentence,
    combined_notes,
    combined_object,
    combined_table,
    combined_view,
    series_table,
)
from vantric.tables.table import Table


def relations_in(chart: Chart, names: Sequence[str]) -> list[str]:
    """Return how the named series go together, two by two, with what must be said with it.

    Raises
    ------
    VantricError
        If the names are not pairs, or one is not in the chart; if there are too few pairs of values.
    """
    if len(names) % 2:
        raise ChartError(f"relate takes two series, as in relate NAME,NAME; '{names[-1]}' stands alone")
    series = {item.name: item for item in chart.series}
    for name in names:
        if name not in series:
            raise unknown(ChartError, f"the chart has no series '{name}' to relate", name, series)
    pairs = [(series[text], series[other]) for text, other in zip(names[::2], names[1::2], strict=True)]
    itself = next((item.name for item, other in pairs if item is other), None)
    if itself is not None:
        raise ChartError(f"'{itself}' is related to itself; name two series")
    return [relation.sentence() for relation in together([_relation(chart, *pair) for pair in pairs])]


def _relation(chart: Chart, item: Series, other: Series) -> Relation:
    """Relate two series of a chart: in time where its categories are periods or dates."""
    names = (item.name, other.name)
    pair = time_of(chart.categories)
    if chart.period or pair is None:
        period: Any = chart.period or None
        return relation_of(item.values, other.values, names=names, in_time=True if period else None, period=period)
    period, order = pair
    x, y = ([series.values[index] for index in order] for series in (item, other))
    return relation_of(x, y, names=names, period=period)


def relations_of_all(chart: Chart, pairs: Sequence[tuple[Series, Series]]) -> list[str]:
    """Return how pairs of series go together, decided together; what cannot be related is passed over."""
    relations = []
    for pair in pairs:
        with suppress(VantricError):
            relations.append(_relation(chart, *pair))
    return [relation.sentence() for relation in together(relations)]


def with_gap(
    measures: Measures, sides: tuple[str, str], look: CombinationChartSettings, *, ranked: bool, unit: str
) -> tuple[Measures, list[Series]]:
    """Return planned and achieved with difference and percent, and their bars.

    Parameters
    ----------
    measures
        Hold both sides.
    sides
        What was planned, and what was achieved.
    look
        How numbers are written.
    ranked
        Whether the largest difference comes first.
    unit
        What both are in.
    """
    planned, achieved = ([math.nan if value is None else float(value) for value in measures[name]] for name in sides)
    gap = gap_of(measures.categories, planned, achieved, sides)
    rows = {row.category: row for row in gap.rows}
    order = [*rows, *gap.missing] if ranked and not measures.period else list(measures.categories)
    numbers = [measures.categories.index(label) for label in order]
    values = [tuple(measures[name][place] for place in numbers) for name in sides]
    more = [
        tuple(getattr(rows[label], name) if label in rows else None for label in order)
        for name in ("difference", "percent")
    ]
    remarks = measures.origin.remarks
    if gap.missing:
        verb = "has" if len(gap.missing) == 1 else "have"
        remarks = (*remarks, Note("one-side-only", f"{quoted(gap.missing)} {verb} only one of {quoted(sides)}"))
    origin = replace(measures.origin, remarks=remarks)
    names = (*sides, "difference", f"percent of {sides[0]}")
    made_measures = replace(
        measures,
        categories=tuple(order),
        names=names,
        values=(*values, *more),
        units=(unit, unit, unit, "%"),
        about=gap.sentence(),
        origin=origin,
    )
    return made_measures, gap_series(gap, order, look, unit=unit)


FOR_LABELS = 0.2  # of the length of the axis: what is written behind the bars of planned and achieved
#: Option -> value.
OptionsByName: TypeAlias = dict[str, Any]


@dataclass(frozen=True)
class CombinedColumns:
    """Measures, and what is drawn of them.

    Attributes
    ----------
    measures
    series
        In the order they are drawn and named.
    section
        The section of a chart file that says so.
    """

    measures: Measures
    series: tuple[Series, ...]
    section: Mapping[str, Any]


@dataclass(frozen=True)
class CombineSettings:
    """What is drawn of a source's columns.

    Attributes
    ----------
    axis
        The category axis.
    series : tuple of (kind, what)
        In the order they are drawn and named.
    secondary
        Series on the secondary axis, by name or as they were written.
    options
        Series -> option -> value.
    """

    axis: CategorySettings
    series: tuple[tuple[str, str], ...]
    secondary: tuple[str, ...] = ()
    options: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)

    def work_out(self, data: Any, opening: ReadSettings, look: CombinationChartSettings) -> CombinedColumns:
        """Return the measures, the series made of them, and the section of a chart file that says so.

        Raises
        ------
        VantricError
            If the source cannot be read, or a series is named that there is not.
        """
        if self.axis.sides:
            return self._gap(data, opening, look)
        expanded = self._without_ranges(data, opening)
        if expanded is not self:
            return expanded.work_out(data, opening, look)
        labels = tuple(text for _, text in self.series)
        twice = next((text for place, text in enumerate(labels) if text in labels[:place]), None)
        if twice is not None:
            raise ChartError(f"'{twice}' is drawn twice; rename one of them: '{twice}=NAME'")
        measures, names = combine(data, CombineRequest(self.axis, labels, self._stacked(look)), opening)
        units = dict(zip(measures.names, measures.units, strict=True))
        options = self._options(names, units)
        own = {names[text]: str(option.get("unit", "")) for text, option in options.items()}
        measures = replace(measures, units=tuple(own[name] for name in measures.names))
        series = [_series(kind, names[text], measures[names[text]], options[text]) for kind, text in self.series]
        entries = [{"kind": kind, "what": text, **self._said(text, names)} for kind, text in self.series]
        return CombinedColumns(measures, tuple(series), {**self.axis.changed(), "series": entries})

    def _without_ranges(self, data: Any, opening: ReadSettings) -> CombineSettings:
        """Return the settings with a series for each column of a range: ``Jan:Mar``."""
        if not any(is_column_range(text) for _, text in self.series):
            return self
        known = with_records(data, opening, [], lambda records: records.names())
        series = [(kind, name) for kind, text in self.series for name in columns_in_range(text, known)]
        return self if tuple(series) == self.series else replace(self, series=tuple(series))

    def _stacked(self, look: CombinationChartSettings) -> tuple[str, ...]:
        """Return the series of bars that stand on each other, as they were written."""
        if look.together not in ("stacked", "percent"):
            return ()
        return tuple(text for kind, text in self.series if kind == "bars")

    def _gap(self, data: Any, opening: ReadSettings, look: CombinationChartSettings) -> CombinedColumns:
        """Return planned and achieved with their differences, ranked by these, and the series that show them."""
        if self.series or self.secondary:
            raise ChartError("planned and actual are drawn as bars of their own: leave bars, line and the others out")
        measures, names = combine(data, CombineRequest(self.axis, self.axis.sides), opening)
        called = {**{name: name for name in names.values()}, **names}
        contents = {_known(name, called, "given options"): own for name, own in self.options.items()}
        strange = next((option for own in contents.values() for option in own if option != "unit"), None)
        if strange is not None:
            raise ChartError(f"planned and actual have a unit and no other options, not {strange}")
        sides = names[self.axis.sides[0]], names[self.axis.sides[1]]
        unit_of = dict(zip(measures.names, measures.units, strict=True))
        units = [str(own["unit"]) for own in contents.values()] + [unit_of[name] for name in sides]
        found_measures, series = with_gap(
            measures, sides, look, ranked=self.axis.order is None, unit=next(filter(None, units), "")
        )
        entries = [{"kind": "bars", "what": name, **own} for name, own in self.options.items()]
        return CombinedColumns(found_measures, tuple(series), {**self.axis.changed(), "series": entries})

    def shown(self, look: CombinationChartSettings, names: Container[str]) -> CombinationChartSettings:
        """Return the look of the chart; of a gap, horizontal and overlaid where the user says nothing else."""
        if not self.axis.sides:
            return look
        for name in ("together", "transpose", "percent_of", "secondary_together", "totals"):
            if name in names:
                raise ChartError(f"planned and actual have bars of their own: leave {name} out")
        orientation = look.orientation if "orientation" in names else "horizontal"
        if look.primary_log:  # points with their numbers beside them
            return replace(look, orientation=orientation)
        room = look.headroom if "headroom" in names else FOR_LABELS
        return replace(look, together="overlaid", orientation=orientation, headroom=room)

    def _options(self, names: Mapping[str, str], units: Mapping[str, str]) -> dict[str, OptionsByName]:
        """Return what the user wrote for each series -> its options, with those that follow from it."""
        options = {}
        for _, text in self.series:
            own = self._said(text, names)
            if units[names[text]]:
                own = {"unit": units[names[text]], **own}
            options[text] = own
        return options

    def _said(self, text: str, names: Mapping[str, str]) -> OptionsByName:
        """Return the options that the user gives for a series, by its name or as it was written."""
        called = {**{name: name for name in names.values()}, **names}
        second = {_known(name, called, "named for the secondary axis") for name in self.secondary}
        own: OptionsByName = {}
        for name, option in self.options.items():
            if _known(name, called, "given options") == names[text]:
                own.update(option)
        if second:
            own["axis"] = "secondary" if names[text] in second else "primary"
        return own


def _known(name: str, called: Mapping[str, str], what: str) -> str:
    if name not in called:
        message = f"there is no series '{name}', which is {what}"
        raise unknown(ChartError, message, name, [*called, *called.values()])
    return called[name]


def _series(kind: str, name: str, values: Sequence[Any], options: Mapping[str, Any]) -> Series:
    series_class = KINDS[kind]
    options_by_name = known_options(series_class)
    for option in options:
        if option not in options_by_name:
            text = synonym(option, options_by_name)
            message = f"{kind} '{name}' have no option '{option}'"
            if text:
                raise ChartError(f"{message}; use {text}", value=option, known=options_by_name, hint=f"use {text}")
            raise unknown(ChartError, message, option, options_by_name)
    return series_class(name, tuple(values), **options)


def make(data: Any, opening: ReadSettings, parts: Parts) -> CombinedColumns:
    """Return the measures of a source, and the series that are drawn of them."""
    combination: CombineSettings = parts["combination"]
    return combination.work_out(data, opening, parts["chart"])


def parts_of(kind: Kind, chart_file: ChartFile) -> Parts:
    """Return what a chart file draws of its columns."""
    options = {series.what: dict(series.options) for series in chart_file.series}
    second = tuple(series.what for series in chart_file.series if options[series.what].pop("axis", None) == "secondary")
    pairs = tuple((series.kind, series.what) for series in chart_file.series)
    axis = chart_file.parts["combine"]
    return {"combination": CombineSettings(axis, () if axis.sides else pairs, second, options)}


def drawn_measures(combined: CombinedColumns, look: CombinationChartSettings) -> CombinedColumns:
    """Return the measures as they are drawn."""
    return replace(combined, measures=combined.measures.transposed()) if look.transpose else combined


def tables(
    combined: CombinedColumns,
    look: CombinationChartSettings,
    local: Formatter,
    *,
    chart: Any = None,
    relate: Sequence[str] = (),
) -> Sequence[Table]:
    """Return the table of its measures."""
    return (combined_table(combined.measures, chart, relations_in(chart, relate)),)


def data(
    combined: CombinedColumns, look: CombinationChartSettings, findings: Any, *, chart: Any, relate: Sequence[str] = ()
) -> dict[str, Any]:
    """Return its JSON object."""
    return combined_object(combined.measures, chart, findings, relations_in(chart, relate))


def view(
    combined: CombinedColumns,
    look: CombinationChartSettings,
    *,
    width: int,
    chart: Any,
    relate: Sequence[str] = (),
    **_: Any,
) -> list[str]:
    """Return it for a terminal."""
    return combined_view(
        combined.measures, chart, relations_in(chart, relate), width=width, local=look.formatter.bare()
    )


def chart_of_measures(measures: Measures, series: Sequence[Any], look: CombinationChartSettings) -> Any:
    """Return the chart of series made of measures, with where they come from."""
    look = with_drawable_look(look)
    origin = measures.origin
    settings = replace(look, subject=look.subject or measures.by)
    gap = _gap(measures) if measures.about else None
    if gap is not None:
        settings = _titled(settings, measures, gap)
    chart = composition.combination_chart(
        measures.categories,
        [with_hex_color(item) for item in series],
        settings,
        period=measures.period,
        base=look.formatter.text(combined_notes(measures)[0]),
        source=look.formatter.text(origin.note()),
    )
    if gap is not None:
        chart = with_gap_rows(chart, gap, look)
    sentence = Joined((measures.about, chart_sentence(chart)))
    return with_orientation(replace(chart, description=sentence, remarks=(*origin.remarks, *chart.remarks)), look)


def _gap(measures: Measures) -> Gap:
    """Return the gap between the first two columns."""
    planned, actual = (
        [math.nan if value is None else float(value) for value in column] for column in measures.values[:2]
    )
    return gap_of(measures.categories, planned, actual, (measures.names[0], measures.names[1]))


def _titled(look: CombinationChartSettings, measures: Measures, gap: Gap) -> CombinationChartSettings:
    """Return a look with the titles of planned and actual, where the user gives none."""
    say, names = look.formatter.say, look.formatter.listed([readable(name) for name in measures.names[:2]])
    plain = headed(say("series by", names=names, subject=readable(look.subject)))
    axis = headed(look.formatter.titled(names, measures.units[0]))
    message = "" if look.neutral_title else composition.gap_headline(gap, measures.units[0], look)
    base = look.formatter.text(combined_notes(measures)[0])
    return replace(
        look,
        title=(message or plain) if look.title is None else look.title,
        subtitle=f"{plain}: {base}" if message and look.title is None and look.subtitle is None else look.subtitle,
        primary_title=axis if look.primary_title is None else look.primary_title,
    )


def section(
    combined: CombinedColumns,
    look: CombinationChartSettings,
    findings: Any,
    *,
    chart: Any = None,
    relate: Sequence[str] = (),
) -> Section:
    """Return what is handed over of it."""
    drawn = KIND.chart(combined, look) if chart is None else chart
    measures = drawn_measures(combined, look).measures
    text = Joined([drawn.description, *relations_in(drawn, relate)])
    return Section(
        kind="combine",
        title=drawn.title,
        sentence=text,
        base=combined_notes(measures)[0],
        views=lambda: (ChartView("values", drawn),),
        grids=cache(lambda: (series_table(drawn, one_line(measures.by)),)),
        findings=tuple(findings),
        notes=notes_of(measures, [measures.origin.note()]),
    ).in_language(drawn.formatter)


def _measures_chart(measures: Measures, **options: Any) -> Any:
    """Return the chart of measures: lines over periods, bars of categories."""
    [look] = split_options(options, CombinationChartSettings)
    kind = Line if measures.period else Bars
    series = [kind(name, values) for name, values in zip(measures.names, measures.values, strict=True)]
    recipe: Recipe | None = measures._recipe
    if recipe is not None:
        part = recipe.parts["combine"]
        entries = [{"kind": kind.kind, **item} for item in part["series"]]
        recipe = recipe.with_parts(combine={**part, "series": entries}, chart=look)
    return KIND.drawn_chart(CombinedColumns(measures, tuple(series), {}), look, recipe)


def _measures_frame(measures: Measures) -> Any:
    """Return a row a category or period, a column a measure as a frame; what is missing is NaN."""
    from vantric.kinds.frames import frame_of

    rows = list(zip(measures.categories, *measures.values, strict=True))
    like = measures._recipe and measures._recipe.library
    return frame_of([measures.by, *measures.names], rows, like=like, index=measures.by)


shows(CombinationChartSettings)(Measures.chart)

KIND = Kind(
    name="combine",
    options={"combine": CategorySettings, "chart": CombinationChartSettings},
    make=make,
    origin=lambda result: result.measures.origin,
    sentence=lambda result: result.measures.about,
    tables=tables,
    data=data,
    view=view,
    chart=lambda result, look: chart_of_measures(result.measures, result.series, look),
    section=section,
    drawn=True,
    shown=drawn_measures,
    compared=lambda result: result.measures,
    parts_of=parts_of,
    recipe_parts=lambda result, parts: {"combine": result.section, "chart": parts["chart"]},
)

MEASURES = Kind(
    name="measures",
    options={"chart": CombinationChartSettings},
    review=lambda measures: measures.chart().review(),
    sentence=lambda measures: measures.chart().sentence(),
    tables=lambda measures, look, local: (combined_table(measures, None),),
    data=lambda measures, look, findings: measures.to_dict(),
    section=lambda measures, look, findings, *, chart=None: measures.chart()._section(),
    compared=lambda measures: measures,
    verbs={"chart": _measures_chart, "frame": _measures_frame},
)
