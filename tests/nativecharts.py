"""Native charts of a workbook as its parts say them: series with their cells, axes, labels; and where marks stand."""

from __future__ import annotations

import io
import math
import re
from dataclasses import dataclass, field
from typing import Any
from xml.etree import ElementTree
from zipfile import ZipFile

C = "{http://schemas.openxmlformats.org/drawingml/2006/chart}"
A = "{http://schemas.openxmlformats.org/drawingml/2006/main}"
_DRAWING = "{http://schemas.openxmlformats.org/drawingml/2006/spreadsheetDrawing}"


@dataclass
class NativeSeries:
    kind: str
    name: str
    name_cell: str
    category_cells: str
    value_cells: str
    categories: list[str]
    values: list[float | None]
    axes: tuple[str, ...]
    shows: set[str] = field(default_factory=set)
    labels: dict[int, tuple[str, str]] = field(default_factory=dict)
    color: str = ""
    line: bool = True
    grouping: str = ""


@dataclass
class NativeChart:
    title: str
    series: list[NativeSeries]
    axes: dict[str, dict[str, Any]]
    unlisted: set[int]
    alternative: str = ""

    def value_axis(self, one: NativeSeries) -> dict[str, Any]:
        return next(self.axes[name] for name in one.axes if self.axes[name]["kind"] == "valAx")

    def upper(self, one: NativeSeries) -> float:
        """Return where the axis of a series ends: where it says, or at the next nice number above its data."""
        axis = self.value_axis(one)
        if axis["max"] is not None:
            return float(axis["max"])
        same = [other for other in self.series if self.value_axis(other) is axis]
        largest = max(value for other in same for value in other.values if value is not None)
        unit = 10.0 ** math.floor(math.log10(largest or 1)) / 2
        return math.ceil(largest * 1.05 / unit) * unit

    def height(self, one: NativeSeries, at: int) -> float | None:
        """Return how high a mark stands, as a share of the height of the plot."""
        value, low = one.values[at], self.value_axis(one)["min"] or 0.0
        return None if value is None else (value - low) / (self.upper(one) - low)


def native_charts(content: bytes) -> list[NativeChart]:
    """Return the charts of a workbook in the order of its parts."""
    with ZipFile(io.BytesIO(content)) as book:
        names = sorted((n for n in book.namelist() if re.fullmatch(r"xl/charts/chart\d+\.xml", n)), key=_number)
        charts = [_chart(ElementTree.fromstring(book.read(name))) for name in names]
        texts = []
        for name in sorted(
            (n for n in book.namelist() if re.fullmatch(r"xl/drawings/drawing\d+\.xml", n)), key=_number
        ):
            root = ElementTree.fromstring(book.read(name))
            texts += [one.get("descr", "") for one in root.iter(f"{_DRAWING}cNvPr")]
    for chart, text in zip(charts, texts, strict=False):
        chart.alternative = text
    return charts


def _number(name: str) -> int:
    return int(re.findall(r"\d+", name)[-1])


def _chart(root: ElementTree.Element) -> NativeChart:
    plot = root.find(f".//{C}plotArea")
    assert plot is not None
    series: list[NativeSeries] = []
    axes: dict[str, dict[str, Any]] = {}
    for group in plot:
        kind = group.tag.removeprefix(C)
        ids = tuple(one.get("val", "") for one in group.findall(f"{C}axId"))
        if kind.endswith("Chart"):
            grouping = _value(group, "grouping")
            direction = _value(group, "barDir")
            series += [
                _series(one, f"{kind}:{direction}" if direction else kind, ids, grouping)
                for one in group.findall(f"{C}ser")
            ]
        elif kind.endswith("Ax"):
            scaling = group.find(f"{C}scaling")
            assert scaling is not None
            axes[ids[0]] = {
                "kind": kind,
                "min": _number_of(scaling, "min"),
                "max": _number_of(scaling, "max"),
                "log": _number_of(scaling, "logBase"),
                "step": _number_of(group, "majorUnit"),
                "title": "".join(one.text or "" for one in group.findall(f"{C}title//{A}t")),
                "deleted": _value(group, "delete") == "1",
                "side": _value(group, "axPos"),
                "reversed": _value(scaling, "orientation") == "maxMin",
            }
    unlisted = {int(_value(one, "idx")) for one in root.iter(f"{C}legendEntry")}
    title = root.find(f".//{C}chart/{C}title")
    words = [] if title is None else [one.text or "" for one in (*title.iter(f"{C}v"), *title.iter(f"{A}t"))]
    return NativeChart("".join(words), series, axes, unlisted)


def _series(one: ElementTree.Element, kind: str, axes: tuple[str, ...], grouping: str) -> NativeSeries:
    name, categories, values = (one.find(f"{C}{part}") for part in ("tx", "cat", "val"))
    assert values is not None
    assert name is not None
    assert categories is not None
    shows = {
        flag
        for flag in ("showVal", "showSerName")
        if (found := one.find(f"{C}dLbls/{C}{flag}")) is not None and found.get("val") == "1"
    }
    labels = {}
    for label in one.findall(f"{C}dLbls/{C}dLbl"):
        if _value(label, "delete") != "1":
            labels[int(_value(label, "idx"))] = (_cells(label), "".join(v.text or "" for v in label.iter(f"{C}v")))
    color = one.find(f"{C}spPr//{A}srgbClr")
    return NativeSeries(
        kind,
        "".join(_cache(name)),
        _cells(name),
        _cells(categories),
        _cells(values),
        [text or "" for text in _cache(categories)],
        [None if text in (None, "") else float(str(text)) for text in _cache(values)],
        axes,
        shows,
        labels,
        "" if color is None else f"#{color.get('val')}",
        one.find(f"{C}spPr/{A}ln/{A}noFill") is None,
        grouping,
    )


def _cells(part: ElementTree.Element) -> str:
    return "".join(one.text or "" for one in part.iter(f"{C}f"))


def _cache(part: ElementTree.Element) -> list[Any]:
    count = next((int(one.get("val", "0")) for one in part.iter(f"{C}ptCount")), 0)
    found: list[Any] = [None] * count
    for point in part.iter(f"{C}pt"):
        found[int(point.get("idx", "0"))] = "".join(v.text or "" for v in point.iter(f"{C}v"))
    return found


def _value(part: ElementTree.Element, name: str) -> str:
    found = part.find(f"{C}{name}")
    return "" if found is None else found.get("val", "")


def _number_of(part: ElementTree.Element, name: str) -> float | None:
    text = _value(part, name)
    return float(text) if text else None
