"""The options of every command that makes a Pareto table."""

from __future__ import annotations

import csv
from typing import Any

import click

from vantric.api.analysis import Analysis
from vantric.cli.sections import in_section
from vantric.cli.sourceoptions import Command, decorated
from vantric.core.counting.ordering import NAMED
from vantric.sources.tallying.exposures import as_number

_FEW = in_section(
    "How it is ranked, cut off and folded",
    click.option("--cut", metavar="PCT[,PCT]", help="The cutoff in percent, or several for A, B, C; 80 if not given."),
    click.option("--no-cut", is_flag=True, help="No cutoff."),
    click.option(
        "--rule",
        type=click.Choice(["reach", "within"]),
        default="reach",
        show_default=True,
        help="reach: the fewest leading categories that reach the cutoff; within: the most that stay within it.",
    ),
    click.option(
        "--ties",
        type=click.Choice(["exclude", "include"]),
        default="exclude",
        show_default=True,
        help="Whether what is as frequent as the last category inside is taken in.",
    ),
    click.option(
        "--order",
        default="frequency",
        show_default=True,
        metavar="ORDER",
        help="frequency, given, label, or every category, parted by commas.",
    ),
    click.option("--last", multiple=True, metavar="LABEL", help="A category pinned to the end. Repeatable."),
    click.option("--keep", type=int, metavar="N", help="So many categories keep their names; the others are folded."),
    click.option("--fold-below", type=float, metavar="PCT", help="Fold categories below a percent into one."),
    click.option("--rest-label", default="Other", show_default=True, metavar="LABEL", help="The name of the rest."),
    click.option("--drop-zero", is_flag=True, help="Leave out categories of frequency zero."),
)
_RATES = in_section(
    "Rates",
    click.option("--per", metavar="COL|NUMBER", help="Divide by a column or a number: rates, such as per piece."),
    click.option("--per-units", type=float, default=1, show_default=True, metavar="N", help="Rates are per so many."),
    click.option("--per-name", metavar="NAME", help="What rates are per, if not the column's name."),
)
_PARTS = in_section(
    "Parts",
    click.option("--split", metavar="COL", help="A second column: each bar in parts."),
    click.option(
        "--period",
        type=click.Choice(["day", "week", "month", "quarter", "year"]),
        help="The calendar period of a --split column of dates.",
    ),
    click.option("--drill", metavar="COL,COL", help="In place of --by: the first column, then the next within it."),
)


def analysis_options(command: Command) -> Command:
    """Add the options that say how the table is made; they arrive as `analysis`."""

    def gather(values: dict[str, Any]) -> dict[str, Any]:
        said = {name: values.pop(name) for name in _NAMES}
        cut, none = values.pop("cut"), values.pop("no_cut")
        if cut is not None and none:
            raise click.UsageError("--cut and --no-cut contradict each other: give one of them")
        if none or cut is not None:
            said["cut"] = None if none else cut
        number = as_number(said["per_units"])
        said["per_units"] = 1 if number is None else number
        said["order"] = read_order(said["order"])
        said["drill"] = tuple(_listed(said["drill"])) if said["drill"] else ()
        if said["drill"] and values["counting"].by:
            raise click.UsageError("--drill names the columns itself: leave --by out")
        return {**values, "analysis": Analysis(**said)}

    return decorated(command, (*_FEW, *_RATES, *_PARTS), gather)


_NAMES = (
    "rule", "ties", "order", "last", "keep", "fold_below", "rest_label", "drop_zero", "per", "per_units", "per_name",
    "split", "period", "drill",
)  # fmt: skip


def read_order(text: str) -> str | list[str]:
    """Return a named order, or the categories of an explicit one: parted by commas, in quotes where they hold one."""
    if text in NAMED or "," not in text:
        return text
    return _listed(text)


def _listed(text: str) -> list[str]:
    return [name.strip() for row in csv.reader([text], skipinitialspace=True) for name in row if name.strip()]
