"""``vantric compare``."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import click

from vantric.cli.command import made
from vantric.cli.flags import FileArgument, Given
from vantric.cli.results import Outputs, Reviewing, run_command
from vantric.cli.words_part import WordsFile, look_of
from vantric.core.charts.settings import TableLook
from vantric.counting.exposures import as_number
from vantric.reading.settings import Counting, Opening, Sides


def run_compare(sources: tuple[str, ...], given: Given) -> int:
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
    parts = {"counting": counting, "sides": sides, "chart": look}
    inputs = (counting.families, given.get("words_file"))
    return run_command("compare", source, opening, parts, outputs, reviewing, inputs=inputs)


compare_command = made(
    "compare",
    run_compare,
    [FileArgument(["sources"], nargs=-1, required=True, metavar="SOURCE [SOURCE]")],
    (Counting, Opening, Sides, TableLook, WordsFile, Outputs, Reviewing),
    first="by count split before after per where labels out format",
    examples=(
        "compare inspections.csv --by defect --split shift --before Early --after Night",
        "compare inspections.csv inspections.csv --by kiln --per pieces --out kilns.png",
    ),
)
