"""``vantric.review``, and what a review says of a source, a sheet or a chart file."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from vantric.api.findings import Findings
from vantric.api.reach import Reach
from vantric.api.relations import relations_of_all
from vantric.core import axes, charting, counting, inference
from vantric.core.charting import Chart
from vantric.core.counting.gap import gap_of, is_planned
from vantric.core.reviewing import (
    Finding,
    check_sheet,
    review_chart,
    review_comparison,
    review_pareto,
    review_scales,
    review_strata,
    review_tally,
    review_trends,
)
from vantric.errors import RankError, VantricError
from vantric.sources import gather
from vantric.sources.options import Counting, Opening
from vantric.sources.tallying.sheetrows import sheet_rows

_MOST_PAIRS = 6


def review(result: Any, *, ignore: Sequence[str] = ()) -> Findings:
    """Return what is wrong or risky in a result, and how to fix it.

    Parameters
    ----------
    result
        A tally, a two-way table, a Pareto table, a comparison, trends, a chart or two scales; it is never changed.
    ignore
        Codes of findings that are not wanted.

    Returns
    -------
    list of Finding
        Each with `code`, `severity` (error, warning or note), `message`, `fix` and `where`.
    """
    return Findings(finding for finding in _review(result) if finding.code not in ignore)


def _review(result: object) -> list[Finding]:
    if isinstance(result, counting.ParetoTable):
        return review_pareto(result)
    if isinstance(result, counting.Comparison):
        return review_comparison(result)
    if isinstance(result, axes.ScalePair):
        return review_scales(result)
    if isinstance(result, counting.Tally):
        return review_tally(result)
    if isinstance(result, counting.Crosstab):
        return [*review_tally(result.tally()), *review_strata(result)]
    if isinstance(result, inference.Trends):
        return review_trends(result)
    if isinstance(result, charting.Chart):
        return review_chart(result)
    if isinstance(result, charting.PanelChart):
        return list(dict.fromkeys(finding for panel in result.panels for finding in review_chart(panel)))
    raise VantricError(
        f"cannot review {type(result).__name__}: give a tally, a two-way table, a Pareto table, a comparison, a chart "
        "or two scales"
    )


@dataclass(frozen=True)
class Reviewed:
    """What a review found, and how two series of a chart go together, in words."""

    findings: tuple[Finding, ...]
    relations: tuple[str, ...] = ()


def review_source(data: Any, counted: Counting, opening: Opening) -> Reviewed:
    """Review what a source holds: its tally, and the Pareto table of it."""
    from vantric.core.counting.paretomaking import pareto

    tally = gather(data, counted, opening)
    try:
        return Reviewed(tuple(review_pareto(pareto(tally))))
    except RankError:
        return Reviewed(tuple(review_tally(tally)))


def review_sheet(
    data: Any, by: str, count: str, percent: str | None, cumulative: str | None, opening: Opening
) -> Reviewed:
    """Review the arithmetic of a sheet made elsewhere, cell by cell."""
    return Reviewed(tuple(check_sheet(sheet_rows(data, by, count, percent, cumulative, opening))))


def review_file(path: Path, reach: Reach) -> Reviewed:
    """Review a chart file: the table under the chart, the chart, and how its series go together."""
    from vantric.api.chartfiles import chart_of_file, table_of_file, trends_of_file
    from vantric.chartfile.reading import read_chart_file

    found = read_chart_file(path)
    chart, recipe = chart_of_file(found, reach)
    table = table_of_file(found, reach)
    findings: list[Finding] = list(recipe.notes)
    if table is not None:
        findings += review_comparison(table) if hasattr(table, "before") else review_pareto(table)
    if found.kind == "trend":
        findings += review_trends(trends_of_file(found, reach))
    if isinstance(chart, Chart):
        findings += review_chart(chart)
    relations = series_words(chart) if isinstance(chart, Chart) and table is None else ()
    return Reviewed(tuple(dict.fromkeys(findings)), tuple(relations))


def series_words(chart: Chart) -> list[str]:
    """Return the gap of what was planned and what was achieved, and the relation of every pair."""
    said: list[str] = []
    plain = [one for one in chart.series if "cumulative" not in one.name.casefold()]  # a sum goes with its bars
    pairs = [(one, other) for at, one in enumerate(plain) for other in plain[at + 1 :]]
    if len(pairs) > _MOST_PAIRS:
        return []
    for one, other in pairs:
        if one.unit == other.unit and is_planned(one.name) != is_planned(other.name):
            planned, achieved = (one, other) if is_planned(one.name) else (other, one)
            names = planned.name, achieved.name
            with suppress(VantricError):
                said.append(gap_of(chart.categories, planned.values, achieved.values, names).sentence())
    return [*said, *relations_of_all(chart, pairs)]


def errors_first(findings: Sequence[Finding]) -> list[Finding]:
    """Return findings by severity."""
    return sorted(findings, key=lambda finding: ("error", "warning", "note").index(finding.severity))
