"""The options of a chart, as users write them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, TypedDict

from vantric.core.charting import Wish, Wording
from vantric.core.composing import TallyWish
from vantric.core.numbers.style import NumberStyle
from vantric.drawing.colors import as_color
from vantric.drawing.theme import theme_named
from vantric.errors import ChartError


class LookOptions(TypedDict, total=False):
    """How any chart looks; see `vantric.pareto_chart`."""

    orientation: str
    legend: str
    grid: str
    title_place: str
    theme: str
    font: str
    size: tuple[float, float] | str
    title: str | None
    subtitle: str | None
    category_title: str | None
    primary_title: str | None
    secondary_title: str | None
    note: bool | str
    words: Mapping[str, str]
    colors: Mapping[str, str]
    thousands: str
    decimal: str
    decimals: int | None
    before_number: str
    after_number: str
    percent_sign: str
    si: bool


class ChartOptions(LookOptions, total=False):
    """How the chart of a table looks; see `vantric.pareto_chart`."""

    points: str
    labels: str
    label_place: str
    cumulative: str
    unit: str | None
    intervals: bool


class TallyChartOptions(LookOptions, total=False):
    """How the chart of a tally or a two-way table looks; see `Tally.chart` and `Crosstab.chart`."""

    values: str
    percent_of: str
    together: str
    transpose: bool
    strip: bool
    labels: str
    label_place: str
    gap: float
    totals: bool


_STYLE = {
    "thousands": "thousands", "decimal": "decimal", "decimals": "decimals", "before_number": "before",
    "after_number": "after", "percent_sign": "percent", "si": "si",
}  # fmt: skip
CHART_OPTIONS = tuple(ChartOptions.__annotations__)


def read_wish(options: Mapping[str, Any]) -> Wish:
    """Return the options of a chart as the core takes them, or raise `ChartError` for one that cannot be met."""
    return Wish(**read_look(options))


def read_tally_wish(options: Mapping[str, Any]) -> TallyWish:
    """Return the options of the chart of a tally as the core takes them, or raise `ChartError`."""
    given = read_look(options)
    if isinstance(given.get("labels"), str):
        given["labels"] = given["labels"].replace("-", " ")
    return TallyWish(**given)


def read_look(options: Mapping[str, Any]) -> dict[str, Any]:
    """Return the options that every chart has as the core takes them; others stay as they are."""
    given = dict(options)
    style = NumberStyle(**{_STYLE[name]: given.pop(name) for name in _STYLE if name in given})
    wording = Wording(dict(given.pop("words", None) or {}), style)
    colors = {name: as_color(color) for name, color in (given.pop("colors", None) or {}).items()}
    if "size" in given:
        given["size"] = read_size(given["size"])
    if "theme" in given:
        theme_named(given["theme"])
    if given.get("font"):
        from vantric.drawing.fonts import installed

        given["font"] = installed(given["font"])
    return {**given, "wording": wording, "colors": colors}


def read_size(size: object) -> tuple[float, float]:
    """Return ``(1280, 800)`` or ``"1280x800"`` as width and height, or raise `ChartError`."""
    parts: Any = size.lower().split("x") if isinstance(size, str) else size
    try:
        width, height = map(float, parts)
    except (TypeError, ValueError):
        raise ChartError(f"a size is width x height in pixels, such as 1280x800; {size} is not") from None
    return width, height
