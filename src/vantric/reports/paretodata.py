"""A Pareto table as data: the JSON object of the contract, CSV and Markdown."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING, Any

from vantric.core.composing.worded import worded
from vantric.core.counting.folding import REST_LABEL
from vantric.core.counting.missingbound import fewest_to_change
from vantric.core.reviewing import Finding
from vantric.reports.cells import pareto_cells, table_notes
from vantric.reports.local import PLAIN, Local
from vantric.reports.markdown import markdown_cell, markdown_table

if TYPE_CHECKING:
    from vantric.core.counting import Cutoff, ParetoTable

COLUMNS = ("rank", "category", "frequency", "count", "percent", "cumulative_frequency", "cumulative_percent", "abc")


def pareto_object(table: ParetoTable, findings: Iterable[Finding]) -> dict[str, Any]:
    """Return the JSON object of a Pareto table."""
    cutoffs = [_cutoff_object(cut) for cut in table.cutoffs]
    origin = table.origin
    return {
        "format": "vantric/pareto",
        "version": 1,
        "source": origin.source,
        "where": origin.where,
        "by": origin.by,
        "count": origin.count,
        "weight": origin.weight,
        **_more(table),
        "order": list(table.categories) if table.ordering == "listed" else table.ordering,
        "input_rows": origin.input_rows,
        "records": whole(table.tally.records),
        "total": whole(table.total),
        "missing": _missing_object(table),
        "rows": _rows(table),
        "rest": _rest_object(table),
        "cutoffs": cutoffs,
        "cutoff": cutoffs[0] if cutoffs else None,
        **_within(table),
        "findings": [finding.to_dict() for finding in findings],
    }


def _missing_object(table: ParetoTable) -> dict[str, Any]:
    """Return what is missing, and the least frequency of it that could change the vital few."""
    found = {"records": whole(table.missing.records), "frequency": whole(table.missing.frequency)}
    if not table.missing.records:
        return found
    least = fewest_to_change(table)
    return {**found, "could_change": None if least is None or least > table.missing.frequency else whole(least)}


def _more(table: ParetoTable) -> dict[str, Any]:
    """Return what only some tables have: a period, a part, rates, strata."""
    origin, found = table.origin, dict[str, Any]()
    if origin.days:
        found["days"] = list(origin.days)
    if origin.within:
        found["within"] = origin.within
    if origin.missing_as:
        found["missing_as_category"] = whole(origin.missing_as)
    if origin.per:
        found["per"] = origin.per
    if table.strata is not None:
        found |= {"split": table.strata.split, "strata": list(table.strata.columns)}
    return found


def _rows(table: ParetoTable) -> list[dict[str, Any]]:
    rows = [{name: whole(getattr(row, name)) for name in COLUMNS} for row in table.rows]
    if table.strata is not None:
        for row, parts in zip(rows, table.strata_rows(), strict=True):
            row["strata"] = [whole(part) for part in parts]
    if table.tally.exposure is not None and not table.rest:
        for row, value in zip(rows, table.in_rows(table.tally.exposure).values(), strict=True):
            row["exposure"] = whole(value)
    return rows


def _rest_object(table: ParetoTable) -> dict[str, Any] | None:
    rest = table.rest
    if rest is None:
        return None
    return {
        "label": rest.label,
        "holds": len(rest.categories),
        "categories": list(rest.categories),
        "frequency": whole(rest.frequency),
        "count": whole(rest.count),
        "percent": whole(rest.percent),
    }


def _within(table: ParetoTable) -> dict[str, Any]:
    if not table.within:
        return {}
    return {"drill": [{"category": name, "table": pareto_object(inner, ())} for name, inner in table.within]}


def _cutoff_object(cut: Cutoff) -> dict[str, Any]:
    return {
        "percent": whole(cut.percent),
        "rule": cut.rule,
        "count": cut.count,
        "categories": list(cut.categories),
        "cumulative_percent": whole(cut.cumulative_percent),
        "tied": list(cut.tied),
    }


def whole(value: Any) -> Any:
    """Return whole floats as integers, and anything else as it is."""
    return int(value) if isinstance(value, float) and value.is_integer() else value


def six_digits(value: Any) -> Any:
    """Return a float of a statement in six digits, more than it bears; whole ones as integers, others as they are."""
    return whole(float(f"{value:.6g}")) if isinstance(value, float) else value


def pareto_rows(table: ParetoTable) -> tuple[list[str], list[list[Any]]]:
    """Return head and rows as plain values, percents unrounded, the strata and the inner tables of a drill-down too.

    Rows of inner tables follow those of the first, each behind the category that it is part of.
    """
    head, rows = _plain(table)
    if not table.within:
        return head, rows
    found = [["", *row] for row in rows]
    for name, inner in _paths(table, ()):
        found += [[name, *row] for row in _plain(inner)[1]]
    return ["within", *head], found


def _paths(table: ParetoTable, above: tuple[str, ...]) -> Iterable[tuple[str, ParetoTable]]:
    for name, inner in table.within:
        path = (*above, name)
        yield " / ".join(path), inner
        yield from _paths(inner, path)


def _plain(table: ParetoTable) -> tuple[list[str], list[list[Any]]]:
    rows = [[whole(getattr(row, name)) for name in COLUMNS] for row in table.rows]
    if table.strata is None:
        return list(COLUMNS), rows
    parts = ([whole(part) for part in parts] for parts in table.strata_rows())
    return [*COLUMNS, *table.strata.columns], [[*row, *more] for row, more in zip(rows, parts, strict=True)]


def pareto_markdown(table: ParetoTable, local: Local = PLAIN) -> str:
    """Return the table in Markdown, rounded for reading, with its notes under it, and those of a drill-down."""
    table = worded(table, local.tongue.chart.get("rest label", REST_LABEL))
    cells = pareto_cells(table).localized(local)
    text = markdown_table(cells.head, [*cells.rows, cells.total], left=cells.left)
    notes = "".join(f"\n{markdown_cell(note)}\n" for note in (table.tally.base(), *table_notes(table)))
    inner = "".join(f"\n**{markdown_cell(name)}**\n\n{pareto_markdown(one, local)}" for name, one in table.within)
    return f"{text}{notes}{inner}"
