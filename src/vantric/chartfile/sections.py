"""The sections of a chart file: one for each group of options, named as the options are."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

Number = int | float
Side = Literal["primary", "secondary"]
Period = Literal["day", "week", "month", "quarter", "year"]
Kind = Literal["bars", "line", "area", "points", "stems", "steps"]
Pair = Annotated[list[Number], Field(min_length=2, max_length=2)]
#: Two limits; ``"free"`` leaves an end free, for neither TOML nor every reader of JSON has a null.
Ends = Annotated[list[Number | Literal["free"]], Field(min_length=2, max_length=2)]


class Section(BaseModel):
    """Options by name: nothing else may stand in it, and no text stands for a number."""

    model_config = ConfigDict(extra="forbid", strict=True, frozen=True)

    def said(self) -> dict[str, Any]:
        """Return the options that the file says."""
        return self.model_dump(exclude_unset=True)


class Data(Section):
    """Where the records are."""

    source: str | list[str] = Field(
        description="A file, seen from the folder of the chart file; a pattern of files; '-'; or the URL of a "
        "database, without a password. Two for a comparison of two sources."
    )
    where: str | None = Field(None, description="A standard SQL condition that records must meet.")
    sheet: str | None = Field(None, description="The sheet of a workbook.")
    table: str | None = Field(None, description="The table of a database.")
    query: str | None = Field(None, description="The query whose result is read of a database.")


class Counting(Section):
    """What is counted."""

    by: str | None = None
    count: str | None = None
    weight: str | None = None
    by_columns: list[str] | None = None
    separator: str | None = None
    unique: str | None = None
    merge_spellings: bool = False
    families: str | dict[str, str] | None = Field(
        None, description="A file of labels and families, or a table of them."
    )
    missing: Literal["exclude", "category"] = "exclude"
    dates: str | None = None


class Analysis(Section):
    """How the table is ranked, cut off and folded."""

    cut: Number | list[Number] | Literal["none"] | None = Field(None, description="In percent; 'none' for no cutoff.")
    rule: Literal["reach", "within"] = "reach"
    ties: Literal["exclude", "include"] = "exclude"
    order: str | list[str] = "frequency"
    last: list[str] = Field(default_factory=list)
    keep: int | None = None
    fold_below: Number | None = None
    rest_label: str = "Other"
    drop_zero: bool = False
    per: Number | str | dict[str, Number] | None = None
    per_units: Number = 1
    per_name: str | None = None
    split: str | None = None
    period: Period | None = None
    drill: list[str] = Field(default_factory=list)


class Sides(Section):
    """What is before and what after."""

    split: str | None = None
    before: str | None = None
    after: str | None = None
    per: str | Pair | None = Field(None, description="What each side was counted in: a column, or two numbers.")
    per_units: Number = 1
    per_name: str | None = None


class Crossing(Section):
    """The second column of a two-way table."""

    split: str


class Look(Section):
    """How any chart looks, and what it says."""

    orientation: Literal["vertical", "horizontal"] = "vertical"
    legend: Literal["above", "below", "left", "right", "ends", "none"] = "above"
    grid: Literal["auto", "primary", "secondary", "none"] = "auto"
    title_place: Literal["left", "center"] = "left"
    theme: str = "light"
    font: str = ""
    size: Pair | None = Field(None, description="Width and height in pixels.")
    title: str | None = None
    subtitle: str | None = None
    category_title: str | None = None
    primary_title: str | None = None
    secondary_title: str | None = None
    note: bool | str = True
    words: dict[str, str] = Field(default_factory=dict, description="Fixed words in another language.")
    colors: dict[str, str] = Field(default_factory=dict, description="Category or series, and its color.")
    thousands: str = ","
    decimal: str = "."
    decimals: int | None = None
    before_number: str = ""
    after_number: str = ""
    percent_sign: str = " %"
    si: bool = False


class TableLook(Look):
    """How the chart of a Pareto table or a comparison looks."""

    points: Literal["center", "edge"] = "center"
    labels: Literal["frequency", "percent", "none"] = "frequency"
    label_place: Literal["above", "inside"] = "above"
    cumulative: Literal["percent", "frequency", "none"] = "percent"
    unit: str | None = None
    panels: bool = False
    intervals: bool = False


class TallyLook(Look):
    """How the chart of a tally or a two-way table looks."""

    values: Literal["frequency", "percent"] = "frequency"
    percent_of: Literal["row", "column", "all"] = "row"
    together: Literal["grouped", "stacked", "percent", "overlaid"] = "grouped"
    transpose: bool = False
    strip: bool = False
    labels: str = "value"
    label_place: str = "auto"
    gap: Number = 0
    totals: bool = False


class Reference(Section):
    """A line at a value of an axis, or a band between two."""

    value: Number
    upto: Number | None = None
    text: str = ""
    axis: Side = "primary"


class Format(Section):
    """How the numbers of one series are written."""

    thousands: str = ","
    decimal: str = "."
    decimals: int | None = None
    before: str = ""
    after: str = ""
    percent: str = " %"
    si: bool = False


class CombinationLook(Look):
    """How a combination chart is scaled and looks."""

    policy: Literal["grid", "proportional", "common", "separate"] | None = None
    log: list[Side] = Field(default_factory=list)
    primary_limits: Ends | None = None
    secondary_limits: Ends | None = None
    zero: list[Side] = Field(default_factory=list, description="Axes that show zero, whatever stands on them.")
    without_zero: list[Side] = Field(default_factory=list, description="Axes that need not show zero.")
    meet: Pair | None = None
    headroom: Number = 0.05
    clip: bool = False
    together: Literal["grouped", "stacked", "percent", "overlaid"] = "grouped"
    gap: Number = 0
    totals: bool = False
    transpose: bool = False
    subject: str = ""
    references: list[Reference] = Field(default_factory=list)


class SeriesOptions(Section):
    """How a series is drawn."""

    kind: Kind
    axis: Side | None = None
    unit: str = ""
    labels: str | list[str] = "auto"
    label_place: Literal["auto", "above", "inside", "below", "beside"] = "auto"
    color: str = ""
    width: Number | None = None
    marker: Literal["round", "square", "diamond", "triangle", "pointer", "cross", "none"] | None = None
    marker_size: Number | None = None
    pattern: str | None = None
    order: int = 0
    bridge: bool = False
    stack: str = ""
    style: Format | None = None


class WantedSeries(SeriesOptions):
    """A series made of columns."""

    what: str = Field(description="A column, or sum:col, mean:col, ratio:a/b ..., with =NAME behind it to rename it.")


class GivenSeries(SeriesOptions):
    """A series whose values stand in the file."""

    name: str
    values: list[Number | Literal[""]] = Field(description="A number a category; '' where one is missing.")


class Combining(Section):
    """The columns that are set side by side."""

    x: str
    period: Period | None = None
    order: Literal["given", "label", "value"] = "given"
    series: list[WantedSeries] = Field(min_length=1)


class Given(Section):
    """Categories and series that stand in the file."""

    categories: list[str | Number] = Field(min_length=1)
    period: Period | None = None
    series: list[GivenSeries] = Field(min_length=1)


class Scaling(Section):
    """Two ranges that are scaled together."""

    primary: Pair
    secondary: Pair
    policy: Literal["grid", "proportional", "common", "separate"] = "grid"
    log: list[Side] = Field(default_factory=list)
    without_zero: list[Side] = Field(default_factory=list)
    primary_limits: Ends | None = None
    secondary_limits: Ends | None = None
    meet: Pair | None = None
    headroom: Number = 0.05
    clip: bool = False
