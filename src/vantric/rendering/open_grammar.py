"""A chart in an open grammar, Vega-Lite (version 6): our scales, ticks and values; label places it has none for."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

import numpy as np

from vantric.base.lazily import cached_property, compiled, dataclass
from vantric.base.safe_text import Plain
from vantric.core.charts.chart import Chart
from vantric.core.charts.series import Bars
from vantric.core.layout.category_labels import MONTHS, side_period_labels
from vantric.core.layout.marks import front
from vantric.core.layout.plan import is_pale, point_role
from vantric.core.layout.value_axes import ValueAxis, shown_ticks, value_axes
from vantric.core.numbers.number_format import text_line
from vantric.errors import ChartError
from vantric.rendering.themes import SHADE, theme_named, unit_of

if TYPE_CHECKING:
    from vantric.core.axes import Scale
    from vantric.core.charts.bar_places import BarPlace
    from vantric.core.charts.references import DateMark, Reference
    from vantric.core.charts.series import Series
    from vantric.core.layout import Plan

SCHEMA = "https://vega.github.io/schema/vega-lite/v6.json"
#: The fields of the categories and of a series' name, where no series has these names.
_CATEGORY, _SERIES = "category", "series"
_DASHES = {"dashed": [8, 4], "dotted": [2, 3], "dash-dot": [8, 4, 2, 4]}
_SHAPES = {"round": "circle", "pointer": "triangle-down", "triangle": "triangle-up", "stroke": "stroke"}
#: Signs in the name of a field that would lead into an object, or end the text that it stands in.
_LIVE = compiled(r"[\\.\[\]'\"]")
_LOW, _HIGH = " from", " to"  # of a bar that is on another
_SPREAD, _BAND = (" low", " high"), (" band low", " band high")


def grammar_of(chart: Chart, plan: Plan) -> dict[str, Any]:
    """Return a chart as a Vega-Lite specification.

    Parameters
    ----------
    chart
        What is shown.
    plan
        How large its frame is, in pixels: the specification's width and height.

    Raises
    ------
    ChartError
        If the chart is another form than bars, lines, areas, points and stems on categories.

    References
    ----------
    Satyanarayan, A., Moritz, D., Wongsuphasawat, K. and Heer, J. (2017), "Vega-Lite: a grammar of interactive
    graphics", IEEE TVCG 23(1).
    """
    if chart.is_share_bar or chart.columns or chart.joined or chart.ribbon:
        raise ChartError("only Pareto and combination charts are written as .vl.json; take .svg or .png for this one")
    if len(set(chart.categories)) < len(chart.categories):
        raise ChartError("two categories have one name, which .vl.json cannot tell apart; rename one")
    return _Grammar(chart, plan).specification()


@dataclass(frozen=True)
class _Side:
    """One value axis: its scale and how it is written, and the channel that it is."""

    scale: Scale
    axis: ValueAxis | None
    title: str
    is_secondary: bool


class _Grammar:
    """Writes one chart."""

    def __init__(self, chart: Chart, plan: Plan) -> None:
        self._chart, self._plan, self._theme = chart, plan, theme_named(chart.theme)
        self._across, self._up = ("y", "x") if chart.horizontal else ("x", "y")
        self._names = _field_names(chart)
        self._legend = self._named()
        written = value_axes(chart, plan.scales)
        self._sides = [
            _Side(plan.scales.primary, written[0], chart.primary_title, False),
            _Side(plan.scales.secondary, written[1], chart.secondary_title, True),
        ]

    def _named(self) -> dict[str, str]:
        """Return the name and color of each series, where an axis has several."""
        chart, guides = self._chart, self._chart.guides
        sides = [[item for item in chart.series if item.secondary is side] for side in (False, True)]
        if max(map(len, sides)) < 2:
            return {}
        colors = {}
        for series in chart.series:
            roles = set(series.roles()) if isinstance(series, Bars) else {""}
            if len(roles) == 1 and series.name not in guides:
                role = next(iter(roles))
                colors[series.name] = self._theme.color(role) if role else self._color(series)
        return colors

    def specification(self) -> dict[str, Any]:
        """Return the whole specification."""
        chart, frame = self._chart, self._plan.frame
        unit = max(unit_of(self._plan), 0.8)
        groups = [group for group in map(self._group, self._sides) if group["layer"]]
        return {
            "$schema": SCHEMA,
            **({"title": self._title()} if chart.title else {}),
            "description": self._plan.description,
            "width": round(frame.width, 3),
            "height": round(frame.height, 3),
            "background": self._theme.ground,
            "data": {"values": self._rows()},
            "layer": groups,
            "resolve": {"scale": {self._up: "independent"}},
            "config": {
                "view": {"stroke": None},
                "title": {"fontSize": round(22 * unit), "subtitleFontSize": round(15 * unit)},
                "axis": {
                    "gridColor": self._theme.color("grid"),
                    "domainColor": self._theme.color("axis"),
                    "tickColor": self._theme.color("axis"),
                    "titleColor": self._theme.color("axis-title"),
                    "labelFontSize": round(13 * unit),
                    "titleFontSize": round(13 * unit),
                },
                "legend": {
                    "orient": "top",
                    "title": None,
                    "labelColor": self._theme.color("legend"),
                    "labelFontSize": round(13 * unit),
                },
            },
            **({"usermeta": {"note": chart.note}} if chart.note else {}),
        }

    def _title(self) -> Plain:
        lines = {role: [mark.text for mark in self._plan.texts if mark.role == role] for role in ("title", "subtitle")}
        return {
            "text": lines["title"] or [self._chart.title],
            **({"subtitle": lines["subtitle"]} if lines["subtitle"] else {}),
            "anchor": "middle" if self._chart.title_place == "center" else "start",
            "color": self._theme.color("title"),
            "subtitleColor": self._theme.color("subtitle"),
        }

    def _rows(self) -> list[dict[str, Any]]:
        """Return a row a category with the values of all series; of a bar on another where it starts and ends."""
        rows: list[dict[str, Any]] = [{self._names[None]: name} for name in self._chart.categories]
        for number, series in enumerate(self._chart.series):
            for row, value in zip(rows, series.values, strict=True):
                row[self._names[number]] = _plain(value)
        for number, place in self._places.items():
            if _is_on_another(self._chart.series[number], place):
                for index, row in enumerate(rows):
                    row[self._names[number] + _LOW] = _plain(float(place.low[index]))
                    row[self._names[number] + _HIGH] = _plain(float(place.high[index]))
        for number, series in enumerate(self._chart.series):
            for ends, (low, high) in ((series.spreads, _SPREAD), (_band(series), _BAND)):
                for row, pair in zip(rows, ends, strict=False):
                    row[self._names[number] + low], row[self._names[number] + high] = map(_plain, pair)
        return rows

    @cached_property
    def _places(self) -> dict[int, BarPlace]:
        """Where the bars of each series are, by its number."""
        numbers = [number for number, series in enumerate(self._chart.series) if isinstance(series, Bars)]
        slot = abs(float(np.diff(self._plan.centers[:2])[0])) if len(self._plan.centers) > 1 else np.inf
        return dict(zip(numbers, self._chart.bar_places(slot), strict=True))

    def _group(self, side: _Side) -> Plain:
        """Return the layers of one value axis, which share its scale."""
        layers = [
            layer
            for number, series in sorted(enumerate(self._chart.series), key=lambda pair: front(pair[1]))
            if series.secondary is side.is_secondary
            for layer in self._layers(number, series, side)
        ]
        layers += [self._limit(item, side) for item in self._chart.references if self._is_of(item, side)]
        layers += [] if side.is_secondary else list(map(self._moment, self._chart.moments))
        if layers and self._chart.cuts and (side.is_secondary or not self._chart.secondary_axis):
            layers.insert(0, self._cut(side))
        return {"layer": layers}

    @staticmethod
    def _is_of(reference: Reference, side: _Side) -> bool:
        return (reference.axis == "secondary") is side.is_secondary

    def _layers(self, number: int, series: Series, side: _Side) -> list[Plain]:
        name = self._names[number]
        spreads = [self._interval(number, side)] if series.spreads else []
        if isinstance(series, Bars):
            behind = [self._even_band(number, side)] if series.band else []
            return [*behind, self._bars(number, series, side), *spreads]
        color = self._color(series)
        up = {"field": name, "type": "quantitative", **self._value_axis(side)}
        encoding = {self._across: self._category(self._line_place()), self._up: up, "tooltip": self._tooltip(number)}
        encoding |= {"color": self._named_color(series, color)}
        mark: dict[str, Any] = {"strokeWidth": round(self._width(series), 2), "clip": False}
        if series.pattern in _DASHES:
            mark["strokeDash"] = _DASHES[series.pattern]
        layer: dict[str, Any] = {**self._transform(series, name), "encoding": encoding}
        point = {"type": "point", "filled": True, "opacity": 1, "size": 45, **self._shape(series)}
        if series.kind == "points":
            return [*spreads, {**layer, "mark": point}]
        if series.kind == "stems":
            foot = {**encoding, f"{self._up}2": {"datum": self._floor(side)}}
            return [{**layer, "mark": {"type": "rule", **mark}, "encoding": foot}, {**layer, "mark": point}]
        if series.kind == "area":
            foot = {**encoding, f"{self._up}2": {"datum": self._floor(side)}}
            return [{**layer, "mark": {"type": "area", "opacity": SHADE}, "encoding": foot}]
        line = {"type": "line", **mark, **({"interpolate": "step"} if series.kind == "steps" else {})}
        points = {"point": {"filled": True, "size": 45}} if series.kind == "line" else {}
        return [{**layer, "mark": {**line, **points}}]

    def _bars(self, number: int, bars: Bars, side: _Side) -> Plain:
        """Return a series of bars: each from its start to its end, in its part of the place of the category."""
        place, name = self._places[number], self._names[number]
        # Stacks are worked out here: the grammar's own would count missing values as zero.
        first, last = (name + _LOW, name + _HIGH) if _is_on_another(bars, place) else ("", name)
        start = {"field": first} if first else {"datum": self._floor(side)}
        mark: dict[str, Any] = {"type": "bar", "width": {"band": round(place.width, 6)}, "cornerRadius": 0}
        if place.start + place.width / 2 != 0.5:
            shift = (place.start + place.width / 2 - 0.5) * self._slot()
            mark[f"{self._across}Offset"] = round(shift, 3)
        rims = [f"rim-{role}" for role in bars.roles() if is_pale(role)]
        if rims:  # pale bars are outlined: on white they would hardly be seen
            mark |= {"stroke": self._theme.color(rims[0]), "strokeWidth": 0.7}
        if self._chart.horizontal:
            mark["height"] = mark.pop("width")
        encoding: dict[str, Any] = {
            self._across: self._category(0.5),
            self._up: {"field": last, "type": "quantitative", "stack": None, **self._value_axis(side)},
            f"{self._up}2": start,
            "color": self._bar_colors(bars),
            "tooltip": self._tooltip(number),
        }
        return {**self._transform(bars, name), "mark": mark, "encoding": encoding}

    def _interval(self, number: int, side: _Side) -> Plain:
        """Return the interval of each bar or point as a line over it."""
        mark = {"type": "rule", "color": self._theme.color("interval"), "strokeWidth": 1.3}
        return {"mark": mark, "encoding": self._between(number, side, _SPREAD)}

    def _even_band(self, number: int, side: _Side) -> Plain:
        """Return the band in which bars would be by chance alone, as wide as the categories."""
        mark: dict[str, Any] = {"type": "bar", "color": self._theme.color("band")}
        mark["height" if self._chart.horizontal else "width"] = {"band": 1}
        return {"mark": mark, "encoding": self._between(number, side, _BAND)}

    def _between(self, number: int, side: _Side, suffixes: tuple[str, str]) -> dict[str, Any]:
        low, high = (self._names[number] + suffix for suffix in suffixes)
        return {
            self._across: self._category(0.5),
            self._up: {"field": low, "type": "quantitative", **self._value_axis(side)},
            f"{self._up}2": {"field": high},
        }

    def _moment(self, moment: DateMark) -> Plain:
        """Return a marked date as a line across the categories."""
        last = len(self._chart.categories) - 1
        index = min(max(int(moment.place), 0), last)
        share = min(max(moment.place - index, 0.0), 1.0)
        place = {**self._category(share), "datum": self._chart.categories[index]}
        place.pop("field")
        return {
            "mark": {"type": "rule", "color": self._theme.color("moment"), "tooltip": moment.text or None},
            "encoding": {self._across: place},
        }

    def _bar_colors(self, bars: Bars) -> Plain:
        """Return the color of each bar: of one role the color, of several a condition a role."""
        roles = bars.roles()
        if len(set(roles)) == 1:
            return self._named_color(bars, self._theme.color(roles[0]))
        first, *others = dict.fromkeys(roles)
        category = f"datum[{json.dumps(self._names[None])}]"
        conditions = []
        for role in others:
            own = [name for name, part in zip(self._chart.categories, roles, strict=True) if part == role]
            test = f"indexof({json.dumps(own)}, {category}) >= 0"
            conditions.append({"test": test, "value": self._theme.color(role)})
        return {**({"condition": conditions} if conditions else {}), "value": self._theme.color(first)}

    def _named_color(self, series: Series, color: str) -> Plain:
        """Return the color of a series: where the axes do not name all of them, by its name, with a legend."""
        if series.name not in self._legend:
            return {"value": color}
        scale = {"domain": list(self._legend), "range": list(self._legend.values())}
        return {"field": _SERIES, "type": "nominal", "scale": scale}

    def _transform(self, series: Series, name: str) -> Plain:
        """Return what a layer does to the rows: it names its series, where a legend does, and bridges gaps."""
        steps = [{"filter": f"isValid(datum[{json.dumps(name)}])"}] if series.bridge else []
        steps += [{"calculate": json.dumps(series.name), "as": _SERIES}] if series.name in self._legend else []
        return {"transform": steps} if steps else {}

    def _limit(self, reference: Reference, side: _Side) -> Plain:
        """Return a line at a value, or a band between two."""
        color = self._theme.color("reference")
        up = {"datum": reference.level, "type": "quantitative", **self._value_axis(side)}
        if reference.upto is None:
            return {"mark": {"type": "rule", "color": color, "strokeDash": [6, 4]}, "encoding": {self._up: up}}
        other = {f"{self._up}2": {"datum": reference.upto}}
        return {"mark": {"type": "rect", "color": self._theme.color("band")}, "encoding": {self._up: up, **other}}

    def _cut(self, side: _Side) -> Plain:
        """Return a line at each cutoff, with what it takes in."""
        rows = [{"cut": cut.value, "text": cut.text} for cut in self._chart.cuts]
        up = {"field": "cut", "type": "quantitative", **self._value_axis(side)}
        return {
            "data": {"values": rows},
            "mark": {"type": "rule", "color": self._theme.color("cut")},
            "encoding": {self._up: up, "tooltip": {"field": "text", "title": "Cutoff"}},
        }

    def _category(self, share: float) -> Plain:
        """Return the category axis; every layer names all of it, for else one layer would reorder the others."""
        chart = self._chart
        names: Sequence[str] = chart.categories
        if chart.period:
            names = side_period_labels(names, chart.period, chart.months or MONTHS)
        short = {own: text_line(name, longest=120) for own, name in zip(chart.categories, names, strict=True)}
        axis: dict[str, Any] = {"title": chart.category_title or None, "ticks": False}
        if any(own != name for own, name in short.items()):
            axis["labelExpr"] = f"{json.dumps(short)}[datum.value]"
        if not chart.horizontal:
            axis |= {"labelAngle": 0} if self._is_level() else {"labelAngle": -45}
        return {
            "field": self._names[None],
            "type": "ordinal",  # dates too: every period has a place, none is interpolated
            "scale": {"domain": list(chart.categories), "paddingInner": 0, "paddingOuter": 0},
            "axis": {**axis, "labelColor": self._theme.color("category")},
            **({} if share == 0.5 else {"bandPosition": share}),
        }

    def _is_level(self) -> bool:
        roles = ("category", "category-quiet", "class-name")
        return not any(mark.rotation for mark in self._plan.texts if mark.role in roles)

    def _value_axis(self, side: _Side) -> dict[str, Any]:
        """Return scale and axis of a side: the limits and the ticks that were worked out, as they are written."""
        scale, chart = side.scale, self._chart
        domain = {"domain": [scale.lower, scale.upper], "nice": False}
        kind = {"type": "log"} if scale.kind == "log" else {"zero": False}
        if side.axis is None:
            return {"scale": {**domain, **kind}, "axis": None}
        own = [series.name for series in chart.series if series.secondary is side.is_secondary]
        leads = chart.grid_side == ("secondary" if side.is_secondary else "primary")
        ticks = shown_ticks(side.axis, self._plan.texts)
        title = side.title or (own[0] if len(own) == 1 else "")
        axis = {
            "title": text_line(title) or None,
            "values": list(ticks),
            "labelExpr": f"{json.dumps(list(ticks.values()))}[indexof({json.dumps(list(ticks))}, datum.value)]",
            "labelOverlap": False,
            "grid": leads,
            "labelColor": self._theme.color(side.axis.role),
        }
        if side.is_secondary:
            axis["orient"] = "top" if chart.horizontal else "right"
        return {"scale": {**domain, **kind}, "axis": axis}

    def _tooltip(self, number: int) -> list[Plain]:
        # The grammar puts titles into an expression, where a backslash would end them.
        titles = [
            title.replace("\\", "/")
            for title in (self._chart.category_title or "Category", self._chart.series[number].name)
        ]
        own = {"field": self._names[None], "type": "nominal", "title": titles[0]}
        return [own, {"field": self._names[number], "type": "quantitative", "title": titles[1]}]

    def _slot(self) -> float:
        frame = self._plan.frame
        return (frame.height if self._chart.horizontal else frame.width) / len(self._chart.categories)

    def _line_place(self) -> float:
        return 1.0 if self._chart.line_at == "edge" else 0.5

    def _floor(self, side: _Side) -> float:
        """Return the value on which bars, areas and stems are: zero, or the end of an axis that does not show it."""
        scale = side.scale
        return scale.lower if scale.kind == "log" else min(max(0.0, scale.lower), scale.upper)

    def _color(self, series: Series) -> str:
        role = series.role if series.kind in ("line", "steps", "area") else point_role(series.role)
        return self._theme.color(role)

    def _width(self, series: Series) -> float:
        return (series.width or self._theme.width(series.role)) * max(unit_of(self._plan), 0.6)

    def _shape(self, series: Series) -> Plain:
        shape = series.marker or self._theme.markers.get(series.role.partition(":")[0], "round")
        return {"shape": _SHAPES.get(shape, shape if shape in ("square", "diamond", "cross") else "circle")}


def _field_names(chart: Chart) -> dict[int | None, str]:
    """Return the field of each series by its number, and of the categories; no two are alike."""
    names: dict[int | None, str] = {None: _CATEGORY}
    used, endings = {_CATEGORY, _SERIES}, ("", _LOW, _HIGH, *_SPREAD, *_BAND)
    for number, series in enumerate(chart.series):
        name = _LIVE.sub("_", series.name) or f"series {number + 1}"
        while any(name + ending in used for ending in endings):
            name += "_"
        names[number] = name
        used |= {name + ending for ending in endings}
    return names


def _is_on_another(series: Series, place: BarPlace) -> bool:
    """Whether bars do not all start at zero and end at their value."""
    values = np.array(series.values, dtype=np.float64)
    ends = np.where(values < 0, place.low, place.high)
    starts = np.where(values < 0, place.high, place.low)
    there = np.isfinite(values)
    return bool(np.any(starts[there] != 0) or np.any(ends[there] != values[there]))


def _band(series: Series) -> tuple[tuple[float, float], ...]:
    return series.band if isinstance(series, Bars) else ()


def _plain(value: float) -> float | int | None:
    if value != value:
        return None
    return int(value) if value == int(value) and abs(value) < 1e15 else value
