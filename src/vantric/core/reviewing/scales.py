"""Findings over a pair of scales."""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.core.reviewing.finding import Finding, warning

if TYPE_CHECKING:
    from vantric.core.axes import ScalePair


def review_scales(pair: ScalePair) -> list[Finding]:
    """Return what is risky in two scales: limits that cut data off."""
    return [
        warning(
            "clipped-data",
            message=f"the limits of the {name} side cut data off",
            fix="widen the limits, or state in the chart that values are outside them",
            where=f"{name} axis",
        )
        for name, clipped in zip(("primary", "secondary"), pair.clipped, strict=True)
        if clipped
    ]
