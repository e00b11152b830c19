"""Axes: the scale of one, and the alignment of two."""

from vantric.core.axes.align import ScalePair, common, proportional
from vantric.core.axes.scale import Scale, linear_scale

__all__ = ["Scale", "ScalePair", "common", "linear_scale", "proportional"]
