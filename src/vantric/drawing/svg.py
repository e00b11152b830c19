"""A plan becomes a semantic SVG: groups by series, a title for every mark, real text; no scripts and no styles.

What is over what, and how large marks look, is what the Matplotlib picture has (`strokes`).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import TypeAlias

from vantric.cleaning import escaped
from vantric.core.charting import Chart, PanelChart
from vantric.core.composing.serieslabels import value_texts
from vantric.core.numbers.shown import one_line, readable
from vantric.core.planning import PanelPlan, Plan
from vantric.core.planning.measure import Measure, table_measure
from vantric.core.planning.plan import AreaMark, PathMark, PointMarks, RectMarks, TextMark
from vantric.drawing import strokes
from vantric.drawing.svgshapes import (
    attributes,
    dashes,
    element,
    hatch,
    marker,
    number,
    polyline,
    rectangle,
    text_line,
    titled,
)
from vantric.drawing.theme import Theme

Mark: TypeAlias = AreaMark | PathMark | PointMarks
_FAMILIES = "DejaVu Sans, Verdana, Geneva, sans-serif"
#: Pattern of the print theme -> its name.
_HATCHES = {"///": "hatched", "...": "dotted", "\\\\\\": "back", "xxx": "crossed"}


def svg_text(
    chart: Chart | PanelChart, plan: Plan | PanelPlan, theme: Theme, measure: Measure = table_measure, family: str = ""
) -> str:
    """Return the plan of a chart as one SVG image with a title and a description (SVG 1.1, WAI-ARIA).

    Parameters
    ----------
    chart, plan
        What is drawn, and where.
    theme
        Its colors and lines.
    measure
        How wide text is: lines of text are held to it.
    family
        A font family in front of the usual ones.
    """
    width, height = plan.size
    if isinstance(plan, Plan):
        assert isinstance(chart, Chart)
        body = _drawn(chart, plan, theme, measure, "")
    else:
        assert isinstance(chart, PanelChart)
        body = _panels(chart, plan, theme, measure)
    families = f"{escaped(family)}, {_FAMILIES}" if family else _FAMILIES
    head = attributes(
        xmlns="http://www.w3.org/2000/svg", role="img", aria_labelledby="chart-title chart-description", width=width,
        height=height, viewBox=f"0 0 {number(width)} {number(height)}", font_family=families,
    )  # fmt: skip
    return (
        f'<?xml version="1.0" encoding="utf-8"?>\n<svg{head}>\n'
        f'<title id="chart-title">{escaped(plan.title)}</title>\n'
        f'<desc id="chart-description">{escaped(plan.description)}</desc>\n'
        f"{rectangle(0, 0, width, height, class_='ground', fill=theme.ground)}\n{body}\n</svg>\n"
    )


def _panels(chart: PanelChart, plan: PanelPlan, theme: Theme, measure: Measure) -> str:
    height, unit = plan.size[1], min(plan.size[0] / strokes.DEFAULT_SIZE[0], plan.size[1] / strokes.DEFAULT_SIZE[1])
    around = _Sheet(theme, height, unit, measure, "")
    key = plan.legend
    around.rects("swatches", key.rects, strokes.BARS)
    samples: list[Mark] = [*key.areas, *key.paths, *key.points]
    for mark in samples:
        around.mark(mark, "legend")
    for text in plan.texts:
        around.text(text)
    parts = [around.written()]
    for at, ((box, one), panel) in enumerate(zip(plan.panels, chart.panels, strict=True), start=1):
        place = f"translate({number(box.left)} {number(height - box.top)})"
        inner = _drawn(panel, one, theme, measure, f"panel-{at}-", 0.8 * unit)
        parts.append(element("g", inner, id=f"panel-{at}", class_="panel", transform=place))
    return "\n".join(parts)


def _drawn(chart: Chart, plan: Plan, theme: Theme, measure: Measure, prefix: str, unit: float | None = None) -> str:
    sheet = _Sheet(theme, plan.size[1], strokes.unit_of(plan) if unit is None else unit, measure, prefix)
    if plan.clipped:
        left, bottom, right, top = plan.frame
        sheet.clip = f"{prefix}frame"
        frame = rectangle(left, sheet.height - top, right - left, top - bottom)
        sheet.defs.append(element("clipPath", frame, id=sheet.clip))
    words = _words(chart)
    sheet.rects("bands", plan.bands, strokes.BAND, shade=strokes.BAND_SHADE)
    sheet.rules(plan.rules)
    sheet.rects("clear", RectMarks(plan.clear, ("ground",) * len(plan.clear)), strokes.GRID)
    count, own = len(chart.categories), [at for at, one in enumerate(chart.series) if one.kind == "bars"]
    for at, series in enumerate(own):
        part = slice(at * count, (at + 1) * count)
        rects = RectMarks(
            plan.bars.edges[part], plan.bars.roles[part], plan.bars.levels[part], plan.bars.patterns[part]
        )  # fmt: skip
        sheet.series(series, chart.series[series].name, "bars")
        sheet.rects("bars", rects, strokes.BARS, words=words[series])
    sheet.series(-1, "", "")
    sheet.rects("swatches", plan.swatches, strokes.BARS)
    sheet.rects("plates", RectMarks(plan.plates, ("ground",) * len(plan.plates)), strokes.LEADER)
    marks: list[Mark] = [*plan.areas, *plan.paths, *plan.point_sets]
    for mark in marks:
        one = chart.series[mark.series]
        sheet.series(mark.series, one.name, one.kind)
        said = words[mark.series] if isinstance(mark, PointMarks) else [_name(one.name)]
        sheet.mark(mark, "", said, clipped=not isinstance(mark, PointMarks))
    sheet.series(-1, "", "")
    samples: list[Mark] = [*plan.swatch_areas, *plan.swatch_paths, *plan.swatch_points]
    for sample in samples:
        sheet.mark(sample, "legend")
    patterned = {
        role for role, own_ in zip(plan.bars.roles, plan.bars.patterns, strict=False) if own_ not in ("", "plain")
    }
    for text in plan.texts:
        sheet.plate(text, patterned)
        sheet.text(text)
    return sheet.written()


def _name(name: str) -> str:
    return one_line(readable(name), longest=120)


def _words(chart: Chart) -> list[list[str]]:
    """Return what is said of each mark: its category, its series and its value; empty where it is missing."""
    found = []
    labels = [one_line(label, longest=120) for label in chart.categories]
    for one in chart.series:
        style = one.style or (chart.secondary_style if one.secondary else chart.style)
        texts = value_texts(one.values, style, percent=one.unit == "%" or _is_percent(chart, one.secondary))
        unit = f" {one_line(one.unit)}" if one.unit and one.unit != "%" else ""
        name = _name(one.name)
        found.append(
            [f"{label}, {name}: {text}{unit}" if text else "" for label, text in zip(labels, texts, strict=True)]
        )
    return found


def _is_percent(chart: Chart, secondary: bool) -> bool:
    unit = chart.secondary_unit if secondary else chart.primary_unit
    return bool(unit) and unit.strip() == chart.style.percent_sign.strip()


@dataclass
class _Sheet:
    """What is drawn so far, each piece with how far in front it is."""

    theme: Theme
    height: float
    unit: float
    measure: Measure
    prefix: str
    clip: str = ""
    defs: list[str] = field(default_factory=list)
    pieces: list[tuple[float, str]] = field(default_factory=list)
    _group: dict[str, str] = field(default_factory=dict)
    _ids: set[str] = field(default_factory=set)
    _fills: dict[tuple[str, str, str], str] = field(default_factory=dict)

    def written(self) -> str:
        """Return everything, from the ground up."""
        defs = [element("defs", "".join(self.defs))] if self.defs else []
        return "\n".join([*defs, *(piece for _, piece in sorted(self.pieces, key=lambda piece: piece[0]))])

    def series(self, at: int, name: str, kind: str) -> None:
        """Begin with the marks of a series; -1 for those of none."""
        self._group = (
            {} if at < 0 else {"id": f"{self.prefix}series-{at + 1}-{kind}", "data_series": escaped(_name(name))}
        )

    def add(self, level: float, content: str, name: str = "", **more: object) -> None:
        """Add a group of marks."""
        own = dict(self._group)
        if own.get("id") in self._ids:
            del own["id"]  # one series may be drawn in several pieces
        self._ids.add(own.get("id", ""))
        kind = " ".join(filter(None, ("series" if own else "", name)))
        self.pieces.append((level, element("g", content, class_=kind, **own, **more)))

    def width(self, role: str, own: float | None = None) -> float:
        """Return the width of a line in pixels."""
        return (self.theme.width(role) if own is None else own) * max(self.unit, 0.6)

    def rules(self, rules: Sequence[PathMark]) -> None:
        """Add straight lines, those of one role together."""
        by_role: dict[tuple[str, float], list[str]] = {}
        for mark in rules:
            points = [(x, self.height - y) for x, y in zip(mark.xs.tolist(), mark.ys.tolist(), strict=True)]
            by_role.setdefault((mark.role, strokes.rule_level(mark)), []).append(polyline(points))
        for (role, level), lines in by_role.items():
            width, shape = self.width(role), element("path", d="".join(lines))
            dash = dashes(self.theme.dashes.get(role), width)
            if role in strokes.HALOED:
                halo = width + 2 * strokes.HALO
                self.add(level - 1, shape, f"{role} halo", stroke=self.theme.ground, stroke_width=halo, fill="none")
            color = self.theme.color(role)
            self.add(level, shape, role, stroke=color, stroke_width=width, fill="none", stroke_dasharray=dash)

    def rects(
        self, name: str, rects: RectMarks, level: float, *, shade: float | None = None, words: Sequence[str] = ()
    ) -> None:
        """Add rectangles, in groups of one level; those without extent are left out."""
        groups: dict[float, list[str]] = {}
        for at, (left, bottom, right, top) in enumerate(rects.edges.tolist()):
            if right <= left or top <= bottom:
                continue
            fill, edge = self._fill(rects.roles[at], rects.patterns[at] if rects.patterns else "")
            shape = rectangle(
                left, self.height - top, right - left, top - bottom, titled(words[at]) if words else "", fill=fill,
                stroke=edge or None, stroke_width=strokes.OUTLINE if edge else None,
                data_category=str(at + 1) if words else None,
            )  # fmt: skip
            groups.setdefault(level + (rects.levels[at] if rects.levels else 0), []).append(shape)
        for front, shapes in groups.items():
            self.add(front, "".join(shapes), name, fill_opacity=shade)

    def _fill(self, role: str, pattern: str) -> tuple[str, str]:
        """Return the fill of a rectangle and the color of its edge."""
        theme, name = self.theme, role.partition(":")[0]
        kind = ("" if pattern == "plain" else pattern) if pattern else _HATCHES.get(theme.hatches.get(name, ""), "")
        edge, color = theme.edges.get(name, theme.ground if kind else ""), theme.color(role)
        if not kind:
            return color, edge
        key = kind, color, edge
        if key not in self._fills:
            self._fills[key] = f"{self.prefix}fill-{len(self._fills) + 1}"
            self.defs.append(hatch(self._fills[key], kind, color, edge))
        return f"url(#{self._fills[key]})", edge

    def mark(self, mark: Mark, name: str, words: Sequence[str] = (), *, clipped: bool = False) -> None:
        """Add an area, a line or a set of points."""
        clip = f"url(#{self.clip})" if self.clip and clipped else None
        if isinstance(mark, PointMarks):
            self._points(mark, name, words)
            return
        if not len(mark.xs):
            return
        points = [(x, self.height - y) for x, y in zip(mark.xs.tolist(), mark.ys.tolist(), strict=True)]
        said = titled(words[0]) if words else ""
        if isinstance(mark, AreaMark):
            shape = element("path", said, d=polyline(points, closed=True))
            self.add(mark.level, shape, f"area {name}".strip(), fill=self.theme.color(mark.role),
                     fill_opacity=strokes.SHADE, clip_path=clip)  # fmt: skip
            return
        width, role = self.width(mark.role, mark.width), mark.role.partition(":")[0]
        pattern = strokes.DASHES.get(mark.pattern) if mark.pattern else self.theme.dashes.get(role)
        line, plain = polyline(points), {"fill": "none", "stroke_linejoin": "round"}
        halo = element("path", d=line, stroke=self.theme.ground, stroke_width=width + 2 * strokes.HALO)
        ink = element("path", said, d=line, stroke=self.theme.outline(mark.role), stroke_width=width,
                      stroke_dasharray=dashes(pattern, width))  # fmt: skip
        self.add(mark.level or strokes.LINE, halo + ink, f"line {name}".strip(), clip_path=clip, **plain)

    def _points(self, points: PointMarks, name: str, words: Sequence[str]) -> None:
        if not len(points.xs) or not points.radius:
            return
        edge = strokes.point_edge(points)
        shape = points.shape or self.theme.markers.get(points.role.partition(":")[0], "round")
        radius = points.radius * strokes.SHARES.get(shape, 1.0)
        shapes = [
            marker(shape, x, self.height - y, radius, titled(words[at]) if words else "")
            for at, (x, y) in enumerate(zip(points.xs.tolist(), points.ys.tolist(), strict=True))
            if x == x and y == y
        ]
        self.add(points.level or strokes.POINT, "".join(shapes), f"points {name}".strip(),
                 fill=self.theme.color(points.role), stroke=self.theme.ground if edge else None,
                 stroke_width=edge or None)  # fmt: skip

    def plate(self, mark: TextMark, patterned: set[str]) -> None:
        """Wipe the pattern of a bar behind what is written on it."""
        role = mark.role.removeprefix("on-")
        if role != mark.role and (role in patterned or self.theme.hatches.get(role.partition(":")[0])):
            left, bottom, right, top = mark.box
            shape = rectangle(left - 2, self.height - top - 1, right - left + 4, top - bottom + 2)
            self.add(strokes.LEADER, shape, "plate", fill=self.theme.color(role))

    def text(self, mark: TextMark) -> None:
        """Add a line of text."""
        width = self.measure(mark.text, mark.size, mark.bold)
        self.pieces.append((strokes.TEXT, text_line(mark, self.height, self.theme.color(mark.role), width)))
