"""Tables as the content of a file: by its ending."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING, Any

from vantric.core.counting.tally import Tally
from vantric.core.reviewing import Finding
from vantric.report import paretodata, tallydata
from vantric.report.cells import table_notes
from vantric.report.markdown import markdown_cell, markdown_table
from vantric.report.safecells import csv_text
from vantric.report.sentence import pareto_sentence

if TYPE_CHECKING:
    from vantric.core.counting import Comparison, Crosstab, ParetoTable
    from vantric.core.inference import Certainty

#: The endings of tables.
TABLES = ("csv", "json", "xlsx", "md", "html")
_PERCENTS = frozenset({"percent", "cumulative_percent"})


def pareto_file(
    table: ParetoTable, kind: str, findings: Iterable[Finding], sure: Certainty | None = None
) -> bytes:  # fmt: skip
    """Return a Pareto table as a ``csv``, ``json``, ``xlsx``, ``md`` or ``html`` file.

    How sure its ranking is stands in the JSON, and in columns of ``csv`` and ``xlsx``; in the others below the table.
    """
    if sure is not None and kind in ("csv", "json", "xlsx"):
        return _sure_file(table, kind, findings, sure)
    if kind == "xlsx":
        return _workbook(table)
    if kind == "html":
        from vantric.report.paretohtml import pareto_page

        return pareto_page(table).encode()
    if kind == "json":
        return paretodata.pareto_json(table, findings).encode()
    text = paretodata.pareto_csv(table) if kind == "csv" else paretodata.pareto_markdown(table)
    return text.encode("utf-8", "backslashreplace")


def _sure_file(table: ParetoTable, kind: str, findings: Iterable[Finding], sure: Certainty) -> bytes:
    from vantric.report.certaintydata import certainty_object, with_certainty

    if kind == "json":
        found = paretodata.pareto_object(table, findings)
        return tallydata.as_json({**found, "certainty": certainty_object(sure)}).encode()
    head, rows = with_certainty(*paretodata.pareto_rows(table), sure)
    if kind == "csv":
        return csv_text(head, rows).encode("utf-8", "backslashreplace")
    return _workbook(table, head, rows, sure.sentence())


def _workbook(
    table: ParetoTable, head: list[str] | None = None, rows: list[list[Any]] | None = None, more: str = ""
) -> bytes:
    from vantric.report.workbook import Sheet, workbook

    if head is None or rows is None:
        head, rows = paretodata.pareto_rows(table)
    sheet = Sheet(f"Pareto of {table.origin.by}" if table.origin.by else "Pareto", head, rows, _PERCENTS)
    notes = [pareto_sentence(table), table.tally.base(), *table_notes(table), more]
    return workbook([sheet], [note for note in notes if note])


def tally_file(found: Tally | Crosstab, kind: str, findings: Iterable[Finding], of: Any = None) -> bytes:
    """Return a tally or a two-way table as a ``csv``, ``json``, ``xlsx``, ``md`` or ``html`` file.

    Parameters
    ----------
    found
        What was counted.
    kind
        The ending.
    findings
        For ``json``.
    of
        What percents are of: see `tallydata.base_of`, and ``row``, ``column`` or ``all`` of a two-way table.
    """
    tally = found if isinstance(found, Tally) else found.tally()
    if kind == "json":
        one = tallydata.tally_object(found, findings, of) if isinstance(found, Tally) else None
        two = None if isinstance(found, Tally) else tallydata.crosstab_object(found, of or "all", findings)
        return tallydata.as_json(one or two or {}).encode()
    if kind in {"csv", "xlsx"}:
        head, rows = tallydata.tally_rows(found, of) if isinstance(found, Tally) else tallydata.crosstab_rows(found)
        if kind == "csv":
            return csv_text(head, rows).encode("utf-8", "backslashreplace")
        from vantric.report.workbook import Sheet, workbook

        name = f"Tally of {tally.origin.by}" if tally.origin.by else "Tally"
        return workbook([Sheet(name, head, rows, _PERCENTS)], [tally.base(), tally.origin.note()])
    cells = tallydata.tally_cells(found, of) if isinstance(found, Tally) else tallydata.crosstab_cells(found, of)
    if kind == "md":
        return markdown_table(*cells, left=frozenset({0})).encode("utf-8", "backslashreplace")
    from vantric.cleaning import escaped
    from vantric.report.paretohtml import page, plain_html

    title = f"Tally of {tally.origin.by}" if tally.origin.by else "Tally"
    note = escaped(tally.origin.note())
    parts = [f"<h1>{escaped(title)}</h1>", plain_html(*cells, caption=tally.base()), f'<p class="note">{note}</p>']
    return page(title, parts).encode()


def comparison_file(found: Comparison, kind: str, findings: Iterable[Finding]) -> bytes:
    """Return a comparison as a ``csv``, ``json``, ``xlsx``, ``md`` or ``html`` file."""
    from vantric.report import comparisondata
    from vantric.report.comparisonsentence import comparison_sentence

    if kind == "json":
        return tallydata.as_json(comparisondata.comparison_object(found, findings)).encode()
    if kind == "csv":
        return csv_text(*comparisondata.comparison_rows(found)).encode("utf-8", "backslashreplace")
    subject = f"Comparison of {found.before.origin.by}" if found.before.origin.by else "Comparison"
    said, notes = comparison_sentence(found), comparisondata.comparison_notes(found)
    if kind == "xlsx":
        from vantric.report.workbook import Sheet, workbook

        return workbook(
            [Sheet(subject, *comparisondata.comparison_rows(found), comparisondata.PERCENTS)], [said, *notes]
        )
    cells = comparisondata.comparison_cells(found)
    if kind == "md":
        text = markdown_table(cells.head, [*cells.rows, cells.total], left=cells.left)
        return (text + "".join(f"\n{markdown_cell(note)}\n" for note in notes)).encode("utf-8", "backslashreplace")
    from vantric.cleaning import escaped
    from vantric.report.paretohtml import page, table_html

    told = "".join(f'<p class="note">{escaped(note)}</p>' for note in notes)
    return page(subject, [f"<h1>{escaped(subject)}</h1>", table_html(cells, caption=said), told]).encode()
