"""``vantric compare``."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import click

from vantric.api.comparing import Sides
from vantric.cli import output
from vantric.cli.chartoptions import chart_options
from vantric.cli.sections import SectionedCommand, in_section
from vantric.cli.sourceoptions import Command, counting_options, decorated
from vantric.cli.terminal import hand_over, say, terminal
from vantric.core.counting import Comparison
from vantric.core.reviewing import Finding, review_comparison
from vantric.report.tablefile import TABLES, comparison_file
from vantric.sources import Counting, Opening
from vantric.sources.tallying.exposures import as_number

_SIDES = in_section(
    "Before and after",
    click.option("--split", metavar="COL", help="Of one source: the column that tells before from after."),
    click.option("--before", metavar="LABEL", help="What --split holds before; or what the first source is called."),
    click.option("--after", metavar="LABEL", help="What --split holds after; or what the second source is called."),
    click.option("--per", metavar="COL|N,N", help="What each side was counted in: a column, or two numbers."),
    click.option("--per-units", type=float, default=1, show_default=True, metavar="N", help="Rates are per so many."),
    click.option("--per-name", metavar="NAME", help="What rates are per, if not the column's name."),
)


def _sides(command: Command) -> Command:
    """Add the options that say what is before and what after; they arrive as `sides`."""

    def gather(values: dict[str, Any]) -> dict[str, Any]:
        names = ("split", "before", "after", "per", "per_units", "per_name")
        return {**{name: value for name, value in values.items() if name not in names},
                "sides": Sides(**{name: values[name] for name in names})}  # fmt: skip

    return decorated(command, _SIDES, gather)


@click.command("compare", cls=SectionedCommand)
@click.argument("sources", nargs=-1, required=True, metavar="SOURCE [SOURCE]")
@counting_options
@_sides
@chart_options
@output.all_outputs
@output.keeps_chart
@output.reviews
def command(
    sources: tuple[str, ...], counting: Counting, opening: Opening, sides: Sides, look: dict[str, Any],
    targets: tuple[Path, ...], form: str, chart_file: Path | None, reviewing: output.Reviewing,
) -> int:  # fmt: skip
    """Set before and after side by side: two parts of one source, or two sources.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database.
    """
    kinds = [output.kind_of(target, (*output.PICTURES, *TABLES)) for target in targets]
    output.check_targets(targets, sources[0], chart_file, [*sources[1:], counting.families])
    wish = output.wish_of(look, kinds, chart_file)
    with output.reading(sources[0]):
        found = sides.compare(sources, counting, opening)
    findings = reviewing.kept(review_comparison(found))
    kept = output.kept_chart(chart_file, "compare", lambda: _kept(sources, counting, opening, sides, look))
    output.write_results(targets, kinds, lambda kind: comparison_file(found, kind, findings), found, wish, kept=kept)
    if form == "text":
        say(_view(found, findings), end="")
    else:
        hand_over(comparison_file(found, output.TEXTS[form], findings).decode())
        output.tell_warnings(findings)
    return reviewing.status(findings)


def _kept(
    sources: tuple[str, ...], counting: Counting, opening: Opening, sides: Sides, look: dict[str, Any]
) -> dict[str, Any]:
    from vantric.api import keeping
    from vantric.chartfile.sections import TableLook

    said = keeping.beyond_defaults(sides)
    if isinstance(said.get("per"), str) and "," in said["per"]:
        said["per"] = [as_number(part) for part in said["per"].split(",")]
    return {
        "data": keeping.kept_data(sources[0] if len(sources) == 1 else sources, opening),
        "counting": keeping.kept_counting(counting),
        "sides": said,
        "chart": keeping.kept_look(look, TableLook),
    }


def _view(found: Comparison, findings: list[Finding]) -> str:
    from vantric.report.comparisonview import comparison_view

    return output.lines(comparison_view(found, width=terminal()["width"]), findings)
