"""``vantric tally``."""

from __future__ import annotations

from typing import Literal, TypeAlias

import click

from vantric.cli.command import SOURCE, made
from vantric.cli.flags import Given
from vantric.cli.results import Outputs, Reviewing, run_command
from vantric.cli.words_part import WordsFile, look_of
from vantric.core.charts.settings import TallyLook
from vantric.options import Options, option
from vantric.reading.settings import Counting, Crossing, Opening

Of: TypeAlias = Literal["row", "column", "all", "records", "mentions"]
_TWO_WAY = ("row", "column", "all")


class Percents(Options, section="Parts"):
    """What percents are of."""

    percent_of: Of | None = option(
        None,
        "What percents are of: row, column or all of a two-way table; records or "
        "mentions, where cells hold several labels.",
    )


def run_tally(source: str, given: Given) -> int:
    """Count records by category, or by two columns.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database.
    """
    counting, opening, crossing, percents, outputs, reviewing = given.split(
        Counting, Opening, Crossing, Percents, Outputs, Reviewing
    )
    of, transpose = percents.percent_of, bool(given.get("transpose"))
    two_way = crossing.split is not None or bool(crossing.split_columns)
    _check(of, two_way=two_way, transpose=transpose)
    plain = Given({name: value for name, value in given.items() if name != "percent_of"})
    follows = {"values": "percent", "percent_of": of} if of in _TWO_WAY else {}  # the chart shows what is asked for
    look = look_of(plain, TallyLook, outputs, leave_out=("transpose", "order", "keep"), **follows)
    parts = {"counting": counting, "crossing": crossing, "chart": look}
    inputs = (counting.families, given.get("words_file"))
    return run_command("tally", source, opening, parts, outputs, reviewing, inputs=inputs, percent_of=of)


def _check(of: str | None, *, two_way: bool, transpose: bool) -> None:
    if not two_way and (of in _TWO_WAY or transpose):
        raise click.UsageError("this base and --transpose are for two-way tables: name a second column with --split")
    if two_way and of and of not in _TWO_WAY:
        raise click.UsageError(f"percents of a two-way table are of row, column or all, not of {of}")


tally_command = made(
    "tally",
    run_tally,
    [SOURCE],
    (Counting, Opening, Crossing, Percents, TallyLook, WordsFile, Outputs, Reviewing),
    first="by count weight where split percent-of merge-spellings missing out format",
    examples=(
        "tally inspections.csv --by defect --count pieces",
        "tally inspections.csv --by product --split kiln --percent-of row --out products.png",
    ),
)
