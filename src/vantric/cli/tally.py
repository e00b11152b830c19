"""``vantric tally``."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from vantric.cli import output
from vantric.cli.chartoptions import tally_chart_options
from vantric.cli.sections import SectionedCommand
from vantric.cli.sourceoptions import counting_options
from vantric.core.counting.tally import Tally
from vantric.core.reviewing import review_tally
from vantric.report.tablefile import TABLES, tally_file
from vantric.sources import Counting, Opening, cross, gather

if TYPE_CHECKING:
    from vantric.core.charting import Chart
    from vantric.core.counting.crosstab import Crosstab


@click.command("tally", cls=SectionedCommand)
@click.argument("source")
@counting_options
@click.option("--split", metavar="COL", help="A second column: a two-way table.")
@click.option(
    "--percent-of",
    type=click.Choice(["row", "column", "all", "records", "mentions"]),
    help="What percents are of: row, column or all of a two-way table; records or mentions, where cells hold several.",
)
@click.option("--transpose", is_flag=True, help="Exchange the rows and columns of a two-way table.")
@tally_chart_options
@output.all_outputs
def command(
    source: str,
    counting: Counting,
    opening: Opening,
    split: str | None,
    percent_of: Any,
    transpose: bool,
    look: dict[str, Any],
    targets: tuple[Path, ...],
    form: str,
) -> None:
    """Count records by category, or by two columns.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database.
    """
    kinds = [output.kind_of(target, (*output.PICTURES, *TABLES)) for target in targets]
    output.check_targets(targets, source)
    two_way = percent_of in {"row", "column", "all"}
    if split is None and (two_way or transpose):
        raise click.UsageError("this base and --transpose are for two-way tables: name a second column with --split")
    if split is not None and percent_of and not two_way:
        raise click.UsageError(f"percents of a two-way table are of row, column or all, not of {percent_of}")
    with output.reading(source):
        found: Tally | Crosstab = (
            gather(source, counting, opening) if split is None else cross(source, counting, opening, split=split)
        )
    if not isinstance(found, Tally) and transpose:
        found = found.transposed()
    totals = found if isinstance(found, Tally) else found.tally()
    output.check_counted(totals)
    findings = review_tally(totals)
    chart = _chart(found, look, percent_of) if any(kind in output.PICTURES for kind in kinds) else None
    contents = [
        output.drawn(chart, kind) if kind in output.PICTURES else tally_file(found, kind, findings, percent_of)
        for kind in kinds
    ]
    output.write_all(zip(targets, contents, strict=True))
    if chart is not None:
        output.tell_left_out(chart)
    if form == "text":
        click.echo(output.lines(_view(found, percent_of), findings), nl=False)
    else:
        click.echo(tally_file(found, output.TEXTS[form], findings, percent_of).decode(), nl=False)
        output.tell_warnings(findings)


def _chart(found: Tally | Crosstab, look: dict[str, Any], percent_of: str | None) -> Chart:
    """Return the chart of what was counted; percents that are asked for are what it shows."""
    from vantric.api.chartoptions import read_tally_wish
    from vantric.api.charts import tallied_chart

    base = {"percent_of": percent_of} if percent_of in {"row", "column", "all"} else {}
    context = click.get_current_context()
    said = context.get_parameter_source("values") is click.core.ParameterSource.COMMANDLINE
    shown = {"values": "percent"} if base and not said else {}
    return tallied_chart(found, read_tally_wish({**look, **base, **shown}))


def _view(found: Tally | Crosstab, percent_of: Any) -> Any:
    from vantric.report.tallyview import crosstab_view, tally_view

    width = output.terminal()["width"]
    if not isinstance(found, Tally):
        return crosstab_view(found, percent_of, width=width)
    return tally_view(found, percent_of, width=width)
