"""``vantric compare``."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import click

from vantric.cli import output
from vantric.cli.chartoptions import chart_options
from vantric.cli.sections import SectionedCommand, in_section
from vantric.cli.sourceoptions import Command, counting_options
from vantric.core.counting import Comparison, compare
from vantric.core.reviewing import Finding, review_comparison
from vantric.report.tablefile import TABLES, comparison_file
from vantric.sources import Counting, Opening, cross, gather
from vantric.sources.exposures import as_number, exposures_of, exposures_within

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
    """Add the options that say what is before and what after."""
    for option in reversed(_SIDES):
        command = option(command)
    return command


@click.command("compare", cls=SectionedCommand)
@click.argument("sources", nargs=-1, required=True, metavar="SOURCE [SOURCE]")
@counting_options
@_sides
@chart_options
@output.all_outputs
def command(
    sources: tuple[str, ...], counting: Counting, opening: Opening, split: str | None, before: str | None,
    after: str | None, per: str | None, per_units: float, per_name: str | None, look: dict[str, Any],
    targets: tuple[Path, ...], form: str,
) -> None:  # fmt: skip
    """Set before and after side by side: two parts of one source, or two sources.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database.
    """
    kinds = [output.kind_of(target, (*output.PICTURES, *TABLES)) for target in targets]
    for source in sources:
        output.check_targets(targets, source)
    wish = output.wish_of(look, kinds)
    sides = {"units": as_number(per_units) or per_units, "per": per, "name": per_name}
    with output.reading(sources[0]):
        if len(sources) == 1:
            found = _parts(sources[0], counting, opening, split, before, after, sides)
        else:
            found = _two(sources, counting, opening, split, (before or "Before", after or "After"), sides)
    findings = review_comparison(found)
    output.write_results(targets, kinds, lambda kind: comparison_file(found, kind, findings), found, wish)
    if form == "text":
        click.echo(_view(found, findings), nl=False)
    else:
        click.echo(comparison_file(found, output.TEXTS[form], findings).decode(), nl=False)
        output.tell_warnings(findings)


def _parts(
    source: str, counting: Counting, opening: Opening, split: str | None, before: str | None, after: str | None,
    sides: dict[str, Any],
) -> Comparison:  # fmt: skip
    """Compare two parts of one source."""
    if split is None or before is None or after is None:
        raise click.UsageError("one source is parted by a column: give --split, --before and --after, or two sources")
    table = cross(source, counting, opening, split=split)
    tallies = table.column(before), table.column(after)
    per = sides["per"]
    exposures, of = exposures_within(source, opening, per, split, (before, after))
    return compare(*tallies, names=(before, after), exposures=exposures, units=sides["units"], of=sides["name"] or of)


def _two(
    sources: tuple[str, ...], counting: Counting, opening: Opening, split: str | None, names: tuple[str, str],
    sides: dict[str, Any],
) -> Comparison:  # fmt: skip
    """Compare two sources."""
    if len(sources) > 2:
        raise click.UsageError(f"before and after are two sources at most; {len(sources)} are given")
    if split is not None:
        raise click.UsageError("two sources are before and after already: leave --split out")
    before, after = (gather(source, counting, opening) for source in sources)
    exposures, of = exposures_of(sources, opening, sides["per"])
    return compare(before, after, names=names, exposures=exposures, units=sides["units"], of=sides["name"] or of)


def _view(found: Comparison, findings: list[Finding]) -> str:
    from vantric.report.comparisonview import comparison_view

    return output.lines(comparison_view(found, width=output.terminal()["width"]), findings)
