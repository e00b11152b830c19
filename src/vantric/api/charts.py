"""The functions that draw columns or read chart files: ``vantric.combine``, ``vantric.align``, charts of files."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from functools import cache
from typing import TYPE_CHECKING, Any, TypeAlias, Unpack, cast

from vantric.base.arithmetic import own_arithmetic
from vantric.base.lazily import dataclass
from vantric.core import charts
from vantric.core.axes import ScalePair, Scaling
from vantric.core.charts.series import SeriesLabels
from vantric.core.charts.settings import ChartSettings, CombinationChartSettings
from vantric.core.review import Finding, review_chart
from vantric.core.review.finding import note
from vantric.errors import ChartFileError
from vantric.files.models import ChartFile
from vantric.kinds import kind_named
from vantric.kinds.access_policy import AccessPolicy
from vantric.kinds.combine import CombineSettings, OptionsByName
from vantric.kinds.kind import SectionSource
from vantric.kinds.recipe import Recipe
from vantric.kinds.scales import scaled
from vantric.options import split_options
from vantric.options.signatures import shows
from vantric.output.sections import Section
from vantric.reading.settings import CategorySettings, ReadSettings

if TYPE_CHECKING:
    from vantric.core.charts import Chart
    from vantric.typing import CombineOptions, ScalingOptions

#: What one keyword of `combine` takes: one column or several, each ``COL``, ``sum:COL``, ``ratio:A/B=NAME`` ...
Wanted = str | Sequence[str]


@own_arithmetic
@shows(CategorySettings, CombinationChartSettings, ReadSettings)
def combine(
    data: Any,
    x: str,
    *,
    bars: Wanted = (),
    line: Wanted = (),
    area: Wanted = (),
    points: Wanted = (),
    stems: Wanted = (),
    steps: Wanted = (),
    secondary: Wanted = (),
    units: Mapping[str, str] | None = None,
    labels: SeriesLabels | Mapping[str, SeriesLabels] | None = None,
    series: Mapping[str, Mapping[str, Any]] | None = None,
    **options: Unpack[CombineOptions],
) -> Chart:
    """Set columns of a source side by side as bars, lines and other series on one category axis and two value axes.

    Parameters
    ----------
    data
        As for `vantric.tally`; data that have columns.
    x
        The column of categories, or of dates (with `period`).
    bars, line, area, points, stems, steps : str or sequence of str
        What is drawn of that kind: a column, or ``"sum:col"``, ``"mean:col"``, ``"median:col"``, ``"min:col"``,
        ``"max:col"``, ``"count"``, ``"ratio:a/b"`` (a ratio of sums) or ``"percent:a/b"``; with ``"=NAME"`` after it
        to rename it. Where several records share a category, a bare column is added up, with a note. Where nothing is
        known there is a gap, never a zero.
    secondary : str or sequence of str
        Series on the secondary axis, by name. If none is named, units and reach decide: see `vantric.suggest_axes`.
    units : mapping of str to str
        Series -> its unit; ``"percent:a/b"`` is in ``"%"``.
    labels : str or mapping of str to str
        What is written at the marks, of all series or by name: see `vantric.Bars`.
    series : mapping of str to mapping
        Series -> its other options: see `vantric.Bars` and `vantric.Line`.

    Returns
    -------
    Chart

    Raises
    ------
    VantricError
        If the data cannot be read, or the parts do not fit together: the message says which.
    """
    axis, look, opening = split_options({**options, "x": x}, CategorySettings, CombinationChartSettings, ReadSettings)
    drawn = {"bars": bars, "area": area, "stems": stems, "steps": steps, "line": line, "points": points}
    pairs = tuple((kind, text) for kind, texts in drawn.items() for text in listed(texts))
    words: dict[str, OptionsByName] = {name: dict(own) for name, own in (series or {}).items()}
    for name, unit in (units or {}).items():
        words.setdefault(name, {})["unit"] = unit
    for name, kind in labels.items() if isinstance(labels, Mapping) else ():
        words.setdefault(name, {})["labels"] = kind
    for _, text in pairs if isinstance(labels, str) else ():
        words[text] = {"labels": labels, **words.get(text, {})}
    combination = CombineSettings(axis, pairs, listed(secondary), words)
    look = combination.shown(look, options)
    columns = kind_named("combine")
    columns_result = columns.make(data, opening, {"combination": combination, "chart": look})
    recipe = Recipe.of("combine", data, opening, {"combine": columns_result.section, "chart": look})
    chart: Any = columns.drawn_chart(columns_result, look, recipe)
    return cast("Chart", chart)


def listed(item: Wanted) -> tuple[str, ...]:
    """Return one name, or several, as several."""
    return (item,) if isinstance(item, str) else tuple(item)


@own_arithmetic
@shows(Scaling)
def align(primary: tuple[float, float], secondary: tuple[float, float], **options: Unpack[ScalingOptions]) -> ScalePair:
    """Scale two value axes together.

    Parameters
    ----------
    primary, secondary
        The ranges of the data, lower and upper, in the units of each side.

    Returns
    -------
    ScalePair

    Raises
    ------
    ScaleError
        For a range that runs downward, is not finite, or is not above zero on a log side; and for options that
        conflict: the message says which two.

    Notes
    -----
    The grid is an optimum over all pairs of nice steps; see ``docs/axes.md`` for the method and its sources.

    Examples
    --------
    >>> import vantric as vt
    >>> pair = vt.align((0, 650), (0, 100))
    >>> pair.shared_ticks
    True
    """
    [scaling] = split_options(options, Scaling)
    return scaled(primary, secondary, scaling)


Drawn: TypeAlias = charts.Chart | charts.PanelChart
#: A default argument must not be shared and changed; an empty mapping cannot be.
_NO_LOOK: Mapping[str, Any] = {}


@dataclass(frozen=True, kw_only=True)
class ChartFileResult:
    """What a file describes.

    Attributes
    ----------
    result
        The table, comparison, tally, trends, measures or scales; None of series that the file holds itself.
    chart
    recipe
    findings
        Returns what the review says of the result.
    told
        Returns what is handed over of the chart.
    compared
        What the next report compares with; None if nothing is.
    """

    chart: Drawn
    recipe: Recipe
    told: Callable[[Any], Section]
    result: Any = None
    compared: Any = None
    findings: Callable[[], tuple[Finding, ...]] = tuple

    def reviewed(self) -> tuple[Finding, ...]:
        """Return what the review says of the result and of the chart."""
        drawn = () if isinstance(self.chart, charts.PanelChart) else review_chart(self.chart)
        return tuple(dict.fromkeys([*self.recipe.notes, *self.findings(), *drawn]))

    def section(self) -> Section:
        """Return what is handed over."""
        return self.told(self.chart)


def made_of_file(chart_file: ChartFile, policy: AccessPolicy, look: Mapping[str, Any] = _NO_LOOK) -> ChartFileResult:
    """Return what a file describes.

    Parameters
    ----------
    chart_file
        What the file says.
    policy
        Where it is, and what it may read.
    look
        Options of the look in place of the file's own.

    Raises
    ------
    VantricError
        As the function that makes such a chart.
    """
    if policy.source is not None and chart_file.kind in ("scales", "series"):
        raise ChartFileError("this chart holds its numbers itself: leave the other source out")
    result = _made(chart_file, policy, _look(chart_file, look))
    notes = tuple(
        note("old-chart-file", message=text, fix="save the chart again", where="") for text in chart_file.notes
    )
    return result if not notes else replace(result, recipe=replace(result.recipe, notes=notes))


def _look(chart_file: ChartFile, look: Mapping[str, Any]) -> Any:
    """Return the look of the file with options in place of its own."""
    own = chart_file.parts.get("chart")
    if own is None:
        return ChartSettings(**look) if look else None
    merged = {name: {**getattr(own, name), **look[name]} for name in ("words", "colors") if name in look}
    return replace(own, **{**look, **merged}) if look else own


def _made(chart_file: ChartFile, policy: AccessPolicy, look: Any) -> ChartFileResult:
    kind = kind_named(chart_file.kind)
    data, opening = policy.data(chart_file.parts["data"]) if "data" in chart_file.parts else (None, ReadSettings())
    parts = {**kind.parts_of(kind, chart_file), "chart": look}
    if "counting" in parts:
        parts["counting"] = policy.counting(parts["counting"])
    result = kind.make(data, opening, parts)
    drawn = kind.chart(result, kind.plain_look if look is None else look)
    recipe = Recipe(kind.name, data, opening.for_file(), kind.recipe_parts(result, parts))
    findings_of = cache(lambda: tuple(kind.findings(result, look, drawn)))
    source = SectionSource(kind.name, result, look)
    return ChartFileResult(
        result=result, compared=kind.compared(result), chart=drawn, recipe=recipe, findings=findings_of, told=source
    )
