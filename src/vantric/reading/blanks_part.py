"""Cells that hold nothing."""

from __future__ import annotations


def is_blank(value: object) -> bool:
    """Whether a cell is missing: null, NaN, empty or blank text."""
    if value is None:
        return True
    if isinstance(value, str):
        return not value.strip()
    if isinstance(value, float):
        return value != value
    return type(value).__name__ in {"NAType", "NaTType"} or (hasattr(value, "is_nan") and bool(value.is_nan()))
