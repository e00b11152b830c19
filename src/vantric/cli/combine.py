"""``vantric combine``."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from vantric.cli import output
from vantric.cli.chartoptions import LABELS, look_options, pairs
from vantric.cli.sections import SectionedCommand, in_section
from vantric.cli.sourceoptions import Command, decorated, opening_options
from vantric.cli.terminal import hand_over, say, terminal
from vantric.cli.values import int_of, number, span
from vantric.errors import ChartError
from vantric.report.tablefile import TABLES
from vantric.sources import Opening

if TYPE_CHECKING:
    from vantric.core.charting import Chart
    from vantric.core.counting import Measures

_KINDS = ("bars", "area", "stems", "steps", "line", "points")


def _kind(kind: str) -> Callable[[Any], Any]:
    about = f"Draw as {kind}: a column, sum:COL, mean:COL, ratio:A/B, percent:A/B, count; =NAME renames. Repeatable."
    return click.option(f"--{kind}", multiple=True, metavar="WHAT[=NAME]", help=about)


_SERIES = in_section(
    "What is drawn",
    click.option("--x", required=True, metavar="COL", help="The column of categories or dates."),
    click.option(
        "--period",
        type=click.Choice(["day", "week", "month", "quarter", "year"]),
        help="The calendar period of a column of dates; every one appears, in order.",
    ),
    click.option(
        "--order", type=click.Choice(["given", "label", "value"]), default="given", help="Of categories that are text."
    ),
    *map(_kind, _KINDS),
    click.option("--secondary", multiple=True, metavar="NAME", help="A series on the secondary axis. Repeatable."),
    click.option("--unit", "units", multiple=True, metavar="NAME=UNIT", help="What a series is in. Repeatable."),
    click.option("--transpose", is_flag=True, help="Exchange categories and series."),
)
_BARS = in_section(
    "Bars together",
    click.option("--stack", is_flag=True, help="Stack bars, negative ones downward."),
    click.option("--percent", is_flag=True, help="Stack bars to 100 %."),
    click.option("--group", is_flag=True, help="Set bars beside each other; as they are if nothing is said."),
    click.option("--overlay", is_flag=True, help="Set narrower bars in front of wider ones."),
    click.option("--gap", type=float, default=0.0, metavar="SHARE", help="Between grouped bars, of a bar's width."),
    click.option("--stack-of", "stacks", multiple=True, metavar="NAME=STACK", help="Several stacks side by side."),
    click.option("--totals", is_flag=True, help="Write the totals of stacks over them."),
)
_AXES = in_section(
    "How the axes agree",
    click.option("--policy", metavar="NAME", help="grid, proportional, common, separate; by units and reach if none."),
    click.option("--log", multiple=True, metavar="SIDE", help="A log axis: primary, secondary. Repeatable."),
    click.option("--primary-limits", metavar="LOW:HIGH", help="Fix limits; leave an end empty to free it: 0: or :100."),
    click.option("--secondary-limits", metavar="LOW:HIGH", help="So too the secondary axis'."),
    click.option("--clip", is_flag=True, help="Let fixed limits cut data off."),
    click.option("--zero", "zeros", multiple=True, metavar="SIDE", help="An axis that shows zero for lines too."),
    click.option("--without-zero", "no_zeros", multiple=True, metavar="SIDE", help="An axis that need not show zero."),
    click.option("--meet", metavar="P:S", help="The values that are one height, for proportional."),
    click.option(
        "--target", "targets_at", multiple=True, metavar="VALUE[@secondary][=TEXT]",
        help="A line at a value, or a band LOW:HIGH. Repeatable.",
    ),
)  # fmt: skip
_STYLES = in_section(
    "How series look",
    click.option("--label", "labels", multiple=True, metavar="[NAME=]KIND", help=LABELS),
    click.option("--label-place", "label_places", multiple=True, metavar="NAME=PLACE",
                 help="above, inside, below, beside."),
    click.option("--marker", "markers", multiple=True, metavar="NAME=SHAPE",
                 help="round, square, diamond, triangle, pointer, cross or none."),
    click.option("--marker-size", "marker_sizes", multiple=True, metavar="NAME=PIXELS", help="How large points are."),
    click.option("--pattern", "patterns", multiple=True, metavar="NAME=PATTERN",
                 help="Lines: solid, dashed, dotted, dash-dot; bars: plain, hatched, dotted, crossed."),
    click.option("--width", "widths", multiple=True, metavar="NAME=WIDTH",
                 help="Lines: pixels; bars: share of their place."),
    click.option("--front", "fronts", multiple=True, metavar="NAME=ORDER", help="What is higher stands in front."),
    click.option("--bridge", "bridges", multiple=True, metavar="NAME", help="A line that runs on over missing values."),
)  # fmt: skip


def combine_options(command: Command) -> Command:
    """Add the options that say what is drawn; they arrive as `combination` and `making`."""

    def gather(values: dict[str, Any]) -> dict[str, Any]:
        from vantric.api.combining import Combination

        series = tuple((kind, text) for kind in _KINDS for text in values.pop(kind))
        options = _series_options(values, [text for _, text in series])
        combination = Combination(
            values.pop("x"), series, values.pop("secondary"), values.pop("period"), values.pop("order"), options
        )
        making = _making(values)
        return {**values, "combination": combination, "making": making}

    return decorated(command, (*_SERIES, *_BARS, *_AXES, *_STYLES), gather)


def _series_options(values: dict[str, Any], drawn: list[str]) -> dict[str, dict[str, Any]]:
    found: dict[str, dict[str, Any]] = {}
    for text in values.pop("labels"):
        name, sign, kind = text.rpartition("=")
        for one in (name,) if sign else drawn:
            found.setdefault(one, {})["labels"] = kind
    for option, key, name_of, example, read in (
        ("--unit", "units", "unit", "Energy=kWh", str),
        ("--label-place", "label_places", "label_place", "Energy=above", str),
        ("--marker", "markers", "marker", "Energy=square", str),
        ("--pattern", "patterns", "pattern", "Energy=dashed", str),
        ("--stack-of", "stacks", "stack", "Fired=first", str),
        ("--marker-size", "marker_sizes", "marker_size", "Energy=12", number),
        ("--width", "widths", "width", "Energy=3", number),
        ("--front", "fronts", "order", "Energy=1", int_of),
    ):
        for name, value in pairs(values.pop(key), option, example).items():
            found.setdefault(name, {})[name_of] = read(value.strip())
    for name in values.pop("bridges"):
        found.setdefault(name, {})["bridge"] = True
    return found


def _making(values: dict[str, Any]) -> dict[str, Any]:
    """Return the options of the chart that the public function takes."""
    ways = {"stack": "stacked", "percent": "percent", "group": "grouped", "overlay": "overlaid"}
    said = [name for name in ways if values.pop(name)]
    if len(said) > 1:
        raise click.UsageError(f"--{said[0]} and --{said[1]} contradict each other: give one of them")
    zeros, none = values.pop("zeros"), values.pop("no_zeros")
    sides = ("primary", "secondary")
    for name in (*zeros, *none):
        if name not in sides:
            raise ChartError(f"an axis is primary or secondary, not '{name}'")
        if name in zeros and name in none:
            raise click.UsageError(f"--zero {name} and --without-zero {name} contradict each other: give one of them")
    meet = values.pop("meet")
    return {
        "together": ways[said[0]] if said else "grouped",
        "include_zero": tuple(True if one in zeros else False if one in none else None for one in sides),
        "primary_limits": _limits(values.pop("primary_limits")),
        "secondary_limits": _limits(values.pop("secondary_limits")),
        "meet": None if meet is None else span(meet),
        "references": tuple(map(_reference, values.pop("targets_at"))),
        **{name: values.pop(name) for name in ("gap", "totals", "policy", "log", "clip", "transpose")},
    }


def _limits(text: str | None) -> Any:
    return None if text is None else span(text, open_ends=True)


def _reference(text: str) -> Any:
    """Read ``600``, ``5@secondary=Limit``, ``150000:180000=Plan``."""
    from vantric.core.charting import Reference

    place, _, words = text.partition("=")
    value, sign, axis = place.partition("@")
    if sign and axis.strip() not in ("primary", "secondary"):
        raise ChartError(f"a target lies on the primary or the secondary axis, not on '{axis.strip()}'")
    side: Any = axis.strip() or "primary"
    ends: tuple[Any, Any] = span(value) if ":" in value else (number(value), None)
    return Reference(*ends, words.strip(), side)


@click.command("combine", cls=SectionedCommand)
@click.argument("source")
@combine_options
@opening_options
@look_options
@output.all_outputs
@output.keeps_chart
@output.reviews
def command(
    source: str, opening: Opening, combination: Any, making: dict[str, Any], look: dict[str, Any],
    targets: tuple[Path, ...], form: str, chart_file: Path | None, reviewing: output.Reviewing,
) -> int:  # fmt: skip
    """Set columns side by side as bars, lines and other series on one category axis and two value axes.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database.
    """
    from vantric.api.combinationoptions import read_combination
    from vantric.api.combining import combined_chart
    from vantric.core.reviewing import review_chart
    from vantric.report.combineddata import combined_file

    kinds = [output.kind_of(target, (*output.PICTURES, *TABLES)) for target in targets]
    output.check_targets(targets, source, chart_file)
    wish = read_combination({**look, **making})
    with output.reading(source):
        measures, series = combination.work_out(source, opening)
    chart = combined_chart(measures, series, wish)
    findings = reviewing.kept(review_chart(chart))
    contents = [
        output.drawn(chart, kind) if kind in output.PICTURES else combined_file(measures, chart, kind, findings)
        for kind in kinds
    ]
    kept = output.kept_chart(chart_file, "combine", lambda: _kept(source, opening, combination, series, making, look))
    output.write_all([*zip(targets, contents, strict=True), *kept])
    if any(kind in output.PICTURES for kind in kinds):
        output.tell_left_out(chart)
    if form == "text":
        say(output.lines(_view(measures, chart), findings), end="")
    else:
        hand_over(combined_file(measures, chart, output.TEXTS[form], findings).decode())
        output.tell_warnings(findings)
    return reviewing.status(findings)


def _kept(
    source: str, opening: Opening, combination: Any, series: Any, making: dict[str, Any], look: dict[str, Any]
) -> dict[str, Any]:
    from vantric.api.keeping import combination_parts

    return combination_parts(source, opening, combination, [one.name for one in series], {**look, **making})


def _view(measures: Measures, chart: Chart) -> list[str]:
    from vantric.report.combineddata import combined_view

    return combined_view(measures, chart, width=terminal()["width"])
