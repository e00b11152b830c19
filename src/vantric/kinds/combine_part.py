"""Columns side by side: measures by category or period, and the series that are drawn of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import cache
from typing import Any

from vantric.core import composition
from vantric.core.charts import Bars, Line
from vantric.core.charts.settings import CombinationLook
from vantric.core.counts import Measures
from vantric.core.numbers.number_format import headed, one_line, readable
from vantric.files.models import ChartFile
from vantric.kinds.appearance import colored, ready, shaped
from vantric.kinds.combine import Combination, Combined
from vantric.kinds.kind import Kind, Parts, local_of
from vantric.kinds.notes_part import notes_of, upper_first
from vantric.kinds.recipe import Recipe
from vantric.kinds.relations_part import relations_in
from vantric.options import split_options
from vantric.options.signatures import shows
from vantric.output.sections import Section, View
from vantric.reading.settings import Categories, Opening
from vantric.tables.chartsentence_part import chart_sentence
from vantric.tables.combination import combined_notes, combined_object, combined_table, combined_view, series_table
from vantric.tables.localize import Local
from vantric.tables.table import Table


def make(data: Any, opening: Opening, parts: Parts) -> Combined:
    """Return the measures of a source, and the series that are drawn of them."""
    combination: Combination = parts["combination"]
    return combination.work_out(data, opening, parts["chart"])


def parts_of(kind: Kind, found: ChartFile) -> Parts:
    """Return what a chart file draws of its columns."""
    options = {one.what: dict(one.options) for one in found.series}
    second = tuple(one.what for one in found.series if options[one.what].pop("axis", None) == "secondary")
    wanted = tuple((one.kind, one.what) for one in found.series)
    axis = found.parts["combine"]
    return {"combination": Combination(axis, () if axis.sides else wanted, second, options)}


def shown(found: Combined, look: CombinationLook) -> Combined:
    """Return the measures as they are drawn."""
    return replace(found, measures=found.measures.transposed()) if look.transpose else found


def tables(
    found: Combined, look: CombinationLook, local: Local, *, chart: Any = None, relate: Sequence[str] = ()
) -> Sequence[Table]:
    """Return the table of its measures."""
    return (combined_table(found.measures, chart, relations_in(chart, relate)),)


def data(
    found: Combined, look: CombinationLook, findings: Any, *, chart: Any, relate: Sequence[str] = ()
) -> dict[str, Any]:
    """Return its JSON object."""
    return combined_object(found.measures, chart, findings, relations_in(chart, relate))


def view(
    found: Combined, look: CombinationLook, *, width: int, chart: Any, relate: Sequence[str] = (), **_: Any
) -> list[str]:
    """Return it for a terminal."""
    return combined_view(found.measures, chart, relations_in(chart, relate), width=width, local=local_of(look))


def chart_of_measures(measures: Measures, series: Sequence[Any], look: CombinationLook) -> Any:
    """Return the chart of series made of measures, with where they come from."""
    look = ready(look)
    wording, origin = look.wording, measures.origin
    base = wording.counted(origin.input_rows - measures.missing, origin)
    if measures.missing:
        lacking = wording.say("without", number=look.style.plain(measures.missing), label=wording.lacking(origin))
        base = f"{base}, {lacking}"
    said = replace(look, subject=look.subject or measures.by)
    if measures.about:
        said = _titled(said, measures)
    chart = composition.combination_chart(
        measures.categories,
        [colored(one) for one in series],
        said,
        period=measures.period,
        base=base,
        source=wording.note(origin),
    )
    sentence = chart_sentence(chart)
    if measures.about:
        sentence = f"{measures.about} {upper_first(sentence)}"
    return shaped(replace(chart, description=sentence, remarks=(*origin.remarks, *chart.remarks)), look)


def _titled(look: CombinationLook, measures: Measures) -> CombinationLook:
    """Return a look with the titles of planned and achieved, where the user gives none."""
    say, names = look.wording.say, look.wording.listed([readable(name) for name in measures.names[:2]])
    title = headed(say("series by", names=names, subject=readable(look.subject)))
    axis = headed(look.wording.titled(names, measures.units[0]))
    return replace(
        look,
        title=title if look.title is None else look.title,
        primary_title=axis if look.primary_title is None else look.primary_title,
    )


def section(
    found: Combined, look: CombinationLook, findings: Any, *, chart: Any = None, relate: Sequence[str] = ()
) -> Section:
    """Return what is handed over of it."""
    drawn = KIND.chart(found, look) if chart is None else chart
    measures = shown(found, look).measures
    said = " ".join([*filter(None, (upper_first(drawn.description),)), *relations_in(drawn, relate)])
    return Section(
        kind="combine",
        title=drawn.title,
        sentence=said,
        base=upper_first(combined_notes(measures)[0]),
        views=lambda: (View("values", drawn),),
        grids=cache(lambda: (series_table(drawn, one_line(measures.by)),)),
        findings=tuple(findings),
        notes=notes_of(measures, [measures.origin.note()]),
    ).in_language(Local.named(drawn.language, drawn.style))


def _measures_chart(measures: Measures, **options: Any) -> Any:
    """Return the chart of measures: lines over periods, bars of categories."""
    [look] = split_options(options, CombinationLook)
    kind = Line if measures.period else Bars
    series = [kind(name, values) for name, values in zip(measures.names, measures.values, strict=True)]
    recipe: Recipe | None = measures._recipe
    if recipe is not None:
        wanted = recipe.parts["combine"]
        entries = [{"kind": kind.kind, **one} for one in wanted["series"]]
        recipe = recipe.with_parts(combine={**wanted, "series": entries}, chart=look)
    return KIND.drawn_chart(Combined(measures, tuple(series), {}), look, recipe)


def _measures_frame(measures: Measures) -> Any:
    """Return a row a category or period, a column a measure as a frame; what is missing is NaN."""
    from vantric.kinds.frames import frame_of

    rows = list(zip(measures.categories, *measures.values, strict=True))
    like = measures._recipe and measures._recipe.library
    return frame_of([measures.by, *measures.names], rows, like=like, index=measures.by)


shows(CombinationLook)(Measures.chart)

KIND = Kind(
    name="combine",
    options={"combine": Categories, "chart": CombinationLook},
    make=make,
    origin=lambda found: found.measures.origin,
    sentence=lambda found: found.measures.about,
    tables=tables,
    data=data,
    view=view,
    chart=lambda found, look: chart_of_measures(found.measures, found.series, look),
    section=section,
    drawn=True,
    shown=shown,
    compared=lambda found: found.measures,
    parts_of=parts_of,
    recipe_parts=lambda found, parts: {"combine": found.section, "chart": parts["chart"]},
)

MEASURES = Kind(
    name="measures",
    options={"chart": CombinationLook},
    review=lambda measures: measures.chart().review(),
    sentence=lambda measures: measures.chart().sentence(),
    tables=lambda measures, look, local: (combined_table(measures, None),),
    data=lambda measures, look, findings: measures.to_dict(),
    section=lambda measures, look, findings, *, chart=None: measures.chart()._section(),
    compared=lambda measures: measures,
    verbs={"chart": _measures_chart, "frame": _measures_frame},
)
