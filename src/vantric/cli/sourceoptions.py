"""The options of every command that reads and counts."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import fields
from pathlib import Path
from typing import Any

import click

from vantric.cli.sections import in_section
from vantric.sources import Counting, Opening

Command = Callable[..., Any]

LIMITS = (
    click.option("--timeout", type=float, metavar="SECONDS", help="How long reading a source may take."),
    click.option("--memory", type=int, metavar="MB", help="What reading a file may take before it spills to disk."),
    click.option(
        "--allow-functions", is_flag=True, help="A condition on a file may call any function, in bounds of its own."
    ),
)
ALLOW_SOURCE = click.option(
    "--allow-source", is_flag=True, help="A chart file may read a URL, or files that do not lie beside it."
)
CHART_FILE = (ALLOW_SOURCE, *LIMITS)
_OPENING = in_section(
    "The source",
    click.option("--where", metavar="SQL", help="A standard SQL condition that records must meet."),
    click.option("--sheet", metavar="NAME", help="The sheet of a workbook; else the first that holds something."),
    click.option("--table", metavar="NAME", help="The table of a database."),
    click.option("--query", metavar="SQL", help="The query whose result is read of a database."),
    *LIMITS,
)
_COUNTING = in_section(
    "What is counted",
    click.option("--by", metavar="COL", help="The column whose labels are counted."),
    click.option("--count", metavar="COL", help="The column that says how many occurrences a record stands for."),
    click.option(
        "--by-columns", metavar="COL,COL", help="Columns that are categories themselves, as in a check sheet."
    ),
    click.option("--weight", metavar="COL", help="The column that says what one occurrence weighs: cost, minutes."),
    click.option("--separator", metavar="SIGN", help="Parts several labels in one cell."),
    click.option("--unique", metavar="COL", help="A column of units: each counts once in a category."),
    click.option("--merge-spellings", is_flag=True, help="Make labels one that differ only in case or blanks."),
    click.option(
        "--families", type=click.Path(path_type=Path), metavar="FILE", help="A file that maps labels to families."
    ),
    click.option(
        "--missing",
        type=click.Choice(["exclude", "category"]),
        default="exclude",
        show_default=True,
        help="Whether records without a label are left out or counted as (missing).",
    ),
    click.option("--dates", metavar="COL", help="A column of dates: its first and last day are told."),
)


def opening_options(command: Command) -> Command:
    """Add the options that say how a source is opened; they arrive as `opening`."""
    return decorated(command, _OPENING, _gather_opening)


def counting_options(command: Command) -> Command:
    """Add the options that say what is counted, and how the source is opened: `counting` and `opening`."""

    def gather(values: dict[str, Any]) -> dict[str, Any]:
        columns = values.pop("by_columns")
        names = ("by", "count", "weight", "separator", "unique", "merge_spellings", "families", "missing", "dates")
        said = {name: values.pop(name) for name in names}
        if columns:
            said["by_columns"] = tuple(name.strip() for name in columns.split(",") if name.strip())
        return {**_gather_opening(values), "counting": Counting(**said)}

    return decorated(command, (*_COUNTING, *_OPENING), gather)


def _gather_opening(values: dict[str, Any]) -> dict[str, Any]:
    opening = Opening(**{one.name: values.pop(one.name) for one in fields(Opening)})
    return {**values, "opening": opening}


def decorated(
    command: Command, options: tuple[Any, ...], gather: Callable[[dict[str, Any]], dict[str, Any]]
) -> Command:
    """Add options to a command; `gather` makes of their values what the command takes."""
    import functools

    @functools.wraps(command)
    def wrapped(**values: Any) -> Any:
        return command(**gather(values))

    for option in reversed(options):
        wrapped = option(wrapped)
    return wrapped
