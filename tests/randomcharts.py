"""Random charts: every kind of series, arrangement, axis and look, from a seed."""

from __future__ import annotations

import random
from typing import Any

import vantric as vt

_KINDS = (vt.Bars, vt.Bars, vt.Bars, vt.Line, vt.Line, vt.Area, vt.Points, vt.Stems, vt.Steps)
_WORDS = [
    "Pinhole",
    "Crawling",
    "Chip",
    "Scratch",
    "Bloat",
    "Warping",
    "Speck",
    "Shade",
    "Crack",
    "Lamination",
    "Stain",
    "Drip",
]


def _label(chance: random.Random, at: int) -> str:
    return f"{' '.join(chance.choice(_WORDS) for _ in range(chance.choice((1, 1, 2, 4))))} {at + 1}"


def _categories(chance: random.Random, count: int) -> list[Any]:
    kind = chance.choice(("text", "text", "month", "number"))
    if kind == "month":
        return [f"{2020 + at // 12}-{at % 12 + 1:02d}" for at in range(count)]
    if kind == "number":
        return [at * chance.choice((1, 1)) for at in range(count)]
    return [_label(chance, at) for at in range(count)]


def _values(chance: random.Random, count: int, *, positive: bool) -> list[float | None]:
    scale = 10 ** chance.uniform(-3, 7)
    whole, gaps, negative = chance.random() < 0.5, chance.random() < 0.2, not positive and chance.random() < 0.3
    found: list[float | None] = []
    for _ in range(count):
        value = scale * chance.choice((chance.random(), chance.random(), chance.lognormvariate(0, 1)))
        value = -value if negative and chance.random() < 0.4 else value
        value = float(max(1, round(value))) if whole and positive else round(value) if whole else value
        found.append(None if gaps and chance.random() < 0.2 else value)
    return found if any(value is not None for value in found) else [1.0] * count


#: Option -> how often it is given, and its values.
_OPTIONS: dict[str, tuple[float, tuple[Any, ...]]] = {
    "together": (0.5, ("stacked", "percent", "overlaid")),
    "orientation": (0.3, ("horizontal", "auto")),
    "policy": (0.2, ("grid", "common", "separate", "proportional")),
    "theme": (0.5, ("dark", "print", "contrast", "clay")),
    "legend": (0.4, ("below", "left", "right", "ends", "none")),
    "secondary_bars": (0.2, ("beside",)),
    "secondary_together": (0.2, ("grouped", "overlaid")),
    "percent_of": (0.1, ("row", "column", "all")),
    "totals": (0.2, (True,)),
    "gap": (0.2, (0.2,)),
    "size": (0.4, ((900, 600), (640, 480), (1920, 1080), (520, 320), (390, 600))),
    "prefix": (0.1, ("$",)),
    "si": (0.1, (True,)),
    "title_place": (0.1, ("center",)),
    "transpose": (0.1, (True,)),
    "primary_log": (0.1, (True,)),
    "secondary_log": (0.04, (True,)),
    "primary_zero": (0.15, (True, False)),
    "secondary_zero": (0.15, (True, False)),
    "headroom": (0.1, (0.0, 0.1, 0.3)),
    "primary_limits": (0.08, ((0, None), (None, 1e6), (-10, 1e6), (0, 100))),
    "meet": (0.04, ((100, 7), (1e4, 100))),
    "secondary_limits": (0.08, ((0, None), (None, 1e6), (-10, 1e6), (0, 100))),
    "clip": (0.08, (True,)),
}


def _series(chance: random.Random, at: int, count: int, kind: type[vt.Series], look: dict[str, Any], two: bool) -> Any:
    own: dict[str, Any] = {"axis": "primary"} if two and not at else {}
    if two and at:
        own["axis"] = chance.choice(("primary", "secondary"))
    if chance.random() < 0.3:
        own["unit"] = chance.choice(("%", "tiles"))
    if chance.random() < 0.5:
        own["labels"] = chance.choice(("value", "auto", "none"))
    if chance.random() < 0.1:
        own["label_place"] = chance.choice(("above", "inside", "below", "beside"))
    if kind is vt.Bars and chance.random() < 0.15:
        own["stack"] = chance.choice("AB")
    values = _values(chance, count, positive="primary_log" in look)
    return kind(f"{chance.choice(_WORDS)} {at}", values, **own)


def random_chart(seed: int) -> tuple[vt.Chart, dict[str, Any]]:
    """Return a chart and its options; raises `VantricError` where the parts do not fit together."""
    chance = random.Random(seed)
    count, number = chance.choice((1, 2, 3, 5, 8, 12, 24, 60)), chance.choice((1, 1, 2, 2, 3, 4, 6, 12))
    look: dict[str, Any] = {"subject": "defect"}
    look |= {name: chance.choice(values) for name, (share, values) in _OPTIONS.items() if chance.random() < share}
    if not ("primary_limits" in look or "secondary_limits" in look) and chance.random() < 0.95:
        look.pop("clip", None)
    kinds = [chance.choice(_KINDS) for _ in range(number)]
    if "transpose" in look:
        kinds = kinds[:1] * number
    if kinds.count(vt.Bars) < 2 or "primary_log" in look:
        for name in ("together", "secondary_together", "percent_of"):
            look.pop(name, None)
    two = chance.random() < 0.5 and number > 1 and "transpose" not in look
    series = [_series(chance, at, count, kind, look, two) for at, kind in enumerate(kinds)]
    if not any(one.axis == "secondary" and one.kind == "bars" for one in series):
        look.pop("secondary_together", None)
        look.pop("secondary_bars", None)
    if not any(one.axis == "secondary" for one in series) and chance.random() < 0.9:
        for name in ("policy", "meet", "secondary_log", "secondary_zero", "secondary_limits"):
            look.pop(name, None)
    return vt.Chart(_categories(chance, count), series, **look), look
