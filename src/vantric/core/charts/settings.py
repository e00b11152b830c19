"""The options of charts: how any chart looks, and what the chart of each kind of result shows."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import fields, replace
from typing import Any, Literal, Self, TypeAlias

from vantric.base.lazily import cached_property
from vantric.core.axes.scaling import Scaling
from vantric.core.charts.references import DateMark, Mark, Reference, date_place, read_mark, read_reference
from vantric.core.charts.series import SeriesLabelPlace, SeriesLabels, read_labels
from vantric.core.counts.ordering import Order, read_order
from vantric.core.messages.formatter import Formatter
from vantric.core.messages.languages import Language, LanguageCode, language
from vantric.core.numbers.number_format import ClockUnit, NumberOptions, NumberStyle, one_line, rounded
from vantric.core.numbers.periods import Period
from vantric.errors import ChartError, unknown
from vantric.options import Options, option

Orientation: TypeAlias = Literal["vertical", "horizontal", "auto"]
LegendPlace: TypeAlias = Literal["above", "below", "left", "right", "ends", "none"]
GridSide: TypeAlias = Literal["auto", "primary", "secondary", "none"]
TitlePlace: TypeAlias = Literal["left", "center"]
Theme: TypeAlias = Literal["light", "dark", "print", "contrast", "clay"]
LinePlace: TypeAlias = Literal["center", "edge"]
LabelPlace: TypeAlias = Literal["above", "inside"]
Together: TypeAlias = Literal["grouped", "stacked", "percent", "overlaid"]
SecondaryBars: TypeAlias = Literal["front", "beside"]
LabelKind: TypeAlias = Literal["value", "percent", "none"]
Cumulative: TypeAlias = Literal["percent", "frequency", "none"]
ComparisonForm: TypeAlias = Literal["dumbbells", "bars"]
Values: TypeAlias = Literal["frequency", "percent"]
Base: TypeAlias = Literal["row", "column", "all"]

#: Pixels: a slide or a window of today, 16 to 10.
DEFAULT_SIZE = (1280.0, 800.0)
_SAYS = "What the chart says"


def read_size(text: str) -> Any:
    """Return the width and the height of ``"1280x800"``; another text as it is, which no size is."""
    try:
        width, height = map(float, text.lower().split("x"))
    except ValueError:  # the option says what it takes
        return text
    return width, height


def read_gap(text: str) -> Any:
    """Return the space between bars; two columns, which an earlier edition took, are answered with their options."""
    if "," in text:
        planned, _, actual = (part.strip() for part in text.partition(","))
        raise ChartError(f"gap is the space between bars: for two columns write --planned {planned} --actual {actual}")
    try:
        return float(text)
    except ValueError:  # the option says what it takes
        return text


class ChartSettings(NumberOptions, section="How the chart looks"):
    """The options that every kind of chart has."""

    theme: Theme = option("light", "The colors and lines of the whole picture.")
    size: tuple[float, float] | None = option(
        None,
        "Width and height of the picture in pixels; if not given 1280x800, higher where the names of bars need it.",
        metavar="WxH",
        read=read_size,
    )
    font: str = option("", "An installed font family, in place of the theme's.", metavar="NAME")
    orientation: Orientation = option(
        "auto",
        "Bars upward, or to the right with the categories from the top downward; auto: to the right where "
        "names would not fit level below, or the picture is narrow.",
    )
    legend: LegendPlace = option("above", "Where the legend is; ends: names at the ends of lines.")
    grid: GridSide = option("auto", "Whose ticks the one grid follows.")
    title_place: TitlePlace = option("left", "Where title and subtitle are.")
    title: str | None = option(
        None, "In place of the chart's own title; empty for none.", metavar="TEXT", section=_SAYS
    )
    noun: str | None = option(
        None, "What the categories are in the title, in the plural: defects.", metavar="TEXT", section=_SAYS
    )
    neutral_title: bool = option(
        False, "The plain subject as the title, in place of what the chart shows.", section=_SAYS
    )
    subtitle: str | None = option(None, "In place of the chart's own subtitle.", metavar="TEXT", section=_SAYS)
    category_title: str | None = option(None, "The title of the category axis.", metavar="TEXT", section=_SAYS)
    primary_title: str | None = option(None, "The title of the primary axis.", metavar="TEXT", section=_SAYS)
    secondary_title: str | None = option(None, "The title of the secondary axis.", metavar="TEXT", section=_SAYS)
    note: bool | str = option(
        True,
        "The small line at the foot, in place of source, filter, merges and folds.",
        metavar="TEXT",
        section=_SAYS,
        off=False,
    )
    references: tuple[Reference, ...] = option(
        (),
        "A line at a value of an axis, or at the mean or median of its series; or a band LOW:HIGH.",
        flag="--reference",
        metavar="VALUE[@secondary][=TEXT]",
        read=read_reference,
        section=_SAYS,
    )
    marks: tuple[Mark, ...] = option(
        (),
        "A date that is marked on an axis of dates, with what was done: 2026-05-12=New glaze.",
        metavar="DATE=TEXT",
        flag="--mark",
        read=read_mark,
        section=_SAYS,
    )
    colors: Mapping[str, str] = option(
        {},
        "The color of a category or a series: #rrggbb or a CSS name.",
        metavar="NAME=COLOR",
        flag="--color",
        section=_SAYS,
    )
    language: LanguageCode = option(
        "en",
        "The language of the fixed words of charts, tables and pages, and of numbers "
        "and dates; sentences stay English.",
        section=_SAYS,
    )
    words: Mapping[str, str] = option(
        {},
        "A fixed word of the chart in other words; see vantric.WORDS.",
        metavar="NAME=TEXT",
        flag="--word",
        section=_SAYS,
    )

    def __post_init__(self) -> None:
        """Check the words too."""
        super().__post_init__()
        if self.words:
            self.formatter  # noqa: B018

    @cached_property
    def tongue(self) -> Language:
        """The words and forms of the language."""
        return language(self.language)

    def of_unit(self, unit: ClockUnit | None) -> Self:
        """Return the settings for amounts in a unit: times are written as times."""
        return replace(self, clock=unit) if self.clock is None and unit is not None else self

    @cached_property
    def style(self) -> NumberStyle:
        """How numbers are written."""
        return NumberStyle.of(self, marks=self.tongue.show_numbers, percent=self.tongue.percent_sign)

    @cached_property
    def formatter(self) -> Formatter:
        """What writes the texts of the chart: the language, the style of numbers and the user's own words."""
        return Formatter(self.tongue, self.style, self.words)

    def average_text(self, kind: str, value: float, is_percent: bool) -> str:
        """Return what a mean or a median on the chart is called: ``"Mean 4.6"``."""
        text = self.style.percents(value) if is_percent else self.style.short([rounded(value)])[0]
        return self.formatter.say(f"reference {kind}", value=text)

    def moments(self, labels: Sequence[str], period: str | None) -> tuple[DateMark, ...]:
        """Return where the marked dates are on an axis of periods.

        Raises
        ------
        ChartError
            If the axis is no calendar, or a date is not on it.
        """
        if self.marks and not period:
            raise ChartError("a mark is a date, and the chart has no axis of dates; leave marks out, or give a period")
        return tuple(
            DateMark(
                date_place(mark.date, labels, period or ""),
                one_line(mark.text) or self.tongue.day(mark.date.isoformat()),
            )
            for mark in sorted(self.marks, key=lambda mark: mark.date)
        )

    def frame_settings(self, *, two: bool = False) -> dict[str, Any]:
        """Return the options of a chart that are the same for every kind; `two` if it has a secondary axis.

        Raises
        ------
        ChartError
            For an option of a secondary axis that is not there.
        """
        if not two and (self.secondary_title or self.grid == "secondary"):
            name = "secondary_title" if self.secondary_title else "grid='secondary'"
            raise ChartError(f"the chart has no secondary axis, but {name}; leave it out")
        named = ("orientation", "legend", "grid", "title_place", "theme", "font", "language")
        return {**{name: getattr(self, name) for name in named}, "size": self.size or DEFAULT_SIZE, "style": self.style}

    def check_colors(self, names: Iterable[str]) -> None:
        """Raise `ChartError` for the color of something that is not in the chart."""
        labels = list(names)
        for name in self.colors:
            if name not in labels:
                raise unknown(
                    ChartError, f"the chart has nothing called '{name}' that could have a color", name, labels
                )


_SHOWS = "What the chart shows"


class TableChartSettings(ChartSettings, section=_SHOWS):
    """The options of the chart of a Pareto table or a comparison."""

    line_at: LinePlace = option(
        "center", "Whether the line has its points over the centers of the bars or at their edges."
    )
    labels: LabelKind | Mapping[str, LabelKind] = option(
        "value", "What is written at the bars: value, percent or none.", metavar="[NAME=]KIND"
    )
    label_place: LabelPlace = option("above", "Whether the numbers of the bars are above them or inside.")
    cumulative: Cumulative = option("percent", "What the line shows; none for no line.")
    unit: str | None = option(None, "What the frequencies are in, in place of the column's name.", metavar="TEXT")

    def looks(self, *, two: bool = False) -> dict[str, Any]:
        """Return the options that the chart itself has; see `frame_settings`."""
        return {**self.frame_settings(two=two), "line_at": self.line_at, "label_place": self.label_place}

    def labels_of(self, name: str) -> LabelKind:
        """Return what is written at a series of bars."""
        return self.labels if isinstance(self.labels, str) else self.labels.get(name, self.labels.get("", "value"))

    def check_labels(self, names: Iterable[str]) -> None:
        """Raise `ChartError` for labels of a series that is not in the chart."""
        _check_names(self.labels, names)


class ComparisonChartSettings(TableChartSettings):
    """The options of the chart of a comparison."""

    form: ComparisonForm | None = option(
        None,
        "dumbbells: two joined points per category, and the change with its interval beside them; bars: pairs of bars "
        "with cumulative lines; if not given dumbbells, bars where they are to be vertical.",
    )

    @property
    def has_bars(self) -> bool:
        """Whether pairs of bars are drawn."""
        is_vertical = self.orientation == "vertical" or self.legend == "ends"
        return self.form == "bars" or (self.form is None and is_vertical)


class ParetoChartSettings(TableChartSettings):
    """The options of the chart of a Pareto table."""

    panels: bool = option(
        False, "The parts of a split side by side, each in percent of its own total, not stacked.", section="Parts"
    )
    intervals: bool = option(
        False,
        "Intervals of the shares, and the band in which bars would lie if all were equally likely.",
        section="How sure the ranking is",
    )
    concentration: bool = option(
        False,
        "Say how concentrated the frequencies are, by the effective number of categories and by Gini.",
        section="How sure the ranking is",
    )


class BarsTogether(Options, section=_SHOWS):
    """The options of several series of bars."""

    together: Together = option("grouped", "How series of bars share a place; percent: stacked to 100%.")
    gap: float = option(
        0.0, "Between grouped bars, as a share of a bar's width.", metavar="SHARE", least=0, most=2, read=read_gap
    )
    totals: bool = option(False, "Write the totals of stacks over them.")
    transpose: bool = option(False, "Exchange categories and series, or the rows and columns of a two-way table.")


class TallyChartSettings(ChartSettings, BarsTogether, section=_SHOWS):
    """The options of the chart of a tally or a two-way table."""

    values: Values = option("frequency", "What the bars show.")
    percent_of: Base = option(
        "row", "What the percents of a two-way table are of, as it is drawn.", places="python file"
    )
    order: Order | None = option(
        None,
        "frequency, given (first appearance), label, or every category in its order; of "
        "one tally by frequency if not given.",
        metavar="ORDER",
        read=read_order,
    )
    keep: int | None = option(
        None, "How many categories keep their names; the others become Other.", metavar="N", least=1
    )
    share_bar: bool = option(False, "The shares of one tally as one bar to 100%, each part named.")
    labels: SeriesLabels | Mapping[str, SeriesLabels] = option(
        "value",
        "What is written at the bars: none, auto, value, percent-of-series, percent-of-category or "
        "percent-of-total; or of one series by its name.",
        metavar="[NAME=]KIND",
        read=read_labels,
    )
    label_place: SeriesLabelPlace = option("auto", "Where the numbers of the bars are.")

    def combination(self, **texts: Any) -> CombinationChartSettings:
        """Return the options as those of a combination chart; texts are where the user says nothing else."""
        look = {field.name: getattr(self, field.name) for field in fields(ChartSettings)}
        texts_left = {name: text for name, text in texts.items() if look.get(name) is None}
        return CombinationChartSettings(**{**look, **texts_left}, gap=self.gap)

    def labels_of(self, name: str) -> SeriesLabels:
        """Return what is written at a series of bars."""
        return self.labels if isinstance(self.labels, str) else self.labels.get(name, self.labels.get("", "value"))

    def check_labels(self, names: Iterable[str]) -> None:
        """Raise `ChartError` for labels of a series that is not in the chart."""
        _check_names(self.labels, names)


class CombinationChartSettings(ChartSettings, Scaling, BarsTogether, section=_SHOWS):
    """The options of a combination chart."""

    secondary_together: Together | None = option(None, "The same for bars on the secondary axis, where it differs.")
    secondary_bars: SecondaryBars = option(
        "front", "Bars on the secondary axis: in front of the primary ones and narrower, or beside them."
    )
    percent_of: Base | None = option(
        None, "Bars in percent of each category (row), of each series (column), or of all, as they are drawn."
    )
    subject: str = option(
        "", "What the categories are, for the title and the axis.", metavar="TEXT", places="python file"
    )


class TrendChartSettings(ChartSettings, section=_SHOWS):
    """The options of the chart of categories over the periods."""


class AxisPeriod(Options, section=_SHOWS):
    """The category axis of series that are given as numbers."""

    period: Period | None = option(None, "The calendar period of dates on the category axis.")


def _check_names(labels: object, names: Iterable[str]) -> None:
    column_names = list(names)
    for name in labels if isinstance(labels, Mapping) else ():
        if name and name not in column_names:
            raise unknown(ChartError, f"the chart has no series '{name}' that could have labels", name, column_names)
