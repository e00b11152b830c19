"""The public functions that count, rank, compare and relate, and those that make Pareto charts or read chart files."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, Unpack

from vantric.base.arithmetic import own_arithmetic
from vantric.base.safe_text import masked
from vantric.core import counts
from vantric.core.charts import Chart, PanelChart
from vantric.core.charts.series import Points
from vantric.core.charts.settings import ParetoChartSettings
from vantric.core.counts import Comparison, Crosstab, Measures, ParetoTable, Tally
from vantric.core.counts.gap import Gap, gap_of
from vantric.core.numbers.periods import Period
from vantric.core.statistics import Relation, relation_of
from vantric.counting import first_look, measure
from vantric.counting.count_records import FirstLook
from vantric.counting.ranking import compare_sources
from vantric.errors import CountError, RankError, VantricError
from vantric.kinds import kind_named
from vantric.kinds.recipe import Recipe
from vantric.options import known_options, split_options
from vantric.options.option_classes import unknown_option
from vantric.options.signatures import shows
from vantric.reading.settings import (
    ComparisonSettings,
    CountSettings,
    FileReading,
    ParetoSettings,
    ReadSettings,
    TrendSettings,
)

#: Records that a first look shows.
_FIRST = 5

if TYPE_CHECKING:
    from vantric.core.statistics import Trend
    from vantric.typing import (
        AggregateOptions,
        ColumnsOptions,
        ParetoChartOptions,
        ParetoOptions,
        ReadChartOptions,
        TallyOptions,
        TrendOptions,
    )


@own_arithmetic
@shows(CountSettings, ReadSettings, TrendSettings)
def trend(data: Any, by: str | None = None, **options: Unpack[TrendOptions]) -> Trend:
    """Say which categories change over calendar periods, and draw them with control limits.

    Parameters
    ----------
    data, by
        As for `tally`; data that have columns, one of them with dates (`date`).

    Returns
    -------
    Trend
        Its `rows` have a category each: its `chart` with center line, limits and signals, its `change` and whether that
        is `beyond_chance`: a statistically significant steady change or step. `sentence()` says it in words;
        docs/certainty.md has the methods.

    Raises
    ------
    VantricError
        As for `tally`; and if no column of dates is named, or rates have no exposure.

    Examples
    --------
    >>> import vantric as vt
    >>> days = [f"2026-0{month}-{day:02d}" for month in range(1, 9) for day in (1, 15, 30 if month != 2 else 28)]
    >>> vt.trend({"defect": ["Pinhole"] * 24, "date": days}, "defect", date="date").sentence().partition(". ")[0]
    'Over 8 months there is no evidence of a change in “Pinhole”'
    """
    trend: Trend = kind_named("trend").made(data, {**options, "by": by})
    return trend


@own_arithmetic
def gap(
    planned: Any,
    achieved: Any,
    *,
    categories: Sequence[str] | None = None,
    names: Sequence[str] = ("planned", "achieved"),
) -> Gap:
    """Set planned and achieved side by side, the largest difference first.

    Parameters
    ----------
    planned, achieved
        Numbers, None or NaN where one is missing; or mappings of category to number.
    categories
        What the numbers are of; not for mappings.
    names
        What the two are called.

    Returns
    -------
    Gap
        Its `rows` have `category`, `planned`, `achieved`, `difference`, `percent` (achieved of planned, with its base
        beside it) and `share` of all differences. `sentence()` says the largest.

    Raises
    ------
    RankError
        If the two do not fit together, or no category has both values.
    """
    if isinstance(planned, Mapping) != isinstance(achieved, Mapping):
        raise RankError("give planned and achieved in one form: two mappings, or two lists with categories")
    if isinstance(planned, Mapping):
        labels = list(dict.fromkeys((*planned, *achieved)))
        planned, achieved = ([side.get(label) for label in labels] for side in (planned, achieved))
    else:
        labels = list(categories) if categories is not None else [str(n) for n, _ in enumerate(planned, start=1)]
    first, second = names
    sides = _values(planned, first), _values(achieved, second)
    return gap_of([str(label) for label in labels], *sides, (first, second))


@own_arithmetic
def relate(
    one: Any,
    other: Any,
    *,
    names: Sequence[str] = ("the one", "the other"),
    level: float = 0.95,
    in_time: bool | None = None,
    period: Period | None = None,
) -> Relation:
    """Say whether two series go together, and how sure that is.

    Parameters
    ----------
    one, other
        As many numbers each, pair by pair; None or NaN where one is missing.
    names
        What they are called.
    level
        Of the intervals.
    in_time
        Whether the pairs follow each other in time: then their changes are related, since two trends, and two series
        of one season, always seem related. None: they do not, unless the rows of both are alike to those before them;
        then nothing is said until `in_time=False` or a period says which.
    period
        How far apart they are in time: ``"day"``, ``"week"``, ``"month"``, ``"quarter"`` or ``"year"``; implies
        `in_time`.

    Returns
    -------
    Relation
        Its `verdict` (``"related"``, ``"not shown"`` or ``"cannot be said"``) with `p`; `n`, `pearson` and `spearman`
        with their intervals; and the `caution` that must be said with them. docs/certainty.md has the methods.

    Raises
    ------
    RankError
        If they are not as many, or fewer than three pairs have both values.
    """
    first, second = names
    return relation_of(
        _values(one, first),
        _values(other, second),
        names=(first, second),
        level=level,
        in_time=in_time,
        period=period,
    )


def _values(values: Any, name: str) -> tuple[float, ...]:
    return Points(name, values).values


@own_arithmetic
@shows(CountSettings, ReadSettings)
def tally(data: Any, by: str | None = None, **options: Unpack[TallyOptions]) -> Tally:
    """Count records by category.

    Parameters
    ----------
    data
        A file (``.csv .tsv .json .ndjson .parquet .xlsx .ods``, the text ones also as ``.gz``), a pattern of files, or
        ``"-"`` for CSV on standard input; the URL of a database; a frame or series of any library that narwhals
        understands (pandas, Polars, PyArrow, DuckDB ...); a mapping of category to frequency or, with `by`, of name to
        column; or an iterable of labels.
    by
        The column of labels; not for labels or ready counts. It may be left out where only one column can be counted.

    Returns
    -------
    Tally

    Raises
    ------
    VantricError
        If the data cannot be read, lack a column, or hold a count that is missing, negative or not a number.
    """
    tally: Tally = kind_named("tally").made(data, {**options, "by": by})
    return tally


@own_arithmetic
@shows(CountSettings, ReadSettings)
def crosstab(
    data: Any,
    by: str,
    split: str | None = None,
    *,
    split_columns: Sequence[str] | str = (),
    **options: Unpack[TallyOptions],
) -> Crosstab:
    """Count records by two columns.

    Parameters
    ----------
    data, by
        As for `tally`; data that have columns.
    split
        The second column.
    split_columns
        In place of `split`: columns that are the labels of the second variable themselves, as months are across a
        sheet; a range such as ``"Jan:Mar"`` will do.

    Returns
    -------
    Crosstab
        With `frequencies()`, `percents(of)` of a row, a column or all, `row_totals`, `column_totals`, `transposed()`.
    """
    crosstab: Crosstab = kind_named("tally").made(
        data, {**options, "by": by}, crossing={"split": split, "split_columns": split_columns}
    )
    return crosstab


@own_arithmetic
@shows(ReadSettings)
def aggregate(
    data: Any, by: str, measures: Mapping[str, str], *, period: str | None = None, **options: Unpack[AggregateOptions]
) -> Measures:
    """Work out measures by category or by calendar period.

    Parameters
    ----------
    data
        As for `tally`; data that have columns.
    by
        The column of categories, or of dates.
    measures
        Name -> ``"sum"``, ``"mean"``, ``"median"``, ``"min"``, ``"max"`` or ``"count"``, of the column of that name or
        of another (``"sum:fired"``); ``"ratio:rejected/fired"``, a ratio of sums, or ``"percent:rejected/fired"``.
    period
        ``"day"``, ``"week"`` (ISO 8601), ``"month"``, ``"quarter"`` or ``"year"``. Every period from the first to the
        last appears: zero for a sum or count of nothing, None for a mean or ratio.

    Returns
    -------
    Measures

    Raises
    ------
    VantricError
        As for `tally`; and for a date or number that cannot be read, naming the record.
    """
    [opening] = split_options(options, ReadSettings)
    found_measures = measure(data, by, measures, period, opening)
    texts = [
        {"what": f"{text}={name}" if ":" in text else text if text == "count" else f"{text}:{name}={name}"}
        for name, text in measures.items()
    ]
    axis = {"x": by, **({"period": period} if period else {})}
    return found_measures._made_by(Recipe.of("combine", data, opening, {"combine": {**axis, "series": texts}}))


@own_arithmetic
@shows(CountSettings, ReadSettings, ParetoSettings)
def pareto(data: Any, by: str | None = None, **options: Unpack[ParetoOptions]) -> ParetoTable:
    """Count, rank, accumulate, and mark the 80% cutoff.

    Parameters
    ----------
    data, by
        As for `tally`; a Tally will do too.

    Returns
    -------
    ParetoTable

    Raises
    ------
    VantricError
        As for `tally`; and if there is nothing to rank or the options do not fit together: the message says which.

    Examples
    --------
    >>> import vantric as vt
    >>> vt.pareto(["Pinhole", "Warping", "Pinhole", None]).sentence().partition(". ")[0]
    'Both categories are needed to reach the 80% cutoff of 3 records'
    """
    table: ParetoTable = kind_named("pareto").made(data, {**options, "by": by})
    return table


@own_arithmetic
@shows(ReadSettings)
def columns(data: Any, **options: Unpack[ColumnsOptions]) -> FirstLook:
    """Take a first look at data: each column's kind, what is missing, the commonest values, the first records.

    Parameters
    ----------
    data
        A path, a pattern of paths, the URL of a database, a frame, or a mapping of name to column.

    Returns
    -------
    FirstLook
        Its `columns` are gone through and found by name: ``vt.columns(data)["defect"].kind``. Printed, it says what
        can be counted and what can be added up.

    Raises
    ------
    SourceError
        If the source cannot be read.

    Examples
    --------
    >>> import vantric as vt
    >>> vt.columns({"defect": ["Pinhole", "Warping", "Pinhole"], "pieces": [2, 1, 4]})["pieces"].kind
    'number'
    """
    [opening] = split_options(options, ReadSettings)
    source = masked(str(data)) if isinstance(data, str | Path) else ""
    return replace(first_look(data, opening, _FIRST), source=source)


@own_arithmetic
@shows(CountSettings, ReadSettings)
def compare(
    before: Any,
    after: Any = None,
    by: str | None = None,
    *,
    split: str | None = None,
    groups: Sequence[str] | None = None,
    names: Sequence[str] = ("Before", "After"),
    before_column: str | None = None,
    after_column: str | None = None,
    per: Sequence[float | str] | float | str | None = None,
    per_units: float = 1,
    per_name: str | None = None,
    **options: Unpack[TallyOptions],
) -> Comparison:
    """Set two tallies of the same categories side by side.

    Parameters
    ----------
    before, after
        Data as for `tally`, or tallies; of one source, which `split` or two columns of counts divide, the first alone.
    by
        As for `tally`, for both sides.
    split, groups
        Of one source: the column that separates before from after, and its two labels: ``("Early", "Night")``.
    names
        What the two sides are called.
    before_column, after_column
        Of one source, `after` left out: the columns of counts before and after.
    per
        What each side was counted in, as two numbers, or as a column that is added up over all records of each side:
        rates are compared then.
    per_units, per_name
        Rates are per so many (1), of what.

    Returns
    -------
    Comparison
        Its `rows` have frequency, percent and rank before and after, the changes in each, and the share of the total
        change.

    Raises
    ------
    VantricError
        As for `tally`; and if the two are in different units.
    """
    counted, opening = split_options({**options, "by": by}, CountSettings, ReadSettings)
    first, second = names
    if split is not None and groups is None:
        raise CountError("split is divided by two of its labels: give groups=(before, after)")
    alone = groups is not None or before_column
    called = {} if alone and tuple(names) == ("Before", "After") else {"before": first, "after": second}
    columns = {"before_column": before_column, "after_column": after_column, "split": split, "groups": groups}
    [sides] = split_options(
        {**called, **columns, "per": per, "per_units": per_units, "per_name": per_name}, ComparisonSettings
    )
    sources = (before,) if after is None and alone else (before, after)
    comparison = compare_sources(sources, sides, counted, opening)
    data = sources if len(sources) > 1 else before
    return comparison._made_by(Recipe.of("compare", data, opening, {"counting": counted, "sides": sides}))


@own_arithmetic
def category_colors(table: ParetoTable, theme: str = "light") -> dict[str, str]:
    """Return a color a category, the same throughout an analysis: give it to each chart as `colors`.

    Parameters
    ----------
    table
        The table of the whole; its order says which category gets which color.
    theme
        The look of the charts. Beyond seven categories colors repeat.

    Returns
    -------
    dict of str to str
        Category -> ``#rrggbb``.
    """
    from vantric.rendering.themes import theme_named

    look = theme_named(theme)
    return {name: look.color(f"series-{place % 7 + 1}") for place, name in enumerate(table.categories)}


@own_arithmetic
@shows(CountSettings, ReadSettings, ParetoSettings, ParetoChartSettings)
def pareto_chart(data: Any, by: str | None = None, **options: Unpack[ParetoChartOptions]) -> Chart | PanelChart:
    """Return the Pareto chart of a table, or of anything that `pareto` takes.

    Bars show frequencies on the primary axis, a line the cumulative percent on the secondary. The total and 100 percent
    are one height, so that the line starts at the top of the first bar.

    Parameters
    ----------
    data
        A ParetoTable (then only the options of the chart are given), or data as for `pareto`.
    by
        As for `pareto`.

    Returns
    -------
    Chart or PanelChart

    Raises
    ------
    VantricError
        As for `pareto`; and for a color of something that is not in the chart.
    """
    looks = known_options(ParetoChartSettings)
    options_by_name = known_options(CountSettings, ReadSettings, ParetoSettings, ParetoChartSettings)
    strange = next((name for name in options if name not in options_by_name), None)
    if strange is not None:
        raise unknown_option(strange, options_by_name)
    [look] = split_options({name: value for name, value in options.items() if name in looks}, ParetoChartSettings)
    rest: Any = {name: value for name, value in options.items() if name not in looks}
    if not isinstance(data, counts.ParetoTable):
        data = pareto(data, by, **rest)
    elif by is not None or rest:
        raise VantricError("a Pareto table is counted already: leave by and the other options out")
    return kind_named("pareto").drawn_chart(data, look, data._recipe and data._recipe.with_parts(chart=look))


@own_arithmetic
@shows(FileReading)
def read_chart(path: str | Path, **options: Unpack[ReadChartOptions]) -> Chart | PanelChart:
    """Return the chart that a chart file describes, made again from its source.

    Parameters
    ----------
    path
        A TOML or JSON file, as ``vantric ... --save-chart`` and `Chart.save` write it, or written by hand. Its sources
        are seen from its own folder.

    Raises
    ------
    VantricError
        If the file holds something that no chart has, with the line or key; or as the function that makes such a chart.
    """
    from vantric.api.charts import made_of_file
    from vantric.files.chart_files import read_chart_file
    from vantric.kinds.access_policy import AccessPolicy

    [reading] = split_options(options, FileReading)
    file = Path(path)
    chart_file = read_chart_file(file)
    result = made_of_file(chart_file, AccessPolicy(file.parent, reading))
    return result.chart._made_by(result.recipe)._with_section_source(result.told)
