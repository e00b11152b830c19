"""The sheet of a semantic SVG: each piece as text, with how far in front it is."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import TypeAlias

from vantric.base.safe_text import escaped
from vantric.core.layout.plan import AreaMark, PathMark, PointMarks, RectMarks, TextMark
from vantric.core.layout.text_layout import TextMeasure, is_measured
from vantric.core.numbers.number_format import one_line, readable
from vantric.rendering import themes as strokes
from vantric.rendering.themes import Theme
from vantric.rendering.web_font import BOLD_WEIGHT

_ANCHORS = {"left": "start", "center": "middle", "right": "end"}


def number(value: float) -> str:
    """Return a length in hundredths of a pixel, without zeros at its end."""
    text = f"{value:.2f}".rstrip("0").rstrip(".")
    return "0" if text == "-0" else text


def attributes(**values: object) -> str:
    """Return attributes with a blank before each; what is None or empty is left out, and ``_`` is a hyphen."""
    return "".join(
        f' {name.rstrip("_").replace("_", "-")}="{value if isinstance(value, str) else number(float(str(value)))}"'
        for name, value in values.items()
        if value is not None and value != ""
    )


def element(name: str, content: str = "", **fields: object) -> str:
    """Return an element."""
    return f"<{name}{attributes(**fields)}>{content}</{name}>" if content else f"<{name}{attributes(**fields)}/>"


def titled(text: str) -> str:
    """Return what is said when a mark is pointed at."""
    return f"<title>{escaped(text)}</title>" if text else ""


def rectangle(left: float, top: float, width: float, height: float, content: str = "", **fields: object) -> str:
    """Return a rectangle."""
    return element("rect", content, x=left, y=top, width=width, height=height, **fields)


def polyline(points: Sequence[tuple[float, float]], *, closed: bool = False) -> str:
    """Return what draws a line through points."""
    steps = " ".join(f"{number(x)} {number(y)}" for x, y in points)
    return f"M{steps}Z" if closed else f"M{steps}"


def marker(shape: str, x: float, y: float, radius: float, content: str = "", **fields: object) -> str:
    """Return a marker of a shape about a point."""
    if shape == "square":
        return rectangle(x - radius, y - radius, 2 * radius, 2 * radius, content, **fields)
    if shape == "round":
        return element("circle", content, cx=x, cy=y, r=radius, **fields)
    corners = [(x + u * radius, y + v * radius) for u, v in _CORNERS[shape]]
    return element("path", content, d=polyline(corners, closed=True), **fields)


#: A square on its corner has the area of the circle beside it.
_H = math.sqrt(2)
#: Corners of each marker, in radii.
_CORNERS: dict[str, tuple[tuple[float, float], ...]] = {
    "stroke": ((-strokes.STROKE, -1), (strokes.STROKE, -1), (strokes.STROKE, 1), (-strokes.STROKE, 1)),
    "diamond": ((0, -_H), (_H, 0), (0, _H), (-_H, 0)),
    "triangle": ((0, -1), (1, 1), (-1, 1)),
    "pointer": ((0, 1), (-1, -1), (1, -1)),
    "cross": (
        (-0.5, -1),
        (0, -0.5),
        (0.5, -1),
        (1, -0.5),
        (0.5, 0),
        (1, 0.5),
        (0.5, 1),
        (0, 0.5),
        (-0.5, 1),
        (-1, 0.5),
        (-0.5, 0),
        (-1, -0.5),
    ),
}


def text_look(mark: TextMark, color: str) -> str:
    """Return the attributes that lines of text may share."""
    return attributes(
        class_=mark.role.partition(":")[0],
        font_size=mark.size,
        fill=color,
        text_anchor=None if mark.ha == "left" else _ANCHORS[mark.ha],
        font_weight=f"{BOLD_WEIGHT}" if mark.bold else None,
    )


def bare_text(mark: TextMark, height: float) -> str:
    """Return a line of text without what it shares with others."""
    x, y = mark.x, height - mark.y
    if not mark.rotation:
        return element("text", escaped(mark.text), x=x, y=y)
    place = f"translate({number(x)} {number(y)})rotate({number(-mark.rotation)})"
    return element("text", escaped(mark.text), transform=place)


def _turn(mark: TextMark, height: float) -> str | None:
    """Return how a line of text is turned about its anchor."""
    if not mark.rotation:
        return None
    return f"rotate({number(-mark.rotation)} {number(mark.x)} {number(height - mark.y)})"


def text_line(mark: TextMark, height: float, color: str, width: float | None) -> str:
    """Return a line of text, held to its measured width in pixels if one is given."""
    x, y = mark.x, height - mark.y
    return element(
        "text",
        escaped(mark.text),
        class_=mark.role.partition(":")[0],
        x=x,
        y=y,
        font_size=mark.size,
        fill=color,
        text_anchor=None if mark.ha == "left" else _ANCHORS[mark.ha],
        font_weight=f"{BOLD_WEIGHT}" if mark.bold else None,
        transform=_turn(mark, height),
        textLength=width,
        lengthAdjust=None if width is None else "spacingAndGlyphs",
    )


def hatch(name: str, kind: str, fill: str, ink: str) -> str:
    """Return the definition of a fill with a pattern, which is drawn in the ink of the bar's edge."""
    lines = {
        "hatched": "M-4 4L4 -4M0 16L16 0M12 20L20 12",
        "back": "M-4 12L4 20M0 0L16 16M12 -4L20 4",
        "crossed": "M0 16L16 0M0 0L16 16",
    }
    ground = rectangle(0, 0, 16, 16, fill=fill)
    if kind == "dotted":
        dots = "".join(
            element("circle", cx=x, cy=y, r=1.2, fill=ink) for x, y in ((4, 4), (12, 4), (8, 12), (0, 12), (16, 12))
        )
        return element(
            "pattern", ground + dots, id=name, width="8", height="8", viewBox="0 0 16 16", patternUnits="userSpaceOnUse"
        )
    strokes = element("path", d=lines[kind], stroke=ink, stroke_width=1.6, fill="none")
    return element(
        "pattern",
        ground + strokes,
        id=name,
        width="12",
        height="12",
        viewBox="0 0 16 16",
        patternUnits="userSpaceOnUse",
    )


def dashes(pattern: Iterable[float] | None, width: float) -> str | None:
    """Return the dashes of a line, given in its widths."""
    return None if pattern is None else " ".join(number(part * width) for part in pattern)


Mark: TypeAlias = AreaMark | PathMark | PointMarks
#: Pattern of the print theme -> its name.
_HATCHES = {"///": "hatched", "...": "dotted", "\\\\\\": "back", "xxx": "crossed"}

#: Roles of bars that a page can cut apart elsewhere.
_CUT_APART = {"strong": "strong", "quiet": "quiet", "strong-b": "other", "strong-c": "other"}


def series_name(name: str) -> str:
    """Return the name of a series as it is said."""
    return one_line(readable(name), longest=120)


@dataclass
class SvgSheet:
    """What is drawn so far, each piece with how far in front it is."""

    theme: Theme
    height: float
    unit: float
    measure: TextMeasure
    prefix: str
    clip: str = ""
    keys: Sequence[str] = ()
    letters: bool = False
    defs: list[str] = field(default_factory=list)
    pieces: list[tuple[float, str]] = field(default_factory=list)
    _alike: dict[str, list[str]] = field(default_factory=dict)
    _halos: list[str] = field(default_factory=list)
    _group: dict[str, str] = field(default_factory=dict)
    _ids: set[str] = field(default_factory=set)
    _fills: dict[tuple[str, str, str], str] = field(default_factory=dict)

    def written(self) -> str:
        """Return everything, from the ground up."""
        self.pieces += [(strokes.TEXT, f"<g{look}>{''.join(lines)}</g>") for look, lines in self._alike.items()]
        self._alike = {}
        if self._halos:
            look = attributes(class_="halo", fill="none", stroke_linejoin="round", aria_hidden="true")
            self.pieces.append((strokes.TEXT - 1, f"<g{look}>{''.join(self._halos)}</g>"))
            self._halos = []
        defs = [element("defs", "".join(self.defs))] if self.defs else []
        return "\n".join([*defs, *(piece for _, piece in sorted(self.pieces, key=lambda piece: piece[0]))])

    def series(self, index: int, name: str, kind: str) -> None:
        """Begin with the marks of a series; -1 for those of none."""
        self._group = (
            {}
            if index < 0
            else {"id": f"{self.prefix}series-{index + 1}-{kind}", "data_series": escaped(series_name(name))}
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
        self,
        name: str,
        rects: RectMarks,
        level: float,
        *,
        words: Sequence[str] | None = None,
    ) -> None:
        """Add rectangles, in groups of one level; those without extent are left out. Those with `words` are data."""
        groups: dict[float, list[str]] = {}
        for index, (left, bottom, right, top) in enumerate(rects.edges.tolist()):
            if right <= left or top <= bottom:
                continue
            fill, edge = self._fill(rects.roles[index], rects.patterns[index] if rects.patterns else "")
            shape = rectangle(
                left,
                self.height - top,
                right - left,
                top - bottom,
                titled(words[index]) if words else "",
                fill=fill,
                stroke=edge or None,
                stroke_width=strokes.OUTLINE if edge else None,
                data_category=None if words is None else self._key(index),
                class_=_CUT_APART.get(rects.roles[index]) if words is not None else None,
            )
            groups.setdefault(level + (rects.levels[index] if rects.levels else 0), []).append(shape)
        for front, shapes in groups.items():
            self.add(front, "".join(shapes), name)

    def _key(self, index: int) -> str:
        """Return the number of a category in the picture, or in the page that it is part of."""
        return self.keys[index] if self.keys else str(index + 1)

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
        text = titled(words[0]) if words else ""
        if isinstance(mark, AreaMark):
            shape = element("path", text, d=polyline(points, closed=True))
            self.add(
                mark.level,
                shape,
                f"area {name}".strip(),
                fill=self.theme.color(mark.role),
                fill_opacity=None if mark.role in strokes.UNSHADED else strokes.SHADE,
                clip_path=clip,
            )
            return
        width, role = self.width(mark.role, mark.width), mark.role.partition(":")[0]
        pattern = strokes.DASHES.get(mark.pattern) if mark.pattern else self.theme.dashes.get(role)
        line, plain = polyline(points), {"fill": "none", "stroke_linejoin": "round"}
        halo = element("path", d=line, stroke=self.theme.ground, stroke_width=width + 2 * strokes.HALO)
        ink = element(
            "path",
            text,
            d=line,
            stroke=self.theme.outline(mark.role),
            stroke_width=width,
            stroke_dasharray=dashes(pattern, width),
        )
        self.add(mark.level or strokes.LINE, halo + ink, f"line {name}".strip(), clip_path=clip, **plain)

    def _points(self, points: PointMarks, name: str, words: Sequence[str]) -> None:
        if not len(points.xs) or not points.radius:
            return
        edge = strokes.point_edge(points)
        shape = points.shape or self.theme.markers.get(points.role.partition(":")[0], "round")
        radius = points.radius * strokes.SHARES.get(shape, 1.0)
        shapes = [
            marker(
                shape,
                x,
                self.height - y,
                radius,
                titled(words[index]) if words else "",
                data_category=self._key(index) if self.keys else None,
            )
            for index, (x, y) in enumerate(zip(points.xs.tolist(), points.ys.tolist(), strict=True))
            if x == x and y == y
        ]
        self.add(
            points.level or strokes.POINT,
            "".join(shapes),
            f"points {name}".strip(),
            fill=self.theme.ground if points.hollow else self.theme.color(points.role),
            stroke=self.theme.color(points.role) if points.hollow else self.theme.ground if edge else None,
            stroke_width=strokes.HOLLOW if points.hollow else edge or None,
        )

    def plate(self, mark: TextMark, patterned: set[str]) -> None:
        """Wipe the pattern of a bar behind what is written on it."""
        role = mark.role.removeprefix("on-")
        if role != mark.role and (role in patterned or self.theme.hatches.get(role.partition(":")[0])):
            left, bottom, right, top = mark.box
            shape = rectangle(left - 2, self.height - top - 1, right - left + 4, top - bottom + 2)
            self.add(strokes.LEADER, shape, "plate", fill=self.theme.color(role))

    def text(self, mark: TextMark) -> None:
        """Add a line of text; where the page holds its letters, those that look alike are together."""
        color = self.theme.color(mark.role)
        if mark.halo:
            self._halo(mark)
        if self.letters and is_measured(mark.text):
            self._alike.setdefault(text_look(mark, color), []).append(bare_text(mark, self.height))
            return
        width = self.measure(mark.text, mark.size, mark.bold)
        self.pieces.append((strokes.TEXT, text_line(mark, self.height, color, width)))

    def _halo(self, mark: TextMark) -> None:
        """Add what is around the letters of a line of text: the same text beneath it, in a stroke of the ground."""
        color, is_held = self.theme.color(mark.halo), not (self.letters and is_measured(mark.text))
        shape = element(
            "text",
            escaped(mark.text),
            x=mark.x,
            y=self.height - mark.y,
            font_size=mark.size,
            stroke=color,
            stroke_width=strokes.TEXT_HALO * mark.size,
            text_anchor=None if mark.ha == "left" else _ANCHORS[mark.ha],
            font_weight=f"{BOLD_WEIGHT}" if mark.bold else None,
            transform=_turn(mark, self.height),
            textLength=self.measure(mark.text, mark.size, mark.bold) if is_held else None,
            lengthAdjust="spacingAndGlyphs" if is_held else None,
        )
        self._halos.append(shape)
