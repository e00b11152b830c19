"""``vantric pareto``."""

from __future__ import annotations

from pathlib import Path

import click

from vantric.api.analysis import Analysis
from vantric.cli import output
from vantric.cli.analysisoptions import analysis_options
from vantric.cli.sourceoptions import counting_options
from vantric.core import counting as core
from vantric.core.reviewing import Finding, review_pareto
from vantric.report.tablefile import TABLES, pareto_file
from vantric.sources import Counting, Opening


@click.command("pareto")
@click.argument("source")
@counting_options
@analysis_options
@output.all_outputs
def command(
    source: str, counting: Counting, opening: Opening, analysis: Analysis, targets: tuple[Path, ...], form: str
) -> None:  # fmt: skip
    """Rank, cumulate and cut off the categories of a log.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database. The vital few are the
    fewest leading categories that reach the cut-off.
    """
    kinds = [output.kind_of(target, (*output.PICTURES, *TABLES)) for target in targets]
    output.check_targets(targets, source)
    with output.reading(source):
        table = analysis.table(source, counting, opening)
    findings = review_pareto(table)
    output.write_all([(target, _content(table, findings, kind)) for target, kind in zip(targets, kinds, strict=True)])
    if form == "text":
        click.echo(_view(table, findings), nl=False, color=True)  # decided by the view already
    else:
        click.echo(pareto_file(table, output.TEXTS[form], findings).decode(), nl=False)
        output.tell_warnings(findings)


def _content(table: core.ParetoTable, findings: list[Finding], kind: str) -> bytes:
    if kind in TABLES:
        return pareto_file(table, kind, findings)
    from vantric.core.charting import pareto_chart
    from vantric.drawing.save import picture
    from vantric.report.sentence import pareto_sentence

    chart = pareto_chart(table, description=pareto_sentence(table))
    return output.with_warnings_told(lambda: picture(chart, kind))


def _view(table: core.ParetoTable, findings: list[Finding]) -> str:
    from vantric.report.terminal import pareto_view

    return pareto_view(table, findings, **output.terminal())
