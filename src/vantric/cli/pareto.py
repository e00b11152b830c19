"""``vantric pareto``."""

from __future__ import annotations

from pathlib import Path

import click

from vantric.cli import output
from vantric.core import counting
from vantric.core.counting.cutoff import cut_percent
from vantric.core.reviewing import Finding, review_pareto
from vantric.errors import TargetError, nearest
from vantric.report import paretodata
from vantric.sources import Counting, gather

_FORMATS = ("text", "json", "csv", "markdown")
_PICTURES = ("png", "svg", "pdf")
_TABLES = {"csv": "csv", "json": "json", "md": "markdown"}


@click.command("pareto")
@click.argument("source")
@click.option("--by", required=True, metavar="COL", help="The column whose labels are counted.")
@click.option("--count", metavar="COL", help="The column that says how many occurrences a record stands for.")
@click.option("--cut", default="80", show_default=True, metavar="PCT", help="The cut-off in percent.")
@click.option(
    "--out",
    "targets",
    multiple=True,
    type=click.Path(path_type=Path),
    metavar="FILE",
    help="Write a file by its ending: .png .svg .pdf a picture, .csv .json .md the table. Repeatable.",
)
@click.option(
    "--format",
    "form",
    type=click.Choice(_FORMATS),
    default="text",
    show_default=True,
    help="What standard output gets.",
)
def command(source: str, by: str, count: str | None, cut: str, targets: tuple[Path, ...], form: str) -> None:
    """Rank, cumulate and cut off the categories of a log.

    SOURCE is a CSV file with a header line. The vital few are the fewest leading categories that reach the cut-off.
    """
    kinds = [_kind(target) for target in targets]
    output.check_targets(targets, source)
    percent = cut_percent(cut)
    table = counting.pareto(gather(source, Counting(by=by, count=count)), cut=percent)
    findings = review_pareto(table)
    output.write_all([(target, _content(table, findings, kind)) for target, kind in zip(targets, kinds, strict=True)])
    if form == "text":
        click.echo(_view(table, findings), nl=False, color=True)  # decided by the view already
    else:
        click.echo(_text(table, findings, form), nl=False)
        output.tell_warnings(findings)


def _kind(target: Path) -> str:
    """Return a target's ending, or say which there are."""
    kind = target.suffix[1:].casefold()
    if kind in _PICTURES or kind in _TABLES:
        return kind
    endings = ", ".join(f".{known}" for known in (*_PICTURES, *_TABLES))
    hint = nearest(kind, (*_PICTURES, *_TABLES)) if kind else ""
    raise TargetError(f"cannot write '{target}': its ending is none of {endings}{hint}")


def _content(table: counting.ParetoTable, findings: list[Finding], kind: str) -> bytes:
    if kind in _TABLES:
        return _text(table, findings, _TABLES[kind]).encode()
    from vantric.core.charting import pareto_chart
    from vantric.drawing.save import picture
    from vantric.report.sentence import pareto_sentence

    chart = pareto_chart(table, description=pareto_sentence(table))
    return output.with_warnings_told(lambda: picture(chart, kind))


def _text(table: counting.ParetoTable, findings: list[Finding], form: str) -> str:
    if form == "json":
        return paretodata.pareto_json(table, findings)
    return paretodata.pareto_csv(table) if form == "csv" else paretodata.pareto_markdown(table)


def _view(table: counting.ParetoTable, findings: list[Finding]) -> str:
    from vantric.report.terminal import pareto_view

    return pareto_view(table, findings, **output.terminal())
