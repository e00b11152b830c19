"""Chart files of earlier editions, in the names of today."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

_AXES = ("primary", "secondary")
_NAMES = {
    "colours": "colors", "colour": "color", "before_number": "prefix", "after_number": "suffix", "points": "line_at",
    "dates": "date", "before": "prefix", "after": "suffix", "percent": "percent_sign",
}  # fmt: skip
_VALUES = {
    ("orientation", "upright"): "vertical", ("orientation", "lying"): "horizontal", ("title_place", "centre"): "center",
    ("points", "centre"): "center", ("labels", "frequency"): "value", ("order", "value"): "frequency",
}  # fmt: skip


#: Section -> names of the second edition, and what they are called now.
_RENAMED = {"combine": {"achieved": "actual"}}


def renamed_options(found: Mapping[str, Any]) -> tuple[dict[str, Any], list[str]]:
    """Return the content of a file with options of the second edition under the names they have now, and which."""
    parts, said = dict(found), []
    for section, names in _RENAMED.items():
        part = parts.get(section)
        for old, new in names.items():
            if isinstance(part, Mapping) and old in part and new not in part:
                part = parts[section] = {new if name == old else name: value for name, value in part.items()}
                said.append(f"'{old}' is called '{new}' now")
    return parts, said


def upgraded(found: Mapping[str, Any]) -> dict[str, Any]:
    """Return the content of a file of version 1 as version 2 has it; what it does not know stays as it is."""
    parts: dict[str, Any] = {**found, "version": 2}
    for name in ("counting", "chart", "combine", "given", "scales"):
        if isinstance(parts.get(name), Mapping):
            parts[name] = _section(parts[name], inside=name)
    return parts


def _section(part: Mapping[str, Any], *, inside: str) -> dict[str, Any]:
    made: dict[str, Any] = {}
    for name, value in part.items():
        if name in ("log", "zero", "without_zero") and isinstance(value, list):
            made.update(_sides(name, value))
        elif name == "series" and isinstance(value, list):
            made[name] = [_series(one) if isinstance(one, Mapping) else one for one in value]
        elif name not in ("thousands", "decimal"):
            said = _VALUES.get((name, value), value) if isinstance(value, str) else value
            made[_NAMES.get(name, name) if inside != "given" else name] = said
    return {**made, **_marks(part)}


def _sides(name: str, sides: list[Any]) -> dict[str, Any]:
    option, value = ("log", True) if name == "log" else ("zero", name == "zero")
    return {f"{side}_{option}": value for side in sides if side in _AXES}


def _marks(part: Mapping[str, Any]) -> dict[str, str]:
    """Return the example that shows the marks of numbers."""
    if "thousands" not in part and "decimal" not in part:
        return {}
    return {"show_numbers": f"1{part.get('thousands', ',')}234{part.get('decimal', '.')}56"}


def _series(one: Mapping[str, Any]) -> dict[str, Any]:
    made: dict[str, Any] = {}
    for name, value in one.items():
        if name == "width":
            made["bar_width" if one.get("kind") == "bars" else "line_width"] = value
        elif name == "order":
            made["layer"] = value
        elif name == "style" and isinstance(value, Mapping):
            made[name] = _section(value, inside="style")
        else:
            made["color" if name == "colour" else name] = value
    return made
