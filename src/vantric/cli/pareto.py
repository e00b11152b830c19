"""``vantric pareto``."""

from __future__ import annotations

from pathlib import Path

import click

from vantric.cli import output
from vantric.cli.sourceoptions import counting_options
from vantric.core import counting as core
from vantric.core.counting.cutoff import cut_percent
from vantric.core.reviewing import Finding, review_pareto
from vantric.report import paretodata
from vantric.sources import Counting, Opening, gather


@click.command("pareto")
@click.argument("source")
@counting_options
@click.option("--cut", default="80", show_default=True, metavar="PCT", help="The cut-off in percent.")
@output.all_outputs
def command(
    source: str, counting: Counting, opening: Opening, cut: str, targets: tuple[Path, ...], form: str
) -> None:  # fmt: skip
    """Rank, cumulate and cut off the categories of a log.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database. The vital few are the
    fewest leading categories that reach the cut-off.
    """
    kinds = [output.kind_of(target, (*output.PICTURES, *output.TABLES)) for target in targets]
    output.check_targets(targets, source)
    percent = cut_percent(cut)
    with output.reading(source):
        tally = gather(source, counting, opening)
    table = core.pareto(tally, cut=percent)
    findings = review_pareto(table)
    output.write_all([(target, _content(table, findings, kind)) for target, kind in zip(targets, kinds, strict=True)])
    if form == "text":
        click.echo(_view(table, findings), nl=False, color=True)  # decided by the view already
    else:
        click.echo(_text(table, findings, form), nl=False)
        output.tell_warnings(findings)


def _content(table: core.ParetoTable, findings: list[Finding], kind: str) -> bytes:
    if kind in output.TABLES:
        return _text(table, findings, output.TABLES[kind]).encode()
    from vantric.core.charting import pareto_chart
    from vantric.drawing.save import picture
    from vantric.report.sentence import pareto_sentence

    chart = pareto_chart(table, description=pareto_sentence(table))
    return output.with_warnings_told(lambda: picture(chart, kind))


def _text(table: core.ParetoTable, findings: list[Finding], form: str) -> str:
    if form == "json":
        return paretodata.pareto_json(table, findings)
    return paretodata.pareto_csv(table) if form == "csv" else paretodata.pareto_markdown(table)


def _view(table: core.ParetoTable, findings: list[Finding]) -> str:
    from vantric.report.terminal import pareto_view

    return pareto_view(table, findings, **output.terminal())
