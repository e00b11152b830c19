"""Findings as lines, as Markdown and as HTML, each with a table of the cells that are wrong."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

from vantric.core.messages.message import Joined, Message
from vantric.core.review import Finding, WrongCell
from vantric.output.markup import markdown_table
from vantric.output.prose import plain_markdown, plain_paragraph
from vantric.tables.table import Table, grid_lines, text_table, wrapped

WRONG_HEAD = ("Cell", "Category", "Column", "Says", "Should be")
#: Columns of text are set to the left.
_LEFT = frozenset({0, 1, 2})
_MOST_CELLS = 20  # of one finding in the terminal


def headline(findings: Sequence[Finding]) -> Message:
    """Return how many findings of each severity there are."""
    if not findings:
        return Message("nothing found")
    numbers = [(kind, sum(finding.severity == kind for finding in findings)) for kind in ("error", "warning", "note")]
    counts = [Message(f"{kind} count", count=number) for kind, number in numbers if number]
    return Message("sentence", text=Joined(counts, ", "))


def findings_lines(findings: Iterable[Finding], width: int) -> Iterator[str]:
    """Yield each finding with its code, the fix and the wrong cells below it, in lines of a width."""
    for finding in findings:
        yield ""
        yield from wrapped([f"{finding.severity} ({finding.code}): {finding.message}"], width)
        if finding.fix:
            yield from wrapped([f"  Fix: {finding.fix}"], width)
        if len(finding.cells) > 1:
            rows = list(map(wrong_cell, finding.cells[:_MOST_CELLS]))
            yield from (f"    {line}" for line in grid_lines(WRONG_HEAD, rows, width=width - 4, left=_LEFT))
            if len(finding.cells) > _MOST_CELLS:
                yield f"    and {len(finding.cells) - _MOST_CELLS} more (--format json and markdown list all)"


def findings_markdown(findings: Sequence[Finding], relations: Sequence[str] = ()) -> str:
    """Return findings as Markdown: one table of all, and one of the wrong cells of each that has any."""
    parts = [f"{plain_paragraph(headline(findings))}\n"]
    if findings:
        rows = [(item.severity, item.code, item.message, item.fix, item.where) for item in findings]
        parts.append(markdown_table(("Severity", "Code", "Message", "Fix", "Where"), rows, left=frozenset(range(5))))
    for finding in findings:
        if finding.cells:
            table = markdown_table(WRONG_HEAD, list(map(wrong_cell, finding.cells)), left=_LEFT)
            parts.append(f"{plain_markdown(finding.code)}, {plain_markdown(finding.where)}:\n\n{table}")
    parts += [f"{plain_paragraph(words)}\n" for words in relations]
    return "\n".join(parts)


def findings_tables(findings: Sequence[Finding]) -> list[Table]:
    """Return one table of all findings, and one of the wrong cells of each that has several."""
    rows = [(item.severity, item.code, item.message, item.fix, item.where) for item in findings]
    head = ("Severity", "Code", "Message", "Fix", "Where")
    tables = [text_table(head, rows, left=range(5), caption=headline(findings))]
    for finding in findings:
        if len(finding.cells) > 1:
            cells = list(map(wrong_cell, finding.cells))
            tables.append(text_table(WRONG_HEAD, cells, left=_LEFT, caption=f"{finding.code}, {finding.where}"))
    return tables


def findings_html(findings: Sequence[Finding]) -> str:
    """Return the findings as HTML tables."""
    from vantric.output.markup import table_html

    return "\n".join(map(table_html, findings_tables(findings)))


def wrong_cell(cell: WrongCell) -> tuple[str, ...]:
    """Return a wrong cell as a row of a table."""
    return cell.place, cell.label, cell.column, cell.says, cell.should
