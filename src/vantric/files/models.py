"""What chart and report files hold: their sections are the option classes themselves, values spelled without null."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import field
from datetime import date
from importlib.resources import files
from pathlib import Path
from typing import Any

from vantric.base.lazily import dataclass
from vantric.base.safe_files import CHART_FILES
from vantric.core.axes.scaling import Pair, Scaling
from vantric.core.charts.settings import (
    AxisPeriod,
    CombinationChartSettings,
    ComparisonChartSettings,
    ParetoChartSettings,
    TallyChartSettings,
    TrendChartSettings,
)
from vantric.options import NOTHING, Option, Options, option
from vantric.options.option_types import FREE
from vantric.reading.settings import (
    CategorySettings,
    ComparisonSettings,
    CountSettings,
    CrosstabSettings,
    ParetoSettings,
    ReadSettings,
    TrendSettings,
)

#: TOML has no null: this word stands for it.
_NONE = "none"
_LARGEST = 1e15  # whole floats up to here are written as integers


def from_file(option: Option, value: Any) -> Any:
    """Return the value that a file spells: ``"none"`` is None where that differs from what is not given."""
    if value == _NONE and option.declared.off is None:
        return None
    if isinstance(value, list) and "None" in str(option.kind):
        return [None if item == FREE else item for item in value]
    return value


def to_file(option: Option, value: Any) -> Any:
    """Return the spelling of a value in a file."""
    if value is None and option.declared.off is None:
        return _NONE
    return plain(value)


def plain(value: Any) -> Any:
    """Return a value as TOML and JSON have it."""
    if isinstance(value, Options):
        return section(value)
    if isinstance(value, Mapping):
        return {str(name): plain(item) for name, item in value.items()}
    if isinstance(value, (list, tuple)):
        return [FREE if item is None else plain(item) for item in value]
    if isinstance(value, float) and value.is_integer() and abs(value) < _LARGEST:
        return int(value)
    if isinstance(value, date):
        return value.isoformat()[:10]
    return str(value) if isinstance(value, Path) else value


def section(options: Options) -> dict[str, Any]:
    """Return the options that are not as they are by default, as a section of a file."""
    from vantric.options import known_options

    options_by_name = known_options(type(options))
    return {
        name: to_file(options_by_name[name], value)
        for name, value in options.changed().items()
        if options_by_name[name].in_place("file")
    }


#: By this key a file says that it is a chart file.
FORMAT = "vantric/chart"
#: The key by which editors find the shape of a JSON file, and how a TOML file names it in its first line.
SCHEMA_KEY, SCHEMA_LINE = "$schema", "#:schema "
SCHEMA_ID = "urn:vantric:chart-file:2"
VERSION = 2
ENDINGS = tuple(f".{ending}" for ending in CHART_FILES)


class DataSection(ReadSettings):
    """Where the records are."""

    source: str | tuple[str, ...] = option(
        NOTHING,
        "A file, as seen from the folder of the chart file; a pattern of files; '-'; or the URL of a database, without "
        "a password. Two for a comparison of two sources.",
    )


class ScaleRanges(Scaling):
    """Two ranges that are scaled together."""

    primary: Pair = option(NOTHING, "The range of the primary axis.")
    secondary: Pair = option(NOTHING, "The range of the secondary axis.")


@dataclass(frozen=True)
class SeriesEntry:
    """One series of a chart file.

    Attributes
    ----------
    kind
        ``"bars"``, ``"line"`` and so on.
    what
        The column or measure, or the name where the values are in the file.
    options
        Option -> value.
    values
        Where they are in the file: a number a category, None where one is missing.
    """

    kind: str
    what: str
    options: Mapping[str, Any] = field(default_factory=dict)
    values: tuple[float | None, ...] = ()


@dataclass(frozen=True)
class FileShape:
    """What one kind of chart file holds.

    Attributes
    ----------
    sections
        Section -> the class of its options.
    series
        The section that holds series, and the key which says what each is.
    """

    sections: Mapping[str, type[Options]]
    series: tuple[str, str] = ("", "")


#: Kind of chart -> what its file holds.
SHAPES: dict[str, FileShape] = {
    "pareto": FileShape(
        {"data": DataSection, "counting": CountSettings, "analysis": ParetoSettings, "chart": ParetoChartSettings}
    ),
    "compare": FileShape(
        {"data": DataSection, "counting": CountSettings, "sides": ComparisonSettings, "chart": ComparisonChartSettings}
    ),
    "trend": FileShape(
        {"data": DataSection, "counting": CountSettings, "trend": TrendSettings, "chart": TrendChartSettings}
    ),
    "tally": FileShape(
        {"data": DataSection, "counting": CountSettings, "crossing": CrosstabSettings, "chart": TallyChartSettings}
    ),
    "combine": FileShape(
        {"data": DataSection, "combine": CategorySettings, "chart": CombinationChartSettings}, ("combine", "what")
    ),
    "series": FileShape({"given": AxisPeriod, "chart": CombinationChartSettings}, ("given", "name")),
    "scales": FileShape({"scales": ScaleRanges}),
}


@dataclass(frozen=True)
class ChartFile:
    """What a chart file says, checked.

    Attributes
    ----------
    kind
        Of the chart.
    parts
        Section -> its options.
    series, categories
        Where the chart is made of series: these, and the categories that are in the file.
    look
        The names and values that the file gives for the look of the chart.
    notes
        What was understood differently from how it is written: a file of an earlier version.
    """

    kind: str
    parts: Mapping[str, Any]
    series: tuple[SeriesEntry, ...] = ()
    categories: tuple[Any, ...] = ()
    look: Mapping[str, Any] = field(default_factory=dict)
    notes: tuple[str, ...] = ()


def schema_text() -> str:
    """Return the JSON Schema of chart files as it ships beside this file."""
    return files("vantric.files").joinpath("chart.schema.json").read_text(encoding="utf-8")


#: By this key a file says that it is a report file.
REPORT_FORMAT = "vantric/report"
REPORT_SCHEMA_ID = "urn:vantric:report-file:2"
REPORT_VERSION = VERSION
TEXT = "text"
#: The kinds of sections: every kind of chart, a two-way table by its own name, and text.
KINDS: dict[str, str] = {TEXT: TEXT, **{kind: kind for kind in SHAPES}, "crosstab": "tally"}


class ReportHeading(Options):
    """What is above the sections."""

    title: str = option("Report", "The title of the page.")
    text: str = option("", "Markdown below the title.")
    previous: str | Mapping[str, str] | None = option(
        None,
        "What sections are compared with: the last report as .json, a file of data, the name of a source, or for "
        "each source the name of the one that it is compared with.",
    )


class SectionHead(Options):
    """What every section has beside the tables of its kind."""

    title: str | None = option(None, "In place of the chart's own title.")
    text: str = option("", "Markdown above the chart.")
    data: str | tuple[str, ...] | None = option(
        None, "The name of a source; two for a comparison. The only source if not given."
    )
    where: str | None = option(None, "A condition on top of those of the source.")


@dataclass(frozen=True)
class ReportSection:
    """One section, checked.

    Attributes
    ----------
    place
        What messages call it: ``"section 2 (pareto)"``.
    kind
        As it is written.
    head
        What every section has.
    file
        What a chart file of the section would say, with its sources left open; None of text.
    sources
        The names of its sources.
    """

    place: str
    kind: str
    head: SectionHead
    file: ChartFile | None = None
    sources: tuple[str, ...] = ()


@dataclass(frozen=True)
class ReportFile:
    """What a report file says, checked.

    Attributes
    ----------
    shown
        What messages call it.
    heading
    sources
        Name -> how its source is opened, with the source itself.
    sections
    """

    shown: str
    heading: ReportHeading
    sources: Mapping[str, DataSection] = field(default_factory=dict)
    sections: tuple[ReportSection, ...] = ()

    def charts(self) -> Iterator[ReportSection]:
        """Yield the sections that are not text."""
        return (section for section in self.sections if section.file is not None)


def shape_of(kind: str) -> dict[str, Any]:
    """Return table -> options of a kind of section, without its data."""
    if kind == TEXT:
        return {}
    return {name: options for name, options in SHAPES[KINDS[kind]].sections.items() if name != "data"}


def report_schema_text() -> str:
    """Return the JSON Schema of report files as it ships beside this file."""
    return files("vantric.files").joinpath("report.schema.json").read_text(encoding="utf-8")
