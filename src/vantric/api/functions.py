"""The public functions."""

from __future__ import annotations

from typing import Any

from vantric.api.chart import Chart
from vantric.api.table import ParetoTable
from vantric.core import charting, counting
from vantric.core.counting import Tally
from vantric.core.reviewing import Finding, review_pareto, review_tally
from vantric.errors import VantricError
from vantric.report.sentence import pareto_sentence
from vantric.sources import Counting, gather


def tally(data: Any, by: str | None = None, *, count: str | None = None) -> Tally:
    """Count records by category.

    Parameters
    ----------
    data
        A path of a CSV file; a frame or series of any library that narwhals understands (pandas, Polars, PyArrow,
        DuckDB ...); a mapping of category to frequency or, with `by`, of name to column; or an iterable of labels.
    by
        The column of labels; not for labels or ready counts.
    count
        The column that says how many occurrences a record stands for; 1 if not given.

    Returns
    -------
    Tally

    Raises
    ------
    VantricError
        If the data cannot be read, lack a column, or hold a count that is missing, negative or not a number.
    """
    return gather(data, Counting(by=by, count=count))


def pareto(
    data: Any, by: str | None = None, *, count: str | None = None, cut: float | str | None = 80
) -> ParetoTable:  # fmt: skip
    """Count, rank, cumulate and cut off.

    Parameters
    ----------
    data, by, count
        As for `tally`; a Tally will do too.
    cut
        The cut-off in percent; None for a table without one. The vital few are the fewest leading categories that
        reach it.

    Returns
    -------
    ParetoTable

    Raises
    ------
    VantricError
        As for `tally`; and if there is nothing to rank or the cut-off is not between 0 and 100.

    Examples
    --------
    >>> import vantric as vt
    >>> vt.pareto(["Pinhole", "Warping", "Pinhole", None]).sentence()
    'Of 3 records, it takes both categories to reach the cut-off of 80 %; 1 record without a label is left out.'
    """
    checked = None if cut is None else counting.cutoff.cut_percent(cut)
    return ParetoTable.of(counting.pareto(gather(data, Counting(by=by, count=count)), cut=checked))


def pareto_chart(data: Any, by: str | None = None, *, count: str | None = None, cut: float | str | None = 80) -> Chart:
    """Return the Pareto chart of a table, or of anything that `pareto` takes.

    Bars show frequencies on the primary axis, a line the cumulative percent on the secondary. The total and 100 percent
    are one height, so that the line starts at the top of the first bar.

    Parameters
    ----------
    data
        A ParetoTable (then nothing else is given), or data as for `pareto`.
    by, count, cut
        As for `pareto`.

    Returns
    -------
    Chart
    """
    if isinstance(data, counting.ParetoTable):
        if by is not None or count is not None:
            raise VantricError("a Pareto table is counted already: leave by and count out")
        table: counting.ParetoTable = data
    else:
        table = pareto(data, by, count=count, cut=cut)
    return Chart.of(charting.pareto_chart(table, description=pareto_sentence(table)))


def review(result: Tally | counting.ParetoTable) -> list[Finding]:
    """Return what is wrong or risky in a tally or a Pareto table, and the mend.

    Returns
    -------
    list of Finding
        Each with `code`, `severity` (error, warning or note), `message`, `mend` and `where`.
    """
    if isinstance(result, counting.ParetoTable):
        return review_pareto(result)
    if isinstance(result, Tally):
        return review_tally(result)
    raise VantricError(f"cannot review {type(result).__name__}: give a tally or a Pareto table")
