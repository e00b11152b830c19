"""``vantric compare``."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import click

from vantric.cli.flags import FileArgument, Given
from vantric.cli.making import made
from vantric.cli.results import Job, Outputs, Reviewing, carry_out, lines, recipe_of
from vantric.cli.terminal import terminal
from vantric.cli.words import WordsFile, local_of, look_of
from vantric.core.charting.options import TableLook
from vantric.core.reviewing import review_comparison
from vantric.reports.local import Local
from vantric.reports.tablefile import comparison_document
from vantric.sources.options import Counting, Opening, Sides
from vantric.sources.tallying.comparing import set_beside
from vantric.sources.tallying.exposures import as_number


def run(sources: tuple[str, ...], given: Given) -> int:
    """Set before and after side by side: two parts of one source, or two sources.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database.
    """
    counting, opening, sides, outputs, reviewing = given.split(Counting, Opening, Sides, Outputs, Reviewing)
    if isinstance(sides.per, str) and "," in sides.per:
        numbers = tuple(as_number(part) for part in sides.per.split(","))
        sides = sides if None in numbers else replace(sides, per=numbers)
    if sides.split and (sides.before is None or sides.after is None):
        raise click.UsageError("--split needs --before and --after: what the column holds on each side")
    look = look_of(given, TableLook, outputs)
    source: Any = sources[0] if len(sources) == 1 else sources
    return carry_out(
        Job(
            source=sources[0], inputs=(*sources[1:], counting.families, given.get("words_file")),
            read=lambda: set_beside(sources, sides, counting, opening),
            review=lambda found, chart: review_comparison(found),
            document=lambda found, chart, findings: comparison_document(found, findings),
            view=lambda found, chart, findings: lines(_view(found, local_of(look)), findings),
            chart=lambda found: _chart(found, look),
            section=lambda found, chart, findings: _section(found, look, findings, chart),
            recipe=lambda found: recipe_of("compare", source, opening, counting=counting, sides=sides, chart=look),
            local=local_of(look),
        ),
        outputs, reviewing,
    )  # fmt: skip


def _chart(found: Any, look: TableLook) -> Any:
    from vantric.api.chartsof import chart_of_comparison

    return chart_of_comparison(found, look)


def _section(found: Any, look: TableLook, findings: Any, chart: Any) -> Any:
    from vantric.api.handing.sections import comparison_section

    return comparison_section(found, look, findings, chart=chart)


def _view(found: Any, local: Local) -> list[str]:
    from vantric.reports.comparisonview import comparison_view

    return comparison_view(found, width=terminal()["width"], local=local)


command = made(
    "compare", run, [FileArgument(["sources"], nargs=-1, required=True, metavar="SOURCE [SOURCE]")],
    (Counting, Opening, Sides, TableLook, WordsFile, Outputs, Reviewing),
    first="by count split before after per where labels out format",
    examples=(
        "compare inspections.csv --by defect --split shift --before Early --after Night",
        "compare inspections.csv inspections.csv --by kiln --per pieces --out kilns.png",
    ),
)  # fmt: skip
