"""The elements of a semantic SVG: shapes, texts and fills, as text."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

from vantric.base.safe_text import escaped
from vantric.core.layout.plan import TextMark

_ANCHORS = {"left": "start", "center": "middle", "right": "end"}


def number(value: float) -> str:
    """Return a length in hundredths of a pixel, without zeros at its end."""
    text = f"{value:.2f}".rstrip("0").rstrip(".")
    return "0" if text == "-0" else text


def attributes(**given: object) -> str:
    """Return attributes with a blank before each; what is None or empty is left out, and ``_`` is a hyphen."""
    return "".join(
        f' {name.rstrip("_").replace("_", "-")}="{value if isinstance(value, str) else number(float(str(value)))}"'
        for name, value in given.items()
        if value is not None and value != ""
    )


def element(name: str, content: str = "", **given: object) -> str:
    """Return an element."""
    return f"<{name}{attributes(**given)}>{content}</{name}>" if content else f"<{name}{attributes(**given)}/>"


def titled(text: str) -> str:
    """Return what is said when a mark is pointed at."""
    return f"<title>{escaped(text)}</title>" if text else ""


def rectangle(left: float, top: float, width: float, height: float, content: str = "", **given: object) -> str:
    """Return a rectangle."""
    return element("rect", content, x=left, y=top, width=width, height=height, **given)


def polyline(points: Sequence[tuple[float, float]], *, closed: bool = False) -> str:
    """Return what draws a line through points."""
    steps = " ".join(f"{number(x)} {number(y)}" for x, y in points)
    return f"M{steps}Z" if closed else f"M{steps}"


def marker(shape: str, x: float, y: float, radius: float, content: str = "", **given: object) -> str:
    """Return a marker of a shape about a point."""
    if shape == "square":
        return rectangle(x - radius, y - radius, 2 * radius, 2 * radius, content, **given)
    if shape == "round":
        return element("circle", content, cx=x, cy=y, r=radius, **given)
    corners = [(x + u * radius, y + v * radius) for u, v in _CORNERS[shape]]
    return element("path", content, d=polyline(corners, closed=True), **given)


_H = math.sqrt(2)
_CORNERS: dict[str, tuple[tuple[float, float], ...]] = {
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
        font_weight="bold" if mark.bold else None,
    )


def bare_text(mark: TextMark, height: float) -> str:
    """Return a line of text without what it shares with others."""
    x, y = mark.x, height - mark.y
    if not mark.rotation:
        return element("text", escaped(mark.text), x=x, y=y)
    place = f"translate({number(x)} {number(y)})rotate({number(-mark.rotation)})"
    return element("text", escaped(mark.text), transform=place)


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
        font_weight="bold" if mark.bold else None,
        transform=f"rotate({number(-mark.rotation)} {number(x)} {number(y)})" if mark.rotation else None,
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
