"""Draw the house: ``python -m tools.house`` writes docs/house.svg, every room in the order of imports."""

from __future__ import annotations

import ast
from pathlib import Path
from xml.sax.saxutils import escape

ROOT = Path(__file__).parent.parent
PATH = ROOT / "docs/house.svg"
SOURCE = ROOT / "src/vantric"
#: Floor -> its rooms; a room imports only rooms to the left of it and on the floors above.
FLOORS: dict[str, tuple[str, ...]] = {
    "for all": ("base", "options"),
    "core: numbers in, plan out": (
        "core/numbers",
        "core/messages",
        "core/axes",
        "core/counts",
        "core/statistics",
        "core/charts",
        "core/review",
        "core/composition",
        "core/layout",
    ),
    "what comes in": ("reading", "engines", "counting"),
    "what goes out": ("rendering", "tables", "output", "audit", "files"),
    "the front": ("kinds", "api", "demo", "cli"),
}
#: The walk of `vantric pareto FILE --out PICTURE` through the rooms.
WALK = (
    "cli",
    "kinds",
    "counting",
    "engines",
    "reading",
    "core/counts",
    "core/composition",
    "core/layout",
    "rendering",
    "output",
)
_GENERATED = ("advances", "calendar_words")
_WIDE, _LEFT, _GAP, _HIGH, _COLUMNS = 1160, 150, 10, 76, 4
_INK, _LINE, _FILL, _STRONG = "#26323d", "#9aa7b1", "#f7f5f1", "#b5532a"


def summary(room: str) -> str:
    """Return the first line of what a room says of itself, without its name."""
    text = ast.get_docstring(ast.parse((SOURCE / room / "__init__.py").read_text(encoding="utf-8"))) or ""
    line = text.splitlines()[0].removesuffix(".")
    return (line.partition(": ")[2] or line).replace("`", "")


def _lines(text: str, most: int) -> list[str]:
    lines = [""]
    for word in text.split():
        if len(lines[-1]) + len(word) > most and lines[-1]:
            lines.append("")
        lines[-1] = f"{lines[-1]} {word}".strip()
    return lines if len(lines) < 4 else [*lines[:2], f"{lines[2]} ..."]


def _room(room: str, x: float, y: float, width: float) -> str:
    number = sum(path.stem not in _GENERATED for path in (SOURCE / room).glob("*.py"))
    step = WALK.index(room) + 1 if room in WALK else 0
    parts = [
        f'<rect x="{x}" y="{y}" width="{width}" height="{_HIGH}" rx="4" fill="{_FILL}" '
        f'stroke="{_STRONG if step else _LINE}"/>',
        f'<text x="{x + 10}" y="{y + 20}" font-weight="bold" fill="{_INK}">{room}/</text>',
        f'<text x="{x + width - 10}" y="{y + 20}" text-anchor="end" font-size="11" fill="{_INK}">{number} files</text>',
    ]
    for place, line in enumerate(_lines(summary(room), int(width / 6.8))):
        parts.append(f'<text x="{x + 10}" y="{y + 38 + 14 * place}" font-size="11" fill="{_INK}">{escape(line)}</text>')
    if step:
        parts.append(f'<circle cx="{x + width}" cy="{y}" r="10" fill="{_STRONG}"/>')
        parts.append(
            f'<text x="{x + width}" y="{y + 4}" text-anchor="middle" font-size="11" fill="#ffffff">{step}</text>'
        )
    return "\n".join(parts)


def text() -> str:
    """Return the picture, an SVG."""
    parts, y = [], 40.0
    for floor, rooms in FLOORS.items():
        rows = [rooms[place : place + _COLUMNS] for place in range(0, len(rooms), _COLUMNS)]
        parts.append(f'<text x="16" y="{y + 20}" font-size="12" fill="{_INK}">{floor.partition(": ")[0]}</text>')
        if ": " in floor:
            parts.append(f'<text x="16" y="{y + 36}" font-size="11" fill="{_INK}">{floor.partition(": ")[2]}</text>')
        width = (_WIDE - _LEFT - 16 - (_COLUMNS - 1) * _GAP) / _COLUMNS
        for row in rows:
            for place, room in enumerate(row):
                parts.append(_room(room, _LEFT + place * (width + _GAP), y, width))
            y += _HIGH + _GAP + 4
        y += 12
        parts.append(
            f'<line x1="16" x2="{_WIDE - 16}" y1="{y - 12}" y2="{y - 12}" stroke="{_LINE}" stroke-width="0.5"/>'
        )
    head = (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {_WIDE} {y}" width="{_WIDE}" height="{y}" '
        f'font-family="DejaVu Sans, sans-serif" font-size="13" role="img">\n'
        "<title>The house: a room imports only rooms above it; 1 to 10 is the walk from a file to a picture.</title>\n"
        f'<rect width="{_WIDE}" height="{y}" fill="#ffffff"/>\n'
        f'<text x="16" y="22" font-size="12" fill="{_INK}">A room imports only rooms before it, read line by line. '
        f"The numbers are the walk from a file to a picture.</text>"
    )
    return "\n".join([head, *parts, "</svg>", ""])


if __name__ == "__main__":
    PATH.write_text(text(), encoding="utf-8")
