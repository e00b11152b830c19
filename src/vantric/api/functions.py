"""The public functions."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, Unpack

from vantric.api.analysis import Analysis
from vantric.api.comparison import Comparison
from vantric.api.counts import Crosstab, Measures, Tally
from vantric.api.options import (
    AnalysisOptions,
    CountingOptions,
    OpeningOptions,
    split_analysis,
    split_options,
)
from vantric.api.table import ParetoTable
from vantric.core import counting
from vantric.options import read_options, shows
from vantric.sources import Counting, Opening, cross, gather, measure
from vantric.sources.tallying.exposures import exposures_of


@shows(CountingOptions, Counting, Opening)
def tally(data: Any, by: str | None = None, **options: Unpack[CountingOptions]) -> Tally:
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
    count : str
        The column that says how many occurrences a record stands for; 1 if not given.
    by_columns : sequence of str
        Columns that are categories themselves, as in a check sheet; their numbers are added up.
    separator : str
        Parts several labels in one cell; then mentions are counted, a label at most once a record.
    unique : str
        A column of units: each different unit counts once in a category.
    merge_spellings : bool
        Whether labels that differ only in case, blanks or Unicode form become one; every merge is told.
    families : mapping of str to str, or path
        Label -> family, or a file of two columns (CSV with a header, JSON or TOML); other labels are told and kept.
    weight : str
        The column that says what one occurrence weighs (cost, minutes); the frequency is the sum of count x weight.
    missing : str
        ``"exclude"``, or ``"category"`` to count records without a label as "(missing)".
    dates : str
        A column of dates: its first and last day are told with every result.
    where : str
        A standard SQL condition for files, sheets and databases.
    sheet : str
        The sheet of a workbook; the first that holds something if not given.
    table, query : str
        What is read of a database.
    timeout : float
        How many seconds reading the source may take.
    memory : int
        How many MB the engine that reads files may take before it spills to disk.
    allow_functions : bool
        Whether a condition on a file may call any function of the engine, and not ordinary ones only. The file is then
        read in a process of its own, which may take `memory` and 700 MB, and ends when `timeout` is over.

    Returns
    -------
    Tally

    Raises
    ------
    VantricError
        If the data cannot be read, lack a column, or hold a count that is missing, negative or not a number.
    """
    return Tally.of(gather(data, *split_options(by, options)))


@shows(CountingOptions, Counting, Opening)
def crosstab(data: Any, by: str, split: str, **options: Unpack[CountingOptions]) -> Crosstab:
    """Count records by two columns.

    Parameters
    ----------
    data, by
        As for `tally`; data that have columns.
    split
        The second column.
    **options
        As for `tally`, but `by_columns` and `unique`.

    Returns
    -------
    Crosstab
        With `frequencies()`, `percents(of)` of a row, a column or all, `row_totals`, `column_totals`, `transposed()`.
    """
    return Crosstab.of(cross(data, *split_options(by, options), split=split))


@shows(OpeningOptions, Opening)
def aggregate(
    data: Any, by: str, measures: Mapping[str, str], *, period: str | None = None, **options: Unpack[OpeningOptions]
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
    **options
        How the source is opened: `where`, `sheet`, `table`, `query`, `timeout`, `memory` and `allow_functions`, as for
        `tally`.

    Returns
    -------
    Measures

    Raises
    ------
    VantricError
        As for `tally`; and for a date or number that cannot be read, naming the record.
    """
    opening = Opening(**read_options(options, OpeningOptions))
    return Measures.of(measure(data, by, measures, period, opening))


@shows(AnalysisOptions, Counting, Opening, Analysis)
def pareto(data: Any, by: str | None = None, **options: Unpack[AnalysisOptions]) -> ParetoTable:
    """Count, rank, cumulate and cut off.

    Parameters
    ----------
    data, by
        As for `tally`; a Tally will do too.
    cut : number, sequence of numbers or None
        The cutoff in percent; several, ascending, give the classes of an ABC analysis; None for none. If not given,
        80 in the order of frequency and none in any other.
    rule : str
        ``"reach"``: the fewest leading categories whose cumulative percent is at least the cutoff; ``"within"``: the
        most whose cumulative percent is at most the cutoff.
    ties : str
        ``"exclude"``, or ``"include"`` to take in what is as frequent as the last category inside.
    order : str or sequence of str
        ``"frequency"``, ``"given"`` (first appearance, or the levels of an ordered column), ``"label"``, or every
        category in order, those that nobody chose too.
    last : sequence of str
        Categories pinned to the end.
    keep, fold_below : int, float
        How many categories keep their names, or the percent below which they lose them; the others become the rest.
    rest_label : str
        What the rest is called: ``"Other"``.
    drop_zero : bool
        Whether categories of frequency zero are left out.
    per : float, str or mapping of str to float
        What frequencies are divided by: a number, a column that is added up by category, or a number a category.
    per_units, per_name : float, str
        Rates are per so many (1), of what.
    split : str
        A second column: each category in parts; `period` names the calendar period of a column of dates.
    drill : sequence of str
        Columns from the widest to the narrowest, in place of `by`: the table of the first, and within each of its
        vital few that of the next. With `families`, a first ``"family"`` is the family of the next column's labels.
    **options
        What is counted, and how the source is opened, as for `tally`.

    Returns
    -------
    ParetoTable

    Raises
    ------
    VantricError
        As for `tally`; and if there is nothing to rank or a wish cannot be met: the message says which.

    Examples
    --------
    >>> import vantric as vt
    >>> vt.pareto(["Pinhole", "Warping", "Pinhole", None]).sentence()
    'Of 3 records, it takes both categories to reach the cutoff of 80 %; 1 record without a label is left out.'
    """
    analysis, counted, opening = split_analysis(by, options)
    return ParetoTable.of(analysis.table(data, counted, opening))


@shows(CountingOptions, Counting, Opening)
def compare(
    before: Any, after: Any, by: str | None = None, *, names: Sequence[str] = ("Before", "After"),
    per: Sequence[float | str] | float | str | None = None, per_units: float = 1, per_name: str | None = None,
    **options: Unpack[CountingOptions],
) -> Comparison:  # fmt: skip
    """Set two tallies of the same categories side by side.

    Parameters
    ----------
    before, after
        Data as for `tally`, or tallies; of one source, ``vantric.crosstab(data, by, split).compare(X, Y)``.
    by, **options
        As for `tally`, for both sides.
    names
        What the two sides are called.
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
    counted, opening = split_options(by, options)
    sides = [gather(data, counted, opening) for data in (before, after)]
    exposures, of = exposures_of((before, after), opening, per)
    first, second = names
    found = counting.compare(
        sides[0], sides[1], names=(first, second), exposures=exposures, units=per_units, of=per_name or of
    )
    return Comparison.of(found)


def category_colors(table: counting.ParetoTable, theme: str = "light") -> dict[str, str]:
    """Return a color a category, the same throughout an analysis: give it to each chart as `colors`.

    Parameters
    ----------
    table
        The table of the whole; its order says which category gets which color.
    theme
        The look of the charts. Beyond seven categories colors come again.

    Returns
    -------
    dict of str to str
        Category -> ``#rrggbb``.
    """
    from vantric.drawing.theme import theme_named

    look = theme_named(theme)
    return {name: look.color(f"series-{place % 7 + 1}") for place, name in enumerate(table.categories)}
