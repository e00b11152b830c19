"""Tallies and two-way tables."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import cache
from typing import Any

from vantric.core import composition, counts
from vantric.core.charts.settings import TallyChartSettings
from vantric.core.counts.provenance import Provenance
from vantric.core.counts.tally import Tally, check_rankable
from vantric.core.messages.formatter import Formatter
from vantric.core.messages.message import Joined, Message
from vantric.core.review import Finding, review_tally
from vantric.counting import count_source, crossed
from vantric.kinds.kind import Kind, Parts
from vantric.kinds.recipe import Recipe, notes_of
from vantric.options.signatures import shows
from vantric.output.sections import ChartView, Section
from vantric.reading.settings import ComparisonSettings, CountSettings, CrosstabSettings, ReadSettings
from vantric.tables.statements import parts_words
from vantric.tables.table import Table, table_title
from vantric.tables.tally import crosstab_view, tally_object, tally_sentence, tally_tables, tally_view


def make(data: Any, opening: ReadSettings, parts: Parts) -> Tally | counts.Crosstab:
    """Return the tally of a source, or its two-way table."""
    look, crossing, counting = parts.get("chart"), parts.get("crossing"), parts["counting"]
    counting = replace(counting, in_order=look is not None and look.order == "given") if look else counting
    if crossing is not None and (crossing.split is not None or crossing.split_columns):
        return crossed(data, counting, opening, crossing)
    return count_source(data, counting, opening)


def as_tally(tally: Any) -> Tally:
    """Return a tally itself, and that of the categories of a two-way table."""
    return tally if isinstance(tally, Tally) else tally.tally()


def check(result: Any) -> None:
    """Raise an error for a tally without a category."""
    if not as_tally(result).categories:
        check_rankable(as_tally(result))


def shown(tally: Any, look: TallyChartSettings) -> Any:
    """Return what was counted in the order of a look."""
    from vantric.core.counts.pareto import arranged, arranged_rows

    if isinstance(tally, Tally):
        return arranged(tally, look.order, look.keep)
    return arranged_rows(tally.transposed() if look.transpose else tally, look.order, look.keep)


def review(found: Any) -> list[Finding]:
    """Return what is wrong or risky."""
    if isinstance(found, Tally):
        return review_tally(found)
    from vantric.core.review import review_strata

    return [*review_tally(as_tally(found)), *review_strata(found)]


def tables(result: Any, look: TallyChartSettings, local: Formatter, percent_of: Any = None) -> Sequence[Table]:
    """Return its table."""
    return tally_tables(result, percent_of)


def data(result: Any, look: TallyChartSettings, findings: Any, percent_of: Any = None) -> dict[str, Any]:
    """Return its JSON object."""
    return tally_object(result, findings, percent_of)


def view(result: Any, look: TallyChartSettings, percent_of: Any = None, *, width: int, **_: Any) -> list[str]:
    """Return it for a terminal."""
    show: Any = tally_view if isinstance(result, Tally) else crosstab_view
    lines: list[str] = show(result, percent_of, width=width, local=look.formatter.bare())
    return lines


def chart(tally: Any, look: TallyChartSettings) -> Any:
    """Return its chart."""
    from vantric.kinds.appearance import with_drawable_look, with_orientation

    look = with_drawable_look(look)
    chart = (
        composition.tally_chart(tally, look) if isinstance(tally, Tally) else composition.crosstab_chart(tally, look)
    )
    title = chart.primary_title
    text = f", {title[:1].lower()}{title[1:]}" if "(" in title else f" ({title})" if title else ""
    from vantric.tables.combination import chart_sentence

    return with_orientation(
        replace(chart, description=Joined((Message("sentence", text=f"{chart.title}{text}"), chart_sentence(chart)))),
        look,
    )


def section(
    result: Any, look: TallyChartSettings, findings: Any, percent_of: Any = None, *, chart: Any = None
) -> Section:
    """Return what is handed over of it; `percent_of` is what its percents are of."""
    tally = as_tally(result)

    @cache
    def views() -> tuple[ChartView, ...]:
        if not tally.total and chart is None:
            return ()  # there is nothing to draw
        first = KIND.chart(result, look) if chart is None else chart
        name, other = ("percents", "frequency") if look.values == "percent" else ("values", "percent")
        if not tally.total or look.share_bar:
            return (ChartView(name, first),)
        second = KIND.chart(result, replace(look, values=other))  # type: ignore[arg-type]
        return ChartView(name, first), ChartView("percents" if name == "values" else "values", second)

    return Section(
        kind="tally",
        title=views()[0].chart.title if views() else table_title("tally", tally.origin.by or ""),
        sentence=sentence(result),
        base=tally.base(),
        views=views,
        grids=cache(lambda: tally_tables(result, percent_of)),
        findings=tuple(findings),
        notes=notes_of(tally, [tally.origin.note()]),
    ).in_language(look.formatter.bare())


def sentence(tally: Any) -> str:
    """Return what it shows: the largest categories, or how the parts differ."""
    return tally_sentence(tally) if isinstance(tally, Tally) else parts_words(tally)


def origin(result: Any) -> Provenance:
    """Return where it comes from."""
    return as_tally(result).origin


def exchanged(result: Any) -> Recipe | None:
    """Return the recipe of a two-way table with the two columns exchanged, where both are plain columns."""
    recipe: Recipe = result._recipe
    if recipe.parts["counting"].families is not None or recipe.parts["counting"].merge_spellings:
        return None
    plain = replace(recipe.parts["counting"], by=recipe.parts["crossing"].split)
    return recipe.with_parts(counting=plain, crossing=CrosstabSettings(split=result.origin.by))


def frame(result: Any, percent_of: Any) -> Any:
    """Return a two-way table as a frame."""
    from vantric.kinds.frames import frame_of

    cells = result.frequencies() if percent_of is None else result.percents(percent_of).tolist()
    rows, by = (
        [(name, *row) for name, row in zip(result.categories, cells, strict=True)],
        result.origin.by or "category",
    )
    return frame_of([by, *result.columns], rows, like=result._recipe and result._recipe.library, index=by)


def compare(found: Any, before: str, after: str, per: Any, per_units: float, per_name: str) -> Any:
    """Return two columns of a two-way table side by side."""
    exposures = None if per is None else (per[0], per[1])
    sides = counts.compare(
        found.column(before),
        found.column(after),
        names=(before, after),
        exposures=exposures,
        units=per_units,
        of=per_name,
    )
    recipe = found._recipe
    if recipe is not None:
        settings = ComparisonSettings(
            split=recipe.parts["crossing"].split,
            before=before,
            after=after,
            per=exposures,
            per_units=per_units,
            per_name=None if exposures is None else per_name,
        )
        recipe = Recipe(
            "compare", recipe.source, recipe.opening, {"counting": recipe.parts["counting"], "sides": settings}
        )
    return sides._made_by(recipe)


for _result in (Tally, counts.Crosstab):  # their signatures say what can be given
    shows(TallyChartSettings)(_result.chart)

KIND = Kind(
    name="tally",
    options={"counting": CountSettings, "crossing": CrosstabSettings, "chart": TallyChartSettings},
    optional=("crossing",),
    make=make,
    origin=origin,
    review=review,
    sentence=sentence,
    compared=as_tally,
    tables=tables,
    data=data,
    view=view,
    chart=chart,
    section=section,
    shown=shown,
    check=check,
    floats=("percent",),
    verbs={"exchanged": exchanged, "compare": compare, "crosstab_frame": frame},
)
