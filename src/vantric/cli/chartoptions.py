"""The options of every command that draws."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any

import click

from vantric.cli.output import PICTURES
from vantric.cli.sections import in_section
from vantric.cli.sourceoptions import Command, decorated
from vantric.sources.reading.families import read_pairs

LABELS = "none, auto, value, percent-of-series, percent-of-category or percent-of-total."
_LOOK = in_section(
    "How the chart looks",
    click.option("--theme", default="light", show_default=True, metavar="NAME", help="light, dark or print."),
    click.option("--size", default="1280x800", show_default=True, metavar="WxH", help="The picture in pixels."),
    click.option("--font", default="", metavar="NAME", help="An installed font family."),
    click.option(
        "--orientation",
        type=click.Choice(["vertical", "horizontal"]),
        default="vertical",
        help="Bars upward or to the right.",
    ),
    click.option(
        "--legend",
        type=click.Choice(["above", "below", "left", "right", "ends", "none"]),
        default="above",
        help="Where it stands; ends: names at the ends of lines.",
    ),
    click.option(
        "--grid",
        type=click.Choice(["auto", "primary", "secondary", "none"]),
        default="auto",
        help="Whose ticks the one grid follows.",
    ),
    click.option(
        "--title-place", type=click.Choice(["left", "center"]), default="left", help="Where title and subtitle stand."
    ),
)
_TABLE = in_section(
    "What the chart of the table shows",
    click.option(
        "--points", type=click.Choice(["center", "edge"]), default="center", help="Where the line's points stand."
    ),
    click.option(
        "--labels", type=click.Choice(["frequency", "percent", "none"]), default="frequency", help="What bars say."
    ),
    click.option(
        "--label-place", type=click.Choice(["above", "inside"]), default="above", help="Where the numbers stand."
    ),
    click.option(
        "--cumulative",
        type=click.Choice(["percent", "frequency", "none"]),
        default="percent",
        help="What the line is.",
    ),
    click.option("--unit", metavar="TEXT", help="What the frequencies are in."),
)
_TALLY = in_section(
    "What the chart shows",
    click.option("--values", type=click.Choice(["frequency", "percent"]), default="frequency", help="What bars show."),
    click.option(
        "--together",
        type=click.Choice(["grouped", "stacked", "percent", "overlaid"]),
        default="grouped",
        help="Bars of a two-way table; percent: stacked to 100 %.",
    ),
    click.option("--totals", is_flag=True, help="Write the totals of stacks over them."),
    click.option("--gap", type=float, default=0.0, metavar="SHARE", help="Between grouped bars, of a bar's width."),
    click.option("--strip", is_flag=True, help="The shares of one tally as one bar to 100 %."),
    click.option("--labels", default="value", show_default=True, metavar="KIND", help=LABELS),
    click.option("--label-place", default="auto", metavar="PLACE", help="above, inside, below, beside or auto."),
)
_TEXTS = in_section(
    "What the chart says",
    click.option("--title", metavar="TEXT", help="In place of the chart's own; '' for none."),
    click.option("--subtitle", metavar="TEXT", help="So too the subtitle."),
    click.option("--category-title", metavar="TEXT", help="The title of the category axis."),
    click.option("--primary-title", metavar="TEXT", help="Of the axis of the bars."),
    click.option("--secondary-title", metavar="TEXT", help="Of the axis of the line."),
    click.option("--note", metavar="TEXT", help="In place of the small line of source, filter, merges and folds."),
    click.option("--no-note", is_flag=True, help="No such line."),
    click.option(
        "--color",
        "colors",
        multiple=True,
        metavar="NAME=COLOR",
        help="Of a category or series: #rrggbb or CSS name.",
    ),
    click.option("--word", "said", multiple=True, metavar="NAME=TEXT", help="A fixed word in another language."),
    click.option(
        "--words", type=click.Path(path_type=Path), metavar="FILE", help="Fixed words in a TOML or JSON file."
    ),
)
_NUMBERS = in_section(
    "How the chart writes numbers",
    click.option("--thousands", default=",", show_default=True, metavar="SIGN", help="Between thousands; '' for none."),
    click.option("--decimal", default=".", show_default=True, metavar="SIGN", help="Before decimals."),
    click.option("--decimals", type=int, metavar="N", help="How many every amount has."),
    click.option("--before-number", default="", metavar="TEXT", help="Before amounts: a currency sign."),
    click.option("--after-number", default="", metavar="TEXT", help="Behind amounts."),
    click.option("--si", is_flag=True, help="Write amounts as 150 k, 2.5 M."),
    click.option("--percent-sign", default=" %", metavar="TEXT", help="Behind percents."),
)
_PLAIN = (
    "theme", "size", "font", "orientation", "legend", "grid", "title_place", "title", "subtitle", "category_title",
    "primary_title", "secondary_title", "thousands", "decimal", "decimals", "before_number", "after_number",
    "percent_sign", "si",
)  # fmt: skip
_OF_TABLE = ("points", "labels", "label_place", "cumulative", "unit")
_OF_TALLY = ("values", "together", "totals", "gap", "strip", "labels", "label_place")


def chart_options(command: Command) -> Command:
    """Add the options of the chart of a table; they arrive as `look`: the options of the public functions."""
    return _with_look(command, _TABLE, _OF_TABLE)


def tally_chart_options(command: Command) -> Command:
    """Add the options of the chart of a tally; they arrive as `look`."""
    return _with_look(command, _TALLY, _OF_TALLY)


def look_options(command: Command) -> Command:
    """Add the options that every chart has; they arrive as `look`."""
    return _with_look(command, (), ())


def _with_look(command: Command, more: tuple[Any, ...], more_names: tuple[str, ...]) -> Command:
    plain = (*_PLAIN, *more_names)
    names = frozenset({*plain, "note", "no_note", "colors", "said", "words"})

    def gather(values: dict[str, Any]) -> dict[str, Any]:
        _refuse_without_picture(values, names)
        look = {name: values.pop(name) for name in plain}
        note, none = values.pop("note"), values.pop("no_note")
        if note is not None and none:
            raise click.UsageError("--note and --no-note contradict each other: give one of them")
        look["note"] = note if note is not None else not none
        look["colors"] = pairs(values.pop("colors"), "--color", "Pinhole=#164a6e")
        file, said = values.pop("words"), pairs(values.pop("said"), "--word", "total=Summe {total}")
        look["words"] = {**(read_pairs(file, "words", "a name and a text in pairs") if file else {}), **said}
        return {**values, "look": look}

    return decorated(command, (*more, *_LOOK, *_TEXTS, *_NUMBERS), gather)


def _refuse_without_picture(values: dict[str, Any], names: frozenset[str]) -> None:
    """Raise an error for an option of the chart where none is drawn, so that none is passed over in silence."""
    if values.get("chart_file") or any(path.suffix[1:].casefold() in PICTURES for path in values.get("targets", ())):
        return
    context = click.get_current_context()
    for parameter in context.command.params:
        name = str(parameter.name)
        if name in names and context.get_parameter_source(name) is click.core.ParameterSource.COMMANDLINE:
            raise click.UsageError(
                f"{parameter.opts[0]} is for a chart: name a picture with --out, such as --out chart.png"
            )


def pairs(texts: Sequence[str], option: str, example: str) -> dict[str, str]:
    """Return what ``NAME=TEXT`` options say, by name."""
    found = {}
    for text in texts:
        name, sign, value = text.partition("=") if option == "--word" else text.rpartition("=")
        if not sign or not name.strip():
            raise click.UsageError(f"{option} takes a name and what it is, such as {example}; '{text}' is not")
        found[name.strip()] = value.strip() if option == "--color" else value
    return found
