"""``vantric pareto``."""

from __future__ import annotations

import click

from vantric.cli.command import SOURCE, made
from vantric.cli.flags import Given
from vantric.cli.results import Outputs, Reviewing, run_command
from vantric.cli.words_part import WordsFile, look_of
from vantric.core.charts.settings import ParetoLook
from vantric.reading.settings import Analysis, Counting, Opening


def run_pareto(source: str, given: Given) -> int:
    """Rank, cumulate and cut off the categories of a log.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database. The vital few are the
    fewest leading categories that reach the cutoff.
    """
    counting, opening, analysis, outputs, reviewing = given.split(Counting, Opening, Analysis, Outputs, Reviewing)
    if analysis.drill and counting.by:
        raise click.UsageError("--drill names the columns itself: leave --by out")
    if given.get("panels") and not analysis.split:
        raise click.UsageError("--panels needs parts: name a second column with --split")
    look = look_of(given, ParetoLook, outputs, leave_out=("intervals", "concentration", "panels"))
    parts = {"counting": counting, "analysis": analysis, "chart": look}
    inputs = (counting.families, given.get("words_file"))
    return run_command("pareto", source, opening, parts, outputs, reviewing, inputs=inputs)


pareto_command = made(
    "pareto",
    run_pareto,
    [SOURCE],
    (Counting, Opening, Analysis, ParetoLook, WordsFile, Outputs, Reviewing),
    first="by count weight where split keep cut orientation out format",
    examples=(
        "pareto inspections.csv --by defect --count pieces --out defects.png",
        "pareto inspections.csv --by defect --merge-spellings --keep 9 --cut 60,80 --format json",
    ),
)
