"""``vantric combine``, with the flags that can be given for one series: ``--marker Energy=square``."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from typing import TYPE_CHECKING, Any

import click

from vantric.cli.command import ORDER, SOURCE, make_command
from vantric.cli.flags import OptionValues, from_text
from vantric.cli.results import OutputSettings, ReviewSettings, WordsFile, look_of, run_command
from vantric.core.charts.series import KINDS, Bars, Line
from vantric.core.charts.settings import ChartSettings, CombinationChartSettings
from vantric.core.counts.ordering import read_names
from vantric.core.numbers.number_format import NumberOptions, NumberStyle
from vantric.errors import nearest
from vantric.options import Option, Options, known_options, option
from vantric.reading.settings import CategorySettings, ReadSettings

if TYPE_CHECKING:
    from vantric.kinds.combine import OptionsByName

#: The classes whose options a series has.
SERIES = (Bars, Line)
#: The options that one series can have by its name: ``--marker Energy=square``.
_OF_SERIES = {
    name: known_option for name, known_option in known_options(*SERIES).items() if known_option.in_place("command")
}
#: How one series writes its numbers; `si` is for a whole axis.
_OF_NUMBERS = {name: known_option for name, known_option in known_options(NumberOptions).items() if name != "si"}
NAMED = (*_OF_SERIES, *_OF_NUMBERS)
#: The drawn series as they were typed: kind and text.
DrawnSeries = Sequence[tuple[str, str]]


def number_options(options: OptionValues, series: DrawnSeries) -> OptionValues:
    """Return what was typed, with those options of numbers that are for all series."""
    plain = OptionValues(options)
    for name, number_option in _OF_NUMBERS.items():
        texts = [text for text in plain.pop(name, ()) if _split(number_option, text, series)[0] is None]
        if len(texts) > 1:
            raise click.UsageError(f"{number_option.flag} is given twice for all series: {texts[0]} and {texts[1]}")
        if texts:
            plain[name] = from_text(number_option, _split(number_option, texts[0], series)[1])
    return plain


def series_options(options: OptionValues, series: DrawnSeries, look: NumberOptions) -> dict[str, OptionsByName]:
    """Return series -> option -> value, of the options that were typed for one series or for all."""
    series_options: dict[str, OptionsByName] = {}
    for name, item in _OF_SERIES.items():
        for text in options.get(name, ()):
            called, value = (text, True) if item.kind is bool else _split(item, text, series)
            read = value if item.kind is bool else item.checked(from_text(item, value))
            for each in [called] if called is not None else _takers(name, series):
                series_options.setdefault(each, {})[name] = read
    for called, numbers in _styles(options, series).items():
        base = {option: getattr(look, option) for option in _OF_NUMBERS}
        series_options.setdefault(called, {})["style"] = NumberStyle(**{**base, **numbers})
    return series_options


def _styles(options: OptionValues, series: DrawnSeries) -> dict[str, OptionsByName]:
    styles: dict[str, OptionsByName] = {}
    for name, number_option in _OF_NUMBERS.items():
        for text in options.get(name, ()):
            called, value = _split(number_option, text, series)
            if called is not None:
                styles.setdefault(called, {})[name] = from_text(number_option, value)
    return styles


def _takers(option: str, series: DrawnSeries) -> list[str]:
    """Return the series whose kind has an option."""
    return [text for kind, text in series if option in known_options(KINDS[kind])]


def _split(option: Option, text: str, series: DrawnSeries) -> tuple[str | None, str]:
    """Return the series that a text is for, None for all, and the value.

    It is split at the first ``=`` if the left side names a series; ``=TEXT`` is a text with nothing to split.
    """
    if text.startswith("="):
        return None, text[1:]
    names = _names(series)
    called = max((name for name in names if text.startswith(f"{name}=")), key=len, default=None)
    if called is not None:
        return called, text[len(called) + 1 :]
    left, sign, _ = text.partition("=")
    if sign and (hint := nearest(left, names)):
        raise click.UsageError(
            f"{option.flag} '{text}': there is no series '{left}'{hint} Write ={text} if that is the text."
        )
    return None, text


def _names(series: DrawnSeries) -> list[str]:
    """Return every name that a series may be called by: as it was written, and its name after or before the ``=``."""
    texts = [text for _, text in series]
    for _, text in series:
        what, sign, name = text.rpartition("=")
        plain = (what if sign else text).strip()
        texts += [name.strip()] if sign else [plain.partition(":")[2]]
    return [name for name in dict.fromkeys(texts) if name]


#: Options that say what the chart shows, whether a picture is drawn or not.
_ALWAYS = ("references", "marks", *set(known_options(CombinationChartSettings)) - set(known_options(ChartSettings)))
#: In the order in which they are drawn, the last in front.
FORMS = ("bars", "area", "stems", "steps", "line", "points")


def _drawn(kind: str) -> Any:
    about = f"Draw as {kind}: a column, sum:COL, mean:COL, ratio:A/B, percent:A/B, count; =NAME renames."
    return option((), about, metavar="WHAT[=NAME]")


class SeriesColumns(Options, section="What is drawn"):
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


def run(source: str, options: OptionValues) -> int:
    """Set columns side by side as bars, lines and other series on one category axis and two value axes.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database.
    """
    from vantric.kinds.combine import (
        CombineSettings,
        relations_in,  # what cannot be related is refused before anything is written
    )

    axis, opening, drawn, outputs, reviewing = options.split(
        CategorySettings, ReadSettings, SeriesColumns, OutputSettings, ReviewSettings
    )
    series = _as_typed(drawn)
    named = series or tuple(("bars", text) for text in axis.sides)
    look = look_of(number_options(options, named), CombinationChartSettings, outputs, leave_out=_ALWAYS)
    combination = CombineSettings(axis, series, drawn.secondary, series_options(options, named, look))
    look = combination.shown(look, options)

    return run_command(
        "combine",
        source,
        opening,
        {"combination": combination, "chart": look},
        outputs,
        reviewing,
        inputs=(options.get("words_file"),),
        check=lambda chart: relations_in(chart, drawn.relate),
        relate=drawn.relate,
    )


def _as_typed(drawn: SeriesColumns) -> tuple[tuple[str, str], ...]:
    """Return (kind, what) of the series in the order in which they were typed."""
    left = {kind: list(getattr(drawn, kind)) for kind in FORMS}
    order = [name for name in click.get_current_context().meta[ORDER] if name in left]
    return tuple((kind, left[kind].pop(0)) for kind in order if left[kind])


combine_command = partial(
    make_command,
    "combine",
    run,
    [SOURCE],
    (
        CategorySettings,
        SeriesColumns,
        CombinationChartSettings,
        *SERIES,
        ReadSettings,
        WordsFile,
        OutputSettings,
        ReviewSettings,
    ),
    named=NAMED,
    first="x bars line area period secondary unit together labels out",
    examples=(
        "combine firings.csv --x month --bars first_firing --line percent:rejected/first_firing=Rejected",
        "combine crews.csv --x crew --bars planned_hours --bars achieved_hours --reference 2000=Limit --out crews.png",
    ),
)
