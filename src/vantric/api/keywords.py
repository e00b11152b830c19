"""The options of the public functions by name and type, for type checkers.

Made by `make generated`; do not edit. To hold options in a variable: ``options: vantric.AggregateOptions = {...}``.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from os import PathLike
from typing import TYPE_CHECKING, Literal, TypedDict

if TYPE_CHECKING:
    from vantric.core.charts.references import Mark, Reference


class _Common1(TypedDict, total=False):
    """What AggregateOptions, CombineOptions, ParetoChartOptions, ParetoOptions, TallyOptions, TrendOptions have in common."""

    where: str | None
    sheet: Sequence[str] | str
    cells: str | None
    header: bool | None
    visible_only: bool
    table: str | None
    query: str | None
    read_numbers: str | None
    read_dates: str | None
    na: Sequence[str] | str
    keep_totals: bool | None
    fill_down: Sequence[str] | str


class _Common2(TypedDict, total=False):
    """What AggregateOptions, CombineOptions, ParetoChartOptions, ParetoOptions, ReadChartOptions, TallyOptions, TrendOptions have in common."""

    timeout: float | None
    memory: int | None
    allow_functions: bool


class _Common3(TypedDict, total=False):
    """What ChartOptions, CombineOptions, MeasuresChartOptions, TallyChartOptions have in common."""

    together: Literal["grouped", "stacked", "percent", "overlaid"]
    gap: float
    totals: bool
    transpose: bool


class _Common4(TypedDict, total=False):
    """What ChartOptions, CombineOptions, MeasuresChartOptions, ScalingOptions have in common."""

    policy: Literal["grid", "proportional", "common", "separate"] | None
    primary_limits: Sequence[float | None] | None
    secondary_limits: Sequence[float | None] | None
    primary_log: bool
    secondary_log: bool
    primary_zero: bool | None
    secondary_zero: bool | None
    meet: Sequence[float] | None
    headroom: float
    clip: bool


class _Common5(TypedDict, total=False):
    """What ChartOptions, CombineOptions, ComparisonChartOptions, MeasuresChartOptions, ParetoChartOptions, ParetoTableChartOptions, TallyChartOptions, TrendChartOptions have in common."""

    show_numbers: str | None
    decimals: int | None
    prefix: str
    suffix: str
    percent_sign: str | None
    si: bool
    theme: Literal["light", "dark", "print"]
    size: Sequence[float] | None
    font: str
    orientation: Literal["vertical", "horizontal", "auto"]
    legend: Literal["above", "below", "left", "right", "ends", "none"]
    grid: Literal["auto", "primary", "secondary", "none"]
    title_place: Literal["left", "center"]
    title: str | None
    subtitle: str | None
    category_title: str | None
    primary_title: str | None
    secondary_title: str | None
    note: bool | str
    colors: Mapping[str, str]
    language: Literal["en", "de", "es", "fr", "it", "ja", "pl", "pt", "ru", "tr", "zh"]
    words: Mapping[str, str]


class _Common6(TypedDict, total=False):
    """What ChartOptions, CombineOptions, MeasuresChartOptions have in common."""

    secondary_together: Literal["grouped", "stacked", "percent", "overlaid"] | None
    secondary_bars: Literal["front", "beside"]
    percent_of: Literal["row", "column", "all"] | None
    references: Sequence[Reference]
    subject: str


class _Common7(TypedDict, total=False):
    """What ComparisonChartOptions, ParetoChartOptions, ParetoTableChartOptions have in common."""

    line_at: Literal["center", "edge"]
    labels: Literal["value", "percent", "none"] | Mapping[str, Literal["value", "percent", "none"]]
    label_place: Literal["above", "inside"]
    cumulative: Literal["percent", "frequency", "none"]
    unit: str | None


class _Common8(TypedDict, total=False):
    """What ParetoChartOptions, ParetoOptions, TallyOptions, TrendOptions have in common."""

    count: str | Sequence[str] | str | None
    by_columns: Sequence[str] | str
    weight: str | None
    separator: str | None
    unique: str | None
    merge_spellings: bool
    families: Mapping[str, str] | str | PathLike[str] | None
    missing: Literal["exclude", "category"]
    date: str | None


class _Common9(TypedDict, total=False):
    """What ParetoChartOptions, ParetoOptions have in common."""

    cut: float | str | Sequence[float | str] | None
    rule: Literal["reach", "within"]
    ties: Literal["exclude", "include"]
    order: str | Sequence[str] | str
    last: Sequence[str] | str
    fold_below: float | None
    rest_label: str
    drop_zero: bool
    split: str | None
    drill: Sequence[str] | str


class _Common10(TypedDict, total=False):
    """What ParetoChartOptions, ParetoOptions, TrendOptions have in common."""

    per: float | str | Mapping[str, float] | None
    per_units: float
    per_name: str | None


class _Common11(TypedDict, total=False):
    """What ParetoChartOptions, ParetoTableChartOptions have in common."""

    panels: bool
    intervals: bool
    concentration: bool


class AggregateOptions(_Common1, _Common2, total=False):
    """The options of `vantric.aggregate`."""


class ChartOptions(_Common3, _Common4, _Common5, _Common6, total=False):
    """The options of `vantric.Chart`."""

    period: Literal["day", "week", "month", "quarter", "year"] | None


class CombineOptions(_Common1, _Common2, _Common3, _Common4, _Common5, _Common6, total=False):
    """The options of `vantric.combine`."""

    period: Literal["day", "week", "month", "quarter", "year"] | None
    order: Literal["given", "label", "frequency", "calendar"] | Sequence[str] | str | None
    planned: str | None
    actual: str | None


class ComparisonChartOptions(_Common5, _Common7, total=False):
    """The options of `vantric.Comparison.chart`."""


class MeasuresChartOptions(_Common3, _Common4, _Common5, _Common6, total=False):
    """The options of `vantric.Gap.chart`."""


class ParetoChartOptions(_Common1, _Common2, _Common5, _Common7, _Common8, _Common9, _Common10, _Common11, total=False):
    """The options of `vantric.pareto_chart`."""

    keep: int | None
    period: Literal["day", "week", "month", "quarter", "year"] | None


class ParetoOptions(_Common1, _Common2, _Common8, _Common9, _Common10, total=False):
    """The options of `vantric.pareto`."""

    keep: int | None
    period: Literal["day", "week", "month", "quarter", "year"] | None


class ParetoTableChartOptions(_Common5, _Common7, _Common11, total=False):
    """The options of `vantric.ParetoTable.chart`."""


class ReadChartOptions(_Common2, total=False):
    """The options of `vantric.read_chart`."""

    allow_source: bool


class ScalingOptions(_Common4, total=False):
    """The options of `vantric.align`."""


class TallyChartOptions(_Common3, _Common5, total=False):
    """The options of `vantric.Crosstab.chart`."""

    values: Literal["frequency", "percent"]
    percent_of: Literal["row", "column", "all"]
    order: str | Sequence[str] | str | None
    keep: int | None
    strip: bool
    labels: Literal["none", "auto", "value", "percent of series", "percent of category", "percent of total"] | Mapping[str, Literal["none", "auto", "value", "percent of series", "percent of category", "percent of total"]]
    label_place: Literal["auto", "above", "inside", "below", "beside"]


class TallyOptions(_Common1, _Common2, _Common8, total=False):
    """The options of `vantric.compare`."""


class TrendChartOptions(_Common5, total=False):
    """The options of `vantric.Trend.chart`."""

    marks: Sequence[Mark]


class TrendOptions(_Common1, _Common2, _Common8, _Common10, total=False):
    """The options of `vantric.trend`."""

    period: Literal["day", "week", "month", "quarter", "year"]
    categories: Sequence[str] | str
    measure: Literal["frequency", "rate", "percent"] | None
