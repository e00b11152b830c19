"""``vantric combine``."""

from __future__ import annotations

from typing import Any

import click

from vantric.cli.command import ORDER, SOURCE, made
from vantric.cli.flags import Given
from vantric.cli.results import Outputs, Reviewing, run_command
from vantric.cli.seriesflags_part import NAMED, SERIES, number_options, series_options
from vantric.cli.words_part import WordsFile, look_of
from vantric.core.charts.settings import CombinationLook, Look
from vantric.core.counts.options_part import read_names
from vantric.options import Options, known_options, option
from vantric.reading.settings import Categories, Opening

#: Options that say what the chart shows, whether a picture is drawn or not.
_ALWAYS = tuple(set(known_options(CombinationLook)) - set(known_options(Look)))
FORMS = ("bars", "area", "stems", "steps", "line", "points")


def _drawn(kind: str) -> Any:
    about = f"Draw as {kind}: a column, sum:COL, mean:COL, ratio:A/B, percent:A/B, count; =NAME renames."
    return option((), about, metavar="WHAT[=NAME]")


class Drawn(Options, section="What is drawn"):
    """The columns that are drawn."""

    bars: tuple[str, ...] = _drawn("bars")
    area: tuple[str, ...] = _drawn("area")
    stems: tuple[str, ...] = _drawn("stems")
    steps: tuple[str, ...] = _drawn("steps")
    line: tuple[str, ...] = _drawn("line")
    points: tuple[str, ...] = _drawn("points")
    secondary: tuple[str, ...] = option((), "A series on the secondary axis, by its name.", metavar="NAME")
    relate: tuple[str, ...] = option(
        (), "Say whether two series go together, and how sure that is.", metavar="NAME,NAME", read=read_names
    )


def run(source: str, given: Given) -> int:
    """Set columns side by side as bars, lines and other series on one category axis and two value axes.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database.
    """
    from vantric.kinds.combine import Combination
    from vantric.kinds.relations_part import (
        relations_in,  # what cannot be related is refused before anything is written
    )

    axis, opening, drawn, outputs, reviewing = given.split(Categories, Opening, Drawn, Outputs, Reviewing)
    series = _as_typed(drawn)
    named = series or tuple(("bars", text) for text in axis.sides)
    look = look_of(number_options(given, named), CombinationLook, outputs, leave_out=_ALWAYS)
    combination = Combination(axis, series, drawn.secondary, series_options(given, named, look))
    look = combination.shown(look, given)

    return run_command(
        "combine",
        source,
        opening,
        {"combination": combination, "chart": look},
        outputs,
        reviewing,
        inputs=(given.get("words_file"),),
        check=lambda chart: relations_in(chart, drawn.relate),
        relate=drawn.relate,
    )


def _as_typed(drawn: Drawn) -> tuple[tuple[str, str], ...]:
    """Return (kind, what) of the series in the order in which they were typed."""
    left = {kind: list(getattr(drawn, kind)) for kind in FORMS}
    order = [name for name in click.get_current_context().meta[ORDER] if name in left]
    return tuple((kind, left[kind].pop(0)) for kind in order if left[kind])


combine_command = made(
    "combine",
    run,
    [SOURCE],
    (Categories, Drawn, CombinationLook, *SERIES, Opening, WordsFile, Outputs, Reviewing),
    named=NAMED,
    first="x bars line area period secondary unit together labels out",
    examples=(
        "combine firings.csv --x month --bars first_firing --line percent:rejected/first_firing=Rejected",
        "combine crews.csv --x crew --bars planned_hours --bars achieved_hours --reference 2000=Limit --out crews.png",
    ),
)
