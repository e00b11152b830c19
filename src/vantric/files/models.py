"""What a chart file holds: the sections of each kind of chart are the option classes themselves."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from importlib.resources import files
from typing import Any

from vantric.base.safe_files import CHART_FILES
from vantric.core.axes.options import Pair, Scaling
from vantric.core.charts.settings import AxisPeriod, CombinationLook, Look, ParetoLook, TableLook, TallyLook, TrendLook
from vantric.options import NOTHING, Options, option
from vantric.reading.settings import Analysis, Categories, Counting, Crossing, Opening, Sides, Trending

FORMAT = "vantric/chart"
VERSION = 2
ENDINGS = tuple(f".{ending}" for ending in CHART_FILES)


class Data(Opening):
    """Where the records are."""

    source: str | tuple[str, ...] = option(
        NOTHING,
        "A file, as seen from the folder of the chart file; a pattern of files; '-'; or the URL of a database, without "
        "a password. Two for a comparison of two sources.",
    )


class Ranges(Scaling):
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
class Shape:
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
SHAPES: dict[str, Shape] = {
    "pareto": Shape({"data": Data, "counting": Counting, "analysis": Analysis, "chart": ParetoLook}),
    "compare": Shape({"data": Data, "counting": Counting, "sides": Sides, "chart": TableLook}),
    "trend": Shape({"data": Data, "counting": Counting, "trend": Trending, "chart": TrendLook}),
    "tally": Shape({"data": Data, "counting": Counting, "crossing": Crossing, "chart": TallyLook}),
    "combine": Shape({"data": Data, "combine": Categories, "chart": CombinationLook}, ("combine", "what")),
    "series": Shape({"given": AxisPeriod, "chart": CombinationLook}, ("given", "name")),
    "scales": Shape({"scales": Ranges}),
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

    @property
    def look_kind(self) -> type[Look] | None:
        """The class of the options of its look."""
        kind = SHAPES[self.kind].sections.get("chart")
        return kind if kind is not None and issubclass(kind, Look) else None


def schema_text() -> str:
    """Return the JSON Schema of chart files as it ships beside this file."""
    return files("vantric.files").joinpath("chart.schema.json").read_text(encoding="utf-8")
