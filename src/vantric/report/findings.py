"""Findings as a line and as HTML."""

from __future__ import annotations

from collections.abc import Sequence

from vantric.core.numbers.shown import counted
from vantric.core.reviewing import Finding
from vantric.report.cells import Cells


def headline(findings: Sequence[Finding]) -> str:
    """Return how many findings of each severity there are."""
    if not findings:
        return "Nothing was found."
    numbers = [(kind, sum(one.severity == kind for one in findings)) for kind in ("error", "warning", "note")]
    return ", ".join(counted(number, kind) for kind, number in numbers if number) + "."


def findings_html(findings: Sequence[Finding]) -> str:
    """Return the findings as an HTML table."""
    from vantric.report.paretohtml import table_html

    rows = tuple((one.severity, one.code, one.message, one.fix, one.where) for one in findings)
    cells = Cells(("Severity", "Code", "Message", "Fix", "Where"), rows, (), frozenset(range(5)))
    return table_html(cells, caption=headline(findings))
