"""Axes: the scale of one, and the alignment of two."""

from vantric.core.axes.align import ScalePair, align, common, proportional
from vantric.core.axes.scale import Scale, linear_scale
from vantric.core.axes.suggest import Suggestion, suggest_axes

__all__ = [
    "Scale",
    "ScalePair",
    "Suggestion",
    "align",
    "common",
    "linear_scale",
    "proportional",
    "suggest_axes",
]
