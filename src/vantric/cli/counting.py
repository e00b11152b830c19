"""The commands that count and hand over one result: tally, pareto, compare, trend, scales and columns."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import Any, Literal, TypeAlias

import click

from vantric.base.safe_text import json_text, masked
from vantric.cli.command import SOURCE, make_command
from vantric.cli.flags import FileArgument, OptionValues, look_in_flags
from vantric.cli.results import OutputSettings, ReviewSettings, WordsFile, lines, look_of, reading, run_command
from vantric.cli.terminal import hand_over, say, terminal
from vantric.core.axes import Scaling
from vantric.core.charts.settings import (
    ComparisonChartSettings,
    ParetoChartSettings,
    TallyChartSettings,
    TrendChartSettings,
)
from vantric.core.numbers.parsing import read_range
from vantric.counting import first_look
from vantric.options import Options, option
from vantric.reading.settings import (
    ComparisonSettings,
    CountSettings,
    CrosstabSettings,
    ParetoSettings,
    ReadSettings,
    TrendSettings,
)

#: Options of a Pareto chart that the table in the terminal follows too.
_IN_TEXT = ("intervals", "concentration", "panels", "noun", "neutral_title", "clock")


def run_pareto(source: str, options: OptionValues) -> int:
    """Rank and accumulate the categories of a log, and mark the 80% cutoff.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database. The vital few are the
    fewest leading categories that reach the cutoff.
    """
    counting, opening, analysis, outputs, reviewing = options.split(
        CountSettings, ReadSettings, ParetoSettings, OutputSettings, ReviewSettings
    )
    if analysis.drill and counting.by:
        raise click.UsageError("--drill names the columns itself: leave --by out")
    if options.get("panels") and not analysis.split:
        raise click.UsageError("--panels needs parts: name a second column with --split")
    look = look_of(options, ParetoChartSettings, outputs, leave_out=_IN_TEXT)
    parts = {"counting": counting, "analysis": analysis, "chart": look}
    inputs = (counting.families, options.get("words_file"))
    return run_command("pareto", source, opening, parts, outputs, reviewing, inputs=inputs)


pareto_command = partial(
    make_command,
    "pareto",
    run_pareto,
    [SOURCE],
    (CountSettings, ReadSettings, ParetoSettings, ParetoChartSettings, WordsFile, OutputSettings, ReviewSettings),
    first="by count weight where split keep cut orientation out format",
    examples=(
        "pareto inspections.csv --by defect --count pieces --out defects.png",
        "pareto inspections.csv --by defect --merge-spellings --keep 9 --cut 60,80 --format json",
    ),
)


def run_compare(sources: tuple[str, ...], options: OptionValues) -> int:
    """Set before and after side by side: two parts of one source, or two sources.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database.
    """
    counting, opening, sides, outputs, reviewing = options.split(
        CountSettings, ReadSettings, ComparisonSettings, OutputSettings, ReviewSettings
    )
    if isinstance(sides.per, str) and "," in sides.per:
        from vantric.counting.exposures import as_number

        numbers = tuple(as_number(part) for part in sides.per.split(","))
        sides = sides if None in numbers else replace(sides, per=numbers)
    if sides.split and (sides.before is None or sides.after is None):
        raise click.UsageError("--split needs --before and --after: what the column holds on each side")
    look = look_of(options, ComparisonChartSettings, outputs)
    source: Any = sources[0] if len(sources) == 1 else sources
    parts = {"counting": counting, "sides": sides, "chart": look}
    inputs = (counting.families, options.get("words_file"))
    return run_command("compare", source, opening, parts, outputs, reviewing, inputs=inputs)


compare_command = partial(
    make_command,
    "compare",
    run_compare,
    [FileArgument(["sources"], nargs=-1, required=True, metavar="SOURCE [SOURCE]")],
    (
        CountSettings,
        ReadSettings,
        ComparisonSettings,
        ComparisonChartSettings,
        WordsFile,
        OutputSettings,
        ReviewSettings,
    ),
    first="by count split before after per where labels out format",
    examples=(
        "compare inspections.csv --by defect --split shift --before Early --after Night",
        "compare inspections.csv inspections.csv --by kiln --per pieces --out kilns.png",
    ),
)


def run_trend(source: str, options: OptionValues) -> int:
    """Say which categories rise or fall over calendar periods, and draw them with control limits.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database. The column of dates is
    named with --date; months across a sheet with --split-columns.
    """
    counting, opening, trend_settings, outputs, reviewing = options.split(
        CountSettings, ReadSettings, TrendSettings, OutputSettings, ReviewSettings
    )
    if counting.date is None and not trend_settings.split_columns:
        raise click.UsageError(
            "a trend is over a column of dates: name it with --date, or columns with --split-columns"
        )
    look = look_of(options, TrendChartSettings, outputs)
    parts = {"counting": counting, "trend": trend_settings, "chart": look}
    inputs = (counting.families, options.get("words_file"))
    return run_command("trend", source, opening, parts, outputs, reviewing, inputs=inputs)


trend_command = partial(
    make_command,
    "trend",
    run_trend,
    [SOURCE],
    (CountSettings, ReadSettings, TrendSettings, TrendChartSettings, WordsFile, OutputSettings, ReviewSettings),
    first="by date period category per per-units mark where out format",
    examples=(
        "trend inspections.csv --by defect --date date --merge-spellings --out trend.png",
        "trend inspections.csv --by defect --date date --category Pinhole --per pieces --per-units 100",
    ),
)


def run_scales(primary: str, secondary: str, options: OptionValues) -> int:
    """Scale two value axes together: the ranges of both sides in, limits and ticks out.

    A range is written 0:650, or -40:120.
    """
    scaling, outputs, reviewing = options.split(Scaling, OutputSettings, ReviewSettings)
    ranges = read_range(primary), read_range(secondary)
    words = {"primary": ranges[0], "secondary": ranges[1], **scaling.changed()}
    return run_command("scales", None, ReadSettings(), {"scales": words}, outputs, reviewing)


scales_command = partial(
    make_command,
    "scales",
    run_scales,
    [click.Argument(["primary"], metavar="LOW:HIGH"), click.Argument(["secondary"], metavar="LOW:HIGH")],
    (Scaling, OutputSettings, ReviewSettings),
    first="policy meet primary-limits secondary-limits primary-log secondary-log primary-zero headroom out format",
    examples=("scales 0:650 0:100", "scales 0:160000 0:9.4 --policy proportional --meet 160000:8 --out scales.png"),
)


#: How many records a first look shows.
_FIRST = 5


class TextOrJson(Options, section="What is written"):
    """What is printed."""

    format: Literal["text", "json"] = option("text", "What standard output gets.")


def run_columns(source: str, options: OptionValues) -> None:
    """Take a first look: columns, kinds, what is missing, the most common labels, the first records.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database.
    """
    from vantric.tables.tally import profile_object, profile_view

    opening, formatting = options.split(ReadSettings, TextOrJson)
    with reading(source):
        look = first_look(source, opening, _FIRST)
    if formatting.format == "json":
        hand_over(json_text(profile_object(masked(source), look)))
    else:
        say(
            lines(profile_view(masked(source), look_in_flags(look), width=terminal()["width"]), []), end="", styled=True
        )


columns_command = partial(
    make_command,
    "columns",
    run_columns,
    [SOURCE],
    (ReadSettings, TextOrJson),
    examples=("columns inspections.csv", "columns firings.csv --format json"),
)


Of: TypeAlias = Literal["row", "column", "all", "records", "mentions"]
_TWO_WAY = ("row", "column", "all")


class PercentSettings(Options, section="Parts"):
    """What percents are of."""

    percent_of: Of | None = option(
        None,
        "What percents are of: row, column or all of a two-way table; records or "
        "mentions, where cells hold several labels.",
    )


def run_tally(source: str, options: OptionValues) -> int:
    """Count records by category, or by two columns.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database.
    """
    counting, opening, crossing, percents, outputs, reviewing = options.split(
        CountSettings, ReadSettings, CrosstabSettings, PercentSettings, OutputSettings, ReviewSettings
    )
    of, transpose = percents.percent_of, bool(options.get("transpose"))
    two_way = crossing.split is not None or bool(crossing.split_columns)
    _check(of, two_way=two_way, transpose=transpose)
    plain = OptionValues({name: value for name, value in options.items() if name != "percent_of"})
    follows = {"values": "percent", "percent_of": of} if of in _TWO_WAY else {}  # the chart shows what is asked for
    look = look_of(plain, TallyChartSettings, outputs, leave_out=("transpose", "order", "keep"), **follows)
    parts = {"counting": counting, "crossing": crossing, "chart": look}
    inputs = (counting.families, options.get("words_file"))
    return run_command("tally", source, opening, parts, outputs, reviewing, inputs=inputs, percent_of=of)


def _check(of: str | None, *, two_way: bool, transpose: bool) -> None:
    if not two_way and (of in _TWO_WAY or transpose):
        raise click.UsageError("this base and --transpose are for two-way tables: name a second column with --split")
    if two_way and of and of not in _TWO_WAY:
        raise click.UsageError(f"percents of a two-way table are of row, column or all, not of {of}")


tally_command = partial(
    make_command,
    "tally",
    run_tally,
    [SOURCE],
    (
        CountSettings,
        ReadSettings,
        CrosstabSettings,
        PercentSettings,
        TallyChartSettings,
        WordsFile,
        OutputSettings,
        ReviewSettings,
    ),
    first="by count weight where split percent-of merge-spellings missing out format",
    examples=(
        "tally inspections.csv --by defect --count pieces",
        "tally inspections.csv --by product --split kiln --percent-of row --out products.png",
    ),
)
