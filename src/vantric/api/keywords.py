"""The options of the public functions by name and type, for type checkers.

Made by `make generated`; do not edit. To hold options in a variable: ``options: vantric.AggregateOptions = {...}``.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from os import PathLike
from typing import TYPE_CHECKING, Literal, TypedDict

if TYPE_CHECKING:
    from vantric.core.charting.references import Mark
    from vantric.core.charting.references import Reference


class AggregateOptions(TypedDict, total=False):
    """The options of `vantric.aggregate`."""

    where: str | None
    sheet: Sequence[str] | str
    cells: str | None
    header: bool | None
    visible_only: bool
    table: str | None
    query: str | None
    timeout: float | None
    memory: int | None
    allow_functions: bool
    read_numbers: str | None
    read_dates: str | None
    na: Sequence[str] | str
    keep_totals: bool | None
    fill_down: Sequence[str] | str


class ChartOptions(TypedDict, total=False):
    """The options of `vantric.Chart`."""

    together: Literal["grouped", "stacked", "percent", "overlaid"]
    gap: float
    totals: bool
    transpose: bool
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
    secondary_together: Literal["grouped", "stacked", "percent", "overlaid"] | None
    secondary_bars: Literal["front", "beside"]
    percent_of: Literal["row", "column", "all"] | None
    references: Sequence[Reference]
    subject: str
    period: Literal["day", "week", "month", "quarter", "year"] | None


class CombineOptions(TypedDict, total=False):
    """The options of `vantric.combine`."""

    period: Literal["day", "week", "month", "quarter", "year"] | None
    order: Literal["given", "label", "frequency", "calendar"] | Sequence[str] | str | None
    planned: str | None
    actual: str | None
    together: Literal["grouped", "stacked", "percent", "overlaid"]
    gap: float
    totals: bool
    transpose: bool
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
    secondary_together: Literal["grouped", "stacked", "percent", "overlaid"] | None
    secondary_bars: Literal["front", "beside"]
    percent_of: Literal["row", "column", "all"] | None
    references: Sequence[Reference]
    subject: str
    where: str | None
    sheet: Sequence[str] | str
    cells: str | None
    header: bool | None
    visible_only: bool
    table: str | None
    query: str | None
    timeout: float | None
    memory: int | None
    allow_functions: bool
    read_numbers: str | None
    read_dates: str | None
    na: Sequence[str] | str
    keep_totals: bool | None
    fill_down: Sequence[str] | str


class ComparisonChartOptions(TypedDict, total=False):
    """The options of `vantric.Comparison.chart`."""

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
    line_at: Literal["center", "edge"]
    labels: Literal["value", "percent", "none"] | Mapping[str, Literal["value", "percent", "none"]]
    label_place: Literal["above", "inside"]
    cumulative: Literal["percent", "frequency", "none"]
    unit: str | None


class MeasuresChartOptions(TypedDict, total=False):
    """The options of `vantric.Gap.chart`."""

    together: Literal["grouped", "stacked", "percent", "overlaid"]
    gap: float
    totals: bool
    transpose: bool
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
    secondary_together: Literal["grouped", "stacked", "percent", "overlaid"] | None
    secondary_bars: Literal["front", "beside"]
    percent_of: Literal["row", "column", "all"] | None
    references: Sequence[Reference]
    subject: str


class ParetoChartOptions(TypedDict, total=False):
    """The options of `vantric.pareto_chart`."""

    count: str | Sequence[str] | str | None
    by_columns: Sequence[str] | str
    weight: str | None
    separator: str | None
    unique: str | None
    merge_spellings: bool
    families: Mapping[str, str] | str | PathLike[str] | None
    missing: Literal["exclude", "category"]
    date: str | None
    where: str | None
    sheet: Sequence[str] | str
    cells: str | None
    header: bool | None
    visible_only: bool
    table: str | None
    query: str | None
    timeout: float | None
    memory: int | None
    allow_functions: bool
    read_numbers: str | None
    read_dates: str | None
    na: Sequence[str] | str
    keep_totals: bool | None
    fill_down: Sequence[str] | str
    cut: float | str | Sequence[float | str] | None
    rule: Literal["reach", "within"]
    ties: Literal["exclude", "include"]
    order: str | Sequence[str] | str
    last: Sequence[str] | str
    keep: int | None
    fold_below: float | None
    rest_label: str
    drop_zero: bool
    per: float | str | Mapping[str, float] | None
    per_units: float
    per_name: str | None
    split: str | None
    period: Literal["day", "week", "month", "quarter", "year"] | None
    drill: Sequence[str] | str
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
    line_at: Literal["center", "edge"]
    labels: Literal["value", "percent", "none"] | Mapping[str, Literal["value", "percent", "none"]]
    label_place: Literal["above", "inside"]
    cumulative: Literal["percent", "frequency", "none"]
    unit: str | None
    panels: bool
    intervals: bool
    concentration: bool


class ParetoOptions(TypedDict, total=False):
    """The options of `vantric.pareto`."""

    count: str | Sequence[str] | str | None
    by_columns: Sequence[str] | str
    weight: str | None
    separator: str | None
    unique: str | None
    merge_spellings: bool
    families: Mapping[str, str] | str | PathLike[str] | None
    missing: Literal["exclude", "category"]
    date: str | None
    where: str | None
    sheet: Sequence[str] | str
    cells: str | None
    header: bool | None
    visible_only: bool
    table: str | None
    query: str | None
    timeout: float | None
    memory: int | None
    allow_functions: bool
    read_numbers: str | None
    read_dates: str | None
    na: Sequence[str] | str
    keep_totals: bool | None
    fill_down: Sequence[str] | str
    cut: float | str | Sequence[float | str] | None
    rule: Literal["reach", "within"]
    ties: Literal["exclude", "include"]
    order: str | Sequence[str] | str
    last: Sequence[str] | str
    keep: int | None
    fold_below: float | None
    rest_label: str
    drop_zero: bool
    per: float | str | Mapping[str, float] | None
    per_units: float
    per_name: str | None
    split: str | None
    period: Literal["day", "week", "month", "quarter", "year"] | None
    drill: Sequence[str] | str


class ParetoTableChartOptions(TypedDict, total=False):
    """The options of `vantric.ParetoTable.chart`."""

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
    line_at: Literal["center", "edge"]
    labels: Literal["value", "percent", "none"] | Mapping[str, Literal["value", "percent", "none"]]
    label_place: Literal["above", "inside"]
    cumulative: Literal["percent", "frequency", "none"]
    unit: str | None
    panels: bool
    intervals: bool
    concentration: bool


class ReadChartOptions(TypedDict, total=False):
    """The options of `vantric.read_chart`."""

    timeout: float | None
    memory: int | None
    allow_functions: bool
    allow_source: bool


class ScalingOptions(TypedDict, total=False):
    """The options of `vantric.align`."""

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


class TallyChartOptions(TypedDict, total=False):
    """The options of `vantric.Crosstab.chart`."""

    together: Literal["grouped", "stacked", "percent", "overlaid"]
    gap: float
    totals: bool
    transpose: bool
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
    values: Literal["frequency", "percent"]
    percent_of: Literal["row", "column", "all"]
    order: str | Sequence[str] | str | None
    keep: int | None
    strip: bool
    labels: Literal["none", "auto", "value", "percent of series", "percent of category", "percent of total"] | Mapping[str, Literal["none", "auto", "value", "percent of series", "percent of category", "percent of total"]]
    label_place: Literal["auto", "above", "inside", "below", "beside"]


class TallyOptions(TypedDict, total=False):
    """The options of `vantric.compare`."""

    count: str | Sequence[str] | str | None
    by_columns: Sequence[str] | str
    weight: str | None
    separator: str | None
    unique: str | None
    merge_spellings: bool
    families: Mapping[str, str] | str | PathLike[str] | None
    missing: Literal["exclude", "category"]
    date: str | None
    where: str | None
    sheet: Sequence[str] | str
    cells: str | None
    header: bool | None
    visible_only: bool
    table: str | None
    query: str | None
    timeout: float | None
    memory: int | None
    allow_functions: bool
    read_numbers: str | None
    read_dates: str | None
    na: Sequence[str] | str
    keep_totals: bool | None
    fill_down: Sequence[str] | str


class TrendChartOptions(TypedDict, total=False):
    """The options of `vantric.Trend.chart`."""

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
    marks: Sequence[Mark]


class TrendOptions(TypedDict, total=False):
    """The options of `vantric.trend`."""

    count: str | Sequence[str] | str | None
    by_columns: Sequence[str] | str
    weight: str | None
    separator: str | None
    unique: str | None
    merge_spellings: bool
    families: Mapping[str, str] | str | PathLike[str] | None
    missing: Literal["exclude", "category"]
    date: str | None
    where: str | None
    sheet: Sequence[str] | str
    cells: str | None
    header: bool | None
    visible_only: bool
    table: str | None
    query: str | None
    timeout: float | None
    memory: int | None
    allow_functions: bool
    read_numbers: str | None
    read_dates: str | None
    na: Sequence[str] | str
    keep_totals: bool | None
    fill_down: Sequence[str] | str
    per_units: float
    per_name: str | None
    period: Literal["day", "week", "month", "quarter", "year"]
    categories: Sequence[str] | str
    measure: Literal["frequency", "rate", "percent"] | None
    per: float | str | Mapping[str, float] | None
