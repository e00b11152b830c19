"""``vantric pareto``."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from vantric.api.analysis import Analysis
from vantric.cli import output
from vantric.cli.analysisoptions import analysis_options
from vantric.cli.chartoptions import chart_options
from vantric.cli.sections import SectionedCommand, in_section
from vantric.cli.sourceoptions import counting_options
from vantric.cli.terminal import hand_over, say, terminal
from vantric.core.reviewing import Finding, review_pareto
from vantric.report.tablefile import TABLES, pareto_file
from vantric.sources import Counting, Opening

if TYPE_CHECKING:
    from vantric.core.counting import ParetoTable
    from vantric.core.inference import Certainty


[_intervals] = in_section(
    "How sure the ranking is",
    click.option("--intervals", is_flag=True, help="Intervals of the shares and ranks, in tables and pictures."),
)
[_panels] = in_section(
    "Parts", click.option("--panels", is_flag=True, help="The parts of a --split side by side, not stacked.")
)


@click.command("pareto", cls=SectionedCommand)
@click.argument("source")
@counting_options
@analysis_options
@_intervals
@_panels
@chart_options
@output.all_outputs
@output.keeps_chart
@output.reviews
def command(
    source: str, counting: Counting, opening: Opening, analysis: Analysis, panels: bool, intervals: bool,
    look: dict[str, Any], targets: tuple[Path, ...], form: str, chart_file: Path | None, reviewing: output.Reviewing,
) -> int:  # fmt: skip
    """Rank, cumulate and cut off the categories of a log.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database. The vital few are the
    fewest leading categories that reach the cutoff.
    """
    kinds = [output.kind_of(target, (*output.PICTURES, *TABLES)) for target in targets]
    output.check_targets(targets, source, chart_file, [counting.families])
    if panels and not analysis.split:
        raise click.UsageError("--panels needs parts: name a second column with --split")
    look = {**look, "intervals": intervals}
    wish = output.wish_of(look, kinds, chart_file)
    with output.reading(source):
        table = analysis.table(source, counting, opening)
    findings, sure = reviewing.kept(review_pareto(table)), _certainty(table) if intervals else None
    kept = output.kept_chart(chart_file, "pareto", lambda: _kept(source, counting, opening, analysis, look, panels))
    output.write_results(
        targets, kinds, lambda kind: pareto_file(table, kind, findings, sure), table, wish, panels=panels, kept=kept
    )
    if form == "text":
        say(_view(table, findings), end="", styled=True)
        say("".join(f"{line}\n" for line in _sure_lines(sure)), end="")
    else:
        hand_over(pareto_file(table, output.TEXTS[form], findings, sure).decode())
        output.tell_warnings(findings)
    return reviewing.status(findings)


def _certainty(table: ParetoTable) -> Certainty:
    from vantric.core.inference import certainty_of

    return certainty_of(table)


def _sure_lines(sure: Certainty | None) -> list[str]:
    from vantric.report.certaintydata import certainty_lines

    return [] if sure is None else ["", *certainty_lines(sure, width=terminal()["width"])]


def _kept(
    source: str, counting: Counting, opening: Opening, analysis: Analysis, look: dict[str, Any], panels: bool
) -> dict[str, Any]:
    from vantric.api import keeping
    from vantric.chartfile.sections import TableLook

    return {
        "data": keeping.kept_data(source, opening),
        "counting": keeping.kept_counting(counting),
        "analysis": keeping.kept_analysis(analysis),
        "chart": keeping.kept_look({**look, "panels": panels}, TableLook),
    }


def _view(table: ParetoTable, findings: list[Finding]) -> str:
    from vantric.report.terminal import pareto_view

    return pareto_view(table, findings, **terminal())
