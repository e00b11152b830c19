"""A pair of scales as data and as lines."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from vantric.core.axes import Scale, ScalePair
from vantric.core.numbers.number_format import digits_text, number_texts
from vantric.core.review import review_scales
from vantric.tables.table import Column, Table, text_table, whole


def scales_object(pair: ScalePair) -> dict[str, Any]:
    """Return the JSON object of the contract, and the map between two linear sides."""
    stated = {
        "format": "vantric/scales",
        "version": 1,
        "policy": pair.policy,
        "primary": scale_object(pair.primary),
        "secondary": scale_object(pair.secondary),
        "coverage": list(pair.coverage),
        "shared_ticks": pair.shared_ticks,
        "findings": [finding.to_dict() for finding in review_scales(pair)],
    }
    if {pair.primary.kind, pair.secondary.kind} == {"linear"}:
        stated["map"] = dict(zip(("primary_per_secondary", "primary_at_zero"), _map(pair), strict=True))
    return stated


def scale_object(scale: Scale) -> dict[str, Any]:
    """Return one scale: its limits, its step and its ticks."""
    return {
        "lower": whole(scale.lower),
        "upper": whole(scale.upper),
        "step": whole(scale.step),
        "kind": scale.kind,
        "ticks": [whole(tick) for tick in scale.ticks],
    }


def _map(pair: ScalePair) -> tuple[float, float]:
    """Return what one unit of the secondary is in the primary, and what the primary reads at its zero."""
    one, other = pair.primary, pair.secondary
    per = (one.upper - one.lower) / (other.upper - other.lower)
    return per, one.lower - per * other.lower


def scales_lines(pair: ScalePair) -> list[str]:
    """Return a pair of scales as lines for a terminal: limits, ticks, coverage, and the map between the sides."""
    lines = [f"Scales, policy {pair.policy}", ""]
    for name, scale, covered in zip(
        ("Primary", "Secondary"), (pair.primary, pair.secondary), pair.coverage, strict=True
    ):
        ticks = number_texts([whole(tick) for tick in scale.ticks], most_decimals=9)
        kind = " (log)" if scale.kind == "log" else ""
        limits = f"{_limit(scale.lower)} to {_limit(scale.upper)}{kind}"
        lines.append(f"{name:9}  {limits}, data over {100 * covered:.1f} % of it")
        lines.append(f"{'':9}  ticks: {'  '.join(ticks)}")
    return [*lines, "", *scales_words(pair)]


def scales_words(pair: ScalePair) -> list[str]:
    """Return what the two scales promise, in words."""
    lines = [_grid_words(pair)]
    if {pair.primary.kind, pair.secondary.kind} == {"linear"}:
        per, zero = _map(pair)
        lines.append(f"1 on the secondary side is {_short(per)} on the primary; its 0 is at {_short(zero)}.")
    return lines


def scales_table(pair: ScalePair) -> Table:
    """Return the two sides as people read them: limits, step and ticks; as data a row a tick."""
    sides = (("Primary", pair.primary), ("Secondary", pair.secondary))
    rows = [
        (
            name,
            f"{_limit(scale.lower)} to {_limit(scale.upper)}",
            scale.kind,
            "  ".join(number_texts([whole(tick) for tick in scale.ticks], most_decimals=9)),
        )
        for name, scale in sides
    ]
    ticks = [(name.lower(), tick, float(scale.fraction(tick))) for name, scale in sides for tick in scale.ticks]
    side, tick, height = zip(*ticks, strict=True) if ticks else ((), (), ())
    data = (Column("", side, key="side"), Column("", tick, key="tick"), Column("", height, key="height", as_is=True))
    shown = text_table(
        ("Axis", "Limits", "Kind", "Ticks"), rows, left=(0, 2, 3), caption=f"Scales, policy {pair.policy}"
    )
    return replace(shown, data=data, notes=tuple(scales_words(pair)))


def _grid_words(pair: ScalePair) -> str:
    if pair.policy == "common":
        return "One scale for both sides."
    if pair.shared_ticks:
        return "Every tick meets a tick of the other side: one grid serves both."
    return "The ticks of the two sides do not meet: draw the grid of one side only."


def _limit(value: float) -> str:
    return digits_text(value)


def _short(value: float) -> str:
    return digits_text(value + 0.0)
