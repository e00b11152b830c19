"""``vantric trend``."""

from __future__ import annotations

import click

from vantric.cli.command import SOURCE, made
from vantric.cli.flags import Given
from vantric.cli.results import Outputs, Reviewing, run_command
from vantric.cli.words_part import WordsFile, look_of
from vantric.core.charts.settings import TrendLook
from vantric.reading.settings import Counting, Opening, Trending


def run_trend(source: str, given: Given) -> int:
    """Say which categories rise or fall over calendar periods, and draw them with limits of chance.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database. The column of dates is
    named with --date.
    """
    counting, opening, wanted, outputs, reviewing = given.split(Counting, Opening, Trending, Outputs, Reviewing)
    if counting.date is None:
        raise click.UsageError("a trend is over a column of dates: name it with --date")
    look = look_of(given, TrendLook, outputs)
    parts = {"counting": counting, "trend": wanted, "chart": look}
    inputs = (counting.families, given.get("words_file"))
    return run_command("trend", source, opening, parts, outputs, reviewing, inputs=inputs)


trend_command = made(
    "trend",
    run_trend,
    [SOURCE],
    (Counting, Opening, Trending, TrendLook, WordsFile, Outputs, Reviewing),
    first="by date period category per per-units mark where out format",
    examples=(
        "trend inspections.csv --by defect --date date --merge-spellings --out trend.png",
        "trend inspections.csv --by defect --date date --category Pinhole --per pieces --per-units 100",
    ),
)
