"""``vantric tally``."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from vantric.cli import output
from vantric.cli.chartoptions import tally_chart_options
from vantric.cli.sections import SectionedCommand
from vantric.cli.sourceoptions import counting_options
from vantric.cli.terminal import hand_over, say, terminal
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
@output.keeps_chart
@output.reviews
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
    chart_file: Path | None,
    reviewing: output.Reviewing,
) -> int:
    """Count records by category, or by two columns.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database.
    """
    kinds = [output.kind_of(target, (*output.PICTURES, *TABLES)) for target in targets]
    output.check_targets(targets, source, chart_file, [counting.families])
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
    findings = reviewing.kept(review_tally(totals))
    wanted = chart_file is not None or any(kind in output.PICTURES for kind in kinds)
    shown = _shown(look, percent_of)
    chart = _chart(found, shown) if wanted else None
    kept = output.kept_chart(
        chart_file, "tally", lambda: _kept(source, counting, opening, split, {**shown, "transpose": transpose})
    )
    contents = [
        output.drawn(chart, kind) if kind in output.PICTURES else tally_file(found, kind, findings, percent_of)
        for kind in kinds
    ]
    output.write_all([*zip(targets, contents, strict=True), *kept])
    if chart is not None and any(kind in output.PICTURES for kind in kinds):
        output.tell_left_out(chart)
    if form == "text":
        say(output.lines(_view(found, percent_of), findings), end="")
    else:
        hand_over(tally_file(found, output.TEXTS[form], findings, percent_of).decode())
        output.tell_warnings(findings)
    return reviewing.status(findings)


def _shown(look: dict[str, Any], percent_of: str | None) -> dict[str, Any]:
    """Return the options of the chart; percents of a base that is asked for are what it shows."""
    base = {"percent_of": percent_of} if percent_of in {"row", "column", "all"} else {}
    context = click.get_current_context()
    said = context.get_parameter_source("values") is click.core.ParameterSource.COMMANDLINE
    return {**look, **base, **({"values": "percent"} if base and not said else {})}


def _chart(found: Tally | Crosstab, look: dict[str, Any]) -> Chart:
    from vantric.api.chartoptions import read_tally_wish
    from vantric.api.charts import tallied_chart

    return tallied_chart(found, read_tally_wish(look))


def _kept(source: str, counting: Counting, opening: Opening, split: str | None, look: dict[str, Any]) -> dict[str, Any]:
    from vantric.api import keeping
    from vantric.chartfile.sections import TallyLook

    return {
        "data": keeping.kept_data(source, opening),
        "counting": keeping.kept_counting(counting),
        **({"crossing": {"split": split}} if split else {}),
        "chart": keeping.kept_look(look, TallyLook),
    }


def _view(found: Tally | Crosstab, percent_of: Any) -> Any:
    from vantric.report.tallyview import crosstab_view, tally_view

    width = terminal()["width"]
    if not isinstance(found, Tally):
        return crosstab_view(found, percent_of, width=width)
    return tally_view(found, percent_of, width=width)
