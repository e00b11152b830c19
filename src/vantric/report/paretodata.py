"""A Pareto table as data: the JSON object of the contract, CSV and Markdown."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterable
from typing import TYPE_CHECKING, Any

from vantric.core.numbers.shown import distinct_lines, number_text, number_texts, percent_text
from vantric.core.reviewing import Finding
from vantric.report.markdown import markdown_table

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
        "weight": None,
        "order": "frequency",
        "input_rows": origin.input_rows,
        "records": whole(table.tally.records),
        "total": whole(table.total),
        "missing": {"records": whole(table.missing.records), "frequency": whole(table.missing.frequency)},
        "rows": [{name: whole(getattr(row, name)) for name in COLUMNS} for row in table.rows],
        "rest": None,
        "cutoffs": cutoffs,
        "cutoff": cutoffs[0] if cutoffs else None,
        "findings": [finding.to_dict() for finding in findings],
    }


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


def pareto_json(table: ParetoTable, findings: Iterable[Finding]) -> str:
    """Return the JSON text of a Pareto table."""
    return json.dumps(pareto_object(table, findings), ensure_ascii=False, indent=2, allow_nan=False) + "\n"


def pareto_csv(table: ParetoTable) -> str:
    """Return the rows as CSV (RFC 4180, with plain line ends), percents unrounded."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    writer.writerows([whole(getattr(row, name)) for name in COLUMNS] for row in table.rows)
    return out.getvalue()


def pareto_markdown(table: ParetoTable) -> str:
    """Return the table in Markdown, rounded for reading, with its base and its cut-off under it."""
    head = ("Rank", "Category", "Frequency", "Percent", "Cumulative frequency", "Cumulative percent", "Class")
    total = ("", "Total", number_text(table.total), "100.0 %", "", "", "")
    return markdown_table(head, [*shown_rows(table), total], left=frozenset({1, 6}))


def shown_rows(table: ParetoTable) -> list[tuple[str, ...]]:
    """Return the cells of every row as people read them."""
    marks = [cut.percent for cut in table.cutoffs]
    columns = zip(
        table.rows,
        distinct_lines(table.categories),
        number_texts(table.frequency.values()),
        number_texts(table.cumulative.values()),
        strict=True,
    )
    return [
        (
            str(row.rank),
            name,
            frequency,
            percent_text(row.percent),
            running,
            percent_text(row.cumulative_percent, marks=marks),
            row.abc or "",
        )
        for row, name, frequency, running in columns
    ]
